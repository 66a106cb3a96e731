"""Rectangles on a strip of a width, as short as can be found: best fit on a skyline, again and again in other orders.

The lowest gap is filled first, by the piece that fits it best: whole in its width and level with a neighbour, whole in
its width, level, any that goes in; in the order of the pieces where several do. What fits nothing is lost. The first
orders are the widest, longest, largest first; then two change places or one moves, and now and then something longer is
kept for a while. It stops where the strip is as short as anything could make it. The same rectangles give the same
layout. Metres. Source: [30].
"""

from __future__ import annotations

import random
from math import exp, inf
from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.errors import InvalidValue

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

Way = tuple[float, float, bool]  # along, across, turned
Ways = tuple[Way, ...]
TRIES = 300
WARM = 0.01  # of the length, by which a layout may be longer and be kept for a while, at first
PERFECT = 3  # of a fit: whole in its width, and level with a neighbour
EXACT = 1e-9
SEED = 7


class Rect(Struct, frozen=True):
    """A rectangle: along the strip and across it, m; whether it may be turned by a right angle."""

    long: float
    wide: float
    turns: bool = False


class Put(Struct, frozen=True):
    """Where a rectangle lies: its number, lower corner along and across the strip, its size there, m."""

    number: int
    x: float
    y: float
    long: float
    wide: float
    turned: bool


class Packed(Struct, frozen=True):
    """A layout: every rectangle once, the length used, and the least that any layout could need, m."""

    puts: tuple[Put, ...]
    length: float
    bound: float

    @property
    def proven(self) -> bool:
        """Whether none can be shorter."""
        return self.length <= self.bound + EXACT


def least_length(rects: Sequence[Rect], width: float) -> float:
    """What no layout can be shorter than: area over width; the longest, each turned as it is shortest; what is too
    wide for another beside it, one after the other.
    """
    if not rects:
        return 0.0
    area = sum(r.long * r.wide for r in rects) / width
    longest = max(min(w[0] for w in ways_of(r, width)) for r in rects)
    alone = 0.0
    for r in rects:
        across = min(w[1] for w in ways_of(r, width))
        if across > width / 2 + EXACT:
            alone += min(w[0] for w in ways_of(r, width))
    return max(area, longest, alone)


def ways_of(rect: Rect, width: float) -> Ways:
    """The ways that a rectangle may lie in on a strip: along, across, turned."""
    ways = [(rect.long, rect.wide, False)]
    if rect.turns and abs(rect.long - rect.wide) > EXACT:
        ways.append((rect.wide, rect.long, True))
    return tuple(w for w in ways if w[1] <= width + EXACT)


def pack(
    rects: Sequence[Rect], width: float, tries: int = TRIES, go_on: Callable[[float], bool] | None = None
) -> Packed:
    """The shortest layout that was found; ``go_on(share)`` is told how far the search is, and stops it by answering
    False. Raises InvalidValue where a piece is wider than the strip however it lies, or has no size.
    """
    for number, rect in enumerate(rects, 1):
        if min(rect.long, rect.wide) <= 0:
            raise InvalidValue(f"piece {number}", reason="it has no size; give both sides above 0")
        if not ways_of(rect, width):
            raise InvalidValue(
                f"piece {number}",
                reason=f"it is {rect.wide:g} m wide and the roll {width:g} m; split it in strips, or take a wider roll",
            )
    bound, lies = least_length(rects, width), [ways_of(r, width) for r in rects]
    best, now, order = _first(rects, lies, width, bound)
    chance, n = random.Random(SEED), len(rects)
    for k in range(tries if n > 1 else 0):
        if best.length <= bound + EXACT or (go_on is not None and not go_on(k / tries)):
            break
        trial = order.copy()
        i, j = chance.randrange(n), chance.randrange(n)
        if chance.random() < 0.5:
            trial[i], trial[j] = trial[j], trial[i]
        else:
            trial.insert(j, trial.pop(i))
        made = _laid(lies, trial, width, bound)
        warm = max(WARM * bound * (1 - k / tries), EXACT)
        if made.length <= now + EXACT or chance.random() < exp(max((now - made.length) / warm, -50.0)):
            now, order = made.length, trial
            best = made if made.length < best.length - EXACT else best
    return best


def _first(rects: Sequence[Rect], lies: Sequence[Ways], width: float, bound: float) -> tuple[Packed, float, list[int]]:
    """The best of the plain orders, its length and the order."""
    keys: tuple[Callable[[Rect], float], ...] = (
        lambda r: -r.wide,
        lambda r: -r.long,
        lambda r: -r.long * r.wide,
        lambda r: -max(r.long, r.wide),
        lambda r: -(r.long + r.wide),
    )
    best: tuple[Packed, float, list[int]] | None = None
    for key in keys:
        order = sorted(range(len(rects)), key=[key(r) for r in rects].__getitem__)
        made = _laid(lies, order, width, bound)
        if best is None or made.length < best[1] - EXACT:
            best = made, made.length, order
    assert best is not None
    return best


def _laid(lies: Sequence[Ways], order: list[int], width: float, bound: float) -> Packed:
    """The layout of one order."""
    line, left, puts = [(0.0, width, 0.0)], list(order), []
    while left:
        k = min(range(len(line)), key=lambda n: (line[n][2], line[n][0]))
        low, high, level = line[k]
        before = line[k - 1][2] - level if k else inf
        after = line[k + 1][2] - level if k < len(line) - 1 else inf
        found = _fitting(lies, left, high - low, (before, after))
        if found is None:  # nothing goes in: lost up to the lower neighbour
            line = _joined([*line[:k], (low, high, level + min(before, after)), *line[k + 1 :]])
            continue
        number, (long, wide, turned) = found
        left.remove(number)
        # Beside the neighbour that it is level with, else the one that stands out more.
        upper = abs(long - after) < EXACT or (abs(long - before) >= EXACT and after > before)
        y = high - wide if upper else low
        puts.append(Put(number, level, y, long, wide, turned))
        parts = [(low, y, level), (y, y + wide, level + long), (y + wide, high, level)]
        line = _joined([*line[:k], *(p for p in parts if p[1] - p[0] > EXACT), *line[k + 1 :]])
    length = max((p.x + p.long for p in puts), default=0.0)
    return Packed(tuple(sorted(puts, key=lambda p: p.number)), length, bound)


def _fitting(lies: Sequence[Ways], left: list[int], gap: float, beside: tuple[float, float]) -> tuple[int, Way] | None:
    """The piece that fits a gap best, and how it lies; None where none goes in."""
    best, score = None, -1
    for number in left:
        for way in lies[number]:
            long, wide, _ = way
            if wide > gap + EXACT:
                continue
            fills = 2 if gap - wide < EXACT else 0
            fits = fills + (abs(long - beside[0]) < EXACT or abs(long - beside[1]) < EXACT)
            if fits > score:
                best, score = (number, way), fits
        if score == PERFECT:
            break
    return best


def _joined(line: list[tuple[float, float, float]]) -> list[tuple[float, float, float]]:
    """A skyline with stretches of one level joined."""
    made = [line[0]]
    for low, high, level in line[1:]:
        first, _, last = made[-1]
        if abs(last - level) < EXACT:
            made[-1] = (first, high, last)
        else:
            made.append((low, high, level))
    return made
