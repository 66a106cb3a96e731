"""Why no schedule can keep all rules: a set of rulings that clash of which none can be left out, and which of them,
let go by itself, would free it.
"""

from __future__ import annotations

from time import monotonic
from typing import TYPE_CHECKING

import msgspec

from ribpatch.core.calendar.first import first_schedule
from ribpatch.core.calendar.problem import Clash, Ruling
from ribpatch.core.calendar.rulings import let_go, nowhere, rulings_of
from ribpatch.scheduler.solve import is_infeasible

if TYPE_CHECKING:
    from ribpatch.core.calendar.problem import Problem

EACH = 3.0  # s for one question


def clash_of(problem: Problem, seconds: float) -> Clash | None:
    """What clashes; None where a schedule can be, or where it was not found out whether one can."""
    lost = [(t, r) for t in problem.tasks if (r := nowhere(problem, t))]
    if lost:
        against = tuple(Ruling("place", t.id) for t, _ in lost)
        return Clash(against, tuple(dict.fromkeys(r for _, rows in lost for r in rows)))
    if _can(problem) is not False:
        return None
    until = monotonic() + seconds
    against = _least(problem, until)
    frees = tuple(_how_far(problem, r) for r in against if monotonic() < until and _can(let_go(problem, r)))
    if not frees and monotonic() < until and Ruling("people") not in against:
        more = Ruling("people")
        frees = (more,) if _can(let_go(problem, more)) else ()
    return Clash(against or (Ruling("days"),), frees or (Ruling("days"),))


def _can(problem: Problem) -> bool | None:
    if first_schedule(problem) is not None:
        return True
    made = is_infeasible(problem, EACH)
    return None if made is None else not made


def _least(problem: Problem, until: float) -> tuple[Ruling, ...]:
    """Rulings that clash, none of them for nothing: each is let go for good if what is left still clashes."""
    kept = []
    for ruling in rulings_of(problem):
        without = let_go(problem, ruling)
        if monotonic() < until and _can(without) is False:
            problem = without
        else:
            kept.append(ruling)
    return tuple(kept)


def _how_far(problem: Problem, ruling: Ruling) -> Ruling:
    """How far a last or first slot must be let go."""
    if ruling.kind != "latest":
        return ruling
    free = let_go(problem, ruling)
    low, high = problem.task(ruling.step).latest or 0, problem.slots
    while low < high:
        middle = (low + high) // 2
        tasks = tuple(msgspec.structs.replace(t, latest=middle) if t.id == ruling.step else t for t in free.tasks)
        if _can(msgspec.structs.replace(free, tasks=tasks)):
            high = middle
        else:
            low = middle + 1
    return Ruling(ruling.kind, ruling.step, ruling.before, high)
