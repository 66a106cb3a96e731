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

from ribpatch.core.diagnosis.network import Network, Said, likelihood, marginals, network_of, posterior
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ribpatch.core.geometry import Floats
    from ribpatch.core.materials.cause_records import CauseCard, FindingCard

SHAKE, DRAWS = 0.5, 12  # log-odds by which every probability is shaken, and how often
NEARLY_ALL = 0.999  # of the weight of all combinations, for the bands
SURPRISE = 0.12  # a finding that the rest made less likely than this contradicts it
COSTS = {"minute": 1.0, "hole": 2.0, "day": 4.0}  # what a test's information is divided by
ROLE_CHANCE, CONTRIBUTES = 0.3, 0.35
RAISED = 1.15  # times its prior: a cause that the findings speak for
TELLS = 1.0  # decibans from which a finding is told of a cause
BANDS = ((0.02, "very unlikely"), (0.15, "unlikely"), (0.4, "possible"), (0.7, "likely"), (0.92, "very likely"))
NO_DAMAGE = frozenset({"false-high"})  # states that explain readings; nothing is wrong where they hold
Apart = tuple[tuple[str, float], ...]  # ids, each with the chance that it is there
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
    def raised(self) -> bool:
        """Whether what was found, taken together, speaks for it."""
        return bool(self.for_it) and self.chance > RAISED * self.cause.prior

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
    said: tuple[tuple[str, float], ...]
    placed: Apart = ()

    @property
    def weight(self) -> Floats:
        """Chance of every combination of causes, shape (2^n,): large, so it is worked out again rather than kept."""
        return _weight(self.network, self.said, self.placed)

    @cached_property
    def chances(self) -> Floats:
        """Chance of each cause, shape (n,)."""
        return marginals(self.network, self.weight)

    def chance(self, cause: str) -> float:
        """Chance of a cause by its id; 0 where it cannot be."""
        return next((float(p) for c, p in zip(self.network.causes, self.chances, strict=True) if c.id == cause), 0.0)

    @cached_property
    def sound(self) -> float:
        """Chance that nothing is wrong with the material: no state holds but a false high, 0 to 1."""
        left = self.weight
        for k, cause in reversed(tuple(enumerate(self.network.causes))):
            half = 1 << k
            if cause.kind == "state":
                left = left[:half] + left[half:] if cause.id in NO_DAMAGE else left[:half]
        return float(left.sum())

    @cached_property
    def bands(self) -> tuple[Floats, Floats]:
        """Low and high chance of each cause when the data's probabilities are shaken, each (n,)."""
        rng = np.random.default_rng(13)
        table = np.vstack([*(self._shaken(rng) for _ in range(DRAWS)), self.chances])
        return np.quantile(table, 0.1, axis=0), np.quantile(table, 0.9, axis=0)

    def _shaken(self, rng: np.random.Generator) -> Floats:
        """Chance of each cause (n,) with every link, leak and prior moved by chance, over what holds nearly all."""
        network, (held, prior) = self.network, self._combinations
        columns = [network.index(finding) for finding, _ in self.said]
        there = np.array([p for _, p in self.said])
        links, leaks = _moved(network.links[:, columns], rng), _moved(network.leaks[columns], rng)
        chance = 1 - (1 - leaks) * np.exp(held @ np.log1p(-links))
        tilt = np.exp(held @ rng.normal(0, SHAKE, held.shape[1]))
        weight = prior * tilt * self._seen_apart(held) * (1 - there + (2 * there - 1) * chance).prod(axis=1)
        return np.asarray(weight @ held / weight.sum())

    def _seen_apart(self, held: Floats) -> Floats:
        """Chance of what the survey tells by place under combinations (m, n), shape (m,)."""
        chance = np.ones(len(held))
        rows = {c.id: k for k, c in enumerate(self.network.causes)}
        for state, there in self.placed:
            chance *= np.where(held[:, rows[state]] > 0, there, 1 - there)
        return chance

    @cached_property
    def _combinations(self) -> tuple[Floats, Floats]:
        """The likeliest combinations that hold ``NEARLY_ALL`` of the weight: which causes hold (m, n), priors (m,)."""
        order = np.argsort(-self.weight)
        most = order[: int(np.searchsorted(np.cumsum(self.weight[order]), NEARLY_ALL)) + 1]
        held = most[:, None] >> np.arange(len(self.network.causes)) & 1
        return held.astype(float), self.network.prior[most]

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

    @cached_property
    def argued(self) -> tuple[Ranked, ...]:
        """The causes that what was found speaks for or against, likeliest first; all where nothing was found."""
        return tuple(r for r in self.ranked if r.evidence) if self.said else self.ranked

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
        held = self.weight.copy()
        held.reshape(-1, 2, 1 << first)[:, 0] = 0.0
        beside = marginals(self.network, held) / self.chances[first]
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
    def _without(self) -> dict[str, tuple[Floats, float]]:
        """By finding, when that one is left out: the chance of each cause (n,), and of what was said of it."""
        found: dict[str, tuple[Floats, float]] = {}
        weight = self.weight
        for finding, there in self.said:
            left = 1 / np.maximum(likelihood(self.network, self.network.index(finding), there), 1e-300)
            left *= weight
            total = float(left.sum())
            found[finding] = marginals(self.network, left) / total, 1 / total
        return found

    def _evidence(self, row: int) -> tuple[Evidence, ...]:
        found: list[Evidence] = []
        linked = {s.finding for s in self.network.causes[row].shows}
        for finding, there in self.said:
            before = float(self._without[finding][0][row])
            size = 10 * (_log_odds(float(self.chances[row])) - _log_odds(before)) / np.log(10)
            # What only shifts blame between other causes is told where it belongs.
            if finding in linked or abs(size) >= 3 * TELLS:
                found.append(Evidence(self.network.findings[self.network.index(finding)], there > 0.5, float(size)))
        found.sort(key=lambda e: -abs(e.decibans))
        strong = tuple(e for e in found if abs(e.decibans) >= TELLS)
        if self.chances[row] > RAISED * self.network.causes[row].prior and not any(e.decibans > 0 for e in strong):
            # Several that say the same: each alone could be left out, together they speak for it.
            strong += tuple(e for e in found if 0 < e.decibans < TELLS)[:3]
        return strong

    @cached_property
    def contradictions(self) -> tuple[Contradiction, ...]:
        """Findings that the others made unlikely."""
        found: list[Contradiction] = []
        for finding, there in self.said if len(self.said) > 1 else ():
            chance = self._without[finding][1]
            if chance < SURPRISE:
                card = self.network.findings[self.network.index(finding)]
                found.append(Contradiction(card, there > 0.5, chance))
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
        rows, weight = list(self.open_causes), self.weight
        found: list[NextQuestion] = []
        for column, card in enumerate(self.network.findings):
            if card.id in known or not bears[column]:
                continue
            with_it = self.network.chance(column)
            with_it *= weight
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


