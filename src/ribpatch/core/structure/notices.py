"""Warnings of a zone's strength: what is not carried, what is assumed, hard spots, loads on a weaker neighbour."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from ribpatch.core.notice import Notice, NoticeBuilder
from ribpatch.core.numerals import fixed
from ribpatch.core.structure.proved import Proved
from ribpatch.core.structure.run import RunModel
from ribpatch.core.structure.zone_panel import STATE_NAMES
from ribpatch.core.text import together
from ribpatch.core.units import Kind, shown, shown_beside

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from ribpatch.core.job import Zone
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.structure.proved import Check
    from ribpatch.core.structure.strength import ZoneStrength
    from ribpatch.core.structure.tab_run import TabRun
    from ribpatch.core.units import System

LEAST_BENDING = 0.6  # of the old laminate's: below it a repair leans on what is round it


def prove_notices(made: ZoneStrength, system: System) -> tuple[Notice, ...]:
    """All of them."""
    told = NoticeBuilder(made.zone.id, system)
    if made.fault:
        words = made.fault
        what, _, mend = words.partition(". ")
        return (told.add("prove", "panel", "prove.fault", f"{what}.", mend or "Mend it in the fields here.", True),)
    model = made.model
    if model is None:
        return tuple(_nothing(told, made))
    return (
        *_margins(told, model, system),
        *_assumed(told, model),
        *_spots(told, made),
        *_knees(told, made),
        *_not_laid(told, made),
        *_well_told(told, model, system),
    )


def _nothing(told: NoticeBuilder, made: ZoneStrength) -> Iterator[Notice]:
    if made.zone.kind == "transom":
        text, clears = "No engine is stated yet: nothing loads the transom.", "Give its power and mass."
        yield told.add("prove", "engine", "prove.engine", text, clears)


def _margins(told: NoticeBuilder, model: Proved | RunModel | TabRun, system: System) -> Iterator[Notice]:
    last = model.states[-1]
    if last != "repaired":
        text = "The repair has no plies yet: only the panel as it was and as it is can be shown."
        yield told.add("prove", "margins", "prove.no-plies", text, "Choose plies in Rebuild.")
    for check in model.checks_in(last):
        if check.margin < 1:
            yield _short(told, check, STATE_NAMES[last], system)


def _short(told: NoticeBuilder, check: Check, when: str, system: System) -> Notice:
    value = shown_beside(abs(check.value), check.limit, check.kind, system)
    limit = shown_beside(check.limit, abs(check.value), check.kind, system)
    ratio = shown_beside(check.margin, 1.0, Kind.FACTOR, system)
    text = f"{check.name.capitalize()}, {when}: {value} where {limit} is the limit (margin {ratio}, {check.case})."
    clears = "Ask it back in Margins: what must be added?" if not check.note else f"{check.note.capitalize()}."
    return told.add("prove", "margins", f"prove.short.{check.key}", text, clears, check.margin < 0.8)


def _assumed(told: NoticeBuilder, model: Proved | RunModel | TabRun) -> Iterator[Notice]:
    if isinstance(model, Proved):
        if model.panel.assumed:
            text = f"How the panel is held is assumed ({', '.join(model.panel.assumed)})."
            yield told.add("prove", "panel", "prove.assumed", text, "Say how each side is held.")
        if "no rectangle" in model.panel.outline:
            text = f"{model.panel.outline.capitalize()}."
            yield told.add("prove", "panel", "prove.outline", text, "State the spans between the supports.")
    elif isinstance(model, RunModel) and model.assumed:
        text = f"Assumed: {', '.join(model.assumed)}."
        yield told.add("prove", "panel", "prove.assumed", text, "Measure them and say so.")


def _well_told(told: NoticeBuilder, model: Proved | RunModel | TabRun, system: System) -> Iterator[Notice]:
    if isinstance(model, Proved) and model.panel.well is not None:
        force = shown(model.well(model.states[-1])[1], Kind.FORCE, system)
        text = f"The well is taken to push and pull with up to {force}: a bulkhead or deck must hold its forward end."
        clears = "Look at that end and at its tabbing; take the well away here where it ends in the air."
        yield told.add("prove", "engine", "prove.well", text, clears)


def _spots(told: NoticeBuilder, made: ZoneStrength) -> Iterator[Notice]:
    """A repair much stiffer, or much softer, than what it stands in."""
    model = made.model
    if not isinstance(model, Proved) or model.panel.rebuilt is None:
        return
    old, new = model.panel.laminate.stiffness.D, model.panel.rebuilt.stiffness.D
    ratios = [float(new[i, i] / old[i, i]) for i in (0, 1)]
    most = made.shelf.rule("prove.hard")
    if max(ratios) > most:
        text = f"Hard spot: {fixed(max(ratios), 1)} times as stiff as the panel round it; it draws strain to its edge."
        yield told.add("prove", "panel", "prove.hard", text, "Take plies off, or let the last ones run out further.")
    if min(ratios) < LEAST_BENDING:
        text = f"The repair is {min(ratios):.0%} as stiff as the panel round it: what is round it takes the load."
        yield told.add("prove", "panel", "prove.soft", text, "Add plies or core, or a stiffener.")


def _knees(told: NoticeBuilder, made: ZoneStrength) -> Iterator[Notice]:
    """A knee leans on what its foot stands on."""
    knees = [m for m in (*made.zone.proof.members, *made.zone.scheme.members) if m.kind == "knee"]
    if any(not m.footed for m in knees):
        text = "A knee without a stringer under its foot turns with the panel, and holds little."
        yield told.add("prove", "members", "prove.foot", text, "Carry it down to a stringer, a frame or the hull.")
    elif knees:
        proved = made.proved
        moment, _ = proved.foot(proved.states[-1]) if proved is not None else (0.0, "")
        what = f"up to {shown(moment, Kind.TORQUE, told.system)}" if moment else "their load"
        text = f"The knees hand {what} on to what their feet stand on: rotten stringers would take more than before."
        yield told.add("prove", "members", "prove.weaker", text, "Survey and prove the stringers first.")


def _not_laid(told: NoticeBuilder, made: ZoneStrength) -> Iterator[Notice]:
    """Stiffeners that a scheme adds are counted here alone."""
    added = made.zone.scheme.members
    if added:
        names = together(tuple(m.name for m in added))
        text = f"Not yet laid or bought: {names}. Counted in strength only; no cloth, resin, hours or steps are in."
        clears = "Add what it is made of as a made part in Rebuild, or take it away here."
        yield told.add("prove", "members", "prove.not-laid", text, clears)


class _Neighbour(Protocol):
    """What is asked of the plan of a zone beside."""

    @property
    def zone(self) -> Zone: ...
    @property
    def patch(self) -> Patch: ...


def moved_load(here: _Neighbour, zones: Sequence[_Neighbour], system: System) -> tuple[Notice, ...]:
    """A transom stiffened by knees that stand on stringers whose survey found damage."""
    zone = here.zone
    if zone.kind != "transom" or not any(m.kind == "knee" for m in (*zone.scheme.members, *zone.proof.members)):
        return ()
    bad = [z.zone.name for z in zones if z.zone.is_beam and not z.patch.extent.likely.is_empty]
    if not bad:
        return ()
    text = f"The knees move the engine's load to {together(bad)}, where damage was found."
    clears = "Repair the stringers before the transom is made stiffer, or carry the knees to sound structure."
    open_ones = [z for z in zones if z.zone.name in bad and not z.patch.renews_core(z.zone)]
    if not open_ones:
        text = f"The knees move the engine's load to {together(bad)}, whose repair is planned."
        clears = "Hang no engine before that is in service too."
    return (NoticeBuilder(zone.id, system).add("prove", "members", "prove.moved", text, clears, bool(open_ones)),)
