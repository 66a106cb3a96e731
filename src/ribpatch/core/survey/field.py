"""Where the damage is: the chance of it at every place of a zone, from the readings and what is known of damage.

A Gaussian field stands behind the panel; where it is over zero the material is damaged. Before anything is read it is
over zero with the prior chance (more near what damage starts from), and alike over a length that nobody knows: several
lengths, round and drawn out along and across, are carried side by side, each with the weight that the readings give it.
The readings enter by their likelihoods, with what is wrong about them: slips, false highs, a listener who hears
everything duller, a meter that drifts. Beside the field stands the chance that the panel has no damage at all.

Worked out in passes: first as usual listeners and instruments read, then with what that shows of these ones and of the
kind of damage in each part. Source: [4], chapters 3 and 5; the prior's numbers are judgements and stand in the rules.
"""

from __future__ import annotations

from math import exp, log, sqrt
from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct

from ribpatch.core.memo import remembered
from ribpatch.core.normal import normal_cdf, normal_quantile
from ribpatch.core.survey.likelihood import STRANGE, levels_logs, listeners_of, spreads_of
from ribpatch.core.survey.propagation import RAMP, Fields, propagated
from ribpatch.core.survey.score import KINDS, Scores, scores_of
from ribpatch.core.survey.sites import Sites, sites_of
from ribpatch.core.survey.structure import Starts, pull_of

if TYPE_CHECKING:
    from numpy.typing import NDArray
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.geometry import Floats, Ring
    from ribpatch.core.job import Survey
    from ribpatch.core.materials.shelf import Shelf

CELLS = 1000  # of the picture of the field; it is smooth, and contours are interpolated between cells
BLOCK = 512  # places worked out at a time: thousands of them times hundreds of sites would not fit the cache
# Lengths along x and y over which damage is alike, m, and their weights before anything is read: patches of a hand, of
# two feet, of half a panel; fingers along a seam or a frame either way.
SCALES = ((0.1, 0.1), (0.2, 0.2), (0.4, 0.4), (0.6, 0.1), (0.1, 0.6))
WEIGHTS = (0.2, 0.3, 0.2, 0.15, 0.15)
ALL, USUAL = tuple(range(len(SCALES))), 1
LEVEL = 0.5  # deviation of the panel's own level of damage, over the field's 1
MOST_WEIGHED = 64  # places that the choice of length and of listener is made with
LEAST_WEIGHT = 0.25  # a length with less is left out
_USUAL_KINDS = np.array([0.5, 0.25, 0.25])  # wet, rotted, disbonded, where nothing tells them apart
SURELY_SOUND = 0.2  # chance of damage over which an instrument that says bad is not taken as fooled
ELSEWHERE = (0.01, 0.95)  # no place is surer than this from what was read elsewhere: material changes within a hand
_SOME_WRONG = 3.0  # readings that it takes to believe half of an instrument's being fooled round there
_SOME_OFFSET = 2.0  # readings on sound places that it takes to believe half of a meter's drift
_FAR = 30.0  # logarithm of odds that are as good as certain


class Field(Struct, frozen=True, eq=False):
    """Chance of damage on a grid: x (nx,), y (ny,) in m; chance, its log-odds and the doubt that is left, (ny, nx)."""

    x: Floats
    y: Floats
    chance: Floats
    odds: Floats
    doubt: Floats
    length: float
    sites: int


class Part(Struct, frozen=True, eq=False):
    """The field at one length: its scales (m), its weight, the weights of the sites (n,) and what they take off the
    variance (n, n).
    """

    scales: tuple[float, float]
    weight: float
    weights: Floats
    taken: Floats

    def at(self, places: Floats, sites: Floats) -> tuple[Floats, Floats]:
        """Mean over the prior's and variance of the field at places (m, 2)."""
        cross = covariance(places, sites, self.scales)
        left = 1 + LEVEL**2 - np.einsum("ij,ij->i", cross @ self.taken, cross)
        return cross @ self.weights, np.maximum(left, 1e-9)


