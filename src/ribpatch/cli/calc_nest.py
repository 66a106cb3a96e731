"""``ribpatch calc nest``: pieces on a roll of cloth. What it reads and what it answers; m."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, Literal

from ribpatch.core.record import Limits, Record

if TYPE_CHECKING:
    from ribpatch.core.geometry import Ring
    from ribpatch.core.supply.nesting.shape import Shape

Corner = tuple[
    Annotated[float, Limits(ge=-1000, le=1000, description="m along the roll")],
    Annotated[float, Limits(ge=-1000, le=1000, description="m across it")],
]


Turns = Annotated[
    tuple[Annotated[float, Limits(ge=-360, le=360)], ...],
    Limits(max_length=360, description="degrees, each turn that it may be laid at; instead of turn"),
]
BY_TURN: dict[int | str, tuple[float, ...] | None] = {
    0: (0.0,),
    90: (0.0, 90.0, 180.0, 270.0),
    180: (0.0, 180.0),
    "any": None,
}


class CalcPiece(Record):
    """A piece to cut: its two sides, or the corners of its outline. It is never turned over."""

    long: Annotated[float, Limits(gt=0, le=1000, description="m along the roll")] | None = None
    wide: Annotated[float, Limits(gt=0, le=1000, description="m across it")] | None = None
    polygon: Annotated[tuple[Corner, ...], Limits(max_length=2_000)] = ()
    turn: Annotated[
        Literal[0, 90, 180, "any"], Limits(description="degrees by which it may be turned, again and again; or any")
    ] = 180
    turns: Turns = ()

    def check(self) -> None:
        """One of the two ways, whole."""
        if (self.long is None) != (self.wide is None) or (self.long is None) == (not self.polygon):
            raise ValueError("give either long and wide, or a polygon")
        if self.polygon and len(self.polygon) < 3:
            raise ValueError("a polygon has three corners at least")

    @property
    def shape(self) -> Shape:
        """Its outline, and the turns that it may be laid at."""
        from ribpatch.core.supply.nesting.shape import Shape, is_box

        ring: Ring = self.polygon
        if self.long is not None and self.wide is not None:
            ring = ((0.0, 0.0), (self.long, 0.0), (self.long, self.wide), (0.0, self.wide))
        ring = ring[:-1] if len(ring) > 3 and ring[0] == ring[-1] else ring
        turns = self.turns or BY_TURN[self.turn]
        return Shape(ring, BY_TURN[90] if turns is None and is_box(ring) else turns)


class NestInput(Record):
    """A roll and the pieces to cut off it."""

    roll_width: Annotated[float, Limits(gt=0, le=100, description="m")]
    pieces: Annotated[tuple[CalcPiece, ...], Limits(min_length=1, max_length=500)]
    seconds: Annotated[
        float, Limits(ge=0, le=600, description="to search for in; less where a layout is proven; 0 for the first one")
    ] = 15.0
    tries: (
        Annotated[
            int,
            Limits(ge=0, le=100_000, description="layouts by boxes to try; by the number of pieces if left out"),
        ]
        | None
    ) = None


def nest(given: NestInput) -> dict[str, Any]:
    """How they lie, the length cut off, and what no layout could be shorter than."""
    from ribpatch.core.supply.nesting.nest import area_used
    from ribpatch.core.supply.nesting.nest import nest as first
    from ribpatch.core.supply.nesting.shape import placed
    from ribpatch.nester.search import searched

    shapes, width = tuple(piece.shape for piece in given.pieces), given.roll_width
    made = first(shapes, width, given.tries)
    if given.seconds > 0:
        made = searched(shapes, width, given.seconds, made)
    rows = []
    for number, (shape, at) in enumerate(zip(shapes, made.lying, strict=True), 1):
        corners = placed(shape, at)
        (x, y), (right, upper) = corners.min(axis=0).tolist(), corners.max(axis=0).tolist()
        row = {"piece": number, "x": x, "y": y, "long": right - x, "wide": upper - y, "turn": at.turn % 360}
        rows.append({**row, "turned": abs(at.turn % 180 - 90) < 1e-9, "outline": corners.tolist()})
    return {
        "length": made.length,
        "bound": made.bound,
        "proven": made.proven,
        "utilisation": area_used(shapes, made, width),
        "pieces": rows,
    }
