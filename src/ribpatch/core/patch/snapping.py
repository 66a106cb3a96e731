"""Snapping a corner that is dragged: to the edges of fittings and of the zone, in line with other corners, to round
sizes. m.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ribpatch.core.geometry import Point, Ring
    from ribpatch.core.job import Zone
    from ribpatch.core.units import System


class Snaps(Struct, frozen=True, eq=False):
    """Upright and level lines to snap to, each with its name, and the step of round sizes in m."""

    xs: tuple[tuple[float, str], ...]
    ys: tuple[tuple[float, str], ...]
    step: float


def snaps_of(zone: Zone, rings: Iterable[Ring], system: System) -> Snaps:
    """What a corner of ``rings`` may snap to in a zone."""
    xs, ys = [], []
    for f in zone.fittings:
        x0, y0, x1, y1 = f.shape.bounds
        xs += [(x0, f"edge of {f.name}"), (x1, f"edge of {f.name}")]
        ys += [(y0, f"edge of {f.name}"), (y1, f"edge of {f.name}")]
    for x, y in zone.outline:
        xs.append((x, "the zone's edge"))
        ys.append((y, "the zone's edge"))
    for ring in rings:
        for x, y in ring:
            xs.append((x, "in line with a corner"))
            ys.append((y, "in line with a corner"))
    return Snaps(tuple(xs), tuple(ys), 0.01 if system == "metric" else 0.0254 / 2)


def snapped(at: Point, snaps: Snaps, reach: float, fixed: Point | None = None) -> tuple[Point, str]:
    """The place that ``at`` snaps to within ``reach`` m, each way by itself, and to what in words.

    ``fixed`` is the corner's own old place, which is no target.
    """
    x, why_x = _near(at[0], snaps.xs, snaps.step, reach, fixed[0] if fixed else None)
    y, why_y = _near(at[1], snaps.ys, snaps.step, reach, fixed[1] if fixed else None)
    words = ", ".join(dict.fromkeys(w for w in (why_x, why_y) if w))
    return (x, y), words


def _near(
    value: float, lines: tuple[tuple[float, str], ...], step: float, reach: float, fixed: float | None
) -> tuple[float, str]:
    usable = [(abs(value - line), line, name) for line, name in lines if line != fixed]
    if usable:
        away, line, name = min(usable, key=lambda u: u[0])
        if away <= reach:
            return line, name
    rounded = round(value / step) * step
    return (rounded, "") if abs(rounded - value) <= reach else (value, "")
