"""Figures of what a patch uses: plies, cloth, resin, cups, putty, core, weight, cost."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.figure import Figure, FigureBook, Given, Origin, fact, stated
from ribpatch.core.numerals import fixed, general
from ribpatch.core.resin.vessel import VESSELS
from ribpatch.core.supply.consumables import BASES
from ribpatch.core.supply.finish import finish_figures
from ribpatch.core.supply.putty_figures import putty_figures
from ribpatch.core.text import counted
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.job import ShedAir, Zone
    from ribpatch.core.materials.records import Core, Resin
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.plies import PlyOutline
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.supply.needs import Batch, Needs, ResinUse

CUP_RULE = "heat balance of the mass in its vessel with autocatalytic cure [27]"
CUP_SMOKES = 100.0  # degC, over which a cup that is left is a danger


def needs_figures(
    zone: Zone, patch: Patch, needs: Needs, air: ShedAir, shelf: Shelf, prefix: str
) -> tuple[Figure, ...]:
    """All figures of what a zone's patch uses."""
    book = FigureBook(prefix)
    _plies(book, zone, patch)
    _cloth(book, needs, shelf)
    _resin(book, needs, shelf)
    for number, batch in enumerate(needs.batches, 1):
        _batch(book, zone, batch, number, air, shelf)
    _all_cups(book, needs)
    putty_figures(book, zone, needs, shelf)
    finish_figures(book, zone, patch, needs, shelf)
    _core(book, zone, patch, needs, shelf)
    _peel(book, needs, shelf)
    _used(book, needs, shelf)
    _weight(book, needs)
    return book.figures


def _plies(book: FigureBook, zone: Zone, patch: Patch) -> None:
    order = Given("order of plies", zone.scheme.laminate.order, None, Origin.YOURS)
    overlap = stated("overlap past the taper", zone.scheme.laminate.overlap, Kind.SIZE)
    for outline in patch.outlines:
        _ply(book, "ply", outline, (order, overlap))
    for outline in patch.second.outlines if patch.second else ():
        _ply(book, "second.ply", outline, (order, overlap))


def _ply(book: FigureBook, key: str, outline: PlyOutline, inputs: tuple[Given, ...]) -> None:
    number = outline.laid.number
    fabric = Given("fabric", outline.laid.ply.fabric.name, None, Origin.YOURS)
    reach = book.add(
        f"{key}.{number}.reach",
        f"ply {number} past the cut",
        outline.reach,
        Kind.SIZE,
        "where this ply meets the taper, plus its overlap",
        (fabric, *inputs),
    )
    book.add(
        f"{key}.{number}.area",
        f"ply {number} area",
        outline.region.area,
        Kind.AREA,
        "exact area of the cut line grown by the ply's reach, inside the zone",
        (reach.given(),),
    )
    for name, value in zip(("length", "width"), outline.size, strict=True):
        book.add(
            f"{key}.{number}.{name}",
            f"ply {number} {name}",
            value,
            Kind.SIZE,
            "box round the ply along the zone's axes",
            (reach.given(),),
        )


def _cloth(book: FigureBook, needs: Needs, shelf: Shelf) -> None:
    rules = tuple(shelf.given(r) for r in ("strip.overlap", "cloth.trim", "cloth.waste"))
    parts = []
    for cloth in needs.cloth:
        pieces = Given(
            "pieces",
            f"{counted(len(cloth.pieces), 'piece', 'pieces')}, "
            f"{counted(sum(p.strips for p in cloth.pieces), 'strip', 'strips')}",
            None,
            Origin.WORKED,
        )
        net = Given("net area of the plies", cloth.net, Kind.AREA, Origin.WORKED)
        key = f"cloth.{cloth.fabric.id}"
        area = book.add(
            f"{key}.area",
            cloth.fabric.name,
            cloth.area,
            Kind.AREA,
            "box round each part of each ply, trimmed, with strip overlaps, plus waste",
            (net, pieces, *rules),
            source="[3]",
        )
        width = Given("roll width", cloth.fabric.roll_width, Kind.SIZE, shelf.origin(cloth.fabric.id))
        book.add(
            f"{key}.length",
            f"{cloth.fabric.name}, off the roll",
            cloth.roll_length,
            Kind.LENGTH,
            "cloth area ÷ roll width",
            (area.given(), width),
            valid="an estimate until the pieces are laid out on the roll",
        )
        parts.append(area.given())
    book.add("cloth.area", "cloth", sum(c.area for c in needs.cloth), Kind.AREA, "sum over the fabrics", tuple(parts))


