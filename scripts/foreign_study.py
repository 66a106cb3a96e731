"""A second known-truth study: panels, readers and places made another way than the program's own simulator.

Damage grows cell by cell from a leak (patches), runs as strokes along seams (fingers) or sits round fittings (rings),
or is not there at all. A listener hears a tone, off by a habit of their own, and puts it into words by thresholds; one
tap in ten is a slip. A meter multiplies its errors, drifts, is fooled by metal and is plainly wrong one time in twenty.
Places lie even or in clusters. None of it shares code or tables with the method. Prints; part of ``make bench --study``.
"""

from __future__ import annotations

import heapq
import sys
from dataclasses import dataclass
from math import pi, sqrt

import numpy as np
import shapely

from ribpatch.core.job import Survey
from ribpatch.core.readings import Moisture, Tap
from ribpatch.core.survey.extent import extent_of
from ribpatch.core.survey.field import posterior_of
from ribpatch.core.survey.next_test import next_tests
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
CELL = 0.025
SIZES = ((1.6, 1.0), (3.0, 1.1), (2.2, 0.8), (1.3, 1.3))
WORDS = ("ring", "flat", "dull", "drummy", "crunch")
SOUND, WET, ROTTED, LOOSE = range(4)
CONFIDENCES = (0.5, 0.8, 0.9, 0.95)


@dataclass
class Panel:
    size: tuple[float, float]
    x: np.ndarray
    y: np.ndarray
    state: np.ndarray
    metal: np.ndarray

    @property
    def ring(self):
        w, h = self.size
        return ((0.0, 0.0), (w, 0.0), (w, h), (0.0, h))

    def index(self, at):
        rows, columns = self.state.shape
        return min(max(int(at[1] / CELL), 0), rows - 1), min(max(int(at[0] / CELL), 0), columns - 1)


def grown(rng, shape, area):
    """Cells reached first from a leak through material of uneven resistance (invasion percolation)."""
    hard = rng.gamma(2.0, 1.0, shape)
    for axis in (0, 1):
        hard = (hard + np.roll(hard, 1, axis) + np.roll(hard, -1, axis)) / 3
    taken = np.zeros(shape, bool)
    start = tuple(int(rng.integers(n)) for n in shape)
    front = [(0.0, start)]
    while front and taken.sum() * CELL**2 < area:
        cost, (r, c) = heapq.heappop(front)
        if taken[r, c]:
            continue
        taken[r, c] = True
        for nr, nc in ((r - 1, c), (r + 1, c), (r, c - 1), (r, c + 1)):
            if 0 <= nr < shape[0] and 0 <= nc < shape[1] and not taken[nr, nc]:
                heapq.heappush(front, (cost + hard[nr, nc] ** 2, (nr, nc)))
    return taken


def stroke(rng, panel):
    """A wandering stroke of uneven width, along a seam."""
    w, h = panel.size
    along = rng.random() < 0.6
    length = rng.uniform(0.3, 0.9) * (w if along else h)
    begin, other = rng.uniform(0, (w if along else h) - length), rng.uniform(0.1, 0.9) * (h if along else w)
    steps = np.arange(0, length, 0.02)
    wander = np.cumsum(rng.normal(0, 0.004, steps.size))
    width = np.clip(rng.uniform(0.035, 0.08) + np.cumsum(rng.normal(0, 0.003, steps.size)), 0.02, 0.1)
    s, t = (panel.x, panel.y) if along else (panel.y, panel.x)
    reached = np.zeros(panel.x.shape, bool)
    for a, b, half in zip(begin + steps, other + wander, width, strict=True):
        reached |= (s - a) ** 2 + (t - b) ** 2 < half**2
    return reached


def collar(rng, panel):
    """Damage round a fitting, not all the way round."""
    w, h = panel.size
    cx, cy = rng.uniform(0.1, w - 0.1), rng.uniform(0.1, h - 0.1)
    angle, r = np.arctan2(panel.y - cy, panel.x - cx), np.hypot(panel.x - cx, panel.y - cy)
    facing, reach = rng.uniform(-pi, pi), rng.uniform(0.12, 0.32)
    return r < reach * (0.65 + 0.35 * np.cos(angle - facing))


