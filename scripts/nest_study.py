"""How short pieces are laid on a roll: beside what none can be shorter than, at once and after a search."""

from __future__ import annotations

import random
import time

import numpy as np
import shapely
from shapely.ops import split

from ribpatch.core.plan import plan
from ribpatch.core.supply.nesting.nest import by_boxes, nest
from ribpatch.core.supply.nesting.shape import Shape
from ribpatch.library.demo import demo_job
from ribpatch.library.shelf import shipped_shelf
from ribpatch.nester.search import searched

HALF = (0.0, 180.0)
SECONDS = 15.0


def boxes(count: int, seed: int = 3) -> list[Shape]:
    """A sheet of 3 by 1.25 m sawn up: 3 m is the optimum."""
    rng = random.Random(seed)
    rects = [(3.0, 1.25)]
    while len(rects) < count:
        a, b = rects.pop(max(range(len(rects)), key=lambda k: rects[k][0] * rects[k][1]))
        f = rng.uniform(0.3, 0.7)
        rects += [(a * f, b), (a * (1 - f), b)] if a > b else [(a, b * f), (a, b * (1 - f))]
    return [Shape(((0.0, 0.0), (a, 0.0), (a, b), (0.0, b)), (0.0,)) for a, b in rects]


def slanted(count: int, seed: int = 3) -> list[Shape]:
    """The same sheet cut by lines at any angle."""
    rng = np.random.default_rng(seed)
    parts = [shapely.box(0, 0, 3.0, 1.25)]
    while len(parts) < count:
        parts.sort(key=lambda p: -p.area)
        part, a = parts.pop(0), rng.uniform(0, np.pi)
        (x, y), way = part.centroid.coords[0], 9 * np.array([np.cos(a), np.sin(a)])
        parts += list(split(part, shapely.LineString([(x - way[0], y - way[1]), (x + way[0], y + way[1])])).geoms)
    return [Shape(tuple((x - p.bounds[0], y - p.bounds[1]) for x, y in p.exterior.coords[:-1]), HALF) for p in parts]


def report() -> None:
    """One line a case: at once, settled, searched, over the bound."""
    triangle = Shape(((0.0, 0.0), (0.5, 0.0), (0.0, 0.4)), HALF)
    cases = [("12 triangles", [triangle] * 12, 1.2), *((f"{n} boxes", boxes(n), 1.25) for n in (15, 30, 60))]
    cases += [(f"{n} slanted", slanted(n), 1.25) for n in (6, 10, 15)]
    made = plan(demo_job(), shipped_shelf())
    cases += [(f"demo, {r.fabric.name}", list(r.shapes), r.cloth.width) for r in made.rolls]
    for name, shapes, width in cases:
        start = time.perf_counter()
        first = by_boxes(shapes, width, 0)
        at_once = time.perf_counter() - start
        better = nest(shapes, width)
        then = time.perf_counter() - start - at_once
        found = searched(shapes, width, SECONDS, better)
        over = [f"{100 * (m.length / found.bound - 1):.1f} %" for m in (first, better, found)]
        print(
            f"(f) {name}: over the bound {over[0]} in {at_once:.2f} s, {over[1]} in {then:.2f} s more, "
            f"{over[2]} after a search of {SECONDS:.0f} s",
            flush=True,
        )


if __name__ == "__main__":
    report()
