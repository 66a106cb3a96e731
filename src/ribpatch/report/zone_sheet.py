"""One sheet a zone that stands alone at the boat: plan and cut-through to a usual scale, set-out, plies, core, resin
and cups, steps with boxes to tick, cautions where they belong, and who signs.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from reportlab.lib.colors import HexColor
from reportlab.platypus import Flowable, Paragraph, Spacer, Table, TableStyle

from ribpatch.core.cautions import cautions_of
from ribpatch.core.drawing.palette import LIGHT
from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.section_view import default_line, section_view
from ribpatch.core.numerals import fixed
from ribpatch.core.patch.access.sides import skin_word
from ribpatch.core.set_out import fixed_edges, set_out
from ribpatch.core.supply.figures import batch_prefix
from ribpatch.core.units import Kind, System, shown
from ribpatch.report.page import BODY, HEAD, INK, SMALL, SUB, WARN, escaped, paragraph, table
from ribpatch.report.paint import DrawingFlowable

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.steps.records import StepRow
    from ribpatch.core.zone_plan import ZonePlan

DRAWN = ((200.0, 104.0), (170.0, 96.0), (140.0, 90.0), (110.0, 84.0))  # most height of plan and section, points
BOX = 8.0  # of a tick, points
LETTERS = 62  # of small print on a line of a column
SIGNED = ("cut and cleaned", "dry fit", "laid", "faired", "checked")


def zone_sheet(made: ZonePlan, plan: Plan, number: int, system: System, room: tuple[float, float]) -> list[Any]:
    """The sheet of a zone: its place in the order of work; width and height that a page has for it, points.

    Drawings give way to a smaller usual scale until all of it stands on one page; where even that does not do, it runs
    on.
    """
    story: list[Any] = []
    for heights in DRAWN:
        story = _sheet(made, plan, number, system, (room[0], *heights))
        if sum(f.wrap(*room)[1] + f.getSpaceBefore() + f.getSpaceAfter() for f in story) <= room[1]:
            break
    return story


def _sheet(made: ZonePlan, plan: Plan, number: int, system: System, room: tuple[float, float, float]) -> list[Any]:
    """The sheet with its plan and section no higher than given, after the width; points."""
    zone, width = made.zone, room[0]
    where = f"{shown(zone.place.station.si, Kind.LENGTH, system)} from the stern, {zone.place.side}"
    story: list[Any] = [
        paragraph(f"{number} of {len(plan.zones)}   {zone.name}", HEAD),
        paragraph(f"{plan.job.boat.name}: {zone.kind}, {where}. {_what(made, system)}"),
    ]
    if made.assumed:
        names = ", ".join(dict.fromkeys(f.name for f in made.assumed))
        story.append(paragraph(f"≈ leans on what is assumed: {names}. Measure it before you cut.", WARN))
    story += _drawings(made, system, room)
    if made.patch.cut.region.is_empty:
        story.append(paragraph("Nothing is cut on paper yet: read the zone, or draw what is bad.", WARN))
        return story
    parts = (_set_out(made, system, width), _stuff(made, plan, system), _steps(made, plan, width))
    return [*story, *(f for part in parts for f in part), *_signed(width)]


def _what(made: ZonePlan, system: System) -> str:
    zone, scheme = made.zone, made.zone.scheme
    skin = made.by_id.get("skin.thickness")
    words = f"Open from {scheme.access.side}"
    words += f"; {skin_word(zone)} skin {skin.shown(system)}" if skin is not None else ""
    if zone.build.core is not None:
        core = made.shelf.core(zone.build.core.core).name
        words += f" on {core}, {shown(zone.build.core.thickness.si, Kind.SIZE, system)}"
    return f"{words}. Scheme: {scheme.name}."


def _drawings(made: ZonePlan, system: System, room: tuple[float, float, float]) -> list[Any]:
    zone, shelf = made.zone, made.shelf
    width, high, low = room
    drawn = plan_view(zone, made.patch, None, shelf, "rebuild", system)
    story: list[Any] = [DrawingFlowable(drawn, width, high, "thick: cut; dashed: taper", usual=True)]
    if not made.patch.cut.region.is_empty:
        cut = section_view(zone, made.patch, shelf, default_line(zone), True, system)
        story.append(DrawingFlowable(cut, width, low, cut.title, usual=True))
    return story


def _set_out(made: ZonePlan, system: System, width: float) -> list[Any]:
    """Every line from the same two edges, with cloth, angle and size where it is a ply."""
    along, up = fixed_edges(made)
    plies = {f"ply {o.laid.number}": o for o in made.patch.outlines}
    second = made.patch.second.outlines if made.patch.second is not None else ()
    plies |= {f"other face {o.laid.number}": o for o in second}
    unit = ", mm" if system == "metric" else ""
    rows = [["set out", "cloth", "angle", f"from {along}{unit}", f"from {up}{unit}", f"size{unit}"]]
    for row in set_out(made):
        outline = plies.get(row.name)
        cloth = outline.laid.ply.fabric.name if outline else ""
        angle = f"{fixed(outline.laid.angle, 0)}°" if outline else ""
        spans = [" to ".join(_tape(v, system) for v in span) for span in (row.along, row.up)]
        size = " × ".join(_tape(b - a, system) for a, b in (row.along, row.up))
        rows.append([row.name, cloth, angle, *spans, size])
    shares = (0.11, 0.24, 0.07, 0.21, 0.19, 0.18)
    return [Spacer(1, 4), table(rows, [width * s for s in shares], (2, 3, 4, 5))]


def _tape(value: float, system: System) -> str:
    """A length, m, as it is read off a tape: to a millimetre, or as a US shop says it."""
    return fixed(value * 1000, 0).replace("-", "−") if system == "metric" else shown(value, Kind.SIZE, system)


def _stuff(made: ZonePlan, plan: Plan, system: System) -> list[Any]:
    """Core, resin, cups and putty, a line each."""
    lines: list[str] = []
    core, scheme = made.needs.core, made.zone.scheme
    if core and scheme.core.thickness:
        thick = shown(scheme.core.thickness.si, Kind.SIZE, system)
        lines.append(f"Core: {core.name}, {thick}, {_figure(made, 'core.area', system)}")
    warm = shown(plan.job.air.temperature.si, Kind.TEMPERATURE, system)
    for n, batch in enumerate(made.needs.batches, 1):
        if batch.cups.count:
            keys = ("count", "each", "resin", "hardener", "working")
            count, each, resin, hard, working = (_figure(made, f"{batch_prefix(n)}cup.{k}", system) for k in keys)
            cups = f"{count} cups of {each} ({resin} resin and {hard} hardener)"
            lines.append(f"Resin: {batch.resin.name}, {cups}, each used up in {working} at {warm}")
    putty = made.by_id.get("putty.total")
    if putty is not None and putty.value > 0:
        lines.append(f"Putty: {putty.shown(system)} of {made.shelf.putty(scheme.resin.putty).name}")
    lines += [f"{p.part.name}: {shown(p.part.length.si, Kind.LENGTH, system)}, {p.part.kind}" for p in made.parts]
    return [paragraph(f"{line}.") for line in lines]


def _figure(made: ZonePlan, key: str, system: System) -> str:
    figure = made.by_id.get(key)
    return figure.shown(system) if figure is not None else "–"


class Tick(Flowable):  # type: ignore[misc]  # reportlab carries no types
    """A box to tick with a pencil."""

    def __init__(self) -> None:
        super().__init__()
        self.width, self.height = BOX, BOX

    def draw(self) -> None:
        """Paint it."""
        self.canv.setStrokeColor(INK)
        self.canv.setLineWidth(0.8)
        self.canv.rect(0, 0, BOX, BOX)


def _steps(made: ZonePlan, plan: Plan, width: float) -> list[Any]:
    """Steps in two columns, each with its box; a caution stands at the first step that it belongs to."""
    by_step: dict[str, list[str]] = {}
    for caution in cautions_of(plan, made.zone.id):
        by_step.setdefault(caution.step, []).append(caution.text)
    cells: list[tuple[float, list[Any]]] = []
    for row in made.steps.rows:
        told = " ".join(by_step.pop(row.kind.caution or "", []))
        words: list[Any] = [_step_words(row)]
        if told:
            words.append(Paragraph(f"⚠ {escaped(told)}", _SMALL_WARN))
        cells.append((1 + len(told) / LETTERS, words))
    if not cells:
        return []
    left: list[list[Any]] = []
    half, so_far = sum(lines for lines, _ in cells) / 2, 0.0
    for lines, words in cells:
        if so_far + lines / 2 > half:
            break
        so_far += lines
        left.append(words)
    right = [words for _, words in cells[len(left) :]]
    both = Table([[_column(left, width / 2 - 6), _column(right, width / 2 - 6)]], colWidths=[width / 2, width / 2])
    both.setStyle(TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0)]))
    return [paragraph("Steps", SUB), both]


def _column(cells: list[list[Any]], width: float) -> Any:
    if not cells:
        return ""
    made = Table([[Tick(), words] for words in cells], colWidths=[BOX + 6, width - BOX - 6])
    made.setStyle(
        TableStyle(
            [
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("TOPPADDING", (0, 0), (-1, -1), 1),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 1),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("LINEBELOW", (1, 0), (1, -1), 0.25, HexColor(LIGHT["edge"])),
            ]
        )
    )
    return made


_SMALL_WARN = type(WARN)("small warn", parent=SMALL, textColor=WARN.textColor)


def _step_words(row: StepRow) -> Paragraph:
    hours = f"  {fixed(row.hours / 3600, 1)} h" if row.hours else ""
    return Paragraph(escaped(f"{row.name}{hours}"), BODY)


def _signed(width: float) -> list[Any]:
    rows = [["", *SIGNED], ["who", *("" for _ in SIGNED)], ["when", *("" for _ in SIGNED)]]
    share = 0.88 / len(SIGNED)
    return [Spacer(1, 6), table(rows, [width * 0.12, *(width * share for _ in SIGNED)])]
