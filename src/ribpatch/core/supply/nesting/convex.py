"""An outline as convex parts: its triangles, joined along the edges where what they make stays convex. Source: [31]."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats, Ring

Loop = list[int]
STRAIGHT = 1e-12  # m2, of a corner that counts as none


def convex_parts(ring: Ring) -> tuple[Floats, ...]:
    """Convex parts that fill an outline without lying over each other, counter-clockwise, each shape (n, 2), m."""
    polygon = shapely.orient_polygons(shapely.Polygon(ring))
    hull = shapely.convex_hull(polygon)
    if hull.area - polygon.area <= STRAIGHT:
        return (shapely.get_coordinates(shapely.orient_polygons(hull))[:-1],)
    triangles = shapely.get_parts(shapely.constrained_delaunay_triangles(polygon))
    corners: dict[tuple[float, float], int] = {}
    loops = []
    for triangle in triangles:
        points = shapely.get_coordinates(shapely.orient_polygons(triangle))[:-1]
        loops.append([corners.setdefault((float(a), float(b)), len(corners)) for a, b in points])
    at = np.array(list(corners))
    return tuple(at[loop] for loop in _joined(loops, at))


def _joined(loops: list[Loop], at: Floats) -> list[Loop]:
    """Loops of corners, joined two by two as long as any pair makes a convex one."""
    k = 0
    while k < len(loops):
        found = next(
            ((n, made) for n in range(k + 1, len(loops)) if (made := _both(loops[k], loops[n], at)) is not None), None
        )
        if found is None:
            k += 1
            continue
        loops[k] = found[1]
        del loops[found[0]]
        k = 0
    return loops


def _both(a: Loop, b: Loop, at: Floats) -> Loop | None:
    """Two loops as one across an edge that both have, where that is convex."""
    backward = {(b[(m + 1) % len(b)], b[m]): m for m in range(len(b))}
    for n in range(len(a)):
        m = backward.get((a[n], a[(n + 1) % len(a)]))
        if m is not None:
            start = (m + 1) % len(b)  # where b begins at a[n], and goes round to a[n + 1]
            way = [b[(start + k) % len(b)] for k in range(1, len(b) - 1)]
            made = [*a[: n + 1], *way, *a[n + 1 :]]
            return made if _convex(at[made]) else None
    return None


def _convex(corners: Floats) -> bool:
    one, two = np.roll(corners, -1, axis=0) - corners, np.roll(corners, -2, axis=0) - np.roll(corners, -1, axis=0)
    return bool((one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0] >= -STRAIGHT).all())
