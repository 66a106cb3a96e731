"""A core drawing as DXF R2010 in millimetres at full size: one layer a role, closed polylines, texts, hatch lines by
material.

A cut-through keeps its exaggerated depth, which its title states; lengths along it are true.
"""

from __future__ import annotations

from io import StringIO
from typing import TYPE_CHECKING, Any

from ribpatch.core.drawing.shapes import Area, Badge, Callout, Dimension, Drawing, Line, Spot, Text
from ribpatch.core.text import printable

if TYPE_CHECKING:
    from ezdxf.layouts.layout import Modelspace

    from ribpatch.core.geometry import Point

TEXT = 8.0  # mm
# Names of hatch patterns that every reader of the format knows, by material word.
PATTERNS = {
    "end grain": "NET",
    "open cells": "DOTS",
    "plywood": "ANSI32",
    "dense": "BRICK",
    "mat": "DOTS",
    "stitched": "ANSI37",
    "woven": "NET3",
    "light": "NET3",
    "unidirectional": "LINE",
    "putty": "ANSI33",
    "old laminate": "ANSI31",
    "fitting": "SOLID",
}


def dxf_text(drawing: Drawing) -> str:
    """The drawing as the text of a DXF file; the same drawing gives the same bytes but for the file's own ids."""
    from ezdxf import units
    from ezdxf.filemanagement import new

    document = new("R2010", setup=True)
    document.units = units.MM
    space = document.modelspace()
    for shape in drawing.shapes:
        layer = _layer(document, getattr(shape, "role", "") or type(shape).__name__.lower())
        if isinstance(shape, Area):
            _area(space, shape, layer)
        elif isinstance(shape, Line):
            space.add_lwpolyline(_mm(shape.points), close=shape.closed, dxfattribs={"layer": layer})
        elif isinstance(shape, Dimension):
            _dimension(space, shape, layer)
        elif isinstance(shape, Callout):
            _callout(space, shape, drawing, layer)
        elif isinstance(shape, (Badge, Text)):
            _words(space, shape.text, shape.at, layer)
        elif isinstance(shape, Spot):
            x, y = shape.at
            space.add_circle((x * 1000, y * 1000), 6, dxfattribs={"layer": layer})
    x0, y0, _, _ = drawing.bounds
    _words(
        space, f"{drawing.title}. {drawing.note}. Millimetres, full size.", (x0, y0 - 0.06), _layer(document, "title")
    )
    _extents(document)
    stream = StringIO()
    document.write(stream)
    return stream.getvalue()


def _extents(document: Any) -> None:
    """State the box that the drawing fills, so that a reader opens on it."""
    from ezdxf import bbox

    box = bbox.extents(document.modelspace(), fast=True)
    if box.has_data:
        document.header["$EXTMIN"], document.header["$EXTMAX"] = tuple(box.extmin), tuple(box.extmax)
        document.header["$LIMMIN"], document.header["$LIMMAX"] = tuple(box.extmin)[:2], tuple(box.extmax)[:2]
        document.modelspace().reset_extents(box.extmin, box.extmax)


def _layer(document: Any, name: str) -> str:
    if name not in document.layers:
        document.layers.add(name)
    return name


def _mm(points: tuple[Point, ...]) -> list[Point]:
    return [(x * 1000, y * 1000) for x, y in points]


def _area(space: Modelspace, shape: Area, layer: str) -> None:
    for ring in shape.rings:
        space.add_lwpolyline(_mm(ring), close=True, dxfattribs={"layer": layer})
    pattern = PATTERNS.get(shape.material)
    if pattern is None:
        return
    fill = space.add_hatch(color=8, dxfattribs={"layer": _layer(space.doc, f"{layer}-hatch")})
    if pattern != "SOLID":
        fill.set_pattern_fill(pattern, scale=10.0)
    for ring in shape.rings:
        fill.paths.add_polyline_path(_mm(ring), is_closed=True)


def _dimension(space: Modelspace, shape: Dimension, layer: str) -> None:
    start, end = _mm((shape.start, shape.end))
    space.add_line(start, end, dxfattribs={"layer": layer})
    middle = ((shape.start[0] + shape.end[0]) / 2, (shape.start[1] + shape.end[1]) / 2)
    _words(space, shape.text, middle, layer)


def _callout(space: Modelspace, shape: Callout, drawing: Drawing, layer: str) -> None:
    x0, _, x1, _ = drawing.bounds
    end = (x0 - 0.05 if shape.side == "left" else x1 + 0.05, shape.at[1])
    a, b = _mm((shape.at, end))
    space.add_line(a, b, dxfattribs={"layer": layer})
    _words(space, shape.text, end, layer)


def _words(space: Modelspace, text: str, at: Point, layer: str) -> None:
    space.add_text(printable(text), height=TEXT, dxfattribs={"layer": layer}).set_placement(
        (at[0] * 1000, at[1] * 1000)
    )
