"""Ply templates at full size, tiled over A4 or Letter sheets: outline, register marks, check bar, grain arrow, what it
is.

A tile holds a grid cell of the ply's box; neighbouring tiles share a border, and the round register marks on it are
printed on both, to be laid on one another. Sheets are numbered by row and column.
"""

from __future__ import annotations

from io import BytesIO
from math import ceil, cos, radians, sin
from typing import TYPE_CHECKING, Any

import shapely
from msgspec import Struct
from reportlab.lib.pagesizes import A4, LETTER

from ribpatch.core.geometry import polygons, rings_of
from ribpatch.core.units import Kind, System, shown
from ribpatch.report.canvas import Canvas
from ribpatch.report.page import Paper, fonts
from ribpatch.report.paint import BOLD, FONT
from ribpatch.report.sheet import MM, check_bar

if TYPE_CHECKING:
    from collections.abc import Iterator

    from ribpatch.core.patch.plies import PlyOutline

EDGE = 12.0  # mm of a sheet that printers leave white
FOOT = 20.0  # mm for the words and the check bar
LAP = 10.0  # mm that neighbouring sheets share


class Tile(Struct, frozen=True):
    """One sheet of one piece: row and column from the lower left, and its box on the piece in m."""

    row: int
    column: int
    x: float
    y: float
    width: float
    height: float


class Sheet(Struct, frozen=True, eq=False):
    """What one sheet shows: a ply, one of its pieces and its number, a tile of it, the rows and columns of tiles."""

    outline: PlyOutline
    piece: shapely.Polygon
    number: int
    tile: Tile
    of: tuple[int, int]


def tiles_of(bounds: tuple[float, float, float, float], paper: Paper) -> tuple[Tile, ...]:
    """The sheets that cover a box (m), row by row from the lower left; neighbours share ``LAP``."""
    wide, high = ((v / MM - 2 * EDGE) / 1000 for v in (A4 if paper == "A4" else LETTER))
    high -= FOOT / 1000
    lap = LAP / 1000
    x0, y0, x1, y1 = bounds
    across = max(1, ceil((x1 - x0 - lap) / (wide - lap) - 1e-9))
    up = max(1, ceil((y1 - y0 - lap) / (high - lap) - 1e-9))
    return tuple(
        Tile(j + 1, i + 1, x0 + i * (wide - lap), y0 + j * (high - lap), wide, high)
        for j in range(up)
        for i in range(across)
    )


def template_pdf(outlines: tuple[PlyOutline, ...], name: str, paper: Paper, system: System) -> bytes:
    """Every ply of a patch full size; sheets that the outline does not touch are left out."""
    fonts()
    size = A4 if paper == "A4" else LETTER
    stream = BytesIO()
    canvas = Canvas(stream, pagesize=size, invariant=1)
    canvas.setTitle(f"{name}: ply templates, full size")
    sheets = list(_sheets(outlines, paper))
    for sheet in sheets:
        _page(canvas, sheet, name, size, system)
        canvas.showPage()
    if not sheets:
        canvas.setFont(FONT, 10)
        canvas.drawString(EDGE * MM, size[1] - 60, f"{name}: no plies to cut yet.")
        canvas.showPage()
    canvas.save()
    return stream.getvalue()


def _sheets(outlines: tuple[PlyOutline, ...], paper: Paper) -> Iterator[Sheet]:
    for outline in outlines:
        for number, piece in enumerate(polygons(outline.region), 1):
            tiles = tiles_of(piece.bounds, paper)
            of = (max(t.row for t in tiles), max(t.column for t in tiles))
            for tile in tiles:
                box = shapely.box(tile.x, tile.y, tile.x + tile.width, tile.y + tile.height)
                if piece.intersects(box):
                    yield Sheet(outline, piece, number, tile, of)


