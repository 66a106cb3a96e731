"""From the metres of a drawing to the pixels of a widget."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from PySide6.QtCore import QPointF
from PySide6.QtGui import QPolygonF

if TYPE_CHECKING:
    from ribpatch.core.drawing.shapes import Drawing
    from ribpatch.core.geometry import Point, Ring

CALLOUT_CHARACTER = 7.1  # pixels, with the warning sign's width spread over it


class View(Struct, frozen=True):
    """Maps drawing metres (y up) to pixels (y down)."""

    scale: float
    x: float
    y: float

    def to(self, p: Point) -> QPointF:
        """Pixel of a place."""
        return QPointF(self.x + p[0] * self.scale, self.y - p[1] * self.scale)

    def polygon(self, ring: Ring) -> QPolygonF:
        """Pixels of a ring."""
        return QPolygonF([QPointF(self.x + x * self.scale, self.y - y * self.scale) for x, y in ring])

    def back(self, p: QPointF) -> Point:
        """Place of a pixel."""
        return (p.x() - self.x) / self.scale, (self.y - p.y()) / self.scale


def fitted(drawing: Drawing, width: float, height: float, margins: tuple[float, float, float, float]) -> View:
    """The view that fits a drawing into a widget with margins (left, top, right, bottom) in pixels."""
    x0, y0, x1, y1 = drawing.bounds
    left, top, right, bottom = margins
    left, right = (
        max(usual, 24 + drawing.gap * width + drawing.longest_callout(side) * CALLOUT_CHARACTER)
        for usual, side in ((left, "left"), (right, "right"))
    )
    room_x, room_y = max(width - left - right, 10.0), max(height - top - bottom, 10.0)
    scale = min(room_x / max(x1 - x0, 1e-9), room_y / max(y1 - y0, 1e-9))
    x = left + (room_x - (x1 - x0) * scale) / 2 - x0 * scale
    y = top + (room_y - (y1 - y0) * scale) / 2 + y1 * scale
    return View(scale, x, y)
