"""A small Bayesian network of causes and findings, worked out exactly.

Origins (why it failed) are independent, each with its prior. States of the material (what is wrong) follow from origins
by a noisy-OR, with a chance of their own such that their stated prior holds. Findings follow from both by a noisy-OR
with a leak. The posterior is summed over every combination of causes, so the order of findings cannot matter and
nothing is approximated. Source: [13].
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ribpatch.core.errors import InvalidValue, UnknownItem
from ribpatch.core.geometry import Floats
from ribpatch.core.materials.cause_records import CauseCard, FindingCard
from ribpatch.core.memo import remembered

MOST_CAUSES = 20  # every combination is summed: a million rows


@dataclass(frozen=True, eq=False)
class Network:
    """Causes (n) and findings (m) as arrays: every combination (2^n, n), its log prior (2^n,), links (n, m), leaks (m,)."""

    causes: tuple[CauseCard, ...]
    findings: tuple[FindingCard, ...]
    states: Floats
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
        none = np.log1p(-self.leaks[finding]) + self.states @ np.log1p(-self.links[:, finding])
        return np.asarray(-np.expm1(none))


def own_chances(causes: tuple[CauseCard, ...]) -> dict[str, float]:
    """For each state, the chance that it holds without any listed origin, such that its stated prior holds exactly.

    Raises InvalidValue where the origins alone make it likelier than its prior says.
    """
    origins = {c.id: c for c in causes if c.kind == "origin"}
    found: dict[str, float] = {}
    for state in (c for c in causes if c.kind == "state"):
        free = 1.0
        for origin in origins.values():
            for lead in origin.leads:
                if lead.cause == state.id:
                    free *= 1 - origin.prior * lead.p
        own = 1 - (1 - state.prior) / free
        if own < 0:
            raise InvalidValue(
                state.name,
                reason=f"its prior of {state.prior:g} is less than its origins alone bring about ({1 - free:.3f})",
            )
        found[state.id] = own
    return found


@remembered(64)
def network_of(causes: tuple[CauseCard, ...], findings: tuple[FindingCard, ...]) -> Network:
    """The network over some causes; findings that none of them bears on stay, with their leak alone."""
    if len(causes) > MOST_CAUSES:
        raise InvalidValue(
            "causes", reason=f"{len(causes)} causes are more than the {MOST_CAUSES} that can be summed over"
        )
    n = len(causes)
    states = ((np.arange(2**n)[:, None] >> np.arange(n)) & 1).astype(float)
    columns = {card.id: number for number, card in enumerate(findings)}
    links = np.zeros((n, len(findings)))
    for row, cause in enumerate(causes):
        for shows in cause.shows:
            links[row, columns[shows.finding]] = shows.p
    leaks = np.array([card.leak for card in findings])
    return Network(causes, findings, states, _prior(causes, states), links, leaks)


def _prior(causes: tuple[CauseCard, ...], states: Floats) -> Floats:
    """Log prior of every combination, shape (2^n,)."""
    rows = {c.id: number for number, c in enumerate(causes)}
    own = own_chances(causes)
    total = np.zeros(len(states))
    for number, cause in enumerate(causes):
        held = states[:, number] > 0
        if cause.kind == "origin":
            total += np.where(held, np.log(cause.prior), np.log1p(-cause.prior))
            continue
        free = np.full(len(states), np.log1p(-own[cause.id]))
        for origin in causes:
            for lead in origin.leads:
                if lead.cause == cause.id:
                    free += states[:, rows[origin.id]] * np.log1p(-lead.p)
        with np.errstate(divide="ignore"):  # a state that nothing brings about has log chance -inf
            total += np.where(held, np.log(-np.expm1(free)), free)
    return total


Said = Mapping[str, bool]


def posterior(network: Network, said: Said) -> Floats:
    """Chance of every combination given the findings said to be there (True) or not (False), shape (2^n,)."""
    total = network.prior.copy()
    for finding in sorted(said):
        chance = network.chance(network.index(finding))
        total += np.log(chance if said[finding] else 1 - chance)
    weight = np.exp(total - total.max())
    return np.asarray(weight / weight.sum())


def marginals(network: Network, weight: Floats) -> Floats:
    """Chance of each cause, shape (n,)."""
    return np.asarray(weight @ network.states)
