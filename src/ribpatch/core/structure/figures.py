"""Figures and tables of what a zone carries: every check in every state, margins, scantlings, readings to expect."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.figure import Figure, FigureBook, Given, Origin, stated
from ribpatch.core.structure.pressure import METHOD, VALID, area_of, aspect_factor, size_of
from ribpatch.core.structure.proved import Check, Proved, Shows
from ribpatch.core.structure.run import RunModel
from ribpatch.core.structure.scantlings import (
    EMPIRICAL,
    Scantling,
    applies,
    scantlings,
)
from ribpatch.core.structure.strength import BETWEEN, ZoneStrength
from ribpatch.core.structure.zone_panel import STATE_NAMES, State
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.structure.tab_run import TabRun

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


def shown_figure(made: ZoneStrength, case: str, shows: Shows) -> Figure | None:
    """The figure that a map is about, in the state that the repair comes to; none if another case governs it."""
    proved = None if made.fault else made.proved
    if proved is None:
        return None
    key = f"deflection.{case}" if shows == "deflection" else shows
    return one_figure(made, proved.states[-1], key, next((c.name for c in proved.cases if c.key == case), ""))


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
