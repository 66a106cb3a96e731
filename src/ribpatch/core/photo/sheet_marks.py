"""Where the marks of a set-off sheet stand on its paper; mm of paper, m between marks."""

from __future__ import annotations

IN = 22.0  # mm from the edge of the sheet to the middle of a mark
FOOT = 34.0  # mm below the lower marks, for words and the check bar


def marks_apart(size: tuple[float, float]) -> tuple[float, float]:
    """Length and width in m between the marks of a sheet of a size in mm: whole centimetres."""
    wide, high = size
    return ((wide - 2 * IN) // 10 / 100, (high - IN - FOOT) // 10 / 100)
