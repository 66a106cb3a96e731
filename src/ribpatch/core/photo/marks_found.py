"""Finding the four printed marks of a set-off sheet in a picture of it.

A mark is a dark ring round a dark dot; the first has a second ring round it. Whatever the light and the slant, a dot
is enclosed by its ring and stands near its middle: dark parts are told from what is round them, and each is asked what
lies in its middle.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.errors import BadOutline

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.set_straight import Pixel

ROOM = 10  # parts of the width that the light is averaged over
DARKER = 0.82  # of the light round it: ink
LEAST, MOST = 9, 0.2  # pixels across, and share of the width, of a ring
DOT = (0.12, 0.5)  # of its ring's size, across
OFF = 0.14  # of the ring's size that its dot may stand off its middle
ROUND = 3.2  # times longer than wide, seen at a slant


def found_marks(grey: NDArray[np.uint8]) -> tuple[Pixel, ...]:
    """The marks 1 to 4 in order round the sheet, shares of the width, in a grey picture (height, width). Raises
    BadOutline where there are not four, one of them the first.
    """
    rings = _rings_by_dot(_ink(grey))
    marks = [(dot, len(sizes)) for dot, sizes in rings.items()]
    first = [dot for dot, count in marks if count == 2]
    if len(marks) != 4 or len(first) != 1:
        raise BadOutline(
            "marks",
            reason=f"{len(marks)} printed marks were found, {len(first)} of them a first one; four are wanted, one a "
            "first",
            advice="Take the picture nearer, evenly lit, with all four marks in it, or set them by hand.",
        )
    width = grey.shape[1]
    places = np.array([dot for dot, _ in marks]) + 0.5
    middle = places.mean(axis=0)
    turn = np.arctan2(-(places[:, 1] - middle[1]), places[:, 0] - middle[0])  # the picture's rows go down
    start = turn[[dot for dot, _ in marks].index(first[0])]
    order = np.argsort((turn - start) % (2 * np.pi))
    return tuple((float(u) / width, float(v) / width) for u, v in places[order])


def _ink(grey: NDArray[np.uint8]) -> NDArray[np.bool_]:
    """Where it is darker than what is round it."""
    from scipy.ndimage import uniform_filter

    light = uniform_filter(grey.astype(np.float32), max(grey.shape[1] // ROOM, 3))
    return np.asarray(grey < DARKER * light)


def _rings_by_dot(ink: NDArray[np.bool_]) -> dict[tuple[float, float], list[float]]:
    """The middles of dots (column, row) with the sizes of the rings round each."""
    from scipy.ndimage import center_of_mass, find_objects, label

    parts, count = label(ink, np.ones((3, 3)))
    boxes = find_objects(parts)
    sizes = np.array([[(s.stop - s.start) for s in box] for box in boxes]).reshape(-1, 2)
    found: dict[tuple[float, float], list[float]] = {}
    most = MOST * ink.shape[1]
    for part in np.flatnonzero((sizes.min(axis=1) >= LEAST) & (sizes.max(axis=1) <= most)) if count else ():
        high, wide = sizes[part]
        if max(high, wide) > ROUND * min(high, wide):
            continue
        box = boxes[part]
        middle = np.array([(s.start + s.stop - 1) / 2 for s in box])
        dot = int(parts[tuple(np.rint(middle).astype(int))])
        if dot in (0, part + 1):
            continue
        share = sizes[dot - 1] / sizes[part]
        if not ((DOT[0] <= share) & (share <= DOT[1])).all():
            continue
        at = np.array(center_of_mass(ink[boxes[dot - 1]], parts[boxes[dot - 1]], dot))
        at += [s.start for s in boxes[dot - 1]]
        if (np.abs(at - middle) <= OFF * np.array([high, wide])).all() and _encloses(parts[box] == part + 1):
            found.setdefault((float(at[1]), float(at[0])), []).append(float(max(high, wide)))
    return found


def _encloses(ring: NDArray[np.bool_]) -> bool:
    """Whether a part closes round its middle: no way out over what is not it."""
    from scipy.ndimage import label

    rest, _ = label(np.pad(~ring, 1, constant_values=True))
    return bool(rest[rest.shape[0] // 2, rest.shape[1] // 2] != rest[0, 0])


def grey_of(pixels: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """A picture (height, width, 3) in grey, by how bright its colours look."""
    weights = np.array([0.299, 0.587, 0.114], dtype=np.float32)
    return np.asarray(np.rint(pixels[..., :3].astype(np.float32) @ weights), dtype=np.uint8)
