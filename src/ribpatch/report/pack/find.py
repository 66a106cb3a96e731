"""What was found: the map of readings, chance of damage and extent."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.survey_picture import survey_picture
from ribpatch.report.page import SMALL, SUB, paragraph
from ribpatch.report.paint import DrawingFlowable

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.core.zone_plan import ZonePlan


def zone_pages(made: ZonePlan, plan: Plan, system: System, width: float) -> list[Any]:
    """The map of one zone."""
    zone = made.zone
    picture = survey_picture(zone, plan.shelf)
    found = plan_view(zone, made.patch, picture, plan.shelf, "find", system)
    return [
        paragraph("Map: readings, chance of damage, extent", SUB),
        DrawingFlowable(found, width, 250, "light 0, dark 1: chance of damage."),
        paragraph("circles: taps, squares: moisture, filled by how bad; underlined: sound reference", SMALL),
    ]
