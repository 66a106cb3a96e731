"""What an observer who knows how the foreign study makes its panels, listeners and meters would make of its surveys.

Damage is a set of shapes out of a bank that the study's own generator drew, each of one kind; the listener's habit, the
dry level, the drift and the metal are unknown as well. Particles are led from the prior to the posterior in steps, one
shape and one unknown at a time, each drawn from its full distribution given the rest. It is the study's ceiling: what
no method can do better than, but for the noise of some dozens of particles. Prints; part of ``make bench --study``.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cache
from math import comb, erf, log, pi, sqrt

import foreign_study as study
import numpy as np
import shapely

from ribpatch.core.readings import Tap
from ribpatch.core.survey.extent import extent_of
from ribpatch.core.survey.field import posterior_of

SHAPES = ("patches", "fingers", "rings")
MOST = (3, 3, 4)  # of each shape in a panel
SLOTS = max(MOST)
NONE, METAL = 0.25, 0.4  # chance of no damage; of metal behind
BANK = 500  # drawings of each shape, each turned round as well
KINDS = np.log([0.5, 0.25, 0.25])
HABITS, DRY, DRIFT = np.linspace(-0.6, 0.6, 9), np.linspace(7, 20, 27), np.linspace(-0.6, 0.6, 13)
HABIT_LOG, DRIFT_LOG = -0.5 * (HABITS / 0.25) ** 2, -0.5 * (DRIFT / 0.25) ** 2
TIMES, SPREAD = np.array([1, 3.0, 3.6, 1.05]), np.array([0.15, 0.3, 0.3, 0.2])
PARTICLES, STEPS, AFTER = 32, 14, 4


@cache
def bank(size):
    """Shapes (b, ny, nx), of which kind each is (b,), and patches of metal (m, ny, nx), for a panel of a size in m."""
    rng = np.random.default_rng([5, int(size[0] * 100)])
    w, h = size
    x, y = np.meshgrid(np.arange(study.CELL / 2, w, study.CELL), np.arange(study.CELL / 2, h, study.CELL))
    panel = study.Panel(size, x, y, np.zeros(x.shape, int), np.zeros(x.shape, bool))
    draw = (
        lambda: study.grown(rng, x.shape, w * h * rng.uniform(0.03, 0.15)),
        lambda: study.stroke(rng, panel),
        lambda: study.collar(rng, panel),
    )
    shapes, of = [], []
    for number, one in enumerate(draw):
        for _ in range(BANK):
            made = one()
            turned = (made, made[::-1], made[:, ::-1], made[::-1, ::-1])
            shapes += turned
            of += [number] * len(turned)
    metal = [
        (abs(x - rng.uniform(0, w)) < rng.uniform(0.05, 0.2)) & (abs(y - rng.uniform(0, h)) < rng.uniform(0.05, 0.15))
        for _ in range(BANK)
    ]
    return np.array(shapes), np.array(of), np.array(metal)


def below(z):
    return 0.5 * (1 + np.vectorize(erf)(z / sqrt(2)))


def tap_logs(word):
    """Log-likelihoods of a word by habit and state, (9, 4)."""
    number, edges = study.WORDS.index(word), np.array([-np.inf, *study.HEARD, np.inf])
    tone = np.array([study.TONE[s] for s in range(4)]) + HABITS[:, None]
    between = below((edges[number + 1] - tone) / 0.55) - below((edges[number] - tone) / 0.55)
    return np.log(0.9 * between + 0.1 / len(study.WORDS))


def meter_logs(value, share):
    """Log-likelihoods of a value at a share of the session by dry level, drift, metal behind and state."""
    dry = DRY[:, None, None]
    made = np.empty((DRY.size, DRIFT.size, 2, 4))
    for metal, added in ((0, (0.0,)), (1, np.linspace(15, 30, 7))):
        density = 0.0
        for more in added:
            net = np.maximum(value - more - DRIFT[None, :] * DRY[:, None] * share, 0.05)[..., None]
            off = (np.log(net) - np.log(dry * TIMES)) / SPREAD
            inside = np.exp(-0.5 * off**2) / (SPREAD * sqrt(2 * pi) * net)
            density = density + (below(-off) if value >= 100 else np.where(net > 0.05, inside, 1e-6)) / len(added)
        made[:, :, metal] = np.log(0.95 * density + 0.05 / 100)
    return made


@dataclass
class Particle:
    parts: tuple[tuple[int, int], ...]
    habit: int
    dry: int
    drift: int
    metal: int


class Observer:
    """One survey, and the particles that stand for what may be behind it."""

    def __init__(self, survey, size, rng):
        self.rng = rng
        self.shapes, self.of, metal = bank(size)
        known = [r for r in survey.readings if r.id in survey.references]
        rows = [r for r in survey.readings if r.id not in survey.references]
        ny, nx = self.shapes.shape[1:]
        row = np.clip([int(r.y / study.CELL) for r in rows], 0, ny - 1)
        column = np.clip([int(r.x / study.CELL) for r in rows], 0, nx - 1)
        self.covers = self.shapes[:, row, column].astype(np.float32)
        self.metal = metal[:, row, column].astype(np.float32)
        none = np.zeros((DRY.size, DRIFT.size, 2, 4)), np.zeros((HABITS.size, 4))
        self.taps = np.array([tap_logs(r.grade) if isinstance(r, Tap) else none[1] for r in rows])
        self.meters = np.array(
            [none[0] if isinstance(r, Tap) else meter_logs(r.value, n / len(rows)) for n, r in enumerate(rows)]
        )
        self.known = np.zeros(DRY.size)
        for reading in known:
            self.known += np.log(np.exp(-0.5 * ((log(reading.value) - np.log(DRY)) / 0.12) ** 2) + 1e-6)
        self.all = np.arange(len(rows))

    def draw(self, logs):
        weight = np.cumsum(np.exp(logs - logs.max()))
        return int(np.searchsorted(weight, self.rng.random() * weight[-1]))

    def first(self):
        parts = ()
        if self.rng.random() >= NONE:
            shape = int(self.rng.integers(3))
            mine = np.flatnonzero(self.of == shape)
            count = self.rng.integers(1, MOST[shape] + 1)
            parts = tuple((int(self.rng.choice(mine)), self.draw(KINDS)) for _ in range(count))
        metal = int(self.rng.integers(len(self.metal))) if self.rng.random() < METAL else -1
        return Particle(parts, self.draw(HABIT_LOG), DRY.size // 2, DRIFT.size // 2, metal)

    def states(self, parts):
        found = np.zeros(self.all.size, int)
        for shape, kind in parts:
            found = np.where((found == 0) & (self.covers[shape] > 0), kind + 1, found)
        return found

    def over(self, p):
        return self.metal[p.metal].astype(int) if p.metal >= 0 else np.zeros(self.all.size, int)

    def logs(self, p):
        return self.taps[:, p.habit] + self.meters[self.all, p.dry, p.drift, self.over(p)]

    def total(self, p):
        return self.logs(p)[self.all, self.states(p.parts)].sum() + self.known[p.dry]

    def unknowns(self, p, heat):
        """The particle with its habit, dry level, drift and metal drawn anew."""
        state, over = self.states(p.parts), self.over(p)
        habit = self.draw(heat * self.taps[self.all, :, state].sum(axis=0) + HABIT_LOG)
        level = heat * (self.meters[self.all, :, :, over, state].sum(axis=0) + self.known[:, None]) + DRIFT_LOG
        dry, drift = divmod(self.draw(level.ravel()), DRIFT.size)
        plain, metal = (self.meters[self.all, dry, drift, k, state] for k in (0, 1))
        behind = heat * (self.metal @ (metal - plain)) + log(METAL / len(self.metal))
        return replace(p, habit=habit, dry=dry, drift=drift, metal=self.draw(np.array([log(1 - METAL), *behind])) - 1)

    def one_part(self, p, heat):
        """The particle with one of its slots, full or empty, drawn anew."""
        slot = self.rng.integers(SLOTS)
        rest = tuple(part for n, part in enumerate(p.parts) if n != slot)
        logs = self.logs(p)
        gain = heat * (self.states(rest) == 0)[:, None] * (logs[:, 1:] - logs[:, :1])
        shape = int(self.of[rest[0][0]]) if rest else None
        more = [
            self._prior(k, len(rest) + 1) - log((self.of == k).sum()) if shape in (None, k) else -np.inf
            for k in range(3)
        ]
        add = self.covers @ gain + KINDS + np.array(more)[self.of][:, None]
        empty = log(NONE) if shape is None else self._prior(shape, len(rest))
        drawn = self.draw(np.array([empty, *add.ravel()])) - 1
        return replace(p, parts=rest if drawn < 0 else (*rest, divmod(drawn, 3)))

    def _prior(self, shape, count):
        return log((1 - NONE) / 3 / MOST[shape] / comb(SLOTS, count)) if count <= MOST[shape] else -np.inf

    def chance(self):
        """Chance of damage of every cell, (ny, nx)."""
        parts, weight, heat = [self.first() for _ in range(PARTICLES)], np.zeros(PARTICLES), 0.0
        for hotter in [*np.linspace(0, 1, STEPS + 1)[1:] ** 1.7, *[1.0] * AFTER]:
            weight += (hotter - heat) * np.array([self.total(p) for p in parts])
            heat = hotter
            share = np.exp(weight - weight.max())
            share /= share.sum()
            if 1 / (share**2).sum() < PARTICLES / 2:
                at = (self.rng.random() + np.arange(PARTICLES)) / PARTICLES
                parts = [parts[min(k, PARTICLES - 1)] for k in np.searchsorted(np.cumsum(share), at)]
                weight[:] = 0
            for _ in range(SLOTS):
                parts = [self.one_part(p, heat) for p in parts]
            parts = [self.unknowns(p, heat) for p in parts]
        share = np.exp(weight - weight.max())
        made = np.zeros(self.shapes.shape[1:])
        for p, s in zip(parts, share / share.sum(), strict=True):
            if p.parts:
                made += s * self.shapes[[shape for shape, _ in p.parts]].any(axis=0)
        return made


def least_cut(rows, which, wanted):
    """Sound area cut where all that is likelier bad than one chance is cut, so that ``wanted`` of the damage is held."""
    for level in np.concatenate([np.geomspace(0.9, 0.001, 100), [0.0]]):
        held = np.mean([(bad & (row[which] >= level))[bad].mean() for bad, *row in rows if bad.any()])
        if held >= wanted:
            break
    return float(np.mean([(row[which] >= level)[~bad].mean() for bad, *row in rows]))


def beside(count, even, panels, seed):
    """Ours beside the ideal: sound area cut for the same damage held, on what was surveyed; the mean squared error."""
    rows = []
    for number in range(panels):
        rng = np.random.default_rng([seed, number, count, even])
        panel = study.panel_of(rng, SHAPES[number % 3])
        survey = study.survey_of(rng, panel, study.places_of(rng, panel, count, even))
        ideal = Observer(survey, panel.size, np.random.default_rng([seed, number])).chance().ravel()
        x, y = panel.x.ravel(), panel.y.ravel()
        ours = posterior_of(survey, panel.ring, study.SHELF).chance_at(np.column_stack([x, y]))
        seen = ~shapely.contains_xy(extent_of(survey, panel.ring, study.SHELF).unsurveyed, x, y)
        rows.append(((panel.state.ravel() > 0)[seen], ours[seen], ideal[seen]))
    rows = [r for r in rows if r[0].size]
    cuts = "; ".join(
        f"{wanted:.0%} held: {least_cut(rows, 0, wanted):.2f} and {least_cut(rows, 1, wanted):.2f}"
        for wanted in (0.5, 0.8, 0.9)
    )
    errors = [np.mean([((row[k] - bad) ** 2).mean() for bad, *row in rows]) for k in (0, 1)]
    print(
        f"(s) {'even' if even else 'clustered':<9} {count:>3} readings, {panels} panels, sound area cut by us and by an "
        f"observer who knows the generator, of what is surveyed: {cuts}; squared error {errors[0]:.3f} and {errors[1]:.3f}"
    )


def main(panels: int = 30, seed: int = 11) -> None:
    for even in (False, True):
        for count in (40, 120):
            beside(count, even, panels, seed)


if __name__ == "__main__":
    main()
