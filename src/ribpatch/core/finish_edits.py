"""Edits of fairing and finish: spots typed along a straightedge or one by one, and taken back."""

from __future__ import annotations

from typing import TYPE_CHECKING

import shapely

from ribpatch.core.edits import Edit, in_zone, next_id
from ribpatch.core.errors import InvalidValue, OutsideZone
from ribpatch.core.finishing import Spot
from ribpatch.core.geometry import polygon_of
from ribpatch.core.quantity import parse
from ribpatch.core.record import evolve, evolve_in
from ribpatch.core.units import Kind, Measure

if TYPE_CHECKING:
    from ribpatch.core.geometry import Point
    from ribpatch.core.job import Zone
    from ribpatch.core.units import System

NEAR = 0.005  # m, within which two spots are one
HOW = "Write a place and how far it stands off fair, 350 200: -2, or a straightedge, 100 200 to 900 200: 0 -1 -2 0"


def spots_from_text(text: str, system: System = "metric") -> tuple[tuple[Point, Measure], ...]:
    """Places and heights from a typed line: in mm (or inches) unless a unit is given. Along a straightedge the readings
    are evenly spaced from one end to the other. Raises Fault.
    """
    where, colon, readings = text.replace("−", "-").partition(":")
    heights = [parse(word, Kind.SIZE, system).measure for word in readings.replace(",", " ").split()]
    if not colon or not heights:
        raise InvalidValue("spot", reason=f"“{text.strip()}” has no readings after a colon", advice=f"{HOW}.")
    first, to, last = where.lower().partition(" to ")
    start = _place(first, system)
    if not to:
        if len(heights) > 1:
            raise InvalidValue("spot", reason="one place has one reading", advice=f"{HOW}.")
        return ((start, heights[0]),)
    end = _place(last, system)
    if len(heights) < 2:
        raise InvalidValue("spot", reason="a straightedge has a reading at both ends at least", advice=f"{HOW}.")
    step = 1 / (len(heights) - 1)
    return tuple(
        ((start[0] + (end[0] - start[0]) * k * step, start[1] + (end[1] - start[1]) * k * step), h)
        for k, h in enumerate(heights)
    )


def _place(text: str, system: System) -> Point:
    words = text.replace(",", " ").split()
    if len(words) != 2:
        raise InvalidValue("spot", reason=f"“{text.strip()}” is no place, two numbers", advice=f"{HOW}.")
    x, y = (parse(word, Kind.SIZE, system).measure.si for word in words)
    return x, y


def add_spots(zone: Zone, text: str, system: System = "metric") -> Edit:
    """Put typed spots on a zone; one that was read at the same place is replaced."""
    outline = polygon_of(zone.outline).buffer(1e-6)
    spots = list(zone.finish.spots)
    for (x, y), height in spots_from_text(text, system):
        if not outline.contains(shapely.Point(x, y)):
            raise OutsideZone(zone.name, what="a spot")
        spots = [s for s in spots if (s.x - x) ** 2 + (s.y - y) ** 2 > NEAR**2]
        spots.append(Spot(id=next_id("h", (s.id for s in spots)), x=round(x, 4), y=round(y, 4), height=height))
    return in_zone("read spots", zone.id, lambda z: evolve_in(z, "finish", spots=tuple(spots)))


def clear_spots(zone: str) -> Edit:
    """Forget all spots of a zone."""
    return in_zone("clear the spots", zone, lambda z: evolve(z, finish=evolve(z.finish, spots=())))
