"""A small drawing in a form: shown whole, with no tools."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.ui.scaling import factor, room_of, sized
from ribpatch.ui.theme import colours
from ribpatch.ui.widgets.painter import DrawingPainter
from ribpatch.ui.widgets.themed import Themed
from ribpatch.ui.widgets.view import fitted

if TYPE_CHECKING:
    from PySide6.QtCore import QPointF
    from PySide6.QtGui import QPainter
    from PySide6.QtWidgets import QWidget

    from ribpatch.core.drawing.shapes import Drawing
    from ribpatch.ui.widgets.view import View

MARGINS = (16, 12, 16, 12)


class Sketch(Themed):
    """Paints one drawing on a panel."""

    def __init__(self, name: str, height: int, parent: QWidget | None = None) -> None:
        super().__init__(name, parent)
        sized(self, least_height=height)
        self.margins = MARGINS
        self._drawing: Drawing | None = None

    def show_drawing(self, drawing: Drawing | None) -> None:
        """Show a drawing, or nothing."""
        self._drawing = drawing
        self.update()

    def paint(self, painter: QPainter) -> None:
        """Paint the drawing on the panel."""
        painter.fillRect(room_of(self), colours(self.theme)["panel"])
        if self._drawing is not None:
            DrawingPainter(painter, self._view(self._drawing), self.theme, room_of(self)).paint(self._drawing)

    def _view(self, drawing: Drawing) -> View:
        return fitted(drawing, room_of(self).width(), room_of(self).height(), self.margins)

    def told(self) -> list[tuple[str, QPointF]]:
        """What is drawn, in words."""
        from ribpatch.core.drawing.spoken import spoken

        if self._drawing is None:
            return []
        view = self._view(self._drawing)
        return [(words, view.to(at) * factor()) for words, at in spoken(self._drawing)]
