"""Lanes of steps over the days: bars, windows that close, nights drawn narrow. Arrows go from step to step, Alt with an
arrow moves the step looked at by hand, Delete lets it find its own place; a bar can be dragged.
"""

from __future__ import annotations

from math import floor
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QBrush, QColor, QFontMetricsF, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QAbstractScrollArea, QToolTip

from ribpatch.ui.scaling import factor, painter_of, place_of, room_of
from ribpatch.ui.theme import colours, font
from ribpatch.ui.widgets.spoken import Children, listened

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPaintEvent, QResizeEvent, QWheelEvent
    from PySide6.QtWidgets import QWidget

    from ribpatch.core.day_lanes import Bar, Lane, Lanes
    from ribpatch.core.geometry import Floats

ROW, HEAD, GAP, NAMES = 24, 40, 10, 128
NIGHT = 0.12  # of the width of an hour in which someone is there
SLOTS = 4  # of an hour
LEAST_BAR = 4.0
ZOOMS = (4.0, 6.0, 9.0, 13.0, 19.0, 28.0)  # pixels an hour
GRAB = 4  # pixels that make a drag


class LanesView(QAbstractScrollArea):
    """Shows Lanes. ``picked`` carries the id of a step looked at, ``moved`` (id, hours from the beginning) where one
    was put by hand, ``freed`` the id of one that is to find its own place.
    """

    picked = Signal(str)
    moved = Signal(str, float)
    freed = Signal(str)

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("lanes")
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.viewport().setMouseTracking(True)
        self.theme = "light"
        self.chosen = ""
        self._lanes: Lanes | None = None
        self._day: Callable[[int], str] = str
        self._words: Callable[[str], str] = str
        self._zoom = 2
        self._now: float | None = None
        self._at: Floats = np.zeros(1)
        self._drag: tuple[str, float, float] | None = None  # id, x of the press, hours moved
        self._children: Children | None = None
        self.horizontalScrollBar().valueChanged.connect(lambda _: self.viewport().update())
        self.verticalScrollBar().valueChanged.connect(lambda _: self.viewport().update())

    # ---- what is shown ----

    def show_lanes(
        self, lanes: Lanes | None, day: Callable[[int], str], words: Callable[[str], str], now: float | None = None
    ) -> None:
        """Show lanes: ``day(n)`` names a day, ``words(id)`` tells a step; ``now`` in hours is drawn as a line."""
        self._lanes, self._day, self._words, self._now = lanes, day, words, now
        if lanes is not None and self.chosen not in {b.step for b in self._bars()}:
            self.chosen = ""
        self._drag = None
        self._measure()

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self.theme = theme
        self.viewport().update()

    def choose(self, step: str) -> None:
        """Look at a step, and bring it into view."""
        self.chosen = step
        found = next(((lane, b) for lane, b in self._every() if b.step == step), None)
        if found is not None:
            box = self._box(found[1], self._tops()[found[0].key])
            bar, view = self.horizontalScrollBar(), room_of(self.viewport()).width() - NAMES
            if box.left() < bar.value() or box.right() > bar.value() + view:
                bar.setValue(int(box.left() - 40))
            down, high = self.verticalScrollBar(), room_of(self.viewport()).height() - HEAD
            if box.top() < down.value() or box.bottom() > down.value() + high:
                down.setValue(int(box.top() - 20))
            self.setAccessibleDescription(self._words(step).replace("\n", "; "))
        self.viewport().update()

    def _every(self) -> Iterator[tuple[Lane, Bar]]:
        for lane in self._lanes.lanes if self._lanes is not None else ():
            for bar in lane.bars:
                yield lane, bar

    def _bars(self) -> list[Bar]:
        return sorted((b for _, b in self._every()), key=lambda b: (b.start, b.end))

    # ---- measures ----

    def _measure(self) -> None:
        """Where each quarter of an hour lies."""
        if self._lanes is not None:
            wide = np.full(int(self._lanes.hours * SLOTS) + 1, ZOOMS[self._zoom] / SLOTS)
            for a, b in self._lanes.closed:
                wide[int(a * SLOTS) : int(b * SLOTS)] *= NIGHT
            self._at = np.concatenate([[0.0], np.cumsum(wide)])
        self._scrolls()
        self.viewport().update()

    def _x(self, hours: float) -> float:
        return float(np.interp(hours * SLOTS, np.arange(len(self._at)), self._at))

    def _hours(self, x: float) -> float:
        return float(np.interp(x, self._at, np.arange(len(self._at)))) / SLOTS

    def _tops(self) -> dict[str, float]:
        top, made = 0.0, {}
        for lane in self._lanes.lanes if self._lanes is not None else ():
            made[lane.key] = top
            top += lane.rows * ROW + GAP
        made["·end"] = top
        return made

    def _box(self, bar: Bar, top: float) -> QRectF:
        left, right = self._x(bar.start), self._x(bar.end)
        return QRectF(left, top + bar.row * ROW + 2, max(right - left, LEAST_BAR), ROW - 5)

    def _scrolls(self) -> None:
        view = self.viewport()
        wide, high = float(self._at[-1]), self._tops().get("·end", 0.0)
        across, down = self.horizontalScrollBar(), self.verticalScrollBar()
        across.setRange(0, max(int(wide - (room_of(view).width() - NAMES)), 0))
        across.setPageStep(max(int(room_of(view).width()) - NAMES, 1))
        across.setSingleStep(40)
        down.setRange(0, max(int(high - (room_of(view).height() - HEAD)), 0))
        down.setPageStep(max(int(room_of(view).height()) - HEAD, 1))
        down.setSingleStep(ROW)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._scrolls()

    # ---- painting ----

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = painter_of(self.viewport())
        try:
            self._paint(painter)
        finally:
            painter.end()  # a painter left open by an error would take the program down
        if listened():
            QTimer.singleShot(0, self, self._speak)

    def _speak(self) -> None:
        """Offer the bars in view to those who listen, where they are not what they were told last."""
        self._children = self._children or Children(self.viewport())
        self._children.tell(self.told())

    def told(self) -> list[tuple[str, QPointF]]:
        """Each bar that is in view in words, at the pixel where it begins to be seen."""
        across, down = self.horizontalScrollBar().value(), self.verticalScrollBar().value()
        tops, view = self._tops(), room_of(self.viewport()).adjusted(NAMES, HEAD, 0, 0)
        made = []
        for lane, bar in self._every():
            seen = self._box(bar, tops[lane.key]).translated(NAMES - across, HEAD - down) & view
            if not seen.isEmpty():
                words = self._words(bar.step).replace("\n", "; ")
                made.append((f"{lane.name}: {words}", QPointF(seen.left(), seen.center().y()) * factor()))
        return made

    def _paint(self, painter: QPainter) -> None:
        view, c = self.viewport(), colours(self.theme)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(room_of(view), c["panel"])
        if self._lanes is None:
            painter.setPen(c["soft"])
            painter.drawText(room_of(view), Qt.AlignmentFlag.AlignCenter, "Nothing to plan yet.")
            return
        across, down = self.horizontalScrollBar().value(), self.verticalScrollBar().value()
        painter.save()
        painter.setClipRect(QRectF(NAMES, 0, room_of(view).width() - NAMES, room_of(view).height()))
        painter.translate(NAMES - across, 0)
        self._paint_days(painter, across, room_of(view).width() - NAMES + across)
        painter.setClipRect(QRectF(across, HEAD, room_of(view).width() - NAMES, room_of(view).height() - HEAD))
        painter.translate(0, HEAD - down)
        self._paint_lanes(painter, c)
        painter.restore()
        self._paint_names(painter, c, down)
        if self.hasFocus():
            painter.setPen(QPen(c["accent"], 2))
            painter.drawRect(room_of(view).adjusted(1, 1, -1, -1))

    def _paint_days(self, painter: QPainter, left: float, right: float) -> None:
        c, lanes = colours(self.theme), self._lanes
        assert lanes is not None
        high = room_of(self.viewport()).height()
        for a, b in lanes.closed:
            painter.fillRect(QRectF(self._x(a), HEAD, self._x(b) - self._x(a), high), c["rail"])
        cold = QBrush(QColor(c["warn"]), Qt.BrushStyle.BDiagPattern)
        for a, b in lanes.cold:
            painter.fillRect(QRectF(self._x(a), HEAD - 7, self._x(b) - self._x(a), 7), cold)
        painter.setFont(font(9))
        last = -1e9
        for day in range(int(lanes.hours // 24) + 1):
            x = self._x(day * 24.0)
            if not left - 200 <= x <= right + 10:
                continue
            painter.setPen(c["edge"])
            painter.drawLine(QPointF(x, 18), QPointF(x, high))
            words = self._day(day)
            wide = painter.fontMetrics().horizontalAdvance(words) + 10
            if x >= last and (day + 1) * 24 <= lanes.hours + 24:
                painter.setPen(c["ink"])
                painter.drawText(QPointF(x + 4, 14), words)
                last = x + wide
            self._paint_hours(painter, day, c)

    def _paint_hours(self, painter: QPainter, day: int, c: dict[str, QColor]) -> None:
        if ZOOMS[self._zoom] < 9:
            return
        painter.save()
        painter.setFont(font(8))
        painter.setPen(c["soft"])
        last = -1e9
        for hour in range(0, 24, 3):
            x = self._x(day * 24.0 + hour)
            seen = self._x(day * 24.0 + hour + 1) - x > 0.5 * ZOOMS[self._zoom]  # not where nobody is there
            if hour and seen and x - last > 24 and x - self._x(day * 24.0) > 8:
                painter.drawText(QPointF(x - 5, 28), str(hour))
                painter.drawLine(QPointF(x, 30), QPointF(x, 33))
                last = x
        painter.restore()

    def _paint_lanes(self, painter: QPainter, c: dict[str, QColor]) -> None:
        tops, lanes = self._tops(), self._lanes
        assert lanes is not None
        for lane in lanes.lanes:
            top = tops[lane.key]
            painter.setPen(c["edge"])
            under = top + lane.rows * ROW + GAP / 2
            painter.drawLine(QPointF(0, under), QPointF(float(self._at[-1]), under))
            for window in lane.windows:
                self._paint_window(painter, window.opens, window.closes, top + window.row * ROW, c)
            painter.setFont(font(8.5))
            for bar in lane.bars:
                self._paint_bar(painter, lane, bar, top, c)
        if self._now is not None:
            painter.setPen(QPen(c["grave"], 2))
            painter.drawLine(QPointF(self._x(self._now), 0), QPointF(self._x(self._now), tops["·end"]))

    def _paint_window(self, painter: QPainter, opens: float, closes: float, top: float, c: dict[str, QColor]) -> None:
        """A band that closes: as high as its row where it opens, nothing where it closes."""
        left, right, low = self._x(opens), self._x(closes), top + ROW - 1
        tint = QColor(c["accent"])
        tint.setAlpha(60)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(tint)
        painter.drawPolygon(QPolygonF([QPointF(left, top), QPointF(right, low), QPointF(left, low)]))
        painter.setPen(QPen(c["accent"], 1.4))
        painter.drawLine(QPointF(right, top + 3), QPointF(right, low))
        painter.drawLine(QPointF(right - 3, low), QPointF(right + 3, low))

    def _paint_bar(self, painter: QPainter, lane: Lane, bar: Bar, top: float, c: dict[str, QColor]) -> None:
        box = self._box(bar, top)
        if self._drag is not None and self._drag[0] == bar.step:
            box.moveLeft(self._x(bar.start + self._drag[2]))
        here = bar.step == self.chosen
        edge = c["warn"] if bar.missed else c["accent"] if here else c["soft"]
        painter.setPen(
            QPen(edge, 2.4 if here else 1.2, Qt.PenStyle.DotLine if bar.kind == "wait" else Qt.PenStyle.SolidLine)
        )
        fills = {"work": "accent-soft", "wet": "new-core", "done": "rail", "wait": "panel"}
        painter.setBrush(c[fills[bar.kind]])
        painter.drawRect(box)
        if bar.kind == "wet":
            painter.fillRect(box, QBrush(QColor(c["soft"]), Qt.BrushStyle.Dense7Pattern))
        marks = ("✓ " if bar.kind == "done" else "") + ("⚠ " if bar.missed else "") + ("■ " if bar.put else "")
        self._paint_words(painter, lane, bar, box, f"{marks}{bar.name}", c)

    def _paint_words(
        self, painter: QPainter, lane: Lane, bar: Bar, box: QRectF, words: str, c: dict[str, QColor]
    ) -> None:
        """The step's name in its bar, else as much of it as there is room for after it."""
        metrics = QFontMetricsF(painter.font())
        after = min((self._x(b.start) for b in lane.bars if b.row == bar.row and b.start >= bar.end), default=1e9)
        room = QRectF(box.left() + 4, box.top(), max(box.width() - 6, 0), box.height())
        if metrics.horizontalAdvance(words) > room.width():
            outside = after - box.right() - 8
            if outside > room.width():
                room = QRectF(box.right() + 4, box.top(), min(outside, 160), box.height())
        if room.width() < 18:
            return
        shown = metrics.elidedText(words, Qt.TextElideMode.ElideRight, room.width())
        painter.setPen(c["warn"] if bar.missed else c["ink"])
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, shown)

    def _paint_names(self, painter: QPainter, c: dict[str, QColor], down: int) -> None:
        view = self.viewport()
        painter.fillRect(QRectF(0, 0, NAMES, room_of(view).height()), c["panel"])
        painter.setPen(c["edge"])
        painter.drawLine(QPointF(NAMES, 0), QPointF(NAMES, room_of(view).height()))
        painter.setFont(font(10, bold=True))
        painter.setPen(c["ink"])
        painter.setClipRect(QRectF(0, HEAD, NAMES, room_of(view).height() - HEAD))
        tops = self._tops()
        for lane in self._lanes.lanes if self._lanes is not None else ():
            box = QRectF(6, HEAD + tops[lane.key] - down + 1, NAMES - 10, max(lane.rows * ROW, ROW))
            painter.drawText(box, Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap, lane.name)
        painter.setClipping(False)

    # ---- what the user does ----

    def _bar_at(self, place: QPointF) -> Bar | None:
        if place.x() < NAMES or place.y() < HEAD:
            return None
        x = place.x() - NAMES + self.horizontalScrollBar().value()
        y = place.y() - HEAD + self.verticalScrollBar().value()
        tops = self._tops()
        for lane, bar in self._every():
            if self._box(bar, tops[lane.key]).adjusted(-2, -1, 2, 1).contains(QPointF(x, y)):
                return bar
        return None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        bar = self._bar_at(place_of(event))
        if bar is not None and event.button() == Qt.MouseButton.LeftButton:
            self.choose(bar.step)
            self.picked.emit(bar.step)
            if bar.kind != "done":
                self._drag = (bar.step, place_of(event).x(), 0.0)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is None or not event.buttons() & Qt.MouseButton.LeftButton:
            return
        step, pressed, _ = self._drag
        bar = next(b for b in self._bars() if b.step == step)
        if abs(place_of(event).x() - pressed) >= GRAB:
            new = self._hours(self._x(bar.start) + place_of(event).x() - pressed)
            self._drag = (step, pressed, round((new - bar.start) * SLOTS) / SLOTS)
            self.viewport().update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        drag, self._drag = self._drag, None
        if drag is not None and drag[2]:
            bar = next(b for b in self._bars() if b.step == drag[0])
            self.moved.emit(drag[0], bar.start + drag[2])
        self.viewport().update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        bars, key = self._bars(), event.key()
        here = next((n for n, b in enumerate(bars) if b.step == self.chosen), -1)
        arrows = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        if event.modifiers() & Qt.KeyboardModifier.AltModifier and key in arrows and here >= 0:
            by = 24.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 0.25
            self.moved.emit(self.chosen, bars[here].start + arrows[Qt.Key(key)] * by)
        elif key in arrows and bars:
            self._go(bars[min(max(here + arrows[Qt.Key(key)], 0), len(bars) - 1)].step)
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and bars:
            self._go_lane(-1 if key == Qt.Key.Key_Up else 1)
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End) and bars:
            self._go(bars[0 if key == Qt.Key.Key_Home else -1].step)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and here >= 0:
            self.freed.emit(self.chosen)
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Minus, Qt.Key.Key_Equal):
            self.zoom(-1 if key == Qt.Key.Key_Minus else 1)
        else:
            super().keyPressEvent(event)

    def _go(self, step: str) -> None:
        self.choose(step)
        self.picked.emit(step)

    def _go_lane(self, by: int) -> None:
        """The step nearest in time in the next lane."""
        lanes = [lane for lane in (self._lanes.lanes if self._lanes else ()) if lane.bars]
        at = next((n for n, lane in enumerate(lanes) if any(b.step == self.chosen for b in lane.bars)), None)
        if at is None:
            self._go(lanes[0].bars[0].step)
            return
        mine = next(b for b in lanes[at].bars if b.step == self.chosen)
        other = lanes[min(max(at + by, 0), len(lanes) - 1)]
        self._go(min(other.bars, key=lambda b: abs(b.start - mine.start)).step)

    def zoom(self, by: int) -> None:
        """Longer or shorter hours, about the middle of what is seen."""
        across, wide = self.horizontalScrollBar(), room_of(self.viewport()).width() - NAMES
        middle = self._hours(across.value() + wide / 2)
        self._zoom = min(max(self._zoom + by, 0), len(ZOOMS) - 1)
        self._measure()
        across.setValue(floor(self._x(middle) - wide / 2))

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom(1 if event.angleDelta().y() > 0 else -1)
            event.accept()
        elif self.verticalScrollBar().maximum() == 0 or event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            across = self.horizontalScrollBar()
            across.setValue(across.value() - event.angleDelta().y() - event.angleDelta().x())
            event.accept()
        else:
            super().wheelEvent(event)

    def viewportEvent(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ToolTip:
            tip: QHelpEvent = event  # type: ignore[assignment]  # what this type of event is
            bar = self._bar_at(QPointF(tip.pos()))
            QToolTip.showText(tip.globalPos(), self._words(bar.step) if bar is not None else "", self)
            return True
        return super().viewportEvent(event)
