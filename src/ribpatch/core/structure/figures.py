"""Figures and tables of what a zone carries: every check in every state, margins, scantlings, readings to expect."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.figure import Figure, FigureBook, Given, Origin, stated
from ribpatch.core.structure.pressure import METHOD, VALID, area_of, aspect_factor, size_of
from ribpatch.core.structure.proved import Check, Proved
from ribpatch.core.structure.run import RunModel
from ribpatch.core.structure.scantlings import (
    EMPIRICAL,
    Change,
    Scantling,
    applies,
    becomes_light,
    plies_of,
    scantlings,
)
from ribpatch.core.structure.strength import BETWEEN, ZoneStrength
from ribpatch.core.structure.trial import Expected, judge
from ribpatch.core.structure.zone_panel import STATE_NAMES, State
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.structure.tab_run import TabRun
    from ribpatch.core.table import Cell
    from ribpatch.core.units import System

DECIDE = "Screening: local codes, the builder's data, a licensed surveyor or naval architect decide."
SCREEN = (
    "screening: flat panel, small deflections, edges as stated; local codes, the builder's data, a licensed surveyor "
    "or naval architect decide"
)


def prove_figures(made: ZoneStrength, prefix: str) -> tuple[Figure, ...]:
    """Every figure of a zone's strength; none where it cannot be worked out."""
    book = FigureBook(f"{prefix}.prove")
    model = None if made.fault else made.model  # a fault is told in place, by the rung's warnings
    if model is not None:
        given = _given(model)
        for state in model.states:
            for check in model.checks_in(state):
                _check_figures(book, check, state, given)
        if isinstance(model, Proved):
            _foot_figure(book, model, given)
            _trial_figures(book, made, given)
        elif isinstance(model, RunModel):
            _run_figures(book, model, given)
    _scantling_figures(book, made)
    return book.figures


def one_figure(made: ZoneStrength, state: State, key: str, case: str = "") -> Figure | None:
    """The figure of one check by itself, without all the others being worked out; none if not governed by ``case``."""
    model = None if made.fault else made.model
    checks = model.checks_in(state) if model is not None else ()
    found = next((c for c in checks if c.key == key and case in ("", c.case)), None)
    if model is None or found is None:
        return None
    book = FigureBook(f"{made.zone.id}.prove")
    _check_figures(book, found, state, _given(model))
    return book.figures[0]


def _given(model: Proved | RunModel | TabRun) -> tuple[Given, ...]:
    if isinstance(model, Proved):
        return _panel_given(model)
    if isinstance(model, RunModel):
        return _run_given(model)
    return (
        Given("line load", model.load, Kind.TENSION, Origin.WORKED, note=METHOD),
        Given("longest leg, new", model.new_leg, Kind.SIZE, Origin.WORKED),
        Given("longest leg, old", model.old_leg, Kind.SIZE, Origin.DEFAULT, note="assumed"),
    )


def _panel_given(model: Proved) -> tuple[Given, ...]:
    panel, zone = model.panel, model.zone
    spans = zone.proof.span
    words = {"S": "supported", "C": "clamped", "F": "free"}
    sides = zip(("left", "right", "bottom", "top"), panel.edges.all, strict=True)
    edges = tuple(
        Given(f"edge, {side}", words[how], None, Origin.DEFAULT if side in panel.assumed else Origin.YOURS)
        for side, how in sides
    )
    return (
        Given("span along", panel.a, Kind.SIZE, Origin.YOURS if spans.length else Origin.MEASURED, note=panel.outline),
        Given("span across", panel.b, Kind.SIZE, Origin.YOURS if spans.width else Origin.MEASURED),
        *edges,
        Given("D11 as built", float(panel.laminate.stiffness.D[0, 0]), Kind.BENDING, Origin.WORKED),
        Given("D22 as built", float(panel.laminate.stiffness.D[1, 1]), Kind.BENDING, Origin.WORKED),
        Given("shear stiffness as built", float(panel.laminate.stiffness.S[0, 0]), Kind.TENSION, Origin.WORKED),
        Given("what the bad area is", panel.bad, None, Origin.WORKED),
    )


