"""A closed line drawn on paper, out of a picture of the paper laid flat; m.

Ink is what is thin and darker than the paper round it. Gaps up to a limit are bridged, what the line encloses is told
from what lies outside, and the outline is taken along the middle of the line: as far from the one as from the other.
Validity: corners sharper than some 20 degrees come out short, where the two sides of the line run into one.
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

GAPS = (0.0, 0.0015, 0.004)  # m of a line that may be missing: as little as closes it
WHOLE = 0.7  # of the largest part that a line encloses, for it to be that part
LEAST = 0.0009  # m2 enclosed
DARKER = 0.8  # of the paper round it: a pencil's line
CALM = 3  # pixels that a pencil's line is smoothed over
THICK = 0.012  # m: thicker than any line
FINE = 0.0005  # m that the outline may be simplified by
NO_LINE = "no closed line was found"
MEND = "Close the line with a dark pen and take the picture again, or trace it by hand."


def drawn_line(grey: NDArray[np.uint8], clear: NDArray[np.bool_], low: Point, pitch: float) -> Ring:
    """The largest closed line in a grey picture laid flat (rows from the top, columns), whose lower left corner lies at
    ``low`` and whose pixels are ``pitch`` m wide; ``clear`` says where there is no paper, or a printed mark. Raises
    BadOutline where there is none.
    """
    from scipy.ndimage import uniform_filter

    ink = ~clear & ink_in(uniform_filter(grey.astype(np.float32), CALM), round(THICK / pitch), DARKER)
    found = [_enclosed(ink, clear, round(gap / pitch / 2)) for gap in GAPS]
    largest = max(area for _, area in found)
    if largest * pitch**2 < LEAST:
        raise BadOutline("drawn line", reason=NO_LINE, advice=MEND)
    # The least bridge that closes it: a wider one would fill what is pointed.
    bridge, (part, _) = next((n, f) for n, f in zip(GAPS, found, strict=True) if f[1] > WHOLE * largest)
    inside = _back_to_the_ink(part, ink, max(round(bridge / pitch / 2), 1))
    return _ring(_to_the_middle(inside, ink, pitch), low, pitch)


def ink_in(grey: NDArray[np.uint8] | NDArray[np.float32], across: int, darker: float) -> NDArray[np.bool_]:
    """Where a picture is ``darker`` than the paper round it: thin against ``across`` pixels. A shadow is as wide as
    paper, and no ink.
    """
    from scipy.ndimage import grey_closing

    return np.asarray(grey < darker * grey_closing(grey, size=(max(across, 3), max(across, 3))))


def _enclosed(ink: NDArray[np.bool_], clear: NDArray[np.bool_], bridge: int) -> tuple[NDArray[np.bool_], float]:
    """The largest part that ink encloses where gaps of twice ``bridge`` pixels are closed, and its pixels."""
    from scipy.ndimage import binary_dilation, label

    wall = binary_dilation(ink, _disc(bridge)) if bridge else ink
    parts, count = label(~(wall | clear))
    rim = np.concatenate([parts[0], parts[-1], parts[:, 0], parts[:, -1]])
    outside = {int(n) for n in np.unique(rim)} | _beside(parts, clear) | {0}
    areas = np.bincount(parts.ravel(), minlength=count + 1).astype(float)
    areas[sorted(outside)] = 0
    best = int(areas.argmax())
    return np.asarray(parts == best), float(areas[best])


def _back_to_the_ink(part: NDArray[np.bool_], ink: NDArray[np.bool_], bridge: int) -> NDArray[np.bool_]:
    """A part grown back to the ink itself, round corners too, but not far through a gap."""
    from scipy.ndimage import binary_closing, binary_dilation

    whole = binary_closing(ink, _disc(max(bridge // 2, 1)))
    return np.asarray(binary_dilation(part, iterations=round(1.5 * bridge) + 1, mask=~whole))


def _beside(parts: NDArray[np.int32], clear: NDArray[np.bool_]) -> set[int]:
    """Parts that touch what is not paper: the sheet round the line."""
    from scipy.ndimage import binary_dilation

    edge = binary_dilation(clear, np.ones((3, 3))) & ~clear
    return {int(p) for p in np.unique(parts[edge])}


def _disc(radius: int) -> NDArray[np.bool_]:
    y, x = np.mgrid[-radius : radius + 1, -radius : radius + 1]
    return np.asarray(x**2 + y**2 <= radius**2)


def _to_the_middle(inside: NDArray[np.bool_], ink: NDArray[np.bool_], pitch: float) -> Floats:
    """How far each pixel lies within the middle of the line, m: as far from what it encloses as from what lies outside.
    In the tip of a corner, where the line's inner side falls back, that is nearer to the corner than half its width.
    """
    from scipy.ndimage import binary_dilation, distance_transform_edt, label

    parts, _ = label(ink, np.ones((3, 3)))
    beside = np.unique(parts[binary_dilation(inside, np.ones((3, 3)), iterations=2) & ink])
    line = np.isin(parts, beside[beside > 0])
    from_outside = np.asarray(distance_transform_edt(inside | line))
    from_inside = np.asarray(distance_transform_edt(~inside))
    return np.asarray((from_outside - from_inside) / 2 * pitch)


def _ring(within: Floats, low: Point, pitch: float) -> Ring:
    rows, columns = within.shape
    x: Floats = low[0] + (np.arange(columns, dtype=np.float64) + 0.5) * pitch
    y: Floats = low[1] + (np.arange(rows, dtype=np.float64) + 0.5) * pitch
    found = polygons(region_above(x, y, within[::-1], 0.0))
    if not found:
        raise BadOutline("drawn line", reason=NO_LINE, advice=MEND)
    simple = Polygon(found[0].exterior).simplify(FINE)
    return tuple((round(float(a), 5), round(float(b), 5)) for a, b in simple.boundary.coords[:-1])
