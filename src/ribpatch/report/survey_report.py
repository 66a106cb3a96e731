"""The survey report, for a customer to read, and the findings sheet of one zone on one page.

Map, readings, photographs, causes with their confidence, what was not inspected, what to do first.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Protocol

from reportlab.platypus import KeepTogether, PageBreak, Table, TableStyle

from ribpatch.core.cautions import LIMITS
from ribpatch.core.dates import date_words
from ribpatch.core.diagnosis.words import ROLES, band
from ribpatch.core.diagnosis.zone import places_to_look, said_in, summary_of
from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.run_view import run_view
from ribpatch.core.drawing.survey_picture import survey_marks, survey_picture
from ribpatch.core.survey.entry import reading_words
from ribpatch.core.survey.heard import heard, heard_words
from ribpatch.core.survey.lone import lone_readings
from ribpatch.core.survey.score import scores_of
from ribpatch.core.survey.sessions import drying_curves, drying_words
from ribpatch.core.survey.way_in import ways_in
from ribpatch.core.text import counted, percent, upper
from ribpatch.core.units import Kind, System, display_unit, place_numbers, place_words, shown
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
    unheard,
)
from ribpatch.report.paint import DrawingFlowable
from ribpatch.report.photograph import PhotographFlowable

if TYPE_CHECKING:
    from collections.abc import Mapping

    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.readings import Photograph, Reading
    from ribpatch.core.zone_plan import ZonePlan
    from ribpatch.report.page import Told

MOST_ROWS = 400  # of the readings table of a zone; more are in the CSV
FIRST = 4
COMPOSED = 0.6  # of the time, until all is composed
MOST_PLACES = 12
PICTURE = 0.55  # of the width, for a photograph; the rest is for what is known of it
HIGHEST = 200.0  # points of a photograph
MOST_TIED = 6  # readings named beside a photograph
FOOT = "{boat}: survey. What was found on the dates stated; the extent is never known until it is opened."


class Pictures(Protocol):
    """Where photographs are had from."""

    def get(self, name: str) -> bytes | None:
        """The bytes of a member."""


def findings_sheet(plan: Plan, zone: str, album: Pictures, system: System = "metric", paper: Paper = "A4") -> bytes:
    """One zone on one page, as PDF bytes."""
    fonts()
    made, width = plan.zone(zone), page_width(paper)
    boat = plan.job.boat.name
    story: list[Any] = [
        paragraph(f"{boat}, {made.zone.name}: findings", HEAD),
        zone_map(made, plan, system, width, 235),
    ]
    story += in_short(made, plan, system)
    story += causes_of(made, plan, width, 4)
    story += _first(made, plan)
    story += not_inspected(made, plan, system)
    return built(story, f"{boat}: findings, {made.zone.name}", FOOT.format(boat=boat), paper)


def survey_report(
    plan: Plan, album: Pictures, system: System = "metric", paper: Paper = "A4", told: Told = unheard
) -> bytes:
    """The whole survey as PDF bytes; ``told`` hears how far it is."""
    fonts()
    boat, width = plan.job.boat, page_width(paper)
    story: list[Any] = [
        paragraph(f"{boat.name}: survey report", HEAD),
        paragraph(boat.use or "use not stated"),
        *_overview(plan, system, width),
    ]
    for made in telling(plan.zones, told, COMPOSED):
        story += [PageBreak(), paragraph(made.zone.name, HEAD), paragraph(f"{made.zone.kind}, {made.zone.place.side}")]
        story += [paragraph("Map", SUB), zone_map(made, plan, system, width, 260)]
        story += in_short(made, plan, system)
        story += causes_of(made, plan, width, 6)
        story += _first(made, plan)
        story += not_inspected(made, plan, system)
        story += _photographs(made.zone, album, width, system)
        story += _drying(made.zone, plan, system)
        story += _readings(made.zone, plan, width, system)
    story.append(KeepTogether([paragraph("Limits", SUB), paragraph(LIMITS)]))
    return built(story, f"{boat.name}: survey report", FOOT.format(boat=boat.name), paper, told, COMPOSED)


def _overview(plan: Plan, system: System, width: float) -> list[Any]:
    rows = [["zone", "bad area", "nearly certain", "what is wrong and why"]]
    for made in plan.zones:
        figures = made.by_id
        sure = figures.get("extent.surely")
        rows.append(
            [
                made.zone.name,
                figures["extent.area"].shown(system),
                sure.shown(system) if sure else "drawn",
                summary_of(made.zone, plan.shelf),
            ]
        )
    return [paragraph("In short", SUB), table(rows, [width * s for s in (0.2, 0.14, 0.16, 0.5)], (1, 2))]


def zone_map(made: ZonePlan, plan: Plan, system: System, width: float, height: float) -> DrawingFlowable:
    """The map of a zone: readings, chance of damage, extent."""
    zone, shelf = made.zone, plan.shelf
    marks = survey_marks(zone, shelf)
    picture = survey_picture(zone, shelf)
    straight = zone.is_run and zone.survey.drawn is None
    found = (
        run_view(zone, made.patch, shelf, system, picture, marks)
        if straight
        else plan_view(zone, made.patch, picture, shelf, "find", system, marks)
    )
    return DrawingFlowable(found, width, height, "light 0, dark 1: chance of damage; 1 2 3: test next; P: photograph")


def in_short(made: ZonePlan, plan: Plan, system: System) -> list[Any]:
    """What was found in a zone, in a few lines."""
    zone, figures = made.zone, made.by_id
    story: list[Any] = [paragraph(summary_of(zone, plan.shelf), SUB)]
    area = figures["extent.area"]
    if "extent.surely" in figures:
        story.append(
            paragraph(
                f"Bad area {area.shown(system)} at {shown(zone.survey.confidence.si, Kind.PERCENT)} confidence, of it "
                f"{figures['extent.surely'].shown(system)} nearly certain; expected "
                f"{figures['extent.expected'].shown(system)}."
            )
        )
    else:
        story.append(paragraph(f"Bad area {area.shown(system)}, as drawn by the surveyor."))
    sources = ways_in(zone, plan.job.boat.year, None, plan.shelf)[:2]
    if sources:
        words = "; ".join(f"{s.name} {s.share:.0%} ({', '.join(s.reasons)})" for s in sources)
        story.append(paragraph(f"Likeliest way in of the water: {words}."))
    return story


def causes_of(made: ZonePlan, plan: Plan, width: float, count: int) -> list[Any]:
    """The first causes of a zone with what speaks for and against them."""
    diagnosis = made.diagnosis
    if not diagnosis.said:
        return [paragraph("Causes", SUB), paragraph("Nothing found so far speaks for any cause.")]
    rows = [["cause", "", "chance", "band", "speaks for it", "speaks against it"]]
    for r in diagnosis.argued[:count]:
        sides = [
            "; ".join(f"{'' if e.there else 'not: '}{e.finding.name}" for e in side[:3])
            for side in (r.for_it, r.against)
        ]
        rows.append([upper(r.cause.name), ROLES[r.role], percent(r.chance), f"{r.words}, {band(r)}", *sides])
    shares = (0.2, 0.12, 0.08, 0.17, 0.23, 0.2)
    story: list[Any] = [paragraph("Causes", SUB), table(rows, [width * s for s in shares], (2,))]
    for c in diagnosis.contradictions[:2]:
        story.append(
            paragraph(f"⚠ Does not fit the rest: {c.finding.name if c.there else 'not: ' + c.finding.name}.", WARN)
        )
    question = diagnosis.questions[0] if diagnosis.questions else None
    if question:
        story.append(
            paragraph(f"Would settle most next: {question.finding.ask} ({question.share:.0%}). {question.finding.how}")
        )
    return story


def _first(made: ZonePlan, plan: Plan) -> list[Any]:
    asked = [a for a in made.asked if a.standing != "overruled"][:FIRST]
    places = [
        p
        for p in places_to_look(plan.job, made.zone, plan.shelf)
        if p.id not in {x.place for x in made.zone.diagnosis.looked}
    ]
    if not asked and not places:
        return []
    story: list[Any] = [paragraph("What to do first", SUB)]
    story += [
        paragraph(f"{n}. {a.remedy.text}" + (f" Planned: {a.reason}" if a.standing == "planned" else ""))
        for n, a in enumerate(asked, 1)
    ]
    if places:
        story.append(paragraph(f"Look also at: {'; '.join(p.where for p in places[:5])}."))
    return story


def not_inspected(made: ZonePlan, plan: Plan, system: System) -> list[Any]:
    """What was not looked at."""
    zone, told = made.zone, []
    unseen = made.by_id.get("extent.unsurveyed")
    if unseen is not None and unseen.value > 0.005:
        told.append(f"{unseen.shown(system)} of the zone, which no reading reaches or the readings leave open")
    scores = scores_of(zone.survey, plan.shelf)
    if scores.left_out:
        silent = counted(scores.left_out, "reading that says", "readings that say")
        told.append(f"{silent} nothing for want of a sound reference")
    places = {p.id: p.where for p in places_to_look(plan.job, zone, plan.shelf)}
    told += [
        f"{places.get(p.place, p.place)}: not reachable" for p in zone.diagnosis.looked if p.found == "not reachable"
    ]
    told += [n.text for n in plan.notices if n.zone == zone.id and n.id.endswith(".edge")]
    words = "; ".join(told) if told else "nothing left out that the readings show; nothing behind linings was seen"
    return [paragraph("Not inspected", SUB), paragraph(upper(words.rstrip(".")) + ".")]


def _photographs(zone: Zone, album: Pictures, width: float, system: System) -> list[Any]:
    """Each photograph with what is known of it beside it; a page does not part the two."""
    rows: list[Any] = [paragraph("Photographs", SUB)] if zone.survey.photographs else []
    wide = width * PICTURE
    for number, photograph in enumerate(zone.survey.photographs, 1):
        data = album.get(f"photographs/{photograph.member}")
        shown: Any = None
        if data is not None and is_picture(data):
            shown = PhotographFlowable(data, wide - 12, HIGHEST)
        else:
            why = "missing from the job file" if data is None else "cannot be shown: it is no picture, or damaged"
            shown = paragraph(why, SMALL)
        words = [paragraph(f"P{number}  {photograph.caption}".rstrip(), BODY)]
        words += [paragraph(line, SMALL) for line in _of_photograph(zone, photograph, system)]
        row = Table([[shown, words]], colWidths=[wide, width - wide])
        row.setStyle(TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (0, -1), 0)]))
        rows.append(row)
    return rows


def _of_photograph(zone: Zone, photograph: Photograph, system: System) -> list[str]:
    """When it was taken, where it is pinned, what was read there, and how it was set straight, line by line."""
    lines = []
    session = next((s for s in zone.survey.sessions if s.id == photograph.session), None)
    if session is not None:
        lines.append(", ".join(part for part in (date_words(session.date), session.who, session.note) if part))
    if photograph.x is not None and photograph.y is not None:
        lines.append(f"at {place_words((photograph.x, photograph.y), system)}")
    tied = [reading_words(r, system) for r in zone.survey.readings if photograph.id in r.photographs]
    if tied:
        lines.append("belongs to: " + ", ".join(tied[:MOST_TIED]) + (" and others" if len(tied) > MOST_TIED else ""))
    if photograph.straight is not None:
        lines.append("set straight by measured marks; traced on")
    return lines


def _drying(zone: Zone, plan: Plan, system: System) -> list[Any]:
    curves = drying_curves(zone.survey, plan.shelf)
    rows = [paragraph(drying_words(curve, system)) for curve in curves[:MOST_PLACES]]
    if len(curves) > MOST_PLACES:
        rows.append(paragraph(f"and {len(curves) - MOST_PLACES} more places", SMALL))
    return [paragraph("Drying", SUB), *rows] if rows else []


def _readings(zone: Zone, plan: Plan, width: float, system: System) -> list[Any]:
    if not zone.survey.readings:
        return []
    sessions = {s.id: date_words(s.date) or s.id for s in zone.survey.sessions}
    marked = set(zone.survey.references)
    unit = display_unit(Kind.SIZE, system).unit
    rows = [[f"x {unit}", f"y {unit}", "reading", "when", "note"]]
    alone, told = {r.id for r in lone_readings(zone, plan.shelf)}, heard(zone.survey, plan.shelf)
    for reading in zone.survey.readings[:MOST_ROWS]:
        notes = ["sound reference"] if reading.id in marked else []
        notes += ["told as " + heard_words(told[reading.id])] if reading.id in told and not notes else []
        notes += ["stands alone: take it again"] if reading.id in alone else []
        rows.append(_row(reading, sessions, notes, system))
    story: list[Any] = [paragraph("Readings", SUB)]
    names = {card.id: card.name for card in plan.shelf.findings}
    said = ", ".join(names[s.finding] for s in said_in(zone, plan.shelf) if s.there)
    if said:
        story.append(paragraph(f"Found: {said}.", SMALL))
    story.append(table(rows, [width * s for s in (0.1, 0.1, 0.4, 0.15, 0.25)], (0, 1)))
    if len(zone.survey.readings) > MOST_ROWS:
        story.append(paragraph(f"and {len(zone.survey.readings) - MOST_ROWS} more; all are in the CSV.", SMALL))
    return story


def _row(reading: Reading, sessions: Mapping[str, str], notes: list[str], system: System) -> list[str]:
    note = "; ".join(t for t in (*notes, reading.who, reading.note) if t)
    when = reading.at or sessions.get(reading.session, "")
    return [*place_numbers((reading.x, reading.y), system), reading_words(reading, system), when, note]
