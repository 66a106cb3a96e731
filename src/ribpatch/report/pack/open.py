"""Opening: cut line and plies, section, what to see to before cutting, and the figures of cut and taper."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ribpatch.core.patch.access.before import checklist
from ribpatch.report.page import SMALL, SUB, WARN, figure_table, paragraph

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.core.zone_plan import ZonePlan

FIGURES = (
    "extent.area",
    "extent.surely",
    "extent.unsurveyed",
    "extent.open",
    "cut.past",
    "cut.area",
    "cut.length",
    "cut.sound",
    "skin.thickness",
    "taper.length",
    "taper.area",
    "taper.available",
    "taper.dust",
)


def zone_pages(made: ZonePlan, plan: Plan, system: System, width: float) -> list[Any]:
    """How one zone is opened."""
    figures = [made.by_id[k] for k in FIGURES if k in made.by_id]
    return [*_before(made, plan), paragraph("Opening", SUB), figure_table(figures, system, width)]


def _before(made: ZonePlan, plan: Plan) -> list[Any]:
    """What to see to before cutting, ticked or not."""
    rows = checklist(made.zone, made.patch, plan.shelf)
    if not rows:
        return []
    story: list[Any] = [paragraph("Before cutting", SUB)]
    for row in rows:
        if row.item.group == "carries":
            story.append(paragraph(f"{row.item.text} {row.item.why}", SMALL))
        elif row.open:
            story.append(paragraph(f"⚠ {row.item.text} {row.item.why}", WARN))
        else:
            story.append(paragraph(f"✓ {row.item.text} Seen to: {row.note}."))
    return story
