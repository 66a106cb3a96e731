"""Painting a core drawing with QPainter. Knows looks and pixels, nothing of boats."""

from __future__ import annotations

from functools import cache
from itertools import groupby
from typing import TYPE_CHECKING, Any, Protocol

import numpy as np
from msgspec import Struct
from PySide6.QtCore import QLineF, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from ribpatch.core.drawing.hatch import hatch
from ribpatch.core.drawing.labels import Box, first_free, free_box, overlaps, spread
from ribpatch.core.drawing.palette import FILLS, PENS, ramp_colours
from ribpatch.core.drawing.shapes import Area, Badge, Dimension, Drawing, Line, Raster, Spot, Text
from ribpatch.core.memo import remembered
from ribpatch.ui.theme import colours, font

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.geometry import Floats, Point, Ring

HATCH_PITCH = 10.0
LEAST_HATCHED = 5.0  # pixels; a thinner strip would only turn grey
SPOT = 4.6
APART = ("piece",)  # badges that may stand beside their place
NUMBER_HIGH = 7.0  # pixels that a ply's number needs
SPOT_BOX = 20
MANY = 500  # spots in a run from which they are kept as one picture
HANDLE = 12  # pixels from the middle of a handle to clear of it
SHINES = 0.75  # of a fill that a picture at full strength shines through
MOST_PIXELS = 1600.0  # of a field's picture; zoomed in further it is stretched
CALLOUT_CHARACTER = 7.1  # pixels, with the warning sign's width spread over it


@cache
def spot_picture(shape: str, level: float, reference: bool, theme: str, code: str = "") -> QPixmap:
    """The mark of a reading: its instrument's shape filled from the bottom by how bad it is, on a halo of paper.

    A tag is a bar filled in the same way beside the instrument's letters.
    """
    c = colours(theme)
    picture = QPixmap(2 * SPOT_BOX, 2 * SPOT_BOX)
    picture.setDevicePixelRatio(2)
    picture.fill(Qt.GlobalColor.transparent)
    middle = SPOT_BOX / 2
    box = QRectF(middle - SPOT, middle - SPOT, 2 * SPOT, 2 * SPOT)
    path = QPainterPath()
    if shape == "tag":
        box = QRectF(middle - 9, middle - 6, 5, 12)
    if shape == "circle":
        path.addEllipse(box)
    else:
        path.addRect(box)
    painter = QPainter(picture)
    if code and shape == "tag":
        painter.fillRect(QRectF(middle - 9, middle - 6, 19, 12), c["panel"])
        painter.setPen(c["ink"])
        painter.setFont(font(6.5, bold=True))
        painter.drawText(QRectF(middle - 4, middle - 6, 14, 12), Qt.AlignmentFlag.AlignCenter, code)
        painter.drawRect(QRectF(middle - 9, middle - 6, 18.5, 12))
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    if shape != "tag":
        painter.strokePath(path, QPen(c["panel"], 4))
    painter.fillPath(path, c["panel"])
    painter.setClipPath(path)
    painter.fillRect(QRectF(box.left(), box.bottom() - box.height() * level, box.width(), box.height()), c["ink"])
    painter.setClipping(False)
    painter.strokePath(path, QPen(c["ink"], 1.1))
    if reference:
        painter.setPen(QPen(c["accent"], 2))
        painter.drawLine(QPointF(box.left() - 2, box.bottom() + 3), QPointF(box.right() + 2, box.bottom() + 3))
    painter.end()
    return picture


@remembered(6)
def field_picture(values: Floats, theme: str, ramp: str, width: int, height: int) -> QPixmap:
    """A field smoothed to its size on screen; the same field is not smoothed again while only the cut moves."""
    pixels = np.ascontiguousarray(ramp_colours(values[::-1], theme, ramp))
    rows, columns = pixels.shape[:2]
    image = QImage(pixels.tobytes(), columns, rows, 3 * columns, QImage.Format.Format_RGB888)
    smooth = Qt.TransformationMode.SmoothTransformation
    return QPixmap.fromImage(image.scaled(max(width, 1), max(height, 1), Qt.AspectRatioMode.IgnoreAspectRatio, smooth))


