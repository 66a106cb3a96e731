"""The region that the readings of a survey vouch for: all within a stated reach of one. Metres."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely

from ribpatch.core.geometry import Floats, region_above
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.survey.sites import Sites

_CELLS = 4  # of the grid, in the reach
_STRAIGHT = 0.01  # of the reach: how far a side may run from the contour
_MOST_NODES = 400_000  # of a grid; readings so far apart are few, or the zone is no boat's


@remembered(12)
def vouched_by(sites: Sites, shelf: Shelf) -> BaseGeometry:
    """The region that some reading vouches for, m."""
    reach = shelf.rule("survey.vouches")
    if sites.width < 2 * reach:  # as good as all places that were read, and quicker
        wider = (sites.width - shelf.rule("place.size")) / 2
        return within(sites.at, reach + max(wider, 0.0))
    return within(sites.spots, reach)


def within(places: Floats, reach: float) -> BaseGeometry:
    """All within a reach of some of the places (n, 2), m, to a hundredth of a circle's area.

    By the contour of the distance on a grid, worked out near the places only: joining circles takes four times as long.
    """
    cell = reach / _CELLS
    low, high = places.min(axis=0) - reach - 2 * cell, places.max(axis=0) + reach + 2 * cell
    columns, rows = (np.ceil((high - low) / cell).astype(int) + 1).tolist()
    if columns * rows > _MOST_NODES:
        return shapely.union_all(shapely.buffer(shapely.points(places), reach))
    grid = [low[n] + cell * np.arange(count) for n, count in enumerate((columns, rows))]
    # Further than one cell beyond the reach nothing is asked.
    near = np.arange(-_CELLS - 2, _CELLS + 3)
    at = np.rint((places - low) / cell).astype(int)
    column, row = (np.clip(at[:, n, None] + near, 0, count - 1) for n, count in enumerate((columns, rows)))
    across, up = grid[0][column] - places[:, :1], grid[1][row] - places[:, 1:]
    apart = np.sqrt(up[:, :, None] ** 2 + across[:, None, :] ** 2)
    distance = np.full(columns * rows, 2 * reach)
    np.minimum.at(distance, (row[:, :, None] * columns + column[:, None, :]).ravel(), apart.ravel())
    # Straight lines between the nodes cut a little off what is round.
    region = region_above(grid[0], grid[1], -distance.reshape(rows, columns), -reach - cell**2 / (10 * reach))
    return region.simplify(_STRAIGHT * reach)
