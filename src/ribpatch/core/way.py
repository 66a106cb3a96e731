"""The way to a first plan of a zone: what is there, what is still missing, and where to go for it.

A step that is done for now counts as done: what is assumed may stay so, and a cause may stay open.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from msgspec import Struct

from ribpatch.core.facts import zone_facts

if TYPE_CHECKING:
    from ribpatch.core.job import StageId
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan

FEW = 8  # readings that make a beginning of a survey


class WayStep(Struct, frozen=True):
    """One step: its name, whether it is done, what is missing in words, and the stage or action that goes on."""

    key: Literal["zone", "measure", "read", "cause", "draft", "clear", "paper"]
    name: str
    done: bool
    missing: str
    stage: StageId | None = None
    action: str = ""


def way_of(plan: Plan, zone: str) -> tuple[WayStep, ...]:
    """The steps of a zone in their order; only the first where there is no zone yet."""
    made = next((z for z in plan.zones if z.zone.id == zone), None)
    if made is None:
        return (WayStep("zone", "zone", False, "say what is wrong with her", None, "add_zone"),)
    return (_measured(made), _read(made), _cause(made), _drafted(made), _cleared(plan, made), _paper())


def next_step(steps: tuple[WayStep, ...]) -> WayStep:
    """The first step that is not done; the last one stands open for good."""
    return next((s for s in steps if not s.done), steps[-1])


def _measured(made: ZonePlan) -> WayStep:
    left = [f.name for f in zone_facts(made.zone) if f.assumed]
    many = f"{len(left)} of its sizes are assumed: {', '.join(left[:3])}{' …' if len(left) > 3 else ''}"
    done = not left or "boat" in made.zone.done
    return WayStep("measure", "measured" if not left else "sizes", done, many if left else "", "boat")


def _read(made: ZonePlan) -> WayStep:
    from ribpatch.core.diagnosis.zone import sound_as_surveyed

    zone = made.zone
    count = len(zone.survey.readings)
    if not made.patch.extent.likely.is_empty or sound_as_surveyed(zone, made.shelf):
        return WayStep("read", "read", True, "", "find")
    words = (
        "read the zone on its grid, or draw the extent"
        if count < FEW
        else f"{count} readings show no damage yet: read on, or draw the extent"
    )
    return WayStep("read", "readings", "find" in zone.done, words, "find")


def _cause(made: ZonePlan) -> WayStep:
    from ribpatch.core.diagnosis.zone import said_in, sound_as_surveyed

    zone = made.zone
    known = bool(said_in(zone, made.shelf)) or sound_as_surveyed(zone, made.shelf)
    words = "" if known else "answer what you saw: why did it fail?"
    return WayStep("cause", "cause", known or "cause" in zone.done, words, "cause")


def _drafted(made: ZonePlan) -> WayStep:
    scheme = made.zone.scheme
    begun = bool(scheme.laminate.plies or scheme.reasons or scheme.core.material)
    ready = not made.patch.extent.likely.is_empty
    words = "" if begun else "draft the repair in one press" if ready else "a draft waits for the damage"
    return WayStep("draft", "draft", begun or "rebuild" in made.zone.done, words, "open", "draft")


def _cleared(plan: Plan, made: ZonePlan) -> WayStep:
    """No grave warning is open: of its strength too, where that was worked out already."""
    zone = made.zone.id
    found = [*plan.notices_of(zone), *(plan.prove_notices_of(zone) if made.has_strength else ())]
    grave = [n for n in found if n.grave]
    if not grave:
        return WayStep("clear", "no grave warning", True, "")
    more = f" ({len(grave) - 1} more)" if len(grave) > 1 else ""
    return WayStep("clear", "grave warnings", False, f"still open: {grave[0].text}{more}", grave[0].stage)  # type: ignore[arg-type]  # notices name stages


def _paper() -> WayStep:
    words = "a first plan stands: print the work pack, or go on in any stage"
    return WayStep("paper", "paper", False, words, None, "print_paper")
