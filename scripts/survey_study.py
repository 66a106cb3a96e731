"""The known-truth study: how well the survey does on simulated panels whose truth is known. Prints; part of ``make
bench``.

Everything here is simulated: panels, meter, ear and strikes. It shows that the method keeps its promises on such
panels, not how it does on a real boat.
"""

from __future__ import annotations

import sys
from dataclasses import dataclass
from math import sqrt

import numpy as np
import shapely

from ribpatch.core.geometry import Floats, polygon_of
from ribpatch.core.job import Practice, Survey
from ribpatch.core.record import evolve
from ribpatch.core.survey.acoustics import strikes_in
from ribpatch.core.survey.extent import extent_of
from ribpatch.core.survey.field import field_of
from ribpatch.core.survey.hammer import RATE, any_panel, strike_wave
from ribpatch.core.survey.next_test import next_tests
from ribpatch.core.survey.panel import Truth, read_ear, read_meter, truth_of
from ribpatch.core.survey.strikes import verdict_of
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
ZONE = ((0.0, 0.0), (1.6, 0.0), (1.6, 1.0), (0.0, 1.0))
Place = tuple[float, float]


def grid(count: int) -> list[Place]:
    """A regular grid of about ``count`` places."""
    nx = max(1, round(sqrt(count * 1.6)))
    ny = max(1, round(count / nx))
    return [((i + 0.5) * 1.6 / nx, (j + 0.5) / ny) for j in range(ny) for i in range(nx)]


def surveyed(truth: Truth, places: list[Place]) -> Survey:
    """Two taps by ear for each meter reading, with three dry references read beforehand."""
    rows = [
        evolve(read_meter(truth, p, n, n // 3) if n % 3 == 2 else read_ear(truth, p, n), id=f"r{n}")
        for n, p in enumerate(places)
    ]
    rng = np.random.default_rng(5)
    dry = []
    while len(dry) < 3:
        at = (float(rng.uniform(0, 1.6)), float(rng.uniform(0, 1)))
        if truth.state(at) == "sound" and not shapely.contains_xy(truth.behind, *at):
            dry.append(evolve(read_meter(truth, at, 900 + len(dry)), id=f"d{len(dry)}"))
    return Survey(readings=(*rows, *dry), references=tuple(r.id for r in dry))


@dataclass
class Sums:
    held: list[float]
    cut: list[float]
    chance: list[Floats]
    bad: list[Floats]


def calibration(chance: Floats, bad: Floats) -> tuple[float, list[tuple[float, float, float]]]:
    """Mean distance of stated chance and real share over ten bins, weighed by how much falls in each, and the table."""
    bins = np.clip((chance * 10).astype(int), 0, 9)
    table = [
        (float(chance[bins == b].mean()), float(bad[bins == b].mean()), float((bins == b).mean()))
        for b in range(10)
        if (bins == b).any()
    ]
    return sum(abs(p - q) * w for p, q, w in table), table


def extents(panels: int) -> None:
    for count in (40, 120):
        sums = Sums([], [], [], [])
        for seed in range(panels):
            truth = truth_of(Practice(seed=20_000 + seed), ZONE)
            survey = surveyed(truth, grid(count))
            extent, field = extent_of(survey, ZONE, SHELF).likely, field_of(survey, ZONE, SHELF)
            damaged, sound = truth.damaged, truth.outline.difference(truth.damaged)
            if damaged.area > 1e-4:
                sums.held.append(extent.intersection(damaged).area / damaged.area)
            sums.cut.append(extent.intersection(sound).area / sound.area)
            x, y = (a.ravel() for a in np.meshgrid(field.x, field.y))
            sums.chance.append(field.chance.ravel())
            sums.bad.append(shapely.contains_xy(damaged, x, y).astype(float))
        error, table = calibration(np.concatenate(sums.chance), np.concatenate(sums.bad))
        print(
            f"(s) {panels} panels, {count} readings: extent at 90 % holds {np.mean(sums.held):.1%} of the damage (target 90 %), "
            f"cuts {np.mean(sums.cut):.1%} of the sound area, calibration error {error:.3f} (target 0.05)"
        )
        print("    stated / real / share of the area: " + "  ".join(f"{p:.2f}/{q:.2f}/{w:.1%}" for p, q, w in table))


def wrong(truth: Truth, survey: Survey) -> float:
    """Share of the panel on the wrong side of even odds."""
    field = field_of(survey, ZONE, SHELF)
    x, y = (a.ravel() for a in np.meshgrid(field.x, field.y))
    return float(((field.chance.ravel() > 0.5) != shapely.contains_xy(truth.damaged, x, y)).mean())


def order(panels: int, start: int = 18, most: int = 72) -> None:
    """Readings that the suggested order needs for what a regular grid gets with 60, 80 and 120."""
    grids = {n: [] for n in (60, 80, 120)}
    led: dict[int, list[float]] = {}
    for seed in range(panels):
        truth = truth_of(Practice(seed=30_000 + seed), ZONE)
        for n, rows in grids.items():
            rows.append(wrong(truth, surveyed(truth, grid(n))))
        places, last = grid(start), 0.0
        for count in range(len(places), most + 1, 3):
            survey = surveyed(truth, places)
            last = wrong(truth, survey)
            led.setdefault(count, []).append(last)
            # Where nothing is in doubt no place is suggested, and the survey stands as it is.
            places = places + [t.at for t in next_tests(survey, ZONE, SHELF)]
    for n, rows in grids.items():
        wanted, real = float(np.mean(rows)), len(grid(n))
        needed = next((k for k, v in sorted(led.items()) if np.mean(v) <= wanted), None)
        said = f"{needed}, {1 - needed / real:.0%} fewer" if needed else f"over {most}"
        print(
            f"(s) {panels} panels: a grid of {real} misjudges {wanted:.1%} of the panel; the suggested order needs {said} (target 33 % fewer)"
        )


def strikes(panels: int) -> None:
    wanted = {"sound": "sound", "wet": "dull", "rotted": "dull", "disbonded": "drummy"}
    words = ("sound", "dull", "drummy")
    table = {state: dict.fromkeys(words, 0) for state in wanted}
    rng = np.random.default_rng(2026)
    for _ in range(panels):
        panel = any_panel(rng)
        references = tuple(strikes_in(strike_wave(panel, "sound", rng, 20), RATE)[0] for _ in range(3))
        for state in wanted:
            verdict = verdict_of(strikes_in(strike_wave(panel, state, rng, 20), RATE)[0], references, SHELF)
            table[state][verdict.id] += 1
    right = sum(table[s][w] for s, w in wanted.items()) / (panels * len(wanted))
    print(f"(s) recorded taps, simulated, 20 dB, {panels} unseen panels: {right:.1%} right (target 90 %)")
    for state, row in table.items():
        print(f"    {state:<10}" + "".join(f"{word} {row[word]:>4}  " for word in words))


def main(panels: int = 200) -> None:
    print("Known-truth study. All panels and instruments are simulated.")
    extents(panels)
    order(max(panels // 4, 10))
    strikes(panels)


if __name__ == "__main__":
    polygon_of(ZONE)
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 200)