class Posterior(Struct, frozen=True, eq=False):
    """What the readings make of a zone: places and their chances of each kind if damaged (n, 3), the parts of the
    field, its mean before anything is read, the chance that there is any damage, what damage starts from and its reach,
    and the listeners' and meters' own errors as they were found.
    """

    sites: Sites
    kinds: Floats
    parts: tuple[Part, ...]
    mean: float
    any_damage: float
    starts: Starts
    reach: float
    kind_reach: float
    logs: Floats  # of each place by state, with the errors taken into account (n, 4)
    others: Floats  # chance of damage at each place without what was read there (n,)
    here: Floats  # and with it (n,)
    drift: dict[str, float]  # by meter, in rises over the reference
    seen_at: Floats  # where plugs and cuts were, (s, 2)
    seen_chance: Floats  # of damage there, with all that was read (s,)
    seen_reach: float

    @property
    def length(self) -> float:
        """Length over which damage is alike, m: the lengths' mean by weight, of the root of both scales."""
        return sum(p.weight * sqrt(p.scales[0] * p.scales[1]) for p in self.parts)

    def at(self, places: Floats) -> tuple[Floats, Floats]:
        """Log-odds of damage, and doubt from 0 to 1 (as if unread), at places of shape (m, 2)."""
        chance, variance = np.zeros(len(places)), np.zeros(len(places))
        for start in range(0, len(places), BLOCK):
            block = slice(start, start + BLOCK)
            mean = self.mean + pull_of(self.starts, places[block], self.reach)
            for part in self.parts:
                over, left = part.at(places[block], self.sites.at)
                chance[block] += part.weight * normal_cdf((mean + over) / np.sqrt(left))
                variance[block] += part.weight * left
        chance = np.clip(self._as_seen(places, self.any_damage * chance), exp(-_FAR), 1 - 1e-12)
        return np.log(chance / (1 - chance)), np.sqrt(np.minimum(variance, 1.0))

    def _as_seen(self, places: Floats, chance: Floats) -> Floats:
        """The chance with what plugs and cuts showed at their own places: that outranks what lies round them."""
        if len(self.seen_at):
            apart = ((places[:, None] - self.seen_at[None]) ** 2).sum(axis=-1)
            near = np.exp(-0.5 * apart / self.seen_reach**2)
            best = near.argmax(axis=1)
            share = near[np.arange(len(places)), best]
            chance = chance + share * (self.seen_chance[best] - chance)
        return chance

    def chance_at(self, places: Floats) -> Floats:
        """Chance of damage at places of shape (m, 2)."""
        return np.asarray(1 / (1 + np.exp(-self.at(places)[0])))

    def kinds_at(self, places: Floats) -> Floats:
        """Chances of wet, rotted and disbonded where there is damage, at places of shape (m, 2)."""
        return _shares(places, self.sites.at, self.kinds, self.kind_reach)


@remembered(12)  # each holds a few matrices of up to a third of a megabyte
def posterior_of(survey: Survey, outline: Ring, shelf: Shelf, starts: Starts = ()) -> Posterior | None:
    """What a zone's readings say of it, or None where no reading can be scored."""
    scores = scores_of(survey, shelf)
    if scores.x.size == 0:
        return None
    return _Passes(scores, shelf, starts).posterior()


class _Found(Struct, frozen=True, eq=False):
    """What one pass finds: the fields at some lengths, their weights, the chance that there is any damage."""

    lengths: tuple[int, ...]
    fields: Fields
    weights: Floats
    any_damage: float

    def only(self, kept: NDArray[np.intp]) -> _Found:
        """With some of the lengths."""
        f = self.fields
        fields = Fields(f.weights[kept], f.taken[kept], f.others_mean[kept], f.others_variance[kept], f.evidence[kept])
        lengths = tuple(self.lengths[k] for k in kept.tolist())
        return _Found(lengths, fields, self.weights[kept] / self.weights[kept].sum(), self.any_damage)

    def parts(self) -> tuple[Part, ...]:
        """One part a length."""
        rows = zip(self.lengths, self.weights.tolist(), self.fields.weights, self.fields.taken, strict=True)
        return tuple(Part(SCALES[k], weight, weights, taken) for k, weight, weights, taken in rows)

    def others(self, passes: _Passes, some: NDArray[np.intp]) -> Floats:
        """Chance of damage at every place from what was read at the others; ``some`` are the places that were used."""
        at, f = passes.sites.at, self.fields
        chance = np.empty(len(at))
        chance[some] = self.weights @ normal_cdf(f.others_mean / np.sqrt(f.others_variance + RAMP))
        rest = np.setdiff1d(np.arange(len(at)), some, assume_unique=True)
        if rest.size:
            total = np.zeros(rest.size)
            for part in self.parts():
                mean, left = part.at(at[rest], at[some])
                total += part.weight * normal_cdf((passes.pulled[rest] + mean) / np.sqrt(left + RAMP))
            chance[rest] = total
        return self.any_damage * chance

    def here(self, passes: _Passes, some: NDArray[np.intp], logs: Floats) -> tuple[Floats, Floats]:
        """Chance of damage at every place with what was read there, and how far it is vouched for, 0 to 1."""
        at = passes.sites.at
        others = np.clip(self.others(passes, some), *ELSEWHERE)
        told = np.exp(logs - logs.max(axis=1, keepdims=True))
        bad = (passes.kinds * told[:, 1:]).sum(axis=1)
        chance = others * bad / (others * bad + (1 - others) * told[:, 0])
        left = np.zeros(len(at))
        for part in self.parts():
            left += part.weight * part.at(at, at[some])[1]
        return chance, np.clip(1 - left, 0.0, 1.0)


