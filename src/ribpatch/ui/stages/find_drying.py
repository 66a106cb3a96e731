"""How one place dries: its readings over the reference against time, the fitted curve, and when it should be dry."""

from __future__ import annotations

from datetime import timedelta
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from ribpatch.core.dates import long_day
from ribpatch.core.numerals import fixed
from ribpatch.core.survey.sessions import Drying, fitted
from ribpatch.ui.scaling import factor, grown, room_of, sized
from ribpatch.ui.theme import colours, font
from ribpatch.ui.widgets.themed import Themed

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

LEAST_DAYS, MOST_DAYS = 14.0, 400.0


class DryingChart(Themed):
    """Paints one Drying; ``theme`` chooses the colours."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("drying curve", parent)
        self._curve: Drying | None = None
        self._within = 3.0
        sized(self, least_height=128)

    def sizeHint(self) -> QSize:
        return grown(QSize(340, 132))

    def show_curve(self, curve: Drying | None, within: float) -> None:
        """Show a place; ``within`` scale points of the reference counts as dry."""
        self._curve, self._within = curve, within
        self.setVisible(curve is not None)
        self.update()

    @property
    def span(self) -> float:
        """Days shown: to the last reading, or to the end of the forecast where that is not too far."""
        assert self._curve is not None
        ends = [float(self._curve.days[-1]), LEAST_DAYS]
        ends += [float((d - self._curve.begun).days) for d in self._curve.dates if d is not None]
        return min(max(ends) * 1.05, MOST_DAYS)

    def told(self) -> list[tuple[str, QPointF]]:
        """Each reading in words; the line under the chart says the rest."""
        if self._curve is None:
            return []
        made, begun, box = [], self._curve.begun, self._box
        for days, over in zip(self._curve.days.tolist(), self._curve.over.tolist(), strict=True):
            words = f"{long_day((begun + timedelta(days=days)).isoformat())}: {fixed(over, 0)} over the reference"
            made.append((words, QPointF(box.left() + days / self.span * box.width(), box.center().y()) * factor()))
        return made

    @property
    def _box(self) -> QRectF:
        return QRectF(30, 8, room_of(self).width() - 40, room_of(self).height() - 30)

    def paint(self, painter: QPainter) -> None:
        """Paint the readings and the curve through them."""
        if self._curve is not None:
            self._paint(painter, self._curve)

    def _paint(self, painter: QPainter, curve: Drying) -> None:
        c = colours(self.theme)
        box = self._box
        top = max(float(curve.over.max()), curve.height, 10.0) * 1.08
        span = self.span

        def at(day: float, over: float) -> QPointF:
            return QPointF(box.left() + day / span * box.width(), box.bottom() - max(over, 0.0) / top * box.height())

        dry = at(0, self._within).y()
        painter.fillRect(QRectF(box.left(), dry, box.width(), box.bottom() - dry), c["accent-soft"])
        self._forecast(painter, curve, box, span)
        painter.setPen(QPen(c["soft"], 1))
        painter.drawLine(box.bottomLeft(), box.bottomRight())
        painter.drawLine(box.bottomLeft(), box.topLeft())
        days = np.linspace(0, span, 80)
        line = [at(d, o) for d, o in zip(days.tolist(), fitted(curve, days).tolist(), strict=True)]
        painter.setPen(QPen(c["accent" if curve.says != "not drying" else "grave"], 1.6, Qt.PenStyle.DashLine))
        painter.drawPolyline(QPolygonF(line))
        painter.setPen(QPen(c["panel"], 1))
        painter.setBrush(c["ink"])
        for d, o in zip(curve.days.tolist(), curve.over.tolist(), strict=True):
            painter.drawEllipse(at(d, o), 3.6, 3.6)
        painter.setFont(font(8))
        painter.setPen(c["soft"])
        painter.drawText(QRectF(0, box.top() - 4, 26, 14), Qt.AlignmentFlag.AlignRight, f"+{fixed(top, 0)}")
        painter.drawText(QRectF(0, box.bottom() - 12, 26, 14), Qt.AlignmentFlag.AlignRight, "ref")
        below = QRectF(box.left(), box.bottom() + 4, box.width(), 16)
        painter.drawText(below, Qt.AlignmentFlag.AlignLeft, long_day(curve.begun.isoformat()))
        last = curve.begun + timedelta(days=span)
        painter.drawText(below, Qt.AlignmentFlag.AlignRight, long_day(last.isoformat()))

    def _forecast(self, painter: QPainter, curve: Drying, box: QRectF, span: float) -> None:
        """The days in which it should come within reach of the reference, four in five."""
        early, _, late = curve.dates
        if early is None:
            return
        start = (early - curve.begun).days
        end = (late - curve.begun).days if late is not None else span
        left, right = (box.left() + min(d, span) / span * box.width() for d in (start, end))
        shade = colours(self.theme)["change"]
        shade = shade.__class__(shade)
        shade.setAlpha(90)
        painter.fillRect(QRectF(left, box.top(), max(right - left, 2), box.height()), shade)
