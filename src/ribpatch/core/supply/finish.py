"""Fairing and finish in figures and as a table: what is ground off and filled, coats by litres, hours, when the next
goes on.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.figure import FigureBook, Given, Origin
from ribpatch.core.numerals import fixed
from ribpatch.core.supply.areas import covered_area
from ribpatch.core.supply.putties import filling_in
from ribpatch.core.table import Row, Table
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.figure import Figure
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.supply.coats import CoatNeeds
    from ribpatch.core.supply.needs import Needs
    from ribpatch.core.units import System

LEAST = 1e-6  # m3, that is worth a line
WAYS = {
    "afterwards": "faired once it is cured and ground",
    "wet": "fairing rolled onto the wet laminate",
    "peel ply": "faired on what the peel ply leaves",
}


def finish_figures(book: FigureBook, zone: Zone, patch: Patch, needs: Needs, shelf: Shelf) -> None:
    """Add what the spots take and what the coats come to."""
    filling = filling_in(zone, patch, shelf)
    if filling is not None:
        spots = Given("spots read", len(zone.finish.spots), Kind.COUNT, Origin.WORKED)
        limits = tuple(shelf.given(r) for r in ("fill.deep", "fill.shallow"))
        words = "plane between the spots and the rim, in closed form over each triangle"
        for key, name, value, kind in (
            ("deepest", "deepest under fair", filling.deepest, Kind.SIZE),
            ("highest", "highest over fair", filling.highest, Kind.SIZE),
            ("off", "ground off to fair", filling.high.volume, Kind.VOLUME),
            ("deep", "filled with fibre putty", filling.deep.volume, Kind.VOLUME),
            ("middling", "filled with silica putty", filling.middling.volume, Kind.VOLUME),
            ("scratches", "filled with light putty", filling.scratches.volume, Kind.VOLUME),
        ):
            book.add(f"fair.{key}", name, value, kind, words, (spots, *limits), source="[34]")
    if zone.finish.system is None or not needs.coats:
        return
    system, area = shelf.finish(zone.finish.system), needs.coats[0].area
    over = book.add(
        "finish.area",
        "area coated",
        area,
        Kind.AREA,
        "what is faired × (1 + what is blended in)",
        (Given("area of cut and taper", covered_area(patch), Kind.AREA, Origin.WORKED), shelf.given("finish.blend")),
    )
    for n, made in enumerate(needs.coats, 1):
        coat = made.coat
        book.add(
            f"finish.{n}.volume",
            coat.name,
            made.volume,
            Kind.VOLUME,
            "area × coats ÷ spread",
            (
                over.given(),
                Given("coats", coat.coats, Kind.COUNT, shelf.origin(system.id)),
                Given("square metres a litre", coat.spread, Kind.NUMBER, shelf.origin(system.id), note=system.reason),
            ),
        )


def finish_table(zone: Zone, needs: Needs, figures: dict[str, Figure], system: System) -> Table:
    """Fairing by depth, then each coat with what it takes, its film, its thinner, the next coat and the hours."""
    rows = []
    for key, words in (
        ("off", "grind off what stands high"),
        ("deep", "fill deep places: chopped fibre"),
        ("middling", "fill middling places: silica"),
        ("scratches", "fill scratches: light putty"),
    ):
        figure = figures.get(f"fair.{key}")
        if figure is not None and figure.value > LEAST:
            rows.append(Row(f"fair.{key}", (words, figure, "", "", "", "")))
    if zone.finish.pinholes:
        words = f"{counted(zone.finish.pinholes, 'pinhole', 'pinholes')}: dry, open with a point, blow out, refill"
        why = "Behind a pinhole is air or water: let it dry before it is closed, or it opens again with the first sun."
        rows.append(Row("pinholes", (words, "", "", "", "", ""), "", why))
    for n, coat in enumerate(needs.coats, 1):
        rows.append(_coat_row(n, coat, figures.get(f"finish.{n}.volume"), system))
    columns = ("what", "amount", "film", "thinner", "next coat", "hours")
    note = f"{WAYS[zone.finish.way][:1].upper()}{WAYS[zone.finish.way][1:]}." if rows else ""
    return Table(columns, tuple(rows), note, empty="Read high and low spots, or choose a finish.")


def _coat_row(number: int, made: CoatNeeds, volume: Figure | None, system: System) -> Row:
    coat = made.coat
    sanded = f", on grit {coat.grit}" if coat.grit else ""
    again = f"from {shown(made.again_from, Kind.HOURS, system)}"
    if made.again_to is not None:
        again += f", unsanded to {shown(made.again_to, Kind.HOURS, system)}"
    thinner = shown(made.thinner, Kind.VOLUME, system) if made.thinner else "none"
    film = f"{fixed(coat.coats * coat.film * 1e6, 0)} µm"
    return Row(
        f"coat.{number}",
        (
            f"{coat.coats} × {coat.name}{sanded}",
            volume if volume is not None else "",
            film,
            thinner,
            again,
            shown(made.work, Kind.HOURS, system),
        ),
        "",
        coat.caution,
    )