def panel_of(rng, shape):
    w, h = SIZES[rng.integers(len(SIZES))]
    x, y = np.meshgrid(np.arange(CELL / 2, w, CELL), np.arange(CELL / 2, h, CELL))
    panel = Panel((w, h), x, y, np.zeros(x.shape, int), np.zeros(x.shape, bool))
    for _ in range(
        {"patches": rng.integers(1, 4), "fingers": rng.integers(1, 4), "rings": rng.integers(1, 5)}.get(shape, 0)
    ):
        kind = int(rng.choice([WET, ROTTED, LOOSE], p=[0.5, 0.25, 0.25]))
        if shape == "patches":
            area = w * h * rng.uniform(0.03, 0.15)
            outer = grown(rng, x.shape, area)
        else:
            outer = stroke(rng, panel) if shape == "fingers" else collar(rng, panel)
        panel.state[outer & (panel.state == SOUND)] = kind
    if rng.random() < 0.4:
        panel.metal = (abs(x - rng.uniform(0, w)) < rng.uniform(0.05, 0.2)) & (
            abs(y - rng.uniform(0, h)) < rng.uniform(0.05, 0.15)
        )
    return panel


def places_of(rng, panel, count, even):
    w, h = panel.size
    if even:
        columns = max(1, round(sqrt(count * w / h)))
        rows = max(1, round(count / columns))
        spots = [((i + 0.5) * w / columns, (j + 0.5) * h / rows) for j in range(rows) for i in range(columns)]
        made = np.array(spots) + rng.normal(0, 0.015, (len(spots), 2))
    else:
        middles = rng.uniform((0, 0), (w, h), (max(3, count // 10), 2))
        made = middles[rng.integers(len(middles), size=count)] + rng.standard_t(4, (count, 2)) * 0.1
    return np.clip(made, 0.003, np.array(panel.size) - 0.003)


TONE = {SOUND: 0.0, WET: 1.7, ROTTED: 2.6, LOOSE: 3.1}  # how far from a clear ring
HEARD = (0.9, 1.7, 2.75, 3.7)  # where one word ends and the next begins


class Listener:
    def __init__(self, rng):
        self.rng, self.habit = rng, rng.normal(0, 0.25)

    def tap(self, panel, at):
        if self.rng.random() < 0.1:
            return WORDS[self.rng.integers(5)]
        tone = TONE[int(panel.state[panel.index(at)])] + self.habit + self.rng.normal(0, 0.55)
        return WORDS[int(np.searchsorted(HEARD, tone))]


def survey_of(rng, panel, places, confidence=0.9, taps_only=False):
    listener, dry = Listener(rng), rng.uniform(7, 20)
    drift = rng.normal(0, 0.25) * dry
    rows = []
    for n, (x, y) in enumerate(places.tolist()):
        if taps_only or n % 5 < 3:
            rows.append(Tap(id=f"r{n}", x=x, y=y, grade=listener.tap(panel, (x, y))))
            continue
        index = panel.index((x, y))
        state = int(panel.state[index])
        value = dry * (1, 3.0, 3.6, 1.05)[state] * np.exp(
            rng.normal(0, (0.15, 0.3, 0.3, 0.2)[state])
        ) + drift * n / len(places)
        if panel.metal[index]:
            value += rng.uniform(15, 30)
        if rng.random() < 0.05:
            value = rng.uniform(0, 100)
        rows.append(Moisture(id=f"r{n}", x=x, y=y, value=float(np.clip(value, 0, 100))))
    marked = ()
    if not taps_only:
        sound = np.argwhere((panel.state == SOUND) & ~panel.metal)
        for k in range(3):
            r, c = sound[rng.integers(len(sound))]
            reading = dry * np.exp(rng.normal(0, 0.12))
            rows.append(Moisture(id=f"d{k}", x=float(panel.x[r, c]), y=float(panel.y[r, c]), value=float(reading)))
        marked = ("d0", "d1", "d2")
    return Survey(readings=tuple(rows), references=marked, confidence=Measure(si=confidence))


def with_confidence(survey, confidence):
    return Survey(readings=survey.readings, references=survey.references, confidence=Measure(si=confidence))


def calibration(chance, bad):
    bins = np.clip((chance * 10).astype(int), 0, 9)
    return sum(
        abs(chance[bins == b].mean() - bad[bins == b].mean()) * (bins == b).mean()
        for b in range(10)
        if (bins == b).any()
    )


def row(shapes, count, even, panels, seed):
    held, whole = {c: [] for c in CONFIDENCES}, {c: np.zeros(2) for c in CONFIDENCES}
    cut, area, unseen, chances, bads = [], [], [], [], []
    for number in range(panels):
        rng = np.random.default_rng([seed, number, count, even])
        panel = panel_of(rng, shapes[number % len(shapes)])
        survey = survey_of(rng, panel, places_of(rng, panel, count, even))
        x, y, bad = panel.x.ravel(), panel.y.ravel(), panel.state.ravel() > 0
        for confidence in CONFIDENCES:
            extent = extent_of(with_confidence(survey, confidence), panel.ring, SHELF)
            inside = shapely.contains_xy(extent.likely, x, y)
            looked = bad & ~shapely.contains_xy(extent.unsurveyed, x, y)
            if looked.any():
                held[confidence].append((inside & looked).sum() / looked.sum())
                whole[confidence] += (inside & looked).sum(), looked.sum()
            if confidence == 0.9:
                cut.append((inside & ~bad).sum() / max(1, (~bad).sum()))
                area.append(inside.mean())
                unseen.append(extent.unsurveyed_area / (panel.size[0] * panel.size[1]))
        chances.append(posterior_of(survey, panel.ring, SHELF).chance_at(np.column_stack([x, y])))
        bads.append(bad)
    chance, bad = np.concatenate(chances), np.concatenate(bads)
    told = " / ".join(f"{np.mean(held[c]):.2f}" if held[c] else "-" for c in CONFIDENCES)
    pooled = " / ".join(f"{whole[c][0] / whole[c][1]:.2f}" if held[c] else "-" for c in CONFIDENCES)
    name = "+".join(shapes) if len(shapes) < 3 else "all shapes"
    print(
        f"(s) {name:<10} {'even' if even else 'clustered':<9} {count:>3} readings, {panels} panels: bad {bad.mean():.2f}; held at 50/80/90/95 %, panel by panel {told}, all damage together {pooled}; "
        f"sound cut at 90 % {np.mean(cut):.3f}; extent {np.mean(area):.3f}; not surveyed {np.mean(unseen):.2f}; calibration error {calibration(chance, bad):.3f}"
    )


def judged(panel, survey):
    x, y, bad = panel.x.ravel(), panel.y.ravel(), panel.state.ravel() > 0
    extent = shapely.contains_xy(extent_of(survey, panel.ring, SHELF).likely, x, y)
    chance = posterior_of(survey, panel.ring, SHELF).chance_at(np.column_stack([x, y]))
    return (extent & bad).sum() / bad.sum(), ((chance > 0.5) != bad).mean()


def order(shape, panels, counts=(20, 40, 80, 120)):
    """Taps where the program says, against an even grid and random places: damage held at 90 %, and area misjudged."""
    table = {(how, n): [] for how in ("grid", "random", "suggested") for n in counts}
    for number in range(panels):
        rng = np.random.default_rng([77, number])
        panel = panel_of(rng, shape)
        for n in counts:
            anywhere = rng.uniform((0, 0), panel.size, (n, 2))
            for how, places in (("grid", places_of(rng, panel, n, True)), ("random", anywhere)):
                table[how, n].append(judged(panel, survey_of(rng, panel, places, taps_only=True)))
        listener = Listener(rng)
        rows = [
            Tap(id=f"r{k}", x=x, y=y, grade=listener.tap(panel, (x, y)))
            for k, (x, y) in enumerate(places_of(rng, panel, 9, True).tolist())
        ]
        for n in counts:
            while len(rows) < n and (tests := next_tests(Survey(readings=tuple(rows)), panel.ring, SHELF)):
                for test in tests[: n - len(rows)]:
                    rows.append(Tap(id=f"r{len(rows)}", x=test.at[0], y=test.at[1], grade=listener.tap(panel, test.at)))
            table["suggested", n].append(judged(panel, Survey(readings=tuple(rows))))
    for n in counts:
        told = "; ".join(
            f"{how} {np.mean([v[0] for v in table[how, n]]):.2f}, {np.mean([v[1] for v in table[how, n]]):.3f}"
            for how in ("grid", "random", "suggested")
        )
        print(f"(s) {shape}, {n} taps, {panels} panels: held at 90 % and area misjudged: {told}")


def main(panels: int = 120, seed: int = 11) -> None:
    print("Foreign study: another generator of panels, listeners, meters and places.")
    shapes = ("patches", "fingers", "rings")
    for even in (False, True):
        for count in (40, 120):
            row(shapes, count, even, panels, seed)
    for shape in shapes:
        row((shape,), 120, True, panels // 3, seed + 1)
    for even, count in ((True, 40), (True, 120), (False, 120)):
        row(("none",), count, even, panels, seed + 2)
    for shape in ("patches", "fingers"):
        order(shape, max(panels // 6, 10))


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 120)
