"""The diagnosis: ranked causes with bands, evidence for and against, contradictions, and the next best test.

Evidence is weighed by what a finding does to the odds of a cause when everything else is known (the log of the ratio,
in decibans). A finding contradicts the rest where the rest made it unlikely. A test's worth is the information that it
is expected to give on which causes hold, against its cost. The bands come from shaking every probability of the data
by a stated amount: they show how far the judgement stands on exact numbers. Source: [13].
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from ribpatch.core.diagnosis.network import Network, Said, marginals, network_of, posterior, summed
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.materials.cause_records import CauseCard, FindingCard

SHAKE, DRAWS = 0.5, 12  # log-odds by which every probability is shaken, and how often
SURPRISE = 0.12  # a finding that the rest made less likely than this contradicts it
COSTS = {"minute": 1.0, "hole": 2.0, "day": 4.0}  # what a test's information is divided by
ROLE_CHANCE, CONTRIBUTES = 0.3, 0.35
RAISED = 1.15  # times its prior: a cause that the findings speak for
BANDS = ((0.02, "very unlikely"), (0.15, "unlikely"), (0.4, "possible"), (0.7, "likely"), (0.92, "very likely"))
Role = Literal["primary", "contributing", "state", "unlikely"]


def in_words(chance: float) -> str:
    """A chance in words."""
    return next((word for limit, word in BANDS if chance < limit), "almost certain")


class Evidence(Struct, frozen=True):
    """What one finding does to one cause: decibans, positive for it."""

    finding: FindingCard
    there: bool
    decibans: float

    @property
    def words(self) -> str:
        """How strongly it speaks."""
        size = abs(self.decibans)
        return "strongly" if size >= 8 else "clearly" if size >= 4 else "a little"


class Ranked(Struct, frozen=True):
    """A cause with its chance and band (0 to 1), its role, and the evidence for and against it, strongest first."""

    cause: CauseCard
    chance: float
    low: float
    high: float
    role: Role
    evidence: tuple[Evidence, ...]

    @property
    def words(self) -> str:
        """Its chance in words."""
        return in_words(self.chance)

    @property
    def for_it(self) -> tuple[Evidence, ...]:
        """What speaks for it."""
        return tuple(e for e in self.evidence if e.decibans > 0)

    @property
    def against(self) -> tuple[Evidence, ...]:
        """What speaks against it."""
        return tuple(e for e in self.evidence if e.decibans < 0)


class Contradiction(Struct, frozen=True):
    """A finding that does not fit the rest: how likely the rest made it (0 to 1)."""

    finding: FindingCard
    there: bool
    chance: float


class NextQuestion(Struct, frozen=True):
    """A test worth doing: bits it is expected to give, the share of the open question that is, and chance of yes (0 to
    1).
    """

    finding: FindingCard
    bits: float
    share: float
    yes: float


class Diagnosis(Struct, frozen=True, eq=False, dict=True):
    """The causes of one zone given what was found. Parts that cost time are worked out when first asked for."""

    network: Network
    said: tuple[tuple[str, bool], ...]
    weight: Floats

    @cached_property
    def chances(self) -> Floats:
        """Chance of each cause, shape (n,)."""
        return marginals(self.network, self.weight)

    def chance(self, cause: str) -> float:
        """Chance of a cause by its id; 0 where it cannot be."""
        return next((float(p) for c, p in zip(self.network.causes, self.chances, strict=True) if c.id == cause), 0.0)

    @cached_property
    def bands(self) -> tuple[Floats, Floats]:
        """Low and high chance of each cause when the data's probabilities are shaken, each (n,)."""
        rng = np.random.default_rng(13)
        drawn = [
            marginals(n, posterior(n, dict(self.said))) for n in (_shaken(self.network, rng) for _ in range(DRAWS))
        ]
        table = np.vstack([*drawn, self.chances])
        return np.quantile(table, 0.1, axis=0), np.quantile(table, 0.9, axis=0)

    @cached_property
    def ranked(self) -> tuple[Ranked, ...]:
        """All causes that can be, likeliest first."""
        low, high = self.bands
        roles = self._roles()
        rows = [
            Ranked(
                cause,
                float(self.chances[k]),
                float(min(low[k], self.chances[k])),
                float(max(high[k], self.chances[k])),
                roles[k],
                self._evidence(k),
            )
            for k, cause in enumerate(self.network.causes)
        ]
        return tuple(sorted(rows, key=lambda r: (-r.chance, r.cause.id)))

    def _roles(self) -> list[Role]:
        """Primary: the likeliest origin. Contributing: origins that are likely to hold beside it."""
        origins = [k for k, c in enumerate(self.network.causes) if c.kind == "origin"]
        first = max(origins, key=lambda k: self.chances[k], default=None)
        roles: list[Role] = ["unlikely"] * len(self.network.causes)
        for k, cause in enumerate(self.network.causes):
            if cause.kind == "state" and self.chances[k] >= ROLE_CHANCE:
                roles[k] = "state"
        if first is None or self.chances[first] < ROLE_CHANCE:
            return roles
        roles[first] = "primary"
        holds = np.arange(len(self.weight)) >> first & 1
        beside = marginals(self.network, self.weight * holds) / self.chances[first]
        for k in origins:
            if k != first and beside[k] >= CONTRIBUTES:
                roles[k] = "contributing"
        return roles

    @cached_property
    def likely(self) -> tuple[tuple[CauseCard, float], ...]:
        """Causes that ask something of the repair, with their chances, likeliest first.

        A cause that nothing found speaks for asks for nothing, however common it is.
        """
        rows = zip(self.network.causes, self.chances.tolist(), strict=True)
        found = [(c, p) for c, p in rows if self.said and p >= CONTRIBUTES and p > RAISED * c.prior]
        return tuple(sorted(found, key=lambda row: (-row[1], row[0].id)))

    @cached_property
    def _without(self) -> dict[str, Floats]:
        """Weights of the combinations when one finding is left out, by finding."""
        found: dict[str, Floats] = {}
        for finding, there in self.said:
            chance = self.network.chance(self.network.index(finding))
            left = self.weight / np.maximum(chance if there else 1 - chance, 1e-300)
            found[finding] = left / left.sum()
        return found

    @cached_property
    def _before(self) -> dict[str, Floats]:
        """Chance of each cause (n,) when one finding is left out, by finding."""
        return {finding: marginals(self.network, left) for finding, left in self._without.items()}

    def _evidence(self, row: int) -> tuple[Evidence, ...]:
        found: list[Evidence] = []
        linked = {s.finding for s in self.network.causes[row].shows}
        for finding, there in self.said:
            before = float(self._before[finding][row])
            size = 10 * (_log_odds(float(self.chances[row])) - _log_odds(before)) / np.log(10)
            # What only shifts blame between other causes is told where it belongs.
            if abs(size) >= (1.0 if finding in linked else 3.0):
                found.append(Evidence(self.network.findings[self.network.index(finding)], there, float(size)))
        return tuple(sorted(found, key=lambda e: -abs(e.decibans)))

    @cached_property
    def contradictions(self) -> tuple[Contradiction, ...]:
        """Findings that the others made unlikely."""
        found: list[Contradiction] = []
        for finding, there in self.said if len(self.said) > 1 else ():
            column = self.network.index(finding)
            yes = float(self._without[finding] @ self.network.chance(column))
            chance = yes if there else 1 - yes
            if chance < SURPRISE:
                found.append(Contradiction(self.network.findings[column], there, chance))
        return tuple(sorted(found, key=lambda c: c.chance))

    @cached_property
    def open_causes(self) -> tuple[int, ...]:
        """Rows of the causes that the question is about: those that the findings raised, and the two likeliest."""
        priors = np.array([c.prior for c in self.network.causes])
        raised = (
            (self.chances > RAISED * priors) & (self.chances >= 0.1) if self.said else np.ones(len(priors), dtype=bool)
        )
        raised[np.argsort(-self.chances)[:2]] = True
        return tuple(np.flatnonzero(raised).tolist())

    @cached_property
    def uncertainty(self) -> float:
        """How open the question is: entropy of the causes in question, bits, summed."""
        return float(_entropy(self.chances[list(self.open_causes)]).sum())

    @cached_property
    def questions(self) -> tuple[NextQuestion, ...]:
        """Findings not yet said, by the information that they are expected to give for their cost, best first."""
        known = {finding for finding, _ in self.said}
        bears = self.network.links.max(axis=0) > 0
        rows = list(self.open_causes)
        found: list[NextQuestion] = []
        for column, card in enumerate(self.network.findings):
            if card.id in known or not bears[column]:
                continue
            with_it = self.weight * self.network.chance(column)
            yes = float(with_it.sum())
            there = marginals(self.network, with_it)[rows]
            after = yes * _entropy(there / max(yes, 1e-12)).sum()
            after += (1 - yes) * _entropy((self.chances[rows] - there) / max(1 - yes, 1e-12)).sum()
            bits = max(self.uncertainty - float(after), 0.0)
            found.append(NextQuestion(card, bits, bits / max(self.uncertainty, 1e-9), yes))
        return tuple(sorted(found, key=lambda q: (-q.bits / COSTS[q.finding.cost], q.finding.id)))


