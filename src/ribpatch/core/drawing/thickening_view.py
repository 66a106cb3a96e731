"""Where a local thickening runs on the boat, seen from above: whole over its place, and out to where it has tapered.

Drawn on the plain hull of the strip. Where keel, transom and shell lie is known from the hull; of chain plates,
bulkheads and frames the places are not stated: they stand where they usually do, as the table beside it says. Metres.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from ribpatch.core.drawing.boat_view import half_breadth, hull_ring, stringer_off
from ribpatch.core.drawing.shapes import Area, Drawing, Line, Shape
from ribpatch.core.geometry import rings_of
from ribpatch.core.memo import remembered
from ribpatch.core.structure.scantlings import WHOLE
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.job import Boat
    from ribpatch.core.structure.scantlings import Lighter
    from ribpatch.core.units import System

BILGE = 0.72  # of the half breadth: where the bottom ends, as drawn
PLATES = 0.55  # of the length from the stern
ACROSS = (0.25, 0.5, 0.72)  # of the length: bulkheads, frames and floors


@remembered(16)
def thickening_view(boat: Boat, row: Lighter, system: System) -> Drawing:
    """The boat with one member's thickening on her: filled where it is whole, dashed where it has run out."""
    length, beam = boat.length.si, boat.beam.si
    hull = Polygon(hull_ring(boat))
    shapes: list[Shape] = [Area((hull_ring(boat),), "boat", "", "boat"), Line(((0, 0), (length, 0)), "centreline")]
    place = member_place(boat, row.key)
    cap: Literal["round", "flat"] = "round" if row.key == "chain-plates" else "flat"
    whole, out = (place.buffer(by, cap_style=cap).intersection(hull) for by in _widths(row))
    shapes += [Area(rings, "new-skin", "stitched") for rings in rings_of(whole)]
    if row.reach is not None:
        shapes += [Line(ring, "band", True) for rings in rings_of(out) for ring in rings]
    name = row.name.partition(",")[0]
    title = f"{name[0].upper()}{name[1:]}: {shown(row.add, Kind.SIZE, system)} more"
    return Drawing(title, "from above", (0, -beam / 2, length, beam / 2), tuple(shapes))


def _widths(row: Lighter) -> tuple[float, float]:
    """How far from its place a thickening is whole, and how far it has run out, m. A shell is thicker all over."""
    whole = 0.0 if row.key in ("bottom", "side", "deck") else WHOLE / 2
    return whole, whole + (row.reach or 0.0)


def member_place(boat: Boat, key: str) -> BaseGeometry:
    """Where a member lies on the boat from above: a region for a shell, lines for what runs or stands on it."""
    length = boat.length.si
    stations = np.linspace(0, length, 60)
    half = half_breadth(boat, stations)
    if key == "deck":
        return Polygon(hull_ring(boat))
    if key in ("bottom", "side"):
        bottom = Polygon(
            [*zip(stations, BILGE * half, strict=True), *zip(stations[::-1], -BILGE * half[::-1], strict=True)]
        )
        return bottom if key == "bottom" else Polygon(hull_ring(boat)).difference(bottom)
    if key == "transom":
        return LineString([(0.0, -half[0]), (0.0, half[0])])
    if key == "keel":
        return LineString([(0.0, 0.0), (length, 0.0)])
    if key == "chain-plates":
        edge = float(half_breadth(boat, np.array([PLATES * length]))[0])
        return shapely.MultiPoint([(PLATES * length, edge), (PLATES * length, -edge)])
    if key in ("stringer", "stringer-laminate"):
        off = stringer_off(boat, stations)
        return shapely.MultiLineString([list(zip(stations, sign * off, strict=True)) for sign in (1, -1)])
    places = np.array(ACROSS) * length
    return shapely.MultiLineString([[(x, -h), (x, h)] for x, h in zip(places, half_breadth(boat, places), strict=True)])
