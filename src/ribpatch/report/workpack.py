"""The work pack: one PDF that a yard can work from.

Boat, then each zone with its map, section to scale, plies and quantities, then the shopping list, the cups, the
cautions by step and the limits. Everything printed is a Figure, a drawing or a shipped text.
"""

from __future__ import annotations

from io import BytesIO
from typing import Any, Literal
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase.pdfmetrics import registerFont, registerFontFamily
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import KeepTogether, PageBreak, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from ribpatch import resources
from ribpatch.core.cautions import LIMITS, cautions_for
from ribpatch.core.drawing.palette import LIGHT
from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.section_view import default_line, section_view
from ribpatch.core.fields import FIELDS
from ribpatch.core.figure import Figure
from ribpatch.core.plan import Plan, ZonePlan
from ribpatch.core.units import Kind, System, shown
from ribpatch.report.paint import BOLD, FONT, DrawingFlowable

Paper = Literal["A4", "Letter"]
INK = HexColor(LIGHT["ink"])
BODY = ParagraphStyle("body", fontName=FONT, fontSize=8.5, leading=11.5, textColor=INK)
SMALL = ParagraphStyle("small", parent=BODY, fontSize=7, leading=9.2, textColor=HexColor(LIGHT["soft"]))
HEAD = ParagraphStyle("head", parent=BODY, fontName=BOLD, fontSize=15, leading=19, spaceAfter=4)
SUB = ParagraphStyle(
    "sub", parent=BODY, fontName=BOLD, fontSize=10, leading=13, spaceBefore=7, spaceAfter=3, keepWithNext=1
)
WARN = ParagraphStyle("warn", parent=BODY, textColor=HexColor(LIGHT["warn"]))

OPEN_FIGURES = (
    "extent.area", "extent.surely", "extent.unsurveyed", "cut.past", "cut.area", "cut.length", "cut.sound", "skin.thickness",
    "taper.length", "taper.area", "taper.available", "taper.dust",
)  # fmt: skip
ORDER_FIGURES = (
    "stack.thickness", "stack.surplus", "cloth.area", "resin.net", "resin.mixed", "mix.resin.mass", "mix.hardener.mass",
    "mix.resin.volume", "mix.hardener.volume", "cup.count", "cup.each", "cup.pot_life", "putty.total", "core.area", "core.sheets",
    "weight.off", "weight.on", "weight.net", "cost.total",
)  # fmt: skip


def _fonts() -> None:
    registerFont(TTFont(FONT, BytesIO(resources.data("fonts/B612-Regular.ttf"))))
    registerFont(TTFont(BOLD, BytesIO(resources.data("fonts/B612-Bold.ttf"))))
    registerFontFamily(FONT, normal=FONT, bold=BOLD, italic=FONT, boldItalic=BOLD)


def work_pack(plan: Plan, system: System = "metric", paper: Paper = "A4") -> bytes:
    """The work pack as PDF bytes; the same job gives the same bytes."""
    _fonts()
    stream = BytesIO()
    boat = plan.job.boat.name
    document = SimpleDocTemplate(
        stream, pagesize=A4 if paper == "A4" else LETTER, leftMargin=42, rightMargin=42, topMargin=44, bottomMargin=46,
        title=f"{boat}: work pack", author="Rib Patch", invariant=1,
    )  # fmt: skip
    story: list[Any] = _boat_page(plan, system)
    for made in plan.zones:
        story += [PageBreak(), *_zone_pages(made, plan, system, document.width)]
    story += [PageBreak(), *_shopping(plan, system, document.width), *_cautions(plan)]

    def footer(canvas: Any, doc: Any) -> None:
        canvas.setFont(FONT, 7)
        canvas.setFillColor(HexColor(LIGHT["soft"]))
        canvas.drawString(42, 28, f"{boat}: work pack. Screening values; see the limits on the last page.")
        canvas.drawRightString(doc.pagesize[0] - 42, 28, f"{doc.page}")

    document.build(story, onFirstPage=footer, onLaterPages=footer)
    return stream.getvalue()


