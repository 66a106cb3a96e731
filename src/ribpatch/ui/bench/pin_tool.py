"""Pinning something to a place: the next click on the plan says where a photograph was taken or a depth was
measured.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, Qt

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter

    from ribpatch.core.geometry import Point
    from ribpatch.ui.widgets.canvas import Canvas


class PinTool:
    """Takes one click while something waits to be pinned. ``put(what, place)`` is asked to pin it."""

    def __init__(self, put: Callable[[str, Point], None]) -> None:
        self._put = self._usual = put
        self.wanted = ""

    def wait_for(self, what: str, put: Callable[[str, Point], None] | None = None) -> None:
        """Give the next place clicked to ``put``, or to the usual taker."""
        self.wanted, self._put = what, put or self._usual

    def paint(self, painter: QPainter, canvas: Canvas) -> None:
        return

    def press(self, at: QPointF, canvas: Canvas, event: QMouseEvent) -> bool:
        if not self.wanted:
            return False
        what, self.wanted = self.wanted, ""
        self._put(what, canvas.view.back(at))
        return True

    def move(self, at: QPointF, canvas: Canvas) -> bool:
        return False

    def release(self, at: QPointF, canvas: Canvas) -> bool:
        return False

    def key(self, event: QKeyEvent, canvas: Canvas) -> bool:
        if self.wanted and event.key() == Qt.Key.Key_Escape:
            self.wanted = ""
            return True
        return False
