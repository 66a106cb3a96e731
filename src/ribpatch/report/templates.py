"""Ply templates at full size, on sheets or a roll: outlines, register marks, check bar, grain, what it is.

A tile holds a grid cell of the template's box; neighbouring tiles share a border, and the round register marks on it
are printed on both, to be laid on one another. A sheet that no line crosses is not printed. The first page is a map of
how the sheets lie.
"""

from __future__ import annotations

from io import BytesIO
from math import ceil, cos, radians, sin
from typing import TYPE_CHECKING, Any

import shapely
from msgspec import Struct
from reportlab.lib.colors import HexColor

from ribpatch.core.drawing.palette import LIGHT
from ribpatch.core.geometry import rings_of
from ribpatch.core.numerals import general
from ribpatch.core.paper_sizes import PAPERS
from ribpatch.core.patch.nested import Template, templates_of
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, System, shown
from ribpatch.report.canvas import Canvas
from ribpatch.report.page import fonts
from ribpatch.report.paint import BOLD, FONT
from ribpatch.report.sheet import MM, check_bar

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.geometry import Point
    from ribpatch.core.patch.plies import PlyOutline

EDGE = 12.0  # mm of a sheet that printers leave white
FOOT = 20.0  # mm for the words and the check bar
LAP = 10.0  # mm that neighbouring sheets share
ROUND = 0.005  # m round a template
MAP = 110.0  # mm of height that the map of a template may take
LONGEST = 5000.0  # mm of a roll


class Tile(Struct, frozen=True):
    """One sheet of one template: row and column from the lower left, and its box on the template in m."""

    row: int
    column: int
    x: float
    y: float
    width: float
    height: float

    @property
    def box(self) -> shapely.Polygon:
        """What of the template lies on it."""
        return shapely.box(self.x, self.y, self.x + self.width, self.y + self.height)


class Sheet(Struct, frozen=True, eq=False):
    """What one sheet shows: a template, a tile of it, the rows and columns of tiles, and its number among all."""

    template: Template
    tile: Tile
    of: tuple[int, int]
    number: int


def tiles_of(bounds: tuple[float, float, float, float], paper: str) -> tuple[Tile, ...]:
    """The sheets that cover a box (m), row by row from the lower left; neighbours share ``LAP``."""
    x0, y0, x1, y1 = bounds
    wide, high = ((v - 2 * EDGE) / 1000 for v in PAPERS[paper])
    if PAPERS[paper][1] == 0:
        high = min(max(y1 - y0 + 0.02, 0.1), (LONGEST - 2 * EDGE - FOOT) / 1000) + FOOT / 1000
    high -= FOOT / 1000
    lap = LAP / 1000
    across = max(1, ceil((x1 - x0 - lap) / (wide - lap) - 1e-9))
    up = max(1, ceil((y1 - y0 - lap) / (high - lap) - 1e-9))
    return tuple(
        Tile(j + 1, i + 1, x0 + i * (wide - lap), y0 + j * (high - lap), wide, high)
        for j in range(up)
        for i in range(across)
    )


def sheets_of(outlines: tuple[PlyOutline, ...], paper: str) -> tuple[Sheet, ...]:
    """Every sheet with a line on it, numbered through."""
    found: list[Sheet] = []
    for template in templates_of(outlines):
        tiles = tiles_of(_box(template), paper)
        of = (max(t.row for t in tiles), max(t.column for t in tiles))
        edges = shapely.union_all([piece.boundary for _, piece in template.lines])
        for tile in tiles:
            if edges.intersects(tile.box):
                found.append(Sheet(template, tile, of, len(found) + 1))
    return tuple(found)


def template_pdf(
    outlines: tuple[PlyOutline, ...],
    name: str,
    paper: str,
    system: System,
    ways: tuple[str, str] = ("forward", "up"),
) -> bytes:
    """Every ply of a patch full size; ``ways`` are what the two directions of the zone are called."""
    fonts()
    stream = BytesIO()
    first = _page_size(paper, None)
    canvas = Canvas(stream, pagesize=first, invariant=1, lang="en")
    canvas.setTitle(f"{name}: ply templates, full size")
    sheets = sheets_of(outlines, paper)
    if sheets:
        _maps(canvas, sheets, name, system, ways)
    for sheet in sheets:
        canvas.setPageSize(_page_size(paper, sheet.tile))
        _page(canvas, sheet, name, (len(sheets), len(outlines)), system, ways)
        canvas.showPage()
    if not sheets:
        canvas.setFont(FONT, 10)
        canvas.drawString(EDGE * MM, first[1] - 60, f"{name}: no plies to cut yet.")
        canvas.showPage()
    canvas.save()
    return stream.getvalue()


