"""Things in a row that goes on in the next line where there is no room for them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, QRect, QSize, Qt
from PySide6.QtWidgets import QLayout, QLayoutItem, QWidget

if TYPE_CHECKING:
    from PySide6.QtGui import QResizeEvent


class Flow(QLayout):
    """Lays its items out from left to right, then line by line."""

    def __init__(self, parent: QWidget | None = None, spacing: int = 4) -> None:
        super().__init__(parent)
        self.setContentsMargins(0, 0, 0, 0)
        self.setSpacing(spacing)
        self._items: list[QLayoutItem] = []

    def addItem(self, item: QLayoutItem) -> None:
        self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:  # Qt asks past the end as well
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:  # Qt asks past the end as well
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._lay(QRect(0, 0, width, 0), move=False)

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._lay(rect, move=True)

    def sizeHint(self) -> QSize:
        shown = [i.sizeHint() for i in self._items if not i.isEmpty()]
        wide = sum(s.width() for s in shown) + self.spacing() * max(len(shown) - 1, 0)
        return QSize(wide, max((s.height() for s in shown), default=0))

    def minimumSize(self) -> QSize:
        shown = [i.minimumSize() for i in self._items if not i.isEmpty()]
        return QSize(max((s.width() for s in shown), default=0), max((s.height() for s in shown), default=0))

    def _lay(self, rect: QRect, move: bool) -> int:
        """Lay the items out; the height that they take."""
        x, y, line = rect.x(), rect.y(), 0
        for item in self._items:
            if item.isEmpty():
                continue
            size = item.sizeHint()
            if x > rect.x() and x + size.width() > rect.right() + 1:
                x, y, line = rect.x(), y + line + self.spacing(), 0
            if move:
                item.setGeometry(QRect(QPoint(x, y), size))
            x += size.width() + self.spacing()
            line = max(line, size.height())
        return y + line - rect.y()


class FlowRow(QWidget):
    """A widget of items that flow. What shares height without asking how many lines there are is told so."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.flow = Flow(self)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.keep_height()

    def keep_height(self) -> None:
        """Be as high as the lines are, after other items."""
        self.setMinimumHeight(self.flow.heightForWidth(self.width()))
