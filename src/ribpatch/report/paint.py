"""Painting a core drawing onto a PDF canvas, in points, with the light palette."""

from __future__ import annotations

from io import BytesIO
from typing import TYPE_CHECKING, Any

from msgspec import Struct
from reportlab.lib.colors import HexColor
from reportlab.lib.utils import ImageReader
from reportlab.platypus import Flowable

from ribpatch.core.drawing.hatch import hatch
from ribpatch.core.drawing.labels import Box, free_box, spread
from ribpatch.core.drawing.palette import FILLS, LIGHT, PENS
from ribpatch.core.drawing.scale import scale_for
from ribpatch.core.drawing.shapes import Area, Badge, Callout, Dimension, Drawing, Line, Raster, Spot, Text
from ribpatch.core.numerals import fixed
from ribpatch.formats.png import png_of
from ribpatch.report.glyphs import width

if TYPE_CHECKING:
    from ribpatch.core.geometry import Point, Ring

FONT, BOLD, SIZE = "B612", "B612-Bold", 6.5
HATCH_PITCH = 5.0
MM = 72 / 25.4  # points
FOOT = 32.0  # points under the drawing for its dimension and note


class _View(Struct, frozen=True):
    """Maps drawing metres to canvas points."""

    scale: float
    x: float
    y: float

    def at(self, p: Point) -> Point:
        return self.x + p[0] * self.scale, self.y + p[1] * self.scale


class DrawingFlowable(Flowable):  # type: ignore[misc]  # reportlab carries no types
    """A drawing scaled into a width, at true proportions, with a scale bar's worth of note beneath."""

    def __init__(self, drawing: Drawing, width: float, most_height: float, note: str, usual: bool = False) -> None:
        super().__init__()
        self._drawing = drawing
        x0, y0, x1, y1 = drawing.bounds
        left, right = (max(26.0, 14 + drawing.longest_callout(side) * 3.9) for side in ("left", "right"))
        inner = width - left - right
        self._left, self._right = left, right
        self._scale = min(inner / max(x1 - x0, 1e-6), (most_height - FOOT - 12) / max(y1 - y0, 1e-6))
        if usual:  # the largest usual scale that fits, to be measured off the paper
            paper = inner / MM, (most_height - FOOT - 12) / MM
            self._scale = 1000 / scale_for(x1 - x0, y1 - y0, *paper) * MM
        self.width = width
        self.height = (y1 - y0) * self._scale + FOOT + 12
        self._note = note

    def draw(self) -> None:
        """Paint it; called by the layout with the origin at the lower left."""
        x0, y0, x1, _ = self._drawing.bounds
        middle = self._left + (self.width - self._left - self._right - (x1 - x0) * self._scale) / 2
        view = _View(self._scale, middle - x0 * self._scale, FOOT - y0 * self._scale)
        painter = DrawingPaint(self.canv, view.scale, view.x, view.y, (self.width, self.height))
        painter.paint(self._drawing)
        self.canv.setFont(FONT, SIZE)
        self.canv.setFillColor(HexColor(LIGHT["soft"]))
        self.canv.drawString(
            0, 2, f"{self._drawing.note}   {self._note}   1 : {fixed(1 / (self._scale * 0.0254 / 72), 0)}"
        )


