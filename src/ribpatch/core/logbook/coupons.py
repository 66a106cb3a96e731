"""Which preparation wins, and how sure that is, from few coupons.

Torn fibres: each row's share of coupons that tear is uniform before any is tried, so that after k of n it follows a
beta distribution; the odds of one over another are exact sums. Loads: the chance that the order of so few would be as
clear if both were the same is counted over all ways of sharing them out (permutation), one-sided. Fisher's exact test
stands beside the odds. Sources: [36] for the beta distributions; Fisher (1935).
"""

from __future__ import annotations

from itertools import combinations
from math import comb, exp, lgamma
from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ribpatch.core.logged import CouponResult, CouponRow, CouponSet

MOST_WAYS = 200_000  # of sharing loads out that are all counted


class RowResult(Struct, frozen=True):
    """One row: how many tore fibres, were mixed, came off clean; their mean load in N, None where none was read."""

    row: CouponRow
    torn: int
    mixed: int
    clean: int
    load: float | None

    @property
    def count(self) -> int:
        """How many were tried."""
        return self.torn + self.mixed + self.clean


class Duel(Struct, frozen=True):
    """One row against another: the chance that it tears fibres more often, Fisher's one-sided chance of so clear a
    difference if both were the same, and the same of the loads (None without loads).
    """

    better: RowResult
    other: RowResult
    chance: float
    fisher: float
    loads: float | None


def row_results(of: CouponSet) -> tuple[RowResult, ...]:
    """The rows that were tried, the best first: by the share that tore fibres, then by load."""
    made = [_counted(row) for row in of.rows if row.results]
    return tuple(sorted(made, key=lambda r: (-(r.torn + 1) / (r.count + 2), -(r.load or 0.0))))


def _counted(row: CouponRow) -> RowResult:
    modes = [r.mode for r in row.results]
    loads = loads_of(row.results)
    mean = sum(loads) / len(loads) if loads else None
    return RowResult(row, modes.count("torn"), modes.count("mixed"), modes.count("clean"), mean)


def loads_of(results: Sequence[CouponResult]) -> list[float]:
    """The loads that were read, N."""
    return [r.load.si for r in results if r.load is not None]


def duel(a: RowResult, b: RowResult) -> Duel:
    """One row against another."""
    return Duel(
        a,
        b,
        chance_higher((a.torn, a.count - a.torn), (b.torn, b.count - b.torn)),
        fisher(a.torn, a.count - a.torn, b.torn, b.count - b.torn),
        permuted(loads_of(a.row.results), loads_of(b.row.results)),
    )


def chance_higher(a: tuple[int, int], b: tuple[int, int]) -> float:
    """The chance that a share of which ``a`` (so many yes, so many no) were seen is higher than that of ``b``, both
    uniform before: an exact sum over beta distributions.
    """

    def beta(x: float, y: float) -> float:
        return lgamma(x) + lgamma(y) - lgamma(x + y)

    first, second = (a[0] + 1, a[1] + 1), (b[0] + 1, b[1] + 1)
    made = 0.0
    for k in range(first[0]):
        made += exp(beta(second[0] + k, first[1] + second[1]) - beta(1 + k, first[1]) - beta(second[0], second[1])) / (
            first[1] + k
        )
    return min(max(made, 0.0), 1.0)


def fisher(yes: int, no: int, other_yes: int, other_no: int) -> float:
    """Fisher's exact test, one-sided: how likely at least so many of the first would be yes if both were the same."""
    first, second, total = yes + no, other_yes + other_no, yes + other_yes
    every = comb(first + second, total)
    return sum(comb(first, k) * comb(second, total - k) for k in range(yes, min(first, total) + 1)) / every


def permuted(a: Sequence[float], b: Sequence[float]) -> float | None:
    """How likely the mean of the first would lie at least so far over that of the second if all were shared out by
    chance: every way counted, or None where there are too many or one is empty.
    """
    if not a or not b or comb(len(a) + len(b), len(a)) > MOST_WAYS:
        return None
    every = [*a, *b]
    seen = sum(a)
    even = 1e-9 * max(abs(v) for v in every)
    ways = [sum(every[i] for i in chosen) >= seen - even for chosen in combinations(range(len(every)), len(a))]
    return sum(ways) / len(ways)


KEPT = 5.0  # coupons that the stated share of strength is worth
MODE_WORTH = {"torn": 1.0, "mixed": 0.6, "clean": 0.15}  # of the bond's strength; judgement


def factor_of(result: RowResult, stated: float) -> float:
    """The share of the bond's strength that a preparation keeps, from the stated one and what coupons showed."""
    seen = result.torn * MODE_WORTH["torn"] + result.mixed * MODE_WORTH["mixed"] + result.clean * MODE_WORTH["clean"]
    return min((stated * KEPT + seen) / (KEPT + result.count), 1.0)
