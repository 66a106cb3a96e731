"""A day's sheet on paper: each step with a box to tick, cups with times, what to lay out, cautions in their place."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from reportlab.platypus import KeepTogether, Spacer

from ribpatch.core.cautions import LIMITS
from ribpatch.core.dates import day_words
from ribpatch.core.day_words import day_sheet
from ribpatch.report.page import BODY, HEAD, SMALL, SUB, WARN, Paper, built, fonts, page_width, paragraph, table

if TYPE_CHECKING:
    from ribpatch.core.calendar.problem import Schedule
    from ribpatch.core.day_words import SheetStep
    from ribpatch.core.days import Days
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System


def day_pdf(plan: Plan, days: Days, schedule: Schedule, day: str, system: System, paper: Paper) -> bytes:
    """The sheet of a day as PDF; the same plan gives the same bytes."""
    fonts()
    sheet, boat = day_sheet(plan, days, schedule, day, system), plan.job.boat.name
    width = page_width(paper)
    story: list[Any] = [paragraph(f"{boat}: {day_words(day)} {day[:4]}", HEAD), paragraph(sheet.air)]
    if not sheet.steps:
        story.append(paragraph("No work is planned for this day."))
    for step in sheet.steps:
        story.append(KeepTogether(_step(step, width)))
    if sheet.waits:
        story.append(paragraph("Meanwhile", SUB))
        story += [paragraph(w) for w in sheet.waits]
    story += [Spacer(1, 10), paragraph(LIMITS, SMALL)]
    return built(story, f"{boat}: {day}", f"{boat}, {day}", paper)


def _step(step: SheetStep, width: float) -> list[Any]:
    made: list[Any] = [paragraph(f"[  ]  {step.time}   {step.title}   ({step.who})", SUB)]
    if step.missed:
        made.append(paragraph("⚠ Its window is missed: wash and abrade first.", WARN))
    for words in (step.cups, f"Lay out: {step.lay_out}." if step.lay_out else "", *step.notes):
        if words:
            made.append(paragraph(words, BODY))
    made += [paragraph(f"⚠ {text}", WARN) for text in step.cautions]
    made.append(
        table(
            [["begun", "ended", "temperature", "cups mixed", "by"], ["", "", "", "", ""]],
            [width * s for s in (0.15, 0.15, 0.2, 0.3, 0.2)],
        )
    )
    return made
