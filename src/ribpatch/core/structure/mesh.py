"""Where the solver breaks a panel into pieces: at every line where something changes, finer beside what is small. m."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.series import distinct

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ribpatch.core.geometry import Floats
    from ribpatch.core.structure.panel_records import Held, Panel, PlateLoad, PlateSpring, PlateStiffener

SEGMENTS = 3  # at least so many each way
GROWTH = 5.0  # a segment may be so many times as long as the one beside it
LONG = 1.8  # times its width, over which a panel is broken beside its clamped ends
FADES = (0.4, 1.0)  # of the width
NEAR = 2e-3  # of the side: lines nearer than this are one, if nothing that was stated lies between them
FINE = (6, 2.5)  # segments and growth where a second of time is no matter
MOST = 40  # segments each way; beyond it segments may grow faster


def lines_along(side: float, stated: Iterable[float], segments: int = SEGMENTS, growth: float = GROWTH) -> Floats:
    """Break lines from 0 to ``side`` m, among them all that are ``stated``; neighbours differ by ``growth`` at most."""
    inner = [x for x in stated if NEAR * side / 10 < x < side * (1 - NEAR / 10)]
    lines = distinct(np.array([0.0, side, *inner]))
    keep = np.concatenate([[True], np.diff(lines) > NEAR * side / 10])
    lines = lines[keep]
    lines[-1] = side
    while len(lines) <= MOST:
        sizes = np.diff(lines)
        beside = np.minimum(np.concatenate([[np.inf], sizes[:-1]]), np.concatenate([sizes[1:], [np.inf]]))
        too_long = (sizes > growth * beside * 1.001) | (sizes > side / segments * 1.001)
        if not too_long.any():
            break
        n = int(np.argmax(np.where(too_long, sizes, 0)))
        lines = np.insert(lines, n + 1, _cut(lines, n, float(beside[n]), growth, side / segments))
    return lines


def _cut(lines: Floats, n: int, beside: float, growth: float, most: float) -> float:
    """Where to cut segment ``n``: near its smaller neighbour, so that the next piece is not cut again and again."""
    low, high = float(lines[n]), float(lines[n + 1])
    size = high - low
    if size <= growth * beside * 1.001 or 2 * growth * beside >= size:
        return (low + high) / 2
    step = min(growth * beside, most)
    left = lines[n] - lines[n - 1] if n > 0 else np.inf
    return low + step if left <= beside * 1.0001 else high - step


def mesh_of(
    panel: Panel, loads: tuple[PlateLoad, ...], segments: int = SEGMENTS, growth: float = GROWTH
) -> tuple[Floats, Floats]:
    """Break lines along x and y, m: on the borders of zones, loads and stiffeners, and where a line holds."""
    xs: list[float] = []
    ys: list[float] = []
    for box in (*(z.box for z in panel.zones), *(load.box for load in loads)):
        xs += [box.x0, box.x1]
        ys += [box.y0, box.y1]
    lines: tuple[PlateStiffener | PlateSpring, ...] = (*panel.stiffeners, *panel.springs)
    for member in lines:
        along, across = (xs, ys) if member.axis == "x" else (ys, xs)
        across.append(member.place)
        along += [v for v in (member.start, member.end) if v is not None]
    e = panel.edges
    xs += _beside_ends(panel.a, panel.b, (e.left, e.right))
    ys += _beside_ends(panel.b, panel.a, (e.bottom, e.top))
    return lines_along(panel.a, xs, segments, growth), lines_along(panel.b, ys, segments, growth)


def _beside_ends(side: float, other: float, held: tuple[Held, Held]) -> list[float]:
    """Lines near the clamped ends of a long panel, m: what such an end does to it fades within the width."""
    if side < LONG * other:
        return []
    near = [share * other for share in FADES]
    return [*(v for v in near if held[0] == "C"), *(side - v for v in near if held[1] == "C")]
