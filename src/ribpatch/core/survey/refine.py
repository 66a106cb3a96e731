"""A field's contours worked out finely where they run: the grid of the picture is too coarse for an area within half a
per cent.

The grid is divided once more, its values between the old places interpolated; in the cells that a contour passes, and
their neighbours, the Gaussian process itself is asked. Metres.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

import numpy as np
import shapely

from ribpatch.core.geometry import Floats

if TYPE_CHECKING:
    from numpy.typing import NDArray
    from shapely.geometry import Polygon
    from shapely.geometry.base import BaseGeometry

FINER, FINEST = 3, 6  # times: the error of an area falls with the square of the cell, and weighs more in a small one
NEARLY = 0.3  # of a cell: how far the true line may run from that of the picture
FEW_CELLS = 25  # an area of so many cells of the picture is small

At = Callable[[Floats], tuple[Floats, Floats]]  # places (n, 2) -> mean and deviation (n,)


def passed(x: Floats, y: Floats, line: BaseGeometry, zone: Polygon) -> NDArray[np.bool_]:
    """The cells (ny - 1, nx - 1) of a grid that a line passes, or nearly passes, inside a zone."""
    mask = np.zeros((y.size - 1, x.size - 1), dtype=bool)
    wide, high = x[1] - x[0], y[1] - y[0]
    points = shapely.get_coordinates(shapely.segmentize(line, min(wide, high) / 3))
    if len(points):
        points = points[shapely.distance(shapely.points(points), zone.exterior) > 1e-6]
        for right, up in ((0, 0), (NEARLY, 0), (-NEARLY, 0), (0, NEARLY), (0, -NEARLY)):
            column = np.floor((points[:, 0] - x[0]) / wide + right).astype(int)
            row = np.floor((points[:, 1] - y[0]) / high + up).astype(int)
            mask[np.clip(row, 0, y.size - 2), np.clip(column, 0, x.size - 2)] = True
    return mask


def finer(
    x: Floats, y: Floats, values: tuple[Floats, Floats], cells: NDArray[np.bool_], at: At, times: int = FINER
) -> tuple[Floats, Floats, Floats, Floats]:
    """The grid divided ``times`` times, with mean and deviation on it: exact in ``cells``, interpolated elsewhere."""
    fine_x, fine_y = (np.linspace(g[0], g[-1], (g.size - 1) * times + 1) for g in (x, y))
    mean, deviation = (_between(x, y, v, fine_x, fine_y) for v in values)
    nodes = np.zeros(mean.shape, dtype=bool)
    for row, column in np.argwhere(cells):
        nodes[row * times : (row + 1) * times + 1, column * times : (column + 1) * times + 1] = True
    if nodes.any():
        rows, columns = np.nonzero(nodes)
        mean[nodes], deviation[nodes] = at(np.column_stack([fine_x[columns], fine_y[rows]]))
    return fine_x, fine_y, mean, deviation


def _between(x: Floats, y: Floats, values: Floats, fine_x: Floats, fine_y: Floats) -> Floats:
    """Values (ny, nx) at the places of a finer grid, linear both ways."""
    row, column = (
        np.clip(np.searchsorted(g, f, side="right") - 1, 0, g.size - 2) for g, f in ((y, fine_y), (x, fine_x))
    )
    down, across = (fine_y - y[row]) / (y[row + 1] - y[row]), (fine_x - x[column]) / (x[column + 1] - x[column])
    upper = values[row] + down[:, None] * (values[row + 1] - values[row])
    return np.asarray(upper[:, column] + across * (upper[:, column + 1] - upper[:, column]))