def _page_size(paper: str, tile: Tile | None) -> tuple[float, float]:
    """Width and height in points; of a roll as long as what it carries."""
    wide, high = PAPERS[paper]
    if high == 0:
        high = tile.height * 1000 + 2 * EDGE + FOOT if tile is not None else 300.0
    return wide * MM, high * MM


# ---- the map ------------------------------------------------------------------------------------------------------


def _maps(c: Any, sheets: tuple[Sheet, ...], name: str, system: System, ways: tuple[str, str]) -> None:
    """How the sheets of each template lie; those that no line crosses stand in grey and are not printed."""
    width, height = c._pagesize
    c.setFont(BOLD, 12)
    c.drawString(EDGE * MM, height - EDGE * MM - 6, f"{name}: ply templates, full size")
    c.setFont(FONT, 8)
    c.drawString(
        EDGE * MM,
        height - EDGE * MM - 20,
        f"{counted(len(sheets), 'sheet', 'sheets')}; x {ways[0]}, y {ways[1]}. Measure the bar first.",
    )
    check_bar(c, width - EDGE * MM - 100 * MM, EDGE * MM)
    top = height - EDGE * MM - 34
    templates = list(dict.fromkeys(s.template for s in sheets))
    for template in templates:
        mine = [s for s in sheets if s.template is template]
        x0, y0, _, _ = _box(template)
        room = (width - 2 * EDGE * MM, MAP * MM)
        scale = min(room[0] / (mine[0].of[1] * mine[0].tile.width), room[1] / (mine[0].of[0] * mine[0].tile.height))
        tall = mine[0].of[0] * mine[0].tile.height * scale
        if top - tall - 26 < (EDGE + 8) * MM:
            c.showPage()
            top = height - EDGE * MM
        low = top - tall - 14
        c.setFont(BOLD, 9)
        c.drawString(EDGE * MM, top - 8, f"{template.name}: {_size(template, system)}")
        _map(c, mine, (EDGE * MM - x0 * scale, low - y0 * scale), scale)
        top = low - 22
    c.showPage()


def _map(c: Any, sheets: list[Sheet], origin: Point, scale: float) -> None:
    template = sheets[0].template
    printed = {(s.tile.row, s.tile.column): s.number for s in sheets}
    c.setLineWidth(0.4)
    wide, high = sheets[0].tile.width, sheets[0].tile.height
    x0, y0, _, _ = _box(template)
    lap = LAP / 1000
    for row in range(1, sheets[0].of[0] + 1):
        for column in range(1, sheets[0].of[1] + 1):
            x = origin[0] + (x0 + (column - 1) * (wide - lap)) * scale
            y = origin[1] + (y0 + (row - 1) * (high - lap)) * scale
            number = printed.get((row, column))
            c.setFillColor(HexColor(LIGHT["panel" if number else "rail"]))
            c.setStrokeColor(HexColor(LIGHT["edge"]))
            c.rect(x, y, wide * scale, high * scale, stroke=1, fill=1)
            c.setFillColor(HexColor(LIGHT["ink"]))
            c.setFont(FONT, 8)
            c.drawCentredString(x + wide * scale / 2, y + high * scale / 2 - 3, str(number) if number else "blank")
    c.setStrokeColor(HexColor(LIGHT["ink"]))
    for _, piece in template.lines:
        _rings(c, piece, lambda px, py: (origin[0] + px * scale, origin[1] + py * scale))


def _box(template: Template) -> tuple[float, float, float, float]:
    """What the sheets cover, m: the largest line and a little round it: no line lies on the edge of a sheet."""
    x0, y0, x1, y1 = template.largest.bounds
    return x0 - ROUND, y0 - ROUND, x1 + ROUND, y1 + ROUND


def _size(template: Template, system: System) -> str:
    x0, y0, x1, y1 = template.largest.bounds
    long, wide = (shown(v, Kind.SIZE, system) for v in (x1 - x0, y1 - y0))
    return f"{long} × {wide}"


# ---- a sheet ------------------------------------------------------------------------------------------------------


def _page(c: Any, sheet: Sheet, name: str, counts: tuple[int, int], system: System, ways: tuple[str, str]) -> None:
    template, tile = sheet.template, sheet.tile
    left, low = EDGE * MM, (EDGE + FOOT) * MM

    def at(x: float, y: float) -> tuple[float, float]:
        return left + (x - tile.x) * 1000 * MM, low + (y - tile.y) * 1000 * MM

    c.saveState()
    frame = c.beginPath()
    frame.rect(left, low, tile.width * 1000 * MM, tile.height * 1000 * MM)
    c.clipPath(frame, stroke=0, fill=0)
    c.setLineWidth(0.9)
    for outline, piece in template.lines:
        _rings(c, piece, at)
        if len(template.lines) > 1:
            _numbered(c, outline, piece, tile, at)
    _grain(c, template, tile, at)
    _compass(c, (left, low), ways)
    c.restoreState()
    c.setLineWidth(0.3)
    c.setDash([2, 2])
    c.rect(left, low, tile.width * 1000 * MM, tile.height * 1000 * MM, stroke=1, fill=0)
    c.setDash([])
    _register(c, left, low, tile, sheet.of)
    _foot(c, sheet, name, counts, system)


