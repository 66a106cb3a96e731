"""A small Bayesian network of causes and findings, worked out exactly.

Origins (why it failed) are independent, each with its prior. States of the material (what is wrong) follow from origins
by a noisy-OR, with a chance of their own such that their stated prior holds. Findings follow from both by a noisy-OR
with a leak. The posterior is summed over every combination of causes, so the order of findings cannot matter and
nothing is approximated. Source: [13].
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


def summed(values: Floats) -> Floats:
    """For every combination of n causes the sum of the values (n,) of those that hold, shape (2^n,), cause 0 first."""
    total = np.zeros(1)
    for value in values.tolist():
        total = np.concatenate([total, total + value])  # the second half is where this cause holds
    return total


class Network(Struct, frozen=True, eq=False):
    """Causes (n) and findings (m): the log prior of every combination of causes (2^n,), links (n, m), leaks (m,)."""

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
        return np.asarray(-np.expm1(np.log1p(-self.leaks[finding]) + summed(np.log1p(-self.links[:, finding]))))


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
    """The network over some causes; findings that none of them bears on stay, with their leak alone. Raises a Fault."""
    check_data(causes, findings)
    return Network(
        causes, findings, _prior(causes), _links(causes, findings), np.array([card.leak for card in findings])
    )


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


def _prior(causes: tuple[CauseCard, ...]) -> Floats:
    """Log prior of every combination, shape (2^n,)."""
    own = own_chances(causes)
    origins = [c.prior if c.kind == "origin" else 0.0 for c in causes]
    total = summed(np.array([np.log(p / (1 - p)) if p else 0.0 for p in origins])) + np.log1p(-np.array(origins)).sum()
    numbers = np.arange(len(total))
    for row, cause in enumerate(causes):
        if cause.kind == "state":
            leads = [next((lead.p for lead in c.leads if lead.cause == cause.id), 0.0) for c in causes]
            free = np.log1p(-own[cause.id]) + summed(np.log1p(-np.array(leads)))
            with np.errstate(divide="ignore"):  # a state that nothing brings about has log chance -inf
                total += np.where(numbers >> row & 1, np.log(-np.expm1(free)), free)
    return np.asarray(total)


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
    """Weight of the combinations in which each cause holds, shape (n,); chances where the weights sum to 1."""
    return np.array([weight.reshape(-1, 2, 2**row)[:, 1].sum() for row in range(len(network.causes))])
