"""What is written on a drawing, kept apart: numbers, callouts, sizes, then words where there is room."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from ribpatch.core.drawing.labels import Box, first_free, free_box, overlaps, spread
from ribpatch.core.drawing.palette import PENS
from ribpatch.core.drawing.shapes import Badge, Dimension, Text
from ribpatch.ui.theme import colours, font

if TYPE_CHECKING:
    from ribpatch.core.drawing.shapes import Callout, Drawing
    from ribpatch.ui.widgets.view import View

NUMBER_HIGH = 7.0  # pixels that a ply's number needs
ALONG = (0.5, 0.25, 0.75, 0.1, 0.9)  # of a size's line, where its number may stand
HANDLE = 12  # pixels from the middle of a handle to clear of it


def pen_of(role: str, theme: str) -> QPen:
    """The pen of a role."""
    look = PENS.get(role, PENS["dimension"])
    pen = QPen(colours(theme)[look.colour], look.width)
    if look.dash:
        pen.setDashPattern(list(look.dash))
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    return pen


class Writer:
    """Writes on one drawing through a view; ``on_paper`` lays paper under callouts, as over a photograph."""

    def __init__(self, painter: QPainter, view: View, theme: str, room: QRectF, on_paper: bool) -> None:
        self._p, self._view, self._theme, self._on_paper = painter, view, theme, on_paper
        self._c = colours(theme)
        self._room: Box = (room.x() + 2, room.y() + 2, room.width() - 4, room.height() - 4)
        self._taken: list[Box] = []

    def write(self, drawing: Drawing) -> None:
        """Write it all: what cannot move first."""
        for badge in (s for s in drawing.shapes if isinstance(s, Badge)):
            self._badge(badge)
        self._callouts(drawing)
        for size in (s for s in drawing.shapes if isinstance(s, Dimension)):
            self._dimension(size)
        for text in (s for s in drawing.shapes if isinstance(s, Text)):
            self._text(text)

    def _badge(self, shape: Badge) -> None:
        at = self._view.to(shape.at)
        if shape.role == "ply-number":
            if shape.clearance * self._view.scale >= NUMBER_HIGH:
                self._ply_number(at, shape.text)
            return
        self._p.setFont(font(8.5, bold=True))
        wide = max(17.0, QFontMetricsF(self._p.font()).horizontalAdvance(shape.text) + 9)
        box = QRectF(at.x() - wide / 2, at.y() - 8.5, wide, 17)
        box = self._beside(at, box)
        self._taken.append((box.x(), box.y(), box.width(), box.height()))
        self._p.setPen(QPen(self._c["panel"], 1.5))
        self._p.setBrush(self._c["accent" if shape.role == "next" else "ink"])
        radius = 8.5 if shape.role == "next" else 2.5
        self._p.drawRoundedRect(box, radius, radius)
        self._p.setBrush(Qt.BrushStyle.NoBrush)
        self._p.setPen(self._c["accent-ink" if shape.role == "next" else "paper"])
        self._p.drawText(box, Qt.AlignmentFlag.AlignCenter, shape.text)

    def _beside(self, at: QPointF, box: QRectF) -> QRectF:
        """The box, or where others lie under it one beside its place, with a line to it."""
        here = (box.x(), box.y(), box.width(), box.height())
        if not any(overlaps(here, other) for other in self._taken):
            return box
        free = free_box(at.x(), at.y(), box.width(), box.height(), self._taken, self._room)
        if free is None:
            return box
        self._p.setPen(pen_of("leader", self._theme))
        self._p.drawLine(at, QRectF(*free).center())
        return QRectF(*free)

    def _ply_number(self, at: QPointF, text: str) -> None:
        """A small number on a small piece of paper, so that the hatch does not run through it."""
        self._p.setFont(font(7))
        wide = QFontMetricsF(self._p.font()).horizontalAdvance(text) + 3
        box = QRectF(at.x() - wide / 2, at.y() - 5, wide, 10)
        self._p.fillRect(box, self._c["panel"])
        self._p.setPen(self._c["ink"])
        self._p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _dimension(self, shape: Dimension) -> None:
        a, b = self._view.to(shape.start), self._view.to(shape.end)
        self._p.setPen(pen_of("dimension", self._theme))
        self._p.setFont(font(8.5))
        metrics = QFontMetricsF(self._p.font())
        width = metrics.horizontalAdvance(shape.text)
        if abs(b.x() - a.x()) >= abs(b.y() - a.y()):
            y = a.y() + (0 if shape.role == "taper" else 16)
            self._p.drawLine(QPointF(a.x(), y), QPointF(b.x(), y))
            for x in (a.x(), b.x()):
                self._p.drawLine(QPointF(x, y - 4), QPointF(x, y + 4))
            near = 16 if shape.role == "taper" else 7
            along = [a.x() + (b.x() - a.x()) * share - width / 2 - 3 for share in ALONG]
            ends = min(a.x(), b.x()) - width - 10, max(a.x(), b.x()) + 4
            above = [(x, y + by) for x in along for by in (-near, -near - 15, near - 14)]
            places = above[:3] + [(end, y - 7) for end in ends] + above[3:]
        else:
            x = a.x() - 16
            self._p.drawLine(QPointF(x, a.y()), QPointF(x, b.y()))
            for y in (a.y(), b.y()):
                self._p.drawLine(QPointF(x - 4, y), QPointF(x + 4, y))
            # Over its upper end, where the handle of the section line is not.
            left = max(x - width / 2 - 3, 2.0)
            beside = [(left, b.y() + (a.y() - b.y()) * share - 7) for share in ALONG]
            places = [(left, b.y() - 20), beside[0], (left, a.y() + 6), *beside[1:]]
        boxes = [(left, top, width + 6, 14.0) for left, top in places]
        free = first_free(boxes, self._taken, self._room) or free_box(
            (a.x() + b.x()) / 2, (a.y() + b.y()) / 2, width + 6, 14.0, self._taken, self._room
        )
        box = QRectF(*(free or boxes[0]))
        self._p.fillRect(box, self._c["panel"])
        self._p.setPen(self._c["ink"])
        self._p.drawText(box, Qt.AlignmentFlag.AlignCenter, shape.text)
        self._taken.append((box.x(), box.y(), box.width(), box.height()))

    def _text(self, shape: Text) -> None:
        tight = shape.role == "tight"
        self._p.setFont(font(9, bold=tight or shape.role == "zone-here"))
        metrics = QFontMetricsF(self._p.font())
        words = f"⚠ {shape.text}" if tight else shape.text
        width, height = metrics.horizontalAdvance(words) + 6, metrics.height() + 1
        at = self._view.to(shape.at)
        box = free_box(at.x(), at.y(), width, height, self._taken, self._room)
        if box is None:
            return
        self._taken.append(box)
        back = QColor(self._c["panel"])
        back.setAlpha(215)
        rect = QRectF(*box)
        self._p.fillRect(rect, back)
        self._p.setPen(self._c["warn" if tight else "accent" if shape.role == "zone-here" else "ink"])
        self._p.drawText(rect, Qt.AlignmentFlag.AlignCenter, words)

    def _callouts(self, drawing: Drawing) -> None:
        self._p.setFont(font(9))
        metrics = QFontMetricsF(self._p.font())
        x0, _, x1, _ = drawing.bounds
        low, high = self._room[1], self._room[1] + self._room[3]
        gap = 10 + (HANDLE + drawing.gap * (x1 - x0) * self._view.scale if drawing.gap else 0)
        for side in ("left", "right"):
            rows = _alike([s for s in drawing.callouts if s.side == side])  # of which warnings find room first
            places = [[self._view.to(one.at) for one in row] for row in rows]
            wanted = [sum(at.y() for at in ends) / len(ends) for ends in places]
            middles = spread(wanted, metrics.height() + 2, low, high)
            edge = self._view.to((x0, 0)).x() - gap if side == "left" else self._view.to((x1, 0)).x() + gap
            placed = zip(rows, places, middles, strict=True)
            for row, ends, y in sorted(placed, key=lambda one: one[0][0].role != "tight"):
                self._callout(row[0], ends, edge, y)

    def _callout(self, shape: Callout, ends: list[QPointF], edge: float, y: float) -> None:
        """Words at an edge, about so high, a line to each of their places; nothing where there is no room."""
        metrics = QFontMetricsF(self._p.font())
        tight = shape.role == "tight"
        words = f"⚠ {shape.text}" if tight else shape.text
        width, high = metrics.horizontalAdvance(words) + 6, metrics.height()
        wanted = (edge - width if shape.side == "left" else edge, y - high / 2, width, high)
        box = self._in_column(wanted)
        if box is None:
            return
        self._taken.append(box)
        middle = box[1] + high / 2
        self._p.setPen(pen_of("leader", self._theme))
        for at in ends:
            self._p.drawLine(at, QPointF(edge, middle))
        if self._on_paper:
            self._p.fillRect(QRectF(*box), self._c["panel"])
        self._p.setPen(self._c["warn" if tight else "ink"])
        self._p.drawText(QPointF(box[0] + 3, middle + metrics.ascent() / 2 - 1), words)

    def _in_column(self, box: Box) -> Box | None:
        """The box, or where others lie under it the nearest place over or under them; None where none is free."""
        x, y, wide, high = box
        room = (x, self._room[1], wide, self._room[3])
        y = min(max(y, room[1]), room[1] + room[3] - high)
        steps = (side * by for by in range(0, int(self._room[3]), 2) for side in (-1, 1))
        return first_free(((x, y + by, wide, high) for by in steps), self._taken, room)


def _alike(rows: list[Callout]) -> list[list[Callout]]:
    """Callouts that say the same are said once."""
    made: dict[tuple[str, str], list[Callout]] = {}
    for row in rows:
        made.setdefault((row.role, row.text), []).append(row)
    return list(made.values())
