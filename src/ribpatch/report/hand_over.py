"""The hand-over report: what a customer, an insurer or the next repairer can read. What was found and why, what was
done with what, readings and flex before and after, weight, what was not looked at, care and the date to look again.
"""

from __future__ import annotations

from itertools import zip_longest
from typing import TYPE_CHECKING, Any

from reportlab.platypus import KeepTogether, PageBreak, Spacer
from reportlab.platypus import Table as Grid

from ribpatch.core.cautions import LIMITS
from ribpatch.core.dates import day_words
from ribpatch.core.diagnosis.zone import summary_of
from ribpatch.core.log_tables import entry_words, step_name
from ribpatch.core.logbook.standing import doings, standing
from ribpatch.core.logged import AirRead, Laid, Mixed, Said
from ribpatch.core.table import Row, Table
from ribpatch.core.tables import zone_table
from ribpatch.core.timetable import day_after
from ribpatch.core.units import Kind, shown
from ribpatch.formats.photographs import is_picture
from ribpatch.report.page import (
    BODY,
    HEAD,
    SMALL,
    SUB,
    WARN,
    Paper,
    built,
    fonts,
    page_width,
    paragraph,
    table,
    telling,
    titled_table,
    unheard,
)
from ribpatch.report.photograph import PhotographFlowable
from ribpatch.report.survey_report import COMPOSED, HIGHEST, causes_of, in_short, not_inspected, zone_map

if TYPE_CHECKING:
    from collections.abc import Mapping

    from ribpatch.core.days import Days
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.core.zone_plan import ZonePlan
    from ribpatch.jobfile.album import Album
    from ribpatch.report.page import Told

YEAR, HALF_YEAR = 365, 182  # days until she is looked at again


def hand_over(
    plan: Plan,
    days: Days,
    album: Album | Mapping[str, bytes],
    system: System,
    paper: Paper,
    told: Told = unheard,
) -> bytes:
    """The report as PDF; the same job gives the same bytes. ``told`` hears how far it is."""
    fonts()
    width, job = page_width(paper), plan.job
    story: list[Any] = [paragraph(f"{job.boat.name}: hand-over", HEAD), *_boat(plan, days, system, width)]
    for made in telling(plan.zones, told, COMPOSED):
        if made.patch.cut.region.is_empty and not made.patch.outlines:
            continue
        story += [PageBreak(), *_zone(plan, made, days, album, system, width)]
    story += [PageBreak(), *_care(plan, days), Spacer(1, 12), paragraph(LIMITS, SMALL)]
    return built(story, f"{job.boat.name}: hand-over", f"{job.boat.name}, hand-over", paper, told, COMPOSED)


def _boat(plan: Plan, days: Days, system: System, width: float) -> list[Any]:
    job = plan.job
    moments = sorted(e.at[:10] for e in standing(job.log))
    when = f"logged from {moments[0]} to {moments[-1]}" if moments else "nothing is logged: what follows is as planned"
    rows = [["zone", "what was found", "hours planned", "hours logged", "net weight"]]
    worked = {d.step: d.worked for d in doings(job.log) if d.ended}
    for made in plan.zones:
        mine = sum(v for k, v in worked.items() if k.startswith(f"{made.zone.id}."))
        weight = made.figure("weight.net")
        rows.append(
            [
                made.zone.name,
                summary_of(made.zone, plan.shelf),
                shown(sum(r.hours for r in made.steps.rows), Kind.HOURS, system),
                shown(mine, Kind.HOURS, system) if mine else "–",
                weight.shown(system) if weight is not None else "–",
            ]
        )
    story: list[Any] = [paragraph(f"{job.boat.use}. {when[:1].upper()}{when[1:]}."), Spacer(1, 6)]
    story.append(table(rows, [width * s for s in (0.2, 0.38, 0.14, 0.14, 0.14)], (2, 3, 4)))
    afloat = plan.afloat_in(system)
    if afloat:
        story += [Spacer(1, 6), paragraph(afloat)]
    return story


def _zone(
    plan: Plan, made: ZonePlan, days: Days, album: Album | Mapping[str, bytes], system: System, width: float
) -> list[Any]:
    story: list[Any] = [paragraph(made.zone.name, HEAD), zone_map(made, plan, system, width, 230)]
    story += in_short(made, plan, system)
    story += causes_of(made, plan, width, 3)
    story += not_inspected(made, plan, system)
    story += _done(plan, made, days, system, width)
    story += _batches(plan, made, days, system, width)
    trial = zone_table(made, "trial", system) if made.zone.proof.trial.after is not None else None
    story += titled_table("Load test", trial, _shares(trial), system, width)
    story += _deviations(plan, made, days)
    story += _photographs(plan, made, album, width)
    return story


