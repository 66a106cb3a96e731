"""Rebuilding: plies, laminate, core work, made parts, bonds step by step, schemes side by side."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ribpatch.core.tables import zone_table
from ribpatch.report.page import BODY, SMALL, SUB, paragraph, titled_table

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.core.zone_plan import ZonePlan


# By its name, under its title, with the share of the width of each column.
TABLES = (
    ("match", "New laminate against the old", (0.52, 0.16, 0.16, 0.16)),
    ("core work", "Work on the core", (0.44, 0.14, 0.42)),
    ("parts", "Made parts", (0.34, 0.14, 0.14, 0.12, 0.13, 0.13)),
)
OF_SCHEMES = (0.19, 0.08, 0.08, 0.08, 0.08, 0.09, 0.08, 0.07, 0.07, 0.18)


def zone_pages(made: ZonePlan, plan: Plan, system: System, width: float) -> list[Any]:
    """How one zone is rebuilt."""
    return _rebuilt(made, plan, system, width)


def _rebuilt(made: ZonePlan, plan: Plan, system: System, width: float) -> list[Any]:
    """Laminate, core work, made parts, bonds and schemes of one zone."""
    story: list[Any] = []
    for name, title, shares in TABLES:
        if name == "match" and not made.patch.outlines:
            continue
        story += titled_table(title, zone_table(made, name, system), shares, system, width)
    if made.parts:
        for part in made.parts:
            story += [paragraph(f"{part.part.name}: {n}. {step}", SMALL) for n, step in enumerate(part.steps, 1)]
    story += _bonds(made, plan, made.year)
    story += _finish(made, system, width)
    if made.zone.others:
        story += titled_table("Schemes", zone_table(made, "schemes", system), OF_SCHEMES, system, width)
    return story


def _finish(made: ZonePlan, system: System, width: float) -> list[Any]:
    """Fairing and coats, and what to take care of with each."""
    found = zone_table(made, "finish", system)
    story = titled_table("Fair and finish", found, (0.34, 0.11, 0.09, 0.1, 0.27, 0.09), system, width)
    rows = found.rows if found is not None else ()
    return [*story, *(paragraph(f"{row.cells[0]}: {row.why}", SMALL) for row in rows if row.why)]


def _bonds(made: ZonePlan, plan: Plan, year: int | None) -> list[Any]:
    story: list[Any] = []
    for n, interface in enumerate(made.interfaces, 1):
        if not story:
            story.append(paragraph("Bonds, from the inside out", SUB))
        verdict = f"; together: {interface.suits.verdict}" if interface.suits else ""
        story.append(
            paragraph(f"{n}. {interface.name}: {interface.kind} bond{verdict}. {' '.join(interface.steps)}", BODY)
        )
    test = made.coupon_test
    if test:
        story += [
            paragraph("Coupon test before another resin goes on", SUB),
            *(paragraph(f"{n}. {s}") for n, s in enumerate(test, 1)),
        ]
    return story
