"""Which column of a CSV is what: by its name, or as the user said."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.errors import FileProblem

if TYPE_CHECKING:
    from collections.abc import Mapping

UNITS = {"mm": 1e-3, "cm": 1e-2, "m": 1.0, "in": 0.0254, "ft": 0.3048}
SPELLED = {
    "millimetre": "mm",
    "millimetres": "mm",
    "millimeter": "mm",
    "millimeters": "mm",
    "centimetre": "cm",
    "centimetres": "cm",
    "centimeter": "cm",
    "centimeters": "cm",
    "metre": "m",
    "metres": "m",
    "meter": "m",
    "meters": "m",
    "inch": "in",
    "inches": "in",
    "foot": "ft",
    "feet": "ft",
}
NEEDED = ("x", "y", "kind", "value")
NAMES: dict[str, set[str]] = {
    "x": {"x", "along", "across"},
    "y": {"y", "up", "height"},
    "kind": {"kind", "type", "instrument", "what"},
    "value": {"value", "reading", "grade", "result"},
}
FURTHER = (
    "reference",
    "deflection m",
    "centroid hz",
    "decay s",
    "contact s",
    "shape",
    "recording",
    "start s",
    "points m",
    "layers",
    "time",
    "who",
    "note",
    "photographs",
    "session",
    "session date",
    "session who",
    "session note",
)
NAMED = "The first line must name the columns x, y, kind and value."
MARKS = {",": "commas", ";": "semicolons", "\t": "tabs"}


class UnclearColumns(FileProblem):
    """Columns that cannot be told by their names: the user is asked."""

    def __init__(self, where: str, cells: list[str], missing: list[str]) -> None:
        super().__init__(where, reason=f"has no column {', '.join(missing)} in its first line", advice=NAMED)
        self.cells, self.missing = tuple(cells), tuple(missing)

    @property
    def header(self) -> str:
        """The first line as one text, to remember the answer by."""
        return "\t".join(cell.strip().lower() for cell in self.cells)


class Columns(Struct, frozen=True):
    """Column numbers by what they hold, the metres of a unit of x and y, the separator, how many columns there are, and
    the kind of all rows where no column says it.
    """

    at: dict[str, int]
    factors: tuple[float, float]
    mark: str
    width: int
    kind: str = ""
    thousands: str = ""  # the mark that groups thousands in x and y, where the file shows one

    @property
    def words(self) -> str:
        """How the file was understood."""
        unit = next(u for u, f in UNITS.items() if f == self.factors[0])
        return f"columns parted by {MARKS[self.mark]}, places in {unit}"


def separator(header: str) -> str:
    """The separator of a header line."""
    return max((";", "\t", ","), key=header.count)


def unit_of(name: str, where: str) -> float:
    """The metres of the unit that a column's name gives, millimetres where it gives none; FileProblem for an unknown
    one.
    """
    words = [SPELLED.get(w, w) for w in re.findall(r"[a-z]+", name)[1:]]
    named = [w for w in words if w in UNITS]
    if len(named) > 1 and named[0] == "in":  # “x in mm”: the first is the word, not the unit
        named = named[1:]
    if len(set(named)) > 1:
        raise FileProblem(where, reason=f"names two units for one column, “{name}”", advice="Name one, like x mm.")
    unknown = re.findall(r"[\[(]\s*([^\])]*?)\s*[\])]", name)
    if not named and unknown:
        raise FileProblem(
            where, reason=f"gives “{name}” in a unit that is not known", advice=f"Use one of {', '.join(UNITS)}."
        )
    return UNITS[named[0]] if named else UNITS["mm"]


def columns_of(cells: list[str], mark: str, where: str, mapping: Mapping[str, str]) -> Columns:
    """The columns by their names, or by ``mapping`` (what -> column name, ``=kind`` for all rows, ``unit``)."""
    at: dict[str, int] = {}
    units: dict[str, float] = {}
    lower = [cell.strip().lower() for cell in cells]
    for what, column in mapping.items():
        if what in NEEDED and column.lower() in lower:
            at[what] = lower.index(column.lower())
            units[what] = UNITS.get(mapping.get("unit", "mm"), 1e-3)
    for index, cell in enumerate(lower):
        words = re.findall(r"[a-z]+", cell)
        for name, known in NAMES.items():
            if words and words[0] in known and name not in at and index not in at.values():
                at[name] = index
                units[name] = unit_of(cell, where)
        if cell in FURTHER and index not in at.values():
            at[cell] = index
    kind = mapping.get("kind", "").removeprefix("=") if mapping.get("kind", "").startswith("=") else ""
    missing = [name for name in NEEDED if name not in at and not (name == "kind" and kind)]
    if missing and len(cells) < len(NEEDED) - 1:  # too few to ask about: the kind alone can be said for all rows
        raise FileProblem(where, reason=f"has no column {', '.join(missing)} in its first line", advice=NAMED)
    if missing:
        raise UnclearColumns(where, cells, missing)
    return Columns(at, (units["x"], units["y"]), mark, len(cells), kind)
