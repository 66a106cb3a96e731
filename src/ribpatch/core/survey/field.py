"""Where the damage is: a Gaussian process over the scored readings of one zone.

The damage score is a Gaussian process with mean 0 (sound) and a Matern 3/2 covariance; its length is the one of a few
multiples of the readings' spacing that has the highest marginal likelihood. The chance of damage at a place is the
posterior chance that the score there exceeds the threshold. Readings closer together than a fraction of that spacing
are averaged, so that the work stays bounded. Source: [4].
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from math import erf, log, sqrt

import numpy as np
import shapely
from contourpy import FillType, contour_generator
from shapely.geometry import MultiPolygon, Polygon

from ribpatch.core.geometry import Floats, Ring, clean, polygon_of, region_of
from ribpatch.core.job import Survey
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.memo import remembered
from ribpatch.core.survey.score import Scores, scores_of

CELLS = 1000  # of the picture of the field; it is smooth, and contours are interpolated between cells
MOST_SITES = 320  # distinct places that enter the algebra
# Correlation length over spacing. Longer ones fit smooth fields better, but rot has an edge: in simulated panels they
# hid a quarter of it.
SPANS = (1.25, 1.75, 2.5)

_phi = np.frompyfunc(lambda z: 0.5 * (1.0 + erf(z / sqrt(2.0))), 1, 1)


@dataclass(frozen=True, eq=False)
class Field:
    """Chance of damage on a grid: x (nx,), y (ny,) in m; chance, mean score, doubt over the prior's, each (ny, nx)."""

    x: Floats
    y: Floats
    chance: Floats
    mean: Floats
    doubt: Floats
    length: float
    sites: int


@dataclass(frozen=True, eq=False)
class Extent:
    """The damaged region in m: likely (all that cannot be ruled out), surely (all that is nearly certain)."""

    likely: MultiPolygon
    surely: MultiPolygon
    expected_area: float
    unsurveyed_area: float
    from_readings: bool
    reaches_edge: bool


@remembered(256)
def field_of(survey: Survey, outline: Ring, shelf: Shelf) -> Field | None:
    """The field of a zone's survey, or None where no reading can be scored."""
    scores = scores_of(survey, shelf)
    if scores.x.size == 0:
        return None
    grid_x, grid_y = _grid(outline)
    prior = shelf.rule("field.prior")
    sites = _thinned(scores, outline)
    apart = _distances(sites[:, :2], sites[:, :2])
    spacing = _spacing(apart, outline)
    length = max((spacing * s for s in SPANS), key=lambda v: _likelihood(sites, apart, v, prior))
    places = np.stack(np.meshgrid(grid_x, grid_y), axis=-1).reshape(-1, 2)
    mean, deviation = _posterior(sites, apart, places, length, prior)
    chance = np.asarray(_phi((mean - shelf.rule("field.threshold")) / deviation), dtype=float)
    shape = (grid_y.size, grid_x.size)
    return Field(
        grid_x,
        grid_y,
        chance.reshape(shape),
        mean.reshape(shape),
        (deviation / prior).reshape(shape),
        length,
        len(sites),
    )


