"""The taper round the cut: its band, and the ratio that the space really allows.

Length L = R t with taper ratio R and tapered thickness t, on each stretch of the line with its own R. A stepped taper
gives each ply one flat step, never shorter than the least that can be ground true. The ratio available at a place on
the cut line is its distance to the nearest zone edge or fitting over t.
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct
from shapely.geometry import MultiLineString

from ribpatch.core.geometry import Floats, Point, Ring, along, clean, clip_to, offset, polygon_of
from ribpatch.core.memo import remembered
from ribpatch.core.patch.facing import CutEdges, cut_edges
from ribpatch.core.scheme import FACINGS, Facing, Taper

if TYPE_CHECKING:
    from collections.abc import Callable

    from numpy.typing import NDArray
    from shapely.geometry import MultiPolygon, Polygon
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.job import Fitting
    from ribpatch.core.patch.cutline import CutLine

SAMPLE = 0.02  # m between places on the cut line
NO_TAPER = 0.05  # a ratio below it is none
HALVINGS = 3  # of the integral where the band has a kink
# Gauss-Legendre, four nodes over -1 to 1: [12], 25.4.30.
_NODES = np.array([-0.8611363115940526, -0.33998104358485626, 0.33998104358485626, 0.8611363115940526])
_WEIGHTS = np.array([0.34785484513745357, 0.6521451548625464, 0.6521451548625464, 0.34785484513745357])


class Ground(Struct, frozen=True):
    """What is ground off along a taper: its thickness, m, in so many steps (0: to a slope)."""

    thickness: float
    steps: int


class Tight(Struct, frozen=True):
    """A stretch of the cut line where the chosen ratio does not fit; ``path`` are its places in order."""

    at: tuple[float, float]
    ratio: float
    length: float
    against: str
    facing: Facing = "x+"
    path: tuple[Point, ...] = ()


class Band(Struct, frozen=True, eq=False, dict=True):
    """The taper band round a cut in m, and the space it has. ``lengths`` hold L for each facing, ``length`` the usual
    one.
    """

    length: float
    lengths: dict[Facing, float]
    thickness: float
    stepped: bool
    cut: BaseGeometry
    region: MultiPolygon
    outer: MultiPolygon
    ground_volume: float
    least_ratio: float
    tight: tuple[Tight, ...]
    removed: tuple[str, ...]  # fittings that stand in the cut and must come out
    places: Floats  # along the cut line, (n, 2), with the ratio that fits at each, (n,)
    available_ratio: Floats

    @cached_property
    def sides(self) -> CutEdges:
        """The cut line by the way it looks."""
        return cut_edges(self.cut)

    def shares(self, points: Floats) -> Floats:
        """How far out in the taper places (n, 2) lie: 0 in the cut, 1 where the taper ends, more beyond; shape (n,)."""
        lengths = np.array([max(self.lengths[f], 1e-9) for f in FACINGS])
        return taper_shares(self.cut, points, lengths, self.sides)


def taper_shares(cut: BaseGeometry, points: Floats, lengths: Floats, sides: CutEdges) -> Floats:
    """Distance to the cut over the taper's length there; lengths in m by facing, shape (4,)."""
    if cut.is_empty:
        return np.full(len(points), np.inf)
    inside = shapely.intersects_xy(cut, points[:, 0], points[:, 1])
    if np.ptp(lengths) == 0:
        away = np.asarray(shapely.distance(shapely.points(points), cut)) / lengths[0]
    else:
        away = (sides.distances(points) / lengths[:, None]).min(axis=0)
    return np.where(inside, 0.0, away)


def grown(cut: BaseGeometry, lengths: dict[Facing, float], share: float, extra: float = 0.0) -> BaseGeometry:
    """The cut grown by ``share`` of the taper's length and ``extra`` m, each side by its own length."""
    reach = [share * lengths[f] + extra for f in FACINGS]
    if max(reach) - min(reach) < 1e-12:
        return offset(cut, reach[0])
    # What reaches least is part of the whole cut grown so far; only the sides that reach further are grown by
    # themselves, those of one reach together. Joining outlines takes most of the time.
    lines = cut_edges(cut).lines
    grown_cut = offset(cut, min(reach)) if min(reach) > 0 else cut
    for far in sorted(set(reach) - {min(reach)}):
        together = [line for f, r in zip(FACINGS, reach, strict=True) if r == far for line in lines[f].geoms]
        grown_cut = grown_cut.union(offset(MultiLineString(together), far))
    return grown_cut


def taper_length(ratio: float, thickness: float, form: str, plies: int, least_step: float) -> float:
    """Taper length in m: R t, or for a stepped taper at least ``least_step`` for each ply."""
    length = ratio * thickness
    return max(length, plies * least_step) if form == "stepped" else length