def _p(text: str, style: ParagraphStyle = BODY) -> Paragraph:
    return Paragraph(escape(text), style)


def _table(rows: list[list[str]], widths: list[float], numbers: tuple[int, ...] = ()) -> Table:
    body = [
        [_p(cell, BODY if i else SMALL) if j not in numbers else cell for j, cell in enumerate(row)]
        for i, row in enumerate(rows)
    ]
    table = Table(body, colWidths=widths, repeatRows=1)
    style: list[Any] = [
        ("FONT", (0, 0), (-1, -1), FONT, 8.5), ("VALIGN", (0, 0), (-1, -1), "TOP"), ("TEXTCOLOR", (0, 0), (-1, -1), INK),
        ("LINEBELOW", (0, 0), (-1, 0), 0.8, INK), ("LINEBELOW", (0, 1), (-1, -1), 0.25, HexColor(LIGHT["edge"])),
        ("TOPPADDING", (0, 0), (-1, -1), 2), ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
    ]  # fmt: skip
    style += [("ALIGN", (j, 0), (j, -1), "RIGHT") for j in numbers]
    table.setStyle(TableStyle(style))
    return table


def _figures(figures: list[Figure], system: System, width: float) -> Table:
    rows = [["figure", "value", "how"]] + [
        [f.name, f.shown(system), f.formula + (f". {' '.join(f.warnings)}" if f.warnings else "")] for f in figures
    ]
    return _table(rows, [width * 0.30, width * 0.17, width * 0.53], (1,))


def _boat_page(plan: Plan, system: System) -> list[Any]:
    boat = plan.job.boat
    story: list[Any] = [_p(f"{boat.name}: work pack", HEAD), _p(boat.use or "use not stated")]
    facts = [["boat", ""]] + [
        [f.name, f.shown(system)] for f in plan.totals if f.id.startswith(("boat.", "air.")) and f.id != "air.margin"
    ]
    if boat.year is not None:
        facts.append([FIELDS["boat.year"].name.lower(), str(boat.year)])
    story += [Spacer(1, 6), _table(facts, [150, 110], (1,))]
    zones = [["zone", "kind", "where", "bad", "cut", "net weight"]]
    for made in plan.zones:
        place = made.zone.place
        figure = made.by_id
        zones.append([
            made.zone.name, made.zone.kind, f"{shown(place.station.si, Kind.LENGTH, system)} from the stern, {place.side}",
            figure["extent.area"].shown(system), figure["cut.area"].shown(system), figure["weight.net"].shown(system),
        ])  # fmt: skip
    story += [_p("Zones", SUB), _table(zones, [95, 80, 140, 62, 62, 70], (3, 4, 5))]
    totals = [
        plan.by_id[k] for k in ("job.cloth.area", "job.resin.mixed", "job.cup.count", "job.weight.net", "cost.total")
    ]
    story += [
        _p("In all", SUB),
        _table([["total", ""], *([f.name, f.shown(system)] for f in totals)], [150, 110], (1,)),
    ]
    air = [n for n in plan.notices if not n.zone]
    story += _warnings(air)
    return story


def _warnings(notices: list[Any]) -> list[Any]:
    if not notices:
        return []
    return [_p("Open warnings", SUB), *(_p(f"⚠ {n.text} {n.clears}", WARN) for n in notices)]


