"""The hatch over what was not surveyed, m: lines cut to the region here, which costs a fraction of a painter's clip."""

from __future__ import annotations

from math import sqrt
from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.drawing.shapes import Line
from ribpatch.core.geometry import polygon_of, rings_of
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.geometry import Floats, Ring
    from ribpatch.core.survey.extent import Extent

ACROSS = 32  # lines over the side of a square as large as the zone


@remembered(32)
def unsurveyed_lines(extent: Extent, outline: Ring) -> tuple[Line, ...]:
    """Falling lines over what was not surveyed, m, at the same places in a zone whatever the region."""
    pitch = sqrt(2 * polygon_of(outline).area) / ACROSS
    cuts = falling(extent.unsurveyed, pitch).tolist()
    return tuple(Line(((ax, ay), (bx, by)), "unsurveyed") for ax, ay, bx, by in cuts)


def falling(region: BaseGeometry, pitch: float) -> Floats:
    """The lines x + y = whole multiples of ``pitch`` (m) inside a region: both ends of every piece, m, (n, 4).

    Each side of a ring is cut by the lines that it crosses; along a line every second stretch between cuts is inside.
    """
    sides = [np.hstack([ring[:-1], ring[1:]]) for rings in rings_of(region) for ring in map(_closed, rings)]
    if not sides:
        return np.empty((0, 4))
    ax, ay, bx, by = np.vstack(sides).T
    low, high = np.minimum(ax + ay, bx + by) / pitch, np.maximum(ax + ay, bx + by) / pitch
    first = np.ceil(low).astype(int)
    count = np.ceil(high).astype(int) - first  # from the lower end up to, not with, the upper one
    side = np.repeat(np.arange(len(ax)), count)
    line = first[side] + np.arange(side.size) - np.repeat(np.cumsum(count) - count, count)
    along = (line * pitch - ax[side] - ay[side]) / ((bx + by) - (ax + ay))[side]
    x = ax[side] + along * (bx - ax)[side]
    order = np.lexsort((x, line))
    x, line = x[order].reshape(-1, 2), line[order][::2] * pitch
    return np.column_stack([x[:, 0], line - x[:, 0], x[:, 1], line - x[:, 1]])


def _closed(ring: Ring) -> Floats:
    points = np.asarray(ring, dtype=float)
    return points if (points[0] == points[-1]).all() else np.vstack([points, points[:1]])
