"""How sure a finish is: the plan worked through many times with other hours, by the order of its steps.

Hours of a step are off by a factor of its own and by one that all steps of the job share, both log-normal; waits by one
of their own. What was planned to come first still comes first; windows that are then missed are abraded. Monte Carlo
with a seed, so that the same plan has the same range.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from ribpatch.core.calendar.first import replayed

if TYPE_CHECKING:
    from ribpatch.core.calendar.problem import Problem, Schedule

LOW, HIGH = 0.05, 0.95


class Spread(Struct, frozen=True):
    """How far hours are off, as deviations of their logarithm: all together, each by itself, and waits."""

    common: float
    each: float
    waits: float
    runs: int = 60
    seed: int = 1


def finish_range(problem: Problem, plan: Schedule, spread: Spread) -> tuple[int, int]:
    """The slots between which nine in ten finish; a run that does not end within the calendar ends with it."""
    rng = np.random.default_rng(spread.seed)
    ends = []
    for _ in range(spread.runs):
        common = rng.normal(0, spread.common)
        own = rng.normal(0, 1, len(problem.tasks))
        tasks = []
        for task, z in zip(problem.tasks, own.tolist(), strict=True):
            off = spread.waits * z if task.people == 0 else common + spread.each * z
            fixed = task.at is not None and task.people == 0
            # A part of a slot is worked on or not, so that short steps are not rounded up in every run.
            work = task.work * float(np.exp(off)) if not fixed else float(task.work)
            tasks.append(replace(task, work=max(int(work + rng.random()), 1) if not fixed else task.work))
        made = replayed(replace(problem, tasks=tuple(tasks)), plan)
        ends.append(made.finish if made is not None else problem.slots)
    # The order of a plan alone does not always come to the plan: what it loses by that is not the work's doing.
    same = replayed(problem, plan)
    off = same.finish - plan.finish if same is not None else 0
    low, high = (np.quantile(ends, [LOW, HIGH]) - off).tolist()
    return min(int(low), plan.finish), max(int(np.ceil(high)), plan.finish)
