"""Plane geometry on shapely: rings, checks, offsets. Metres throughout.

Offsets have round corners with 16 chords a quarter circle: the area of a rounded corner is 0.16 % low.
"""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np
import shapely
from contourpy import FillType, LineType, SerialContourGenerator, ZInterp
from numpy.typing import NDArray
from shapely.geometry import MultiPolygon, Polygon

from ribpatch.core.errors import BadOutline
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from collections.abc import Iterable

    from shapely.geometry.base import BaseGeometry

Point = tuple[float, float]
Ring = tuple[Point, ...]
Floats = NDArray[np.float64]

MITRE = 5.0  # times the distance, the longest that a mitred corner may run out
CHORDS = 16
LEAST_AREA = 1e-4  # m2; smaller is a slip of the hand
SLIVER = 2e-5  # m2; crumbs of boolean operations


def ring_fault(ring: Ring) -> tuple[str, str] | None:
    """Why a ring is no outline and how to mend it, or None."""
    if len(set(ring)) < 3:
        return "an outline needs at least three different corners", "Add corners."
    polygon = Polygon(ring)
    if not polygon.is_valid:
        return "the outline crosses or touches itself", "Drag or retype the corners in order around the edge."
    if polygon.area < LEAST_AREA:
        return "the outline encloses no area", "Spread the corners; the least is 1 cm²."
    return None


def check_ring(ring: Ring, where: str = "outline") -> None:
    """Raise BadOutline where ``ring`` is no outline."""
    fault = ring_fault(ring)
    if fault:
        raise BadOutline(where, reason=fault[0], advice=fault[1])


@remembered(512)
def polygon_of(ring: Ring) -> Polygon:
    """The polygon of one ring."""
    made = Polygon(ring)
    shapely.prepare(made)
    return made


def region_of(rings: Iterable[Ring]) -> BaseGeometry:
    """The union of several rings as one region."""
    return shapely.union_all([Polygon(ring) for ring in rings])


def polygons(region: BaseGeometry) -> tuple[Polygon, ...]:
    """The polygons of a region, without crumbs, largest first."""
    if region.is_empty:
        return ()
    parts = shapely.get_parts(region)
    kept = [p for p in parts if isinstance(p, Polygon) and p.area > SLIVER]
    return tuple(sorted(kept, key=lambda p: -p.area))


def footprint(x: float, y: float, width: float, height: float) -> BaseGeometry:
    """A box about a place, or a round of diameter ``width`` where there is no height; all m."""
    if height == 0:
        return shapely.Point(x, y).buffer(width / 2, quad_segs=CHORDS)
    return shapely.box(x - width / 2, y - height / 2, x + width / 2, y + height / 2)


def clean(region: BaseGeometry) -> MultiPolygon:
    """The region as a MultiPolygon without crumbs and lines."""
    return MultiPolygon(polygons(region))


def offset(region: BaseGeometry, distance: float) -> BaseGeometry:
    """The region grown (or shrunk) by ``distance`` in m, with round corners; less than a nanometre is nothing."""
    if abs(distance) < 1e-9:
        return region
    return region.buffer(distance, quad_segs=CHORDS)


def mitred(region: BaseGeometry, distance: float) -> BaseGeometry:
    """The region grown (or shrunk) by ``distance`` in m, with sharp corners as a saw leaves them; a corner that would
    run out further than ``MITRE`` times the distance is cut off.
    """
    return region.buffer(distance, join_style="mitre", mitre_limit=MITRE)


def region_above(x: Floats, y: Floats, values: Floats, level: float) -> BaseGeometry:
    """Where values (ny, nx) on a grid x (nx,), y (ny,) in m are at least ``level``, by contours between the grid's
    places.
    """
    # The class itself: contourpy's helper for making one loads NumPy's masked arrays.
    across, up = np.meshgrid(x, y)
    contours = SerialContourGenerator(
        across,
        up,
        values,
        None,  # type: ignore[arg-type]  # the stub knows of no grid without a mask
        fill_type=FillType.OuterOffset,
        line_type=LineType.Separate,
        z_interp=ZInterp.Linear,
        corner_mask=True,
        quad_as_tri=False,
    )
    points, offsets = contours.filled(level, np.inf)[:2]
    parts: list[BaseGeometry] = []
    for xy, ends in zip(points, offsets, strict=True):
        if xy is None or ends is None:
            continue
        loops = [xy[a:b] for a, b in pairwise(ends)]
        part = Polygon(loops[0], loops[1:])
        parts.append(part if part.is_valid else part.buffer(0))
    return shapely.union_all(parts) if parts else MultiPolygon()


def clip_to(region: BaseGeometry, zone: Polygon) -> BaseGeometry:
    """The part of a region inside a zone; a region that lies wholly inside comes back as it is, at no cost."""
    return region if zone.contains(region) else region.intersection(zone)


def rounded(region: BaseGeometry, radius: float) -> BaseGeometry:
    """The region with its corners, outward and inward, rounded to ``radius``, or to less where a part is too narrow."""
    if radius <= 0 or region.is_empty:
        return region
    for _ in range(6):
        smoothed = offset(offset(offset(region, -radius), 2 * radius), -radius)
        if len(polygons(smoothed)) == len(polygons(region)):
            return smoothed
        radius /= 2
    return region


def rings_of(region: BaseGeometry) -> tuple[tuple[Ring, ...], ...]:
    """For each polygon its outer ring and then its holes, closing point left out."""
    return tuple(tuple(_ring(r.coords) for r in (p.exterior, *p.interiors)) for p in polygons(region))


def _ring(coords: Iterable[tuple[float, ...]]) -> Ring:
    points = [(float(x), float(y)) for x, y, *_ in coords]
    return tuple(points[:-1])


def along(region: BaseGeometry, step: float) -> tuple[Floats, Floats]:
    """Points every ``step`` metres (or a little less) along all outer boundaries.

    Returns points of shape (n, 2) and the length that each stands for, shape (n,), both in m.
    """
    points: list[Floats] = []
    lengths: list[Floats] = []
    for polygon in polygons(region):
        line = polygon.exterior
        count = max(8, int(np.ceil(line.length / step)))
        at = (np.arange(count) + 0.5) * line.length / count
        points.append(shapely.get_coordinates(shapely.line_interpolate_point(line, at)))
        lengths.append(np.full(count, line.length / count))
    if not points:
        return np.empty((0, 2)), np.empty(0)
    return np.concatenate(points), np.concatenate(lengths)


def middle_box(outline: Ring) -> tuple[Ring, ...]:
    """A box of a quarter of a zone's length and width, m, about its middle (about a point in it where that lies beside
    it), as far as it lies in the zone: a shape to begin with.
    """
    whole = polygon_of(outline)
    x0, y0, x1, y1 = whole.bounds
    middle = shapely.Point((x0 + x1) / 2, (y0 + y1) / 2)
    at = middle if whole.contains(middle) else whole.representative_point()
    wide, high = (x1 - x0) / 8, (y1 - y0) / 8
    return simplified(whole.intersection(shapely.box(at.x - wide, at.y - high, at.x + wide, at.y + high)), 0.0)


def simplified(region: BaseGeometry, tolerance: float) -> tuple[Ring, ...]:
    """The outer rings with few enough corners to drag by hand (deviation at most ``tolerance`` m)."""
    return tuple(_ring(p.exterior.coords) for p in polygons(region.simplify(tolerance)))
