"""Sheets of core with the pieces that are sawn from them, side by side, numbered as in the list beside. Metres."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.drawing.shapes import Area, Badge, Callout, Drawing, Line, Shape
from ribpatch.core.text import counted, percent
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ribpatch.core.geometry import Ring
    from ribpatch.core.patch.coring.pieces import CorePieces
    from ribpatch.core.supply.core_sheets import CoreSheets
    from ribpatch.core.units import System

APART = 0.15  # m between sheets


def sheet_words(sheets: CoreSheets, system: System) -> str:
    """What is sawn from the sheets of a core, in a line."""
    made, core = sheets.made, sheets.core
    size = " × ".join(shown(v, Kind.LENGTH, system) for v in core.sheet)
    spare = len(made.laid) - made.whole
    off = f", {counted(spare, 'off-cut', 'off-cuts')} used up" if spare else ""
    best = ", none can do with fewer" if made.proven and not spare else ""
    thick = shown(sheets.thickness, Kind.SIZE, system)
    many = f"{counted(made.whole, 'sheet', 'sheets')} of {size}"
    pieces = counted(len(sheets.cuts), "piece", "pieces")
    return f"{core.name}, {thick}: {many}{off}, {pieces}, {percent(made.used)} used{best}"


def sheet_view(every: Sequence[CoreSheets], system: System, only: str = "") -> Drawing:
    """All sheets, those of one core under each other; a sheet's longer side runs from left to right."""
    shapes: list[Shape] = []
    top, longest, number = 0.0, 0.0, 0
    for sheets in every:
        first, number = number, number + len(sheets.cuts)
        if only not in ("", sheets.core.id):
            continue
        for laid in sheets.made.laid:
            long, wide = laid.sheet.long, laid.sheet.wide
            low = top - wide
            shapes.append(Line(_box(0.0, low, long, wide), "zone", True))
            for put in laid.puts:
                ring = _box(put.x, low + put.y, put.long, put.wide)
                shapes += [Area((ring,), "core", sheets.core.faces), Line(ring, "piece", True)]
                middle = put.x + put.long / 2, low + put.y + put.wide / 2
                shapes.append(Badge(middle, f"{first + put.number + 1}", "piece", min(put.long, put.wide)))
            if put_words := "" if only else sheets.core.name:
                shapes.append(Callout((long, low + wide / 2), put_words, "right"))
            longest, top = max(longest, long), low - APART
    note = "numbers as in the list of pieces; each box holds a piece with its laps"
    return Drawing("Core on sheets", note, (0.0, min(top + APART, -0.1), max(longest, 0.1), 0.0), tuple(shapes))


def _box(x: float, y: float, long: float, wide: float) -> Ring:
    return ((x, y), (x + long, y), (x + long, y + wide), (x, y + wide))


def sheet_rows(every: Sequence[CoreSheets], system: System) -> list[list[str]]:
    """The list beside the drawing: number, core, what is written on it, along and across."""
    rows: list[list[str]] = []
    for sheets in every:
        for cut in sheets.cuts:
            sizes = (shown(v, Kind.SIZE, system) for v in (cut.long, cut.wide))
            thick = shown(sheets.thickness, Kind.SIZE, system)
            rows.append([f"{len(rows) + 1}", f"{sheets.core.name}, {thick}", cut.name, *sizes])
    return rows


def core_words(zone: str, pieces: CorePieces, system: System) -> str:
    """How the core of a zone is made up: its layers, its seams and how they are joined."""
    thick = shown(pieces.sheet, Kind.SIZE, system)
    count = len(pieces.layers)
    words = [f"{zone}: {'one layer' if count == 1 else f'{count} layers'} of {thick}"]
    for n, layer in enumerate(pieces.layers, 1):
        places = [f"{shown(v, Kind.SIZE, system)} along" for v in layer.x]
        places += [f"{shown(v, Kind.SIZE, system)} across" for v in layer.y]
        if places:
            words.append(
                f"layer {n} with seams at {', '.join(places)}" if count > 1 else f"seams at {', '.join(places)}"
            )
    if any(layer.x or layer.y for layer in pieces.layers):
        words.append(f"{pieces.joint}, {shown(pieces.lap, Kind.SIZE, system)} of lap")
    warned = " ⚠ A seam lies where none should: under a fitting or clamp, or on the centreline." if pieces.bad else ""
    return "; ".join(words) + "." + warned
