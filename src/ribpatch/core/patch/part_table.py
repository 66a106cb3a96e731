"""Made parts as a table of figures."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.figure import FigureBook, Given, Origin
from ribpatch.core.laminate.stack_text import text_of
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.patch.made_parts import PartMade


def part_table(parts: tuple[PartMade, ...], prefix: str) -> Table:
    """Developed size, area, weight, bond and bed of every made part."""
    return Table(
        ("part", "long", "wide", "thick", "weight", "bed"),
        tuple(_row(p, prefix) for p in parts),
        note="Sizes of the flat cloth with its trim allowance; weight and bed of one part.",
        empty="No made parts. Add an angle, knee, backing plate or end cap below.",
    )


def _row(p: PartMade, prefix: str) -> Row:
    book = FigureBook(f"{prefix}.part.{p.part.id}")
    area = Given("area", p.area, Kind.AREA, Origin.WORKED)
    given = (Given("plies", text_of(p.part.plies), None, Origin.YOURS),)
    long, wide = p.size
    many = f"{p.part.count} × " if p.part.count > 1 else ""
    cells = (
        f"{many}{p.part.name} ({p.part.kind})",
        book.add("long", "cloth, long", long, Kind.SIZE, "developed along the middle surface, with trim"),
        book.add("wide", "cloth, wide", wide, Kind.SIZE, "developed along the middle surface, with trim"),
        book.add("thickness", "thickness", p.stack.thickness, Kind.SIZE, "sum of the cured plies", given, source="[2]"),
        book.add(
            "weight",
            "weight",
            p.weight,
            Kind.MASS,
            "developed area, trimmed to the line, × weight of the stack",
            (*given, area),
            source="[2]",
        ),
        book.add(
            "bed",
            "putty or adhesive",
            p.bed,
            Kind.VOLUME,
            "faces that touch the boat × thickness of the bed",
            (Given("bond", p.bond, Kind.AREA, Origin.WORKED),),
        ),
    )
    return Row(p.part.id, cells, "" if p.stack.plies else "warn", "" if p.stack.plies else "no plies yet")
