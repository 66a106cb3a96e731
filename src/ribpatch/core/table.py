"""Tables for people: columns and rows of words and figures. A row's key says what choosing it means."""

from __future__ import annotations

from msgspec import Struct

from ribpatch.core.figure import Figure

Cell = str | Figure


class Row(Struct, frozen=True, eq=False):
    """One row; ``mark`` is empty, ``chosen``, ``warn`` or ``head``; ``why`` explains it."""

    key: str
    cells: tuple[Cell, ...]
    mark: str = ""
    why: str = ""


class Table(Struct, frozen=True, eq=False):
    """Columns of a table; a figure in a cell can be asked for its working. ``take`` names what choosing a row does."""

    columns: tuple[str, ...]
    rows: tuple[Row, ...]
    note: str = ""
    take: str = ""
    empty: str = "Nothing yet."


NOTHING = Table(("",), ())