def _resin(book: FigureBook, needs: Needs, shelf: Shelf) -> None:
    parts = []
    for use in needs.uses:
        parts.append(
            book.add(
                f"resin.{use.key}", use.name, use.mass, Kind.MASS, _use_words(use), _use_inputs(use, needs, shelf)
            ).given()
        )
    net = book.add(
        "resin.net", "resin laid", needs.resin_net, Kind.MASS, "sum of what each purpose takes", tuple(parts)
    )
    count = Given("cups", sum(b.cups.count for b in needs.batches), Kind.COUNT, Origin.WORKED)
    book.add(
        "resin.mixed",
        "resin to mix",
        sum(b.cups.total for b in needs.batches),
        Kind.MASS,
        "resin laid × (1 + loss) + cups × what stays in each",
        (net.given(), shelf.given("loss.share"), count, shelf.given("loss.cup")),
    )


def _all_cups(book: FigureBook, needs: Needs) -> None:
    rows = tuple(Given(b.resin.name, b.cups.count, Kind.COUNT, Origin.WORKED) for b in needs.batches)
    cups = sum(b.cups.count for b in needs.batches)
    book.add("cup.all", "cups", cups, Kind.COUNT, "sum over the resins, each rounded up", rows)


def batch_prefix(number: int) -> str:
    """First words of the ids of a batch's figures; none of the first."""
    return "" if number == 1 else f"batch.{number}."


def _batch(book: FigureBook, zone: Zone, batch: Batch, number: int, air: ShedAir, shelf: Shelf) -> None:
    """What is mixed of one resin; the first batch has the plain ids, the others their number before them."""
    prefix, of = batch_prefix(number), "" if number == 1 else f", {batch.resin.name}"
    rows = tuple(Given(use.name, use.mass, Kind.MASS, Origin.WORKED) for use in batch.uses)
    net = book.add(
        f"{prefix}laid",
        f"laid of {batch.resin.name}",
        sum(use.mass for use in batch.uses),
        Kind.MASS,
        "sum of what each purpose takes",
        rows,
    )
    count = Given("cups", batch.cups.count, Kind.COUNT, Origin.WORKED)
    mixed = book.add(
        f"{prefix}mixed",
        f"mixed of {batch.resin.name}",
        batch.cups.total,
        Kind.MASS,
        "laid × (1 + loss) + cups × what stays in each",
        (net.given(), shelf.given("loss.share"), count, shelf.given("loss.cup")),
    )
    _split(book, batch.resin, mixed, (prefix, of), shelf)
    _cups(book, zone, batch, net, (prefix, of), air, shelf)


def _use_words(use: ResinUse) -> str:
    return {
        "plies": "sum over plies of area × resin a square metre",
        "putty": "mass of putty × its share of resin",
        "fairing": "mass of putty × its share of resin",
    }.get(use.key.partition(".")[0], "area × rate")


def _use_inputs(use: ResinUse, needs: Needs, shelf: Shelf) -> tuple[Given, ...]:
    if use.key in ("putty", "fairing"):
        share = Given("share of resin", use.rate, Kind.PERCENT, Origin.WORKED)
        return (Given("putty", use.amount, Kind.MASS, Origin.WORKED), share)
    rate = shelf.given(use.rule) if use.rule else Given("mean resin content", use.rate, Kind.AREAL, Origin.WORKED)
    return (Given("area", use.amount, Kind.AREA, Origin.WORKED), rate)


def mix_split(total: float, resin: Resin) -> tuple[float, float, float, float]:
    """Resin and hardener of ``total`` kg mixed: masses in kg, volumes in m3."""
    parts = sum(resin.mass_parts)
    masses = [total * part / parts for part in resin.mass_parts]
    return masses[0], masses[1], masses[0] / resin.resin_density, masses[1] / resin.hardener_density


