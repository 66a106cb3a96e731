"""Packs for an amount: those that cost least and, of these, leave least over. Exact, by branch and bound.

Amounts and sizes in one unit. A pack may be taken any number of times.
"""

from __future__ import annotations

from functools import lru_cache
from math import ceil, inf
from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from collections.abc import Sequence

MOST_STEPS = 20_000  # of the search, after which the best so far is taken
EXACT = 1e-9
MOST_PACKS = 100_000


class Chosen(Struct, frozen=True):
    """How many of each size, the largest first; what they hold and cost."""

    packs: tuple[tuple[float, int], ...]
    amount: float
    cost: float


@lru_cache(maxsize=512)
def cheapest(wanted: float, packs: tuple[tuple[float, float], ...]) -> Chosen:
    """The packs (size, price) that hold ``wanted`` at least for least money; nothing is bought for nothing wanted."""
    if wanted <= EXACT or not packs:
        return Chosen((), 0.0, 0.0)
    sizes = sorted(packs, key=lambda p: (p[1] / p[0], -p[0]))
    unit = [min(p[1] / p[0] for p in sizes[k:]) for k in range(len(sizes))]
    best: list[tuple[float, float, tuple[int, ...]]] = [_single(wanted, sizes)]
    steps = 0

    def search(k: int, left: float, cost: float, counts: tuple[int, ...]) -> None:
        nonlocal steps
        steps += 1
        if left <= EXACT:
            best[0] = min(best[0], (round(cost, 9), round(-left, 9), counts + (0,) * (len(sizes) - k)))
            return
        if k == len(sizes) or steps > MOST_STEPS or cost + left * unit[k] > best[0][0] + EXACT:
            return
        size, price = sizes[k]
        most = ceil(left / size - EXACT)
        for count in range(most, -1, -1):
            search(k + 1, left - count * size, cost + count * price, (*counts, count))

    search(0, wanted, 0.0, ())
    cost, _, counts = best[0]
    rows = sorted(((s[0], n) for s, n in zip(sizes, counts, strict=True) if n), reverse=True)
    return Chosen(tuple(rows), sum(size * n for size, n in rows), cost)


def _single(wanted: float, sizes: Sequence[tuple[float, float]]) -> tuple[float, float, tuple[int, ...]]:
    """The best of packs of one size only."""
    best = (inf, inf, (0,) * len(sizes))
    for k, (size, price) in enumerate(sizes):
        count = ceil(wanted / size - EXACT)
        counts = tuple(count if n == k else 0 for n in range(len(sizes)))
        best = min(best, (round(count * price, 9), round(count * size - wanted, 9), counts))
    return best
