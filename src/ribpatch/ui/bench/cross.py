"""A cross over the plan that the arrows move, for what a click would otherwise place."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPen

from ribpatch.core.units import INCH
from ribpatch.ui.theme import colours

if TYPE_CHECKING:
    from ribpatch.core.geometry import Point
    from ribpatch.core.units import System
    from ribpatch.ui.widgets.canvas import Canvas

FAR = 10  # steps that an arrow goes with Shift
ARM = 9.0  # pixels


def nudged(at: Point, way: tuple[int, int], keys: Qt.KeyboardModifier, system: System) -> Point:
    """A place one round step further along the axes, m; ten with Shift."""
    step = 0.01 if system == "metric" else INCH / 2
    step *= FAR if keys & Qt.KeyboardModifier.ShiftModifier else 1
    return round((at[0] + way[0] * step) / step) * step, round((at[1] + way[1] * step) / step) * step


def middle_of(bounds: tuple[float, float, float, float]) -> Point:
    """The middle of a box, where a cross begins."""
    return (bounds[0] + bounds[2]) / 2, (bounds[1] + bounds[3]) / 2


def paint_cross(painter: QPainter, canvas: Canvas, place: Point) -> None:
    """Paint the cross at a place of the plan."""
    at = canvas.view.to(place)
    painter.setPen(QPen(colours(canvas.theme)["accent"], 1.6))
    painter.drawLine(QPointF(at.x() - ARM, at.y()), QPointF(at.x() + ARM, at.y()))
    painter.drawLine(QPointF(at.x(), at.y() - ARM), QPointF(at.x(), at.y() + ARM))