def _split(book: FigureBook, resin: Resin, mixed: Figure, ids: tuple[str, str], shelf: Shelf) -> None:
    prefix, of = ids
    ratio, masses = _ratio(resin, shelf), mix_split(float(mixed.value), resin)
    hardener = "hardener" if resin.family == "epoxy" else "catalyst"
    for key, name, mass, volume, density in (
        ("resin", "resin", masses[0], masses[2], resin.resin_density),
        ("hardener", hardener, masses[1], masses[3], resin.hardener_density),
    ):
        part = book.add(
            f"{prefix}mix.{key}.mass",
            f"{name} by mass{of}",
            mass,
            Kind.MASS,
            "resin to mix × its part ÷ sum of parts by mass",
            (mixed.given(), ratio),
        )
        book.add(
            f"{prefix}mix.{key}.volume",
            f"{name} by volume{of}",
            volume,
            Kind.VOLUME,
            "mass ÷ density",
            (part.given(), Given(f"density of {name}", density, Kind.DENSITY, shelf.origin(resin.id))),
            valid="by mass is more exact than by volume",
        )


def _ratio(resin: Resin, shelf: Shelf) -> Given:
    """Parts by mass as they are mixed; of a catalyst by the shed's temperature."""
    a, b = resin.mass_parts
    return Given("parts by mass", f"{general(a)} : {general(b, 3)}", None, shelf.origin(resin.id), note=resin.reason)


def _cups(
    book: FigureBook, zone: Zone, batch: Batch, net: Figure, ids: tuple[str, str], air: ShedAir, shelf: Shelf
) -> None:
    cups, resin = batch.cups, batch.resin
    prefix, of = ids
    temperature = fact("shed temperature", air.temperature, Kind.TEMPERATURE, measured=True)
    mixing = zone.scheme.resin
    vessel = Given("worked from", VESSELS[mixing.vessel], None, Origin.YOURS)
    cans = fact("cans", mixing.warmed or air.temperature, Kind.TEMPERATURE, measured=mixing.warmed is not None)
    system = Given(
        f"{resin.name}: pot life of {fixed(resin.pot_mass * 1000, 0)} g at 25 °C",
        resin.pot_life,
        Kind.TIME,
        shelf.origin(resin.id),
    )
    rules = tuple(
        shelf.given(r) for r in ("cup.margin", "cup.mixing", "cup.rate", "cup.people", "cup.peak", "cup.most")
    )
    largest = book.add(
        f"{prefix}cup.largest",
        f"largest cup{of}",
        cups.largest,
        Kind.MASS,
        "largest mass that can still be worked for the margin times the time to mix and lay it, and gets no hotter "
        f"than wanted if it is left; here limited by {cups.limited}",
        (temperature, cans, vessel, system, *rules),
        source=CUP_RULE,
    )
    count = book.add(
        f"{prefix}cup.count",
        f"cups{of}",
        cups.count,
        Kind.COUNT,
        "resin laid with its loss ÷ (largest cup − what stays in it), rounded up",
        (net.given(), largest.given(), shelf.given("loss.share"), shelf.given("loss.cup")),
    )
    each = book.add(f"{prefix}cup.each", f"each cup{of}", cups.each, Kind.MASS, "resin to mix ÷ cups", (count.given(),))
    _cup_parts(book, resin, each, ids, shelf)
    if cups.working is None or cups.peak is None:
        return
    inputs = (each.given(), temperature, cans, vessel, system)
    ends = tuple(shelf.given(r) for r in ("work.hot", "work.cured", "vessel.loss"))
    book.add(
        f"{prefix}cup.working",
        f"working time of each cup{of}",
        cups.working,
        Kind.TIME,
        "until the mix is too warm, or too far cured, by its heat made and lost",
        (*inputs, *ends),
        source=CUP_RULE,
        valid="screening; 0.02 to 3 kg; the data sheet and the first cup decide",
    )
    book.add(
        f"{prefix}cup.peak",
        f"hottest that a cup gets if it is left{of}",
        cups.peak,
        Kind.TEMPERATURE,
        "the top of the same course",
        inputs,
        source=CUP_RULE,
        warning="Never leave a full cup standing: spread it out or stand it in water out of doors."
        if cups.peak > CUP_SMOKES
        else "",
    )
    every = (each.given(), *(shelf.given(r) for r in ("cup.mixing", "cup.rate", "cup.people")))
    book.add(
        f"{prefix}cup.every",
        f"one cup to the next{of}",
        cups.every,
        Kind.TIME,
        "time to mix it + mass ÷ what is laid",
        every,
    )


