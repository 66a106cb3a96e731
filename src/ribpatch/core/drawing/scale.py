"""Drawing scales: the usual ones, and the largest that fits a sheet. Metres of the thing, millimetres of paper."""

from __future__ import annotations

USUAL = (1, 2, 5, 10, 20, 25, 50, 100, 200)


def scale_for(width: float, height: float, paper_width: float, paper_height: float) -> int:
    """The N of the largest usual 1:N at which ``width`` x ``height`` m fits ``paper_width`` x ``paper_height`` mm."""
    for scale in USUAL:
        if width * 1000 / scale <= paper_width and height * 1000 / scale <= paper_height:
            return scale
    return USUAL[-1]
