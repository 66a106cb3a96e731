"""The work on a new core as a table: what, how much, how, each amount a figure."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.figure import FigureBook, Given
from ribpatch.core.table import Row, Table
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, System, shown

if TYPE_CHECKING:
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.coring.work import CoreWork, Fastening

LEAST_PLANED = 1e-4  # m
_CLAMP = {
    "screws": "temporary screws through waxed pads",
    "weights": "weights on a sheet of film and board",
    "props": "sprung props",
    "vacuum": "vacuum bag",
}


def work_table(work: CoreWork, prefix: str, shelf: Shelf, system: System) -> Table:
    """Everything to do to the core."""
    book = FigureBook(f"{prefix}.corework")
    area = book.add(
        "sealed", "faces and edges to seal", work.sealed, Kind.AREA, "both faces + length of edge × thickness"
    )
    edge = book.add("edge", "edge to fill", work.edge, Kind.LENGTH, "length of the cut line")
    rows = (
        []
        if work.core.poured
        else [
            Row(
                "seal",
                ("seal every face and edge with resin before it is bedded", area, "no face of a core stays bare"),
            ),
            Row(
                "edge",
                (
                    "fill the gap round the edge with putty",
                    edge,
                    f"{shown(shelf.rule('core.gap'), Kind.SIZE, system)} wide",
                ),
            ),
        ]
    )
    if work.layers > 1 or work.planed > LEAST_PLANED:
        sheets = f"{counted(work.layers, 'layer', 'layers')} of {shown(work.sheet, Kind.SIZE, system)} sheet"
        planed = book.add(
            "planed",
            "planed off",
            work.planed,
            Kind.SIZE,
            "layers × sheet − thickness of the core",
            (Given("sheet", work.sheet, Kind.SIZE, note=work.core.reason), Given("layers", work.layers, Kind.COUNT)),
        )
        words = f"glue {sheets}, seams apart" if work.layers > 1 else f"take {sheets}"
        how = "off the last layer, so that the skins line up" if work.planed > LEAST_PLANED else "nothing to plane"
        rows.append(Row("layers", (words, planed, how)))
    if work.kerfs:
        kerfs = book.add(
            "kerfs", "putty in kerfs", work.kerfs, Kind.VOLUME, "area × thickness × share", (shelf.given("kerf.share"),)
        )
        rows.append(
            Row(
                "kerfs",
                ("fill the kerfs of the scored sheet from the bed side", kerfs, "an empty kerf is a channel for water"),
            )
        )
    if work.bleeds:
        bleeds = book.add(
            "bleeds", "bleed holes", work.bleeds, Kind.COUNT, "area ÷ pitch²", (shelf.given("bleed.pitch"),)
        )
        rows.append(
            Row(
                "bleeds",
                (
                    "drill bleed holes so that air leaves the bed",
                    bleeds,
                    f"{shown(shelf.rule('bleed.hole'), Kind.SIZE, system)} in diameter",
                ),
            )
        )
    rows.append(_pour(work, book, shelf, system) if work.core.poured else _clamp(work, book, shelf, system))
    rows += [_hole(f, book, shelf, system) for f in work.fastenings]
    rows += [_pad(f, book, system) for f in work.fastenings if f.pad]
    return Table(("what", "how much", "how"), tuple(rows))


def _pour(work: CoreWork, book: FigureBook, shelf: Shelf, system: System) -> Row:
    """A cast core is poured in lifts that its own heat allows; it needs no clamps, but its skins must be braced."""
    mass = book.add(
        "pour", "to pour", work.poured, Kind.MASS, "cavity × cured density × over-pack", (shelf.given("pour.pack"),)
    )
    deep, lift = (shown(v, Kind.SIZE, system) for v in (work.liquid, shelf.rule("pour.lift")))
    lifts = counted(work.lifts, "lift", "lifts")
    how = (
        f"{deep} deep in {lifts} of {lift} at most, each cool to the hand before the next; brace the skins for "
        f"{shown(work.head, Kind.PRESSURE, system)} at the foot of a lift. Caution: a deep pour can smoke and burn"
    )
    return Row("pour", ("pour the cavity", mass, how))


def _clamp(work: CoreWork, book: FigureBook, shelf: Shelf, system: System) -> Row:
    c = work.clamping
    if c.how == "vacuum":
        pressure = book.add(
            "pressure",
            "pressure of the bag",
            c.pressure,
            Kind.STRESS,
            "as a leaky shed bag gives",
            (shelf.given("clamp.vacuum"),),
        )
        return Row("clamp", (_CLAMP[c.how], pressure, "tape every edge; watch the gauge until gel"))
    rule = {"screws": "clamp.screw", "weights": "clamp.weight", "props": "clamp.prop"}[c.how]
    count = book.add(
        "clamps",
        _CLAMP[c.how],
        c.count,
        Kind.COUNT,
        "contact pressure × area ÷ what each presses",
        (shelf.given("clamp.pressure"), shelf.given(rule)),
    )
    how = (
        f"one every {shown(c.pitch, Kind.SIZE, system)} each way, on cauls that spread the load; out before the "
        "resin is hard"
    )
    return Row("clamp", (_CLAMP[c.how], count, how))


def _hole(f: Fastening, book: FigureBook, shelf: Shelf, system: System) -> Row:
    name = f.fitting.name

    def size(value: float) -> str:
        return shown(value, Kind.SIZE, system)

    if f.putty:
        putty = book.add(
            f"hole.{f.fitting.id}",
            f"putty in the holes of {name}",
            f.putty,
            Kind.VOLUME,
            "holes × π/4 × drill² × depth",
            (Given("drill", f.drill, Kind.SIZE), Given("depth", f.depth, Kind.SIZE), shelf.given("hole.oversize")),
        )
        words = f"{name}: drill {f.fitting.holes} holes to {size(f.drill)}, fill, redrill {size(f.redrill)}"
        how = f"{size(f.depth)} deep; chamfer {size(f.chamfer)} for a sealing ring; insert: {f.insert}"
        return Row(f"hole.{f.fitting.id}", (words, putty, how), "warn" if f.insert == "solid insert" else "")
    words = f"{name}: drill {f.fitting.holes} holes to {size(f.redrill)} straight through"
    return Row(
        f"hole.{f.fitting.id}",
        (words, "", f"this core takes fasteners; chamfer {size(f.chamfer)} for a sealing ring; insert: {f.insert}"),
    )


def _pad(f: Fastening, book: FigureBook, system: System) -> Row:
    slope = f.fitting.slope.si if f.fitting.slope else 0.0
    pad = book.add(
        f"pad.{f.fitting.id}",
        f"putty in the pad of {f.fitting.name}",
        f.pad,
        Kind.VOLUME,
        "length² × tan(slope) × width ÷ 2",
        (Given("slope", slope, Kind.ANGLE),),
    )
    return Row(
        f"pad.{f.fitting.id}",
        (
            f"{f.fitting.name}: sloped pad so that its faces are parallel",
            pad,
            f"{shown(slope, Kind.ANGLE, system)} wedge under the nuts",
        ),
    )
