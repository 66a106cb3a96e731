"""From a zone's choices to the question of the search: which cloths, which limits; and its answer as a table."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.figure import FigureBook, Given, Origin
from ribpatch.core.laminate.layup import Layup, ply_sheets, scaled
from ribpatch.core.laminate.original import skin_layup
from ribpatch.core.laminate.ply import ply_of
from ribpatch.core.laminate.search import Cloth, Found, Limits
from ribpatch.core.laminate.stack_text import text_of
from ribpatch.core.numerals import general
from ribpatch.core.scheme import Stack, unrolled
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind, System, shown

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.records import Fabric, Process
    from ribpatch.core.materials.shelf import Shelf

MOST_FABRICS = 8
COLUMNS = ("plies, deepest first", "", "thick", "weight", "cost", "stretched", "bent", "warps")


class Question(Struct, frozen=True, eq=False):
    """What is asked of the search."""

    cloths: tuple[Cloth, ...]
    old: Layup
    limits: Limits


def cloths_of(fabrics: tuple[Fabric, ...], resin: str, process: Process, shelf: Shelf) -> tuple[Cloth, ...]:
    """Each fabric as laid along the zone; a unidirectional one, which is not alike turned, also across it."""
    system, price = shelf.resin(resin), shelf.price(resin)
    made = []
    for fabric in fabrics:
        ply = ply_of(fabric, system.density, process, shelf)
        cloth = shelf.price(fabric.id)
        cost = (cloth.price if cloth else 0.0) + ply.resin * (price.price if price else 0.0)
        for angle in (0.0, 90.0) if fabric.turn == 180 else (0.0,):
            sheets = tuple(ply_sheets(1, angle, ply.layers, system, shelf))
            made.append(Cloth(fabric, angle, sheets, ply.weight, cost))
    return tuple(made)


def usable(shelf: Shelf, resin: str, overhead: bool, process: Process) -> tuple[Fabric, ...]:
    """The fabrics that suit a resin: no mat with one that hardly dissolves its binder, none too heavy to wet
    overhead.
    """
    system = shelf.resin(resin)
    found = []
    for fabric in shelf.fabrics:
        has_mat = any(layer.kind == "mat" for layer in fabric.layers)
        heavy = overhead and ply_of(fabric, system.density, process, shelf).weight > shelf.rule("overhead.most")
        if not (has_mat and not system.mat_binder) and not heavy:
            found.append(fabric)
    return tuple(found)


def proposed(stack_fabrics: tuple[str, ...], own: tuple[Fabric, ...], fit: tuple[Fabric, ...]) -> tuple[str, ...]:
    """The fabrics to search first: the user's own and those of the stack, then the library's, up to eight, middling
    weights first.
    """
    first = [f.id for f in fit if f.id in stack_fabrics or f in own]
    rest = sorted((f for f in fit if f.id not in first), key=lambda f: (f.weight < 0.25, abs(f.weight - 0.6)))
    return tuple(dict.fromkeys([*first, *(f.id for f in rest)]))[:MOST_FABRICS]


class Wanted(Struct, frozen=True):
    """What a person lets the search use: ids of fabrics, most plies, most cloths in a stack; mirrored or not."""

    fabrics: tuple[str, ...]
    plies: int
    cloths: int
    mirrored: bool


def question_of(
    zone: Zone,
    aim: float,
    year: int | None,
    shelf: Shelf,
    wanted: Wanted,
) -> Question:
    """What to search for a zone: as stiff as its old skin drawn to the thickness ``aim`` m that is to be reached."""
    scheme = zone.scheme
    old = skin_layup(zone.rebuilt_skin, year, shelf)
    if aim > 0:
        old = scaled(old, aim)
    cloths = cloths_of(tuple(shelf.fabric(f) for f in wanted.fabrics), scheme.resin.main, scheme.laying.process, shelf)
    most = shelf.rule("hard.surplus")
    thick = old.thickness * most + scheme.laminate.crown.si
    limits = Limits(
        old.thickness, thick, shelf.rule("match.least"), most, wanted.plies, wanted.cloths, symmetric=wanted.mirrored
    )
    return Question(cloths, old, limits)


def table_of(
    found: tuple[Found, ...],
    limits: Limits,
    shelf: Shelf,
    prefix: str,
    now: tuple[tuple[str, float], ...],
    system: System = "metric",
) -> Table:
    """The alternatives with their figures."""
    rows = []
    for number, f in enumerate(found, 1):
        book = FigureBook(f"{prefix}.suggest.{number}")
        given = (Given("plies", text_of(f.lines), None, Origin.WORKED),)
        cells = (
            book.add("plies", "plies", f.plies, Kind.COUNT, "plies in the stack", given),
            book.add("thickness", "thickness", f.thickness, Kind.SIZE, "sum of the cured plies", given, source="[2]"),
            book.add("weight", "weight", f.weight, Kind.AREAL, "sum of the cured plies", given, source="[2]"),
            book.add("cost", "cost a square metre", f.price, Kind.MONEY, "cloth and the resin in it, no waste", given),
        )
        ratios = "least of along and across, new ÷ old"
        stretch = book.add(
            "stretch", "stretching, new ÷ old", min(f.stretch), Kind.PERCENT, ratios, given, source="[15]"
        )
        bend = book.add("bend", "bending, new ÷ old", min(f.bend), Kind.PERCENT, ratios, given, source="[15]")
        pull = book.add(
            "pull",
            "warps by being uneven about its middle",
            f.pull,
            Kind.PERCENT,
            "largest B × 2 ÷ (A × thickness)",
            given,
            source="[15]",
        )
        rows.append(
            Row(
                str(number - 1),
                (_names(f, shelf), *cells, stretch, bend, pull),
                "chosen" if stack_key(f.lines) == now else "",
            )
        )
    thick = f"{shown(limits.thin, Kind.SIZE, system)} to {shown(limits.thick, Kind.SIZE, system)} thick"
    note = (
        f"Every stack of these cloths with up to {limits.plies} plies of {limits.cloths} different ones was tried; "
        "each one here is "
        f"{thick} and {limits.least:.0%} to {limits.most:.0%} as stiff as the "
        "old laminate, stretched and bent, both ways. Lightest first, then fewest plies, then cheapest."
    )
    return Table(
        COLUMNS,
        tuple(rows),
        note,
        "Take",
        "No stack of these cloths keeps the limits. Tick other cloths or widen the limits.",
    )


def stack_key(stack: Stack) -> tuple[tuple[str, float], ...]:
    """The plies of a stack one by one, to tell whether it is the one in use."""
    return tuple((line.fabric, line.angle) for line in unrolled(stack) for _ in range(line.count))


def _names(found: Found, shelf: Shelf) -> str:
    return ", ".join(
        (f"{line.count} × " if line.count > 1 else "")
        + shelf.fabric(line.fabric).name.replace(" g/m2", "").replace("axial", "ax")
        + (f" @ {general(line.angle)}°" if line.angle else "")
        for line in found.lines
    )
