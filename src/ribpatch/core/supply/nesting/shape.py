"""Pieces to cut off a roll by their own outline, the turns that they may be laid at, and what no layout can be shorter
than. Metres; x runs along the roll, y across it; degrees counter-clockwise.

The bound is the largest of three: all area over the width; the piece that is longest however it lies; and, as pieces
that together take more than the width cannot lie at the same place along the roll, the sum of the lengths over which
each takes more than the width less a step, with that of one other over which it takes the step. None of the three asks
the pieces to be boxes.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct

from ribpatch.core.errors import InvalidValue
from ribpatch.core.geometry import Floats, Ring, ring_fault
from ribpatch.core.memo import Known
from ribpatch.core.numerals import general

if TYPE_CHECKING:
    from collections.abc import Sequence

EXACT = 1e-9
CORNERS_OF_A_BOX = 4
STEPS_OF_ALL = 300  # steps times pieces
MOST_STEPS = 12  # shares of the width that a bound is tried for
WITHIN = (0.995, 1 - 1e-6)  # of a piece's width, which it takes more of: the first of one with a side that leans
BOXLIKE = 0.999  # of its box, that a piece fills where it counts as one
SLACK = 1e-7  # m, that a piece may be wider than the roll by rounding


class Shape(Struct, frozen=True):
    """An outline, and the turns in degrees that it may be laid at; None for any."""

    ring: Ring
    turns: tuple[float, ...] | None = (0.0,)


class Lying(Struct, frozen=True):
    """Where a piece lies: turned about the origin of its outline, then moved by x and y, m."""

    x: float
    y: float
    turn: float


class Nested(Struct, frozen=True):
    """A layout: every piece once in the order given, the length used, and the least that any layout could need, m."""

    lying: tuple[Lying, ...]
    length: float
    bound: float

    @property
    def proven(self) -> bool:
        """Whether none can be shorter."""
        return self.length <= self.bound + SLACK


Chords = tuple[Floats, Floats, Floats]

_KNOWN: Known[tuple[tuple[Shape, ...], float], float] = Known(64)


def turned(ring: Ring, turn: float) -> Floats:
    """Corners of an outline turned about its origin, shape (n, 2), m; a quarter turn is exact."""
    corners = np.array(ring, float)
    quarters = turn / 90.0
    if quarters == round(quarters):
        c, s = ((1, 0), (0, 1), (-1, 0), (0, -1))[round(quarters) % 4]
    else:
        c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    made: Floats = corners @ np.array([[c, s], [-s, c]], float)
    return made


def placed(shape: Shape, lying: Lying) -> Floats:
    """Corners of a piece where it lies, shape (n, 2), m."""
    made: Floats = turned(shape.ring, lying.turn) + np.array((lying.x, lying.y))
    return made


def area_of(ring: Ring) -> float:
    """Area inside an outline, m2."""
    x, y = np.array(ring, float).T
    return abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2


def extent(corners: Floats) -> Floats:
    """How far corners reach along and across, shape (2,), m."""
    made: Floats = corners.max(axis=0) - corners.min(axis=0)
    return made


def is_box(ring: Ring) -> bool:
    """Whether an outline fills the box round it."""
    along, across = extent(turned(ring, 0.0))
    return bool(area_of(ring) >= BOXLIKE * along * across)


def turns_that_fit(shape: Shape, width: float) -> tuple[float, ...]:
    """The turns at which a piece goes on a roll; of any turn those that lay an edge of its hull along or across."""
    turns = shape.turns if shape.turns is not None else hull_turns(shape.ring)
    return tuple(t for t in turns if extent(turned(shape.ring, t))[1] <= width + SLACK)


def hull_turns(ring: Ring) -> tuple[float, ...]:
    """The turns that lay an edge of an outline's hull along or across, degrees."""
    hull = shapely.get_coordinates(shapely.convex_hull(shapely.Polygon(ring)))
    edges = np.diff(hull, axis=0)
    angles = -np.degrees(np.arctan2(edges[:, 1], edges[:, 0])) % 90.0
    first = sorted({float(a) % 90.0 for a in angles.round(9)})
    return tuple(a + quarter for a in first for quarter in (0.0, 90.0, 180.0, 270.0))


