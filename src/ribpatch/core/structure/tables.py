"""Tables and charts of what a zone carries: margins, scantlings, readings, what becomes too light."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.structure.figures import members_by_rule
from ribpatch.core.structure.pressure import area_of
from ribpatch.core.structure.scantlings import Change, Lighter, applies, becomes_light, plies_of
from ribpatch.core.structure.strength import BETWEEN, ZoneStrength
from ribpatch.core.structure.trial import Expected, judge
from ribpatch.core.structure.zone_panel import STATE_NAMES
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.table import Cell
    from ribpatch.core.units import System

DECIDE = "Screening: local codes, the builder's data, a licensed surveyor or naval architect decide."


def margin_table(made: ZoneStrength, system: System) -> Table | None:
    """Check, value in every state, limit, margin as planned, governing case, method."""
    model = None if made.fault else made.model
    if model is None:
        return None
    last = model.states[-1]
    rows = []
    for check in model.checks_in(last):
        cells: list[Cell] = [check.name]
        cells += [made.by_id.get(f"{state}.{check.key}") or "–" for state in ("before", "damaged", "repaired")]
        cells += [shown(check.limit, check.kind, system), made.by_id.get(f"{last}.{check.key}.margin") or "–"]
        cells.append(check.case)
        why = f"{check.note}; {check.method}" if check.note else check.method
        rows.append(Row(check.key, tuple(cells), "warn" if check.margin < 1 else "", why))
    columns = ("check", "before", "damaged", "repaired", "limit", "margin", "governed by")
    note = f"Margin: limit ÷ value, {STATE_NAMES[last]}; each row tells its method under the pointer. {DECIDE}"
    return Table(columns, tuple(rows), note, "Ask back")


def scantling_table(made: ZoneStrength, system: System) -> Table:
    """Every member by both rules, in layers of the shop's own cloth, with what was measured here."""
    zone, shelf = made.zone, made.shelf
    heaviest = max((p.ply.fabric for p in made.patch.stack.plies), key=lambda f: f.weight, default=None)
    fabric = heaviest.id if heaviest is not None else shelf.first_fabric
    resin = zone.scheme.resin.main
    measured = _measured(made)
    rows = []
    for row in members_by_rule(made):
        by_number = made.by_id.get(f"scant.{row.key}")
        by_pressure = made.by_id.get(f"scant.{row.key}.pressure")
        wanted = max(row.empirical, row.pressure or 0.0)
        layers = "–"
        if row.what == "thickness" and row.key != "bulkhead":
            count, _one = plies_of(wanted, fabric, shelf, resin)
            layers = f"{count} layers"
        here = measured.get(row.key)
        cells: tuple[Cell, ...] = (
            row.name if row.what == "thickness" else f"{row.name}: {row.what}",
            by_number or "–",
            by_pressure or "–",
            layers,
            shown(here, Kind.SIZE, system) if here is not None else "",
        )
        rows.append(Row(row.key, cells, "warn" if here is not None and here < wanted - 1e-4 else "", row.note))
    cloth = shelf.fabric(fabric).name
    note = f"Layers: of {cloth} by hand, for the larger of the two. {applies(made.boat)}".strip()
    columns = ("member", "by the number", "by pressure", "in this cloth", "measured here")
    return Table(columns, tuple(rows), note)


def _measured(made: ZoneStrength) -> dict[str, float]:
    """Solid thickness measured in this zone, by the member that it belongs to; nothing for a cored one."""
    from ribpatch.core.laminate.stack import skin_thickness

    zone = made.zone
    if zone.is_run:
        return {"stringer-laminate": skin_thickness(zone.build.outer, made.shelf)}
    if zone.kind == "bulkhead" or (zone.build.core is not None and zone.kind != "transom"):
        return {}
    skins = [s for s in (zone.build.outer, zone.build.inner) if s is not None]
    return {area_of(zone, made.boat): sum(skin_thickness(s, made.shelf) for s in skins)}


def trial_table(made: ZoneStrength, system: System) -> Table | None:
    """What a load test should read, what was read, and what that says; then every measured flex."""
    if made.fault or made.proved is None:
        return None
    trial, rows = made.zone.proof.trial, []
    said = {"damaged": trial.before, "repaired": trial.after}
    verdict = judge(trial, made.expected.get("damaged"), made.expected.get("repaired"))
    for state, expected in made.expected.items():
        read = said.get(state)
        figure = made.by_id.get(f"trial.{state}")
        cells: tuple[Cell, ...] = (
            f"test, {STATE_NAMES[state]}",
            figure or "–",
            _band(expected, system),
            shown(read.si, Kind.SIZE, system) if read is not None else "",
            "",
        )
        rows.append(Row(state, cells))
    if verdict is not None:
        told_so = (verdict[0].capitalize(), "", "", "", verdict[1])
        rows.append(Row("verdict", told_so, "" if verdict[0] == "as expected" else "warn"))
    for flex in made.zone.proof.flexes:
        told = made.explained[flex.id]
        push = shown(flex.force.si, Kind.FORCE, system)
        cells = (
            f"push of {push}",
            shown(told.surveyed.value, Kind.SIZE, system),
            _band(told.surveyed, system),
            shown(flex.read.si, Kind.SIZE, system),
            told.words,
        )
        rows.append(Row(f"flex.{flex.id}", cells, "" if told.agrees else "warn", told.words))
    columns = ("reading", "expected", "band", "read", "says")
    return Table(columns, tuple(rows), DECIDE)


def _band(expected: Expected, system: System) -> str:
    return f"{shown(expected.low, Kind.SIZE, system)} to {shown(expected.high, Kind.SIZE, system)}"


def lighter(made: ZoneStrength, change: Change) -> tuple[Lighter, ...]:
    """Every member that a changed boat asks more of."""
    engine = made.zone.proof.engine
    power = engine.power.si if engine is not None else 0.0
    return becomes_light(made.boat, change, BETWEEN, made.shelf.rule("psi.hand.mat"), power)


def lighter_table(made: ZoneStrength, change: Change, system: System) -> Table:
    """Every member that a changed boat asks more of, with what to add and how far it reaches."""
    rows = []
    for row in lighter(made, change):
        cells: tuple[Cell, ...] = (
            row.name,
            shown(row.now, Kind.SIZE, system),
            shown(row.then, Kind.SIZE, system),
            shown(row.add, Kind.SIZE, system),
            shown(row.reach, Kind.LENGTH, system) if row.reach is not None else "–",
        )
        rows.append(Row(row.key, cells))
    note = (
        "Reach: from its place to where a local thickening has tapered out, on the boat at the dashes. Chain plates, "
        "bulkheads, frames and floors are drawn where they usually stand."
    )
    if change.power and made.zone.proof.engine is None:
        note = "State the present engine on a transom first: power is held against it. " + note
    empty = "Nothing becomes too light by this."
    return Table(("member", "now", "then", "add", "reach"), tuple(rows), note, empty=empty)
