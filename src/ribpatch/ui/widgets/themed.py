"""A widget that is painted whole in a theme's colours."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar

from PySide6.QtCore import QTimer
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QWidget

from ribpatch.ui.scaling import painter_of
from ribpatch.ui.widgets.spoken import Children, listened

if TYPE_CHECKING:
    from PySide6.QtCore import QPointF
    from PySide6.QtGui import QPaintEvent


class Themed(QWidget):
    """Has a name for those who listen, and repaints when its theme changes. What it paints grows with the text, unless
    it is shown pixel by pixel.
    """

    scaled: ClassVar[bool] = True

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = "light"
        self.setAccessibleName(name)
        self._children: Children | None = None

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self.theme = theme
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = painter_of(self) if self.scaled else QPainter(self)
        try:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self.paint(painter)
        finally:
            painter.end()  # a painter left open by an error would take the program down
        if listened():
            QTimer.singleShot(0, self, self._speak)

    def _speak(self) -> None:
        """Offer what is painted to those who listen, where it is not what they were told last."""
        self._children = self._children or Children(self)
        self._children.tell(self.told())

    def told(self) -> list[tuple[str, QPointF]]:
        """What is painted in words, each at its pixel."""
        return []

    def paint(self, painter: QPainter) -> None:
        """Paint it whole."""
