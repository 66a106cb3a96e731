"""Rectangles on a strip of a width, as short as can be found: best fit on a skyline, again and again in other orders.

The lowest gap is filled first, by the piece that fits it best: whole in its width and level with a neighbour, whole in
its width, level, any that goes in; in the order of the pieces where several do. What fits nothing is lost. Beside it
pieces are laid one after the other, each where it ends soonest, which finds what the fit does not where they are few.
The first orders are the widest, longest, largest first; then two change places, one moves or is laid one way only, and
now and then something longer is kept for a while. It stops where the strip is as short as anything could make it. The
same rectangles give the same layout. Metres. Source: [30].
"""

from __future__ import annotations

from math import exp, inf
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.errors import InvalidValue
from ribpatch.core.numerals import general

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

Way = tuple[float, float, bool]  # along, across, turned
Ways = tuple[Way, ...]
TRIES, LEAST_TRIES = 600, 12
EFFORT = 1_200_000  # tries times the square of the pieces: about two seconds
JOINED_TRIES = 150  # of what is joined before
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


def tries_in(seconds: float, count: int) -> int:
    """About how many layouts of ``count`` rectangles are tried in a time, s."""
    return max(int(seconds / 2 * EFFORT / max(count, 1) ** 2), LEAST_TRIES)


def ways_of(rect: Rect, width: float) -> Ways:
    """The ways that a rectangle may lie in on a strip: along, across, turned."""
    ways = [(rect.long, rect.wide, False)]
    if rect.turns and abs(rect.long - rect.wide) > EXACT:
        ways.append((rect.wide, rect.long, True))
    return tuple(w for w in ways if w[1] <= width + EXACT)


