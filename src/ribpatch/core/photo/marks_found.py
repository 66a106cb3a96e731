"""Finding the four printed marks of a set-off sheet in a picture of it.

A mark is a dark ring round a dark dot; that of the first is far wider. Whatever the light and the slant, a dot is
enclosed by its ring and stands near its middle: dark parts are told from what is round them, and each is asked what
lies in its middle. How large the dot is against its ring tells the first from the others, blurred or not.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.errors import BadOutline
from ribpatch.core.photo.drawn_line import ink_in

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.set_straight import Pixel

PRINTED = 0.55  # of it: black print, half way to the paper where the two are blurred
ROOMS = (16, 30, 60)  # parts of the width that a mark may take
Mark = tuple[tuple[float, float], float]  # column, row, and the dot's share of its ring
LEAST, MOST = 9, 0.2  # pixels across, and share of the width, of a ring
DOT = (0.12, 0.42)  # of its ring's size
FIRST = 0.235  # of its ring's size: the dot of the first mark is smaller, the others' larger
OFF = 0.14  # of the ring's size that its dot may stand off its middle
ROUND = 3.2  # times longer than wide, seen at a slant


def found_marks(grey: NDArray[np.uint8]) -> tuple[Pixel, ...]:
    """The marks 1 to 4 in order round the sheet, shares of the width, in a grey picture (height, width). Raises
    BadOutline where there are not four, one of them the first.
    """
    width = grey.shape[1]
    marks: list[Mark] = []
    for part in ROOMS:  # how large a mark is in the picture is not known
        found = _marks_in(ink_in(grey, width // part, PRINTED))
        if len(found) == 4 and sum(share < FIRST for _, share in found) == 1:
            return _in_order(found, width)
        marks = max(marks, found, key=len)
    first = sum(share < FIRST for _, share in marks)
    raise BadOutline(
        "marks",
        reason=f"{len(marks)} printed marks were found, {first} of them a first one; four are wanted, one a first",
        advice="Take the picture nearer, evenly lit, with all four marks in it, or set them by hand.",
    )


def _in_order(marks: list[Mark], width: int) -> tuple[Pixel, ...]:
    """Marks against the clock from the first, shares of the width."""
    places = np.array([dot for dot, _ in marks]) + 0.5
    middle = places.mean(axis=0)
    turn = np.arctan2(-(places[:, 1] - middle[1]), places[:, 0] - middle[0])  # the picture's rows go down
    start = turn[int(np.argmin([share for _, share in marks]))]
    order = np.argsort((turn - start) % (2 * np.pi))
    return tuple((float(u) / width, float(v) / width) for u, v in places[order])


def _marks_in(ink: NDArray[np.bool_]) -> list[Mark]:
    """The middles of dots (column, row) that a ring encloses, and their size as a share of its size."""
    from scipy.ndimage import center_of_mass, find_objects, label

    parts, count = label(ink, np.ones((3, 3)))
    boxes = find_objects(parts)
    sizes = np.array([[(s.stop - s.start) for s in box] for box in boxes], dtype=float).reshape(-1, 2)
    found: list[Mark] = []
    most = MOST * ink.shape[1]
    for part in np.flatnonzero((sizes.min(axis=1) >= LEAST) & (sizes.max(axis=1) <= most)) if count else ():
        if sizes[part].max() > ROUND * sizes[part].min():
            continue
        box = boxes[part]
        middle = np.array([(s.start + s.stop - 1) / 2 for s in box])
        dot = int(parts[tuple(np.rint(middle).astype(int))])
        if dot in (0, part + 1):
            continue
        share = float(np.sqrt(np.prod(sizes[dot - 1] / sizes[part])))
        if not DOT[0] <= share <= DOT[1]:
            continue
        at = np.array(center_of_mass(ink[boxes[dot - 1]], parts[boxes[dot - 1]], dot))
        at += [s.start for s in boxes[dot - 1]]
        if (np.abs(at - middle) <= OFF * sizes[part]).all() and _encloses(parts[box] == part + 1):
            found.append(((float(at[1]), float(at[0])), share))
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
