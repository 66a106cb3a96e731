"""A core table on screen: figures show their working on a click or F2, a row can be taken with Enter or its button."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ribpatch.core.figure import Figure
from ribpatch.ui.scaling import px
from ribpatch.ui.theme import colours, text_font
from ribpatch.ui.widgets.columns import shared_width
from ribpatch.ui.widgets.elided import Elided

if TYPE_CHECKING:
    from PySide6.QtGui import QKeyEvent, QResizeEvent

    from ribpatch.core.table import Row, Table
    from ribpatch.core.units import System

PADDING, MOST_FIRST = 34, 0.45  # pixels round the words of a first column; its most share of the width
LEAST_FIRST, LEAST_WORDS = 110, 90  # pixels of the first and of another column of words, however little is left
WORD = 14  # pixels round a word
LONG = 28  # letters of a column that shares what room is left


class _Grid(QTableWidget):
    """The cells. ``picked`` carries row and column of a click, Enter or F2."""

    asked = Signal(int, int)
    taken = Signal(int)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        at = self.currentIndex()
        if event.key() == Qt.Key.Key_F2 and at.isValid():
            self.asked.emit(at.row(), at.column())
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and at.isValid():
            self.taken.emit(at.row())
        else:
            super().keyPressEvent(event)


class TableView(QWidget):
    """Shows one Table. ``asked`` carries a figure whose working is wanted, ``taken`` the key of a row chosen."""

    asked = Signal(object)
    taken = Signal(str)

    def __init__(self, name: str, parent: QWidget | None = None, first_whole: bool = False) -> None:
        super().__init__(parent)
        self.theme = "light"
        self._first_whole = first_whole  # the first column keeps its words on one line, others give way
        self._table: Table | None = None
        self._longest: list[str] = []  # words of each column
        self._shown: tuple[object, ...] = ()
        self.grid = _Grid()
        self.grid.setAccessibleName(name)
        self.grid.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.grid.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.grid.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.grid.verticalHeader().hide()
        self.grid.setShowGrid(False)
        self.grid.setWordWrap(True)
        self.grid.setTabKeyNavigation(False)
        self.grid.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.grid.setFont(text_font(9))
        self._row_height()
        self.grid.setObjectName("table")
        self.grid.cellClicked.connect(self._ask)
        self.grid.asked.connect(self._ask)
        self.grid.taken.connect(self._take)
        self.grid.cellDoubleClicked.connect(lambda row, _column: self._take(row))
        self.note = Elided()  # one line: the rows want the room; all of it stands in its tooltip
        self.note.setObjectName("soft")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        layout.addWidget(self.grid, 1)
        layout.addWidget(self.note)

    @property
    def table(self) -> Table | None:
        """The table shown."""
        return self._table

    def _row_height(self) -> None:
        high = 27 if self.theme.startswith("shed") else 20  # a row for a finger, or for the eye
        head = self.grid.verticalHeader()
        head.setMinimumSectionSize(px(high) - 1)
        head.setDefaultSectionSize(px(high))

    def show_table(self, table: Table, system: System) -> None:
        """Show a table; the row looked at stays where its key is still there."""
        key = (table, system, self.theme)
        if key == self._shown:
            return
        kept = self.current_key
        self._shown, self._table = key, table
        grid = self.grid
        grid.setRowCount(0)
        # Columns fitted to their words are measured anew at every cell; they share the width when all are there.
        grid.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        grid.setColumnCount(len(table.columns))
        grid.setHorizontalHeaderLabels(list(table.columns))
        grid.horizontalHeader().setVisible(any(table.columns))
        grid.setRowCount(len(table.rows))
        for index, row in enumerate(table.rows):
            self._show_row(index, row, system)
        self._fit(table)
        self.note.setText(table.note if table.rows else table.empty)
        self.note.setVisible(bool(self.note.words))
        for index, row in enumerate(table.rows):
            if kept and row.key == kept:
                grid.setCurrentCell(index, 0)

    @property
    def current_key(self) -> str:
        """The key of the row looked at."""
        row = self.grid.currentRow()
        rows = self._table.rows if self._table else ()
        return rows[row].key if 0 <= row < len(rows) else ""

    def _fit(self, table: Table) -> None:
        header = self.grid.horizontalHeader()
        header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        self._longest = [
            max((_text(row.cells[c], "metric") for row in table.rows if c < len(row.cells)), key=len, default="")
            for c in range(len(table.columns))
        ]
        QTimer.singleShot(0, self.grid, self._settle)  # once the table has its width

    def _settle(self) -> None:
        """Share the width among the columns, and give every row the lines that it needs."""
        table = self._table
        if table is None or not table.columns or self.grid.columnCount() != len(table.columns):
            return
        header, room = self.grid.horizontalHeader(), self.grid.viewport().width()
        hints = [header.sectionSizeHint(c) if header.isVisibleTo(self.grid) else 0 for c in range(len(table.columns))]
        whole = [max(self.grid.sizeHintForColumn(c), hint) for c, hint in enumerate(hints)]
        gives = [c == 0 or len(text) > LONG for c, text in enumerate(self._longest)]
        least = [max(self._least(c) if g else 0, hints[c]) for c, g in enumerate(gives)]
        if self._first_whole and table.rows:
            whole[0] = min(self._first(), max(round(MOST_FIRST * room), least[0]))
        words = [c for c, g in enumerate(gives) if g and (c or not self._first_whole)]
        for column, width in enumerate(shared_width(room, whole, least, gives, words[0] if words else None)):
            header.resizeSection(column, width)
        self.grid.resizeRowsToContents()

    def _least(self, column: int) -> int:
        """Pixels of a column of words: the longest word, and no narrower than a few words beside each other."""
        rows = self._table.rows if self._table else ()
        words = (w for r in rows if column < len(r.cells) for w in _text(r.cells[column], "metric").split())
        longest = self.grid.fontMetrics().horizontalAdvance(max(words, key=len, default="")) + WORD
        return max(longest, px(LEAST_FIRST if column == 0 else LEAST_WORDS))

    def _first(self) -> int:
        """Pixels of the first column with its words on one line."""
        rows = self._table.rows if self._table else ()
        return max(self.grid.fontMetrics().horizontalAdvance(_text(r.cells[0], "metric")) for r in rows) + PADDING

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._settle()

    def _show_row(self, index: int, row: Row, system: System) -> None:
        c = colours(self.theme)
        for column, cell in enumerate(row.cells):
            text = _text(cell, system)
            item = QTableWidgetItem(
                f"⚠ {text}"
                if row.mark == "warn" and column == 0
                else f"● {text}"
                if row.mark == "chosen" and column == 0
                else text
            )
            if isinstance(cell, Figure):
                item.setForeground(c["accent"])
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                item.setToolTip(f"{cell.name}: show the working (click or F2)")
            elif row.why:
                item.setToolTip(row.why)
            if row.mark == "head":
                item.setForeground(c["soft"])
                item.setFont(text_font(9))
            elif row.mark == "warn" and not isinstance(cell, Figure):
                item.setForeground(c["warn"])
            elif row.mark == "chosen":
                item.setBackground(c["accent-soft"])
            self.grid.setItem(index, column, item)

    def _ask(self, row: int, column: int) -> None:
        rows = self._table.rows if self._table else ()
        if row < len(rows) and column < len(rows[row].cells):
            cell = rows[row].cells[column]
            if isinstance(cell, Figure):
                self.asked.emit(cell)

    def _take(self, row: int) -> None:
        if self._table and self._table.take and row < len(self._table.rows) and self._table.rows[row].key:
            self.taken.emit(self._table.rows[row].key)

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self.theme, table = theme, self._table
        self._row_height()
        if table is not None and self._shown:
            system: System = self._shown[1]  # type: ignore[assignment]  # the key holds it second
            self.show_table(table, system)


def _text(cell: str | Figure, system: System) -> str:
    return cell if isinstance(cell, str) else cell.shown(system)
