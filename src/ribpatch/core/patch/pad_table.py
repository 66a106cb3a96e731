"""Local reinforcement as a table: where, how large, how thick, what it weighs."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.figure import FigureBook, Given, Origin
from ribpatch.core.laminate.stack_text import text_of
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.patch.pads import PadMade


def pad_table(pads: tuple[PadMade, ...], prefix: str) -> Table:
    """Area of the largest ply, thickness over the middle and weight of every pad."""
    return Table(
        ("reinforcement", "plies", "area", "thick", "weight"),
        tuple(_row(p, prefix) for p in pads),
        note="Laid on the main face after its plies. Prove does not count it: what it adds is to spare.",
        empty="None. Add extra plies under a fitting, or in the middle.",
    )


def _row(made: PadMade, prefix: str) -> Row:
    book = FigureBook(f"{prefix}.pad.{made.pad.id}")
    plies = Given("plies", text_of(made.pad.plies), None, Origin.YOURS)
    left_out = len(made.stack.plies) - len(made.outlines)
    warned = "no plies yet" if not made.stack.plies else f"{left_out} of its plies come to nothing" if left_out else ""
    return Row(
        made.pad.id,
        (
            made.pad.name,
            f"{len(made.outlines)}",
            book.add(
                "area", "largest ply", made.area, Kind.AREA, "box or round about its place, inside the zone", (plies,)
            ),
            book.add(
                "thickness", "thick over its middle", made.thickness, Kind.SIZE, "sum of the cured plies", (plies,)
            ),
            book.add("weight", "weight", made.weight, Kind.MASS, "sum over plies of area × weight", (plies,)),
        ),
        "warn" if warned else "",
        warned,
    )