def _cup_parts(book: FigureBook, resin: Resin, each: Figure, ids: tuple[str, str], shelf: Shelf) -> None:
    prefix, of = ids
    ratio, masses = _ratio(resin, shelf), mix_split(float(each.value), resin)
    words = "cup × its part ÷ sum of parts by mass"
    for key, name, mass in (("resin", "resin in a cup", masses[0]), ("hardener", "hardener in a cup", masses[1])):
        book.add(f"{prefix}cup.{key}", f"{name}{of}", mass, Kind.MASS, words, (each.given(), ratio))


def _core(book: FigureBook, zone: Zone, patch: Patch, needs: Needs, shelf: Shelf) -> None:
    if needs.core is None:
        return
    cut = Given("cut area", patch.cut.region.area, Kind.AREA, Origin.WORKED)
    if not needs.core.poured:
        _sheets(book, needs, needs.core, cut, shelf)
    thickness = zone.scheme.core.thickness
    depth = () if thickness is None else (stated("core thickness", thickness, Kind.SIZE),)
    density = Given(
        f"density of {needs.core.name}",
        needs.core.density,
        Kind.DENSITY,
        shelf.origin(needs.core.id),
        note=needs.core.reason,
    )
    more: tuple[Given, ...]
    if needs.core.poured:
        words, more = "cavity × cured density × over-pack", (shelf.given("pour.pack"),)
    else:
        words, more = (
            "(cut area − length of cut × gap round the core) × thickness × density",
            (shelf.given("core.gap"),),
        )
        if zone.scheme.core.scored:
            words, more = words + " × (1 − share of the kerfs)", (*more, shelf.given("kerf.share"))
    book.add("core.mass", "new core", needs.core_mass, Kind.MASS, words, (cut, *depth, density, *more))


def _sheets(book: FigureBook, needs: Needs, core: Core, cut: Given, shelf: Shelf) -> None:
    inputs = (cut, shelf.given("core.waste"))
    area = book.add("core.area", "core to buy", needs.core_area, Kind.AREA, "cut area × (1 + waste)", inputs)
    sheet = Given("sheet", f"{general(core.sheet[0])} × {general(core.sheet[1])} m", None, shelf.origin(core.id))
    book.add(
        "core.sheets",
        "sheets of core",
        needs.core_sheets,
        Kind.COUNT,
        "its pieces laid out on sheets, with the saw cut between them; layers where no sheet is thick enough",
        (area.given(), sheet, shelf.given("saw.kerf")),
    )


def _peel(book: FigureBook, needs: Needs, shelf: Shelf) -> None:
    if needs.peel_area:
        area = Given("area of cut and taper", needs.peel_area, Kind.AREA, Origin.WORKED)
        inputs = (area, shelf.given("cloth.waste"))
        book.add("peel.area", "peel ply", needs.peel_bought, Kind.AREA, "area × (1 + waste)", inputs)


def _used(book: FigureBook, needs: Needs, shelf: Shelf) -> None:
    bases = dict(needs.bases)
    for used in needs.used:
        name, kind = BASES[used.what.basis]
        inputs = (Given(name, bases[used.what.basis], kind, Origin.WORKED), shelf.given(used.what.rule))
        book.add(used.what.rule, used.what.name, used.amount, used.what.kind, f"{name} × rate", inputs)


def _weight(book: FigureBook, needs: Needs) -> None:
    sums = []
    for side, rows, words in (("off", needs.off, "weight off"), ("on", needs.on, "weight on")):
        inputs = tuple(Given(name, kg, Kind.MASS, Origin.WORKED) for _, name, kg in rows)
        sums.append(
            book.add(f"weight.{side}", words, sum(kg for *_, kg in rows), Kind.MASS, "sum of the parts", inputs)
        )
    book.add(
        "weight.net",
        "net weight",
        sums[1].value - sums[0].value,
        Kind.MASS,
        "weight on − weight off",
        tuple(s.given() for s in reversed(sums)),
    )
