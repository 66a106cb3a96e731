"""The plies of a tabbed corner as a table: leg on each part and the width that each is cut to."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.figure import FigureBook, stated
from ribpatch.core.patch.tabbing import tab_section
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.laminate.stack import StackUp
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.scheme import Tabbing


def tab_table(stack: StackUp, tabbing: Tabbing, shelf: Shelf, prefix: str) -> Table:
    """Every ply, the least leg, the fillet."""
    section = tab_section(stack, tabbing, shelf.rule("tab.times"), shelf.rule("tab.least"))
    book = FigureBook(f"{prefix}.tab")
    given = tuple(
        stated(n, m, k)
        for n, m, k in (
            ("first leg", tabbing.first, Kind.SIZE),
            ("stagger", tabbing.stagger, Kind.SIZE),
            ("fillet radius", tabbing.radius, Kind.SIZE),
            ("angle between the parts", tabbing.angle, Kind.ANGLE),
        )
    )
    rows = []
    for ply, laid in zip(section.plies, stack.plies, strict=True):
        leg = book.add(
            f"{ply.number}.leg",
            f"leg of ply {ply.number}",
            ply.leg,
            Kind.SIZE,
            "first leg + plies under it × stagger",
            given,
            source="[21]",
        )
        wide = book.add(
            f"{ply.number}.width",
            f"width of ply {ply.number}",
            ply.width,
            Kind.SIZE,
            "2 × leg + radius × (π − angle)",
            given,
            source="[21]",
        )
        rows.append(Row(str(ply.number), (f"{ply.number}. {laid.ply.fabric.name}", leg, wide)))
    least = book.add(
        "least",
        "least leg of the widest ply",
        section.least,
        Kind.SIZE,
        "the larger of thickness × times and the least leg",
        (shelf.given("tab.times"), shelf.given("tab.least")),
    )
    rows.append(Row("least", ("the widest should lap", least, ""), "" if section.enough else "warn"))
    fillet = book.add(
        "fillet",
        "putty of the fillet a metre",
        section.fillet,
        Kind.VOLUME,
        "r² (cot(a/2) − (π − a)/2) × 1 m",
        given,
        source="[21]",
    )
    rows.append(Row("fillet", ("fillet, a metre of joint", fillet, "")))
    return Table(("ply", "leg", "cut to"), tuple(rows), empty="Choose plies first.")