class View(Struct, frozen=True):
    """Maps drawing metres (y up) to pixels (y down)."""

    scale: float
    x: float
    y: float

    def to(self, p: Point) -> QPointF:
        """Pixel of a place."""
        return QPointF(self.x + p[0] * self.scale, self.y - p[1] * self.scale)

    def polygon(self, ring: Ring) -> QPolygonF:
        """Pixels of a ring."""
        return QPolygonF([QPointF(self.x + x * self.scale, self.y - y * self.scale) for x, y in ring])

    def back(self, p: QPointF) -> Point:
        """Place of a pixel."""
        return (p.x() - self.x) / self.scale, (self.y - p.y()) / self.scale


def fitted(drawing: Drawing, width: float, height: float, margins: tuple[float, float, float, float]) -> View:
    """The view that fits a drawing into a widget with margins (left, top, right, bottom) in pixels."""
    x0, y0, x1, y1 = drawing.bounds
    left, top, right, bottom = margins
    left, right = (
        max(usual, 24 + drawing.gap * width + drawing.longest_callout(side) * CALLOUT_CHARACTER)
        for usual, side in ((left, "left"), (right, "right"))
    )
    room_x, room_y = max(width - left - right, 10.0), max(height - top - bottom, 10.0)
    scale = min(room_x / max(x1 - x0, 1e-9), room_y / max(y1 - y0, 1e-9))
    x = left + (room_x - (x1 - x0) * scale) / 2 - x0 * scale
    y = top + (room_y - (y1 - y0) * scale) / 2 + y1 * scale
    return View(scale, x, y)


class SpotLayer:
    """A run of spots as it was painted last: what it was painted for, and the picture."""

    def __init__(self) -> None:
        self.key: tuple[object, ...] = ()
        self.spots: list[Spot] = []
        self.picture = QPixmap()

    def begin(self, key: tuple[object, ...], size: QSize, ratio: float) -> None:
        """Begin anew for another view, theme or size."""
        self.key, self.spots = key, []
        self.picture = QPixmap(size)
        self.picture.setDevicePixelRatio(ratio)
        self.picture.fill(Qt.GlobalColor.transparent)


class Under(Protocol):
    """A picture that lies under a drawing: on the zone, below all else. It shines through what is filled."""

    @property
    def strength(self) -> float:
        """How strong it is, 0 to 1."""

    def paint(self, painter: QPainter, view: View) -> None:
        """Paint it through a view."""


