"""The lanes of the days, painted: days and hours, what is closed, windows that close, bars with their words."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFontMetricsF, QPainter, QPen, QPolygonF

from ribpatch.ui.theme import font
from ribpatch.ui.widgets.lane_scale import GAP, HEAD, NAMES, ROW, LaneScale

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.day_lanes import Bar, Lane, Lanes, Window

HOURS_FROM = 9  # pixels an hour at which hours have their numbers


class LanesPainter:
    """Paints lanes into a room: ``moved`` is the step that is dragged, from where and by how many hours."""

    def __init__(self, painter: QPainter, scale: LaneScale, c: dict[str, QColor], room: QRectF) -> None:
        self._p, self._scale, self._c, self._room = painter, scale, c, room
        self.moved: tuple[str, float, float] | None = None

    def paint(
        self, lanes: Lanes, day: Callable[[int], str], where: tuple[int, int], chosen: str, now: float | None
    ) -> None:
        """Paint it all, scrolled so far across and down; ``now`` in hours is drawn as a line."""
        (across, down), wide = where, self._room.width() - NAMES
        self._p.save()
        self._p.setClipRect(QRectF(NAMES, 0, wide, self._room.height()))
        self._p.translate(NAMES - across, 0)
        self._days(lanes, day, across, wide + across)
        self._p.setClipRect(QRectF(across, HEAD, wide, self._room.height() - HEAD))
        self._p.translate(0, HEAD - down)
        self._lanes(lanes, chosen)
        if now is not None:
            self._p.setPen(QPen(self._c["grave"], 2))
            self._p.drawLine(QPointF(self._scale.x(now), 0), QPointF(self._scale.x(now), self._scale.high))
        self._p.restore()
        self._names(lanes, down)

    def _days(self, lanes: Lanes, day: Callable[[int], str], left: float, right: float) -> None:
        p, c, x, high = self._p, self._c, self._scale.x, self._room.height()
        for a, b in lanes.closed:
            p.fillRect(QRectF(x(a), HEAD, x(b) - x(a), high), c["rail"])
        cold = QBrush(QColor(c["warn"]), Qt.BrushStyle.BDiagPattern)
        for a, b in lanes.cold:
            p.fillRect(QRectF(x(a), HEAD - 7, x(b) - x(a), 7), cold)
        p.setFont(font(9))
        last = -1e9
        for n in range(int(lanes.hours // 24) + 1):
            begins = x(n * 24.0)
            if not left - 200 <= begins <= right + 10:
                continue
            p.setPen(c["edge"])
            p.drawLine(QPointF(begins, 18), QPointF(begins, high))
            words = day(n)
            if begins >= last and (n + 1) * 24 <= lanes.hours + 24:
                p.setPen(c["ink"])
                p.drawText(QPointF(begins + 4, 14), words)
                last = begins + p.fontMetrics().horizontalAdvance(words) + 10
            self._hours(n)

    def _hours(self, day: int) -> None:
        if self._scale.hour < HOURS_FROM:
            return
        self._p.save()
        self._p.setFont(font(8))
        self._p.setPen(self._c["soft"])
        last, begins = -1e9, self._scale.x(day * 24.0)
        for hour in range(0, 24, 3):
            x = self._scale.x(day * 24.0 + hour)
            seen = self._scale.x(day * 24.0 + hour + 1) - x > 0.5 * self._scale.hour  # not where nobody is there
            if hour and seen and x - last > 24 and x - begins > 8:
                self._p.drawText(QPointF(x - 5, 28), str(hour))
                self._p.drawLine(QPointF(x, 30), QPointF(x, 33))
                last = x
        self._p.restore()

    def _lanes(self, lanes: Lanes, chosen: str) -> None:
        for lane in lanes.lanes:
            under = self._scale.top(lane) + lane.rows * ROW + GAP / 2
            self._p.setPen(self._c["edge"])
            self._p.drawLine(QPointF(0, under), QPointF(self._scale.wide, under))
            for window in lane.windows:
                self._window(window, self._scale.top(lane) + window.row * ROW)
            self._p.setFont(font(8.5))
            for bar in lane.bars:
                self._bar(lane, bar, bar.step == chosen)

    def _window(self, window: Window, top: float) -> None:
        """A band that closes: as high as its row where it opens, nothing where it closes."""
        left, right, low = self._scale.x(window.opens), self._scale.x(window.closes), top + ROW - 1
        tint = QColor(self._c["accent"])
        tint.setAlpha(60)
        self._p.setPen(Qt.PenStyle.NoPen)
        self._p.setBrush(tint)
        self._p.drawPolygon(QPolygonF([QPointF(left, top), QPointF(right, low), QPointF(left, low)]))
        self._p.setPen(QPen(self._c["accent"], 1.4))
        self._p.drawLine(QPointF(right, top + 3), QPointF(right, low))
        self._p.drawLine(QPointF(right - 3, low), QPointF(right + 3, low))

    def _bar(self, lane: Lane, bar: Bar, here: bool) -> None:
        box, c = self._scale.box(bar, lane), self._c
        if self.moved is not None and self.moved[0] == bar.step:
            box.moveLeft(self._scale.x(bar.start + self.moved[2]))
        edge = c["warn"] if bar.missed else c["accent"] if here else c["soft"]
        line = Qt.PenStyle.DotLine if bar.kind == "wait" else Qt.PenStyle.SolidLine
        self._p.setPen(QPen(edge, 2.4 if here else 1.2, line))
        fills = {"work": "accent-soft", "wet": "new-core", "done": "rail", "wait": "panel"}
        self._p.setBrush(c[fills[bar.kind]])
        self._p.drawRect(box)
        if bar.kind == "wet":
            self._p.fillRect(box, QBrush(QColor(c["soft"]), Qt.BrushStyle.Dense7Pattern))
        marks = ("✓ " if bar.kind == "done" else "") + ("⚠ " if bar.missed else "") + ("■ " if bar.put else "")
        self._words(lane, bar, box, f"{marks}{bar.name}")

    def _words(self, lane: Lane, bar: Bar, box: QRectF, words: str) -> None:
        """The step's name in its bar, else as much of it as there is room for after it."""
        metrics = QFontMetricsF(self._p.font())
        after = min((self._scale.x(b.start) for b in lane.bars if b.row == bar.row and b.start >= bar.end), default=1e9)
        room = QRectF(box.left() + 4, box.top(), max(box.width() - 6, 0), box.height())
        if metrics.horizontalAdvance(words) > room.width():
            outside = after - box.right() - 8
            if outside > room.width():
                room = QRectF(box.right() + 4, box.top(), min(outside, 160), box.height())
        if room.width() < 18:
            return
        shown = metrics.elidedText(words, Qt.TextElideMode.ElideRight, room.width())
        self._p.setPen(self._c["warn"] if bar.missed else self._c["ink"])
        self._p.drawText(room, Qt.AlignmentFlag.AlignVCenter, shown)

    def _names(self, lanes: Lanes, down: int) -> None:
        p, high = self._p, self._room.height()
        p.fillRect(QRectF(0, 0, NAMES, high), self._c["panel"])
        p.setPen(self._c["edge"])
        p.drawLine(QPointF(NAMES, 0), QPointF(NAMES, high))
        p.setFont(font(10, bold=True))
        p.setPen(self._c["ink"])
        p.setClipRect(QRectF(0, HEAD, NAMES, high - HEAD))
        for lane in lanes.lanes:
            box = QRectF(6, HEAD + self._scale.top(lane) - down + 1, NAMES - 10, max(lane.rows * ROW, ROW))
            p.drawText(box, Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap, lane.name)
        p.setClipping(False)
