"""Numbers of a CSV, with either decimal mark. Whether a mark groups thousands is seen from the whole file, or not
known.

``1.024`` may be a little over one or a thousand and more. In metres, feet and inches such a number is meant as it
stands; in millimetres and centimetres it is taken so only where another number of the file shows what the mark is for.
"""

from __future__ import annotations

import math
import re
from typing import TYPE_CHECKING

from ribpatch.formats.csv_columns import UNITS, Columns

if TYPE_CHECKING:
    from collections.abc import Iterable

_GROUPED = re.compile(r"[+-]?[1-9]\d{0,2}([.,])\d{3}")
_MILLIONS = re.compile(r"[+-]?[1-9]\d{0,2}([.,'\u202f ])\d{3}(?:\1\d{3})+(?:[.,]\d+)?")
_BOTH = re.compile(r"[+-]?\d{1,3}(?:([.,'])\d{3})+(?!\1)[.,]\d+")
_DECIMAL = re.compile(r"[+-]?\d+([.,])(?:\d{1,2}|\d{4,})(?:e[+-]?\d+)?")
_FINE = (UNITS["mm"], UNITS["cm"])  # units in which three decimals are never meant
UNKNOWN = "?"


def plain(text: str) -> str:
    """A number's text without the signs that only look different."""
    return text.strip().replace("\u00a0", "").replace("−", "-")


def thousands_of(rows: Iterable[tuple[int, list[str] | None, str]], columns: Columns) -> str:
    """The mark that groups thousands in the places of a file; empty where none does, UNKNOWN where it cannot be
    told.
    """
    decimal, thousand, doubtful = set(), set(), set()
    for _, cells, _ in rows:
        for name, factor in zip(("x", "y"), columns.factors, strict=True):
            index = columns.at[name]
            text = plain(cells[index]) if cells is not None and index < len(cells) else ""
            if found := _MILLIONS.fullmatch(text) or _BOTH.fullmatch(text):
                thousand.add(found[1])
            elif found := _DECIMAL.fullmatch(text):
                decimal.add(found[1])
            elif (found := _GROUPED.fullmatch(text)) and factor in _FINE:
                doubtful.add(found[1])
    if thousand:
        return thousand.pop() if len(thousand) == 1 and not thousand & decimal else UNKNOWN
    doubtful -= decimal
    return UNKNOWN if doubtful else ""


def place_number(text: str, what: str, factor: float, columns: Columns) -> float:
    """A coordinate in the unit of its column; raises ValueError that says what and why."""
    clean = plain(text)
    if factor in _FINE:
        if columns.thousands == UNKNOWN and (_GROUPED.fullmatch(clean) or _MILLIONS.fullmatch(clean)):
            whole = re.sub(r"[.,]", "", clean)
            raise ValueError(
                f"{what} “{clean}” may be {whole} or {clean.replace(',', '.')}: write it without the mark, or with one "
                "decimal"
            )
        if columns.thousands and columns.thousands != UNKNOWN:
            clean = clean.replace(columns.thousands, "")
    return number(clean, what, columns.mark)


def number(text: str, what: str, mark: str) -> float:
    """A number with either decimal mark; raises ValueError that says what and why."""
    clean = plain(text)
    if "," in clean and "." not in clean and mark != ",":
        clean = clean.replace(",", ".")
    try:
        value = float(clean)
    except ValueError:
        raise ValueError(f"{what} “{text.strip()[:40]}” is no number") from None
    if not math.isfinite(value) or "_" in clean:
        raise ValueError(f"{what} “{text.strip()[:40]}” is no finite number")
    return value