@remembered(96)
def band_of(
    cut: CutLine,
    taper: Taper,
    thickness: float,
    plies: int,
    least_step: float,
    outline: Ring,
    fittings: tuple[Fitting, ...],
) -> Band:
    """The taper band of a cut line through a skin of ``thickness`` m; no band where the thickness is 0."""
    zone = polygon_of(outline)
    lengths = {f: taper_length(taper.ratio_at(f), thickness, taper.form, plies, least_step) for f in FACINGS}
    length = taper_length(taper.ratio.si, thickness, taper.form, plies, least_step)
    if thickness <= 0:
        lengths, length = dict.fromkeys(FACINGS, 0.0), 0.0
    outer = clean(clip_to(grown(cut.region, lengths, 1.0), zone))
    region = clean(outer.difference(cut.region))
    inside = tuple(f.name for f in fittings if f.shape.within(cut.region))
    tight, least, places, room = _space(cut, lengths, thickness, outline, fittings)
    stepped = taper.form == "stepped"
    volume = _ground_volume(cut.region, lengths, Ground(thickness, max(plies, 1) if stepped else 0), zone)
    return Band(
        length, lengths, thickness, stepped, cut.region, region, outer, volume, least, tight, inside, places, room
    )


def _ground_volume(cut: BaseGeometry, lengths: dict[Facing, float], band: Ground, zone: Polygon) -> float:
    """Laminate ground off in m3: t times the integral of the band's area A(u) out to each share u of the taper.

    A ground taper by Gauss-Legendre, halved until it holds where the band meets the zone's edge and A has a kink; a
    stepped one as n flat steps whose middles lie on the line of the ratio: t / n (A(0) / 2 + A(1/n) + ... + A(1) / 2).
    """
    if cut.is_empty or band.thickness <= 0:
        return 0.0
    known: dict[float, float] = {}

    def area(share: float) -> float:
        if share not in known:
            known[share] = clip_to(grown(cut, lengths, share), zone).area - cut.area
        return known[share]

    if band.steps:
        inner = sum(area(k / band.steps) for k in range(1, band.steps))
        return band.thickness / band.steps * (inner + area(1.0) / 2)
    whole = _quadrature(area, 0.0, 1.0)
    if zone.covers(grown(cut, lengths, 1.0)):
        return band.thickness * whole
    return band.thickness * _halved(area, (0.0, 1.0), whole, 1e-3 * whole, HALVINGS)


def _quadrature(area: Callable[[float], float], low: float, high: float) -> float:
    shares = low + (high - low) * (_NODES + 1) / 2
    return (high - low) / 2 * float(np.dot(_WEIGHTS, [area(float(u)) for u in shares]))


def _halved(area: Callable[[float], float], span: tuple[float, float], whole: float, within: float, left: int) -> float:
    """The integral over a span, in halves where halves make a difference."""
    low, high = span
    middle = (low + high) / 2
    halves = _quadrature(area, low, middle), _quadrature(area, middle, high)
    if abs(sum(halves) - whole) < within or not left:
        return sum(halves)
    return _halved(area, (low, middle), halves[0], within / 2, left - 1) + _halved(
        area, (middle, high), halves[1], within / 2, left - 1
    )


def _space(
    cut: CutLine, lengths: dict[Facing, float], thickness: float, outline: Ring, fittings: tuple[Fitting, ...]
) -> tuple[tuple[Tight, ...], float, Floats, Floats]:
    points, spans = along(cut.region, SAMPLE)
    if not len(points) or thickness <= 0:
        return (), float("inf"), np.empty((0, 2)), np.empty(0)
    shapes: list[tuple[str, BaseGeometry]] = [("the zone's edge", polygon_of(outline).exterior)]
    shapes += [(f.name, s) for f in fittings if not (s := f.shape).within(cut.region)]
    places = shapely.points(points)
    room = np.array([shapely.distance(places, shape) for _, shape in shapes])
    nearest = room.argmin(axis=0)
    ratios = room.min(axis=0) / thickness
    wanted = np.array([lengths[f] for f in FACINGS])
    looks = np.zeros(len(points), dtype=int)
    if room.min() < wanted.max():  # which way a place looks matters only where something is too near
        looks = cut_edges(cut.region).distances(points).argmin(axis=0)
    wanted = wanted[looks]
    stretches: list[Tight] = []
    for which, (name, _) in enumerate(shapes):
        for look, facing in enumerate(FACINGS):
            short = (nearest == which) & (looks == look) & (room.min(axis=0) < wanted - 1e-6)
            stretches += _stretches(short, points, spans, ratios, name, facing)
    # The places are samples; the least room of all is exact.
    least = min(float(cut.region.distance(shape)) for _, shape in shapes) / thickness
    return tuple(sorted(stretches, key=lambda t: t.ratio)), least, points, ratios


def _stretches(
    short: NDArray[np.bool_], points: Floats, spans: Floats, ratios: Floats, name: str, facing: Facing
) -> list[Tight]:
    """Runs of neighbouring short places as one mark each, at the place with least room."""
    found: list[Tight] = []
    index = np.flatnonzero(short)
    if not index.size:
        return found
    for run in np.split(index, np.flatnonzero(np.diff(index) > 3) + 1):
        worst = run[ratios[run].argmin()]
        at = (float(points[worst][0]), float(points[worst][1]))
        path = tuple((float(x), float(y)) for x, y in points[run])
        found.append(Tight(at, float(ratios[worst]), float(spans[run].sum()), name, facing, path))
    return found
