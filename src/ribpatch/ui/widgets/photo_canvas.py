"""A photograph with marks to drag: wheel and middle drag look closer, a loupe shows where a mark really stands."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen, QPixmap, QPolygonF, QWheelEvent

from ribpatch.ui.theme import colours, text_font
from ribpatch.ui.widgets.canvas import ARROWS
from ribpatch.ui.widgets.themed import Themed

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from ribpatch.core.set_straight import Pixel

REACH = 16.0  # pixels
LOUPE, TIMES = 132, 4.0  # of the screen; how many times larger than the picture is shown
MOST_ZOOM = 30.0


class PhotoCanvas(Themed):
    """Marks in rows, each a group of its own: corners, edges, checks. ``moved`` carries (group, number, place);
    ``clicked`` a place beside all marks, shares of the picture's width.
    """

    scaled = False
    moved = Signal(object)
    clicked = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("photograph", parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumSize(320, 240)
        self.picture = QPixmap()
        self.groups: dict[str, tuple[Pixel, ...]] = {}
        self.closed: frozenset[str] = frozenset()  # groups whose last mark joins the first
        self.pairs: frozenset[str] = frozenset()  # groups whose marks are the ends of lines of their own
        self.current: tuple[str, int] | None = None
        self.cross: Pixel | None = None  # where Enter would click, while no mark is moved by the keys
        self._held = False
        self._zoom, self._pan = 1.0, QPointF()
        self._grabbed: QPointF | None = None

    def sizeHint(self) -> QSize:
        return QSize(760, 560)

    def show_picture(self, picture: QPixmap) -> None:
        """Show a picture, all of it."""
        self.picture, self._zoom, self._pan = picture, 1.0, QPointF()
        self.update()

    def show_groups(self, groups: dict[str, tuple[Pixel, ...]]) -> None:
        """Show marks; the current one stays where it is still there."""
        self.groups = groups
        if self.current is not None and self.current[1] >= len(groups.get(self.current[0], ())):
            self.current = None
        self.update()

    # ---- places ----

    @property
    def _scale(self) -> float:
        """Pixels of the screen to a width of the picture."""
        if self.picture.isNull():
            return 1.0
        fit = min(self.width() / self.picture.width(), self.height() / self.picture.height())
        return fit * self._zoom * self.picture.width()

    @property
    def _corner(self) -> QPointF:
        shape = self.picture.height() / max(self.picture.width(), 1)
        s = self._scale
        return QPointF((self.width() - s) / 2, (self.height() - s * shape) / 2) + self._pan

    def to(self, place: Pixel) -> QPointF:
        """Where a place of the picture is on the widget."""
        return self._corner + QPointF(*place) * self._scale

    def back(self, at: QPointF) -> Pixel:
        """The place of the picture under a point of the widget."""
        off = (at - self._corner) / self._scale
        return off.x(), off.y()

    def _near(self, at: QPointF) -> tuple[str, int] | None:
        found = [
            ((self.to(p) - at).manhattanLength(), (name, k))
            for name, row in self.groups.items()
            for k, p in enumerate(row)
        ]
        best = min(found, default=(REACH + 1, None))
        return best[1] if best[0] <= REACH else None

    def told(self) -> list[tuple[str, QPointF]]:
        """The marks by their groups, in the order in which they were put."""
        return [
            (f"{name} {number} of {len(row)}", self.to(place))
            for name, row in self.groups.items()
            for number, place in enumerate(row, 1)
        ]

    # ---- painting ----

    def paint(self, painter: QPainter) -> None:
        c = colours(self.theme)
        painter.fillRect(self.rect(), c["rail"])
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        if not self.picture.isNull():
            shape = self.picture.height() / self.picture.width()
            box = QRectF(self._corner.x(), self._corner.y(), self._scale, self._scale * shape)
            painter.drawPixmap(box, self.picture, QRectF(self.picture.rect()))
        for name, row in self.groups.items():
            self._paint_group(painter, name, row)
        if self.cross is not None:
            self._paint_cross(painter, self.to(self.cross))
        if self.current is not None and self._held:
            self._paint_loupe(painter, self.groups[self.current[0]][self.current[1]])
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(c["accent" if self.hasFocus() else "edge"], 1))
        painter.drawRect(self.rect().adjusted(0, 0, -1, -1))

    def _paint_group(self, painter: QPainter, name: str, row: tuple[Pixel, ...]) -> None:
        c = colours(self.theme)
        points = [self.to(p) for p in row]
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, wide in (("panel", 3.6), ("accent", 1.6)):  # on a halo: a photograph may have any colour
            painter.setPen(QPen(c[colour], wide))
            if name in self.pairs:
                painter.drawLines(points)
            else:
                (painter.drawPolygon if name in self.closed else painter.drawPolyline)(QPolygonF(points))
        for number, at in enumerate(points):
            here = self.current == (name, number)
            radius = 8.0 if here else 6.0
            for colour, wide in (("panel", 4.0), ("accent", 2.2 if here else 1.6)):
                painter.setPen(QPen(c[colour], wide))
                painter.drawEllipse(at, radius, radius)
            painter.setPen(QPen(c["accent"], 1))
            painter.drawPoint(at)
            if name == "marks":
                self._paint_number(painter, str(number + 1), at)

    def _paint_number(self, painter: QPainter, text: str, at: QPointF) -> None:
        c = colours(self.theme)
        painter.setFont(text_font(11, bold=True))
        box = QRectF(at.x() + 9, at.y() - 24, 19, 19)
        painter.fillRect(box, c["panel"])
        painter.setPen(c["ink"])
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_cross(self, painter: QPainter, at: QPointF) -> None:
        c = colours(self.theme)
        for colour, wide in (("panel", 4.0), ("accent", 1.8)):
            painter.setPen(QPen(c[colour], wide))
            painter.drawLine(QPointF(at.x() - 11, at.y()), QPointF(at.x() + 11, at.y()))
            painter.drawLine(QPointF(at.x(), at.y() - 11), QPointF(at.x(), at.y() + 11))

    def begin_cross(self) -> None:
        """Have the arrows move a cross, and Enter click there."""
        self.current, self._held = None, False
        shape = self.picture.height() / max(self.picture.width(), 1)
        self.cross = self.cross or (0.5, shape / 2)
        self.update()

    def _paint_loupe(self, painter: QPainter, place: Pixel) -> None:
        at = self.to(place)
        left = at.x() > self.width() / 2
        box = QRectF(10 if left else self.width() - LOUPE - 10, 10, LOUPE, LOUPE)
        across = LOUPE / TIMES / self._scale * self.picture.width()
        middle = QPointF(*place) * self.picture.width()
        part = QRectF(middle.x() - across / 2, middle.y() - across / 2, across, across)
        c = colours(self.theme)
        painter.fillRect(box, c["rail"])
        painter.drawPixmap(box, self.picture, part)
        painter.setPen(QPen(c["accent"], 1))
        centre = box.center()
        painter.drawLine(QPointF(centre.x(), box.top()), QPointF(centre.x(), box.bottom()))
        painter.drawLine(QPointF(box.left(), centre.y()), QPointF(box.right(), centre.y()))
        painter.setPen(QPen(c["ink"], 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)

    # ---- mouse and keys ----

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        at = event.position()
        if event.button() == Qt.MouseButton.MiddleButton:
            self._grabbed = at
            return
        if event.button() != Qt.MouseButton.LeftButton or self.picture.isNull():
            return
        near = self._near(at)
        if near is not None:
            self.current, self._held = near, True
        else:
            self.clicked.emit(self.back(at))
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._grabbed is not None:
            self._pan += at - self._grabbed
            self._grabbed = at
            self.update()
        elif self._held and self.current is not None:
            self._move(self.back(at))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._grabbed, self._held = None, False
        self.update()

    def _move(self, place: Pixel) -> None:
        if self.current is not None:
            self.moved.emit((*self.current, (round(place[0], 6), round(place[1], 6))))
            self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        before = self.back(event.position())
        factor = 1.2 if event.angleDelta().y() > 0 else 1 / 1.2
        self._zoom = min(max(self._zoom * factor, 0.5), MOST_ZOOM)
        self._pan += event.position() - self.to(before)
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if Qt.Key.Key_1 <= key <= Qt.Key.Key_4 and "marks" in self.groups:
            self.current, self.cross = ("marks", int(event.text()) - 1), None
            self.update()
        elif self.cross is not None and key in ARROWS:
            step = (10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0) / self._scale
            self.cross = (self.cross[0] + ARROWS[key][0] * step, self.cross[1] - ARROWS[key][1] * step)
            self.update()
        elif self.cross is not None and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.clicked.emit(self.cross)
        elif key in ARROWS and self.current is not None:
            far = 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
            (u, v), (dx, dy) = self.groups[self.current[0]][self.current[1]], ARROWS[key]
            step = far / self._scale
            self._held = True  # the loupe shows what a key moves
            self._move((u + dx * step, v - dy * step))
        elif key == Qt.Key.Key_Home:
            self._zoom, self._pan = 1.0, QPointF()
            self.update()
        else:
            super().keyPressEvent(event)
