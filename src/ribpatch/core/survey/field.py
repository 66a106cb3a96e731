"""Where the damage is: a Gaussian process over the scored readings of one zone.

The damage score is a Gaussian process with mean 0 (sound) and a Matern 3/2 covariance; its length is the one of a few
multiples of the readings' spacing that has the highest marginal likelihood. The chance of damage at a place is the
posterior chance that the score there exceeds the threshold. Readings closer together than a fraction of that spacing
are averaged, so that the work stays bounded. Source: [4].
"""

from __future__ import annotations

from math import log, sqrt
from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct
from shapely.geometry import MultiPolygon, Polygon

from ribpatch.core.geometry import Floats, Ring, clean, polygon_of, polygons, region_above, region_of
from ribpatch.core.memo import remembered
from ribpatch.core.normal import normal_cdf
from ribpatch.core.series import grouped, median
from ribpatch.core.survey.refine import FEW_CELLS, FINER, FINEST, finer, passed
from ribpatch.core.survey.score import KINDS, Scores, scores_of

if TYPE_CHECKING:
    from numpy.typing import NDArray
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.job import Survey
    from ribpatch.core.materials.shelf import Shelf

CELLS = 1000  # of the picture of the field; it is smooth, and contours are interpolated between cells
BLOCK = 512  # places worked out at a time: thousands of them times hundreds of sites would not fit the cache
MOST_SITES = 256  # distinct places that enter the algebra
MOST_WEIGHED = 128  # of them that the choice of length is made with
# Correlation length over spacing. Longer ones fit smooth fields better, but rot has an edge: in simulated panels they
# hid a quarter of it.
SPANS = (1.0, 1.5, 2.2)


class Field(Struct, frozen=True, eq=False):
    """Chance of damage on a grid: x (nx,), y (ny,) in m; chance, mean score, doubt over the prior's, each (ny, nx)."""

    x: Floats
    y: Floats
    chance: Floats
    mean: Floats
    doubt: Floats
    length: float
    sites: int


class Extent(Struct, frozen=True, eq=False):
    """The damaged region in m: likely (all that cannot be ruled out), surely (all that is nearly certain)."""

    likely: MultiPolygon
    surely: MultiPolygon
    expected_area: float
    unsurveyed_area: float
    from_readings: bool
    reaches_edge: bool


class Sites(Struct, frozen=True, eq=False):
    """What enters the algebra, each of shape (n,): place (n, 2) in m, score, variance, group of common error, its
    variance.
    """

    at: Floats
    score: Floats
    variance: Floats
    group: Floats
    common: Floats

    def noise(self) -> Floats:
        """Covariance of the readings' errors, shape (n, n): each its own, and one shared by all of an instrument's
        session.
        """
        shared = (self.group[:, None] == self.group[None, :]) * self.common[:, None]
        shared.flat[:: len(shared) + 1] += self.variance
        return np.asarray(shared)


class Posterior(Struct, frozen=True, eq=False):
    """The Gaussian process given the sites: inverse covariance (n, n) and weights (n,), length in m, prior
    deviation.
    """

    sites: Sites
    inverse: Floats
    weights: Floats
    length: float
    prior: float

    def at(self, places: Floats) -> tuple[Floats, Floats]:
        """Mean and deviation of the score at places of shape (m, 2)."""
        mean, deviation = np.empty(len(places)), np.empty(len(places))
        for start in range(0, len(places), BLOCK):
            part = slice(start, start + BLOCK)
            cross = covariance(distances(places[part], self.sites.at), self.length, self.prior)
            variance = self.prior**2 - np.einsum("ij,ij->i", cross @ self.inverse, cross)
            mean[part], deviation[part] = cross @ self.weights, np.sqrt(np.maximum(variance, 1e-8))
        return mean, deviation


@remembered(12)  # each holds a matrix of up to a megabyte
def posterior_of(survey: Survey, outline: Ring, shelf: Shelf) -> Posterior | None:
    """The Gaussian process of a zone's survey, or None where no reading can be scored."""
    scores = scores_of(survey, shelf)
    if scores.x.size == 0:
        return None
    sites = thinned(scores, scores.score, outline)
    return _fitted(sites, outline, shelf.rule("field.prior"))


