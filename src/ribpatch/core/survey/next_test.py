"""Where to test next: the places whose reading is expected to take most away from the area in doubt.

The area in doubt is the sum over cells of area times the smaller of chance and one less chance: what a cut along the
even odds would be expected to get wrong. A reading at a place would move the score elsewhere in a known spread of ways;
the expected doubt after it is taken over that spread with three Gauss-Hermite points. The three places are chosen one
after the other, each as if those before had been read without surprise. Source: [4], expected reduction as in [13].
"""

from __future__ import annotations

from math import sqrt
from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct

from ribpatch.core.geometry import Floats, Point, Ring, polygon_of
from ribpatch.core.memo import remembered
from ribpatch.core.normal import NODES, normal_cdf
from ribpatch.core.survey.field import Posterior, covariance, distances, grid_of, posterior_of

if TYPE_CHECKING:
    from ribpatch.core.job import Survey
    from ribpatch.core.materials.shelf import Shelf

CELLS, CANDIDATES = 360, 180
PLACES = 3


class NextTest(Struct, frozen=True):
    """A place to test: where (m), the area in doubt now (m2), and how much of it a reading there should settle (m2)."""

    at: Point
    doubt: float
    settles: float


@remembered(128)
def next_tests(survey: Survey, outline: Ring, shelf: Shelf) -> tuple[NextTest, ...]:
    """The three places to test next, best first; none where nothing has been read or nothing is in doubt."""
    made = posterior_of(survey, outline, shelf)
    if made is None:
        return ()
    noise = shelf.rule("tap.noise") ** 2
    return best_places(made, outline, shelf.rule("field.threshold"), noise, PLACES)


def best_places(made: Posterior, outline: Ring, threshold: float, noise: float, count: int) -> tuple[NextTest, ...]:
    """The ``count`` best places, greedily; ``noise`` is the variance of the reading to come."""
    zone = polygon_of(outline)
    cells = _inside(grid_of(outline, CELLS), zone)
    places = _candidates(outline)
    if len(cells) == 0 or len(places) == 0:
        return ()
    area, first = zone.area / len(cells), len(cells)
    both = np.concatenate([cells, places])
    cross = covariance(distances(both, made.sites.at), made.length, made.prior)
    known = cross @ made.inverse
    mean = cross @ made.weights
    own = np.maximum(made.prior**2 - np.einsum("ij,ij->i", known, cross), 1e-8)
    # Posterior covariance of the candidates with every cell and candidate.
    shared = covariance(distances(both, places), made.length, made.prior) - known @ cross[first:].T
    found: list[NextTest] = []
    free = np.ones(len(places), dtype=bool)
    for _ in range(count):
        doubt, after = _doubts(mean[:first], own[:first], shared, threshold, noise)
        gain = np.where(free, doubt - after, -np.inf)
        best = int(np.argmax(gain))
        if gain[best] <= 1e-4 * first:
            break
        found.append(
            NextTest((float(places[best, 0]), float(places[best, 1])), float(doubt) * area, float(gain[best]) * area)
        )
        near = distances(places, places[best : best + 1])[:, 0] < 0.5 * made.length
        free &= ~near
        # As if it had been read without surprise: the mean stays, the spread shrinks.
        column = shared[:, best] / (own[first + best] + noise)
        own = np.maximum(own - shared[:, best] * column, 1e-8)
        shared = shared - np.outer(column, shared[first:, best])
    return tuple(found)


def _doubts(mean: Floats, variance: Floats, shared: Floats, threshold: float, noise: float) -> tuple[float, Floats]:
    """Cells' doubt summed, now and as expected after a reading at each candidate, shape (candidates,)."""
    cells = len(mean)
    now = normal_cdf(-np.abs((mean - threshold) / np.sqrt(variance))).sum()
    own = np.diagonal(shared[cells:])
    gain = shared[:cells] / np.sqrt(np.maximum(own, 1e-8) + noise)  # move of the mean for one deviation of the reading
    left = np.sqrt(np.maximum(variance[:, None] - gain**2, 1e-8))
    after = np.zeros(shared.shape[1])
    for node, weight in NODES:
        z = (mean[:, None] + node * gain - threshold) / left
        after += weight * normal_cdf(-np.abs(z)).sum(axis=0)
    return float(now), after


def _inside(grid: tuple[Floats, Floats], zone: shapely.Polygon) -> Floats:
    places = np.stack(np.meshgrid(*grid), axis=-1).reshape(-1, 2)
    return np.asarray(places[shapely.contains_xy(zone, places[:, 0], places[:, 1])])


def _candidates(outline: Ring) -> Floats:
    """Places that could be tested: a grid over the zone, a little in from its edge."""
    zone = polygon_of(outline)
    inner = zone.buffer(-0.02 * sqrt(zone.area))
    places = _inside(
        grid_of(outline, CANDIDATES), inner if isinstance(inner, shapely.Polygon) and not inner.is_empty else zone
    )
    return np.round(places, 3)
