"""Fairing by high and low spots: the surface between them, and what it takes of putty by depth. Metres.

Between the spots the surface is plane in triangles, and it meets the sound surface round the repair without a step: the
rim of what is faired counts as fair. Areas and volumes over a depth are those of the triangles in closed form. Deep
places want a putty with fibre, middling ones silica, scratches a light one. Source: [34].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct

from ribpatch.core.geometry import polygons
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from numpy.typing import NDArray
    from shapely.geometry import MultiPolygon

    from ribpatch.core.finishing import Spot
    from ribpatch.core.geometry import Floats

RIM = 96  # places round the rim of a part that is not convex
CONVEX = 0.995  # of its hull, that a part fills where it counts as convex
LEAST = 1e-5  # m, that counts as fair
NOTHING = 1e-12  # m


class Level(Struct, frozen=True):
    """Area that is deeper than a level, m2, and all that is filled there, m3."""

    area: float
    volume: float


class Surface(Struct, frozen=True, eq=False):
    """Triangles over what is faired: corners (n, 3, 2) and heights off fair there (n, 3), m."""

    corners: Floats
    heights: Floats

    def low(self, deeper: float = 0.0) -> Level:
        """Where it lies lower than ``deeper`` m under fair, and what fills it up to fair there."""
        return _over(self.corners, -self.heights, deeper)

    def high(self, over: float = 0.0) -> Level:
        """Where it stands higher than ``over`` m over fair, and what is ground off to fair there."""
        return _over(self.corners, self.heights, over)


class Filling(Struct, frozen=True):
    """Putty by depth: deep, middling and scratches, and what is ground off first."""

    deep: Level
    middling: Level
    scratches: Level
    high: Level
    deepest: float
    highest: float


def filling_of(surface: Surface, deep: float, shallow: float) -> Filling:
    """Volumes by the two depths, m."""
    every, more, most = surface.low(LEAST), surface.low(shallow), surface.low(deep)
    return Filling(
        most,
        Level(more.area - most.area, more.volume - most.volume),
        Level(every.area - more.area, every.volume - more.volume),
        surface.high(LEAST),
        max(float(-surface.heights.min(initial=0.0)), 0.0),
        max(float(surface.heights.max(initial=0.0)), 0.0),
    )


@remembered(32)
def surface_of(region: MultiPolygon, spots: tuple[Spot, ...]) -> Surface | None:
    """The surface over a region between the spots in it and its rim; None where there is none of either."""
    corners, heights = [], []
    for part in polygons(region):
        inside = [s for s in spots if part.contains(shapely.Point(s.x, s.y))]
        if not inside:
            continue
        rim = shapely.get_coordinates(part.exterior)[:-1]
        if part.area < CONVEX * part.convex_hull.area:  # or triangles would bridge its bays
            along = np.linspace(0.0, part.exterior.length, RIM, endpoint=False)
            rim = np.concatenate([rim, shapely.get_coordinates(shapely.line_interpolate_point(part.exterior, along))])
        at = np.concatenate([[(s.x, s.y) for s in inside], rim])
        height = np.concatenate([[s.height.si for s in inside], np.zeros(len(rim))])
        found = _triangles(at, part)
        corners.append(at[found])
        heights.append(height[found])
    return Surface(np.concatenate(corners), np.concatenate(heights)) if corners else None


def _triangles(at: Floats, part: shapely.Polygon) -> NDArray[np.int32]:
    """Delaunay's triangles of places, those whose middle lies in a part, shape (n, 3)."""
    from scipy.spatial import Delaunay

    found: NDArray[np.int32] = Delaunay(at).simplices
    kept: NDArray[np.int32] = found[shapely.contains_xy(part, *at[found].mean(axis=1).T)]
    return kept


def _over(corners: Floats, depth: Floats, level: float) -> Level:
    """Area where a depth, plane in each triangle, is over a level, and the whole depth over that area."""
    (ax, ay), (bx, by), (cx, cy) = (corners[:, k].T for k in range(3))
    area = np.abs((bx - ax) * (cy - ay) - (cx - ax) * (by - ay)) / 2
    over_it = np.where(np.abs(depth - level) < NOTHING, 0.0, depth - level)
    low, middle, high = np.sort(over_it, axis=1).T
    wide = np.where(high - low > 0, high - low, 1.0)
    # Of a triangle with one corner on the other side of the level, a like one is cut off at that corner.
    top = np.where(high > 0, high**2 / (wide * np.where(high - middle > 0, high - middle, 1.0)), 0.0)
    foot = np.where(low < 0, low**2 / (wide * np.where(middle - low > 0, middle - low, 1.0)), 0.0)
    share = np.where(low >= 0, np.where(high > 0, 1.0, 0.0), np.where(middle > 0, 1.0 - foot, np.minimum(top, 1.0)))
    share = np.where(high <= 0, 0.0, share)
    over = np.where(
        low >= 0,
        (low + middle + high) / 3,
        np.where(middle > 0, (low + middle + high) / 3 - foot * low / 3, top * high / 3),
    )
    over = np.where(high <= 0, 0.0, over)
    return Level(float((area * share).sum()), float((area * (over + level * share)).sum()))
