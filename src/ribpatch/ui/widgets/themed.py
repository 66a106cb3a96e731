"""A widget that is painted whole in a theme's colours."""

from __future__ import annotations

from typing import TYPE_CHECKING, ClassVar

from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QWidget

from ribpatch.ui.scaling import painter_of

if TYPE_CHECKING:
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

    def paint(self, painter: QPainter) -> None:
        """Paint it whole."""
