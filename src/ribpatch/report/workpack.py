"""The work pack: one PDF that a yard can work from.

Boat, then each zone with its map, section to scale, plies and quantities, then the shopping list, the cups, the
cautions by step and the limits. Everything printed is a Figure, a drawing or a shipped text.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any
from xml.sax.saxutils import escape

from reportlab.platypus import KeepTogether, PageBreak, Paragraph, Spacer, Table

from ribpatch.core.cautions import LIMITS, cautions_for
from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.section_view import default_line, section_view
from ribpatch.core.drawing.survey_picture import survey_picture
from ribpatch.core.fields import FIELDS
from ribpatch.core.patch.sides import skin_word
from ribpatch.core.units import Kind, System, shown
from ribpatch.report.page import BODY, HEAD, SMALL, SUB, WARN, Paper, built, fonts, page_width, paragraph, table
from ribpatch.report.paint import DrawingFlowable
from ribpatch.report.repair_pages import before_pages, rebuild_pages

if TYPE_CHECKING:
    from ribpatch.core.figure import Figure
    from ribpatch.core.plan import Plan, ZonePlan

OPEN_FIGURES = (
    "extent.area", "extent.surely", "extent.unsurveyed", "cut.past", "cut.area", "cut.length", "cut.sound", "skin.thickness",
    "taper.length", "taper.area", "taper.available", "taper.dust",
)  # fmt: skip
ORDER_FIGURES = (
    "stack.thickness", "stack.surplus", "cloth.area", "resin.net", "resin.mixed", "mix.resin.mass", "mix.hardener.mass",
    "mix.resin.volume", "mix.hardener.volume", "cup.count", "cup.each", "cup.pot_life", "putty.total", "core.area", "core.sheets",
    "weight.off", "weight.on", "weight.net", "cost.total",
)  # fmt: skip


def work_pack(plan: Plan, system: System = "metric", paper: Paper = "A4") -> bytes:
    """The work pack as PDF bytes; the same job gives the same bytes."""
    fonts()
    boat = plan.job.boat.name
    width = page_width(paper)
    story: list[Any] = _boat_page(plan, system)
    for made in plan.zones:
        story += [PageBreak(), *_zone_pages(made, plan, system, width)]
    story += [PageBreak(), *_shopping(plan, system, width), *_cautions(plan)]

    return built(
        story, f"{boat}: work pack", f"{boat}: work pack. Screening values; see the limits on the last page.", paper
    )


def _figures(figures: list[Figure], system: System, width: float) -> Table:
    rows = [["figure", "value", "how"]] + [
        [f.name, f.shown(system), f.formula + (f". {' '.join(f.warnings)}" if f.warnings else "")] for f in figures
    ]
    return table(rows, [width * 0.30, width * 0.17, width * 0.53], (1,))


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
        zones.append([
            made.zone.name, made.zone.kind, f"{shown(place.station.si, Kind.LENGTH, system)} from the stern, {place.side}",
            figure["extent.area"].shown(system), figure["cut.area"].shown(system), figure["weight.net"].shown(system),
        ])  # fmt: skip
    story += [paragraph("Zones", SUB), table(zones, [95, 80, 140, 62, 62, 70], (3, 4, 5))]
    totals = [
        plan.by_id[k] for k in ("job.cloth.area", "job.resin.mixed", "job.cup.count", "job.weight.net", "cost.total")
    ]
    story += [
        paragraph("In all", SUB),
        table([["total", ""], *([f.name, f.shown(system)] for f in totals)], [150, 110], (1,)),
    ]
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
    picture = survey_picture(zone.survey, zone.outline, plan.shelf)
    found = plan_view(zone, made.patch, picture, plan.shelf, "find", system)
    story += [
        paragraph("Map: readings, chance of damage, extent", SUB),
        DrawingFlowable(found, width, 250, "light 0, dark 1: chance of damage."),
    ]
    story += [paragraph("circles: taps, squares: moisture, filled by how bad; underlined: sound reference", SMALL)]
    if not made.patch.cut.region.is_empty:
        opened = plan_view(zone, made.patch, None, plan.shelf, "rebuild", system)
        story += [
            KeepTogether(
                [paragraph("Cut line and plies", SUB), DrawingFlowable(opened, width, 230, "thick: cut; dashed: taper")]
            )
        ]
        cut = section_view(zone, made.patch, plan.shelf, default_line(zone), True, system)
        story += [
            KeepTogether([paragraph("Section along the middle", SUB), DrawingFlowable(cut, width, 190, cut.title)])
        ]
    story += [
        *before_pages(made, plan),
        paragraph("Opening", SUB),
        _figures([made.by_id[k] for k in OPEN_FIGURES if k in made.by_id], system, width),
    ]
    if made.patch.outlines:
        story += [paragraph("Plies, in the order of laying", SUB), _plies(made, system, width)]
    story += rebuild_pages(made, plan, system, width)
    story += [
        paragraph("Quantities", SUB),
        _figures([made.by_id[k] for k in ORDER_FIGURES if k in made.by_id], system, width),
    ]
    return story + _warnings([n for n in plan.notices if n.zone == zone.id])


def _build_words(made: ZonePlan, plan: Plan, system: System) -> str:
    zone, scheme = made.zone, made.zone.scheme
    old = f"Old {skin_word(zone)} skin {made.by_id['skin.thickness'].shown(system)}"
    if zone.build.core:
        old += f" on {plan.shelf.core(zone.build.core.core).name}, {shown(zone.build.core.thickness.si, Kind.SIZE, system)}"
    new = f"Resin: {plan.shelf.resin(scheme.resin).name}"
    if made.needs.core and scheme.core_thickness:
        new += f"; new core {made.needs.core.name}, {shown(scheme.core_thickness.si, Kind.SIZE, system)}"
    return f"{old}. {new}."


def _plies(made: ZonePlan, system: System, width: float) -> Table:
    rows = [["ply", "fabric", "angle", "length", "width", "area"]]
    second = made.patch.second.outlines if made.patch.second else ()
    for key, name, outlines in (("ply", "", made.patch.outlines), ("second.ply", "other face ", second)):
        for outline in outlines:
            n = outline.laid.number
            sizes = [made.by_id[f"{key}.{n}.{k}"].shown(system) for k in ("length", "width", "area")]
            rows.append([f"{name}{n}", outline.laid.ply.fabric.name, f"{outline.laid.angle:.0f}°", *sizes])
    shares = (0.07, 0.42, 0.09, 0.15, 0.15, 0.12)
    return table(rows, [width * s for s in shares], (2, 3, 4, 5))


def _shopping(plan: Plan, system: System, width: float) -> list[Any]:
    rows = [["item", "amount", "note", "cost"]]
    for item in plan.items:
        cost = plan.by_id.get(f"cost.{item.id}")
        rows.append([item.name, shown(item.amount, item.kind, system), item.note, cost.shown() if cost else "no price"])
    total = plan.by_id["cost.total"]
    rows.append(["sum", "", total.valid, total.shown()])
    shares = (0.36, 0.14, 0.37, 0.13)
    story: list[Any] = [paragraph("Shopping list", HEAD), table(rows, [width * s for s in shares], (1, 3))]
    story += [paragraph(w, WARN) for w in total.warnings]
    cups = [["zone", "resin", "cups", "each", "of it resin", "hardener", "pot life"]]
    for made in plan.zones:
        if not made.needs.cups.count:
            continue
        keys = ("count", "each", "resin", "hardener", "pot_life")
        known = [made.by_id.get(f"cup.{key}") for key in keys]  # below the least temperature no pot life is foretold
        figures = [figure.shown(system) if figure else "–" for figure in known]
        cups.append([made.zone.name, made.needs.resin.name, *figures])
    cup_shares = (0.19, 0.27, 0.08, 0.12, 0.12, 0.12, 0.10)
    return [*story, paragraph("Cups", SUB), table(cups, [width * s for s in cup_shares], (2, 3, 4, 5, 6))]


def _cautions(plan: Plan) -> list[Any]:
    story: list[Any] = [paragraph("Cautions by step", SUB)]
    step = ""
    for caution in cautions_for(plan):
        if caution.step != step:
            step = caution.step
            story.append(Paragraph(f"<b>{escape(step)}</b>", BODY))
        story.append(paragraph(f"⚠ {caution.text}"))
    return [*story, KeepTogether([paragraph("Limits", SUB), paragraph(LIMITS)])]
