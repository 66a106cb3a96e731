"""A picture of a set-off sheet as an outline: its printed marks are found, it is laid flat, its line is read; m."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.paper_sizes import PAPERS
from ribpatch.core.photo.marks_found import found_marks, grey_of
from ribpatch.core.photo.read_sheet import line_on_sheet
from ribpatch.core.photo.sheet_marks import marks_apart
from ribpatch.core.photo.straightened import straightened
from ribpatch.core.record import built
from ribpatch.core.set_straight import Straight
from ribpatch.core.units import Measure
from ribpatch.formats.photographs import kept_picture, pixels_of, read_file

if TYPE_CHECKING:
    from pathlib import Path

    from ribpatch.core.geometry import Ring
    from ribpatch.core.photo.straightened import Straightened

SIDE = 2400  # pixels that a picture is read at


def read_sheet(path: Path, length: float | None = None, width: float | None = None) -> tuple[Ring, Straightened]:
    """The line drawn on a sheet, from mark 1, and how the marks fit. ``length`` and ``width`` are m between marks 1, 2
    and 3; those of A4 where they are not given. Raises BadPhotograph or BadOutline.
    """
    usual = marks_apart(PAPERS["A4"])
    sizes = (length if length is not None else usual[0], width if width is not None else usual[1])
    pixels = pixels_of(kept_picture(read_file(path), SIDE, path.name), path.name)
    marks = found_marks(grey_of(pixels))
    stated = built(
        Straight,
        how="rectangle",
        marks=marks,
        sizes=tuple(Measure(si=v) for v in sizes),
        shape=pixels.shape[0] / pixels.shape[1],
    )
    made = straightened(stated)
    return line_on_sheet(pixels, made), made
