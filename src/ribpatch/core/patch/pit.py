"""Damage of part depth: ground to sound, filled flush ply by ply, and what is left to putty by its depth. m.

The depth between measured points is weighed by the inverse cube of the distance, so that it never leaves their range.
Outside the bad area the pit rises at the taper ratio from the depth at its rim. Work on a grid of about 10,000 cells;
areas and volumes are good to about 1 %. Source: [20].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct

from ribpatch.core.geometry import Floats, Ring, clean, clip_to, polygon_of, region_above
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from shapely.geometry import MultiPolygon

    from ribpatch.core.job import DepthPoint
    from ribpatch.core.laminate.stack import StackUp

CELLS = 10_000
POWER = 3
SHALLOWEST = 1e-5  # m: less than this is no depth


class Pit(Struct, frozen=True, eq=False):
    """The pit as ground: x (nx,), y (ny,) in m and its depth (ny, nx); 0 where nothing is ground."""

    x: Floats
    y: Floats
    depth: Floats
    region: MultiPolygon

    @property
    def deepest(self) -> float:
        """Most depth, m."""
        return float(self.depth.max(initial=0.0))

    @property
    def volume(self) -> float:
        """Laminate ground away, m3."""
        return float(self.depth.sum() * (self.x[1] - self.x[0]) * (self.y[1] - self.y[0]))

    def at(self, places: Floats) -> Floats:
        """Depth at places (n, 2), m, between the grid's values."""
        i = np.clip((places[:, 0] - self.x[0]) / (self.x[1] - self.x[0]), 0, len(self.x) - 1.001)
        j = np.clip((places[:, 1] - self.y[0]) / (self.y[1] - self.y[0]), 0, len(self.y) - 1.001)
        a, b = i.astype(int), j.astype(int)
        u, v = i - a, j - b
        d = self.depth
        return np.asarray(
            (1 - v) * ((1 - u) * d[b, a] + u * d[b, a + 1]) + v * ((1 - u) * d[b + 1, a] + u * d[b + 1, a + 1])
        )

    def deeper(self, level: float) -> MultiPolygon:
        """Where the pit is deeper than ``level`` m."""
        return clean(region_above(self.x, self.y, self.depth, max(level, 1e-6)))


def depth_between(points: tuple[DepthPoint, ...], places: Floats) -> Floats:
    """Depth at places (n, 2) from measured points, m: inverse distance cubed, exact at the points."""
    at = np.array([(p.x, p.y) for p in points])
    depth = np.array([p.depth.si for p in points])
    away = np.maximum(np.hypot(*(places[:, None] - at[None]).transpose(2, 0, 1)), 1e-9)
    weight = away**-POWER
    return np.asarray((weight * depth).sum(axis=1) / weight.sum(axis=1))


@remembered(64)
def pit_of(region: MultiPolygon, points: tuple[DepthPoint, ...], ratio: float, outline: Ring) -> Pit | None:
    """The pit over a bad region; None without a region or a measured depth."""
    if region.is_empty or max((p.depth.si for p in points), default=0.0) < SHALLOWEST:
        return None
    zone = polygon_of(outline)
    most = max(p.depth.si for p in points) * ratio
    x0, y0, x1, y1 = region.buffer(most + 1e-3).intersection(zone.buffer(1e-3)).bounds
    pitch = np.sqrt((x1 - x0) * (y1 - y0) / CELLS)
    x = np.linspace(x0, x1, max(int((x1 - x0) / pitch), 3))
    y = np.linspace(y0, y1, max(int((y1 - y0) / pitch), 3))
    grid = np.stack([a.ravel() for a in np.meshgrid(x, y)], axis=1)
    away = shapely.distance(shapely.points(grid), region)
    depth = np.maximum(depth_between(points, grid) - away / ratio, 0.0)
    inside = shapely.contains_xy(zone, grid[:, 0], grid[:, 1])
    return Pit(x, y, np.where(inside, depth, 0.0).reshape(len(y), len(x)), region)


def fill_outlines(pit: Pit, stack: StackUp, outline: Ring) -> tuple[MultiPolygon, ...]:
    """Every ply's outline, deepest first: ply i lies where the pit is deeper than the plies above it reach down."""
    zone = polygon_of(outline)
    tops = stack.tops
    return tuple(clean(clip_to(pit.deeper(pit.deepest - float(top)), zone)) for top in tops)


class Fill(Struct, frozen=True):
    """Putty over the plies by how deep what is left is: name of the class, volume m3, area m2."""

    name: str
    volume: float
    area: float


def putty_by_depth(pit: Pit, stack: StackUp, deep: float, shallow: float) -> tuple[Fill, ...]:
    """What the plies leave unfilled, sorted into deep, middling and scratches at the depths ``deep`` and
    ``shallow`` m.
    """
    tops = np.concatenate([[0.0], stack.tops]) if stack.plies else np.zeros(1)
    floor = pit.deepest - pit.depth  # height of the ground over the deepest place
    # Over a place lie all plies whose top clears the ground there.
    laid = np.where(pit.depth > 0, tops[-1] - tops[np.searchsorted(tops, floor + 1e-9, side="right") - 1], 0.0)
    left = np.clip(pit.depth - laid, 0.0, None)
    cell = float((pit.x[1] - pit.x[0]) * (pit.y[1] - pit.y[0]))
    ranges = (
        ("deep", left > deep),
        ("middling", (left <= deep) & (left > shallow)),
        ("scratches", (left <= shallow) & (left > 1e-5)),
    )
    return tuple(Fill(name, float(left[mask].sum()) * cell, float(mask.sum()) * cell) for name, mask in ranges)