class _Passes:
    """The passes over one survey."""

    def __init__(self, scores: Scores, shelf: Shelf, starts: Starts) -> None:
        self.scores, self.shelf, self.starts = scores, shelf, starts
        self.sites = sites_of(scores, shelf)
        self.none = shelf.rule("damage.none")
        self.reach, self.kind_reach = shelf.rule("start.reach"), shelf.rule("kind.reach")
        self.mean = normal_quantile(shelf.rule("damage.prior")) * sqrt(1 + LEVEL**2)
        self.pulled = self.mean + pull_of(starts, self.sites.at, self.reach)
        self.kinds = np.tile(_USUAL_KINDS, (len(self.sites.at), 1))
        self.tables, self.usual = listeners_of(shelf)
        self.drift: dict[str, float] = {}

    def posterior(self) -> Posterior:
        some = _some(self.sites)
        prior = _priors(self.sites.at[some])
        usual = prior[USUAL : USUAL + 1]
        self._listen(some, usual)
        rows = self._discounted(self._as_usual(), some, usual)
        others = self._fields(usual, self.sites.together(rows), some, (USUAL,)).others(self, some)
        logs = self.sites.together(self._discounted(self._as_these(others), some, usual))
        self.kinds = self._kinds(others, logs)
        found = self._fields(prior, logs, some, ALL)
        kept = np.flatnonzero(found.weights >= min(LEAST_WEIGHT, float(found.weights.max())))
        if len(some) < len(self.sites.at):
            some = np.arange(len(self.sites.at))
            lengths = tuple(kept.tolist())
            found = self._fields(_priors(self.sites.at, lengths), logs, some, lengths)
        else:
            found = found.only(kept)
        others = found.others(self, some)
        chance, _ = found.here(self, some, logs)
        seen = np.bincount(self.sites.site, self.scores.rank, len(chance)) > 0
        return Posterior(
            self.sites,
            self._kinds(others, logs),
            found.parts(),
            self.mean,
            found.any_damage,
            self.starts,
            self.reach,
            self.kind_reach,
            logs,
            others,
            chance,
            self.drift,
            self.sites.at[seen],
            chance[seen],
            self.shelf.rule("plug.reach") / 2,
        )

    def _listen(self, some: NDArray[np.intp], usual: Floats) -> None:
        """Weigh the kinds of listener by how likely all readings are if everything was heard so."""
        word = self.scores.word
        taps = word >= 0
        if not taps.any():
            return
        told = []
        for table in self.tables:
            logs = self.scores.logs.copy()
            logs[taps] = np.log(table)[word[taps]]
            told.append(self.sites.together(logs)[some])
        logs = np.array(told)
        level = logs.max(axis=2, keepdims=True)
        each = np.exp(logs - level)
        bad, sound = (self.kinds[some] * each[..., 1:]).sum(axis=2), each[..., 0]
        fields = propagated(np.repeat(usual, len(logs), axis=0), self.pulled[some], bad, sound)
        base = level.sum(axis=(1, 2))
        with_damage = log(1 - self.none) + fields.evidence + base
        without = log(self.none) + np.log(sound).sum(axis=1) + base
        fit = np.log(self.usual) + np.logaddexp(with_damage, without)
        if not (self.scores.rank > 0).any():
            fit[STRANGE] = -np.inf  # only what was seen can show that a panel which sounds bad all over is sound
        weights = np.exp(fit - fit.max())
        self.usual = weights / weights.sum()

    def _as_usual(self) -> Floats:
        """Log-likelihoods (n, 4) of the readings as a listener of no known habit and a steady meter give them."""
        logs = self.scores.logs.copy()
        taps = self.scores.word >= 0
        logs[taps] = np.log(np.einsum("l,lws->ws", self.usual, self.tables))[self.scores.word[taps]]
        return logs

    def _as_these(self, others: Floats) -> Floats:
        """Log-likelihoods (n, 4) with what the readings show of their own listeners and meters.

        Each is judged by what the *other* readings say of the places it read, plugs above all.
        """
        made = self.scores.logs.copy()
        site, groups = self.sites.site, self.scores.groups
        states = np.column_stack([1 - others, others[:, None] * self.kinds])
        taps = self.scores.word >= 0
        for who in sorted({groups[g][2] for g in set(self.scores.group[taps].tolist())}):
            mine = taps & np.array([g[0] == "tap" and g[2] == who for g in groups])[self.scores.group]
            likely = np.log(np.einsum("lns,ns->ln", self.tables[:, self.scores.word[mine]], states[site[mine]]))
            fit = np.log(self.usual + 1e-300) + (likely * self.sites.weight[mine]).sum(axis=1)
            weight = np.exp(fit - fit.max())
            table = np.einsum("l,lws->ws", weight / weight.sum(), self.tables)
            made[mine] = np.log(table)[self.scores.word[mine]]
        self._steady(made, states[site])
        return made

    def _discounted(self, logs: Floats, some: NDArray[np.intp], usual: Floats) -> Floats:
        """Log-likelihoods with the wrong ones of a part of the panel taken for what they are.

        What fools an instrument fools it over a patch: a tank or metal behind the meter, thick putty under the hammer.
        Taps are held against what was seen in plugs and cuts round them, meters against plugs and taps. Where those
        call the material sound and the instrument calls it bad, its readings there could be anything.
        """
        seen = self.scores.rank > 0
        taps = self.scores.word >= 0
        meters = ~np.isnan(self.scores.level)
        made = self._wrong(logs, taps & ~seen, seen, some, usual)
        return self._wrong(made, meters & ~seen, seen | taps, some, usual)

    def _wrong(
        self, logs: Floats, judged: NDArray[np.bool_], by: NDArray[np.bool_], some: NDArray[np.intp], usual: Floats
    ) -> Floats:
        if not judged.any() or not by.any():
            return logs
        told = self.sites.together(np.where(by[:, None], logs, 0.0))
        found = self._fields(usual, told, some, (USUAL,), sure=True)
        chance, vouched = found.here(self, some, told)
        site = self.sites.site[judged]
        told_here = logs[judged]
        says_bad = told_here[:, 1:].max(axis=1) > told_here[:, 0]
        fooled = vouched[site] * np.clip(1 - chance[site] / SURELY_SOUND, 0.0, 1.0) * says_bad
        at = self.sites.at[site]
        near = np.exp(-0.5 * ((self.sites.at[:, None] - at[None]) ** 2).sum(axis=-1) / self.kind_reach**2)
        share = (near @ fooled) / (near @ (vouched[site] * says_bad) + _SOME_WRONG)
        wrong = share[site][:, None] * says_bad[:, None]
        level = told_here.max(axis=1, keepdims=True)
        made = logs.copy()
        made[judged] = np.log((1 - wrong) * np.exp(told_here - level) + wrong) + level
        return made

    def _steady(self, logs: Floats, states: Floats) -> None:
        """Take each meter's drift off its levels: what it reads on places that the other readings call dry."""
        for number, (kind, _, _) in enumerate(self.scores.groups):
            spread = spreads_of(self.shelf).get(kind)
            mine = (self.scores.group == number) & ~np.isnan(self.scores.level)
            if spread is None or not mine.any():
                continue
            level = self.scores.level[mine]
            weight = states[mine][:, spread.like_sound].sum(axis=1) * (np.abs(level) < 3 * spread.deviations[0])
            offset = float((weight * level).sum() / (weight.sum() + _SOME_OFFSET))
            logs[mine] = levels_logs(level - offset, spread)
            if abs(offset) > abs(self.drift.get(kind, 0.0)):
                self.drift[kind] = offset

    def _fields(
        self, prior: Floats, logs: Floats, some: NDArray[np.intp], lengths: tuple[int, ...], sure: bool = False
    ) -> _Found:
        """The fields of some places at some lengths, their weights, and the chance that there is any damage (``sure``:
        taken for certain).
        """
        told = np.exp(logs[some] - logs[some].max(axis=1, keepdims=True))
        bad, sound = (self.kinds[some] * told[:, 1:]).sum(axis=1), told[:, 0]
        fields = propagated(prior, self.pulled[some], bad, sound)
        usual = np.array([WEIGHTS[k] for k in lengths])
        fit = np.log(usual / usual.sum()) + fields.evidence
        most = float(fit.max())
        weights = np.exp(fit - most)
        damaged = log(1 - self.none) + most + log(float(weights.sum()))
        without = log(self.none) + float(np.log(sound).sum())
        any_damage = 1.0 if sure else 1 / (1 + exp(min(max(without - damaged, -_FAR), _FAR)))
        return _Found(lengths, fields, weights / weights.sum(), any_damage)

    def _kinds(self, others: Floats, logs: Floats) -> Floats:
        """Chances of each kind at each place if it is damaged, from the damage found round it, (n, 3)."""
        told = np.exp(logs - logs.max(axis=1, keepdims=True))
        each = others[:, None] * _USUAL_KINDS * told[:, 1:]
        found = each / (each.sum(axis=1, keepdims=True) + ((1 - others) * told[:, 0])[:, None] + 1e-300)
        return _shares(self.sites.at, self.sites.at, found, self.kind_reach)


