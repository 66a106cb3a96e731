"""The taper round the cut: its band, and the ratio that the space really allows.

Length L = R t with taper ratio R and tapered thickness t. A stepped taper gives each ply one flat step, never
shorter than the least that can be ground true. The ratio available at a place on the cut line is its distance to the
nearest zone edge or fitting over t.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from ribpatch.core.geometry import Floats, Ring, along, clean, offset, polygon_of, within
from ribpatch.core.job import Fitting
from ribpatch.core.memo import remembered
from ribpatch.core.patch.cutline import CutLine
from ribpatch.core.scheme import Taper

SAMPLE = 0.02  # m between places on the cut line
_NODES, _WEIGHTS = (np.array(a) for a in np.polynomial.legendre.leggauss(4))


@dataclass(frozen=True, slots=True)
class Tight:
    """A stretch of the cut line where the chosen ratio does not fit."""

    at: tuple[float, float]
    ratio: float
    length: float
    against: str


@dataclass(frozen=True, eq=False)
class Band:
    """The taper band: length L in m, region in m, and the space it has."""

    length: float
    thickness: float
    stepped: bool
    region: MultiPolygon
    outer: MultiPolygon
    ground_volume: float
    least_ratio: float
    tight: tuple[Tight, ...]
    removed: tuple[str, ...]  # fittings that stand in the cut and must come out


def taper_length(ratio: float, thickness: float, form: str, plies: int, least_step: float) -> float:
    """Taper length in m: R t, or for a stepped taper at least ``least_step`` for each ply."""
    length = ratio * thickness
    return max(length, plies * least_step) if form == "stepped" else length


@remembered(256)
def band_of(
    cut: CutLine,
    taper: Taper,
    thickness: float,
    plies: int,
    least_step: float,
    outline: Ring,
    fittings: tuple[Fitting, ...],
) -> Band:
    """The taper band of a cut line through a skin of ``thickness`` m."""
    zone = polygon_of(outline)
    length = taper_length(taper.ratio.si, thickness, taper.form, plies, least_step)
    outer = clean(within(offset(cut.region, length), zone))
    region = clean(outer.difference(cut.region))
    inside = tuple(f.name for f in fittings if f.shape.within(cut.region))
    tight, least = _space(cut, length, thickness, outline, fittings)
    volume = _ground_volume(cut.region, length, thickness, zone)
    return Band(length, thickness, taper.form == "stepped", region, outer, volume, least, tight, inside)


def _ground_volume(cut: BaseGeometry, length: float, thickness: float, zone: Polygon) -> float:
    """Laminate ground off in m3: (t / L) times the integral of the band's area out to each distance."""
    if cut.is_empty or length <= 0:
        return 0.0
    at = (_NODES + 1) / 2 * length
    areas = [within(offset(cut, float(d)), zone).area - cut.area for d in at]
    return float(thickness * np.dot(_WEIGHTS / 2, areas))


def _space(
    cut: CutLine, length: float, thickness: float, outline: Ring, fittings: tuple[Fitting, ...]
) -> tuple[tuple[Tight, ...], float]:
    points, spans = along(cut.region, SAMPLE)
    if not len(points):
        return (), float("inf")
    shapes: list[tuple[str, BaseGeometry]] = [("the zone's edge", polygon_of(outline).exterior)]
    shapes += [(f.name, s) for f in fittings if not (s := f.shape).within(cut.region)]
    places = shapely.points(points)
    room = np.array([shapely.distance(places, shape) for _, shape in shapes])
    nearest = room.argmin(axis=0)
    ratios = room.min(axis=0) / thickness
    stretches: list[Tight] = []
    for which, (name, _) in enumerate(shapes):
        short = (nearest == which) & (room.min(axis=0) < length - 1e-6)
        stretches += _stretches(short, points, spans, ratios, name)
    # The places are samples; the least room of all is exact.
    least = min(float(cut.region.distance(shape)) for _, shape in shapes) / thickness
    return tuple(sorted(stretches, key=lambda t: t.ratio)), least


def _stretches(short: NDArray[np.bool_], points: Floats, spans: Floats, ratios: Floats, name: str) -> list[Tight]:
    """Runs of neighbouring short places as one mark each, at the place with least room."""
    found: list[Tight] = []
    index = np.flatnonzero(short)
    if not index.size:
        return found
    for run in np.split(index, np.flatnonzero(np.diff(index) > 3) + 1):
        worst = run[ratios[run].argmin()]
        at = (float(points[worst][0]), float(points[worst][1]))
        found.append(Tight(at, float(ratios[worst]), float(spans[run].sum()), name))
    return found
