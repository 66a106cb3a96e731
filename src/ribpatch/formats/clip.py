"""A table as text and as HTML, for the clipboard: what is pasted into a sheet or a letter."""

from __future__ import annotations

from html import escape
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ribpatch.core.figure import Figure
    from ribpatch.core.table import Table
    from ribpatch.core.units import System

Words = tuple[tuple[str, ...], ...]


def table_words(table: Table, system: System) -> Words:
    """The words of a table, its heads first where it has any."""
    rows = tuple(tuple(_said(cell, system) for cell in row.cells) for row in table.rows)
    return (table.columns, *rows) if any(table.columns) else rows


def as_text(rows: Words) -> str:
    """Rows with a tab between their cells."""
    return "\n".join("\t".join(" ".join(cell.split()) for cell in row) for row in rows)


def as_html(rows: Words, right: Sequence[int] = (), headed: bool = True) -> str:
    """Rows as an HTML table; columns of figures stand to the ``right``."""
    made = []
    for number, row in enumerate(rows):
        tag = "th" if headed and number == 0 else "td"
        cells = (
            f'<{tag} align="{"right" if column in right else "left"}">{escape(cell)}</{tag}>'
            for column, cell in enumerate(row)
        )
        made.append(f"<tr>{''.join(cells)}</tr>")
    return f'<meta charset="utf-8"><table border="1" cellspacing="0" cellpadding="3">{"".join(made)}</table>'


def figure_columns(table: Table) -> list[int]:
    """The columns of a table that hold figures."""
    return [c for c in range(len(table.columns)) if any(_holds(row.cells, c) for row in table.rows)]


def _holds(cells: tuple[str | Figure, ...], column: int) -> bool:
    return column < len(cells) and not isinstance(cells[column], str)


def _said(cell: str | Figure, system: System) -> str:
    return cell if isinstance(cell, str) else cell.shown(system)
