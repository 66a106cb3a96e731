"""The schemes of one zone side by side: every figure computed from each as if it were the one chosen."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ribpatch.core.figure import Figure, FigureBook, Given, Origin
from ribpatch.core.hours import hours_of
from ribpatch.core.memo import remembered
from ribpatch.core.patch.bonding.protocol import sittings
from ribpatch.core.plan import zone_notices_of, zone_plan
from ribpatch.core.record import evolve
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind, System, shown

if TYPE_CHECKING:
    from ribpatch.core.job import Boat, ShedAir, Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.notice import Notice
    from ribpatch.core.scheme import Scheme
    from ribpatch.core.zone_plan import ZonePlan

COLUMNS = (
    "scheme",
    "net weight",
    "stiff",
    "strong",
    "bond",
    "cost",
    "hours",
    "sittings",
    "sandings",
    "what could go wrong",
)


@remembered(128)
def as_chosen(zone: Zone, scheme: Scheme) -> Zone:
    """The zone with another of its schemes chosen."""
    if scheme is zone.scheme:
        return zone
    return evolve(zone, scheme=scheme, others=tuple(s for s in zone.schemes if s is not scheme))


class SchemeComparison(Struct, frozen=True, eq=False):
    """One scheme with what it comes to."""

    scheme: Scheme
    made: ZonePlan
    figures: dict[str, Figure]
    open_notices: tuple[Notice, ...]


def compared_schemes(
    zone: Zone, air: ShedAir, boat: Boat, shelf: Shelf, system: System
) -> tuple[SchemeComparison, ...]:
    """Every scheme of a zone, worked out."""
    found = []
    for scheme in zone.schemes:
        made = zone_plan(as_chosen(zone, scheme), air, boat, shelf)
        open_notices = tuple(
            n
            for n in zone_notices_of(made, system)
            if n.stage in ("open", "rebuild", "order") and n.about not in ("before.item", "cause")
        )
        found.append(SchemeComparison(scheme, made, _figures(made, shelf), open_notices))
    return tuple(found)


def _figures(made: ZonePlan, shelf: Shelf) -> dict[str, Figure]:
    book = FigureBook(f"{made.zone.id}.{made.zone.scheme.id}")
    if made.comparison is not None:
        held = {h.key: h.ratio for h in (made.comparison.panel or made.comparison.skin).held}
        words = "the whole panel" if made.comparison.panel else "the skin"
        stiff = min(held["bend.along"], held["bend.across"])
        strong = (
            min(v for k, v in held.items() if k.startswith("strong.bending"))
            if made.comparison.panel
            else min(v for k, v in held.items() if k.startswith("strong."))
        )
        given = (Given("compared", words, None, Origin.WORKED),)
        book.add(
            "stiff", "stiffness, new ÷ old", stiff, Kind.PERCENT, "least of along and across", given, source="[15]"
        )
        book.add(
            "strong", "strength, new ÷ old", strong, Kind.PERCENT, "least of the loads compared", given, source="[15]"
        )
    _hours(book, made, shelf)
    count = sittings(made.zone, made.patch, shelf)
    limits = (shelf.given("sitting.most"), shelf.given("sitting.thick"))
    book.add("sittings", "sittings", count, Kind.COUNT, "plies parted by count and thickness", limits)
    missed = max(count - 1, 0) if made.zone.scheme.laying.between == "cured" else 0
    book.add(
        "sandings",
        "sandings before the finish",
        missed + 1,
        Kind.COUNT,
        "one a sitting after the first where plies are cured between, and one before fairing",
    )
    return {f.id.rsplit(".", 1)[1]: f for f in book.figures}


def _hours(book: FigureBook, made: ZonePlan, shelf: Shelf) -> None:
    rows = hours_of(made)
    inputs = tuple(Given(name, value, Kind.HOURS, Origin.WORKED) for name, value in rows)
    names = ("grind.rate", "lay.rate", "core.rate", "fair.rate", "strip.hours")
    rates = tuple(shelf.given(r) for r in (*names, *(("beam.hours",) if made.needs.timber else ())))
    book.add(
        "hours",
        "hours of work",
        sum(v for _, v in rows),
        Kind.HOURS,
        "sum of areas ÷ rates",
        (*inputs, *rates),
        valid="a first estimate; waiting for cure is not in it",
    )


def scheme_table(rows: tuple[SchemeComparison, ...], chosen: str, system: System = "metric") -> Table:
    """The schemes in a table, the chosen one marked; differences against it stand in the words of each row."""
    base = next(w for w in rows if w.scheme.id == chosen)
    made = [_row(w, base, w.scheme.id == chosen, system) for w in rows]
    note = (
        "Stiffness and strength: new over old, of the whole panel where it is cored. Hours leave out waiting; days "
        "stand in Days."
    )
    return Table(COLUMNS, tuple(made), note, "Choose")


def _row(w: SchemeComparison, base: SchemeComparison, chosen: bool, system: System) -> Row:
    by_id = {
        key: figure if chosen else _of_scheme(figure, key, w)
        for key in ("weight.net", "bond.used", "cost.total")
        if (figure := w.made.by_id.get(key)) is not None
    }
    grave = [n.text for n in w.open_notices if n.grave]
    words = "; ".join(grave[:2]) + (f" and {len(grave) - 2} more" if len(grave) > 2 else "")
    if not words:
        words = f"{len(w.open_notices)} lesser warnings" if w.open_notices else "nothing known"
    cells = (
        w.scheme.name + difference(w, base, system),
        by_id["weight.net"],
        w.figures.get("stiff", "–"),
        w.figures.get("strong", "–"),
        by_id.get("bond.used", "–"),
        by_id.get("cost.total", "–"),
        w.figures["hours"],
        w.figures["sittings"],
        w.figures["sandings"],
        words,
    )
    return Row(w.scheme.id, cells, "chosen" if chosen else "", words)


def _of_scheme(figure: Figure, key: str, w: SchemeComparison) -> Figure:
    """A figure of a scheme that is not chosen: no other by its id, and its inputs lead to none of the chosen
    scheme's.
    """
    inputs = tuple(replace(given, figure="") for given in figure.inputs)
    return replace(figure, id=f"{w.made.zone.id}.{w.scheme.id}.{key}", inputs=inputs)


def difference(w: SchemeComparison, base: SchemeComparison, system: System = "metric") -> str:
    """Against the chosen scheme in a few words: heavier or lighter, dearer or cheaper."""
    if w is base:
        return ""
    weight = w.made.by_id["weight.net"].value - base.made.by_id["weight.net"].value
    hours = w.figures["hours"].value - base.figures["hours"].value
    parts = [
        f"{'+' if value >= 0 else ''}{shown(value, kind, system)}"
        for value, kind in ((weight, Kind.MASS), (hours, Kind.HOURS))
    ]
    return f" ({', '.join(parts)})"
