"""A list to choose one thing from: its name, and in smaller letters what tells it from the others."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QRect, QSize, Qt, Signal
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QStyledItemDelegate

from ribpatch.ui.scaling import grown, px
from ribpatch.ui.theme import text_font

if TYPE_CHECKING:
    from collections.abc import Iterable

    from PySide6.QtCore import QModelIndex, QPersistentModelIndex
    from PySide6.QtGui import QKeyEvent, QPainter
    from PySide6.QtWidgets import QStyleOptionViewItem, QWidget

ROW = 42  # pixels
_SAID = Qt.ItemDataRole.UserRole + 1


class _TwoLines(QStyledItemDelegate):
    """Name over words."""

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> QSize:
        return grown(QSize(120, ROW))

    def paint(
        self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        from PySide6.QtGui import QPalette
        from PySide6.QtWidgets import QStyle

        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        rect: QRect = option.rect
        palette: QPalette = option.palette
        painter.save()
        if chosen:
            painter.fillRect(rect, palette.color(QPalette.ColorRole.Highlight))
        ink = QPalette.ColorRole.HighlightedText if chosen else QPalette.ColorRole.Text
        painter.setPen(palette.color(ink))
        painter.setFont(text_font(10, bold=chosen))
        name = painter.fontMetrics().elidedText(str(index.data()), Qt.TextElideMode.ElideRight, rect.width() - 14)
        painter.drawText(rect.adjusted(10, px(3), -4, -px(20)), Qt.AlignmentFlag.AlignVCenter, name)
        painter.setPen(palette.color(ink if chosen else QPalette.ColorRole.PlaceholderText))
        painter.setFont(text_font(8.5))
        words = painter.fontMetrics().elidedText(str(index.data(_SAID)), Qt.TextElideMode.ElideRight, rect.width() - 16)
        painter.drawText(rect.adjusted(10, px(21), -4, -2), Qt.AlignmentFlag.AlignVCenter, words)
        painter.restore()


class PickList(QListWidget):
    """``picked`` carries the id of the row that is chosen, ``taken`` that of a row entered with Enter or two clicks."""

    picked = Signal(object)
    taken = Signal(object)

    def __init__(self, name: str, items: Iterable[tuple[str, str, str]], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(name)
        self.setItemDelegate(_TwoLines(self))
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setTabKeyNavigation(False)
        for identity, title, said in items:
            row = QListWidgetItem(title)
            row.setData(Qt.ItemDataRole.UserRole, identity)
            row.setData(_SAID, said)
            row.setData(Qt.ItemDataRole.AccessibleDescriptionRole, said)
            row.setToolTip(said)
            self.addItem(row)
        self.setCurrentRow(0)
        self.currentRowChanged.connect(lambda _row: self.picked.emit(self.chosen))
        self.itemDoubleClicked.connect(lambda _item: self.taken.emit(self.chosen))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                event.ignore()  # of the page around it
            else:
                self.taken.emit(self.chosen)
            return
        super().keyPressEvent(event)

    @property
    def chosen(self) -> str:
        """The id of the chosen row; empty in an empty list."""
        item = self.currentItem()
        return str(item.data(Qt.ItemDataRole.UserRole)) if item is not None else ""

    def choose(self, identity: str) -> None:
        """Choose a row by its id."""
        for row in range(self.count()):
            if self.item(row).data(Qt.ItemDataRole.UserRole) == identity:
                self.setCurrentRow(row)
