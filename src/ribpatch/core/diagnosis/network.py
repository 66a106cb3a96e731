"""A small Bayesian network of causes and findings, worked out exactly.

Origins (why it failed) are independent, each with its prior. States of the material (what is wrong) follow from origins
by a noisy-OR, with a chance of their own such that their stated prior holds. A state that yields to others (wet but
sound to rotted) holds only where none of them does, unless the survey tells them apart by place. Findings follow from
origins and states by a noisy-OR with a leak. The posterior is summed over every combination of causes, so the order of
findings cannot matter and nothing is approximated. Source: [13].
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.errors import InvalidValue, UnknownItem
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.materials.cause_records import CauseCard, FindingCard

MOST_CAUSES = 20  # every combination is summed: a million rows


def products(values: Floats) -> Floats:
    """For every combination of n causes the product of the values (n,) of those that hold, shape (2^n,), cause 0
    first.
    """
    total = np.ones(1 << len(values))
    for k, value in enumerate(values.tolist()):
        np.multiply(total[: 1 << k], value, out=total[1 << k : 2 << k])  # the half where this cause holds
    return total


class Network(Struct, frozen=True, eq=False):
    """Causes (n) and findings (m): the prior of every combination of causes (2^n,), links (n, m), leaks (m,)."""

    causes: tuple[CauseCard, ...]
    findings: tuple[FindingCard, ...]
    prior: Floats
    links: Floats
    leaks: Floats

    def index(self, finding: str) -> int:
        """Column of a finding; raises UnknownItem."""
        for number, card in enumerate(self.findings):
            if card.id == finding:
                return number
        raise UnknownItem(what="finding", name=finding, near="See the findings of the data file.")

    def chance(self, finding: int) -> Floats:
        """Chance of a finding under every combination, shape (2^n,)."""
        made = products(1 - self.links[:, finding])
        made *= -(1 - self.leaks[finding])
        made += 1
        return made


def own_chances(causes: tuple[CauseCard, ...], apart: bool = False) -> dict[str, float]:
    """For each state, the chance that it holds without any listed origin, such that its stated prior holds exactly.
    ``apart``: states do not yield to each other.

    Raises InvalidValue where the origins alone make it likelier than its prior says, or where what it yields to leaves
    no room for it.
    """
    origins = [c for c in causes if c.kind == "origin"]
    chance = _origins(origins)
    found: dict[str, float] = {}
    missing: dict[str, Floats] = {}  # chance under each combination of origins that a state does not hold
    for state in _in_order(causes):
        room = chance.copy()
        for other in () if apart else state.yields:
            room *= missing.get(other, np.ones(1))
        free = _free(state, origins)
        most, least = float(room.sum()), float((room * (1 - free)).sum())
        if not least <= state.prior <= most:
            reason = (
                f"its prior of {state.prior:g} is less than its origins alone bring about ({least:.3f})"
                if state.prior < least
                else f"its prior of {state.prior:g} is more than the causes that it yields to leave ({most:.3f})"
            )
            raise InvalidValue(state.name, reason=reason)
        own = 1 - (most - state.prior) / float((room * free).sum())
        found[state.id], missing[state.id] = own, (1 - own) * free
    return found


def _origins(origins: list[CauseCard]) -> Floats:
    """Chance of every combination of origins, shape (2^k,)."""
    priors = np.array([c.prior for c in origins])
    return np.asarray(products(priors / (1 - priors)) * np.prod(1 - priors))


def _free(state: CauseCard, origins: list[CauseCard]) -> Floats:
    """Chance that no origin brings a state about, under every combination of them, shape (2^k,)."""
    return products(np.array([1 - next((x.p for x in o.leads if x.cause == state.id), 0.0) for o in origins]))


def _in_order(causes: tuple[CauseCard, ...]) -> list[CauseCard]:
    """The states, those that others yield to first; raises InvalidValue where they yield to each other in a ring."""
    left = [c for c in causes if c.kind == "state"]
    ordered: list[CauseCard] = []
    while left:
        waiting = {c.id for c in left}
        free = [c for c in left if not waiting & set(c.yields)]
        if not free:
            raise InvalidValue(left[0].name, reason="it yields to a cause that yields to it")
        ordered += free
        left = [c for c in left if c not in free]
    return ordered


@remembered(64)
def network_of(causes: tuple[CauseCard, ...], findings: tuple[FindingCard, ...], apart: bool = False) -> Network:
    """The network over some causes, origins first; findings that none of them bears on stay, with their leak alone.
    ``apart``: states do not yield to each other, for they are told apart by place. Raises a Fault.
    """
    check_data(causes, findings)
    ordered = (*(c for c in causes if c.kind == "origin"), *_in_order(causes))
    leaks = np.array([card.leak for card in findings])
    return Network(ordered, findings, _prior(ordered, apart), _links(ordered, findings), leaks)


def _links(causes: tuple[CauseCard, ...], findings: tuple[FindingCard, ...]) -> Floats:
    """Chance that each cause brings each finding about, shape (n, m); raises UnknownItem."""
    columns = {card.id: number for number, card in enumerate(findings)}
    links = np.zeros((len(causes), len(findings)))
    for row, cause in enumerate(causes):
        for shows in cause.shows:
            if shows.finding not in columns:
                raise UnknownItem(
                    cause.name, what="finding", name=shows.finding, near="See the findings of the data file."
                )
            links[row, columns[shows.finding]] = shows.p
    return links


def check_data(causes: tuple[CauseCard, ...], findings: tuple[FindingCard, ...]) -> None:
    """Raise a Fault where causes and findings do not fit together, before anything is worked out from them."""
    if len(causes) > MOST_CAUSES:
        raise InvalidValue(
            "causes", reason=f"{len(causes)} causes are more than the {MOST_CAUSES} that can be summed over"
        )
    _links(causes, findings)
    own_chances(causes)


def _prior(ordered: tuple[CauseCard, ...], apart: bool) -> Floats:
    """Prior of every combination of causes in order, shape (2^n,)."""
    own = own_chances(ordered, apart)
    origins = [c for c in ordered if c.kind == "origin"]
    total = _origins(origins)
    states = ordered[len(origins) :]
    for number, state in enumerate(states):
        free = np.tile((1 - own[state.id]) * _free(state, origins), 1 << number)
        holds = total * (1 - free)
        yields = set() if apart else set(state.yields)
        for before, other in enumerate(states[:number]):
            if other.id in yields:
                where = holds.reshape(-1, 2, 1 << (len(origins) + before))
                where[:, 1] = 0.0
        total = np.concatenate([total - holds, holds])
    return np.asarray(total)


Said = Mapping[str, bool | float]


def likelihood(network: Network, finding: int, there: float) -> Floats:
    """Chance under every combination of what was said of a finding, (2^n,): that it is there with a chance of
    ``there``, 1 for yes and 0 for no.
    """
    chance = network.chance(finding)
    chance *= 2 * there - 1
    chance += 1 - there
    return chance


def posterior(network: Network, said: Said) -> Floats:
    """Chance of every combination given what was said of findings, shape (2^n,)."""
    weight = network.prior.copy()
    for finding in sorted(said):
        weight *= likelihood(network, network.index(finding), float(said[finding]))
    return np.asarray(weight / weight.sum())


def marginals(network: Network, weight: Floats) -> Floats:
    """Weight of the combinations in which each cause holds, shape (n,); chances where the weights sum to 1."""
    found, total = [], weight
    for _ in network.causes:  # the last cause first, which halves what is left to sum
        half = total.size // 2
        found.append(float(total[half:].sum()))
        total = total[:half] + total[half:]
    return np.array(found[::-1])
