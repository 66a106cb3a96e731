"""A sheet laid over a part of the window, at its right; Esc puts it away and gives the keys back."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QObject, QRect, Qt, QTimer
from PySide6.QtWidgets import QApplication, QFrame

from ribpatch.ui.scaling import px
from ribpatch.ui.widgets.keys_back import give_back

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtGui import QKeyEvent
    from PySide6.QtWidgets import QWidget

EDGE = 20  # pixels left round it


class SheetOver(QFrame):
    """Lies over ``room()``, a rectangle of its parent, at most ``wide`` and ``high`` usual pixels large, and is fitted
    anew when its parent changes its size or shares it in another way.
    """

    wide, high = 620, 480

    def __init__(self, parent: QWidget, room: Callable[[], QRect]) -> None:
        super().__init__(parent)
        self._room = room
        self._before: QWidget | None = None  # where the keys were
        self.setObjectName("overlay")
        parent.installEventFilter(self)
        self.hide()

    def wanted_height(self, width: int) -> int:
        """The height in pixels that it wants at a width in pixels, if there is room."""
        return px(self.high)

    def lay_over(self) -> None:
        """Show it over everything else."""
        if not self.isVisible():
            self._before = QApplication.focusWidget()
        self.fit()
        self.show()
        self.raise_()
        self.fit_soon()

    def fit(self) -> None:
        """Take its place in the room as it is now."""
        room = self._room()
        wide = min(px(self.wide), room.width() - 2 * EDGE)
        high = min(self.wanted_height(wide), room.height() - 2 * EDGE)
        self.setGeometry(room.right() + 1 - wide - EDGE, room.y() + EDGE, wide, high)

    def fit_soon(self) -> None:
        """Take its place once what it lies over has its size, and its own rows of buttons know in how many lines they
        stand.
        """
        QTimer.singleShot(0, self, self.fit)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() in (QEvent.Type.Resize, QEvent.Type.LayoutRequest) and self.isVisible():
            self.fit_soon()
        return False

    def close_sheet(self) -> None:
        """Put it away, and the keys back where they were if it has them."""
        if self.isVisible():
            inside = self.hasFocus() or self.isAncestorOf(QApplication.focusWidget() or self)
            self.hide()
            give_back(self._before if inside else None)
            self._before = None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.close_sheet()
        else:
            super().keyPressEvent(event)
