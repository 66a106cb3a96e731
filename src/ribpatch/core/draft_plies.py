"""Plies for a draft: the best of every stack of likely cloths that keeps the limits, by the goal of the draft."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.errors import Fault
from ribpatch.core.laminate.search import Rank, search
from ribpatch.core.laminate.stack import plies_for, skin_thickness, stack_up
from ribpatch.core.laminate.stack_text import named_text
from ribpatch.core.laminate.suggest import Question, Wanted, proposed, question_of, usable
from ribpatch.core.scheme import MOST_PLIES, Stack, StackLine
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.laminate.search import Found
    from ribpatch.core.units import System
    from ribpatch.core.zone_plan import ZonePlan

CLOTHS, MOST_OF_THEM, DIFFERENT = 6, 12, 2


class PliesFound(Struct, frozen=True):
    """A stack with its words and the reason."""

    plies: Stack
    words: str
    why: str


def plies_for_goal(made: ZonePlan, goal: str, system: System) -> PliesFound:
    """The stack for a zone as it is opened: of those that match the old skin the one that serves the goal best; where
    none does, one cloth counted up to the thickness, which is told.
    """
    zone, shelf = made.zone, made.shelf
    scheme = zone.scheme
    fit = usable(shelf, scheme.resin.main, scheme.laying.overhead, scheme.laying.process)
    names = proposed((), (), fit)[:CLOTHS]
    aim = made.aim or skin_thickness(zone.rebuilt_skin, shelf)  # tabbing tapers nothing, and is as thick as it was
    question = question_of(zone, aim, made.year, shelf, Wanted(names, MOST_OF_THEM, DIFFERENT, False))
    found = [f for first in _FIRST[goal] for f in _found(question, first)]
    if found:
        # Each search puts the best by its own measure first; of both, few plies that are not heavy.
        best = min(found, key=lambda f: (f.plies * f.weight, f.price)) if goal == "sound" else found[0]
        many = (
            f"one of {len(found)} stacks of usual cloths that match"
            if len(found) > 1
            else "the only stack that matches"
        )
        least = min(*best.stretch, *best.bend)
        why = (
            f"{many} the old skin: {shown(best.thickness, Kind.SIZE, system)} for "
            f"{shown(aim, Kind.SIZE, system)}, {least:.0%} as stiff at least; {_MERITS[goal]}"
        )
        return PliesFound(best.lines, named_text(best.lines, shelf), why)
    return _counted(made, aim, system)


_MERITS = {
    "sound": "fewest plies for their weight",
    "cheapest": "the cheapest of them",
    "lightest": "the lightest of them",
    "quickest": "the fewest plies of them",
}


_FIRST: dict[str, tuple[Rank, ...]] = {
    "sound": ("weight", "plies"),
    "cheapest": ("price",),
    "lightest": ("weight",),
    "quickest": ("plies",),
}


def _found(question: Question, first: Rank) -> tuple[Found, ...]:
    try:
        return search(question.cloths, question.old, question.limits, first=first)
    except Fault:
        return ()


def _counted(made: ZonePlan, aim: float, system: System) -> PliesFound:
    """One cloth, as many plies as it takes."""
    scheme, shelf = made.zone.scheme, made.shelf
    fabric = shelf.first_fabric
    one = stack_up((StackLine(fabric=fabric),), scheme.resin.main, scheme.laying.process, shelf).thickness
    count = min(MOST_PLIES, max(1, plies_for(aim, one)))
    lines = (StackLine(fabric=fabric, count=count),)
    why = f"no stack of usual cloths matches the old skin in every way: counted up to {shown(aim, Kind.SIZE, system)}"
    return PliesFound(lines, named_text(lines, shelf), why)
