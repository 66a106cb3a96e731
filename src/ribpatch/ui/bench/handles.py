"""Dragging: corners of an outline, extent or cut line, and the ends of the section line."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QGuiApplication, QKeyEvent, QMouseEvent, QPainter, QPen

from ribpatch.ui.theme import colours, font

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.geometry import Point, Ring
    from ribpatch.ui.widgets.canvas import Canvas

REACH = 9.0
SNAP = 7.0  # pixels within which a dragged corner catches


def _near(a: QPointF, b: QPointF) -> bool:
    return (a.x() - b.x()) ** 2 + (a.y() - b.y()) ** 2 <= REACH**2


class CornerTool:
    """Square handles on the corners of some rings. ``put(rings, dragging)`` is asked to apply each change.

    Drag moves a corner, or a side with both its corners; double-click on a side adds one; Delete removes the corner
    last touched. ``snap(place, reach, old place)`` says where a corner catches; Alt lets it go free.
    """

    def __init__(
        self,
        put: Callable[[tuple[Ring, ...], bool], bool],
        ended: Callable[[], None],
        snap: Callable[[Point, float, Point], Point] = lambda at, _reach, _fixed: at,
    ) -> None:
        self._ended, self._snap = ended, snap
        self._side: tuple[int, int, Point] | None = None  # ring, side and where it was last
        self.rings: tuple[Ring, ...] = ()
        self.active = False
        self._put = put
        self._held: tuple[int, int] | None = None
        self._touched: tuple[int, int] | None = None
        self.dragging = False

    def paint(self, painter: QPainter, canvas: Canvas) -> None:
        if not self.active:
            return
        c = colours(canvas.theme)
        view = canvas.view
        painter.setPen(QPen(c["accent"], 1.8))
        for i, ring in enumerate(self.rings):
            for j, corner in enumerate(ring):
                at = view.to(corner)
                painter.setBrush(c["accent"] if (i, j) == self._touched else c["panel"])
                painter.drawRect(QRectF(at.x() - 4, at.y() - 4, 8, 8))

    def press(self, at: QPointF, canvas: Canvas, event: QMouseEvent) -> bool:
        if not self.active:
            return False
        view = canvas.view
        for i, ring in enumerate(self.rings):
            for j, corner in enumerate(ring):
                if _near(view.to(corner), at):
                    self._held = self._touched = (i, j)
                    return True
        if event.type() == event.Type.MouseButtonDblClick:
            return self._add(at, canvas)
        return self._take_side(at, canvas)

    def _take_side(self, at: QPointF, canvas: Canvas) -> bool:
        view = canvas.view
        for i, ring in enumerate(self.rings):
            for j in range(len(ring)):
                if _distance_to_side(at, view.to(ring[j]), view.to(ring[(j + 1) % len(ring)])) < REACH / 2:
                    self._side = (i, j, view.back(at))
                    return True
        return False

    def _add(self, at: QPointF, canvas: Canvas) -> bool:
        view, place = canvas.view, canvas.view.back(at)
        for i, ring in enumerate(self.rings):
            for j in range(len(ring)):
                a, b = view.to(ring[j]), view.to(ring[(j + 1) % len(ring)])
                if _distance_to_side(at, a, b) < REACH:
                    self._touched = (i, j + 1)
                    return self._put(self._with(i, (*ring[: j + 1], place, *ring[j + 1 :])), False)
        return False

    def _with(self, index: int, ring: Ring) -> tuple[Ring, ...]:
        return tuple(ring if i == index else old for i, old in enumerate(self.rings))

    def move(self, at: QPointF, canvas: Canvas) -> bool:
        if self._side is not None:
            return self._move_side(at, canvas)
        if self._held is None:
            return False
        self.dragging = True
        i, j = self._held
        ring = self.rings[i]
        moved = self._with(i, (*ring[:j], self._caught(canvas.view.back(at), canvas, ring[j]), *ring[j + 1 :]))
        self._put(moved, True)
        return True

    def _caught(self, place: Point, canvas: Canvas, old: Point) -> Point:
        free = QGuiApplication.keyboardModifiers() & Qt.KeyboardModifier.AltModifier
        x, y = place if free else self._snap(place, SNAP / canvas.view.scale, old)
        return round(x, 4), round(y, 4)

    def _move_side(self, at: QPointF, canvas: Canvas) -> bool:
        """Move a side along its own normal, both corners with it."""
        assert self._side is not None
        i, j, start = self._side
        ring, k = self.rings[i], (j + 1) % len(self.rings[i])
        (ax, ay), (bx, by) = ring[j], ring[k]
        length = ((bx - ax) ** 2 + (by - ay) ** 2) ** 0.5 or 1.0
        normal = ((by - ay) / length, -(bx - ax) / length)
        place = canvas.view.back(at)
        off = (place[0] - start[0]) * normal[0] + (place[1] - start[1]) * normal[1]
        wanted = (ax + off * normal[0], ay + off * normal[1])
        caught = self._caught(wanted, canvas, ring[j])
        off = (caught[0] - ax) * normal[0] + (caught[1] - ay) * normal[1]
        if abs(off) < 1e-6:
            return True
        self.dragging = True
        new = list(ring)
        for n in (j, k):
            new[n] = (round(ring[n][0] + off * normal[0], 4), round(ring[n][1] + off * normal[1], 4))
        self._put(self._with(i, tuple(new)), True)
        self._side = (i, j, (start[0] + off * normal[0], start[1] + off * normal[1]))
        return True

    def release(self, at: QPointF, canvas: Canvas) -> bool:
        held, self._held = self._held or self._side, None
        self._side = None
        if self.dragging:
            self.dragging = False
            self._ended()
        return held is not None

    def key(self, event: QKeyEvent, canvas: Canvas) -> bool:
        if not self.active or self._touched is None or event.key() != Qt.Key.Key_Delete:
            return False
        return self.take_away(*self._touched)

    # ---- by the keys ----

    def take_away(self, i: int, j: int) -> bool:
        """Take a corner away."""
        self._touched = None
        if i >= len(self.rings) or j >= len(self.rings[i]):
            return False
        return self._put(self._with(i, (*self.rings[i][:j], *self.rings[i][j + 1 :])), False)

    def add_after(self, i: int, j: int) -> bool:
        """Add a corner in the middle of the side after one; whether it stands."""
        ring = self.rings[i]
        (ax, ay), (bx, by) = ring[j], ring[(j + 1) % len(ring)]
        middle = (round((ax + bx) / 2, 4), round((ay + by) / 2, 4))
        return self._put(self._with(i, (*ring[: j + 1], middle, *ring[j + 1 :])), False)

    def nudge(self, i: int, j: int, place: Point) -> None:
        """Put a corner elsewhere, as part of one move until ``end_nudge``."""
        self.dragging = True
        self._touched = (i, j)
        ring, to = self.rings[i], (round(place[0], 4), round(place[1], 4))
        self._put(self._with(i, (*ring[:j], to, *ring[j + 1 :])), True)

    def end_nudge(self) -> None:
        """What follows is another move."""
        if self.dragging:
            self.dragging = False
            self._ended()


def _distance_to_side(p: QPointF, a: QPointF, b: QPointF) -> float:
    ab = b - a
    length = ab.x() ** 2 + ab.y() ** 2
    t = 0.0 if length == 0 else max(0.0, min(1.0, QPointF.dotProduct(p - a, ab) / length))
    off = p - (a + ab * t)
    return float((off.x() ** 2 + off.y() ** 2) ** 0.5)


class SectionTool:
    """The section line A–A: drag either end, or the line between them."""

    def __init__(self, moved: Callable[[tuple[Point, Point]], None]) -> None:
        self.line: tuple[Point, Point] | None = None
        self._moved = moved
        self._held = ""
        self._from: Point = (0.0, 0.0)

    def paint(self, painter: QPainter, canvas: Canvas) -> None:
        if self.line is None:
            return
        c = colours(canvas.theme)
        a, b = (canvas.view.to(p) for p in self.line)
        pen = QPen(c["ink"], 1.1)
        pen.setDashPattern([9, 3, 2, 3])
        painter.setPen(pen)
        painter.drawLine(a, b)
        painter.setFont(font(10, bold=True))
        for at in (a, b):
            box = QRectF(at.x() - 9, at.y() - 9, 18, 18)
            painter.setPen(QPen(c["accent"], 1.6))
            painter.setBrush(c["panel"])
            painter.drawEllipse(box)
            painter.setPen(c["accent"])
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "A")

    def press(self, at: QPointF, canvas: Canvas, event: QMouseEvent) -> bool:
        if self.line is None:
            return False
        a, b = (canvas.view.to(p) for p in self.line)
        self._from = canvas.view.back(at)
        if _near(a, at):
            self._held = "a"
        elif _near(b, at):
            self._held = "b"
        elif _distance_to_side(at, a, b) < 5 and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._held = "ab"
        else:
            self._held = ""
        return bool(self._held)

    def move(self, at: QPointF, canvas: Canvas) -> bool:
        if not self._held or self.line is None:
            return False
        place = canvas.view.back(at)
        (a, b) = self.line
        if self._held == "ab":
            dx, dy = place[0] - self._from[0], place[1] - self._from[1]
            a, b = (a[0] + dx, a[1] + dy), (b[0] + dx, b[1] + dy)
            self._from = place
        elif self._held == "a":
            a = place
        else:
            b = place
        self._put(a, b)
        return True

    def _put(self, a: Point, b: Point) -> None:
        if (a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 > 1e-6:
            self.line = (a, b)
            self._moved(self.line)

    def move_by(self, part: str, by: Point) -> None:
        """Move end ``a``, end ``b`` or both (``ab``) of the line."""
        if self.line is not None:
            a, b = (
                (x + by[0], y + by[1]) if end in part else (x, y) for end, (x, y) in zip("ab", self.line, strict=True)
            )
            self._put(a, b)

    def release(self, at: QPointF, canvas: Canvas) -> bool:
        held, self._held = self._held, ""
        return bool(held)

    def key(self, event: QKeyEvent, canvas: Canvas) -> bool:
        return False
