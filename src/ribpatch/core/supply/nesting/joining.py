"""Convex pieces that have an edge in common joined where they make a convex one, again and again: triangles to boxes,
a sheet that was cut up to a sheet. Metres, degrees.

What has fewest corners is joined first, then along an edge that fewest have, then the longest. A join keeps where its
parts lie and the turns that all of them may take, so that a layout of the joined ones is a layout of all. The same
pieces give the same.
"""

from __future__ import annotations

from cmath import phase, rect
from itertools import combinations
from math import pi, radians
from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct

from ribpatch.core.supply.nesting.shape import Lying, Shape, turned, turns_that_fit

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.geometry import Ring

KEY = 1e-6  # m, to which edges are rounded to be found again
ALIKE = 1e-7  # m, by which two edges may differ and count as one
STRAIGHT = 1e-7  # sine of a bend that is none
FILLS = 1e-9  # m2, by which two may fall short of their hull
HOLLOW = 0.02  # rad beyond a straight line that a corner is clearly hollow with
MOST_ALIKE = 40  # that may have one edge; of more it says nothing
MOST = 120  # pieces that are joined; more have too many pairs


class Whole(Struct, frozen=True):
    """A convex outline made of pieces: its turns, and each piece by its number with where it lies in it; its sides as
    complex numbers, each from its corner to the next, and the angles at its corners, rad.
    """

    ring: Ring
    turns: tuple[float, ...]
    parts: tuple[tuple[int, Lying], ...]
    sides: tuple[complex, ...]
    angles: tuple[float, ...]


def _whole(ring: Ring, turns: tuple[float, ...], parts: tuple[tuple[int, Lying], ...]) -> Whole:
    corners = [complex(*c) for c in ring]
    sides = tuple(b - a for a, b in zip(corners, corners[1:] + corners[:1], strict=True))
    angles = tuple(pi - phase(b / a) for a, b in zip(sides[-1:] + sides[:-1], sides, strict=True))
    return Whole(ring, turns, parts, sides, angles)


Joins = dict[tuple[int, int, int, int, int], Whole | None]


def wholes_of(shapes: Sequence[Shape], width: float) -> tuple[Whole, ...]:
    """The pieces as they are joined, each going on a roll ``width`` m wide; what is not convex stays as it is."""
    wholes = [
        _whole(_forward(shapely.Polygon(s.ring)), s.turns or (), ((n, Lying(0.0, 0.0, 0.0)),))
        for n, s in enumerate(shapes)
    ]
    fixed = [w for w, s in zip(wholes, shapes, strict=True) if s.turns is None or not _convex(s.ring)]
    loose = [w for w in wholes if w not in fixed]
    known: Joins = {}
    while 1 < len(loose) <= MOST:
        found = _pair(loose, width, known)
        if found is None:
            break
        i, j, made = found
        loose = [*(w for n, w in enumerate(loose) if n not in (i, j)), made]
    return (*loose, *fixed)


def _forward(outline: BaseGeometry) -> Ring:
    """An outline counter-clockwise, without corners that are none."""
    corners = shapely.get_coordinates(shapely.orient_polygons(outline))[:-1]
    before, after = corners - np.roll(corners, 1, axis=0), np.roll(corners, -1, axis=0) - corners
    bend = np.abs(before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0])
    real = bend > STRAIGHT * np.hypot(*before.T) * np.hypot(*after.T)
    return tuple((float(x), float(y)) for x, y in corners[real])


def _convex(ring: Ring) -> bool:
    polygon = shapely.Polygon(ring)
    return bool(polygon.convex_hull.area - polygon.area <= FILLS)


def _pair(wholes: list[Whole], width: float, known: Joins) -> tuple[int, int, Whole] | None:
    """The two that are joined next: what has fewest corners then, of an edge that fewest have, the longest."""
    having: dict[int, set[int]] = {}
    for n, whole in enumerate(wholes):
        for side in whole.sides:
            having.setdefault(round(abs(side) / KEY), set()).add(n)
    best, rank = None, (0, 0, 0)
    for key, here in having.items():
        found = sorted(here | having.get(key + 1, set()))
        if not 1 < len(found) <= MOST_ALIKE:
            continue
        for i, j in combinations(found, 2):
            of = (wholes[i].parts[0][0], wholes[j].parts[0][0], len(wholes[i].parts), len(wholes[j].parts), key)
            if of not in known:
                known[of] = _join(wholes[i], wholes[j], key * KEY, width)
            made = known[of]
            now = (len(made.ring), len(found), -key) if made is not None else rank
            if made is not None and (best is None or now < rank):
                best, rank = (i, j, made), now
    return best


def _join(a: Whole, b: Whole, size: float, width: float) -> Whole | None:
    """Two as one along an edge of a size, m, that both have; None where that is not convex or goes on no roll."""
    for turn in sorted({(tb - ta) % 360.0 for ta in a.turns for tb in b.turns}):
        for n, m in _fitting(a, b, size, turn):
            turns = tuple(t for t in a.turns if any(abs((t + turn - u + 180) % 360 - 180) < ALIKE for u in b.turns))
            ours, theirs = np.asarray(a.ring, float), turned(b.ring, turn)
            move = ours[n] - theirs[(m + 1) % len(theirs)]
            hull = shapely.convex_hull(shapely.MultiPoint(np.concatenate([ours, theirs + move])))
            area = shapely.Polygon(ours).area + shapely.Polygon(theirs).area
            if abs(hull.area - area) > FILLS:
                continue
            ring = _forward(hull)
            if turns_that_fit(Shape(ring, turns), width):
                placed = Lying(float(move[0]), float(move[1]), turn)
                return _whole(ring, turns, (*a.parts, *((n, within(p, placed)) for n, p in b.parts)))
    return None


def _fitting(a: Whole, b: Whole, size: float, turn: float) -> Iterator[tuple[int, int]]:
    """The sides of a size along which the second, turned, lies on the first, and no corner is clearly hollow then."""
    way = rect(1.0, radians(turn))
    turned_sides = [side * way for side in b.sides]
    for n, ours in enumerate(a.sides):
        if abs(abs(ours) - size) >= 2 * KEY:
            continue
        for m, theirs in enumerate(turned_sides):
            if abs(ours + theirs) < ALIKE:
                ends = (n, (m + 1) % len(b.sides)), ((n + 1) % len(a.sides), m)
                if all(a.angles[i] + b.angles[j] < pi + HOLLOW for i, j in ends):
                    yield n, m


def within(part: Lying, whole: Lying) -> Lying:
    """Where a piece lies whose whole is laid so: turned with it, then moved."""
    x, y = turned(((part.x, part.y),), whole.turn)[0]
    return Lying(float(x) + whole.x, float(y) + whole.y, (part.turn + whole.turn) % 360.0)


def taken_apart(wholes: Sequence[Whole], lying: Sequence[Lying]) -> tuple[Lying, ...]:
    """A layout of wholes as one of the pieces that they are made of."""
    found = {n: within(p, at) for whole, at in zip(wholes, lying, strict=True) for n, p in whole.parts}
    return tuple(found[n] for n in range(len(found)))