def pack(
    rects: Sequence[Rect], width: float, tries: int | None = None, go_on: Callable[[float], bool] | None = None
) -> Packed:
    """The shortest layout that was found; many pieces get fewer tries unless these are stated.

    ``go_on(share)`` is told how far the search is, and stops it by answering False. Raises InvalidValue where a piece
    is wider than the strip however it lies, or has no size.
    """
    for number, rect in enumerate(rects, 1):
        if min(rect.long, rect.wide) <= 0:
            raise InvalidValue(f"piece {number}", reason="it has no size; give both sides above 0")
        if not ways_of(rect, width):
            raise InvalidValue(
                f"piece {number}",
                reason=f"it is {general(rect.wide)} m wide and the roll {general(width)} m; split it in strips, or "
                "take a wider roll",
            )
    if tries is None:
        tries = max(min(TRIES, EFFORT // max(len(rects), 1) ** 2), LEAST_TRIES)
    bound, lies = least_length(rects, width), [ways_of(r, width) for r in rects]
    from ribpatch.core.supply.joining import blocks_of, taken_apart

    blocks = blocks_of(rects, width)
    found = None
    if len(blocks) < len(rects):
        whole = [Rect(b.long, b.wide, b.turns) for b in blocks]
        found = taken_apart(blocks, pack(whole, width, min(tries, JOINED_TRIES), go_on), bound)
        if found.proven:
            return found
    searches = [_Search(decode, rects, lies, width, bound) for decode in (_by_fit, _in_order)]
    for k in range(tries if len(rects) > 1 else 0):
        if min(s.best.length for s in searches) <= bound + EXACT or not asked(go_on, k / tries):
            break
        searches[k % len(searches)].step(WARM * (1 - k / tries))
    made = min((s.best for s in searches), key=lambda packed: packed.length)
    return found if found is not None and found.length < made.length - EXACT else made


def asked(go_on: Callable[[float], bool] | None, share: float = 1.0) -> bool:
    """Whether a search, told how far it is, is to go on."""
    return go_on is None or go_on(share)


class _Search:
    """A search among the orders of pieces, by one way of laying an order out."""

    def __init__(
        self, decode: Callable[..., Packed], rects: Sequence[Rect], lies: Sequence[Ways], width: float, bound: float
    ) -> None:
        self._decode, self._lies, self._width, self._bound = decode, lies, width, bound
        self._chance = np.random.default_rng(SEED)
        keys: tuple[Callable[[Rect], float], ...] = (
            lambda r: -r.wide,
            lambda r: -r.long,
            lambda r: -r.long * r.wide,
            lambda r: -max(r.long, r.wide),
            lambda r: -(r.long + r.wide),
        )
        orders = [sorted(range(len(rects)), key=[key(r) for r in rects].__getitem__) for key in keys]
        made = [self._laid(order) for order in orders]
        first = min(range(len(made)), key=lambda n: made[n].length)
        self.best, self._order, self._now = made[first], orders[first], made[first].length
        self._ways = list(lies)

    def _laid(self, order: list[int], ways: Sequence[Ways] | None = None) -> Packed:
        return self._decode(self._lies if ways is None else ways, order, self._width, self._bound)

    def step(self, warm: float) -> None:
        """Try one other order; what is longer by about ``warm`` of the length may be kept for a while."""
        trial, ways = self._order.copy(), self._ways.copy()
        i, j, move = (int(n) for n in self._chance.integers((len(trial), len(trial), 3)))
        if move == 0 and len(self._lies[i]) > 1:
            ways[i] = self._lies[i] if len(ways[i]) == 1 else (self._lies[i][j % 2],)
        elif move == 1:
            trial[i], trial[j] = trial[j], trial[i]
        else:
            trial.insert(j, trial.pop(i))
        made = self._laid(trial, ways)
        longer = (made.length - self._now) / max(warm * self._bound, EXACT)
        if longer <= EXACT or self._chance.random() < exp(-min(longer, 50.0)):
            self._now, self._order, self._ways = made.length, trial, ways
            self.best = made if made.length < self.best.length - EXACT else self.best


Line = list[tuple[float, float, float]]  # from, to across the strip, used up to


def _packed(puts: list[Put], bound: float) -> Packed:
    length = max((p.x + p.long for p in puts), default=0.0)
    return Packed(tuple(sorted(puts, key=lambda p: p.number)), length, bound)


def _by_fit(lies: Sequence[Ways], order: list[int], width: float, bound: float) -> Packed:
    """The lowest gap by what fits it best, of several the first in the order."""
    line: Line = [(0.0, width, 0.0)]
    left, puts = list(order), []
    while left:
        k = min(range(len(line)), key=lambda n: (line[n][2], line[n][0]))
        low, high, level = line[k]
        before = line[k - 1][2] - level if k else inf
        after = line[k + 1][2] - level if k < len(line) - 1 else inf
        found = fitting(lies, left, high - low, (before, after))
        if found is None:  # nothing goes in: lost up to the lower neighbour
            line = joined([*line[:k], (low, high, level + min(before, after)), *line[k + 1 :]])
            continue
        number, (long, wide, turned) = found
        left.remove(number)
        # Beside the neighbour that it is level with, else the one that stands out more.
        upper = abs(long - after) < EXACT or (abs(long - before) >= EXACT and after > before)
        y = high - wide if upper else low
        puts.append(Put(number, level, y, long, wide, turned))
        parts = [(low, y, level), (y, y + wide, level + long), (y + wide, high, level)]
        line = joined([*line[:k], *(p for p in parts if p[1] - p[0] > EXACT), *line[k + 1 :]])
    return _packed(puts, bound)


def _in_order(lies: Sequence[Ways], order: list[int], width: float, bound: float) -> Packed:
    """One after the other, each where it ends soonest; of such places where least is lost under it."""
    line: Line = [(0.0, width, 0.0)]
    puts = []
    for number in order:
        best: tuple[float, float, float] | None = None
        for long, wide, turned in lies[number]:
            for y in (y for a, b, _ in line for y in (a, b - wide) if -EXACT <= y <= width - wide + EXACT):
                under = [s for s in line if s[1] > y + EXACT and s[0] < y + wide - EXACT]
                x = max(s[2] for s in under)
                end = round(x + long, 9)
                if best is not None and end > best[0]:
                    continue
                lost = sum((min(s[1], y + wide) - max(s[0], y)) * (x - s[2]) for s in under)
                score = (end, round(lost, 9), y)
                if best is None or score < best:
                    best, put = score, Put(number, x, y, long, wide, turned)
        puts.append(put)
        line = _raised(line, put.y, put.y + put.wide, put.x + put.long)
    return _packed(puts, bound)


def _raised(line: Line, low: float, high: float, level: float) -> Line:
    """The skyline with a stretch used up to a level."""
    made: Line = [(low, high, level)]
    for a, b, used in line:
        if b <= low + EXACT or a >= high - EXACT:
            made.append((a, b, used))
            continue
        made += [(a, low, used)] * (a < low - EXACT) + [(high, b, used)] * (b > high + EXACT)
    return joined(sorted(made))


def fitting(
    lies: Sequence[Ways] | dict[int, Ways], left: list[int], gap: float, beside: tuple[float, float]
) -> tuple[int, Way] | None:
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


def joined(line: Line) -> Line:
    """A skyline with stretches of one level joined."""
    made = [line[0]]
    for low, high, level in line[1:]:
        first, _, last = made[-1]
        if abs(last - level) < EXACT:
            made[-1] = (first, high, last)
        else:
            made.append((low, high, level))
    return made
