"""The rolls of a job with all that is cut off them, one under the other, numbered as in the list beside. Metres."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.drawing.shapes import Area, Badge, Callout, Drawing, Line, Shape
from ribpatch.core.text import counted, percent
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ribpatch.core.geometry import Ring
    from ribpatch.core.supply.cutting import Roll
    from ribpatch.core.units import System

APART = 0.15  # m between rolls


def roll_words(roll: Roll, system: System) -> str:
    """What is cut off a roll, in a line."""
    length, width = (shown(v, Kind.LENGTH, system) for v in (roll.packed.length, roll.fabric.roll_width))
    best = ", none shorter by boxes" if roll.packed.proven else ""
    pieces = counted(len(roll.cuts), "piece", "pieces")
    return f"{roll.fabric.name}: {length} off a {width} roll, {pieces}, {percent(roll.used)} used{best}"


def cut_view(rolls: Sequence[Roll], system: System, only: str = "") -> Drawing:
    """All rolls, the first at the top, or that of one fabric ``only``; a roll runs from left to right."""
    shapes: list[Shape] = []
    top, longest, number = 0.0, 0.0, 0
    for roll in rolls:
        first, number = number, number + len(roll.cuts)
        if only not in ("", roll.fabric.id):
            continue
        low = top - roll.fabric.roll_width
        shapes += _roll(roll, low, first)
        if not only:
            words = f"{roll.fabric.name}: {shown(roll.packed.length, Kind.LENGTH, system)}, {percent(roll.used)} used"
            shapes.append(Callout((roll.packed.length, low + roll.fabric.roll_width / 2), words, "right"))
        longest, top = max(longest, roll.packed.length), low - APART
    note = "a roll runs from left to right; numbers as in the list of pieces"
    return Drawing("Cut plan of the cloth", note, (0.0, min(top + APART, -0.1), max(longest, 0.1), 0.0), tuple(shapes))


def _roll(roll: Roll, low: float, number: int) -> list[Shape]:
    width, length = roll.fabric.roll_width, roll.packed.length
    made: list[Shape] = [Line(_box(0.0, low, length, width), "zone", True)]
    for put in roll.packed.puts:
        ring = _box(put.x, low + put.y, put.long, put.wide)
        made.append(Area((ring,), "new-skin", roll.fabric.layers[0].kind))
        made.append(Line(ring, "piece", True))
        centre = put.x + put.long / 2, low + put.y + put.wide / 2
        made.append(Badge(centre, f"{number + put.number + 1}", "piece", min(put.long, put.wide)))
    return made


def _box(x: float, y: float, long: float, wide: float) -> Ring:
    return ((x, y), (x + long, y), (x + long, y + wide), (x, y + wide))


def cut_rows(rolls: Sequence[Roll], system: System) -> list[list[str]]:
    """The list beside the drawing: number, fabric, what is written on it, along and across the roll."""
    rows, number = [], 0
    for roll in rolls:
        for put, cut in zip(roll.packed.puts, roll.cuts, strict=True):
            sizes = (shown(v, Kind.SIZE, system) for v in (put.long, put.wide))
            rows.append([f"{number + put.number + 1}", roll.fabric.name, cut.name, *sizes])
        number += len(roll.cuts)
    return rows
