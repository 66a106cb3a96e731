"""A core chart on screen: curves with marks, or bars by category, and level limits. Shape and words tell roles as well
as colour.
"""

from __future__ import annotations

from math import ceil, floor, log10
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen, QPolygonF

from ribpatch.core.numerals import general
from ribpatch.ui.scaling import factor, grown, room_of, sized
from ribpatch.ui.theme import colours, font
from ribpatch.ui.widgets.themed import Themed

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from ribpatch.core.chart import Chart, Curve

MARGINS = (52.0, 20.0, 14.0, 36.0)  # left, top, right, bottom


class ChartView(Themed):
    """Paints one Chart."""

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(name, parent)
        self.chart: Chart | None = None
        sized(self, least_width=240, least_height=130)

    def sizeHint(self) -> QSize:
        return grown(QSize(360, 180))

    def show_chart(self, chart: Chart | None) -> None:
        """Show a chart."""
        self.chart = chart
        self.update()

    def paint(self, painter: QPainter) -> None:
        """Paint the chart between its margins."""
        if self.chart is not None:
            _Painting(painter, self.chart, self._box, colours(self.theme)).paint()

    @property
    def _box(self) -> QRectF:
        left, top, right, bottom = MARGINS
        return room_of(self).adjusted(left, top, -right, -bottom)

    def told(self) -> list[tuple[str, QPointF]]:
        """Bars, levels, curves and marks in words."""
        from ribpatch.core.chart_words import chart_words

        if self.chart is None:
            return []
        scale = _Scale(self.chart, self._box)
        return [(words, scale.at(x, y) * factor()) for words, x, y in chart_words(self.chart)]


def _round_step(least: float) -> float:
    """The next of 1, 2 or 5 times a power of ten."""
    if least <= 0:
        return 1.0
    power = 10.0 ** floor(log10(least))
    return next(step * power for step in (1, 2, 5, 10) if step * power >= least * (1 - 1e-9))


def _wide(made: QFont, text: str) -> float:
    return QFontMetricsF(made).horizontalAdvance(text)


class _Scale:
    """The axes of a chart in a box: categories are counted from the left."""

    def __init__(self, chart: Chart, box: QRectF) -> None:
        self._chart, self._box = chart, box
        xs = [x for curve in chart.curves for x, _ in curve.points] + [m.x for m in chart.marks]
        xs = [0.0, float(len(chart.categories))] if chart.categories else xs
        ys = [y for curve in chart.curves for _, y in curve.points] + [v for b in chart.bars for v in b.values]
        ys += [level for level, _ in chart.limits]
        self._x0, self._x1 = (min(xs), max(xs)) if xs else (0.0, 1.0)
        highest = max(ys, default=1.0) * 1.1
        highest = min(highest, chart.top) if chart.top is not None else highest
        self._step = _round_step(highest / 4)
        self._top = self._step * ceil(highest / self._step - 1e-9)

    def at(self, x: float, y: float) -> QPointF:
        """The place of a point, held inside the box."""
        share = (x - self._x0) / ((self._x1 - self._x0) or 1)
        return QPointF(self._box.left() + share * self._box.width(), self._level(y))

    def _level(self, y: float) -> float:
        return self._box.bottom() - min(max(y, 0.0) / self._top, 1.0) * self._box.height()


