"""The damaged region that a survey leaves: what is not ruled out at the confidence wanted, and what was not looked at.

The extent is the least region expected to hold that share of the damage, of what was surveyed. Places that are nearly
sure to be bad are always in it, places that are nearly sure to be sound never; it lies round suspect places only. A
reading vouches for a stated distance round it; what lies further from all of them was not read, but for gaps between
readings that are suspect themselves. And where readings leave more of a chance open than counts as settled, away from
anything suspect that it could belong to, they settle nothing: one word in ten is wrong. What was not read and what was
left open are together not surveyed: neither in the extent nor called sound, and stand beside it with their area.
"""

from __future__ import annotations

from math import log
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct
from shapely.geometry import MultiPolygon, Polygon

from ribpatch.core.geometry import Floats, Ring, clean, polygon_of, polygons, region_above, region_of
from ribpatch.core.memo import remembered
from ribpatch.core.survey.field import field_of, inside_of, nodes_of, posterior_of
from ribpatch.core.survey.posterior import nearest
from ribpatch.core.survey.refine import FEW_CELLS, FINER, FINEST, finer, passed
from ribpatch.core.survey.vouched import vouched_by

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.job import Survey
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.survey.field import Field
    from ribpatch.core.survey.posterior import Posterior
    from ribpatch.core.survey.structure import Starts


Grid = tuple[Floats, Floats, Floats]


class Extent(Struct, frozen=True, eq=False):
    """The damaged region in m: likely (all that cannot be ruled out), surely (all that is nearly certain); the region
    not surveyed, and the part of it that was read but left open; the chance that there is any damage at all, and the
    least chance of what is in the extent.
    """

    likely: MultiPolygon
    surely: MultiPolygon
    unsurveyed: MultiPolygon
    left_open: MultiPolygon
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
        return Extent(likely, likely, nothing, nothing, likely.area, 1.0, 1.0, False, _at_edge(likely, zone))
    field, made = field_of(survey, outline, shelf, starts), posterior_of(survey, outline, shelf, starts)
    if field is None or made is None:
        return Extent(nothing, nothing, clean(zone), nothing, 0.0, 0.0, 1.0, True, False)
    looks = _Looks.made(field, made, zone, survey.confidence.si, shelf)
    least, regions = _first_look(field, looks)
    grid = _finer(field, made, regions, zone) if regions else (field.x, field.y, field.odds)
    found = _parts(grid, looks, least)
    surveyed = inside_of(field.x, field.y, found.seen)
    count = max(1, int(inside_of(field.x, field.y, zone).sum()))
    return Extent(
        found.likely,
        found.surely,
        clean(zone.difference(found.seen)),
        clean(found.left),
        zone.area * float(field.chance[surveyed].sum()) / count,
        made.any_damage,
        least,
        True,
        _at_edge(found.likely, zone),
    )


class _Looks(Struct, frozen=True, eq=False):
    """What an extent is looked for with: the zone, what readings vouch for and what lies near, m; the confidence, and
    the chances of the rules.
    """

    zone: Polygon
    vouched: BaseGeometry
    near: BaseGeometry
    reach: float
    confidence: float
    suspect: float
    settled: float
    floor: float

    @classmethod
    def made(cls, field: Field, made: Posterior, zone: Polygon, confidence: float, shelf: Shelf) -> _Looks:
        """By the rules of a shelf."""
        away = nearest(nodes_of(field.x, field.y), made.sites.at).reshape(field.chance.shape)
        reach = shelf.rule("survey.vouches")
        near = region_above(field.x, field.y, -away, -2 * reach)
        vouched = clean(vouched_by(made.sites, shelf).intersection(zone))
        names = ("extent.suspect", "extent.settled", "extent.floor")
        return cls(zone, vouched, clean(near.intersection(zone)), reach, confidence, *(shelf.rule(n) for n in names))

    def left_open(self, grid: Grid, suspects: BaseGeometry) -> BaseGeometry:
        """What lies near readings, is not settled, and is further from what is suspect than damage is looked for round
        it.
        """
        doubtful = region_above(*grid, _odds(self.settled)).intersection(self.near)
        return doubtful.difference(suspects.buffer(2 * self.reach, quad_segs=4))

    def suspects(self, grid: Grid) -> BaseGeometry:
        """Where damage is suspected, near readings."""
        return region_above(*grid, _odds(self.suspect)).intersection(self.near)


def _first_look(field: Field, looks: _Looks) -> tuple[float, tuple[MultiPolygon, ...]]:
    """The least chance of what belongs to the extent, and what is roughly likely and surely damaged; nothing where
    nothing is suspect.
    """
    x, y = field.x, field.y
    grid = (x, y, field.odds)
    suspects = looks.suspects(grid)
    if suspects.is_empty:
        return 1.0, ()
    read = inside_of(x, y, looks.vouched) & ~inside_of(x, y, looks.left_open(grid, suspects))
    surveyed = read | inside_of(x, y, suspects)
    least = least_chance(field.chance[surveyed], looks.confidence, looks.floor)
    regions = (region_above(*grid, _odds(c)).intersection(looks.near) for c in (least, max(least, looks.confidence)))
    return least, tuple(MultiPolygon([p for p in polygons(r) if p.intersects(suspects)]) for r in regions)


class _Parts(Struct, frozen=True, eq=False):
    """What a zone falls into, m: likely and surely damaged; what was surveyed; what was read but left open."""

    likely: MultiPolygon
    surely: MultiPolygon
    seen: BaseGeometry
    left: BaseGeometry


def _parts(grid: Grid, looks: _Looks, least: float) -> _Parts:
    """What a zone falls into, by contours on a grid of x, y and log-odds; smooth regions cut with each other, not one
    masked grid, whose edge would run in steps.

    A place that is not settled belongs to the damage where it lies near something suspect; else it is left open.
    """
    suspects = clean(looks.suspects(grid))
    left = looks.left_open(grid, suspects)
    seen = clean(clean(looks.vouched.difference(left)).union(suspects))
    likely, surely = (
        clean(region_above(*grid, _odds(level)).intersection(seen)) for level in (least, max(least, looks.confidence))
    )
    likely = MultiPolygon([p for p in likely.geoms if p.intersects(suspects)])
    return _Parts(likely, surely, seen, left.intersection(looks.vouched))


def _finer(field: Field, made: Posterior, regions: tuple[MultiPolygon, ...], zone: Polygon) -> Grid:
    """The grid of the field, worked out finely where the borders of regions run."""
    x, y = field.x, field.y
    cells = np.logical_or.reduce([passed(x, y, region.boundary, zone) for region in regions])
    few = FEW_CELLS * (x[1] - x[0]) * (y[1] - y[0])
    small = any(0 < region.area < few for region in regions)
    return finer(x, y, (field.odds, field.doubt), cells, made.at, FINEST if small else FINER)[:3]


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
