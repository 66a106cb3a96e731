"""Pictures of the start page, painted without any geometry: a recent job's boat, and what the program does."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from ribpatch.ui.scaling import painter_of, room_of, sized
from ribpatch.ui.theme import colours, font

if TYPE_CHECKING:
    from collections.abc import Iterable

EDGE = 4  # pixels
STEPS = ("read", "open", "rebuild", "print")


class BoatCard(QWidget):
    """A boat from above with her zones, from the plain outlines that were kept of her."""

    def __init__(self, card: dict[str, Any], theme: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        sized(self, width=132, height=46)
        self._card, self._theme = card, theme
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)

    def paintEvent(self, event: QPaintEvent) -> None:
        c = colours(self._theme)
        painter = painter_of(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        hull = _points(self._card.get("hull"))
        if len(hull) > 2:
            xs, ys = [p.x() for p in hull], [p.y() for p in hull]
            wide, high = max(max(xs) - min(xs), 1e-6), max(max(ys) - min(ys), 1e-6)
            scale = min((room_of(self).width() - 2 * EDGE) / wide, (room_of(self).height() - 2 * EDGE) / high)

            def put(points: Iterable[QPointF]) -> QPolygonF:
                middle = room_of(self).height() / 2 + (max(ys) + min(ys)) / 2 * scale
                return QPolygonF([QPointF(EDGE + (p.x() - min(xs)) * scale, middle - p.y() * scale) for p in points])

            painter.setPen(QPen(c["soft"], 1.2))
            painter.setBrush(c["boat"])
            painter.drawPolygon(put(hull))
            planned = _listed(self._card.get("planned"))
            for number, rings in enumerate(_listed(self._card.get("zones"))):
                done = number < len(planned) and bool(planned[number])
                painter.setPen(QPen(c["accent"], 1.2))
                painter.setBrush(c["new-skin"] if done else c["warn-soft"])
                for ring in _listed(rings):
                    painter.drawPolygon(put(_points(ring)))
        painter.end()


def _listed(kept: Any) -> list[Any]:
    """A kept list; none where it was damaged by hand."""
    return kept if isinstance(kept, list) else []


def _points(ring: Any) -> list[QPointF]:
    """The corners of a kept ring; none where it was damaged by hand."""
    try:
        return [QPointF(float(x), float(y)) for x, y in ring or ()]
    except (TypeError, ValueError):
        return []


class WhatItDoes(QWidget):
    """Four small pictures: a panel read, its cut line, the laminate put back, a sheet for the boat."""

    def __init__(self, theme: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        sized(self, least_height=150)
        self.setAccessibleName("what the program does: read, open, rebuild, print")
        self._theme = theme

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self._theme = theme
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = painter_of(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        wide = room_of(self).width() / len(STEPS)
        for n, step in enumerate(STEPS):
            box = QRectF(n * wide + 10, 8, wide - 20, room_of(self).height() - 46)
            painter.setPen(colours(self._theme)["soft"])
            painter.setFont(font(9))
            below = QRectF(n * wide + 4, room_of(self).height() - 34, wide - 8, 32)
            painter.drawText(below, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, WORDS[step])
            getattr(self, f"_{step}")(painter, box)
        painter.end()

    def _panel(self, painter: QPainter, box: QRectF) -> None:
        painter.setPen(QPen(colours(self._theme)["soft"], 1.2))
        painter.setBrush(colours(self._theme)["panel"])
        painter.drawRoundedRect(box, 4, 4)

    def _read(self, painter: QPainter, box: QRectF) -> None:
        self._panel(painter, box)
        c = colours(self._theme)
        for i in range(1, 8):
            for k in range(1, 5):
                at = QPointF(box.left() + box.width() * i / 8, box.top() + box.height() * k / 5)
                bad = abs(i - 4.6) + 1.3 * abs(k - 2.4) < 2.4
                painter.setPen(QPen(c["ink"] if bad else c["soft"], 1))
                painter.setBrush(c["ink"] if bad else c["panel"])
                painter.drawEllipse(at, 3.2, 3.2)

    def _open(self, painter: QPainter, box: QRectF) -> None:
        self._panel(painter, box)
        c = colours(self._theme)
        cut = QRectF(
            box.left() + box.width() * 0.34, box.top() + box.height() * 0.18, box.width() * 0.46, box.height() * 0.6
        )
        painter.setPen(QPen(c["soft"], 1, Qt.PenStyle.DashLine))
        painter.drawRoundedRect(cut.adjusted(-9, -9, 9, 9), 9, 9)
        painter.setPen(QPen(c["accent"], 2.2))
        painter.setBrush(c["accent-soft"])
        painter.drawRoundedRect(cut, 6, 6)

    def _rebuild(self, painter: QPainter, box: QRectF) -> None:
        c = colours(self._theme)
        middle, left, wide = box.center().y(), box.left(), box.width()
        for n, (low, high, name) in enumerate(((0.0, 0.3, "old-skin"), (0.7, 1.0, "old-skin"))):
            painter.setPen(QPen(c["soft"], 1))
            painter.setBrush(c[name])
            slope = 0.12 * wide * (1 if n == 0 else -1)
            inner = left + wide * (high if n == 0 else low)
            outer = left + wide * (low if n == 0 else high)
            upper, lower = middle - 8, middle + 8
            corners = ((outer, upper), (inner, upper), (inner + slope, lower), (outer, lower))
            painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y in corners]))
        painter.setBrush(c["new-skin"])
        for ply in range(4):
            half = wide * (0.09 + 0.035 * ply)
            painter.drawRect(QRectF(box.center().x() - half, middle + 4 - 4 * ply, 2 * half, 4))
        painter.setBrush(c["old-core"])
        painter.drawRect(QRectF(left, middle + 8, wide, 20))

    def _print(self, painter: QPainter, box: QRectF) -> None:
        c = colours(self._theme)
        sheet = QRectF(box.center().x() - 34, box.top(), 68, box.height())
        painter.setPen(QPen(c["soft"], 1.2))
        painter.setBrush(c["panel"])
        painter.drawRect(sheet)
        painter.drawRect(sheet.adjusted(8, 8, -8, -sheet.height() * 0.55))
        for n in range(4):
            y = sheet.top() + sheet.height() * (0.56 + 0.1 * n)
            painter.drawRect(QRectF(sheet.left() + 8, y, 5, 5))
            painter.drawLine(QPointF(sheet.left() + 18, y + 3), QPointF(sheet.right() - 8, y + 3))


WORDS = {
    "read": "read the panel, see what is bad",
    "open": "cut line and taper that fit",
    "rebuild": "plies, core, resin, cups",
    "print": "one sheet to take to the boat",
}