class _Painting(_Scale):
    """One painting of a chart into a box."""

    def __init__(self, painter: QPainter, chart: Chart, box: QRectF, c: dict[str, QColor]) -> None:
        super().__init__(chart, box)
        self._p, self._c = painter, c

    def paint(self) -> None:
        """Paint it all."""
        self._axes()
        if self._chart.bars:
            self._bars()
        for level, words in self._chart.limits:
            self._limit(level, words)
        for curve in self._chart.curves:
            self._curve(curve)
        self._marks()
        self._legend()

    def _text(self, box: QRectF, text: str, align: Qt.AlignmentFlag, colour: str = "soft", bold: bool = False) -> None:
        made = next((f for f in (font(8.5, bold), font(7.5, bold)) if _wide(f, text) <= box.width()), font(7, bold))
        self._p.setFont(made)
        self._p.setPen(self._c[colour])
        shown = QFontMetricsF(made).elidedText(text, Qt.TextElideMode.ElideRight, box.width())
        self._p.drawText(box, align | Qt.AlignmentFlag.AlignVCenter, shown)

    def _axes(self) -> None:
        b = self._box
        self._p.setPen(QPen(self._c["soft"], 1))
        self._p.drawLine(b.bottomLeft(), b.bottomRight())
        self._p.drawLine(b.bottomLeft(), b.topLeft())
        for k in range(round(self._top / self._step) + 1):
            value = self._step * k
            y = self._level(value)
            self._text(
                QRectF(0, y - 8, b.left() - 5, 16),
                f"{value:.0%}" if self._chart.share and self._top < 20 else general(value),
                Qt.AlignmentFlag.AlignRight,
            )
            if k:
                self._p.setPen(QPen(self._c["edge"], 0.6))
                self._p.drawLine(QPointF(b.left(), y), QPointF(b.right(), y))
        self._text(QRectF(2, 0, 200, 16), self._chart.y_name, Qt.AlignmentFlag.AlignLeft)
        if self._chart.curves:
            self._text(
                QRectF(b.left(), b.bottom() + 19, b.width(), 16), self._chart.x_name, Qt.AlignmentFlag.AlignRight
            )

    def _pen(self, role: str) -> QPen:
        pen = QPen(self._c["ink" if role == "second" else "accent"], 2.0)
        if role == "second":
            pen.setDashPattern([4, 2])
        return pen

    def _curve(self, curve: Curve) -> None:
        self._p.setPen(self._pen(curve.role))
        self._p.setBrush(Qt.BrushStyle.NoBrush)
        self._p.drawPolyline(QPolygonF([self.at(x, y) for x, y in curve.points]))

    def _marks(self) -> None:
        for mark in self._chart.marks:
            x = self.at(mark.x, 0).x()
            self._p.setPen(QPen(self._c["accent" if mark.chosen else "edge"], 2.0 if mark.chosen else 1.0))
            self._p.drawLine(QPointF(x, self._box.top()), QPointF(x, self._box.bottom()))
            place = QRectF(x - 40, self._box.bottom() + 3, 80, 16)
            self._text(
                place, mark.text, Qt.AlignmentFlag.AlignHCenter, "accent" if mark.chosen else "soft", mark.chosen
            )

    def _limit(self, level: float, words: str) -> None:
        y = self._level(level)
        self._p.setPen(QPen(self._c["warn"], 1.2, Qt.PenStyle.DashLine))
        self._p.drawLine(QPointF(self._box.left(), y), QPointF(self._box.right(), y))
        self._text(QRectF(self._box.right() - 240, y - 15, 236, 14), words, Qt.AlignmentFlag.AlignRight, "warn")

    def _bars(self) -> None:
        chart, b = self._chart, self._box
        wide = b.width() / max(len(chart.categories), 1)
        each = min(wide * 0.8 / max(len(chart.bars), 1), 26.0)
        for k, name in enumerate(chart.categories):
            start = b.left() + wide * (k + 0.5) - each * len(chart.bars) / 2
            for n, bars in enumerate(chart.bars):
                y = self._level(bars.values[k])
                box = QRectF(start + n * each, y, each - 2, b.bottom() - y)
                self._p.setPen(QPen(self._c["ink"], 0.8))
                self._p.setBrush(self._c["accent" if bars.role == "main" else "accent-soft"])
                self._p.drawRect(box)
                if bars.values[k] > self._top:
                    self._text(
                        QRectF(box.left() - 8, b.top() - 1, each + 16, 12), "↑", Qt.AlignmentFlag.AlignHCenter, "paper"
                    )
            self._p.setBrush(Qt.BrushStyle.NoBrush)
            for line, part in enumerate(name.split(": ")):
                self._text(
                    QRectF(b.left() + wide * k, b.bottom() + 3 + 14 * line, wide, 14),
                    part,
                    Qt.AlignmentFlag.AlignHCenter,
                )

    def _legend(self) -> None:
        x = self._box.left() + 36
        named = [(c.name, c.role) for c in self._chart.curves] + [(b.name, b.role) for b in self._chart.bars]
        for name, role in named:
            if self._chart.bars:
                self._p.setPen(QPen(self._c["ink"], 0.8))
                self._p.setBrush(self._c["accent" if role == "main" else "accent-soft"])
                self._p.drawRect(QRectF(x, 4, 16, 9))
                self._p.setBrush(Qt.BrushStyle.NoBrush)
            else:
                self._p.setPen(self._pen(role))
                self._p.drawLine(QPointF(x, 9), QPointF(x + 18, 9))
            self._p.setFont(font(8.5))
            wide = self._p.fontMetrics().horizontalAdvance(name)
            self._text(QRectF(x + 22, 0, wide + 4, 17), name, Qt.AlignmentFlag.AlignLeft, "ink")
            x += wide + 44
