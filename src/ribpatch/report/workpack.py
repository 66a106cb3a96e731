"""The work pack: one PDF that a yard can work from.

A cover, then a sheet for each zone that stands alone at the boat, then what may stay at the desk: shopping list and
cups, days, an appendix for each zone with its readings, laminate and working, the cautions by step and the limits.
Everything printed is a Figure, a drawing or a shipped text.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any
from xml.sax.saxutils import escape

from reportlab.platypus import KeepTogether, PageBreak, Paragraph

from ribpatch import __version__
from ribpatch.core.cautions import LIMITS, cautions_for
from ribpatch.core.dates import day_words
from ribpatch.core.drawing.boat_view import boat_view
from ribpatch.core.fields import FIELDS
from ribpatch.core.hours import worked_hours
from ribpatch.core.record import as_json
from ribpatch.core.units import Kind, System, shown
from ribpatch.digests import digest_of
from ribpatch.report.page import (
    BODY,
    HEAD,
    SUB,
    WARN,
    Paper,
    built,
    fonts,
    page_height,
    page_width,
    paragraph,
    table,
    telling,
    unheard,
)
from ribpatch.report.paint import DrawingFlowable
from ribpatch.report.zone_sheet import zone_sheet
from ribpatch.stages import STAGES

SHEETS, COMPOSED = 0.3, 0.75  # of the time, until the sheets are made, and the appendices
FIRST = 3  # warnings of a zone that the cover tells

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan
    from ribpatch.report.page import Told


def work_pack(
    plan: Plan, system: System = "metric", paper: Paper = "A4", dated: str = "", told: Told = unheard
) -> bytes:
    """The work pack as PDF bytes, ``dated`` as an ISO day or not at all; the same job and day give the same bytes.
    ``told`` hears how far it is.
    """
    fonts()
    boat = plan.job.boat.name
    width = page_width(paper)
    state = state_of(plan)
    story: list[Any] = _cover(plan, system, width, f"{f'{day_words(dated)} {dated[:4]}, ' if dated else ''}{state}")
    zones = _ordered(plan)
    for number, zone in enumerate(telling(zones, told, SHEETS), 1):
        story += [PageBreak(), *zone_sheet(zone, plan, number, system, (width, page_height(paper)))]
    story.append(PageBreak())
    for pages in _pages("job_pages"):
        story += pages(plan, system, width)
    for made in telling(zones, told, COMPOSED, SHEETS):
        story += _appendix(made, plan, system, width)
    story += _cautions(plan)
    foot = (
        f"{boat}: work pack{f', {dated}' if dated else ''}, {state}. Screening values; see the limits on the last page."
    )
    return built(story, f"{boat}: work pack", foot, paper, told, COMPOSED)


def state_of(plan: Plan) -> str:
    """The program and a sign of the job's state, to tell one print from another."""
    return f"Rib Patch {__version__}, state {digest_of(as_json(plan.job), 6).upper()}"


def _ordered(plan: Plan) -> list[ZonePlan]:
    """The zones in the order of work."""
    return [plan.zone(order.zone.id) for order in plan.order]


def _pages(name: str) -> list[Callable[..., list[Any]]]:
    """What the stages put into the pack under a name, in their order."""
    modules = [import_module(f"ribpatch.report.pack.{stage.paper}") for stage in STAGES if stage.paper]
    return [getattr(module, name) for module in modules if hasattr(module, name)]


def _cover(plan: Plan, system: System, width: float, dated: str) -> list[Any]:
    """Boat strip, zones in order of work, totals, what is open and what is assumed."""
    boat = plan.job.boat
    zones = tuple(made.zone for made in _ordered(plan))
    strip = boat_view(boat, zones, "", tuple("stitched" if plan.zone(z.id).patch.outlines else "" for z in zones))
    story: list[Any] = [
        paragraph(f"{boat.name}: work pack", HEAD),
        paragraph(f"{dated}. {boat.use or 'Use not stated'}."),
        DrawingFlowable(strip, width, 140, "zones in order of work", usual=True),
        _facts(plan, system, width),
        paragraph("Zones, in order of work", SUB),
        _zone_table(plan, system, width),
    ]
    keys = ("job.hours", "job.cloth.area", "job.resin.mixed", "job.cup.all", "job.weight.net", "cost.total")
    totals = [plan.by_id[k] for k in keys if k in plan.by_id]
    rows = [[f.name for f in totals], [f.shown(system) for f in totals]]
    story += [paragraph("In all", SUB), table(rows, [width / len(totals)] * len(totals))]
    if floats := plan.afloat_in(system):
        story.append(paragraph(floats))
    return [*story, *_open_points(plan)]


