"""Which sides of the zone the bad area reaches, and over what length: there it may run on."""

from __future__ import annotations

from typing import TYPE_CHECKING

import shapely
from msgspec import Struct
from shapely.geometry import LineString

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.geometry import Ring
    from ribpatch.core.job import Edge

TOUCH = 1e-3  # m
LEAST = 0.005  # m; shorter is a corner's touch


class RunOn(Struct, frozen=True):
    """A side that the bad area reaches: its number from 0, its name, the length in m, the middle of it in m."""

    side: int
    name: str
    length: float
    at: tuple[float, float]


def runs_on(region: BaseGeometry, outline: Ring, edges: tuple[Edge, ...]) -> tuple[RunOn, ...]:
    """The sides of an outline (m) that a region reaches, longest stretch first."""
    if region.is_empty:
        return ()
    names = {e.side: e.name for e in edges}
    near = region.buffer(TOUCH)
    found: list[RunOn] = []
    for side, start in enumerate(outline):
        touched = LineString((start, outline[(side + 1) % len(outline)])).intersection(near)
        if touched.length > LEAST:
            middle = shapely.line_interpolate_point(
                touched if isinstance(touched, LineString) else max(shapely.get_parts(touched), key=lambda p: p.length),
                0.5,
                normalized=True,
            )
            found.append(RunOn(side, names.get(side, f"side {side + 1}"), float(touched.length), (middle.x, middle.y)))
    return tuple(sorted(found, key=lambda r: -r.length))