def _shares(made: Table | None) -> tuple[float, ...]:
    count = len(made.columns) if made is not None else 1
    return (0.4, *((0.6 / max(count - 1, 1),) * (count - 1))) if count > 1 else (1.0,)


def _done(plan: Plan, made: ZonePlan, days: Days, system: System, width: float) -> list[Any]:
    known = {d.step: d for d in doings(plan.job.log)}
    mine = [r for r in days.rows if r.zone == made.zone.id]
    if not any(r.id in known for r in mine):
        return [paragraph("What was done", SUB), paragraph(f"Nothing is logged yet of its {len(mine)} steps.")]
    rows = []
    for row in mine:
        d = known.get(row.id)
        when = "not logged" if d is None else f"{day_words(d.begun)}{'' if d.ended else ', goes on'}"
        worked = shown(d.worked, Kind.HOURS, system) if d is not None and d.ended else "–"
        rows.append(Row(row.id, (row.name, when, worked)))
    return titled_table(
        "What was done", Table(("step", "when", "hours"), tuple(rows), ""), (0.5, 0.3, 0.2), system, width
    )


def _batches(plan: Plan, made: ZonePlan, days: Days, system: System, width: float) -> list[Any]:
    rows = []
    for e in standing(plan.job.log):
        if e.step.startswith(f"{made.zone.id}.") and isinstance(e, Mixed | Laid | AirRead):
            told = f"{entry_words(e, days, system)}{f'; {e.note}' if e.note else ''}"
            rows.append(Row(e.id, (day_words(e.at) + e.at[10:].replace("T", " "), told, e.who or "–")))
    columns = ("when", "what", "who")
    return titled_table("With what", Table(columns, tuple(rows), ""), (0.24, 0.58, 0.18), system, width)


def _deviations(plan: Plan, made: ZonePlan, days: Days) -> list[Any]:
    told = [
        e
        for e in standing(plan.job.log)
        if isinstance(e, Said) and e.deviation and e.note and e.step.startswith(f"{made.zone.id}.")
    ]
    if not told:
        return []
    lines = [paragraph(f"{day_words(e.at)}, {step_name(e.step, days)}: {e.note}") for e in told]
    return [paragraph("What was done otherwise, and why", SUB), *lines]


def _photographs(plan: Plan, made: ZonePlan, album: Album | Mapping[str, bytes], width: float) -> list[Any]:
    """In pairs: what the survey took beside what the log took; a picture that cannot be shown is told."""
    logged = {p for e in standing(plan.job.log) if e.step.startswith(f"{made.zone.id}.") for p in e.photographs}
    before = [p for p in made.zone.survey.photographs if p.id not in logged]
    after = [p for p in made.zone.survey.photographs if p.id in logged]
    if not before and not after:
        return []
    story: list[Any] = [paragraph("Photographs: before, and after", SUB)]
    for pair in zip_longest(before, after):
        cells = [_picture(p, album, width * 0.48) if p is not None else paragraph("–") for p in pair]
        captions = [p.caption if p is not None else "" for p in pair]
        story.append(
            KeepTogether([Grid([cells, [paragraph(c, SMALL) for c in captions]], colWidths=[width * 0.5] * 2)])
        )
    return story


def _picture(photograph: Any, album: Album | Mapping[str, bytes], width: float) -> Any:
    data = album.get(f"photographs/{photograph.member}")
    if data is None:
        return paragraph(f"{photograph.member} cannot be read.", WARN)
    if not is_picture(data):
        return paragraph(f"{photograph.member} cannot be shown.", WARN)
    return PhotographFlowable(data, width, HIGHEST)


def _care(plan: Plan, days: Days) -> list[Any]:
    last = max((e.at[:10] for e in standing(plan.job.log)), default=days.start)
    lines = [
        f"Look again by {day_after(last, HALF_YEAR)}, and every year from {day_after(last, YEAR)} on: tap over the "
        "repair and a hand's breadth round it, take the meter's readings at the places of this report, and set them "
        "beside it.",
        "Keep every fastening in its ring of putty: a new hole is drilled over size, filled and drilled again.",
        "Keep what drains open, and what is sealed sealed: water found its way in once.",
        "Full load from the day on which the last laminate carries it; before that no more than a person at a time.",
    ]
    return [paragraph("Care, and when to look again", HEAD), *(paragraph(f"• {line}", BODY) for line in lines)]
