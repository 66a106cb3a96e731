"""A core drawing as SVG 1.1, to scale in millimetres of paper. Layers are groups named by role; hatches are real
lines.
"""

from __future__ import annotations

from base64 import b64encode
from typing import TYPE_CHECKING
from xml.sax.saxutils import escape, quoteattr

import shapely

from ribpatch.core.drawing.hatch import hatch
from ribpatch.core.drawing.labels import spread
from ribpatch.core.drawing.palette import FILLS, LIGHT, PENS, ramp_of
from ribpatch.core.drawing.shapes import Area, Badge, Callout, Dimension, Drawing, Line, Raster, Shape, Spot, Text
from ribpatch.core.text import printable
from ribpatch.formats.png import png_of

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.geometry import Point, Ring

HATCH_PITCH, TEXT, MARGIN, STOP = 2.5, 3.0, 12.0, 5.0  # mm of paper
LETTER = 1.75  # mm a letter, roughly


class _Sheet:
    """Takes metres to millimetres of paper, y down, at 1 : ``scale``."""

    def __init__(self, drawing: Drawing, scale: int) -> None:
        self.factor = 1000 / scale
        x0, y0, x1, y1 = drawing.bounds
        self.left = MARGIN + drawing.longest_callout("left") * LETTER
        right = MARGIN + drawing.longest_callout("right") * LETTER
        self._x0, self._y1 = x0, y1
        self.inner = (x1 - x0) * self.factor
        self.width = self.left + self.inner + right
        self.height = (y1 - y0) * self.factor + 2 * MARGIN + 14

    def at(self, p: Point) -> Point:
        """The place of a point on the paper, mm."""
        return self.left + (p[0] - self._x0) * self.factor, MARGIN + (self._y1 - p[1]) * self.factor


def svg_text(drawing: Drawing, scale: int) -> str:
    """The drawing at 1 : ``scale``; its size in mm is stated, so that it prints true."""
    sheet = _Sheet(drawing, scale)
    body = [part for shape in drawing.shapes for part in _shape(shape, sheet)]
    body += _callouts(drawing, sheet)
    title = printable(f"{drawing.title}. {drawing.note}. 1 : {scale}")
    foot = _words((MARGIN, sheet.height - 4), title, "start")
    size = (
        f'width="{sheet.width:.2f}mm" height="{sheet.height:.2f}mm" viewBox="0 0 {sheet.width:.2f} {sheet.height:.2f}"'
    )
    names = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
    head = f'<?xml version="1.0" encoding="UTF-8"?>\n<svg {names} version="1.1" {size}>\n'
    back = (
        f"<title>{escape(title)}</title>\n"
        f'<rect width="{sheet.width:.2f}" height="{sheet.height:.2f}" fill="#ffffff"/>\n'
    )
    return head + back + "\n".join([*body, foot]) + "\n</svg>\n"


def _shape(shape: Shape, sheet: _Sheet) -> list[str]:
    if isinstance(shape, Area):
        return _area(shape, sheet)
    if isinstance(shape, Line):
        return [_path((shape.points,), sheet, shape.role, shape.closed)]
    if isinstance(shape, Dimension):
        return _dimension(shape, sheet)
    if isinstance(shape, (Badge, Text)):
        return [_words(sheet.at(shape.at), shape.text, "middle", shape.role)]
    if isinstance(shape, Spot):
        x, y = sheet.at(shape.at)
        return [
            f'<circle class="spot" cx="{x:.2f}" cy="{y:.2f}" r="1.2" fill="none" '
            f'stroke="{LIGHT["ink"]}" stroke-width="0.3"/>'
        ]
    if isinstance(shape, Raster):
        return _raster(shape, sheet)
    return []  # callouts are set together


def _raster(shape: Raster, sheet: _Sheet) -> list[str]:
    """The picture of a field, cut to its outline, with the scale of its shades in the lower right corner."""
    (x0, y0), (x1, y1) = sheet.at(shape.low), sheet.at(shape.high)
    picture = b64encode(png_of(shape.values, shape.role)).decode()
    clip = f'<clipPath id="field"><path d="{_data(shape.clip, sheet, True)}" clip-rule="evenodd"/></clipPath>'
    place = f'x="{x0:.3f}" y="{y1:.3f}" width="{x1 - x0:.3f}" height="{y0 - y1:.3f}" preserveAspectRatio="none"'
    image = f'<g clip-path="url(#field)"><image {place} xlink:href="data:image/png;base64,{picture}"/></g>'
    return [clip, image, *_ramp(shape, sheet)]


def _ramp(shape: Raster, sheet: _Sheet) -> list[str]:
    stops = ramp_of(shape.role, "light")
    right, top = sheet.width - MARGIN - LETTER * len(shape.words[1]), sheet.height - 10.0
    left = right - STOP * len(stops)
    boxes = [
        f'<rect class="ramp" x="{left + n * STOP:.2f}" y="{top:.2f}" width="{STOP}" height="3" fill="{colour}"/>'
        for n, colour in enumerate(stops)
    ]
    ends = ((left - 1, shape.words[0], "end"), (right + 1, shape.words[1], "start"))
    return [*boxes, *(_words((x, top + 2.6), words, anchor) for x, words, anchor in ends if words)]