class DrawingPainter:
    """Paints one drawing through a view, in a theme. ``layers`` keeps long runs of spots from one painting to the
    next.
    """

    def __init__(
        self, painter: QPainter, view: View, theme: str, room: QRectF, layers: list[SpotLayer] | None = None
    ) -> None:
        self._layers, self._runs = layers, 0
        self._p, self._view, self._theme = painter, view, theme
        self._c = colours(theme)
        self._room: Box = (room.x() + 2, room.y() + 2, room.width() - 4, room.height() - 4)
        self._taken: list[Box] = []
        self._spots: dict[tuple[str, float, bool, str, str], QPixmap] = {}
        self.under: Under | None = None
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)

    def paint(self, drawing: Drawing) -> None:
        """Paint all shapes, then what is written: numbers, callouts, sizes, words where there is room."""
        paint: dict[type, Callable[[Any], None]] = {
            Area: self._area,
            Line: self._line,
            Raster: self._raster,
        }
        words: list[Text] = []
        sizes: list[Dimension] = []
        badges: list[Badge] = []
        for kind, group in groupby(drawing.shapes, type):
            if kind is Spot:
                self._spot_run(list(group))  # type: ignore[arg-type]  # all of this kind
            elif kind is Text:
                words.extend(group)  # type: ignore[arg-type]  # all of this kind
            elif kind is Badge:
                badges.extend(group)  # type: ignore[arg-type]  # all of this kind
            elif kind is Dimension:
                sizes.extend(group)  # type: ignore[arg-type]  # all of this kind
            elif kind in paint:
                for shape in group:
                    paint[kind](shape)
        for badge in badges:
            self._badge(badge)
        self._callouts(drawing)
        for size in sizes:
            self._dimension(size)
        for text in words:
            self._text(text)

    def _path(self, rings: tuple[Ring, ...]) -> QPainterPath:
        path = QPainterPath()
        path.setFillRule(Qt.FillRule.OddEvenFill)
        for ring in rings:
            path.addPolygon(self._view.polygon(ring))
            path.closeSubpath()
        return path

    def pen(self, role: str) -> QPen:
        """The pen of a role."""
        look = PENS.get(role, PENS["dimension"])
        pen = QPen(self._c[look.colour], look.width)
        if look.dash:
            pen.setDashPattern(list(look.dash))
        pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        return pen

    def _area(self, shape: Area) -> None:
        path = self._path(shape.rings)
        if shape.role == "zone" and self.under is not None:
            self._p.fillPath(path, self._c[FILLS.get(shape.role, "panel")])
            self.under.paint(self._p, self._view)
            self._p.strokePath(path, self.pen(shape.role))
            return
        self._p.setOpacity(self._clear)
        if not shape.role.startswith("truth"):  # the truth is an outline over what was found
            self._p.fillPath(path, self._c[FILLS.get(shape.role, "panel")])
        if shape.material:
            self._hatch(path, shape.material)
        self._p.setOpacity(1.0)
        self._p.strokePath(path, self.pen(shape.role))

    @property
    def _clear(self) -> float:
        """How much of what is filled covers a picture under it."""
        return 1.0 if self.under is None else 1.0 - SHINES * self.under.strength

    def _hatch(self, path: QPainterPath, material: str) -> None:
        box = path.boundingRect()
        if min(box.width(), box.height()) < LEAST_HATCHED:
            return
        made = hatch(material, box.left(), box.top(), box.right(), box.bottom(), HATCH_PITCH)
        self._p.save()
        self._p.setClipPath(path, Qt.ClipOperation.IntersectClip)
        tint = QColor(self._c["hatch"])
        tint.setAlpha(150)
        self._p.setPen(QPen(tint, 0.7))
        if made.segments:
            self._p.drawLines([QLineF(*segment) for segment in made.segments])
        if made.dots:
            self._p.setPen(QPen(tint, 1.8, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            self._p.drawPoints([QPointF(x, y) for x, y in made.dots])
        self._p.restore()

    def _line(self, shape: Line) -> None:
        self._p.setPen(self.pen(shape.role))
        self._p.setBrush(Qt.BrushStyle.NoBrush)
        points = self._view.polygon(shape.points)
        if len(shape.points) == 2 and shape.points[0] == shape.points[1]:
            self._p.drawEllipse(points.at(0), 7, 7)
        elif shape.closed:
            self._p.drawPolygon(points)
        else:
            self._p.drawPolyline(points)

    def _raster(self, shape: Raster) -> None:
        self._p.save()
        self._p.setClipPath(self._path(shape.clip), Qt.ClipOperation.IntersectClip)
        low, high = self._view.to(shape.low), self._view.to(shape.high)
        box = QRectF(QPointF(low.x(), high.y()), QPointF(high.x(), low.y()))
        shrink = max(box.width(), box.height(), MOST_PIXELS) / MOST_PIXELS
        size = round(box.width() / shrink), round(box.height() / shrink)
        picture = field_picture(shape.values, self._theme, shape.role, *size)
        self._p.setOpacity(self._clear)
        self._p.drawPixmap(box, picture, QRectF(picture.rect()))
        self._p.restore()

    def _spot_run(self, spots: list[Spot]) -> None:
        """Thousands of spots are painted once: at the next entry only the new ones are put over them."""
        if self._layers is None or len(spots) < MANY:
            for spot in spots:
                self._spot(self._p, spot)
            return
        if self._runs == len(self._layers):
            self._layers.append(SpotLayer())
        layer = self._layers[self._runs]
        self._runs += 1
        device = self._p.device()
        size, ratio = QSize(device.width(), device.height()), device.devicePixelRatioF()
        key = (self._view, self._theme, size.width(), size.height(), ratio)
        if layer.key != key or spots[: len(layer.spots)] != layer.spots:
            layer.begin(key, size, ratio)
        over = QPainter(layer.picture)
        try:
            over.setRenderHint(QPainter.RenderHint.Antialiasing)
            for spot in spots[len(layer.spots) :]:
                self._spot(over, spot)
        finally:
            over.end()
        layer.spots = spots
        self._p.drawPixmap(0, 0, layer.picture)

    def _spot(self, painter: QPainter, shape: Spot) -> None:
        # The view's arithmetic stands here without its objects.
        key = (shape.shape, round(shape.level, 2), shape.reference, self._theme, shape.code)
        picture = self._spots.get(key)
        if picture is None:
            picture = self._spots[key] = spot_picture(*key)
        view = self._view
        x, y = view.x + shape.at[0] * view.scale, view.y - shape.at[1] * view.scale
        painter.drawPixmap(int(x - SPOT_BOX / 2 + 0.5), int(y - SPOT_BOX / 2 + 0.5), picture)

    def _badge(self, shape: Badge) -> None:
        at = self._view.to(shape.at)
        if shape.role == "ply-number":
            if shape.clearance * self._view.scale >= NUMBER_HIGH:
                self._ply_number(at, shape.text)
            return
        self._p.setFont(font(8.5, bold=True))
        wide = max(17.0, QFontMetricsF(self._p.font()).horizontalAdvance(shape.text) + 9)
        box = QRectF(at.x() - wide / 2, at.y() - 8.5, wide, 17)
        if shape.role in APART:
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
        self._p.setPen(self.pen("leader"))
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
        self._p.setPen(self.pen("dimension"))
        self._p.setFont(font(8.5))
        metrics = QFontMetricsF(self._p.font())
        width = metrics.horizontalAdvance(shape.text)
        if abs(b.x() - a.x()) >= abs(b.y() - a.y()):
            y = a.y() + (0 if shape.role == "taper" else 16)
            self._p.drawLine(QPointF(a.x(), y), QPointF(b.x(), y))
            for x in (a.x(), b.x()):
                self._p.drawLine(QPointF(x, y - 4), QPointF(x, y + 4))
            middle, near = (a.x() + b.x()) / 2 - width / 2 - 3, 16 if shape.role == "taper" else 7
            ends = min(a.x(), b.x()) - width - 10, max(a.x(), b.x()) + 4
            places = [(middle, y + by) for by in (-near, -near - 15, near - 14)] + [(end, y - 7) for end in ends]
        else:
            x = a.x() - 16
            self._p.drawLine(QPointF(x, a.y()), QPointF(x, b.y()))
            for y in (a.y(), b.y()):
                self._p.drawLine(QPointF(x - 4, y), QPointF(x + 4, y))
            # Over its upper end, where the handle of the section line is not.
            left = max(x - width / 2 - 3, 2.0)
            places = [(left, b.y() - 20), (left, (a.y() + b.y()) / 2 - 7), (left, a.y() + 6)]
        boxes = [(left, top, width + 6, 14.0) for left, top in places]
        box = QRectF(*(first_free(boxes, self._taken, self._room) or boxes[0]))
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
            rows = [s for s in drawing.callouts if s.side == side]
            middles = spread([self._view.to(r.at).y() for r in rows], metrics.height() + 2, low, high)
            for row, y in zip(rows, middles, strict=True):
                left = side == "left"
                edge = self._view.to((x0 if left else x1, 0)).x() + (-gap if left else gap)
                self._p.setPen(self.pen("leader"))
                self._p.drawLine(self._view.to(row.at), QPointF(edge, y))
                tight = row.role == "tight"
                self._p.setPen(self._c["warn" if tight else "ink"])
                words = f"⚠ {row.text}" if tight else row.text
                width = metrics.horizontalAdvance(words)
                box = (edge - width - 6 if left else edge, y - metrics.height() / 2, width + 6, metrics.height())
                self._taken.append(box)
                if self.under is not None:  # words over a photograph stand on paper
                    self._p.fillRect(QRectF(*box), self._c["panel"])
                self._p.drawText(QPointF(edge - width - 3 if left else edge + 3, y + metrics.ascent() / 2 - 1), words)
