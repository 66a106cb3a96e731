"""A canvas shows one drawing, with zoom and pan, and lets a tool paint over it and take the mouse.

The drawing itself is painted once into a picture and reused until drawing, view, theme or size change, so that a drag
repaints only what moves.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from ribpatch.core.drawing.palette import ramp_of
from ribpatch.ui.scaling import factor, grown, painter_of, place_of, room_of, sized
from ribpatch.ui.theme import colours, font
from ribpatch.ui.widgets.painter import DrawingPainter, SpotLayer, Under
from ribpatch.ui.widgets.spoken import Children, listened
from ribpatch.ui.widgets.view import View, fitted

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.drawing.shapes import Drawing
    from ribpatch.core.drawing.survey_picture import Picture
    from ribpatch.core.figure import Figure
    from ribpatch.core.units import System


MARGINS = (62, 52, 40, 34)  # round a drawing: left, top, right, bottom, pixels
LEAST_ZOOM = 0.25  # out beyond the outline, where a photograph shows more
HEADING = 90.0  # pixels that the heading keeps beside its figures
LEGEND = 20  # more below where there is one

NEARER = (Qt.Key.Key_PageUp, Qt.Key.Key_Plus, Qt.Key.Key_Equal)
FARTHER = (Qt.Key.Key_PageDown, Qt.Key.Key_Minus)
ZOOM, PAN = 1.25, 0.125  # a step nearer; a step aside, of the room

ARROWS = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, 1),
    Qt.Key.Key_Down: (0, -1),
}


class Tool(Protocol):
    """What a stage does with the mouse and keys over a canvas. Each returns whether it used the event."""

    def paint(self, painter: QPainter, canvas: Canvas) -> None:
        """Paint over the drawing."""

    def press(self, at: QPointF, canvas: Canvas, event: QMouseEvent) -> bool:
        """A button went down."""

    def move(self, at: QPointF, canvas: Canvas) -> bool:
        """The mouse moved with the button down."""

    def release(self, at: QPointF, canvas: Canvas) -> bool:
        """The button came up."""

    def key(self, event: QKeyEvent, canvas: Canvas) -> bool:
        """A key went down."""


class Canvas(QWidget):
    """Shows a drawing under a heading line with its main figures. ``asked`` carries one whose working is wanted."""

    asked = Signal(object)
    painted = Signal()

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName(name)
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        sized(self, least_width=200, least_height=110)
        self.tools: tuple[Tool, ...] = ()
        self.theme = "light"
        self.heading = ""
        self.aside = ""
        self.figures: tuple[Figure, ...] = ()
        self.system: System = "metric"
        self._figure_boxes: list[tuple[QRectF, Figure]] = []
        self.legend: Picture | None = None
        self.legend_note = ""
        self.margins = MARGINS
        self.under: Under | None = None
        self._drawing: Drawing | None = None
        self._picture: QPixmap | None = None
        self._layers: list[SpotLayer] = []
        self._zoom, self._pan = 1.0, QPointF(0, 0)
        self._grabbed: QPointF | None = None
        self.spots_said: Callable[[], dict[str, str]] = dict  # what each reading says, by its id
        self._children: Children | None = None

    def sizeHint(self) -> QSize:
        return grown(QSize(760, 300))

    @property
    def drawing(self) -> Drawing | None:
        """The drawing shown."""
        return self._drawing

    def show_drawing(self, drawing: Drawing | None) -> None:
        """Show a drawing; the view stays where the drawing's box did not change."""
        if drawing is self._drawing:
            return
        if drawing is None or self._drawing is None or drawing.bounds != self._drawing.bounds:
            self.fit()
        self._drawing = drawing
        self.refresh()

    def refresh(self) -> None:
        """Paint the drawing anew."""
        self._picture = None
        self.update()

    def _speak(self) -> None:
        """Offer what is drawn to those who listen."""
        from ribpatch.core.drawing.spoken import spoken

        self.setAccessibleDescription(". ".join(w for w in (self.heading, self.aside) if w))
        figures = [(f"{f.name} {f.shown(self.system)}", box.center() * factor()) for box, f in self._figure_boxes]
        said = self.spots_said()
        items = spoken(self._drawing, lambda key: said.get(key, "")) if self._drawing is not None else []
        if self._children is None:
            self._children = Children(self)
        drawn = [(words, self.view.to(at) * factor()) for words, at in items]
        self._children.show([*reversed(figures), *drawn])

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self.theme = theme
        self.refresh()

    def fit(self) -> None:
        """Show the whole drawing."""
        self._zoom, self._pan = 1.0, QPointF(0, 0)
        self.refresh()

    @property
    def view(self) -> View:
        """The view in use."""
        assert self._drawing is not None
        left, top, right, bottom = self.margins
        below = bottom + (LEGEND if self.legend else 0)
        room = room_of(self)
        base = fitted(self._drawing, room.width(), room.height(), (left, top, right, below))
        centre = room.center()
        x = centre.x() + (base.x - centre.x()) * self._zoom + self._pan.x()
        y = centre.y() + (base.y - centre.y()) * self._zoom + self._pan.y()
        return View(base.scale * self._zoom, x, y)

    # ---- painting ----

    def paintEvent(self, event: QPaintEvent) -> None:
        anew = self._picture is None
        if self._picture is None:
            self._picture = self._painted()
        painter = painter_of(self)
        try:
            self._paint_over(painter, self._picture)
        finally:
            painter.end()  # a painter left open by an error would take the program down
        if (anew or self._children is None) and listened():
            QTimer.singleShot(0, self, self._speak)
        self.painted.emit()

    def _paint_over(self, painter: QPainter, picture: QPixmap) -> None:
        painter.drawPixmap(0, 0, picture)
        if self._drawing is not None:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            for tool in self.tools:
                tool.paint(painter, self)
        if self.hasFocus():
            painter.setPen(QPen(colours(self.theme)["accent"], 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(room_of(self).adjusted(1, 1, -1, -1))

    def _painted(self) -> QPixmap:
        ratio = self.devicePixelRatioF()
        picture = QPixmap(self.size() * ratio)
        picture.setDevicePixelRatio(ratio * factor())
        picture.fill(colours(self.theme)["panel"])
        painter = QPainter(picture)
        try:
            self._paint_under(painter)
        finally:
            painter.end()
        return picture

    def _paint_under(self, painter: QPainter) -> None:
        c = colours(self.theme)
        if self._drawing is not None:
            room = room_of(self).adjusted(0, 28, 0, -LEGEND if self.legend else 0)
            drawer = DrawingPainter(painter, self.view, self.theme, room, self._layers)
            drawer.under = self.under
            drawer.paint(self._drawing)
        painter.fillRect(QRectF(0, 0, room_of(self).width(), 27), c["panel"])
        painter.setFont(font(9))
        painter.setPen(c["soft"])
        right = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
        wide = room_of(self).width() - 24
        aside = painter.fontMetrics().elidedText(self.aside, Qt.TextElideMode.ElideRight, int(wide))
        painter.drawText(QRectF(12, 4, wide, 22), right, aside)
        edge = self._paint_figures(painter)
        if aside:
            edge = min(edge, wide - 6.0 - painter.fontMetrics().horizontalAdvance(aside))
        painter.setFont(font(10, bold=True))
        painter.setPen(c["ink"])
        words = painter.fontMetrics().elidedText(self.heading, Qt.TextElideMode.ElideRight, int(edge - 12))
        painter.drawText(QRectF(12, 4, edge - 12, 22), Qt.AlignmentFlag.AlignVCenter, words)
        if self.legend is not None:
            self._paint_legend(painter, self.legend)
        painter.setPen(c["edge"])
        painter.drawRect(room_of(self).adjusted(0, 0, -1, -1))

    def _paint_figures(self, painter: QPainter) -> float:
        """The main figures at the right end of the heading, as many as leave it some room; a click on one asks for its
        working. Returns where they begin, pixels.
        """
        c = colours(self.theme)
        self._figure_boxes = []
        edge = room_of(self).width() - 12.0
        for figure in reversed(self.figures):
            value = figure.shown(self.system)
            wide = painter.fontMetrics().horizontalAdvance(value)
            name = painter.fontMetrics().horizontalAdvance(figure.name)
            box = QRectF(edge - wide - name - 6, 4, wide + name + 6, 22)
            if box.left() < HEADING:
                break
            painter.setPen(c["soft"])
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, figure.name)
            painter.setPen(c["accent"])
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, value)
            self._figure_boxes.append((box, figure))
            edge = box.left() - 18
        return edge

    def _paint_legend(self, painter: QPainter, picture: Picture) -> None:
        """The scale of the picture: what its colours mean."""
        c = colours(self.theme)
        x, y = 12.0, room_of(self).height() - 20.0
        painter.setFont(font(8.5))
        painter.setPen(c["soft"])
        painter.drawText(QPointF(x, y + 10), picture.words[0])
        x += painter.fontMetrics().horizontalAdvance(picture.words[0]) + 5
        for colour in ramp_of(picture.ramp, self.theme):
            painter.fillRect(QRectF(x, y, 16, 11), colour)
            x += 16
        words = f"{picture.words[1]}      {self.legend_note}".rstrip()
        room = round(room_of(self).width() - x - 12)
        painter.drawText(
            QPointF(x + 5, y + 10), painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, room)
        )

    def resizeEvent(self, event: QResizeEvent) -> None:
        self.refresh()

    # ---- mouse and keys ----

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        at = place_of(event)
        if event.button() == Qt.MouseButton.MiddleButton:
            self._grabbed = at
            return
        for box, figure in self._figure_boxes:
            if box.contains(at):
                self.asked.emit(figure)
                return
        if self._drawing is None or event.button() != Qt.MouseButton.LeftButton:
            return
        for tool in self.tools:
            if tool.press(at, self, event):
                self.update()
                return

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = place_of(event)
        if self._grabbed is not None:
            self._pan += at - self._grabbed
            self._grabbed = at
            self.refresh()
            return
        if self._drawing is not None and any(tool.move(at, self) for tool in self.tools):
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._grabbed = None
        if self._drawing is not None and any(tool.release(place_of(event), self) for tool in self.tools):
            self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        zoom = self._zoom * (1.2 if event.angleDelta().y() > 0 else 1 / 1.2)
        self.look_closer(1.0 if abs(zoom - 1) < 0.02 else zoom, event.position() / factor())

    @property
    def zoom(self) -> float:
        """How many times its size to fit the drawing is shown."""
        return self._zoom

    def look_closer(self, zoom: float, at: QPointF) -> None:
        """Show the drawing ``zoom`` times its size to fit; the place under ``at`` stays where it is."""
        zoom = min(max(zoom, LEAST_ZOOM), 40.0)
        centre = room_of(self).center()
        self._pan = at - centre - (at - centre - self._pan) * (zoom / self._zoom)
        self._zoom = zoom
        if zoom == 1.0:
            self._pan = QPointF(0, 0)
        self.refresh()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self._drawing is not None and any(tool.key(event, self) for tool in self.tools):
            self.update()
            return
        if self._drawing is None or not self._look(Qt.Key(event.key()), event.modifiers()):
            super().keyPressEvent(event)

    def _look(self, key: Qt.Key, keys: Qt.KeyboardModifier) -> bool:
        """Zoom and pan: Page Up and + come nearer, Page Down and - go back, Ctrl+arrows move, Home shows all."""
        if key == Qt.Key.Key_Home:
            self.fit()
        elif key in NEARER:
            self.look_closer(self._zoom * ZOOM, room_of(self).center())
        elif key in FARTHER:
            self.look_closer(self._zoom / ZOOM, room_of(self).center())
        elif key in ARROWS and keys & Qt.KeyboardModifier.ControlModifier:
            (x, y), room = ARROWS[key], room_of(self)
            self._pan -= QPointF(x * room.width(), -y * room.height()) * PAN
            self.refresh()
        else:
            return False
        return True
