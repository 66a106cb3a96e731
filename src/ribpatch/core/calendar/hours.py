"""Working hours in slots: shifts within the time that a shed is free, and stretches in which something is barred."""

from __future__ import annotations

from math import ceil, floor
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

EVEN = 1e-6


def shifts_within(
    spans: Iterable[tuple[float, float, bool]], shed: Sequence[tuple[float, float]], slots: int
) -> tuple[tuple[int, int, bool], ...]:
    """Shifts (from, to, late) cut to the stretches in which the shed is free, in whole slots, one after the other.
    Where usual and late hours overlap they are usual ones.
    """
    kinds: list[bool | None] = [None] * slots
    for a, b, late in spans:
        for c, d in shed:
            first, last = ceil(max(a, c, 0) - EVEN), floor(min(b, d, slots) + EVEN)
            for n in range(first, last):
                kinds[n] = late and kinds[n] is not False
    made: list[tuple[int, int, bool]] = []
    for n, kind in enumerate(kinds):
        if kind is None:
            continue
        if made and made[-1][1] == n and made[-1][2] == kind:
            made[-1] = (made[-1][0], n + 1, kind)
        else:
            made.append((n, n + 1, kind))
    return tuple(made)


def blocked_slots(stretches: Iterable[tuple[float, float]]) -> tuple[tuple[int, int], ...]:
    """Stretches that are barred as whole slots, each slot that they touch, joined where they meet."""
    made: list[tuple[int, int]] = []
    for a, b in sorted(stretches):
        first, last = floor(a + EVEN), ceil(b - EVEN)
        if made and first <= made[-1][1]:
            made[-1] = (made[-1][0], max(made[-1][1], last))
        elif last > first:
            made.append((first, last))
    return tuple(made)
