"""Painting a core drawing with QPainter. Knows looks and pixels, nothing of boats."""

from __future__ import annotations

from functools import cache
from itertools import groupby
from typing import TYPE_CHECKING, Any, Protocol

import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPainterPath, QPen, QPixmap

from ribpatch.core.drawing.hatch import hatch
from ribpatch.core.drawing.palette import FILLS, ramp_colours
from ribpatch.core.drawing.shapes import Area, Drawing, Line, Raster, Spot
from ribpatch.core.memo import remembered
from ribpatch.ui.theme import colours, font
from ribpatch.ui.widgets.writer import Writer, pen_of

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.geometry import Floats, Ring
    from ribpatch.ui.widgets.view import View

HATCH_PITCH = 10.0
LEAST_HATCHED = 5.0  # pixels; a thinner strip would only turn grey
SPOT = 4.6
SPOT_BOX = 20
MANY = 500  # spots in a run from which they are kept as one picture
SHINES = 0.75  # of a fill that a picture at full strength shines through
MOST_PIXELS = 1600.0  # of a field's picture; zoomed in further it is stretched


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
        self._room = room
        self._spots: dict[tuple[str, float, bool, str, str], QPixmap] = {}
        self.under: Under | None = None
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)

    def paint(self, drawing: Drawing) -> None:
        """Paint all shapes, then what is written: numbers, callouts, sizes, words where there is room."""
        paint: dict[type, Callable[[Any], None]] = {Area: self._area, Line: self._line, Raster: self._raster}
        for kind, group in groupby(drawing.shapes, type):
            if kind is Spot:
                self._spot_run(list(group))  # type: ignore[arg-type]  # all of this kind
            elif kind in paint:
                for shape in group:
                    paint[kind](shape)
        Writer(self._p, self._view, self._theme, self._room, self.under is not None).write(drawing)

    def _path(self, rings: tuple[Ring, ...]) -> QPainterPath:
        path = QPainterPath()
        path.setFillRule(Qt.FillRule.OddEvenFill)
        for ring in rings:
            path.addPolygon(self._view.polygon(ring))
            path.closeSubpath()
        return path

    def _area(self, shape: Area) -> None:
        path = self._path(shape.rings)
        if shape.role == "zone" and self.under is not None:
            self._p.fillPath(path, self._c[FILLS.get(shape.role, "panel")])
            self.under.paint(self._p, self._view)
            self._p.strokePath(path, pen_of(shape.role, self._theme))
            return
        self._p.setOpacity(self._clear)
        if not shape.role.startswith("truth"):  # the truth is an outline over what was found
            self._p.fillPath(path, self._c[FILLS.get(shape.role, "panel")])
        if shape.material:
            self._hatch(path, shape.material)
        self._p.setOpacity(1.0)
        self._p.strokePath(path, pen_of(shape.role, self._theme))

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
        self._p.setPen(pen_of(shape.role, self._theme))
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