def _facts(plan: Plan, system: System, width: float) -> Any:
    facts = [f for f in plan.boat_figures if f.id != "air.margin"]
    rows = [[f.name for f in facts], [f.shown(system) for f in facts]]
    if plan.job.boat.year is not None:
        rows[0].append(FIELDS["boat.year"].name.lower())
        rows[1].append(str(plan.job.boat.year))
    letters = [max(8, *(len(word) for word in name.split())) for name in rows[0]]
    return table(rows, [width * n / sum(letters) for n in letters])


def _zone_table(plan: Plan, system: System, width: float) -> Any:
    rows = [["", "zone", "kind", "where", "cut", "hours", "net weight", "open"]]
    told = plan.all_notices
    for number, made in enumerate(_ordered(plan), 1):
        zone = made.zone
        where = f"{shown(zone.place.station.si, Kind.LENGTH, system)}, {zone.place.side}"
        cut, net = (made.by_id[k].shown(system) for k in ("cut.area", "weight.net"))
        count = sum(n.zone == zone.id for n in told)
        hours = shown(worked_hours(made), Kind.HOURS, system)
        rows.append([str(number), zone.name, zone.kind, where, cut, hours, net, str(count) if count else "–"])
    shares = (0.05, 0.22, 0.14, 0.2, 0.11, 0.09, 0.12, 0.07)
    return table(rows, [width * s for s in shares], (4, 5, 6, 7))


def _open_points(plan: Plan) -> list[Any]:
    """The gravest warnings of the boat and of each zone, and how many more there are."""
    places = [("", plan.job.boat.name), *((made.zone.id, made.zone.name) for made in _ordered(plan))]
    told = plan.all_notices
    story: list[Any] = []
    for zone, name in places:
        mine = [n for n in told if n.zone == zone]
        first = sorted(mine, key=lambda n: (not n.grave, n.id.startswith(f"{zone}.before.")))[:FIRST]
        if not mine:
            continue
        more = f" And {len(mine) - len(first)} more, in its appendix." if len(mine) > len(first) else ""
        story.append(paragraph(f"⚠ {name}: {' '.join(n.text for n in first)}{more}", WARN))
    return [paragraph("Open points", SUB), *story] if story else []


def _warnings(notices: list[Any]) -> list[Any]:
    if not notices:
        return []
    return [paragraph("Open warnings", SUB), *(paragraph(f"⚠ {n.text} {n.clears}", WARN) for n in notices)]


def _appendix(made: ZonePlan, plan: Plan, system: System, width: float) -> list[Any]:
    """What may stay at the desk: readings, cause, laminate, working, warnings."""
    story: list[Any] = [paragraph(f"Appendix: {made.zone.name}", HEAD)]
    for pages in _pages("zone_pages"):
        story += pages(made, plan, system, width)
    listed = f"{made.zone.id}.before."  # these stand under "before cutting" already
    told = [n for n in plan.notices if n.zone == made.zone.id and not n.id.startswith(listed)]
    return story + _warnings([*told, *plan.prove_notices_of(made.zone.id)])


def _cautions(plan: Plan) -> list[Any]:
    story: list[Any] = [paragraph("Cautions by step", SUB)]
    step = ""
    for caution in cautions_for(plan):
        if caution.step != step:
            step = caution.step
            story.append(Paragraph(f"<b>{escape(step)}</b>", BODY))
        story.append(paragraph(f"⚠ {caution.text}"))
    return [*story, KeepTogether([paragraph("Limits", SUB), paragraph(LIMITS)])]