def _data(rings: tuple[Ring, ...], sheet: _Sheet, closed: bool) -> str:
    parts = []
    for ring in rings:
        points = " L ".join("{:.3f} {:.3f}".format(*sheet.at(p)) for p in ring)
        parts.append(f"M {points}{' Z' if closed else ''}")
    return " ".join(parts)


def _stroke(role: str) -> str:
    pen = PENS.get(role, PENS["dimension"])
    dash = f' stroke-dasharray="{" ".join(f"{d * pen.width * 0.35:.2f}" for d in pen.dash)}"' if pen.dash else ""
    return f'stroke="{LIGHT[pen.colour]}" stroke-width="{pen.width * 0.25:.2f}"{dash}'


def _path(rings: tuple[Ring, ...], sheet: _Sheet, role: str, closed: bool, fill: str = "none") -> str:
    data = _data(rings, sheet, closed)
    return f'<path class={quoteattr(role)} d="{data}" fill="{fill}" fill-rule="evenodd" {_stroke(role)}/>'


def _area(shape: Area, sheet: _Sheet) -> list[str]:
    parts = [_path(shape.rings, sheet, shape.role, True, LIGHT[FILLS.get(shape.role, "panel")])]
    if not shape.material:
        return parts
    rings = [[sheet.at(p) for p in ring] for ring in shape.rings]
    region = shapely.Polygon(rings[0], rings[1:]).buffer(0)
    made = hatch(shape.material, *region.bounds, HATCH_PITCH)
    # The lines are cut to the shape here: simple readers know no clipping.
    lines = shapely.get_parts(
        shapely.MultiLineString([((a, b), (c, d)) for a, b, c, d in made.segments]).intersection(region)
    )
    data = " ".join(
        f"M {a[0]:.2f} {a[1]:.2f} L {b[0]:.2f} {b[1]:.2f}"
        for a, b in (_ends(line) for line in lines if not line.is_empty)
        if a != b
    )
    inside = [(x, y) for x, y in made.dots if shapely.contains_xy(region, x, y)]
    dots = "".join(f'<circle cx="{x:.2f}" cy="{y:.2f}" r="0.15" fill="{LIGHT["hatch"]}"/>' for x, y in inside)
    drawn = f'<path d="{data}" stroke="{LIGHT["hatch"]}" stroke-width="0.12" fill="none"/>' if data else ""
    return [*parts, f'<g class="hatch">{drawn}{dots}</g>']


def _ends(line: BaseGeometry) -> tuple[Point, Point]:
    places = shapely.get_coordinates(line)
    return (float(places[0][0]), float(places[0][1])), (float(places[-1][0]), float(places[-1][1]))


def _dimension(shape: Dimension, sheet: _Sheet) -> list[str]:
    (x0, y0), (x1, y1) = sheet.at(shape.start), sheet.at(shape.end)
    flat = abs(x1 - x0) >= abs(y1 - y0)
    drop = (0.0 if shape.role == "taper" else 7.0) if flat else 0.0
    aside = 0.0 if flat else -7.0
    path = f"M {x0 + aside:.2f} {y0 + drop:.2f} L {x1 + aside:.2f} {y1 + drop:.2f}"
    line = f'<path class="dimension" d="{path}" {_stroke("dimension")}/>'
    middle = ((x0 + x1) / 2 + aside - (0 if flat else 1), (y0 + y1) / 2 + drop - 1)
    return [line, _words(middle, shape.text, "middle" if flat else "end")]


def _words(at: Point, text: str, anchor: str, role: str = "") -> str:
    kind = f' class="{escape(role)}"' if role else ""
    place = f'x="{at[0]:.2f}" y="{at[1]:.2f}" text-anchor="{anchor}"'
    look = f'font-family="sans-serif" font-size="{TEXT}" fill="{LIGHT["ink"]}"'
    return f"<text{kind} {place} {look}>{escape(printable(text))}</text>"


def _callouts(drawing: Drawing, sheet: _Sheet) -> list[str]:
    parts = []
    for side in ("left", "right"):
        rows = [c for c in drawing.callouts if c.side == side]
        middles = spread([sheet.at(c.at)[1] for c in rows], TEXT + 1.2, MARGIN / 2, sheet.height - 8)
        edge = sheet.left - 3 if side == "left" else sheet.left + sheet.inner + 3
        for row, y in zip(rows, middles, strict=True):
            parts.append(_leader(row, (edge, y), sheet))
    return parts


def _leader(row: Callout, end: Point, sheet: _Sheet) -> str:
    x, y = sheet.at(row.at)
    line = f'<path class="leader" d="M {x:.2f} {y:.2f} L {end[0]:.2f} {end[1]:.2f}" {_stroke("leader")} fill="none"/>'
    words = _words(
        (end[0] + (-1 if row.side == "left" else 1), end[1] + 1), row.text, "end" if row.side == "left" else "start"
    )
    return line + words
