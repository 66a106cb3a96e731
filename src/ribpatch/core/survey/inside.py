"""Which readings lie in an outline."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely

from ribpatch.core.geometry import Ring, polygon_of
from ribpatch.core.readings import Taken, line_of

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray


def all_inside(readings: Sequence[Taken], outline: Ring) -> NDArray[np.bool_]:
    """Whether each reading lies in an outline with all its points (a millimetre over counts as in), shape (n,)."""
    lines = [line_of(r) for r in readings]
    places = np.array([p for line in lines for p in line]).reshape(-1, 2)
    inside = shapely.contains_xy(polygon_of(outline).buffer(1e-3), places[:, 0], places[:, 1])
    if len(places) == len(lines):
        return np.asarray(inside)
    first = np.cumsum([0, *(len(line) for line in lines[:-1])])
    return np.asarray(np.logical_and.reduceat(inside, first))
