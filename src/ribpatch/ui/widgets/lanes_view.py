"""Lanes of steps over the days: bars, windows that close, nights drawn narrow. Arrows go from step to step, Alt with an
arrow moves the step looked at by hand, Delete lets it find its own place; a bar can be dragged.
"""

from __future__ import annotations

from math import floor
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QPointF, Qt, QTimer, Signal
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import QAbstractScrollArea, QToolTip

from ribpatch.ui.scaling import factor, painter_of, place_of, room_of
from ribpatch.ui.theme import colours
from ribpatch.ui.widgets.lane_scale import HEAD, NAMES, ROW, SLOTS, LaneScale
from ribpatch.ui.widgets.lanes_painter import LanesPainter
from ribpatch.ui.widgets.spoken import Children, listened

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from PySide6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPaintEvent, QResizeEvent, QWheelEvent
    from PySide6.QtWidgets import QWidget

    from ribpatch.core.day_lanes import Bar, Lane, Lanes

ZOOMS = (4.0, 6.0, 9.0, 13.0, 19.0, 28.0)  # pixels an hour
GRAB = 4  # pixels that make a drag


class LanesView(QAbstractScrollArea):
    """Shows Lanes. ``picked`` carries the id of a step looked at, ``moved`` (id, hours from the beginning) where one
    was put by hand, ``nudged`` (id, hours from the beginning, hours by which) by a key, ``freed`` the id of one that
    is to find its own place.
    """

    picked = Signal(str)
    moved = Signal(str, float)
    nudged = Signal(str, float, float)
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
        self._scale = LaneScale(None, ZOOMS[self._zoom])
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
            box = self._scale.box(found[1], found[0])
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
        self._scale = LaneScale(self._lanes, ZOOMS[self._zoom])
        self._scrolls()
        self.viewport().update()

    def _where(self) -> tuple[int, int]:
        """How far it is scrolled across and down."""
        return self.horizontalScrollBar().value(), self.verticalScrollBar().value()

    def _scrolls(self) -> None:
        view = self.viewport()
        wide, high = self._scale.wide, self._scale.high
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
        (across, down), view = self._where(), room_of(self.viewport()).adjusted(NAMES, HEAD, 0, 0)
        made = []
        for lane, bar in self._every():
            seen = self._scale.box(bar, lane).translated(NAMES - across, HEAD - down) & view
            if not seen.isEmpty():
                words = self._words(bar.step).replace("\n", "; ")
                made.append((f"{lane.name}: {words}", QPointF(seen.left(), seen.center().y()) * factor()))
        return made

    def _paint(self, painter: QPainter) -> None:
        view, c = room_of(self.viewport()), colours(self.theme)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(view, c["panel"])
        if self._lanes is None:
            painter.setPen(c["soft"])
            painter.drawText(view, Qt.AlignmentFlag.AlignCenter, "Nothing to plan yet.")
            return
        drawn = LanesPainter(painter, self._scale, c, view)
        drawn.moved = self._drag
        drawn.paint(self._lanes, self._day, self._where(), self.chosen, self._now)
        if self.hasFocus():
            painter.setPen(QPen(c["accent"], 2))
            painter.drawRect(view.adjusted(1, 1, -1, -1))

    # ---- what the user does ----

    def _bar_at(self, place: QPointF) -> Bar | None:
        if place.x() < NAMES or place.y() < HEAD:
            return None
        across, down = self._where()
        x, y = place.x() - NAMES + across, place.y() - HEAD + down
        for lane, bar in self._every():
            if self._scale.box(bar, lane).adjusted(-2, -1, 2, 1).contains(QPointF(x, y)):
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
            new = self._scale.hours(self._scale.x(bar.start) + place_of(event).x() - pressed)
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
            self.nudged.emit(self.chosen, bars[here].start, arrows[Qt.Key(key)] * by)
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
        middle = self._scale.hours(across.value() + wide / 2)
        self._zoom = min(max(self._zoom + by, 0), len(ZOOMS) - 1)
        self._measure()
        across.setValue(floor(self._scale.x(middle) - wide / 2))

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
