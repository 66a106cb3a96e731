"""CSV text into rows of cells, each with the line that it begins on. A quotation mark that is opened by mistake costs
its own row, not the rows after it.
"""

from __future__ import annotations

import csv
import re
from typing import TYPE_CHECKING

from ribpatch.core.text import words_of_cell

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

_ENDS = re.compile(r"\r\n|\n|\r")  # not str.splitlines: a vertical tab or U+2028 inside a note ends no row
_SAID = re.compile(r"sep=(.)", re.IGNORECASE)
MOST_WRONG = 100
MOST_LINES = 60  # of one row: a note may have paragraphs
STRAY = "a quotation mark is opened here and not closed"


def lines_of(text: str) -> tuple[list[str], int, str]:
    """The lines, the number of the first one that holds anything (as many as there are lines where none does), and the
    separator that a line ``sep=`` before it names, if there is one."""
    lines = _ENDS.split(text)
    first, said = 0, ""
    while first < len(lines) and (not lines[first].strip() or (not said and _SAID.fullmatch(lines[first].strip()))):
        match = _SAID.fullmatch(lines[first].strip())
        said = match[1] if match else said
        first += 1
    return lines, first, said


def rows_of(
    lines: list[str], start: int, mark: str, is_row: Callable[[list[str]], bool]
) -> Iterator[tuple[int, list[str] | None, str]]:
    """From line ``start`` on: the place of each row's first line, its cells (None where its quotes are wrong), its
    text.

    ``is_row`` tells whether cells look like a row of their own: such a line does not belong into a quoted cell.
    """
    at, wrong = start, 0
    while at < len(lines):
        line = lines[at]
        if '"' not in line:
            yield at, [words_of_cell(c) for c in line.split(mark)] if "'" in line else line.split(mark), line
            at += 1
            continue
        # A text full of stray quotes is not searched for their ends again and again.
        taken = _quoted(lines, at, mark, is_row, 1 if wrong > MOST_WRONG else MOST_LINES)
        if taken is None:
            wrong += 1
            yield at, None, line
            at += 1
        else:
            cells, count = taken
            yield at, [words_of_cell(c) for c in cells], line
            at += count


def _quoted(
    lines: list[str], at: int, mark: str, is_row: Callable[[list[str]], bool], most: int
) -> tuple[list[str], int] | None:
    """The cells of a row with quotes and how many lines it takes; None where it cannot be read."""
    for count in range(1, min(most, len(lines) - at) + 1):
        if count > 1 and is_row(lines[at + count - 1].split(mark)):
            return None
        try:
            (cells,) = csv.reader(["\n".join(lines[at : at + count])], delimiter=mark, strict=True)
        except (csv.Error, ValueError) as error:
            if "unexpected end" not in str(error):
                return None
            continue
        return cells, count
    return None