def _fitted(sites: Sites, outline: Ring, prior: float, length: float | None = None) -> Posterior:
    apart = distances(sites.at, sites.at)
    noise = sites.noise()
    if length is None:
        spacing = _spacing(apart, outline)
        some = _some(sites)
        part = (sites.score[some], apart[np.ix_(some, some)], noise[np.ix_(some, some)])
        length = max((spacing * s for s in SPANS), key=lambda v: _likelihood(*part, v, prior))
    inverse = np.asarray(np.linalg.inv(covariance(apart, length, prior) + noise))
    return Posterior(sites, inverse, inverse @ sites.score, length, prior)


@remembered(64)
def field_of(survey: Survey, outline: Ring, shelf: Shelf) -> Field | None:
    """The field of a zone's survey, or None where no reading can be scored."""
    made = posterior_of(survey, outline, shelf)
    return None if made is None else _field(made, outline, shelf.rule("field.threshold"))


def _field(made: Posterior, outline: Ring, threshold: float) -> Field:
    grid_x, grid_y = grid_of(outline)
    places = np.stack(np.meshgrid(grid_x, grid_y), axis=-1).reshape(-1, 2)
    mean, deviation = made.at(places)
    shape = (grid_y.size, grid_x.size)
    chance = normal_cdf((mean - threshold) / deviation)
    return Field(
        grid_x,
        grid_y,
        chance.reshape(shape),
        mean.reshape(shape),
        (deviation / made.prior).reshape(shape),
        made.length,
        len(made.sites.score),
    )


@remembered(128)
def kind_fields(survey: Survey, outline: Ring, shelf: Shelf) -> dict[str, Field]:
    """The field of each kind of damage that some reading speaks of: wet, rotted, disbonded. Where none does, none is
    made.
    """
    whole = posterior_of(survey, outline, shelf)
    if whole is None:
        return {}
    scores = scores_of(survey, shelf)
    found: dict[str, Field] = {}
    for number, kind in enumerate(KINDS):
        says = ~np.isnan(scores.kinds[:, number])
        if says.any():
            sites = thinned(scores, scores.kinds[:, number], outline, says)
            made = _fitted(sites, outline, whole.prior, whole.length)
            found[kind] = _field(made, outline, shelf.rule("field.threshold"))
    return found


