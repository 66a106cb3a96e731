"""Backing strips for a hole that can be reached from one side: made beforehand, passed through it, bonded underneath.

The strips together span the hole and lap ``width`` beyond its edge below the old skin; each is narrow enough to pass
through the hole at its narrowest. Metres, kg.
"""

from __future__ import annotations

from math import ceil
from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct
from shapely.geometry import MultiPolygon, Polygon

from ribpatch.core.geometry import clean, offset, polygons
from ribpatch.core.patch.plies import PlyOutline

if TYPE_CHECKING:
    from ribpatch.core.laminate.stack import StackUp

PASS = 0.9  # of the hole's narrowest: a strip is handled through it with its edges


class BackingStrips(Struct, frozen=True, eq=False):
    """The strips as they lie under the skin with their plies, the area that they cover, the laps bonded under it."""

    strips: tuple[Polygon, ...]
    outlines: tuple[PlyOutline, ...]
    region: MultiPolygon
    lap_area: float
    thickness: float
    weight: float

    @property
    def area(self) -> float:
        """Area of all strips with their overlaps, m2."""
        return float(sum(s.area for s in self.strips))


def narrowest(hole: Polygon) -> float:
    """Short side of the least box round a hole in any direction, m."""
    box = hole.minimum_rotated_rectangle
    a, b, c = shapely.get_coordinates(box)[:3]
    return float(min(np.hypot(*(b - a)), np.hypot(*(c - b))))


def backing_of(holes: MultiPolygon, stack: StackUp, width: float, overlap: float) -> BackingStrips:
    """Strips for every hole, laid across its longer side."""
    strips: list[Polygon] = []
    region = clean(offset(holes, width))
    for hole in polygons(holes):
        whole = Polygon(polygons(offset(hole, width))[0].exterior)
        strips += _strips(whole, PASS * narrowest(hole), overlap)
    lap = region.area - holes.area
    weight = sum(s.area for s in strips) * stack.weight
    plies = tuple(PlyOutline(laid, 0.0, 0.0, MultiPolygon([s])) for s in strips for laid in stack.plies)
    return BackingStrips(tuple(strips), plies, region, lap, stack.thickness, weight)


def _strips(whole: Polygon, widest: float, overlap: float) -> list[Polygon]:
    x0, y0, x1, y1 = whole.bounds
    along_x = x1 - x0 >= y1 - y0
    low, high = (x0, x1) if along_x else (y0, y1)
    if widest <= overlap * 1.5:
        overlap = widest / 3
    count = max(1, ceil((high - low - overlap) / max(widest - overlap, 1e-3) - 1e-9))
    each = (high - low + (count - 1) * overlap) / count
    cut: list[Polygon] = []
    for k in range(count):
        a = low + k * (each - overlap)
        box = shapely.box(a, y0, a + each, y1) if along_x else shapely.box(x0, a, x1, a + each)
        cut += polygons(whole.intersection(box))
    return cut
