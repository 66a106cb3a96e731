"""The damaged region that a survey leaves: what is not ruled out at the confidence wanted, and what was not looked at.

The extent is the least region expected to hold that share of the damage, of what was surveyed. Places that are nearly
sure to be bad are always in it, places that are nearly sure to be sound never; without a single suspect place there is
no extent. A reading vouches for a stated distance round it; what lies further from all of them counts as not surveyed,
but for gaps between readings that are suspect themselves: it is neither in the extent nor called sound, and stands
beside it with its area.
"""

from __future__ import annotations

from math import log
from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct
from shapely.geometry import MultiPolygon, Polygon

from ribpatch.core.geometry import Floats, Ring, clean, polygon_of, polygons, region_above, region_of
from ribpatch.core.memo import remembered
from ribpatch.core.survey.field import field_of, inside_of, posterior_of
from ribpatch.core.survey.refine import FEW_CELLS, FINER, FINEST, finer, passed

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.job import Survey
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.survey.sites import Sites
    from ribpatch.core.survey.structure import Starts


class Extent(Struct, frozen=True, eq=False):
    """The damaged region in m: likely (all that cannot be ruled out), surely (all that is nearly certain); the region
    not surveyed; the chance that there is any damage at all, and the least chance of what is in the extent.
    """

    likely: MultiPolygon
    surely: MultiPolygon
    unsurveyed: MultiPolygon
    expected_area: float
    any_damage: float
    least: float
    from_readings: bool
    reaches_edge: bool

    @property
    def unsurveyed_area(self) -> float:
        """Area of what was not surveyed, m2."""
        return float(self.unsurveyed.area)


@remembered(96)
def extent_of(survey: Survey, outline: Ring, shelf: Shelf, starts: Starts = ()) -> Extent:
    """The damaged region: as drawn by the user where they drew it, else from the readings at their confidence."""
    zone = polygon_of(outline)
    nothing = MultiPolygon()
    if survey.drawn is not None:
        likely = clean(region_of(survey.drawn).intersection(zone))
        return Extent(likely, likely, nothing, likely.area, 1.0, 1.0, False, _at_edge(likely, zone))
    field, made = field_of(survey, outline, shelf, starts), posterior_of(survey, outline, shelf, starts)
    if field is None or made is None:
        return Extent(nothing, nothing, clean(zone), 0.0, 0.0, 1.0, True, False)
    confidence, vouched = survey.confidence.si, vouched_by(made.sites, shelf)
    inside = inside_of(field.x, field.y, zone)
    suspect = shelf.rule("extent.suspect")
    # What is suspect between readings belongs to what was looked at, but not a whole panel round a few of them.
    near = vouched.buffer(shelf.rule("survey.vouches"), quad_segs=4)
    looked = inside_of(field.x, field.y, vouched)
    surveyed = inside & (looked | (inside_of(field.x, field.y, near) & (field.chance >= suspect)))
    least = least_chance(field.chance[surveyed], confidence, shelf.rule("extent.floor"))
    levels = (_odds(least), _odds(max(least, confidence)))
    seen = _seen((field.x, field.y, field.odds), suspect, vouched, near).intersection(zone)
    likely, surely = _regions((field.x, field.y, field.odds), levels, seen)
    if not bool((field.chance[surveyed] >= suspect).any()):
        likely = surely = nothing
    if not likely.is_empty:
        cells = passed(field.x, field.y, likely.boundary, zone) | passed(field.x, field.y, surely.boundary, zone)
        few = FEW_CELLS * (field.x[1] - field.x[0]) * (field.y[1] - field.y[0])
        small = likely.area < few or 0 < surely.area < few
        times = FINEST if small else FINER
        x, y, odds, _ = finer(field.x, field.y, (field.odds, field.doubt), cells, made.at, times)
        seen = _seen((x, y, odds), suspect, vouched, near).intersection(zone)
        likely, surely = _regions((x, y, odds), levels, seen)
    count = max(1, int(inside.sum()))
    expected = zone.area * float(field.chance[surveyed].sum()) / count
    return Extent(
        likely, surely, clean(zone.difference(seen)), expected, made.any_damage, least, True, _at_edge(likely, zone)
    )


def least_chance(chance: Floats, confidence: float, floor: float) -> float:
    """The least chance of damage of what belongs to the extent, from the chances of surveyed cells of equal size, (n,).

    So that the cells over it hold ``confidence`` of all the damage expected; but never so high as to leave out what is
    likelier bad than one less the cube of the confidence, nor under ``floor`` (stated for a confidence of 90 %), under
    which there is sound material almost only.
    """
    lowest, highest = min(10 * floor * (1 - confidence), 0.5), 1 - confidence**3
    if not chance.size:
        return highest
    ordered = np.sort(chance)[::-1]
    held = np.cumsum(ordered)
    enough = float(ordered[min(int(np.searchsorted(held, confidence * held[-1])), ordered.size - 1)])
    return min(max(enough, lowest), highest)


def _odds(chance: float) -> float:
    chance = min(max(chance, 1e-9), 1 - 1e-9)
    return log(chance / (1 - chance))


@remembered(12)
def vouched_by(sites: Sites, shelf: Shelf) -> BaseGeometry:
    """The region that some reading vouches for, m."""
    reach = shelf.rule("survey.vouches")
    if sites.width < 2 * reach:  # as good as all places that were read, and quicker
        wider = (sites.width - shelf.rule("place.size")) / 2
        return shapely.MultiPoint(sites.at).buffer(reach + max(wider, 0.0), quad_segs=4)
    return shapely.MultiPoint(sites.spots).buffer(reach, quad_segs=4)


def _seen(
    grid: tuple[Floats, Floats, Floats], suspect: float, vouched: BaseGeometry, near: BaseGeometry
) -> BaseGeometry:
    """What was looked at, on a grid of x, y and log-odds."""
    return vouched.union(region_above(*grid, _odds(suspect)).intersection(near))


def _regions(
    grid: tuple[Floats, Floats, Floats], levels: tuple[float, float], seen: BaseGeometry
) -> tuple[MultiPolygon, MultiPolygon]:
    """The likely and the sure region of what was surveyed, on a grid of x, y and log-odds.

    Smooth regions cut with each other, not one masked grid, whose edge would run in steps.
    """
    likely, surely = (clean(region_above(*grid, level).intersection(seen)) for level in levels)
    return likely, surely


def _at_edge(region: MultiPolygon, zone: Polygon) -> bool:
    return not region.is_empty and region.distance(zone.exterior) < 1e-4


def stretches_of(region: BaseGeometry) -> tuple[tuple[float, float], ...]:
    """From where to where along the run a region lies, m, joined where they overlap, in order."""
    spans = sorted((p.bounds[0], p.bounds[2]) for p in polygons(region))
    joined: list[tuple[float, float]] = []
    for a, b in spans:
        if joined and a <= joined[-1][1]:
            joined[-1] = (joined[-1][0], max(b, joined[-1][1]))
        else:
            joined.append((a, b))
    return tuple(joined)
