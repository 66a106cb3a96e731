"""A closed line drawn on paper, out of a picture of the paper laid flat; m.

Ink is what is darker than the paper round it. Gaps up to a limit are bridged, what the line encloses is told from what
lies outside, and the outline is taken along the middle of the line: the enclosed part grown by half the line.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from shapely.geometry import Polygon

from ribpatch.core.errors import BadOutline
from ribpatch.core.geometry import polygons, region_above

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.geometry import Floats, Point, Ring

GAP = 0.004  # m of a line that may be missing
LEAST = 0.0009  # m2 enclosed
ROOM = 0.03  # m over which the paper's brightness is averaged
DARKER = 0.8  # of the paper round it
THICK = 0.012  # m: the thickest line
FINE = 0.0005  # m that the outline may be simplified by
NO_LINE = "no closed line was found"
MEND = "Close the line with a dark pen and take the picture again, or trace it by hand."


def drawn_line(grey: NDArray[np.uint8], clear: NDArray[np.bool_], low: Point, pitch: float) -> Ring:
    """The largest closed line in a grey picture laid flat (rows from the top, columns), whose lower left corner lies at
    ``low`` and whose pixels are ``pitch`` m wide; ``clear`` says where there is no paper, or a printed mark. Raises
    BadOutline where there is none.
    """
    from scipy.ndimage import binary_closing, binary_dilation, label, uniform_filter

    paper = np.where(clear, np.nan, grey.astype(float))
    seen = uniform_filter((~clear).astype(float), max(round(ROOM / pitch), 3))
    light = uniform_filter(np.where(clear, 0.0, paper), max(round(ROOM / pitch), 3)) / np.maximum(seen, 1e-6)
    ink = ~clear & (grey < DARKER * light)
    if not ink.any():
        raise BadOutline("drawn line", reason=NO_LINE, advice=MEND)
    bridge = max(round(GAP / pitch / 2), 1)
    wall = binary_dilation(ink, _disc(bridge))
    parts, count = label(~(wall | clear))
    outside = set(np.unique(np.concatenate([parts[0], parts[-1], parts[:, 0], parts[:, -1]]))) | _beside(parts, clear)
    areas = np.bincount(parts.ravel(), minlength=count + 1).astype(float)
    areas[sorted(outside | {0})] = 0
    best = int(areas.argmax())
    if areas[best] * pitch**2 < LEAST:
        raise BadOutline("drawn line", reason=NO_LINE, advice=MEND)
    whole = binary_closing(ink, _disc(max(bridge // 3, 1)))
    # Back to the ink itself, round corners too, but not far through a gap.
    inside = binary_dilation(parts == best, iterations=round(1.5 * bridge) + 1, mask=~whole)
    return _ring(_to_the_middle(np.asarray(inside), ink, pitch), low, pitch)


def _beside(parts: NDArray[np.int32], clear: NDArray[np.bool_]) -> set[int]:
    """Parts that touch what is not paper: the sheet round the line."""
    from scipy.ndimage import binary_dilation

    edge = binary_dilation(clear, np.ones((3, 3))) & ~clear
    return {int(p) for p in np.unique(parts[edge])}


def _disc(radius: int) -> NDArray[np.bool_]:
    y, x = np.mgrid[-radius : radius + 1, -radius : radius + 1]
    return np.asarray(x**2 + y**2 <= radius**2)


def _to_the_middle(inside: NDArray[np.bool_], ink: NDArray[np.bool_], pitch: float) -> Floats:
    """How far each pixel lies within the middle of the line, m: the part enclosed, grown by half the line's width.

    The width is that of the ink round the part: layer by layer outwards, the share of each that is ink.
    """
    from scipy.ndimage import distance_transform_edt

    outwards = np.asarray(distance_transform_edt(~inside))
    depth = np.where(inside, np.asarray(distance_transform_edt(inside)) - 0.5, 0.5 - outwards)
    width = 0.0
    for layer in range(round(THICK / pitch)):
        at = (outwards > layer) & (outwards <= layer + 1)
        share = float(ink[at].mean()) if at.any() else 0.0
        if share < 0.3:
            break
        width += share
    return np.asarray((depth + width / 2) * pitch)


def _ring(within: Floats, low: Point, pitch: float) -> Ring:
    rows, columns = within.shape
    x: Floats = low[0] + (np.arange(columns, dtype=np.float64) + 0.5) * pitch
    y: Floats = low[1] + (np.arange(rows, dtype=np.float64) + 0.5) * pitch
    found = polygons(region_above(x, y, within[::-1], 0.0))
    if not found:
        raise BadOutline("drawn line", reason=NO_LINE, advice=MEND)
    simple = Polygon(found[0].exterior).simplify(FINE)
    return tuple((round(float(a), 5), round(float(b), 5)) for a, b in simple.boundary.coords[:-1])
