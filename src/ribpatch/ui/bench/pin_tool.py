"""Pinning something to a place: the next click on the plan, or Enter at the cross that the arrows move, says where a
photograph was taken or a depth was measured.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, Qt

from ribpatch.ui.bench.cross import middle_of, nudged, paint_cross
from ribpatch.ui.widgets.canvas import ARROWS

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter

    from ribpatch.core.geometry import Point
    from ribpatch.core.units import System
    from ribpatch.ui.widgets.canvas import Canvas


class PinTool:
    """Takes one click while something waits to be pinned. ``put(what, place)`` is asked to pin it."""

    def __init__(self, put: Callable[[str, Point], None]) -> None:
        self._put = self._usual = put
        self.wanted = ""
        self.system: System = "metric"
        self.at: Point | None = None  # where the cross of the keys stands

    def wait_for(self, what: str, put: Callable[[str, Point], None] | None = None) -> None:
        """Give the next place clicked to ``put``, or to the usual taker."""
        self.wanted, self._put = what, put or self._usual
        self.at = None

    def paint(self, painter: QPainter, canvas: Canvas) -> None:
        if self.wanted and self.at is not None:
            paint_cross(painter, canvas, self.at)

    def press(self, at: QPointF, canvas: Canvas, event: QMouseEvent) -> bool:
        if not self.wanted:
            return False
        self._take(canvas.view.back(at))
        return True

    def _take(self, place: Point) -> None:
        what, self.wanted = self.wanted, ""
        self._put(what, place)

    def move(self, at: QPointF, canvas: Canvas) -> bool:
        return False

    def release(self, at: QPointF, canvas: Canvas) -> bool:
        return False

    def key(self, event: QKeyEvent, canvas: Canvas) -> bool:
        if not self.wanted or canvas.drawing is None:
            return False
        key = Qt.Key(event.key())
        here = self.at or middle_of(canvas.drawing.bounds)
        if key == Qt.Key.Key_Escape:
            self.wanted = ""
        elif key in ARROWS:
            self.at = nudged(here, ARROWS[key], event.modifiers(), self.system)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take(here)
        else:
            return False
        return True
