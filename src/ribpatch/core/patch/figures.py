"""Figures of the opening: cut line and taper."""

from __future__ import annotations

from math import isfinite
from typing import TYPE_CHECKING

from ribpatch.core.figure import Figure, FigureBook, Given, Origin, fact, stated
from ribpatch.core.laminate.stack import plies_for, skin_thickness
from ribpatch.core.laminate.stack_text import text_of
from ribpatch.core.numerals import fixed
from ribpatch.core.patch.access.sides import skin_word
from ribpatch.core.patch.pit import putty_by_depth
from ribpatch.core.patch.taper import NO_TAPER
from ribpatch.core.units import Kind
from ribpatch.core.zone_axes import facing_words

if TYPE_CHECKING:
    from ribpatch.core.job import Skin, Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import FaceMade, Patch

AREA_OF_CORNERS = "exact polygon area; round corners have 16 chords a quarter circle, 0.16 % low in the corner itself"


def opening_figures(zone: Zone, skin: Skin, patch: Patch, bad: Figure, shelf: Shelf, prefix: str) -> tuple[Figure, ...]:
    """All figures of a zone's cut and taper. ``bad`` is the figure of the bad area."""
    book = FigureBook(prefix)
    choice, taper = zone.scheme.cut, zone.scheme.taper
    cut, band = patch.cut, patch.band
    thickness = book.add(
        "skin.thickness", f"old {skin_word(zone)} skin", skin_thickness(skin, shelf), Kind.SIZE, *_skin_working(skin)
    )
    if cut.drawn:
        how: tuple[Given, ...] = (Given("cut line", "drawn", None, Origin.YOURS),)
        words = "exact area of the cut line as drawn, inside the zone"
    else:
        words = "exact area of the bad area grown by the cut-back, " + (
            "squared up to straight cuts with rounded corners" if choice.shape == "squared" else "with rounded corners"
        )
        how = (bad.given(), stated("corner radius", choice.radius, Kind.SIZE))
        past = book.add("cut.past", "cut past the bad band", cut.grown_by, Kind.SIZE, *_past_working(zone, bad))
        how = (*how, past.given())
    area = book.add("cut.area", "cut", cut.region.area, Kind.AREA, words, how, valid=AREA_OF_CORNERS)
    book.add("cut.length", "length of cut", cut.region.length, Kind.LENGTH, "length of the cut line", (area.given(),))
    book.add(
        "cut.sound",
        "sound area cut",
        cut.sound,
        Kind.AREA,
        "area inside the cut line and outside the bad area",
        (area.given(), bad.given()),
    )
    if patch.pit is not None:
        thickness = _pit(book, zone, patch, shelf)
    elif patch.second is not None and zone.other_skin is None and zone.scheme.laminate.second is not None:
        share = stated("share of the other face", zone.scheme.laminate.second.share, Kind.PERCENT)
        thickness = book.add(
            "face.thickness",
            "tapered from this face",
            band.thickness,
            Kind.SIZE,
            "old skin × (1 − share of the other face)",
            (thickness.given(), share),
        )
    what = "old skin thickness" if thickness.id.endswith("skin.thickness") else "thickness tapered"
    ratio = stated("taper ratio", taper.ratio, Kind.RATIO)
    stepped = taper.form == "stepped"
    length = book.add(
        "taper.length",
        "taper length",
        band.length,
        Kind.SIZE,
        f"taper ratio × {what}" + (", at least one shortest step a ply" if stepped else ""),
        (ratio, thickness.given(), *((shelf.given("step.least"),) if stepped else ())),
        source="[2], [7]",
        valid="schools differ: 8 to 20 and more; the issue is bond area against sound laminate lost",
    )
    book.add(
        "taper.area",
        "taper band",
        band.region.area,
        Kind.AREA,
        "area of the cut line grown by the taper length on each side, less the cut, inside the zone",
        (
            length.given(),
            area.given(),
            *(stated(f"ratio {facing_words(zone.kind)[t.facing]}", t.ratio, Kind.RATIO) for t in taper.stretches),
        ),
    )
    if isfinite(band.least_ratio) and band.least_ratio >= NO_TAPER:
        book.add(
            "taper.available",
            "least ratio that fits",
            band.least_ratio,
            Kind.RATIO,
            f"least distance from the cut line to the zone's edge or a fitting ÷ {what}",
            (thickness.given(),),
            warning="Less than the taper ratio chosen." if band.tight else "",
            limit=taper.ratio.si,
        )
    if patch.second is not None:
        _second(book, zone, patch.second)
    book.add(
        "taper.dust",
        "laminate ground off",
        patch.ground_volume * shelf.rule("old.skin.density"),
        Kind.MASS,
        "volume of the pit × density of the old skin"
        if patch.pit
        else (
            "(thickness tapered ÷ taper length) × band area summed out to each distance × density of the old skin, on "
            "every face"
        ),
        (thickness.given(), length.given(), shelf.given("old.skin.density")),
    )
    dust = next(f for f in book.figures if f.id.endswith("taper.dust"))
    book.add(
        "taper.hours",
        "grinding",
        dust.value / shelf.rule("grind.rate") * 3600,
        Kind.HOURS,
        "dust ÷ laminate ground off in an hour",
        (dust.given(), shelf.given("grind.rate")),
    )
    return book.figures


