"""What is stated to set a photograph straight: marks of known places in it, points along straight edges, checks.

Places in the picture are shares of its width, from its upper left corner to the right and down, so that they hold for
the picture at any size.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ribpatch.core.ranged import ranged
from ribpatch.core.record import Limits, Record
from ribpatch.core.units import Kind, Measure, usual

Share = Annotated[float, Limits(ge=-1, le=6)]
Pixel = tuple[Share, Share]
Line = Annotated[tuple[Pixel, ...], Limits(max_length=200)]
Across = Annotated[float, Limits(ge=-100, le=100)]
How = Literal["rectangle", "tapes", "distances"]
# What is measured for each way, in the order of ``sizes``.
MEASURED: dict[How, tuple[str, ...]] = {
    "rectangle": ("1 to 2", "2 to 3"),
    "tapes": ("1 to 2", "3 to 4", "1 to the crossing", "3 to the crossing"),
    "distances": ("1 to 2", "2 to 3", "3 to 4", "4 to 1", "1 to 3", "2 to 4"),
}
LEAST_ON_EDGE = 3
MOST_EDGES = 40


class Checked(Record):
    """A distance measured between two places of the picture that is not used, but held against it."""

    a: Pixel
    b: Pixel
    length: Annotated[Measure, ranged(0.005, 60, Kind.SIZE)]


class Straight(Record):
    """Four marks in one plane and what was measured between them; where that plane lies in the zone.

    ``rectangle``: its corners in order round it. ``tapes``: the ends of one, then of the other, which cross square.
    ``distances``: four points in order round, with all six distances between them. The first mark stands at x, y of
    the zone, and the line from it to the second is turned by ``turn`` against the zone's x.
    """

    how: How
    marks: Annotated[tuple[Pixel, ...], Limits(min_length=4, max_length=4)]
    sizes: Annotated[tuple[Annotated[Measure, ranged(0.005, 60, Kind.SIZE)], ...], Limits(max_length=6)]
    shape: Annotated[float, Limits(ge=0.05, le=20)]  # the picture's height over its width
    x: Across = 0.0
    y: Across = 0.0
    turn: Annotated[Measure, ranged(-360, 360, Kind.ANGLE)] = usual(0.0)
    edges: Annotated[
        tuple[Annotated[tuple[Pixel, ...], Limits(max_length=200)], ...], Limits(max_length=MOST_EDGES)
    ] = ()
    checks: Annotated[tuple[Checked, ...], Limits(max_length=100)] = ()

    def check(self) -> None:
        """As many sizes as the way wants; four places that are four."""
        if len(self.sizes) != len(MEASURED[self.how]):
            raise ValueError(f"{len(MEASURED[self.how])} lengths are wanted: {', '.join(MEASURED[self.how])}")
        if len(set(self.marks)) != len(self.marks):
            raise ValueError("two marks stand at the same place of the picture")
