"""The rolls of a job with all that is cut off them, one under the other, numbered as in the list beside. Metres."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.drawing.shapes import Area, Badge, Callout, Drawing, Line, Shape
from ribpatch.core.supply.cutting import USEFUL
from ribpatch.core.text import counted, percent
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ribpatch.core.geometry import Point, Ring
    from ribpatch.core.supply.cutting import Roll
    from ribpatch.core.units import System

APART = 0.15  # m between rolls


def roll_words(roll: Roll, system: System) -> str:
    """What is cut off a roll or an off-cut, in a line."""
    length, width = (shown(v, Kind.LENGTH, system) for v in (roll.made.length, roll.cloth.width))
    best = ", none can be shorter" if roll.made.proven else ", kept as found" if roll.kept else ""
    pieces = counted(len(roll.cuts), "piece", "pieces")
    told = f"{roll.fabric.name}: {length} off {_of(roll, width)}, {pieces}, {percent(roll.used)} used"
    return told + _left(roll, system) + best


def _of(roll: Roll, width: str) -> str:
    return f"{roll.cloth.name}, {width} wide" if roll.cloth.name else f"a {width} roll"


def _left(roll: Roll, system: System) -> str:
    """What is left of the length, or how much is wanting."""
    if roll.left is None:
        return ""
    if roll.left < -1e-9:
        return f", {shown(-roll.left, Kind.LENGTH, system)} more than there is"
    left = shown(roll.left, Kind.LENGTH, system)
    return f", {left} left" + ("" if roll.left >= USEFUL else ", too short to keep")


def cut_view(rolls: Sequence[Roll], system: System, only: str = "") -> Drawing:
    """All rolls, the first at the top, or those of one fabric ``only``; a roll runs from left to right."""
    shapes: list[Shape] = []
    top, longest, number = 0.0, 0.0, 0
    for roll in rolls:
        first, number = number, number + len(roll.cuts)
        if only not in ("", roll.fabric.id):
            continue
        low = top - roll.cloth.width
        shapes += _roll(roll, low, first)
        if not only or roll.cloth.name:
            name = roll.cloth.name or roll.fabric.name
            words = f"{name}: {shown(roll.made.length, Kind.LENGTH, system)}, {percent(roll.used)} used"
            shapes.append(Callout((roll.made.length, low + roll.cloth.width / 2), words, "right"))
        longest, top = max(longest, roll.made.length), low - APART
    note = "a roll runs from left to right; numbers as in the list of pieces"
    return Drawing("Cut plan of the cloth", note, (0.0, min(top + APART, -0.1), max(longest, 0.1), 0.0), tuple(shapes))


def _roll(roll: Roll, low: float, number: int) -> list[Shape]:
    width, length = roll.cloth.width, roll.made.length
    made: list[Shape] = [Line(((0.0, low), (length, low), (length, low + width), (0.0, low + width)), "zone", True)]
    for n, corners in enumerate(roll.rings):
        ring = tuple((x, low + y) for x, y in corners)
        made.append(Area((ring,), "new-skin", roll.fabric.layers[0].kind))
        made.append(Line(ring, "piece", True))
        at, room = middle_of(ring)
        made.append(Badge(at, f"{number + n + 1}", "piece", room))
    return made


def middle_of(ring: Ring) -> tuple[Point, float]:
    """A place well inside an outline and the room there, m across."""
    import shapely

    circle = shapely.maximum_inscribed_circle(shapely.Polygon(ring), 0.005)
    x, y = circle.coords[0]
    return (float(x), float(y)), float(2 * circle.length)


def cut_rows(rolls: Sequence[Roll], system: System) -> list[list[str]]:
    """The list beside the drawing: number, cloth, what is written on it, along and across the roll."""
    rows, number = [], 0
    for roll in rolls:
        for ring, cut in zip(roll.rings, roll.cuts, strict=True):
            number += 1
            x, y = zip(*ring, strict=True)
            sizes = (shown(max(v) - min(v), Kind.SIZE, system) for v in (x, y))
            name = f"{roll.fabric.name}, {roll.cloth.name}" if roll.cloth.name else roll.fabric.name
            rows.append([f"{number}", name, cut.name, *sizes])
    return rows
