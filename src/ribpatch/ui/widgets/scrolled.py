"""Room for a page that may want more than there is: tables and drawings in it give way first, then it scrolls."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QObject, QSize, Qt
from PySide6.QtWidgets import QFrame, QScrollArea, QWidget

if TYPE_CHECKING:
    from PySide6.QtGui import QResizeEvent

LEAST = 60  # pixels of height that it needs itself


class Scrolled(QScrollArea):
    """Gives its page the room that there is, or the least that the page can do with, and scrolls the rest."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._page = QWidget()

    def hold(self, page: QWidget) -> None:
        """Take the page; one that was made in the viewport is not styled anew for it."""
        self._page = page
        self.setWidget(page)
        page.installEventFilter(self)

    def minimumSizeHint(self) -> QSize:
        return QSize(0, LEAST)

    def sizeHint(self) -> QSize:
        return self._page.sizeHint()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        # A page that was hidden while its text grew asks for no more room then, only once it is seen.
        if watched is self._page and event.type() in (QEvent.Type.LayoutRequest, QEvent.Type.Show):
            self._fit()
        return False

    def _fit(self) -> None:
        page, room = self._page, self.maximumViewportSize()
        wide, high = self._least(page, room.width())
        if high > room.height():  # the bar takes some of the width, which words may need to stand in fewer lines
            wide, high = self._least(page, room.width() - self.verticalScrollBar().sizeHint().width())
        page.resize(max(wide, 1), max(high, room.height()))

    def _least(self, page: QWidget, width: int) -> tuple[int, int]:
        """Width and height of the page in a room of that width."""
        least = page.minimumSizeHint()
        width = max(width, least.width())
        layout = page.layout()
        high = layout.minimumHeightForWidth(width) if layout is not None and layout.hasHeightForWidth() else 0
        return width, max(high, least.height())
