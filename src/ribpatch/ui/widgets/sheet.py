"""A plain table of cells that may hold figures to ask about or prices to type."""

from __future__ import annotations

from contextlib import contextmanager
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QAbstractItemDelegate, QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from ribpatch.ui.scaling import sized

if TYPE_CHECKING:
    from collections.abc import Iterator

    from PySide6.QtGui import QKeyEvent, QResizeEvent
    from PySide6.QtWidgets import QWidget

    from ribpatch.core.figure import Figure

RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
LEAST_WIDE = 170  # pixels of the column that takes what is left
FIGURE = Qt.ItemDataRole.UserRole


class Sheet(QTableWidget):
    """A read-only table whose cells may hold figures; ``asked`` carries one."""

    asked = Signal(object)

    def __init__(self, columns: tuple[str, ...], name: str, wide: int = 0) -> None:
        super().__init__(0, len(columns))
        self.setAccessibleName(name)
        self.setHorizontalHeaderLabels(list(columns))
        self.verticalHeader().hide()
        sized(self, rows=25)
        self.setAlternatingRowColors(True)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setTabKeyNavigation(False)
        self._wide = wide
        self._fit(QHeaderView.ResizeMode.ResizeToContents)
        head = self.horizontalHeader()
        head.setSectionResizeMode(wide, QHeaderView.ResizeMode.Stretch)
        head.setMinimumSectionSize(44)
        self.cellClicked.connect(self._clicked)

    def _fit(self, mode: QHeaderView.ResizeMode) -> None:
        for column in range(self.columnCount()):
            if column != self._wide:
                self.horizontalHeader().setSectionResizeMode(column, mode)

    @contextmanager
    def filling(self, rows: int) -> Iterator[None]:
        """Fill so many rows: nothing is told of it, and columns are fitted once, not at every cell."""
        blocked = self.blockSignals(True)
        self._fit(QHeaderView.ResizeMode.Fixed)
        try:
            self.setRowCount(rows)
            yield
        finally:
            self._fit(QHeaderView.ResizeMode.ResizeToContents)
            self.blockSignals(blocked)

    def put(
        self,
        row: int,
        column: int,
        text: str,
        figure: Figure | None = None,
        right: bool = False,
        editable: bool = False,
    ) -> QTableWidgetItem:
        """Set a cell."""
        item = QTableWidgetItem(text)
        if column == self._wide:
            item.setToolTip(text)  # where it is too narrow they stand whole there
        flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        item.setFlags(flags | Qt.ItemFlag.ItemIsEditable if editable else flags)
        if right:
            item.setTextAlignment(RIGHT)
        if figure is not None:
            item.setData(FIGURE, figure.id)
            item.setToolTip(f"{figure.name}: show the working (click)")
        if editable:
            item.setToolTip("Double-click to type your own")
        self.setItem(row, column, item)
        return item

    def resizeEvent(self, event: QResizeEvent) -> None:
        """The wide column takes what is left, and what its words want at least."""
        super().resizeEvent(event)
        head, others = self.horizontalHeader(), (n for n in range(self.columnCount()) if n != self._wide)
        left = self.viewport().width() - sum(self.columnWidth(n) for n in others if not self.isColumnHidden(n))
        if left >= LEAST_WIDE:
            head.setSectionResizeMode(self._wide, QHeaderView.ResizeMode.Stretch)
        else:
            head.setSectionResizeMode(self._wide, QHeaderView.ResizeMode.Fixed)
            head.resizeSection(self._wide, LEAST_WIDE)

    def closeEditor(self, editor: QWidget, hint: QAbstractItemDelegate.EndEditHint) -> None:
        """Tab leaves what was typed and the table too, instead of going round in its cells."""
        ways = {
            QAbstractItemDelegate.EndEditHint.EditNextItem: True,
            QAbstractItemDelegate.EndEditHint.EditPreviousItem: False,
        }
        super().closeEditor(editor, QAbstractItemDelegate.EndEditHint.NoHint if hint in ways else hint)
        if hint in ways:
            self.setFocus()
            self.focusNextPrevChild(ways[hint])

    def keyPressEvent(self, event: QKeyEvent) -> None:
        item = self.item(self.currentRow(), self.currentColumn())
        if event.key() == Qt.Key.Key_F2 and item is not None and item.data(FIGURE):
            self._clicked(item.row(), item.column())
            return
        super().keyPressEvent(event)

    def _clicked(self, row: int, column: int) -> None:
        item = self.item(row, column)
        if item is not None and item.data(FIGURE):
            self.asked.emit(item.data(FIGURE))