def _page(c: Any, sheet: Sheet, name: str, size: tuple[float, float], system: System) -> None:
    outline, piece, tile, of = sheet.outline, sheet.piece, sheet.tile, sheet.of
    left, low = EDGE * MM, (EDGE + FOOT) * MM

    def at(x: float, y: float) -> tuple[float, float]:
        return left + (x - tile.x) * 1000 * MM, low + (y - tile.y) * 1000 * MM

    c.saveState()
    frame = c.beginPath()
    frame.rect(left, low, tile.width * 1000 * MM, tile.height * 1000 * MM)
    c.clipPath(frame, stroke=0, fill=0)
    c.setLineWidth(0.9)
    for rings in rings_of(piece):
        for ring in rings:
            path = c.beginPath()
            for i, point in enumerate(ring):
                (path.lineTo if i else path.moveTo)(*at(*point))
            path.close()
            c.drawPath(path, stroke=1, fill=0)
    _grain(c, outline, piece, tile, at)
    c.restoreState()
    c.setLineWidth(0.3)
    c.setDash([2, 2])
    c.rect(left, low, tile.width * 1000 * MM, tile.height * 1000 * MM, stroke=1, fill=0)
    c.setDash([])
    _register(c, left, low, tile, of)
    _foot(c, sheet, name, size, system)


def _grain(c: Any, outline: PlyOutline, piece: shapely.Polygon, tile: Tile, at: Any) -> None:
    """An arrow along the roll, in the middle of what of the piece lies on this sheet."""
    box = shapely.box(tile.x, tile.y, tile.x + tile.width, tile.y + tile.height)
    here = piece.intersection(box)
    if here.is_empty or here.area < 1e-5:
        return
    middle = here.representative_point()
    x, y = at(middle.x, middle.y)
    angle, long = radians(outline.laid.angle), 22 * MM / 2
    dx, dy = cos(angle) * long, sin(angle) * long
    c.setLineWidth(0.7)
    c.line(x - dx, y - dy, x + dx, y + dy)
    for sign in (1, -1):
        for turn in (0.4, -0.4):
            a = angle + turn
            c.line(x + sign * dx, y + sign * dy, x + sign * (dx - cos(a) * 9), y + sign * (dy - sin(a) * 9))
    c.setFont(FONT, 7)
    c.drawCentredString(x, y + 4, "grain: along the roll")


def _register(c: Any, left: float, low: float, tile: Tile, of: tuple[int, int]) -> None:
    """Marks in the middle of the strips shared with the neighbours, at places that both sheets agree on."""
    wide, high, half = tile.width * 1000 * MM, tile.height * 1000 * MM, LAP / 2 * MM
    marks = []
    for share in (0.2, 0.5, 0.8):
        if tile.column > 1:
            marks.append((left + half, low + high * share, f"{tile.row}.{tile.column - 1}|{tile.column}"))
        if tile.column < of[1]:
            marks.append((left + wide - half, low + high * share, f"{tile.row}.{tile.column}|{tile.column + 1}"))
        if tile.row > 1:
            marks.append((left + wide * share, low + half, f"{tile.row - 1}|{tile.row}.{tile.column}"))
        if tile.row < of[0]:
            marks.append((left + wide * share, low + high - half, f"{tile.row}|{tile.row + 1}.{tile.column}"))
    c.setFont(FONT, 5)
    for x, y, words in marks:
        c.circle(x, y, 4, stroke=1, fill=0)
        c.line(x - 7, y, x + 7, y)
        c.line(x, y - 7, x, y + 7)
        c.drawString(x + 5, y + 5, words)


def _foot(c: Any, sheet: Sheet, name: str, size: tuple[float, float], system: System) -> None:
    outline, number, tile, of = sheet.outline, sheet.number, sheet.tile, sheet.of
    y = EDGE * MM
    piece = f", piece {number}" if number > 1 or len(polygons(outline.region)) > 1 else ""
    c.setFont(BOLD, 10)
    c.drawString(EDGE * MM, y + 34, f"{name}: ply {outline.laid.number}{piece}")
    c.setFont(FONT, 8)
    long, wide = (shown(v, Kind.SIZE, system) for v in outline.size)
    c.drawString(EDGE * MM, y + 22, f"{outline.laid.ply.fabric.name}, {outline.laid.angle:g}°; box {long} × {wide}")
    c.drawString(
        EDGE * MM,
        y + 11,
        f"sheet row {tile.row} of {of[0]}, column {tile.column} of {of[1]}; lay the round marks on one another",
    )
    check_bar(c, size[0] - EDGE * MM - 100 * MM, y)