def _entropy(p: Floats) -> Floats:
    """Entropy in bits of yes or no at chance p."""
    q = np.clip(p, 1e-12, 1 - 1e-12)
    return np.asarray(-(q * np.log2(q) + (1 - q) * np.log2(1 - q)))


def _log_odds(p: float) -> float:
    q = min(max(p, 1e-9), 1 - 1e-9)
    return float(np.log(q / (1 - q)))


def _shaken(network: Network, rng: np.random.Generator) -> Network:
    """The network with every link and leak moved by chance, and the priors' odds with them."""
    links = np.where(network.links > 0, _moved(np.clip(network.links, 1e-6, 1 - 1e-6), rng), 0.0)
    tilt = summed(rng.normal(0, SHAKE, len(network.causes)))
    return replace(network, links=links, leaks=_moved(network.leaks, rng), prior=network.prior + tilt)


def _moved(p: Floats, rng: np.random.Generator) -> Floats:
    return np.asarray(1 / (1 + (1 - p) / p * np.exp(rng.normal(0, SHAKE, p.shape))))


@remembered(64)
def _diagnosed(network: Network, key: str) -> Diagnosis:
    said = tuple((part[1:], part[0] == "+") for part in key.split())
    return Diagnosis(network, said, posterior(network, dict(said)))


def diagnose(causes: tuple[CauseCard, ...], findings: tuple[FindingCard, ...], said: Said) -> Diagnosis:
    """The diagnosis from findings said to be there (True) or not (False); findings not named are unknown."""
    network = network_of(causes, findings)
    for finding in said:
        network.index(finding)
    # By value, so that a reading that changes no finding costs nothing here.
    return _diagnosed(network, " ".join(("+" if said[f] else "-") + f for f in sorted(said)))
