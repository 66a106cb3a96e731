"""How a repair is faired and finished, as stated: high and low spots, way of fairing, pinholes, coats."""

from __future__ import annotations

from typing import Annotated, Literal

from ribpatch.core.materials.records import Id
from ribpatch.core.ranged import ranged
from ribpatch.core.readings import Coordinate
from ribpatch.core.record import Limits, Record
from ribpatch.core.units import Measure

MOST_SPOTS = 2000


class Spot(Record):
    """How far the surface stands off the batten or straightedge at a place of the zone: high over 0, low under it."""

    id: Id
    x: Coordinate
    y: Coordinate
    height: Annotated[Measure, ranged(-0.1, 0.1)]


class Finish(Record):
    """Fairing and coats of a zone; no system chosen is as found: nothing is put on."""

    spots: Annotated[tuple[Spot, ...], Limits(max_length=MOST_SPOTS)] = ()
    way: Literal["afterwards", "wet", "peel ply"] = "afterwards"
    pinholes: Annotated[int, Limits(ge=0, le=10_000)] = 0
    system: Id | None = None

    def check(self) -> None:
        """Spots are told apart by id."""
        if len({s.id for s in self.spots}) != len(self.spots):
            raise ValueError("two spots carry the same id")
