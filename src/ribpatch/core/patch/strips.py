"""Strips of cloth narrower than a ply: where they lap, so that no two laps of neighbouring plies come together. Metres.

A roll lies along its grain; strips lie side by side across it, each lapping the next. Ply by ply the first joint is
moved by the golden share of a strip's pitch, which keeps the joints of all plies apart; where that comes too near an
earlier joint, the nearest place that is far enough from all of them is taken.
"""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct
from shapely import affinity

from ribpatch.core.geometry import Point, polygons
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from shapely.geometry import Polygon

    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.plies import PlyOutline

GOLDEN = 0.6180339887


class Strips(Struct, frozen=True, eq=False):
    """A ply's strips, in the zone's plane, and where their laps lie across the grain, m; ``apart`` is the least
    distance of its laps from those of the other plies of the same grain. ``lines`` run along the middle of the laps.
    """

    number: int
    pieces: tuple[Polygon, ...]
    joints: tuple[float, ...]
    apart: float
    lines: tuple[tuple[Point, ...], ...] = ()


@remembered(64)
def strips_of(
    outlines: tuple[PlyOutline, ...], overlap: float, stagger: float, trim: float = 0.0, most: float = float("inf")
) -> tuple[Strips, ...]:
    """Strips of every ply of a patch; overlap, stagger and the trim wanted all round in m, the largest piece that can
    be handled in m2.
    """
    taken: dict[float, list[float]] = {}
    made = []
    for order, outline in enumerate(outlines):
        grain = outline.laid.angle % 180
        earlier = taken.setdefault(grain, [])
        cut = _cut(outline, (overlap, stagger, trim, most), grain, order, earlier)
        earlier.extend(cut.joints)
        made.append(cut)
    return tuple(made)


def strips_in(zone: Zone, outlines: tuple[PlyOutline, ...], shelf: Shelf) -> tuple[Strips, ...]:
    """Strips of plies that are laid in a zone: with trim, no larger than people can handle there."""
    overlap, stagger, trim = (shelf.rule(r) for r in ("strip.overlap", "strip.stagger", "cloth.trim"))
    return strips_of(outlines, overlap, stagger, trim, handled(zone, shelf))


def strips_of_blanks(outlines: tuple[PlyOutline, ...], shelf: Shelf) -> tuple[Strips, ...]:
    """Strips of the plies of made parts, which are laid on a bench."""
    return strips_of(outlines, shelf.rule("strip.overlap"), shelf.rule("strip.stagger"))


def handled(zone: Zone, shelf: Shelf) -> float:
    """The largest piece of cloth that the people who lay it can handle there, m2."""
    way = "downhand" if zone.is_walked_on or zone.is_beam or zone.kind == "fastener run" else "vertical"
    way = "overhead" if zone.scheme.laying.overhead else way
    return shelf.rule(f"handled.{way}") * shelf.rule("cup.people")


def _cut(
    outline: PlyOutline, cloth: tuple[float, float, float, float], grain: float, order: int, earlier: list[float]
) -> Strips:
    overlap, stagger, trim, most = cloth
    flat = affinity.rotate(outline.region, -grain, origin=(0, 0))
    number = outline.laid.number
    if flat.is_empty:
        return Strips(number, (), (), float("inf"))
    fabric = outline.laid.ply.fabric
    x0, y0, x1, y1 = flat.bounds
    width = widest(fabric.roll_width, x1 - x0 + 2 * trim, y1 - y0 + 2 * trim, overlap, most)
    fits = y1 - y0 + 2 * trim <= width + 1e-9
    if fits or (fabric.turn == 90 and x1 - x0 + 2 * trim <= fabric.roll_width and width == fabric.roll_width):
        return Strips(number, tuple(polygons(outline.region)), (), float("inf"))
    pitch = max(width - overlap, width / 4)
    first = _first(y0, pitch, stagger, order, earlier, y1)
    joints = np.arange(first, y1 - overlap / 2, pitch)
    edges = [y0, *joints.tolist(), y1]
    pieces = []
    for low, high in pairwise(edges):
        box = shapely.box(
            x0 - 1, low - (overlap / 2 if low > y0 else 1), x1 + 1, high + (overlap / 2 if high < y1 else 1)
        )
        pieces += [affinity.rotate(p, grain, origin=(0, 0)) for p in polygons(flat.intersection(box))]
    apart = float(min((abs(j - e) for j in joints for e in earlier), default=float("inf")))
    across = [shapely.LineString([(x0 - 1, j), (x1 + 1, j)]).intersection(flat) for j in joints.tolist()]
    laps = [
        affinity.rotate(part, grain, origin=(0, 0))
        for line in across
        for part in shapely.get_parts(line)
        if part.length > 1e-3
    ]
    lines = tuple(tuple((float(x), float(y)) for x, y in shapely.get_coordinates(lap)) for lap in laps)
    return Strips(number, tuple(pieces), tuple(joints.tolist()), apart, lines)


def widest(roll: float, long: float, wide: float, overlap: float, most: float) -> float:
    """How wide a strip of a piece may be, m: as the roll, or less where a piece of ``most`` m2 is the largest that can
    be handled, but no less than three laps.
    """
    if long * min(wide, roll) <= most:
        return roll
    return min(roll, max(most / long, 3 * overlap))


def _first(low: float, pitch: float, stagger: float, order: int, earlier: list[float], high: float) -> float:
    """Where the first joint of a ply goes: by the golden share, moved on until all its joints clear the earlier
    ones.
    """
    wanted = (0.5 + order * GOLDEN) % 1.0
    tries = low + ((wanted + np.arange(60) / 60) % 1.0) * pitch
    best, room = float(tries[0]), -1.0
    for first in tries.tolist():
        if first <= low + 0.02:
            continue
        joints = np.arange(first, high, pitch)
        apart = min((abs(float(j) - e) for j in joints for e in earlier), default=float("inf"))
        if apart >= stagger:
            return float(first)
        if apart > room:
            best, room = float(first), apart
    return best
