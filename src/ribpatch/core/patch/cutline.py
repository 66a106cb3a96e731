"""The cut line: how far past the damage to cut.

By margin: the extent grown by a fixed width of sound material. As far again as the bad band: grown by the band's own
width, taken as twice the area over the perimeter, which is the radius of a round patch and the width of a strip.
Squared up: straight cuts along the zone's axes with rounded corners, because a sharp corner raises the stress there.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct
from shapely.geometry import MultiPolygon, Polygon

from ribpatch.core.geometry import Ring, clean, clip_to, offset, polygon_of, polygons, region_of, rounded
from ribpatch.core.memo import remembered
from ribpatch.core.scheme import FACINGS, Cut, Facing

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.job import Fitting
    from ribpatch.core.survey.extent import Extent


class CutLine(Struct, frozen=True, eq=False):
    """The region to cut out, in m, and how it came about."""

    region: MultiPolygon
    sharp: BaseGeometry  # the line before its corners were rounded: what a hand drags
    drawn: bool
    grown_by: float  # mean distance past the damage by the rule, m
    missed: float  # area of the extent that the cut leaves in place, m2
    trimmed: bool  # the rule wanted to go past the zone's edge
    sound: float  # area of the cut that is not in the extent, m2
    sides: dict[Facing, float] = {}  # most past the damage on each side, m


def band_width(part: Polygon) -> float:
    """Width of a bad band in m: 2 A / P, the radius of a disc, the width of a long strip."""
    return float(2 * part.area / part.length) if part.length else 0.0


Growth = dict[Facing, float]


@remembered(64)
def cut_line(extent: Extent, cut: Cut, outline: Ring, fittings: tuple[Fitting, ...] = ()) -> CutLine:
    """The cut line of an extent; empty where there is no damage."""
    zone = polygon_of(outline)
    if cut.drawn is not None:
        sharp: BaseGeometry = region_of(cut.drawn)
        wanted = rounded(sharp, cut.radius.si)
        growths: tuple[tuple[Growth, Polygon], ...] = ()
    else:
        sharp, wanted, growths = _by_rule(extent.likely, cut, zone, fittings)
    region = clean(clip_to(wanted, zone))
    missed = extent.likely.difference(region).area
    sound = region.difference(extent.likely).area
    mean = sum(sum(g.values()) / 4 * p.area for g, p in growths) / extent.likely.area if growths else 0.0
    sides = {f: max(g[f] for g, _ in growths) for f in FACINGS} if growths else dict.fromkeys(FACINGS, 0.0)
    return CutLine(region, sharp, cut.drawn is not None, mean, missed, wanted.area - region.area > 1e-5, sound, sides)


def growth_of(part: Polygon, cut: Cut, zone: Polygon, fittings: tuple[Fitting, ...]) -> Growth:
    """How far to cut past one bad part on each side, m: by the rule, or the margin that the user set for a side.

    As far again is measured from where the damage comes: on each side from the edge of a fitting that stands in the bad
    part, or across from the zone's edge where the part begins there; else by the width of the band.
    """
    own = {s.facing: s.margin.si for s in cut.sides}
    if cut.rule == "margin":
        return {f: own.get(f, cut.margin.si) for f in FACINGS}
    runs = _runs_from_source(part, zone, fittings)
    return {f: own.get(f, runs[f]) for f in FACINGS}


def _runs_from_source(part: Polygon, zone: Polygon, fittings: tuple[Fitting, ...]) -> Growth:
    width = band_width(part)
    source = shapely.union_all([f.shape for f in fittings if f.shape.intersects(part)])
    x0, y0, x1, y1 = part.bounds
    if not source.is_empty:
        a0, b0, a1, b1 = source.bounds
        return {"x-": max(a0 - x0, 0.0), "x+": max(x1 - a1, 0.0), "y-": max(b0 - y0, 0.0), "y+": max(y1 - b1, 0.0)}
    a0, b0, a1, b1 = zone.bounds
    across, up = x1 - x0, y1 - y0
    near = 1e-3
    return {
        "x+": across if x0 - a0 < near and across < up else width,
        "x-": across if a1 - x1 < near and across < up else width,
        "y+": up if y0 - b0 < near and up < across else width,
        "y-": up if b1 - y1 < near and up < across else width,
    }


def stretched(part: Polygon, by: Growth) -> BaseGeometry:
    """The part grown by its own distance on each side: round where all are alike, else swept by the box of the four."""
    if max(by.values()) - min(by.values()) < 1e-9:
        return offset(part, by["x+"])
    ring = np.asarray(part.exterior.coords)[:, :2]
    corners = np.array([(-by["x-"], -by["y-"]), (by["x+"], -by["y-"]), (by["x+"], by["y+"]), (-by["x-"], by["y+"])])
    ends = np.stack([ring[:-1], ring[1:]], axis=1)
    swept = (ends[:, :, None, :] + corners[None, None]).reshape(len(ends), 8, 2)
    hulls = shapely.convex_hull(shapely.multipoints(swept))
    return shapely.union_all([part, *hulls])


def _by_rule(
    likely: MultiPolygon, cut: Cut, zone: Polygon, fittings: tuple[Fitting, ...]
) -> tuple[BaseGeometry, BaseGeometry, tuple[tuple[Growth, Polygon], ...]]:
    parts = polygons(likely)
    if not parts:
        return MultiPolygon(), MultiPolygon(), ()
    growths = tuple((growth_of(part, cut, zone, fittings), part) for part in parts)
    grown = shapely.union_all([stretched(Polygon(p.exterior), g) for g, p in growths])
    sharp = _squared(grown, cut.radius.si) if cut.shape == "squared" else grown
    return sharp, rounded(sharp, cut.radius.si), growths


def _squared(region: BaseGeometry, radius: float) -> BaseGeometry:
    """Boxes round each part, merged where they overlap until none do."""
    boxes = [_box_for_rounding(part, radius) for part in polygons(region)]
    merged = shapely.union_all(boxes)
    if len(polygons(merged)) < len(boxes):
        return _squared(merged, radius)
    return merged


def _box_for_rounding(part: Polygon, radius: float) -> BaseGeometry:
    """The smallest box that still covers the part once its corners are rounded."""
    x0, y0, x1, y1 = part.bounds
    radius = min(radius, (x1 - x0) / 2, (y1 - y0) / 2)
    low, high = 0.0, radius
    if rounded(shapely.box(x0, y0, x1, y1), radius).buffer(1e-6).covers(part):
        return shapely.box(x0, y0, x1, y1)
    for _ in range(12):
        middle = (low + high) / 2
        box = rounded(shapely.box(x0 - middle, y0 - middle, x1 + middle, y1 + middle), radius)
        low, high = (low, middle) if box.buffer(1e-6).covers(part) else (middle, high)
    return shapely.box(x0 - high, y0 - high, x1 + high, y1 + high)
