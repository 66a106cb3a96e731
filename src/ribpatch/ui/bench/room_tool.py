"""Saying the taper ratio that really fits wherever the mouse is on the cut line."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtCore import QPointF
    from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter

    from ribpatch.core.patch.taper import Band
    from ribpatch.ui.widgets.canvas import Canvas

REACH = 12.0  # pixels from the line


class RoomTool:
    """Reads a band; ``say`` gets the words."""

    def __init__(self, say: Callable[[str], None]) -> None:
        self._say = say
        self.band: Band | None = None
        self._told = False

    def paint(self, painter: QPainter, canvas: Canvas) -> None:
        return

    def press(self, at: QPointF, canvas: Canvas, event: QMouseEvent) -> bool:
        return False

    def move(self, at: QPointF, canvas: Canvas) -> bool:
        band = self.band
        if band is None or not len(band.places):
            return False
        place = np.array(canvas.view.back(at))
        away = np.hypot(*(band.places - place).T)
        nearest = int(away.argmin())
        if away[nearest] * canvas.view.scale <= REACH:
            self._say(f"{shown(float(band.available_ratio[nearest]), Kind.RATIO)} fits here at most")
            self._told = True
        elif self._told:
            self._say("")
            self._told = False
        return False

    def release(self, at: QPointF, canvas: Canvas) -> bool:
        return False

    def key(self, event: QKeyEvent, canvas: Canvas) -> bool:
        return False
