"""Where to test next, and with what: the places whose reading is expected to settle most.

In doubt is, at every place, half of the sum of: what may be damage at all, a chance over itself and ``SETTLED``; chance
of damage times chance of none; and what is left of the spread of the field over ``VOUCHED``, where nothing vouches for
the material. A reading comes out good or bad with known chances, each outcome moves the field round it, and the doubt
left is taken over both. So places that were not looked at come first, then what was left open, and borders after them:
by the chances alone tests crowd round what was found, and what was not found stays so. A test has its price, the time
that it takes; where a tap would settle little a plug may pay. Three places are chosen one after the other, each as if
those before had been read without surprise; the last goes where the largest hole is that no reading vouches for. The
chance that the panel is sound altogether is left out: nobody stops
looking because nothing was found yet. Source: [4], section 3.6; expected reduction as in [13].
"""

from __future__ import annotations

from math import sqrt
from typing import TYPE_CHECKING, Literal

import numpy as np
import shapely
from msgspec import Struct

from ribpatch.core.geometry import Floats, Point, Ring, polygon_of
from ribpatch.core.memo import remembered
from ribpatch.core.normal import normal_cdf
from ribpatch.core.survey.field import grid_of, posterior_of
from ribpatch.core.survey.likelihood import listeners_of, words_of
from ribpatch.core.survey.posterior import LEVEL, USUAL_KINDS, Posterior, covariance, nearest
from ribpatch.core.survey.propagation import matched
from ribpatch.core.survey.score import READ
from ribpatch.core.survey.structure import pull_of
from ribpatch.core.survey.vouched import vouched_by

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.job import Survey
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.survey.structure import Starts

CELLS, CANDIDATES = 220, 180
PLACES = 3
VOUCHED = 0.2  # of the variance before any reading: with more, what lies between readings is looked at too late
SETTLED = 0.1  # chance of damage at which a place is half settled
By = Literal["tap", "plug"]
Why = Literal["not looked at", "border", "doubtful"]


class NextTest(Struct, frozen=True):
    """A place to test: where (m), with what and why; the area in doubt now and how much of it a test there should
    settle, m2.
    """

    at: Point
    by: By
    why: Why
    doubt: float
    settles: float

    @property
    def share(self) -> float:
        """How much of the doubt it should settle, 0 to 1."""
        return self.settles / self.doubt


class Outcomes(Struct, frozen=True):
    """Likelihoods of a good and of a bad answer where the material is damaged and where it is sound."""

    bad: tuple[float, float]
    sound: tuple[float, float]


@remembered(128, survey=READ)
def next_tests(survey: Survey, outline: Ring, shelf: Shelf, starts: Starts = ()) -> tuple[NextTest, ...]:
    """The three places to test next, best first; none where nothing has been read or nothing is worth the time."""
    made = posterior_of(survey, outline, shelf, starts)
    return () if made is None else best_places(made, outline, shelf, PLACES)


@remembered(4)
def outcomes_of(shelf: Shelf) -> dict[By, Outcomes]:
    """What a tap and a plug answer: words on the side of sound, and the rest."""
    tables, weights = listeners_of(shelf)
    heard = np.einsum("l,lws->ws", weights, tables)
    words = words_of(shelf)
    good = heard[heard[:, 0] > heard[:, 1:] @ USUAL_KINDS]
    tap = good.sum(axis=0)
    dry, firm, whole = (np.exp(words["plug", w]) for w in ("dry", "firm", "whole"))
    plug = dry * firm * (whole + np.exp(words["plug", "torn"]))
    found: dict[By, Outcomes] = {}
    for name, table in (("tap", tap), ("plug", plug)):
        bad = float(table[1:] @ USUAL_KINDS)
        found["tap" if name == "tap" else "plug"] = Outcomes((bad, 1 - bad), (float(table[0]), 1 - float(table[0])))
    return found


class _State(Struct):
    """The likeliest field at cells, then candidates: mean, variance (n + m,), covariance with candidates (n + m, m)."""

    mean: Floats
    variance: Floats
    shared: Floats
    cells: int


