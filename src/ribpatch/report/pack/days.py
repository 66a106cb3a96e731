"""Days: the schedule that the job keeps, step by step."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ribpatch.core.day_words import finish_words, gripes, step_table
from ribpatch.core.logged_days import logged_days
from ribpatch.report.page import HEAD, WARN, paragraph, titled_table

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System

SHARES = (0.27, 0.15, 0.15, 0.15, 0.08, 0.12, 0.08)


def job_pages(plan: Plan, system: System, width: float) -> list[Any]:
    """Every step with its times, where a schedule is kept and the work is still what it was kept for."""
    table = plan.job.timetable
    if table.kept is None:
        return []
    days = logged_days(plan, table.start or table.kept.bound[:10], "")
    if days.kept is None:
        return [
            paragraph("Days", HEAD),
            paragraph("The work was changed since the days were planned: plan them anew.", WARN),
        ]
    story: list[Any] = [paragraph("Days", HEAD), paragraph(finish_words(days, days.kept))]
    story += [paragraph(f"⚠ {words}", WARN) for words in gripes(days, days.kept)]
    return story + titled_table("Steps", step_table(days, days.kept, system), SHARES, system, width)