def _grid(outline: Ring) -> tuple[Floats, Floats]:
    points = np.array(outline)
    (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
    cell = sqrt((x1 - x0) * (y1 - y0) / CELLS)
    nx, ny = (int(min(400, max(9, round(side / cell)))) for side in (x1 - x0, y1 - y0))
    return np.linspace(x0, x1, nx), np.linspace(y0, y1, ny)


def _thinned(scores: Scores, outline: Ring) -> Floats:
    """Sites (n, 4): x, y, score, variance; readings that share a cell are averaged when there are too many."""
    table = np.column_stack([scores.x, scores.y, scores.score, scores.scatter**2])
    if len(table) <= MOST_SITES:
        return table
    cell = sqrt(polygon_of(outline).area / MOST_SITES)
    while True:
        keys = np.floor(table[:, :2] / cell).astype(int)
        _, inverse = np.unique(keys, axis=0, return_inverse=True)
        count = int(inverse.max()) + 1
        if count <= MOST_SITES:
            break
        cell *= 1.15
    weight = 1 / table[:, 3]
    total = np.bincount(inverse, weight, count)
    means = [np.bincount(inverse, weight * table[:, i], count) / total for i in range(3)]
    return np.column_stack([*means, 1 / total])


def _spacing(apart: Floats, outline: Ring) -> float:
    """Usual distance between neighbouring sites, m: median of nearest distances, within reason for the zone."""
    area = polygon_of(outline).area
    most = sqrt(area) / 4
    if len(apart) < 2:
        return most
    nearest = np.where(apart < 1e-6, np.inf, apart).min(axis=1)
    usual = float(np.median(nearest[np.isfinite(nearest)])) if np.isfinite(nearest).any() else most
    return min(max(usual, sqrt(area) / 60), most)


def _distances(a: Floats, b: Floats) -> Floats:
    # Not np.hypot, which takes five times as long; distances here are far from over- and underflow.
    dx, dy = a[:, None, 0] - b[None, :, 0], a[:, None, 1] - b[None, :, 1]
    dx *= dx
    dy *= dy
    dx += dy
    return np.asarray(np.sqrt(dx, out=dx))


def _covariance(apart: Floats, length: float, prior: float) -> Floats:
    scaled = apart * (sqrt(3.0) / length)
    made = np.exp(-scaled)
    scaled += 1
    made *= scaled
    made *= prior**2
    return np.asarray(made)


def _likelihood(sites: Floats, apart: Floats, length: float, prior: float) -> float:
    """Log marginal likelihood of the sites at a correlation length."""
    k = _covariance(apart, length, prior) + np.diag(sites[:, 3])
    lower = np.linalg.cholesky(k)
    half = np.linalg.solve(lower, sites[:, 2])
    return float(-0.5 * half @ half - np.log(np.diag(lower)).sum() - 0.5 * len(sites) * log(2 * np.pi))


def _posterior(sites: Floats, apart: Floats, places: Floats, length: float, prior: float) -> tuple[Floats, Floats]:
    k = _covariance(apart, length, prior) + np.diag(sites[:, 3])
    cross = _covariance(_distances(places, sites[:, :2]), length, prior)
    inverse = np.linalg.inv(k)
    mean = cross @ (inverse @ sites[:, 2])
    variance = prior**2 - np.einsum("ij,ij->i", cross @ inverse, cross)
    return mean, np.sqrt(np.maximum(variance, 1e-8))


@remembered(256)
def extent_of(survey: Survey, outline: Ring, shelf: Shelf) -> Extent:
    """The damaged region: as drawn by the user where they drew it, else from the readings at their confidence.

    A place belongs to it where damage cannot be ruled out and the readings lean to bad. Where it cannot be ruled out
    only for want of readings, the place counts as not surveyed.
    """
    zone = polygon_of(outline)
    field = field_of(survey, outline, shelf)
    if survey.drawn is not None:
        likely = clean(region_of(survey.drawn).intersection(zone))
        return Extent(likely, likely, likely.area, 0.0, False, _at_edge(likely, zone))
    if field is None:
        return Extent(MultiPolygon(), MultiPolygon(), 0.0, zone.area, True, False)
    confidence = survey.confidence.si
    lean = shelf.rule("field.lean") * shelf.rule("field.threshold")
    # Two smooth regions cut with each other, not one masked grid, whose edge would run in steps.
    suspect = _above(field, field.mean, lean, zone)
    likely, surely = (
        clean(_above(field, field.chance, level, zone).intersection(suspect)) for level in (1 - confidence, confidence)
    )
    inside = shapely.contains_xy(zone, *(a.ravel() for a in np.meshgrid(field.x, field.y))).reshape(field.chance.shape)
    cells = max(1, int(inside.sum()))
    unseen = inside & (field.mean < lean) & (field.chance >= 1 - confidence)
    expected = zone.area * float(field.chance[inside & ~unseen].sum()) / cells
    unseen_area = zone.area * float(unseen.sum()) / cells
    return Extent(likely, surely, expected, unseen_area, True, _at_edge(likely, zone))


def _above(field: Field, values: Floats, level: float, zone: Polygon) -> MultiPolygon:
    """The region of the zone where values on the field's grid are at least ``level``."""
    contours = contour_generator(field.x, field.y, values, fill_type=FillType.OuterOffset)
    points, offsets = contours.filled(level, np.inf)[:2]
    parts: list[Polygon] = []
    for xy, ends in zip(points, offsets, strict=True):
        if xy is None or ends is None:
            continue
        loops = [xy[a:b] for a, b in pairwise(ends)]
        part = Polygon(loops[0], loops[1:])
        parts.append(part if part.is_valid else part.buffer(0))
    if not parts:
        return MultiPolygon()
    return clean(shapely.union_all(parts).intersection(zone))


def _at_edge(region: MultiPolygon, zone: Polygon) -> bool:
    return not region.is_empty and region.distance(zone.exterior) < 1e-4