class DrawingPaint:
    """Paints a drawing onto a canvas at ``scale`` points a metre, its origin at x, y points, within a page."""

    def __init__(self, canvas: Any, scale: float, x: float, y: float, page: tuple[float, float]) -> None:
        self._c, self._view, self._room = canvas, _View(scale, x, y), (0.0, 0.0, *page)
        self._taken: list[Box] = []

    def paint(self, drawing: Drawing) -> None:
        """Paint every shape, then the words."""
        for shape in drawing.shapes:
            if isinstance(shape, Area):
                self._area(shape)
            elif isinstance(shape, Line):
                self._line(shape)
            elif isinstance(shape, Raster):
                self._raster(shape)
            elif isinstance(shape, Spot):
                self._spot(shape)
            elif isinstance(shape, Dimension):
                self._dimension(shape)
            elif isinstance(shape, Badge):
                self._badge(shape)
        for shape in drawing.shapes:
            if isinstance(shape, Text):
                self._text(shape)
        self._callouts(drawing)

    def _path(self, rings: tuple[Ring, ...]) -> Any:
        path = self._c.beginPath()
        for ring in rings:
            for i, point in enumerate(ring):
                (path.lineTo if i else path.moveTo)(*self._view.at(point))
            path.close()
        return path

    def _pen(self, role: str) -> None:
        pen = PENS.get(role, PENS["dimension"])
        self._c.setStrokeColor(HexColor(LIGHT[pen.colour]))
        self._c.setLineWidth(pen.width * 0.7)
        self._c.setDash([d * pen.width * 0.9 for d in pen.dash] if pen.dash else [])

    def _area(self, shape: Area) -> None:
        path = self._path(shape.rings)
        self._pen(shape.role)
        self._c.setFillColor(HexColor(LIGHT[FILLS.get(shape.role, "panel")]))
        self._c.drawPath(path, stroke=0, fill=1, fillMode=0)
        if shape.material:
            self._hatch(shape)
        self._c.drawPath(path, stroke=1, fill=0)

    def _hatch(self, shape: Area) -> None:
        xs = [self._view.at(p)[0] for ring in shape.rings for p in ring]
        ys = [self._view.at(p)[1] for ring in shape.rings for p in ring]
        made = hatch(shape.material, min(xs), min(ys), max(xs), max(ys), HATCH_PITCH)
        self._c.saveState()
        self._c.clipPath(self._path(shape.rings), stroke=0, fill=0, fillMode=0)
        self._c.setStrokeColor(HexColor(LIGHT["hatch"]))
        self._c.setFillColor(HexColor(LIGHT["hatch"]))
        self._c.setDash([])
        self._c.setLineWidth(0.25)
        if made.segments:
            self._c.lines(list(made.segments))
        for x, y in made.dots:
            self._c.circle(x, y, 0.35, stroke=0, fill=1)
        self._c.restoreState()

    def _line(self, shape: Line) -> None:
        self._pen(shape.role)
        if len(shape.points) > 1 and shape.points[0] == shape.points[-1]:
            x, y = self._view.at(shape.points[0])
            self._c.circle(x, y, 3.5, stroke=1, fill=0)
            return
        path = self._c.beginPath()
        for i, point in enumerate(shape.points):
            (path.lineTo if i else path.moveTo)(*self._view.at(point))
        if shape.closed:
            path.close()
        self._c.drawPath(path, stroke=1, fill=0)

    def _raster(self, shape: Raster) -> None:
        image = ImageReader(BytesIO(png_of(shape.values, shape.role)))
        (x0, y0), (x1, y1) = self._view.at(shape.low), self._view.at(shape.high)
        self._c.saveState()
        self._c.clipPath(self._path(shape.clip), stroke=0, fill=0, fillMode=0)
        self._c.drawImage(image, x0, y0, x1 - x0, y1 - y0)
        self._c.restoreState()

    def _spot(self, shape: Spot) -> None:
        x, y = self._view.at(shape.at)
        r = 2.1
        if shape.shape == "tag":
            self._c.setFillColor(HexColor(LIGHT["ink"]))
            self._c.setFont(BOLD, 4.2)
            self._c.drawString(x + r + 0.8, y - 1.5, shape.code)
        self._c.setDash([])
        self._c.setLineWidth(0.5)
        self._c.setStrokeColor(HexColor(LIGHT["ink"]))
        self._c.setFillColor(HexColor("#ffffff"))
        path = self._c.beginPath()
        path.circle(x, y, r) if shape.shape == "circle" else path.rect(x - r, y - r, 2 * r, 2 * r)
        self._c.setStrokeColor(HexColor(LIGHT["panel"]))
        self._c.setLineWidth(1.8)
        self._c.drawPath(path, stroke=1, fill=1)
        self._c.setLineWidth(0.5)
        self._c.setStrokeColor(HexColor(LIGHT["ink"]))
        self._c.saveState()
        self._c.clipPath(path, stroke=0, fill=0)
        self._c.setFillColor(HexColor(LIGHT["ink"]))
        self._c.rect(x - r, y - r, 2 * r, 2 * r * shape.level, stroke=0, fill=1)
        self._c.restoreState()
        self._c.drawPath(path, stroke=1, fill=0)
        if shape.reference:
            self._c.line(x - r - 1.4, y - r - 1.4, x + r + 1.4, y - r - 1.4)

    def _badge(self, shape: Badge) -> None:
        x, y = self._view.at(shape.at)
        if shape.role == "ply-number":
            if shape.clearance * self._view.scale >= 4:
                self._c.setFont(FONT, 4)
                self._c.setFillColor(HexColor(LIGHT["ink"]))
                self._c.drawCentredString(x, y - 1.4, shape.text)
            return
        self._c.setFillColor(HexColor(LIGHT["accent" if shape.role == "next" else "ink"]))
        self._c.circle(x, y, 4.2, stroke=0, fill=1)
        self._c.setFillColor(HexColor("#ffffff"))
        self._c.setFont(BOLD, 5)
        self._c.drawCentredString(x, y - 1.8, shape.text)

    def _dimension(self, shape: Dimension) -> None:
        (x0, y0), (x1, y1) = self._view.at(shape.start), self._view.at(shape.end)
        self._c.setDash([])
        self._c.setLineWidth(0.4)
        self._c.setStrokeColor(HexColor(LIGHT["soft"]))
        self._c.setFillColor(HexColor(LIGHT["ink"]))
        self._c.setFont(FONT, SIZE)
        if abs(x1 - x0) >= abs(y1 - y0):
            drop = 0 if shape.role == "taper" else -8
            self._c.line(x0, y0 + drop, x1, y1 + drop)
            self._c.drawCentredString((x0 + x1) / 2, y0 + drop + (2 if shape.role == "taper" else -7), shape.text)
        else:
            self._c.line(x0 - 8, y0, x1 - 8, y1)
            self._c.saveState()
            self._c.translate(x0 - 10, (y0 + y1) / 2)
            self._c.rotate(90)
            self._c.drawCentredString(0, 0, shape.text)
            self._c.restoreState()

    def _text(self, shape: Text) -> None:
        x, y = self._view.at(shape.at)
        wide = width(shape.text, FONT, SIZE)
        box = free_box(x, y, wide, SIZE, self._taken, self._room)
        if box is None:
            return
        self._taken.append(box)
        self._c.setFont(FONT, SIZE)
        colour = "warn" if shape.role == "tight" else "ink"
        self._c.setFillColor(HexColor(LIGHT["panel"]))
        self._c.setFillAlpha(0.75)
        self._c.rect(box[0] - 1, box[1] - 1, wide + 2, SIZE + 1, stroke=0, fill=1)
        self._c.setFillAlpha(1)
        self._c.setFillColor(HexColor(LIGHT[colour]))
        self._c.drawString(box[0], box[1] + 0.8, shape.text)

    def _callouts(self, drawing: Drawing) -> None:
        x0, _, x1, _ = drawing.bounds
        for side in ("left", "right"):
            rows = [s for s in drawing.shapes if isinstance(s, Callout) and s.side == side]
            if not rows:
                continue
            middles = spread([self._view.at(r.at)[1] for r in rows], SIZE + 2.5, 12, self._room[3])
            for row, y in zip(rows, middles, strict=True):
                px, py = self._view.at(row.at)
                edge = self._view.at((x0 if side == "left" else x1, 0))[0] + (-6 if side == "left" else 6)
                self._pen("leader")
                self._c.line(px, py, edge, y)
                self._c.setFont(FONT, SIZE)
                self._c.setFillColor(HexColor(LIGHT["warn" if row.role == "tight" else "ink"]))
                (self._c.drawRightString if side == "left" else self._c.drawString)(
                    edge + (-2 if side == "left" else 2), y - 2, row.text
                )
