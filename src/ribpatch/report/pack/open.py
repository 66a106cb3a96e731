"""Opening: cut line and plies, section, what to see to before cutting, and the figures of cut and taper."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from reportlab.platypus import KeepTogether

from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.section_view import default_line, section_view
from ribpatch.core.patch.access.before import checklist
from ribpatch.report.page import SMALL, SUB, WARN, figure_table, paragraph
from ribpatch.report.paint import DrawingFlowable

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
    zone = made.zone
    story: list[Any] = []
    if not made.patch.cut.region.is_empty:
        opened = plan_view(zone, made.patch, None, plan.shelf, "rebuild", system)
        cut = section_view(zone, made.patch, plan.shelf, default_line(zone), True, system)
        story += [
            KeepTogether(
                [paragraph("Cut line and plies", SUB), DrawingFlowable(opened, width, 230, "thick: cut; dashed: taper")]
            ),
            KeepTogether([paragraph("Section along the middle", SUB), DrawingFlowable(cut, width, 190, cut.title)]),
        ]
    figures = [made.by_id[k] for k in FIGURES if k in made.by_id]
    return [*story, *_before(made, plan), paragraph("Opening", SUB), figure_table(figures, system, width)]


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