def _shares(places: Floats, at: Floats, found: Floats, reach: float) -> Floats:
    """Shares of each kind among the damage found (n, 3) round places (m, 2), drawn to the usual ones."""
    apart = ((places[:, None] - at[None]) ** 2).sum(axis=-1)
    total = np.exp(-0.5 * apart / reach**2) @ found + _USUAL_KINDS
    return np.asarray(total / total.sum(axis=1, keepdims=True))


def covariance(places: Floats, others: Floats, scales: tuple[float, float]) -> Floats:
    """Covariance (n, m) of the field between places (n, 2) and (m, 2): Matern 3/2 on the scales, and the level's."""
    dx = (places[:, None, 0] - others[None, :, 0]) * (sqrt(3.0) / scales[0])
    dy = (places[:, None, 1] - others[None, :, 1]) * (sqrt(3.0) / scales[1])
    # Not np.hypot, which takes five times as long.
    dx *= dx
    dy *= dy
    dx += dy
    np.sqrt(dx, out=dx)
    made = np.exp(-dx)
    dx += 1
    made *= dx
    made += LEVEL**2
    return made


def _priors(at: Floats, lengths: tuple[int, ...] = ALL) -> Floats:
    """Covariances of places with each other at some lengths, (k, n, n)."""
    return np.stack([covariance(at, at, SCALES[k]) for k in lengths])