def best_places(made: Posterior, outline: Ring, shelf: Shelf, count: int) -> tuple[NextTest, ...]:
    """The ``count`` best places, greedily."""
    zone = polygon_of(outline)
    cells, places = _inside(grid_of(outline, CELLS), zone), _candidates(outline)
    if len(cells) == 0 or len(places) == 0:
        return ()
    area, answers = zone.area / len(cells), outcomes_of(shelf)
    state = _state(made, cells, places)
    worth, vouched = shelf.rule("test.worth"), vouched_by(made.sites, shelf)
    price: dict[By, float] = {"tap": shelf.rule("test.tap") * worth, "plug": shelf.rule("test.plug") * worth}
    free = np.ones(len(places), dtype=bool)
    found: list[NextTest] = []
    for _ in range(count):
        now = float(_doubt(state.mean[: state.cells], state.variance[: state.cells]).sum())
        saved = np.where(free, now - _after(state, answers["tap"]), -np.inf)
        best = int(np.argmax(saved))
        if count > 1 and len(found) == count - 1:
            best = _in_hole(made, places, found, free, shelf.rule("survey.vouches"), best)
        at = (float(places[best, 0]), float(places[best, 1]))
        looked = bool(shapely.contains_xy(vouched, *at))
        why: Why = "not looked at" if not looked else "border" if _between(state, best) else "doubtful"
        tap, plug = float(saved[best]) * area, (now - float(_after(state, answers["plug"], best)[0])) * area
        # Where nobody looked a tap comes first, whatever a plug would settle.
        by: By = "plug" if looked and plug - price["plug"] > max(tap - price["tap"], 0.0) else "tap"
        settles = plug if by == "plug" else tap
        if settles <= price[by]:
            break
        found.append(NextTest(at, by, why, now * area, min(settles, now * area)))
        free &= ((places - places[best]) ** 2).sum(axis=1) > (0.5 * made.length) ** 2
        _as_read(state, best, answers[by])
    return tuple(found)


def _in_hole(
    made: Posterior, places: Floats, found: list[NextTest], free: NDArray[np.bool_], reach: float, best: int
) -> int:
    """The candidate that lies furthest from all that was read or is to be, where no reading vouches for it; else
    ``best``.
    """
    away = np.where(free, nearest(places, np.concatenate([made.sites.at, np.array([t.at for t in found])])), 0.0)
    return int(np.argmax(away)) if away.max() > reach else best


def _state(made: Posterior, cells: Floats, places: Floats) -> _State:
    part = max(made.parts, key=lambda p: p.weight)
    both = np.concatenate([cells, places])
    cross = covariance(both, made.sites.at, part.scales)
    known = cross @ part.taken
    mean = made.mean + pull_of(made.starts, both, made.reach) + cross @ part.weights
    variance = np.maximum(1 + LEVEL**2 - np.einsum("ij,ij->i", known, cross), 1e-6)
    shared = covariance(both, places, part.scales) - known @ cross[len(cells) :].T
    # Single precision: what follows only ranks places, cells times candidates at a time.
    return _State(mean.astype(np.float32), variance.astype(np.float32), shared.astype(np.float32), len(cells))


def _doubt(mean: Floats, variance: Floats) -> Floats:
    """Doubt where the field has this mean and variance, shares of the area."""
    chance = normal_cdf(mean / np.sqrt(variance))
    open_ = chance / (chance + SETTLED)
    return np.asarray(0.5 * (open_ + chance * (1 - chance) + np.maximum(variance - VOUCHED, 0.0)))


def _after(state: _State, answers: Outcomes, only: int | None = None) -> Floats:
    """Doubt left after a test at each candidate, or at one, expected over its answers, (m,) or (1,)."""
    n, pick = state.cells, slice(None) if only is None else slice(only, only + 1)
    at, own = state.mean[n:][pick], state.variance[n:][pick]
    gain = state.shared[:n, pick] / own
    total = np.zeros(len(at))
    for bad, sound in zip(answers.bad, answers.sound, strict=True):
        chance, mean, variance = matched(at, own, bad, sound)
        moved = state.mean[:n, None] + gain * (mean - at)
        left = np.maximum(state.variance[:n, None] + gain**2 * (variance - own), 1e-6)
        total += chance * _doubt(moved, left).sum(axis=0)
    return total


def _between(state: _State, place: int) -> bool:
    """Whether a candidate lies between what is likely bad and what is likely sound."""
    near = np.abs(state.shared[: state.cells, place]) > 0.25 * state.variance[state.cells + place]
    means = state.mean[: state.cells][near]
    return bool(means.size and means.max() > 0 > means.min())


def _as_read(state: _State, place: int, answers: Outcomes) -> None:
    """The state as if the place had been read without surprise: means stay, the spread shrinks as is expected."""
    n = state.cells
    at, own = state.mean[n + place : n + place + 1], state.variance[n + place : n + place + 1]
    left = 0.0
    for bad, sound in zip(answers.bad, answers.sound, strict=True):
        chance, _, variance = matched(at, own, bad, sound)
        left += float(chance[0] * variance[0])
    shrink = max(float(own[0]) - left, 0.0)
    column = state.shared[:, place] / float(own[0])
    state.variance = np.maximum(state.variance - column**2 * shrink, 1e-6)
    state.shared = state.shared - np.outer(column, column[n:]) * shrink


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
