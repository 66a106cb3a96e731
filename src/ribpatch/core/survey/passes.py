"""The passes in which a survey's readings are made into a posterior.

First as usual listeners and instruments read, then with what that shows of these ones and of the kind of damage in each
part. Lengths are weighed on a part of the places where there are many; what has weight is then worked out on all.
Source: [4], chapters 3 and 5; the prior's numbers are judgements and stand in the rules.
"""

from __future__ import annotations

from math import exp, log, sqrt
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.normal import normal_cdf, normal_quantile
from ribpatch.core.survey.likelihood import STRANGE, levels_logs, listeners_of, spreads_of
from ribpatch.core.survey.posterior import (
    FAR,
    LEVEL,
    USUAL_KINDS,
    Part,
    Posterior,
    bad_and_sound,
    covariance,
    shares_of,
    squared,
)
from ribpatch.core.survey.propagation import RAMP, ROUGHLY, SETTLED, Fields, Terms, propagated, terms_at
from ribpatch.core.survey.sites import Sites, sites_of
from ribpatch.core.survey.structure import Starts, pull_of

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.geometry import Floats
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.survey.score import Scores

# Lengths along x and y over which damage is alike, m, and their weights before anything is read: patches of a hand, of
# two feet, of half a panel; fingers along a seam or a frame either way.
SCALES = ((0.1, 0.1), (0.2, 0.2), (0.4, 0.4), (0.6, 0.1), (0.1, 0.6))
WEIGHTS = (0.2, 0.3, 0.2, 0.15, 0.15)
ALL, USUAL = tuple(range(len(SCALES))), 1
MOST_WEIGHED = 64  # places that the choice of length and of listener is made with
LEAST_WEIGHT = 0.25  # a length with less is left out
SURELY_SOUND = 0.2  # chance of damage over which an instrument that says bad is not taken as fooled
ELSEWHERE = (0.01, 0.95)  # no place is surer than this from what was read elsewhere: material changes within a hand
_SOME_WRONG = 3.0  # readings that it takes to believe half of an instrument's being fooled round there
_SOME_OFFSET = 2.0  # readings on sound places that it takes to believe half of a meter's drift


class _Found(Struct, frozen=True, eq=False):
    """What one pass finds: the fields at some lengths, their weights, the chance that there is any damage."""

    lengths: tuple[int, ...]
    fields: Fields
    weights: Floats
    any_damage: float

    def only(self, kept: NDArray[np.intp]) -> _Found:
        """With some of the lengths."""
        fields = self.fields.only(kept)
        lengths = tuple(self.lengths[k] for k in kept.tolist())
        return _Found(lengths, fields, self.weights[kept] / self.weights[kept].sum(), self.any_damage)

    def parts(self) -> tuple[Part, ...]:
        """One part a length."""
        rows = zip(self.lengths, self.weights.tolist(), self.fields.weights, self.fields.taken, strict=True)
        return tuple(Part(SCALES[k], weight, weights, taken) for k, weight, weights, taken in rows)

    def others(self, passes: Passes, some: NDArray[np.intp]) -> Floats:
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

    def begun(self, passes: Passes, some: NDArray[np.intp], logs: Floats) -> Terms:
        """Terms of all places to begin with: those found, and at the others what is to be expected from them."""
        at = passes.sites.at
        rest = np.setdiff1d(np.arange(len(at)), some, assume_unique=True)
        expected = [part.at(at[rest], at[some]) for part in self.parts()]
        mean, left = (np.stack(values) for values in zip(*expected, strict=True))
        bad, sound = bad_and_sound(passes.kinds[rest], logs[rest])
        theirs = terms_at(mean, left, passes.pulled[rest], bad, sound)
        return self.fields.terms.with_others(some, rest, theirs)

    def here(self, passes: Passes, some: NDArray[np.intp], logs: Floats) -> tuple[Floats, Floats]:
        """Chance of damage at every place with what was read there, and how far it is vouched for, 0 to 1."""
        at = passes.sites.at
        others = np.clip(self.others(passes, some), *ELSEWHERE)
        bad, sound = bad_and_sound(passes.kinds, logs)
        chance = others * bad / (others * bad + (1 - others) * sound)
        left = np.zeros(len(at))
        for part in self.parts():
            left += part.weight * part.at(at, at[some])[1]
        return chance, np.clip(1 - left, 0.0, 1.0)


