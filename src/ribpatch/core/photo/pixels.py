"""The straightened picture: each place of the zone takes its colour from where the photograph shows it."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.geometry import Point
    from ribpatch.core.photo.straightened import Straightened

BLOCK = 200_000  # places at a time, so that a large picture takes little memory


def laid_flat(
    picture: NDArray[np.uint8], made: Straightened, low: Point, high: Point, columns: int
) -> NDArray[np.uint8]:
    """The picture (height, width, 3) as seen square on: (rows, columns, 4) over the box of the zone from ``low`` to
    ``high`` in m, its first row at the top; clear where the photograph shows nothing. Colours between four pixels are
    mixed by their nearness.
    """
    wide, tall = high[0] - low[0], high[1] - low[1]
    rows = max(round(columns * tall / wide), 1)
    x = low[0] + (np.arange(columns) + 0.5) * wide / columns
    flat = np.zeros((rows * columns, 4), np.uint8)
    band = max(BLOCK // columns, 1)
    for top in range(0, rows, band):
        y = high[1] - (np.arange(top, min(top + band, rows)) + 0.5) * tall / rows
        places = np.column_stack([np.tile(x, len(y)), np.repeat(y, columns)])
        flat[top * columns : (top + len(y)) * columns] = _colours(picture, made, places)
    return flat.reshape(rows, columns, 4)


def _colours(picture: NDArray[np.uint8], made: Straightened, places: NDArray[np.float64]) -> NDArray[np.uint8]:
    height, width = picture.shape[:2]
    at = made.to_picture(places) * width - 0.5  # the middle of the first pixel is half a pixel in
    u, v = at.T
    with np.errstate(invalid="ignore"):
        inside = (u >= -0.5) & (v >= -0.5) & (u <= width - 0.5) & (v <= height - 0.5)
    u, v = np.clip(u[inside], 0, width - 1), np.clip(v[inside], 0, height - 1)
    left, top = np.minimum(u.astype(int), max(width - 2, 0)), np.minimum(v.astype(int), max(height - 2, 0))
    right, below = np.minimum(left + 1, width - 1), np.minimum(top + 1, height - 1)
    across, down = (u - left)[:, None], (v - top)[:, None]
    upper = picture[top, left] * (1 - across) + picture[top, right] * across
    lower = picture[below, left] * (1 - across) + picture[below, right] * across
    made_of = np.zeros((len(places), 4), np.uint8)
    made_of[inside, :3] = np.rint(upper * (1 - down) + lower * down)
    made_of[inside, 3] = 255
    return made_of
