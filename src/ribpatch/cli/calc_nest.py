"""``ribpatch calc nest``: pieces on a roll of cloth. What it reads and what it answers; m."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ribpatch.core.record import Limits, Record

Corner = tuple[
    Annotated[float, Limits(ge=-1000, le=1000, description="m along the roll")],
    Annotated[float, Limits(ge=-1000, le=1000, description="m across it")],
]


class CalcPiece(Record):
    """A piece to cut: its two sides, or the corners of its outline, which is laid by the box round it."""

    long: Annotated[float, Limits(gt=0, le=1000, description="m along the roll")] | None = None
    wide: Annotated[float, Limits(gt=0, le=1000, description="m across it")] | None = None
    polygon: Annotated[tuple[Corner, ...], Limits(max_length=10_000)] = ()
    turn: Annotated[Literal[0, 90, 180], Limits(description="degrees by which it may be turned")] = 180

    def check(self) -> None:
        """One of the two ways, whole."""
        if (self.long is None) != (self.wide is None) or (self.long is None) == (not self.polygon):
            raise ValueError("give either long and wide, or a polygon")
        if self.polygon and len(self.polygon) < 3:
            raise ValueError("a polygon has three corners at least")

    @property
    def sides(self) -> tuple[float, float]:
        """Along the roll and across it, m."""
        if self.long is not None and self.wide is not None:
            return self.long, self.wide
        x, y = zip(*self.polygon, strict=True)
        return max(x) - min(x), max(y) - min(y)


class NestInput(Record):
    """A roll and the pieces to cut off it."""

    roll_width: Annotated[float, Limits(gt=0, le=100, description="m")]
    pieces: Annotated[tuple[CalcPiece, ...], Limits(min_length=1, max_length=500)]
    tries: (
        Annotated[
            int, Limits(ge=0, le=100_000, description="layouts that are tried; by the number of pieces if left out")
        ]
        | None
    ) = None


def nest(given: NestInput) -> dict[str, Any]:
    """How they lie, the length cut off, and what none could be shorter than, by boxes."""
    from ribpatch.core.supply.packing import Rect, pack

    rects = tuple(Rect(*piece.sides, piece.turn == 90) for piece in given.pieces)
    made = pack(rects, given.roll_width, given.tries)
    area = sum(r.long * r.wide for r in rects)
    return {
        "length": made.length,
        "bound": made.bound,
        "proven": made.proven,
        "utilisation": area / (made.length * given.roll_width),
        "by": "the box round each piece",
        "pieces": [
            {"piece": p.number + 1, "x": p.x, "y": p.y, "long": p.long, "wide": p.wide, "turned": p.turned}
            for p in made.puts
        ],
    }