def _moved(p: Floats, rng: np.random.Generator) -> Floats:
    """Chances with their odds shaken; none stays none."""
    q = np.clip(p, 1e-6, 1 - 1e-6)
    return np.asarray(np.where(p > 0, 1 / (1 + (1 - q) / q * np.exp(rng.normal(0, SHAKE, p.shape))), 0.0))


@remembered(64)
def _diagnosed(network: Network, key: str, placed: str) -> Diagnosis:
    said, apart = (
        tuple((name, float(there)) for name, there in (part.split("=") for part in text.split()))
        for text in (key, placed)
    )
    return Diagnosis(network, said, apart)


@remembered(2)
def _weight(network: Network, said: Apart, placed: Apart) -> Floats:
    weight = posterior(network, dict(said))
    rows = {c.id: k for k, c in enumerate(network.causes)}
    for state, there in placed:
        halves = weight.reshape(-1, 2, 1 << rows[state])
        halves[:, 0] *= 1 - there
        halves[:, 1] *= there
    return np.asarray(weight / weight.sum())


def diagnose(
    causes: tuple[CauseCard, ...], findings: tuple[FindingCard, ...], said: Said, placed: Apart = ()
) -> Diagnosis:
    """The diagnosis from what was said of findings: there (True), not (False) or there with some chance; findings not
    named are unknown. ``placed``: states that the survey tells apart by place, each with the chance that it is there;
    they then do not exclude each other.
    """
    possible = {c.id for c in causes}
    placed = placed if all(state in possible for state, _ in placed) else ()
    network = network_of(causes, findings, bool(placed))
    for finding in said:
        network.index(finding)
    # By value, so that a reading that changes no finding costs nothing here.
    return _diagnosed(network, _key((f, float(said[f])) for f in sorted(said)), _key(placed))


def _key(rows: Iterable[tuple[str, float]]) -> str:
    return " ".join(f"{name}={there:.3g}" for name, there in rows)