def _run_given(model: RunModel) -> tuple[Given, ...]:
    run = model.zone.proof.run
    return (
        Given("span", model.span, Kind.SIZE, Origin.DEFAULT if "span" in model.assumed else Origin.YOURS),
        Given("plating", model.plating, Kind.SIZE, Origin.DEFAULT if "plating" in model.assumed else Origin.YOURS),
        stated("spacing", run.spacing, Kind.SIZE),
        Given("pressure", model.pressure, Kind.PRESSURE, Origin.WORKED, note=METHOD),
        Given("first end", run.first, None, Origin.YOURS),
        Given("last end", run.last, None, Origin.YOURS),
        Given("core", "counted" if run.counted else "only a former", None, Origin.YOURS),
        Given("EI as built", model.old.EI, Kind.RIGIDITY, Origin.WORKED),
    )


def _check_figures(book: FigureBook, check: Check, state: State, given: tuple[Given, ...]) -> None:
    when = STATE_NAMES[state]
    value = book.add(
        f"{state}.{check.key}",
        f"{check.name}, {when}",
        abs(check.value),
        check.kind,
        f"{check.method}; governed by {check.case}",
        given,
        limit=check.limit,
        source="[22], [23]",
        valid=SCREEN,
        warning=check.note,
    )
    limit = Given("limit", check.limit, check.kind, Origin.DEFAULT)
    book.add(
        f"{state}.{check.key}.margin",
        f"margin of {check.name}, {when}",
        min(check.margin, 999.0),
        Kind.FACTOR,
        "limit ÷ value: 1.0 and more is carried as far as this method sees",
        (value.given(), limit),
        limit=1.0,
        valid=SCREEN,
    )


def _foot_figure(book: FigureBook, model: Proved, given: tuple[Given, ...]) -> None:
    moment, case = model.foot(model.states[-1])
    if case:
        book.add(
            "foot",
            "moment handed to the stringer at a knee's foot",
            moment,
            Kind.TORQUE,
            f"EI × the knee's own turning a metre at its foot; the most, under {case}",
            given,
            source="[22], [23]",
            valid=SCREEN + "; the knee's foot is taken as held there",
        )


def _run_figures(book: FigureBook, model: RunModel, given: tuple[Given, ...]) -> None:
    rows = (("old", "as built", model.old), ("bad", "where it is bad", model.bad), ("new", "as rebuilt", model.new))
    for key, words, section in rows:
        if section is None:
            continue
        formula = "sum of E (b h³ ÷ 12 + A d²)"
        book.add(f"{key}.ei", f"EI, {words}", section.EI, Kind.RIGIDITY, formula, given, source="[25]", valid=SCREEN)
        book.add(
            f"{key}.neutral",
            f"neutral axis over the plating, {words}",
            section.neutral,
            Kind.SIZE,
            "E A z ÷ E A",
            given,
            source="[25]",
            valid=SCREEN,
        )
        for end, crown in (("crown", True), ("plating", False)):
            book.add(
                f"{key}.{end}",
                f"section modulus at the {end}, {words}",
                section.modulus_at(crown),
                Kind.SECTION,
                "EI ÷ (E z) of what lies there",
                given,
                source="[25]",
                valid=SCREEN,
            )


