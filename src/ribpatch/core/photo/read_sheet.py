"""A shape drawn between four marks, out of a picture set straight: what lies beside the marks' rectangle, and the
printed marks themselves, are left out.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.photo.drawn_line import drawn_line
from ribpatch.core.photo.marks_found import grey_of
from ribpatch.core.photo.pixels import laid_flat

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.geometry import Ring
    from ribpatch.core.photo.straightened import Straightened

MARK = 0.0155  # m round the middle of a mark that is not the drawing
PITCH = 0.0004  # m of a pixel, at the finest
MOST = 1800  # pixels either way


def line_on_sheet(picture: NDArray[np.uint8], made: Straightened) -> Ring:
    """The largest closed line (m, in the zone) in a picture (height, width, 3) between its four marks. Raises
    BadOutline where there is none.
    """
    from shapely import contains_xy
    from shapely.geometry import Polygon

    low, high = made.marks.min(axis=0), made.marks.max(axis=0)
    pitch = max(PITCH, float((high - low).max()) / MOST)
    columns = max(int((high[0] - low[0]) / pitch), 8)
    flat = laid_flat(picture, made, (low[0], low[1]), (high[0], high[1]), columns)
    pitch = float(high[0] - low[0]) / columns
    rows = flat.shape[0]
    x = low[0] + (np.arange(columns) + 0.5) * pitch
    y = high[1] - (np.arange(rows) + 0.5) * (high[1] - low[1]) / rows
    across, up = np.meshgrid(x, y)
    clear = (flat[..., 3] == 0) | ~contains_xy(Polygon(made.marks), across, up)
    for mark in made.marks:
        clear |= np.hypot(across - mark[0], up - mark[1]) < MARK
    return drawn_line(grey_of(flat), clear, (float(low[0]), float(low[1])), pitch)