def grid_of(outline: Ring, cells: int = CELLS) -> tuple[Floats, Floats]:
    """Grid over an outline's box: x (nx,), y (ny,) in m."""
    points = np.array(outline)
    (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
    cell = sqrt((x1 - x0) * (y1 - y0) / cells)
    nx, ny = (int(min(400, max(9, round(side / cell)))) for side in (x1 - x0, y1 - y0))
    return np.linspace(x0, x1, nx), np.linspace(y0, y1, ny)


def thinned(scores: Scores, values: Floats, outline: Ring, keep: Floats | None = None) -> Sites:
    """Sites of the scored readings; like readings that share a cell are averaged when there are too many."""
    table = np.column_stack([scores.x, scores.y, values, scores.scatter**2, scores.group, scores.bias**2])
    if keep is not None:
        table = table[keep]
    if len(table) > MOST_SITES:
        table = _averaged(table, sqrt(polygon_of(outline).area / MOST_SITES))
    return Sites(table[:, :2], table[:, 2], table[:, 3], table[:, 4], table[:, 5])


def _averaged(table: Floats, cell: float) -> Floats:
    while True:
        x, y = (np.floor(table[:, i] / cell).astype(np.int64) + 2**20 for i in (0, 1))
        # One whole number a row: sorting rows takes ten times as long.
        keys = (x * 2**21 + y) * 2**20 + table[:, 4].astype(np.int64)
        first, inverse = grouped(keys)
        if first.size <= MOST_SITES:
            break
        cell *= 1.15
    weight = 1 / table[:, 3]
    total = np.bincount(inverse, weight, first.size)
    means = [np.bincount(inverse, weight * table[:, i], first.size) / total for i in range(3)]
    return np.column_stack([*means, 1 / total, table[first, 4:]])


def _spacing(apart: Floats, outline: Ring) -> float:
    """Usual distance between neighbouring sites, m: median of nearest distances, within reason for the zone."""
    area = polygon_of(outline).area
    most = sqrt(area) / 4
    if len(apart) < 2:
        return most
    nearest = np.where(apart < 1e-6, np.inf, apart).min(axis=1)
    usual = median(nearest[np.isfinite(nearest)]) if np.isfinite(nearest).any() else most
    return min(max(usual, sqrt(area) / 60), most)


def distances(a: Floats, b: Floats) -> Floats:
    """Distances (n, m) in m between places (n, 2) and (m, 2)."""
    # Not np.hypot, which takes five times as long; distances here are far from over- and underflow.
    dx, dy = a[:, None, 0] - b[None, :, 0], a[:, None, 1] - b[None, :, 1]
    dx *= dx
    dy *= dy
    dx += dy
    return np.asarray(np.sqrt(dx, out=dx))


def covariance(apart: Floats, length: float, prior: float) -> Floats:
    """Matern 3/2 covariance at distances in m."""
    scaled = apart * (sqrt(3.0) / length)
    made = np.exp(-scaled)
    scaled += 1
    made *= scaled
    made *= prior**2
    return np.asarray(made)


def _some(sites: Sites) -> NDArray[np.intp]:
    """The sites that the length is chosen with: all, or an even part of them in an order that entry does not change."""
    order = np.lexsort((sites.score, sites.group, sites.at[:, 1], sites.at[:, 0]))
    return order[:: max(1, -(-len(order) // MOST_WEIGHED))]


def _likelihood(score: Floats, apart: Floats, noise: Floats, length: float, prior: float) -> float:
    """Log marginal likelihood of scores at sites so far apart at a correlation length."""
    lower = np.linalg.cholesky(covariance(apart, length, prior) + noise)
    half = np.linalg.solve(lower, score)
    return float(-0.5 * half @ half - np.log(np.diag(lower)).sum() - 0.5 * len(score) * log(2 * np.pi))


@remembered(96)
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
    confidence, threshold = survey.confidence.si, shelf.rule("field.threshold")
    lean = shelf.rule("field.lean") * threshold
    likely, surely = _regions((field.x, field.y, field.mean, field.chance), confidence, lean, zone)
    made = posterior_of(survey, outline, shelf)
    if made is not None and not likely.is_empty:
        cells = passed(field.x, field.y, likely.boundary, zone) | passed(field.x, field.y, surely.boundary, zone)
        few = FEW_CELLS * (field.x[1] - field.x[0]) * (field.y[1] - field.y[0])
        small = likely.area < few or 0 < surely.area < few
        coarse = (field.mean, field.doubt * made.prior)
        x, y, mean, deviation = finer(field.x, field.y, coarse, cells, made.at, FINEST if small else FINER)
        likely, surely = _regions((x, y, mean, normal_cdf((mean - threshold) / deviation)), confidence, lean, zone)
    inside = shapely.contains_xy(zone, *(a.ravel() for a in np.meshgrid(field.x, field.y))).reshape(field.chance.shape)
    count = max(1, int(inside.sum()))
    unseen = inside & (field.mean < lean) & (field.chance >= 1 - confidence)
    expected = zone.area * float(field.chance[inside & ~unseen].sum()) / count
    unseen_area = zone.area * float(unseen.sum()) / count
    return Extent(likely, surely, expected, unseen_area, True, _at_edge(likely, zone))


def _regions(
    grid: tuple[Floats, Floats, Floats, Floats], confidence: float, lean: float, zone: Polygon
) -> tuple[MultiPolygon, MultiPolygon]:
    """The likely and the sure region on a grid of x, y, mean and chance.

    Two smooth regions cut with each other, not one masked grid, whose edge would run in steps.
    """
    x, y, mean, chance = grid
    suspect = region_above(x, y, mean, lean).intersection(zone)
    likely, surely = (
        clean(region_above(x, y, chance, level).intersection(suspect)) for level in (1 - confidence, confidence)
    )
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
