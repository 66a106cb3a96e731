"""Pinning a photograph to a place: the next click on the plan says where it was taken."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter

from ribpatch.core.geometry import Point
from ribpatch.ui.bench.canvas import Canvas


class PinTool:
    """Takes one click while a photograph waits to be pinned. ``put(photograph, place)`` is asked to pin it."""

    def __init__(self, put: Callable[[str, Point], None]) -> None:
        self._put = put
        self.wanted = ""

    def paint(self, painter: QPainter, canvas: Canvas) -> None:
        return

    def press(self, at: QPointF, canvas: Canvas, event: QMouseEvent) -> bool:
        if not self.wanted:
            return False
        photograph, self.wanted = self.wanted, ""
        self._put(photograph, canvas.view.back(at))
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