def checked(shapes: Sequence[Shape], width: float) -> None:
    """Raise InvalidValue where a piece has no outline, or is wider than the roll however it lies."""
    for number, shape in enumerate(shapes, 1):
        fault = ring_fault(shape.ring)
        if fault:
            raise InvalidValue(f"piece {number}", reason=fault[0], advice=fault[1])
        if not turns_that_fit(shape, width):
            turns = shape.turns if shape.turns is not None else hull_turns(shape.ring)
            least = min(float(extent(turned(shape.ring, t))[1]) for t in turns)
            raise InvalidValue(
                f"piece {number}",
                reason=f"it is {general(least)} m wide and the roll {general(width)} m; split it in strips, or take a "
                "wider roll",
            )


def least_length(shapes: Sequence[Shape], width: float) -> float:
    """What no layout of the pieces can be shorter than, m."""
    return _KNOWN.of((tuple(shapes), width), lambda: _least(shapes, width)) if shapes else 0.0


def _least(shapes: Sequence[Shape], width: float) -> float:
    area = sum(area_of(s.ring) for s in shapes) / width
    # Turned by a half turn it takes the same room.
    half = [{t % 180.0: t for t in turns_that_fit(s, width)}.values() for s in shapes]
    lies = [[turned(s.ring, t) for t in turns] for s, turns in zip(shapes, half, strict=True)]
    longest = max(min(float(extent(c)[0]) for c in corners) for corners in lies)
    # Between the turns tried, one that may lie at any can be narrower.
    firm = [corners for s, corners in zip(shapes, lies, strict=True) if s.turns is not None]
    return max(area, longest, _apart(firm, width))


def _steps(lies: list[list[Floats]], width: float) -> list[float]:
    """Shares of the width that are tried: half of it, and the narrower pieces' own."""
    across = sorted({round(min(float(extent(c)[1]) for c in corners), 6) for corners in lies})
    narrow = [v * share for v in across if v < width / 2 for share in WITHIN]
    count = min(len(narrow), MOST_STEPS, STEPS_OF_ALL // len(lies)) if lies else 0
    return [width / 2, *(narrow[n] for n in np.linspace(0, len(narrow) - 1, count).astype(int))]


def _apart(lies: list[list[Floats]], width: float) -> float:
    """The longest length that pieces take which cannot lie side by side, of the steps tried: all that takes more than
    the width less a step, and of one other all that takes the step.
    """
    if not lies:
        return 0.0
    steps = np.array(_steps(lies, width))
    chords = [[chords_of(c) for c in corners] for corners in lies]
    wide, other = (
        np.array([np.min([length_over(c, over) for c in each], axis=0) for each in chords])
        for over in (width - steps, steps)
    )
    more = np.where(steps < width / 2, (other - wide).max(axis=0), 0.0)
    return float((wide.sum(axis=0) + more).max())


def chords_of(corners: Floats) -> Chords:
    """How much of the width a piece takes along it: over each of n lengths, m, the least and the most, m; between them
    it grows evenly. Shapes (n,).
    """
    x, y = corners.T
    if len(x) == CORNERS_OF_A_BOX and (np.minimum(np.abs(np.diff(x)), np.abs(np.diff(y))) < EXACT).all():
        long, wide = extent(corners)[:, None]
        return long, wide, wide
    x2, y2 = np.roll(x, -1), np.roll(y, -1)
    cuts = np.unique(x)
    left, right = cuts[:-1, None] + 0.0, cuts[1:, None] + 0.0
    crosses = (np.minimum(x, x2) <= left + EXACT) & (np.maximum(x, x2) >= right - EXACT) & (np.abs(x2 - x) > EXACT)
    run = np.where(np.abs(x2 - x) > EXACT, x2 - x, 1.0)
    sign = np.where(crosses, -np.sign(x2 - x), 0.0)
    heights = [np.abs((sign * (y + (at - x) * (y2 - y) / run)).sum(axis=1)) for at in (left, right)]
    return np.diff(cuts), np.minimum(*heights), np.maximum(*heights)


def length_over(chords: Chords, widths: Floats) -> Floats:
    """The lengths along which a piece takes more than each of k ``widths``, m; shape (k,), m."""
    long, least, most = chords
    low, high = (c - widths[:, None] - EXACT for c in (least, most))
    share = np.where(low > 0, 1.0, np.where(high > 0, high / np.maximum(high - low, EXACT), 0.0))
    made: Floats = share @ long
    return made