def _rings(c: Any, piece: shapely.Polygon, at: Callable[[float, float], Point]) -> None:
    for rings in rings_of(piece):
        for ring in rings:
            path = c.beginPath()
            for i, point in enumerate(ring):
                (path.lineTo if i else path.moveTo)(*at(*point))
            path.close()
            c.drawPath(path, stroke=1, fill=0)


def _numbered(
    c: Any, outline: PlyOutline, piece: shapely.Polygon, tile: Tile, at: Callable[[float, float], Point]
) -> None:
    """The number of a ply on its line, where the line crosses this sheet; lines that lie close take turns."""
    here = shapely.line_merge(shapely.intersection(piece.exterior, tile.box))
    longest = max(shapely.get_parts(here), key=lambda part: part.length, default=None)
    if longest is None or longest.length < 0.01:
        return
    place = longest.interpolate(0.15 + 0.7 * ((outline.laid.number * 0.381966) % 1), normalized=True)
    x, y = at(place.x, place.y)
    c.setFillColor(HexColor(LIGHT["panel"]))
    c.circle(x, y, 6, stroke=1, fill=1)
    c.setFillColor(HexColor(LIGHT["ink"]))
    c.setFont(BOLD, 8)
    c.drawCentredString(x, y - 3, str(outline.laid.number))


def _grain(c: Any, template: Template, tile: Tile, at: Callable[[float, float], Point]) -> None:
    """Arrows along the roll, one for each angle of its plies, in the middle of what lies on this sheet."""
    here = template.largest.intersection(tile.box)
    if here.is_empty or here.area < 1e-5:
        return
    middle = here.representative_point()
    x, y = at(middle.x, middle.y)
    for n, turn in enumerate(dict.fromkeys(outline.laid.angle for outline, _ in template.lines)):
        plies = [str(o.laid.number) for o, _ in template.lines if o.laid.angle == turn]
        which = f", plies {', '.join(plies)}" if len(template.lines) > len(plies) else ""
        _arrow(c, x, y - 34 * n, radians(turn), f"grain: along the roll{which}")


def _arrow(c: Any, x: float, y: float, angle: float, words: str) -> None:
    long = 22 * MM / 2
    dx, dy = cos(angle) * long, sin(angle) * long
    c.setLineWidth(0.7)
    c.line(x - dx, y - dy, x + dx, y + dy)
    for sign in (1, -1):
        for turn in (0.4, -0.4):
            a = angle + turn
            c.line(x + sign * dx, y + sign * dy, x + sign * (dx - cos(a) * 9), y + sign * (dy - sin(a) * 9))
    c.setFont(FONT, 7)
    c.drawCentredString(x, y + 4, words)


def _compass(c: Any, corner: Point, ways: tuple[str, str]) -> None:
    """Which way the sheet lies on the boat, in its lower left corner."""
    x, y = corner[0] + 16 * MM, corner[1] + 16 * MM
    c.setLineWidth(0.7)
    c.setFont(FONT, 7)
    c.line(x, y, x + 28, y)
    c.line(x + 28, y, x + 22, y + 3)
    c.line(x + 28, y, x + 22, y - 3)
    c.drawString(x + 32, y - 2, ways[0])
    c.line(x, y, x, y + 28)
    c.line(x, y + 28, x - 3, y + 22)
    c.line(x, y + 28, x + 3, y + 22)
    c.drawString(x - 4, y + 32, ways[1])


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


def _foot(c: Any, sheet: Sheet, name: str, counts: tuple[int, int], system: System) -> None:
    template, tile, of = sheet.template, sheet.tile, sheet.of
    y = EDGE * MM
    c.setFont(BOLD, 10)
    plies = f"{template.name} of {counts[1]}"
    c.drawString(EDGE * MM, y + 34, f"{name}: {plies}   sheet {sheet.number} of {counts[0]}")
    c.setFont(FONT, 8)
    cloths = dict.fromkeys(f"{o.laid.ply.fabric.name}, {general(o.laid.angle)}°" for o, _ in template.lines)
    c.drawString(EDGE * MM, y + 22, f"{'; '.join(cloths)}; box {_size(template, system)}")
    row = f"row {tile.row} of {of[0]}, column {tile.column} of {of[1]}"
    c.drawString(EDGE * MM, y + 11, f"{row}; lay the round marks on one another")
    check_bar(c, c._pagesize[0] - EDGE * MM - 100 * MM, y)
