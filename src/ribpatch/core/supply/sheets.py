"""Rectangles on sheets of one size, on as few as can be found, with the width of the saw between them. Metres.

A sheet is filled like a strip that ends (``packing``): the lowest gap by what fits it best. Other orders of the pieces
are tried; fewer sheets are better, then more room left on the last. With a saw cut of k, pieces of a + k on a sheet of
A + k lie as pieces of a with k between them. Off-cuts are filled before whole sheets. The bound takes areas in which a
side over 1 - p of the sheet counts as all of it and one under p as nothing. Source: [30], [33].
"""

from __future__ import annotations

from itertools import product
from math import ceil, exp, inf
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.errors import InvalidValue
from ribpatch.core.numerals import general
from ribpatch.core.supply.packing import EXACT, Line, Packed, Put, Rect, Ways, fitting, joined, ways_of

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from ribpatch.core.geometry import Floats

TRIES = 2000
EFFORT = 1_000_000  # tries times the square of the pieces
SEED = 11
WARM = 0.03  # by how much a filling may be less full and be kept for a while, at first
MOST_STEPS = 24  # sizes that the bound is tried for, along and across each


KEYS: tuple[Callable[[Rect], float], ...] = (
    lambda r: -r.long * r.wide,
    lambda r: -max(r.long, r.wide),
    lambda r: -r.wide,
    lambda r: -r.long,
)


class Sheet(Struct, frozen=True):
    """A sheet, or an off-cut of one: along and across, m."""

    long: float
    wide: float


class Laid(Struct, frozen=True):
    """A sheet with what lies on it: each piece by its number."""

    sheet: Sheet
    puts: tuple[Put, ...]

    @property
    def area(self) -> float:
        """Of the pieces, m2."""
        return sum(p.long * p.wide for p in self.puts)

    @property
    def rest(self) -> float:
        """Length beyond the last piece, over the whole width, m."""
        return self.sheet.long - max((p.x + p.long for p in self.puts), default=0.0)


class OnSheets(Struct, frozen=True):
    """Every piece once: on off-cuts, then on whole sheets; how many whole ones, and the fewest that any layout needs
    where there are no off-cuts.
    """

    laid: tuple[Laid, ...]
    whole: int
    bound: int

    @property
    def proven(self) -> bool:
        """Whether none can do with fewer whole sheets."""
        return self.whole <= self.bound

    @property
    def used(self) -> float:
        """Share of the sheets taken that is pieces."""
        area = sum(s.sheet.long * s.sheet.wide for s in self.laid)
        return sum(s.area for s in self.laid) / area if area else 0.0


