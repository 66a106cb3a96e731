"""Ask the model for the earliest finish, then for the fewest missed windows, then for the fewest late hours, then for
an early start of everything; every better schedule is handed on as it is found.
"""

from __future__ import annotations

from time import monotonic
from typing import TYPE_CHECKING, Any

import msgspec
from ortools.sat.python import cp_model

from ribpatch.core.calendar.first import named
from ribpatch.core.calendar.problem import Schedule
from ribpatch.scheduler.model import Model

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.calendar.problem import Problem

WORKERS = 4
SHARES = (0.6, 0.5, 0.6, 1.0)  # of the time left, for each of the four questions
LEAST = 0.2  # s


class _Watch(cp_model.CpSolverSolutionCallback):
    """Hands on what is found."""

    def __init__(self, told: Callable[[Any], None]) -> None:
        super().__init__()
        self._told = told

    def on_solution_callback(self) -> None:
        """One that is better than before."""
        self._told(self)


def best_schedule(
    problem: Problem, seconds: float, known: Schedule | None, told: Callable[[Schedule], None]
) -> Schedule | None:
    """The best schedule found in some seconds; None where none is, or none can be (see ``is_infeasible``)."""
    made = Model(problem, known.finish if known is not None else None)
    if made.impossible:
        return None
    began, best, bound = monotonic(), known, 0
    goals = [made.finish, made.sandings, made.late, sum(s.start for s in made.steps.values())]
    proven = [isinstance(goal, int) for goal in goals]
    for n, goal in enumerate(goals):
        if proven[n]:
            continue
        solver = _solver(max((seconds - (monotonic() - began)) * SHARES[n], LEAST))
        made.ask(goal, best)
        watch = _Watch(lambda values: told(_schedule(made, values, 0, False))) if n == 0 else None
        status = solver.solve(made.model, watch)
        if n == 0 and status == cp_model.INFEASIBLE:
            return None
        if n == 0:
            bound = max(round(solver.best_objective_bound), 0)
        if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            break
        proven[n] = status == cp_model.OPTIMAL
        best = _schedule(made, solver, bound, proven[0])
        told(best)
        made.model.add(goal <= round(solver.objective_value))
    if best is None:
        return None
    return msgspec.structs.replace(best, bound=bound, proven=proven[0], best=all(proven[:3]))


def _solver(seconds: float) -> cp_model.CpSolver:
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = seconds
    solver.parameters.num_workers = WORKERS
    solver.parameters.random_seed = 1
    # Domains of many pieces make the later rounds of presolving cost more than the search.
    solver.parameters.max_presolve_iterations = 1
    solver.parameters.cp_model_probing_level = 0
    return solver


def is_infeasible(problem: Problem, seconds: float) -> bool | None:
    """Whether no schedule can keep the rules; None where that was not found out."""
    made = Model(problem)
    if made.impossible:
        return True
    status = _solver(seconds).solve(made.model)
    if status == cp_model.INFEASIBLE:
        return True
    return False if status in (cp_model.OPTIMAL, cp_model.FEASIBLE) else None


def _schedule(made: Model, values: Any, bound: int, proven: bool) -> Schedule:
    """The schedule of a solution."""
    put, sandings, late = {}, 0, 0
    read = values.boolean_value if hasattr(values, "boolean_value") else values.BooleanValue
    for step in made.steps.values():
        n = next(n for n, p in enumerate(step.picked) if read(p))
        mode, start = step.modes[n], int(values.value(step.start))
        put[step.task.id] = (start, start + mode.span, mode.team, mode.missed)
        sandings += mode.missed
        late += mode.late
    finish = max((p[1] for p in put.values()), default=0)
    return Schedule(named(made.problem, made.crew, put), finish, bound, sandings, late, proven)
