"""Drawing a shape on the plan side by side: by clicks, by arrows and Enter, or by typed lengths, turns and rises."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from ribpatch.core.errors import Fault
from ribpatch.core.tracing import Trace
from ribpatch.core.units import Kind, System, place_words, shown
from ribpatch.ui.bench.cross import nudged, paint_cross
from ribpatch.ui.theme import colours, font
from ribpatch.ui.widgets.canvas import ARROWS

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.geometry import Point, Ring
    from ribpatch.ui.widgets.canvas import Canvas

CATCH = 8.0  # pixels within which a corner catches


class DrawTool:
    """Takes clicks and keys while a shape is drawn. ``done(ring)`` gets it; ``changed`` is called after each step."""

    def __init__(
        self,
        say: Callable[[str], None],
        snap: Callable[[Point, float, Point | None], Point],
        changed: Callable[[], None],
    ) -> None:
        self._say, self._snap, self._changed = say, snap, changed
        self._done: Callable[[Ring], bool] | None = None
        self.trace = Trace()
        self.at: Point | None = None  # where the next corner would stand
        self.system: System = "metric"

    @property
    def active(self) -> bool:
        """Whether a shape is being drawn."""
        return self._done is not None

    def begin(self, done: Callable[[Ring], bool], start: Point) -> None:
        """Begin a shape; the cursor of the keys stands at ``start``."""
        self._done, self.trace, self.at = done, Trace(), start
        self._say("Click the first corner, or move there with the arrows and press Enter.")
        self._changed()

    def leave(self) -> None:
        """Drop what is drawn."""
        if self.active:
            self._done, self.trace, self.at = None, Trace(), None
            self._say("Nothing was drawn.")
            self._changed()

    # ---- steps ----

    def put(self, place: Point, rise: float = 0.0) -> str:
        """Put a corner; why not, in a sentence."""
        return self._take(lambda: self.trace.put(place, rise))

    def go(self, length: float, turn: float | None, rise: float = 0.0) -> str:
        """Draw a side by its length and turn; why not, in a sentence."""
        said = self._take(lambda: self.trace.put(self.trace.on(length, turn), rise))
        if not said and self.trace.corners:
            self.at = self.trace.corners[-1]
        return said

    def _take(self, step: Callable[[], Trace]) -> str:
        try:
            self.trace = step()
        except Fault as fault:
            self._say(fault.sentence)
            return fault.sentence
        self._tell()
        self._changed()
        return ""

    def take_back(self) -> None:
        """Take the last corner back."""
        self.trace = self.trace.back()
        self._tell()
        self._changed()

    def close(self, rise: float = 0.0) -> str:
        """Close the shape and give it away; why not, in a sentence."""
        if self._done is None:
            return ""
        try:
            ring = self.trace.closed(rise)
        except Fault as fault:
            self._say(fault.sentence)
            return fault.sentence
        if self._done(ring):
            self._done, self.trace, self.at = None, Trace(), None
            self._changed()
        return ""

    def tell(self, sentence: str) -> None:
        """Say something beside the plan."""
        self._say(sentence)

    def _tell(self) -> None:
        count = len(self.trace.corners)
        if count < 2:
            self._say("Next corner: click, or type a length and a turn." if count else "Click the first corner.")
            return
        a, b = self.trace.corners[-2:]
        long = shown(hypot(b[0] - a[0], b[1] - a[1]), Kind.SIZE, self.system)
        self._say(f"Side {count - 1}: {long}. A double click closes the shape.")

    # ---- over the plan ----

    def paint(self, painter: QPainter, canvas: Canvas) -> None:
        if not self.active:
            return
        c, view = colours(canvas.theme), canvas.view
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(c["accent"], 2.4))
        points = [view.to(p) for p in self.trace.points]
        painter.drawPolyline(points)
        painter.setBrush(c["panel"])
        for corner in self.trace.corners:
            painter.drawEllipse(view.to(corner), 4, 4)
        if self.at is not None:
            self._paint_next(painter, canvas, self.at)

    def _paint_next(self, painter: QPainter, canvas: Canvas, place: Point) -> None:
        c, at = colours(canvas.theme), canvas.view.to(place)
        pen = QPen(c["accent"], 1.2)
        pen.setDashPattern([5, 4])
        painter.setPen(pen)
        if self.trace.corners:
            painter.drawLine(canvas.view.to(self.trace.corners[-1]), at)
            length, turn = self.trace.side_to(place)
            words = f"{shown(length, Kind.SIZE, self.system)}, {turn:+.0f}°"
            painter.setFont(font(9, bold=True))
            wide = painter.fontMetrics().horizontalAdvance(words)
            high = painter.fontMetrics().height()
            painter.fillRect(int(at.x()) + 12, int(at.y()) - high - 6, wide + 8, high + 2, c["panel"])
            painter.setPen(c["ink"])
            painter.drawText(QPointF(at.x() + 16, at.y() - 9), words)
        paint_cross(painter, canvas, place)

    def press(self, at: QPointF, canvas: Canvas, event: QMouseEvent) -> bool:
        if not self.active:
            return False
        if event.type() == event.Type.MouseButtonDblClick:
            self.close()
            return True
        place = self._caught(canvas.view.back(at), canvas, event.modifiers())
        first = self.trace.corners[0] if len(self.trace.corners) > 2 else None
        if first is not None and (canvas.view.to(first) - at).manhattanLength() < 2 * CATCH:
            self.close()
            return True
        self.at = place
        self.put(place)
        return True

    def _caught(self, place: Point, canvas: Canvas, keys: Qt.KeyboardModifier) -> Point:
        if keys & Qt.KeyboardModifier.AltModifier:
            return place
        last = self.trace.corners[-1] if self.trace.corners else None
        return self._snap(place, CATCH / canvas.view.scale, last)

    def move(self, at: QPointF, canvas: Canvas) -> bool:
        if not self.active:
            return False
        self.at = canvas.view.back(at)
        return True

    def release(self, at: QPointF, canvas: Canvas) -> bool:
        return self.active

    def key(self, event: QKeyEvent, canvas: Canvas) -> bool:
        if not self.active:
            return False
        key = Qt.Key(event.key())
        if key in ARROWS:
            self._nudge(ARROWS[key], event.modifiers())
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._enter()
        elif key == Qt.Key.Key_Backspace:
            self.take_back()
        elif key == Qt.Key.Key_Escape:
            self.leave()
        else:
            return False
        return True

    def _nudge(self, way: tuple[int, int], keys: Qt.KeyboardModifier) -> None:
        self.at = nudged(self.at or (0.0, 0.0), way, keys, self.system)
        length, turn = self.trace.side_to(self.at)
        if self.trace.corners:
            self._say(f"{shown(length, Kind.SIZE, self.system)}, turned {turn:+.0f}°; Enter puts the corner.")
        else:
            self._say(f"{place_words(self.at, self.system)}; Enter puts the first corner.")

    def _enter(self) -> None:
        """Put a corner at the cursor; at the last one, or the first, the shape is closed."""
        here = self.at or (0.0, 0.0)
        corners = self.trace.corners
        near = [p for p in (*corners[:1], *corners[-1:]) if hypot(p[0] - here[0], p[1] - here[1]) < 1e-3]
        if near and len(corners) > 2:
            self.close()
        else:
            self.put(here)