def _zone_pages(made: ZonePlan, plan: Plan, system: System, width: float) -> list[Any]:
    zone = made.zone
    story: list[Any] = [_p(zone.name, HEAD), _p(f"{zone.kind}, {zone.place.side}. {_build_words(made, plan, system)}")]
    found = plan_view(zone, made.patch, made.field, plan.shelf, "find", system)
    story += [
        _p("Map: readings, chance of damage, extent", SUB),
        DrawingFlowable(found, width, 250, "light 0, dark 1: chance of damage."),
    ]
    story += [_p("circles: taps, squares: moisture, filled by how bad; underlined: sound reference", SMALL)]
    if not made.patch.cut.region.is_empty:
        opened = plan_view(zone, made.patch, None, plan.shelf, "rebuild", system)
        story += [
            KeepTogether(
                [_p("Cut line and plies", SUB), DrawingFlowable(opened, width, 230, "thick: cut; dashed: taper")]
            )
        ]
        cut = section_view(zone, made.patch, plan.shelf, default_line(zone), True, system)
        story += [KeepTogether([_p("Section along the middle", SUB), DrawingFlowable(cut, width, 190, cut.title)])]
    story += [_p("Opening", SUB), _figures([made.by_id[k] for k in OPEN_FIGURES if k in made.by_id], system, width)]
    if made.patch.outlines:
        story += [_p("Plies, in the order of laying", SUB), _plies(made, system, width)]
    story += [_p("Quantities", SUB), _figures([made.by_id[k] for k in ORDER_FIGURES if k in made.by_id], system, width)]
    return story + _warnings([n for n in plan.notices if n.zone == zone.id])


def _build_words(made: ZonePlan, plan: Plan, system: System) -> str:
    zone, scheme = made.zone, made.zone.scheme
    old = f"Old {scheme.skin} skin {made.by_id['skin.thickness'].shown(system)}"
    if zone.build.core:
        old += f" on {plan.shelf.core(zone.build.core.core).name}, {shown(zone.build.core.thickness.si, Kind.SIZE, system)}"
    new = f"Resin: {plan.shelf.resin(scheme.resin).name}"
    if made.needs.core and scheme.core_thickness:
        new += f"; new core {made.needs.core.name}, {shown(scheme.core_thickness.si, Kind.SIZE, system)}"
    return f"{old}. {new}."


def _plies(made: ZonePlan, system: System, width: float) -> Table:
    rows = [["ply", "fabric", "angle", "length", "width", "area"]]
    for outline in made.patch.outlines:
        n = outline.laid.number
        sizes = [made.by_id[f"ply.{n}.{k}"].shown(system) for k in ("length", "width", "area")]
        rows.append([str(n), outline.laid.ply.fabric.name, f"{outline.laid.angle:.0f}°", *sizes])
    shares = (0.07, 0.42, 0.09, 0.15, 0.15, 0.12)
    return _table(rows, [width * s for s in shares], (2, 3, 4, 5))


def _shopping(plan: Plan, system: System, width: float) -> list[Any]:
    rows = [["item", "amount", "note", "cost"]]
    for item in plan.items:
        cost = plan.by_id.get(f"cost.{item.id}")
        rows.append([item.name, shown(item.amount, item.kind, system), item.note, cost.shown() if cost else "no price"])
    total = plan.by_id["cost.total"]
    rows.append(["sum", "", total.valid, total.shown()])
    shares = (0.36, 0.14, 0.37, 0.13)
    story: list[Any] = [_p("Shopping list", HEAD), _table(rows, [width * s for s in shares], (1, 3))]
    story += [_p(w, WARN) for w in total.warnings]
    cups = [["zone", "resin", "cups", "each", "of it resin", "hardener", "pot life"]]
    for made in plan.zones:
        if not made.needs.cups.count:
            continue
        keys = ("count", "each", "resin", "hardener", "pot_life")
        figures = [made.by_id[f"cup.{key}"].shown(system) for key in keys]
        cups.append([made.zone.name, made.needs.resin.name, *figures])
    cup_shares = (0.19, 0.27, 0.08, 0.12, 0.12, 0.12, 0.10)
    return [*story, _p("Cups", SUB), _table(cups, [width * s for s in cup_shares], (2, 3, 4, 5, 6))]


def _cautions(plan: Plan) -> list[Any]:
    story: list[Any] = [_p("Cautions by step", SUB)]
    step = ""
    for caution in cautions_for(plan):
        if caution.step != step:
            step = caution.step
            story.append(Paragraph(f"<b>{escape(step)}</b>", BODY))
        story.append(_p(f"⚠ {caution.text}"))
    return [*story, KeepTogether([_p("Limits", SUB), _p(LIMITS)])]
