"""What each zone carries: maps, margins, remedies, the load test's sheet; scantlings once for the boat."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ribpatch.core.drawing.prove_view import prove_maps
from ribpatch.core.structure.proved import Proved
from ribpatch.core.tables import zone_table
from ribpatch.report.page import SMALL, SUB, paragraph, titled_table
from ribpatch.report.paint import DrawingFlowable

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.core.zone_plan import ZonePlan

MARGINS = (0.22, 0.11, 0.11, 0.11, 0.11, 0.11, 0.23)
REMEDIES = (0.34, 0.14, 0.14, 0.12, 0.12, 0.14)
TRIAL = (0.28, 0.12, 0.2, 0.1, 0.3)
SCANTLINGS = (0.4, 0.16, 0.15, 0.15, 0.14)
SHEET = (
    "Load test: the dial under the middle of the load, on something that does not move with the panel; load in three "
    "steps, a minute each; nobody under or behind it; stop at the first noise. Read: ______ ______ ______  after "
    "taking it off: ______"
)


def zone_pages(made: ZonePlan, plan: Plan, system: System, width: float) -> list[Any]:
    """What one zone carries."""
    if made.strength.fault:
        return [paragraph(f"Strength: {made.strength.fault}", SMALL)]
    story: list[Any] = titled_table("What it carries", zone_table(made, "margins", system), MARGINS, system, width)
    proved = made.strength.proved
    if isinstance(proved, Proved):
        maps = prove_maps(proved, proved.cases[0].key, "deflection", system, 3.0)
        story += [
            paragraph(maps.drawing.title, SUB),
            DrawingFlowable(maps.drawing, width, 170, f"light none, dark {maps.legend.words[1]}. {maps.drawing.note}."),
        ]
    story += titled_table("Remedies", zone_table(made, "remedies", system), REMEDIES, system, width)
    sheet = titled_table("Readings to expect", zone_table(made, "trial", system), TRIAL, system, width)
    return story + sheet + ([paragraph(SHEET)] if sheet else [])


def job_pages(plan: Plan, system: System, width: float) -> list[Any]:
    """Scantlings by both rules."""
    if not plan.zones:
        return []
    return titled_table("Scantlings", zone_table(plan.zones[0], "scantlings", system), SCANTLINGS, system, width)