class Passes:
    """The passes over one survey."""

    def __init__(self, scores: Scores, shelf: Shelf, starts: Starts) -> None:
        self.scores, self.shelf, self.starts = scores, shelf, starts
        self.sites = sites_of(scores, shelf)
        self.none = shelf.rule("damage.none")
        self.reach, self.kind_reach = shelf.rule("start.reach"), shelf.rule("kind.reach")
        self.mean = normal_quantile(shelf.rule("damage.prior")) * sqrt(1 + LEVEL**2)
        self.pulled = self.mean + pull_of(starts, self.sites.at, self.reach)
        self.kinds = np.tile(USUAL_KINDS, (len(self.sites.at), 1))
        self.tables, self.usual = listeners_of(shelf)
        self.drift: dict[str, float] = {}

    def posterior(self) -> Posterior:
        """What all readings make of the zone."""
        some = _some(self.sites)
        prior = _priors(self.sites.at[some])
        usual = prior[USUAL : USUAL + 1]
        self._listen(some, usual)
        rows, fooled = self._as_usual(), np.zeros(len(self.scores.logs))
        for judged, by in self._held_against():
            fooled[judged] = self._fooled(discounted(rows, fooled), judged, by, some, usual)
        first = self._fields(usual, self.sites.together(discounted(rows, fooled)), some, (USUAL,))
        others = first.others(self, some)
        logs = self.sites.together(discounted(self._as_these(others), fooled))
        self.kinds = self._kinds(others, logs)
        whole = len(some) == len(self.sites.at)
        found = self._fields(prior, logs, some, ALL, near=first.fields.terms, last=whole)
        found = found.only(np.flatnonzero(found.weights >= min(LEAST_WEIGHT, float(found.weights.max()))))
        if not whole:
            near = found.begun(self, some, logs)
            some = np.arange(len(self.sites.at))
            found = self._fields(_priors(self.sites.at, found.lengths), logs, some, found.lengths, near=near, last=True)
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
        bad, sound = bad_and_sound(self.kinds[some], logs)
        fields = propagated(np.repeat(usual, len(logs), axis=0), self.pulled[some], bad, sound, settled=ROUGHLY)
        base = logs.max(axis=2).sum(axis=1)
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

    def _held_against(self) -> list[tuple[NDArray[np.bool_], NDArray[np.bool_]]]:
        """Which readings are held against which: taps against what was seen in plugs and cuts, meters against both."""
        seen, taps, meters = self.scores.rank > 0, self.scores.word >= 0, ~np.isnan(self.scores.level)
        pairs = [(taps & ~seen, seen), (meters & ~seen, seen | taps)]
        return [(judged, by) for judged, by in pairs if judged.any() and by.any()]

    def _fooled(
        self, logs: Floats, judged: NDArray[np.bool_], by: NDArray[np.bool_], some: NDArray[np.intp], usual: Floats
    ) -> Floats:
        """Chance that each reading judged is fooled, where it says bad.

        What fools an instrument fools it over a patch: a tank or metal behind the meter, thick putty under the hammer.
        So it takes several that say bad where those that they are held against call the material sound.
        """
        others = self.sites.together(np.where(by[:, None], logs, 0.0))
        found = self._fields(usual, others, some, (USUAL,), sure=True)
        chance, vouched = found.here(self, some, others)
        site, own = self.sites.site[judged], logs[judged]
        says_bad = own[:, 1:].max(axis=1) > own[:, 0]
        fooled = vouched[site] * np.clip(1 - chance[site] / SURELY_SOUND, 0.0, 1.0) * says_bad
        at = self.sites.at
        near = np.exp(-0.5 * squared(at, at) / self.kind_reach**2)
        told, all_told = (near @ np.bincount(site, w, len(at)) for w in (fooled, vouched[site] * says_bad))
        share = told / (all_told + _SOME_WRONG)
        return np.asarray(share[site] * says_bad)

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
        self,
        prior: Floats,
        logs: Floats,
        some: NDArray[np.intp],
        lengths: tuple[int, ...],
        *,
        sure: bool = False,
        near: Terms | None = None,
        last: bool = False,
    ) -> _Found:
        """The fields of some places at some lengths, their weights, and the chance that there is any damage (``sure``:
        taken for certain). ``near``: terms of much the same readings, to begin with. What only leads to the ``last``
        ones is worked out roughly.
        """
        bad, sound = bad_and_sound(self.kinds[some], logs[some])
        fields = propagated(prior, self.pulled[some], bad, sound, near, SETTLED if last else ROUGHLY)
        usual = np.array([WEIGHTS[k] for k in lengths])
        fit = np.log(usual / usual.sum()) + fields.evidence
        most = float(fit.max())
        weights = np.exp(fit - most)
        damaged = log(1 - self.none) + most + log(float(weights.sum()))
        without = log(self.none) + float(np.log(sound).sum())
        any_damage = 1.0 if sure else 1 / (1 + exp(min(max(without - damaged, -FAR), FAR)))
        return _Found(lengths, fields, weights / weights.sum(), any_damage)

    def _kinds(self, others: Floats, logs: Floats) -> Floats:
        """Chances of each kind at each place if it is damaged, from the damage found round it, (n, 3)."""
        told = np.exp(logs - logs.max(axis=1, keepdims=True))
        each = others[:, None] * USUAL_KINDS * told[:, 1:]
        found = each / (each.sum(axis=1, keepdims=True) + ((1 - others) * told[:, 0])[:, None] + 1e-300)
        return shares_of(self.sites.at, self.sites.at, found, self.kind_reach)


def discounted(logs: Floats, fooled: Floats) -> Floats:
    """Log-likelihoods (n, 4) of readings that with some chance (n,) could be anything."""
    if not fooled.any():
        return logs
    level = logs.max(axis=1, keepdims=True)
    wrong = fooled[:, None]
    return np.asarray(np.log((1 - wrong) * np.exp(logs - level) + wrong) + level)


def _priors(at: Floats, lengths: tuple[int, ...] = ALL) -> Floats:
    """Covariances of places with each other at some lengths, (k, n, n)."""
    return np.stack([covariance(at, at, SCALES[k]) for k in lengths])


def _some(sites: Sites) -> NDArray[np.intp]:
    """The places that the choices are made with: all, or an even part of them, in the order of the cells."""
    count = len(sites.at)
    step = max(1, -(-count // MOST_WEIGHED))
    return np.arange(0, count, step)