def _trial_figures(book: FigureBook, made: ZoneStrength, given: tuple[Given, ...]) -> None:
    trial = made.zone.proof.trial
    force = stated("test load", trial.force, Kind.FORCE)
    for state, expected in made.expected.items():
        when = STATE_NAMES[state]
        for key, value, words in (
            ("", expected.value, "expected reading"),
            (".low", expected.low, "least reading expected"),
            (".high", expected.high, "greatest reading expected"),
        ):
            book.add(
                f"trial.{state}{key}",
                f"{words}, {when}",
                value,
                Kind.SIZE,
                "deflection under the middle of the test load; band by the rules",
                (force, *given, made.shelf.given("prove.band.before"), made.shelf.given("prove.band.after")),
                source="[22], [23]",
                valid=SCREEN,
            )
    for flex in made.zone.proof.flexes:
        told = made.explained[flex.id]
        read = stated("reading", flex.read, Kind.SIZE, measured=True)
        push = stated("push", flex.force, Kind.FORCE, measured=True)
        if told.share is not None:
            book.add(
                f"flex.{flex.id}",
                "core stiffness left, by the reading",
                told.share,
                Kind.PERCENT,
                f"the share of stiffness in the bad area at which the panel gives as much; {told.words}",
                (read, push, *given),
                source="[22], [23]",
                valid=SCREEN,
            )


def _scantling_figures(book: FigureBook, made: ZoneStrength) -> None:
    size, shelf = size_of(made.boat), made.shelf
    given = (
        Given("empirical number Sn", size.number, Kind.FACTOR, Origin.WORKED, note="length × beam × depth ÷ 28.32"),
        Given("factor of a heavy boat", size.factor, Kind.FACTOR, Origin.WORKED),
    )
    warning = applies(made.boat)
    for row in members_by_rule(made):
        book.add(
            f"scant.{row.key}",
            f"{row.name}, {row.what}",
            row.empirical,
            Kind.SIZE,
            EMPIRICAL + (f"; {row.note}" if row.note else ""),
            given,
            source="[26]",
            valid="solid glass laminates by hand, boats of 3 to 24 m",
            warning=warning,
        )
        if row.pressure is not None:
            book.add(
                f"scant.{row.key}.pressure",
                f"{row.name}, thickness by pressure",
                row.pressure,
                Kind.SIZE,
                f"b √(P k2 ÷ (½ strength)); {METHOD}",
                _pressed(row, shelf),
                source="[26]",
                valid=VALID,
                warning=warning,
            )


def _pressed(row: Scantling, shelf: Shelf) -> tuple[Given, ...]:
    return (
        Given("panel between stiffeners, long", max(row.panel), Kind.SIZE, Origin.WORKED),
        Given("panel between stiffeners, short", min(row.panel), Kind.SIZE, Origin.WORKED),
        Given("k2 of its sides", aspect_factor(*row.panel), Kind.FACTOR, Origin.WORKED),
        shelf.given("psi.hand.mat"),
    )


def members_by_rule(made: ZoneStrength) -> tuple[Scantling, ...]:
    """Every member of the boat by both rules: the zone's own part with its own panel, the others with a usual one."""
    size, fraction = size_of(made.boat), made.shelf.rule("psi.hand.mat")
    own = {s.key: s for s in scantlings(size, made.between, fraction)}
    here = area_of(made.zone, made.boat)
    return tuple(own[s.key] if s.key == here else s for s in scantlings(size, BETWEEN, fraction))


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
    if zone.build.core is not None and zone.kind != "transom":
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


def lighter_table(made: ZoneStrength, change: Change, system: System) -> Table:
    """Every member that a changed boat asks more of, with what to add and how far it reaches."""
    engine = made.zone.proof.engine
    power = engine.power.si if engine is not None else 0.0
    rows = []
    for row in becomes_light(made.boat, change, BETWEEN, made.shelf.rule("psi.hand.mat"), power):
        cells: tuple[Cell, ...] = (
            row.name,
            shown(row.now, Kind.SIZE, system),
            shown(row.then, Kind.SIZE, system),
            shown(row.add, Kind.SIZE, system),
            shown(row.reach, Kind.SIZE, system),
        )
        rows.append(Row(row.key, cells))
    note = "Reach: how far past the place the added thickness runs before it has tapered out."
    if change.power and not power:
        note = "State the present engine on a transom first: power is held against it. " + note
    empty = "Nothing becomes too light by this."
    return Table(("member", "now", "then", "add", "reach"), tuple(rows), note, empty=empty)
