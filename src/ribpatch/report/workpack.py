"""The work pack: one PDF that a yard can work from.

Boat, then each zone with its map, section to scale, plies and quantities, then the shopping list, the cups, the
cautions by step and the limits. Everything printed is a Figure, a drawing or a shipped text.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any
from xml.sax.saxutils import escape

from reportlab.platypus import KeepTogether, PageBreak, Paragraph, Spacer

from ribpatch.core.cautions import LIMITS, cautions_for
from ribpatch.core.fields import FIELDS
from ribpatch.core.patch.access.sides import skin_word
from ribpatch.core.units import Kind, System, shown
from ribpatch.report.page import BODY, HEAD, SUB, WARN, Paper, built, fonts, page_width, paragraph, table
from ribpatch.stages import STAGES

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan


def work_pack(plan: Plan, system: System = "metric", paper: Paper = "A4") -> bytes:
    """The work pack as PDF bytes; the same job gives the same bytes."""
    fonts()
    boat = plan.job.boat.name
    width = page_width(paper)
    story: list[Any] = _boat_page(plan, system)
    for made in plan.zones:
        story += [PageBreak(), *_zone_pages(made, plan, system, width)]
    story.append(PageBreak())
    for pages in _pages("job_pages"):
        story += pages(plan, system, width)
    story += _cautions(plan)

    return built(
        story, f"{boat}: work pack", f"{boat}: work pack. Screening values; see the limits on the last page.", paper
    )


def _pages(name: str) -> list[Callable[..., list[Any]]]:
    """What the stages put into the pack under a name, in their order."""
    modules = [import_module(f"ribpatch.report.pack.{stage.paper}") for stage in STAGES if stage.paper]
    return [getattr(module, name) for module in modules if hasattr(module, name)]


def _boat_page(plan: Plan, system: System) -> list[Any]:
    boat = plan.job.boat
    story: list[Any] = [paragraph(f"{boat.name}: work pack", HEAD), paragraph(boat.use or "use not stated")]
    facts = [["boat", ""]] + [
        [f.name, f.shown(system)] for f in plan.totals if f.id.startswith(("boat.", "air.")) and f.id != "air.margin"
    ]
    if boat.year is not None:
        facts.append([FIELDS["boat.year"].name.lower(), str(boat.year)])
    story += [Spacer(1, 6), table(facts, [150, 110], (1,))]
    zones = [["zone", "kind", "where", "bad", "cut", "net weight"]]
    for made in plan.zones:
        place = made.zone.place
        figure = made.by_id
        zones.append(
            [
                made.zone.name,
                made.zone.kind,
                f"{shown(place.station.si, Kind.LENGTH, system)} from the stern, {place.side}",
                figure["extent.area"].shown(system),
                figure["cut.area"].shown(system),
                figure["weight.net"].shown(system),
            ]
        )
    story += [paragraph("Zones", SUB), table(zones, [95, 80, 140, 62, 62, 70], (3, 4, 5))]
    totals = [
        plan.by_id[k] for k in ("job.cloth.area", "job.resin.mixed", "job.cup.all", "job.weight.net", "cost.total")
    ]
    story += [
        paragraph("In all", SUB),
        table([["total", ""], *([f.name, f.shown(system)] for f in totals)], [150, 110], (1,)),
    ]
    if floats := plan.afloat_in(system):
        story.append(paragraph(floats))
    air = [n for n in plan.notices if not n.zone]
    story += _warnings(air)
    return story


def _warnings(notices: list[Any]) -> list[Any]:
    if not notices:
        return []
    return [paragraph("Open warnings", SUB), *(paragraph(f"⚠ {n.text} {n.clears}", WARN) for n in notices)]


def _zone_pages(made: ZonePlan, plan: Plan, system: System, width: float) -> list[Any]:
    zone = made.zone
    story: list[Any] = [
        paragraph(zone.name, HEAD),
        paragraph(f"{zone.kind}, {zone.place.side}. {_build_words(made, plan, system)}"),
    ]
    for pages in _pages("zone_pages"):
        story += pages(made, plan, system, width)
    told = [n for n in plan.notices if n.zone == zone.id]
    return story + _warnings([*told, *plan.prove_notices_of(zone.id)])


def _build_words(made: ZonePlan, plan: Plan, system: System) -> str:
    zone, scheme = made.zone, made.zone.scheme
    old = f"Old {skin_word(zone)} skin {made.by_id['skin.thickness'].shown(system)}"
    if zone.build.core:
        old += (
            f" on {plan.shelf.core(zone.build.core.core).name}, "
            f"{shown(zone.build.core.thickness.si, Kind.SIZE, system)}"
        )
    new = f"Resin: {plan.shelf.resin(scheme.resin.main).name}"
    if made.needs.core and scheme.core.thickness:
        new += f"; new core {made.needs.core.name}, {shown(scheme.core.thickness.si, Kind.SIZE, system)}"
    return f"{old}. {new}."


def _cautions(plan: Plan) -> list[Any]:
    story: list[Any] = [paragraph("Cautions by step", SUB)]
    step = ""
    for caution in cautions_for(plan):
        if caution.step != step:
            step = caution.step
            story.append(Paragraph(f"<b>{escape(step)}</b>", BODY))
        story.append(paragraph(f"⚠ {caution.text}"))
    return [*story, KeepTogether([paragraph("Limits", SUB), paragraph(LIMITS)])]
