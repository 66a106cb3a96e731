"""The cut line: how far past the damage to cut.

By margin: the extent grown by a fixed width of sound material. As far again as the bad band: grown by the band's own
width, taken as twice the area over the perimeter, which is the radius of a round patch and the width of a strip.
Squared up: straight cuts along the zone's axes with rounded corners, because a sharp corner raises the stress there.
"""

from __future__ import annotations

from dataclasses import dataclass

import shapely
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from ribpatch.core.geometry import Ring, clean, offset, polygon_of, polygons, region_of, rounded, within
from ribpatch.core.memo import remembered
from ribpatch.core.scheme import Cut
from ribpatch.core.survey.field import Extent


@dataclass(frozen=True, eq=False)
class CutLine:
    """The region to cut out, in m, and how it came about."""

    region: MultiPolygon
    sharp: BaseGeometry  # the line before its corners were rounded: what a hand drags
    drawn: bool
    grown_by: float  # mean distance past the damage by the rule, m
    missed: float  # area of the extent that the cut leaves in place, m2
    trimmed: bool  # the rule wanted to go past the zone's edge
    sound: float  # area of the cut that is not in the extent, m2


def band_width(part: Polygon) -> float:
    """Width of a bad band in m: 2 A / P, the radius of a disc, the width of a long strip."""
    return float(2 * part.area / part.length) if part.length else 0.0


@remembered(256)
def cut_line(extent: Extent, cut: Cut, outline: Ring) -> CutLine:
    """The cut line of an extent; empty where there is no damage."""
    zone = polygon_of(outline)
    if cut.drawn is not None:
        sharp: BaseGeometry = region_of(cut.drawn)
        wanted, grown = rounded(sharp, cut.radius.si), 0.0
    else:
        sharp, wanted, grown = _by_rule(extent.likely, cut)
    region = clean(within(wanted, zone))
    missed = extent.likely.difference(region).area
    sound = region.difference(extent.likely).area
    return CutLine(region, sharp, cut.drawn is not None, grown, missed, wanted.area - region.area > 1e-5, sound)


def _by_rule(likely: MultiPolygon, cut: Cut) -> tuple[BaseGeometry, BaseGeometry, float]:
    parts = polygons(likely)
    if not parts:
        return MultiPolygon(), MultiPolygon(), 0.0
    growths = [cut.margin.si if cut.rule == "margin" else band_width(part) for part in parts]
    grown = shapely.union_all([offset(Polygon(p.exterior), g) for p, g in zip(parts, growths, strict=True)])
    sharp = _squared(grown, cut.radius.si) if cut.shape == "squared" else grown
    mean = sum(g * p.area for g, p in zip(growths, parts, strict=True)) / likely.area
    return sharp, rounded(sharp, cut.radius.si), mean


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