def on_sheets(
    rects: Sequence[Rect], sheet: Sheet, kerf: float = 0.0, off_cuts: Sequence[Sheet] = (), tries: int | None = None
) -> OnSheets:
    """The pieces on as few sheets as were found. Raises InvalidValue where a piece goes on none, or has no size."""
    for number, rect in enumerate(rects, 1):
        if min(rect.long, rect.wide) <= 0:
            raise InvalidValue(f"piece {number}", reason="it has no size; give both sides above 0")
        if not _ways(rect, sheet, 0.0):
            own, room = (f"{general(r.long)} by {general(r.wide)} m" for r in (rect, sheet))
            size = f"{own} and the sheet {room}"
            raise InvalidValue(f"piece {number}", reason=f"it is {size}; split it with a seam, or take a larger sheet")
    spare = sorted(off_cuts, key=lambda s: s.long * s.wide)
    bound = fewest(rects, sheet, kerf)
    joined = None if spare else _joined(rects, sheet, kerf, bound, tries)
    if joined is not None and joined.proven:
        return joined
    orders = [sorted(range(len(rects)), key=[key(r) for r in rects].__getitem__) for key in KEYS]
    laid = {n: _filled(rects, order, sheet, kerf, spare, bound) for n, order in enumerate(orders)}
    first = min(laid, key=lambda n: _rank(laid[n]))
    best = now = laid[first]
    chance, order = np.random.default_rng(SEED), orders[first]
    count = max(min(TRIES, EFFORT // max(len(rects), 1) ** 2), 8) if tries is None else tries
    for k in range(count if len(rects) > 2 else 0):
        if best.whole <= (0 if spare else bound):
            break
        trial = order.copy()
        i, j, move = (int(n) for n in chance.integers((len(trial), len(trial), 2)))
        if move:
            trial[i], trial[j] = trial[j], trial[i]
        else:
            trial.insert(j, trial.pop(i))
        made = _filled(rects, trial, sheet, kerf, spare, bound)
        worse = _rank(made)[0] - _rank(now)[0] or _rank(made)[1] - _rank(now)[1]
        if worse <= 0 or chance.random() < exp(-worse / (WARM * (1 - k / count))):
            now, order = made, trial
        best = min(best, made, key=_rank)
    return best if joined is None else min(best, joined, key=_rank)


def _joined(rects: Sequence[Rect], sheet: Sheet, kerf: float, bound: int, tries: int | None) -> OnSheets | None:
    """What comes of pieces that have a side in common joined before; None where none have. The saw is in their size."""
    from ribpatch.core.supply.joining import blocks_of, taken_apart

    grown = [Rect(r.long + kerf, r.wide + kerf, r.turns) for r in rects]
    blocks = blocks_of(grown, sheet.wide + kerf, sheet.long + kerf)
    if len(blocks) == len(rects):
        return None
    whole = [Rect(b.long, b.wide, b.turns) for b in blocks]
    made = on_sheets(whole, Sheet(sheet.long + kerf, sheet.wide + kerf), 0.0, (), tries)
    laid = []
    for one in made.laid:
        puts = taken_apart(blocks, Packed(one.puts, 0.0, 0.0), 0.0).puts
        laid.append(Laid(sheet, tuple(Put(p.number, p.x, p.y, p.long - kerf, p.wide - kerf, p.turned) for p in puts)))
    return OnSheets(tuple(laid), made.whole, bound)


def _rank(made: OnSheets) -> tuple[int, float]:
    """Fewer whole sheets, then some as full as can be and the rest as empty."""
    full = sum((s.area / (s.sheet.long * s.sheet.wide)) ** 2 for s in made.laid)
    return made.whole, -round(full, 9)


def _ways(rect: Rect, sheet: Sheet, kerf: float) -> Ways:
    grown = Rect(rect.long + kerf, rect.wide + kerf, rect.turns)
    return tuple(w for w in ways_of(grown, sheet.wide + kerf) if w[0] <= sheet.long + kerf + EXACT)


def _filled(
    rects: Sequence[Rect], order: list[int], sheet: Sheet, kerf: float, spare: Sequence[Sheet], bound: int
) -> OnSheets:
    left, laid, whole = list(order), [], 0
    waiting = list(spare)
    while left:
        now = waiting.pop(0) if waiting else sheet
        puts = _one(rects, left, now, kerf)
        if not puts and now is not sheet:
            continue
        assert puts, "every piece goes on a whole sheet"
        whole += now is sheet
        laid.append(Laid(now, tuple(puts)))
        taken = {p.number for p in puts}
        left = [n for n in left if n not in taken]
    return OnSheets(tuple(laid), whole, bound)


def _one(rects: Sequence[Rect], order: list[int], sheet: Sheet, kerf: float) -> list[Put]:
    """Fill one sheet; what does not go on it stays for the next."""
    line: Line = [(0.0, sheet.wide + kerf, 0.0)]
    end, left, puts = sheet.long + kerf, list(order), []
    lies = {n: _ways(rects[n], sheet, kerf) for n in order}
    while left:
        k = min(range(len(line)), key=lambda n: (line[n][2], line[n][0]))
        low, high, level = line[k]
        if level >= end - EXACT:
            break
        before = line[k - 1][2] - level if k else inf
        after = line[k + 1][2] - level if k < len(line) - 1 else inf
        room = {n: tuple(w for w in lies[n] if level + w[0] <= end + EXACT) for n in left}
        found = fitting(room, left, high - low, (before, after))
        if found is None:
            lift = min(before, after, end - level)
            line = joined([*line[:k], (low, high, level + lift), *line[k + 1 :]])
            continue
        number, (long, wide, turned) = found
        left.remove(number)
        puts.append(Put(number, level, low, long - kerf, wide - kerf, turned))
        parts = [(low, low + wide, level + long), (low + wide, high, level)]
        line = joined([*line[:k], *(p for p in parts if p[1] - p[0] > EXACT), *line[k + 1 :]])
    return puts


def fewest(rects: Sequence[Rect], sheet: Sheet, kerf: float = 0.0) -> int:
    """What no layout on whole sheets can do with fewer than."""
    if not rects:
        return 0
    length, width = sheet.long + kerf, sheet.wide + kerf
    sides = np.array([[(w[0] / length, w[1] / width) for w in (_ways(r, sheet, kerf) * 2)[:2]] for r in rects])
    best = 0.0
    for p, q in product(_steps(sides[..., 0]), _steps(sides[..., 1])):
        counted = _counted(sides[..., 0], p) * _counted(sides[..., 1], q)
        best = max(best, float(counted.min(axis=1).sum()))
    return max(1, ceil(best - 1e-6))


def _steps(sides: Floats) -> list[float]:
    """Where the bound may step: at sides up to half a sheet, at half, and at what is left beside each larger one."""
    left = np.minimum(1.0 - sides[sides > 0.5] + 2e-9, 0.5)
    steps = np.unique(np.concatenate([[0.0, 0.5], sides[sides <= 0.5], left]).round(12))
    return [float(v) for v in steps[np.linspace(0, len(steps) - 1, min(len(steps), MOST_STEPS)).astype(int)]]


def _counted(sides: Floats, p: float) -> Floats:
    """Sides as shares of the sheet: all of it over 1 - p, nothing under p."""
    made: Floats = np.where(sides > 1 - p + 1e-9, 1.0, np.where(sides < p - 1e-9, 0.0, sides))
    return made