def _second(book: FigureBook, zone: Zone, face: FaceMade) -> None:
    """The taper of the other face."""
    assert zone.scheme.laminate.second is not None
    thickness = book.add(
        "second.thickness",
        "tapered from the other face",
        face.band.thickness,
        Kind.SIZE,
        "the skin there, or its share of a solid laminate",
    )
    ratio = stated("taper ratio, other face", zone.scheme.laminate.second.taper.ratio, Kind.RATIO)
    length = book.add(
        "second.length",
        "taper length, other face",
        face.band.length,
        Kind.SIZE,
        "taper ratio × thickness tapered",
        (ratio, thickness.given()),
        source="[2], [7]",
    )
    book.add(
        "second.area", "taper band, other face", face.band.region.area, Kind.AREA, "as on this face", (length.given(),)
    )


def _pit(book: FigureBook, zone: Zone, patch: Patch, shelf: Shelf) -> Figure:
    pit = patch.pit
    assert pit is not None
    points = tuple(
        stated(f"depth at {fixed(d.x, 2)}, {fixed(d.y, 2)} m", d.depth, Kind.SIZE, measured=True)
        for d in zone.depths[:12]
    )
    deepest = book.add(
        "pit.deepest",
        "deepest",
        pit.deepest,
        Kind.SIZE,
        "depths between the places measured, by the inverse cube of the distance",
        points,
        source="[20]",
    )
    if patch.stack.plies:
        one = patch.stack.plies[-1].ply
        below = patch.stack.thickness - one.thickness
        needed = len(patch.stack.plies) - 1 + plies_for(max(pit.deepest - below, 0.0), one.thickness)
        book.add(
            "pit.plies",
            "plies to fill it flush",
            needed,
            Kind.COUNT,
            "plies as chosen, the last one repeated until the deepest place is flush",
            (deepest.given(), Given("one more ply", one.thickness, Kind.SIZE, Origin.WORKED)),
        )
    fills = putty_by_depth(pit, patch.stack, shelf.rule("fill.deep"), shelf.rule("fill.shallow"))
    parts = tuple(Given(f"{f.name}, over {fixed(f.area, 3)} m²", f.volume, Kind.VOLUME, Origin.WORKED) for f in fills)
    book.add(
        "pit.putty",
        "putty, by depth",
        sum(f.volume for f in fills),
        Kind.VOLUME,
        "what the plies leave unfilled, sorted by its depth",
        (*parts, shelf.given("fill.deep"), shelf.given("fill.shallow")),
        source="[20]",
        valid="a grid of 10,000 cells: about 1 %",
    )
    return deepest


def _skin_working(skin: Skin) -> tuple[str, tuple[Given, ...]]:
    if skin.thickness is not None:
        return "as measured", (fact("thickness", skin.thickness, Kind.SIZE, measured=True),)
    plies = text_of(skin.plies)
    return "sum of the cured thickness of its plies, laid by hand", (Given("plies", plies, None, Origin.YOURS),)


def _past_working(zone: Zone, bad: Figure) -> tuple[str, tuple[Given, ...]]:
    cut = zone.scheme.cut
    if cut.rule == "margin":
        return "a fixed margin into sound material", (stated("margin", cut.margin, Kind.SIZE),)
    return (
        "as far again, mean of the sides: from a fitting in the bad area or the zone's edge, else 2 × area ÷ perimeter "
        "of it",
        (bad.given(),),
    )