def _some(sites: Sites) -> NDArray[np.intp]:
    """The places that the choices are made with: all, or an even part of them, in the order of the cells."""
    count = len(sites.at)
    step = max(1, -(-count // MOST_WEIGHED))
    return np.arange(0, count, step)


@remembered(64)
def field_of(survey: Survey, outline: Ring, shelf: Shelf, starts: Starts = ()) -> Field | None:
    """The field of a zone's survey, or None where no reading can be scored."""
    made = posterior_of(survey, outline, shelf, starts)
    if made is None:
        return None
    grid_x, grid_y = grid_of(outline)
    odds, doubt = made.at(_nodes(grid_x, grid_y))
    shape = (grid_y.size, grid_x.size)
    odds = odds.reshape(shape)
    return Field(grid_x, grid_y, 1 / (1 + np.exp(-odds)), odds, doubt.reshape(shape), made.length, len(made.sites.at))


@remembered(64)
def kind_fields(survey: Survey, outline: Ring, shelf: Shelf, starts: Starts = ()) -> dict[str, Field]:
    """The field of each kind of damage; none where nothing was read."""
    made, whole = posterior_of(survey, outline, shelf, starts), field_of(survey, outline, shelf, starts)
    if made is None or whole is None:
        return {}
    shares = made.kinds_at(_nodes(whole.x, whole.y)).reshape(*whole.chance.shape, 3)
    found: dict[str, Field] = {}
    for number, kind in enumerate(KINDS):
        chance = np.clip(whole.chance * shares[..., number], 1e-12, 1 - 1e-12)
        odds = np.log(chance / (1 - chance))
        found[kind] = Field(whole.x, whole.y, chance, odds, whole.doubt, whole.length, whole.sites)
    return found


def _nodes(x: Floats, y: Floats) -> Floats:
    return np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)


def grid_of(outline: Ring, cells: int = CELLS) -> tuple[Floats, Floats]:
    """Grid over an outline's box: x (nx,), y (ny,) in m."""
    points = np.array(outline)
    (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
    cell = sqrt((x1 - x0) * (y1 - y0) / cells)
    nx, ny = (int(min(400, max(9, round(side / cell)))) for side in (x1 - x0, y1 - y0))
    return np.linspace(x0, x1, nx), np.linspace(y0, y1, ny)


def inside_of(x: Floats, y: Floats, zone: BaseGeometry) -> NDArray[np.bool_]:
    """Which nodes of a grid lie in a zone, (ny, nx)."""
    nodes = _nodes(x, y)
    return np.asarray(shapely.contains_xy(zone, nodes[:, 0], nodes[:, 1]).reshape(y.size, x.size))
