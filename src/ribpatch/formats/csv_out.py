"""CSV that other programs open: the one gate through which its text goes out. Numbers stay numbers; of words none is
taken for a formula, and nothing is in them that cannot be printed.
"""

from __future__ import annotations

import csv
import io
import re
from typing import TYPE_CHECKING

from ribpatch.core.text import cell_text, many_lines, printable

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

_NUMBER = re.compile(r"[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?", re.IGNORECASE)


def csv_text(rows: Iterable[Sequence[object]], paragraphs: bool = False) -> str:
    """The rows as CSV text; a cell is one line, or keeps its ``paragraphs``."""
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\n")
    writer.writerows([_cell(value, paragraphs) for value in row] for row in rows)
    return stream.getvalue()


def _cell(value: object, paragraphs: bool) -> object:
    if not isinstance(value, str) or _NUMBER.fullmatch(value):
        return value
    return cell_text(many_lines(value) if paragraphs else printable(value))
