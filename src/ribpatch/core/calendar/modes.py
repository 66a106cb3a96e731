"""In what ways a step can be done: by whom, beginning when, ending when, how much of it late.

People who keep the same hours and may do the same are one class. For every set of classes that is enough for a step
the slots at which it can begin are found, with the slot at which it then ends. Starts with the same length and the
same late hours are one mode.
"""

from __future__ import annotations

from itertools import combinations_with_replacement
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

if TYPE_CHECKING:
    from collections.abc import Iterator

    from numpy.typing import NDArray

    from ribpatch.core.calendar.problem import Problem, Task, Worker

    Ints = NDArray[np.int64]
    Flags = NDArray[np.bool_]

LONGEST = 14 * 24 * 3600.0  # s from begin to end of a step that is split


class CrewClass(Struct, frozen=True, eq=False):
    """People with the same hours and skills: who, when they are there (slots,), when that is late (slots,)."""

    names: tuple[str, ...]
    skills: frozenset[str]
    there: Flags
    late: Flags


class Mode(Struct, frozen=True, eq=False):
    """A step done by a team (how many of each class), of one length and one amount of late work, from any of
    ``starts``; with ``missed`` it carries the work of a missed window.
    """

    team: tuple[int, ...]
    missed: bool
    span: int
    late: int
    starts: Ints


def crew_classes(problem: Problem) -> tuple[CrewClass, ...]:
    """The crew, by hours and skills; someone who is named in a step is a class of their own."""
    named = {name for task in problem.tasks for name in task.by}
    rows: dict[tuple[object, ...], list[Worker]] = {}
    for worker in problem.crew:
        key = (worker.shifts, frozenset(worker.skills), worker.name if worker.name in named else "")
        rows.setdefault(key, []).append(worker)
    made = []
    for workers in rows.values():
        there, late = np.zeros(problem.slots, bool), np.zeros(problem.slots, bool)
        for start, end, is_late in workers[0].shifts:
            there[max(start, 0) : max(end, 0)] = True
            if is_late:
                late[max(start, 0) : max(end, 0)] = True
        made.append(CrewClass(tuple(w.name for w in workers), frozenset(workers[0].skills), there, late))
    return tuple(made)


def modes_of(task: Task, problem: Problem, crew: tuple[CrewClass, ...], extra: int = 0) -> tuple[Mode, ...]:
    """Every way of doing a step; with ``extra`` slots those after a missed window too."""
    made = []
    for missed, work in ((False, task.work), *(((True, task.work + extra),) if extra else ())):
        for team in teams_of(task, crew):
            made += _of_team(task, problem, crew, team, work, missed)
    return tuple(made)


def teams_of(task: Task, crew: tuple[CrewClass, ...]) -> Iterator[tuple[int, ...]]:
    """How many of each class, every sum that is enough."""
    if task.people == 0:
        yield (0,) * len(crew)
        return
    fit = [
        n
        for n, c in enumerate(crew)
        if (not task.skill or task.skill in c.skills) and (not task.by or set(task.by) & set(c.names))
    ]
    for chosen in combinations_with_replacement(fit, task.people):
        counts = tuple(chosen.count(n) for n in range(len(crew)))
        if all(k <= len(c.names) for k, c in zip(counts, crew, strict=True)):
            yield counts


def _of_team(
    task: Task, problem: Problem, crew: tuple[CrewClass, ...], team: tuple[int, ...], work: int, missed: bool
) -> list[Mode]:
    starts, spans, late = starts_of(task, problem, crew, team, work)
    if not len(starts):
        return []
    keys = spans * (late.max() + 1) + late
    made = []
    for key in np.unique(keys):
        chosen = keys == key
        n = int(np.argmax(chosen))
        made.append(Mode(team, missed, int(spans[n]), int(late[n]), starts[chosen]))
    return made


def starts_of(
    task: Task, problem: Problem, crew: tuple[CrewClass, ...], team: tuple[int, ...], work: int
) -> tuple[Ints, Ints, Ints]:
    """When a team can begin a step, how long it then lasts, and how many slots of people of it are late: (n,) each."""
    slots = problem.slots
    there = np.ones(slots, bool)
    for count, c in zip(team, crew, strict=True):
        if count:
            there &= c.there
    done = np.concatenate([[0], np.cumsum(there)])
    starts = np.flatnonzero(there)
    starts = starts[done[starts] + work <= done[-1]]
    ends = np.searchsorted(done, done[starts] + work)
    good = np.ones(len(starts), bool) if task.split else ends - starts == work
    good &= (ends - starts) * problem.slot <= LONGEST + work * problem.slot
    good &= starts >= task.earliest
    if task.latest is not None:
        good &= ends <= task.latest
    if task.at is not None:
        good &= starts == task.at
    if task.air:
        bad = np.zeros(slots, bool)
        for a, b in problem.air[task.air].blocked:
            bad[max(a, 0) : max(b, 0)] = True
        worked = np.concatenate([[0], np.cumsum(bad & there)])
        good &= worked[ends] == worked[starts]
    starts, ends = starts[good], ends[good]
    late = np.zeros(len(starts), dtype=np.int64)
    for count, c in zip(team, crew, strict=True):
        if count:
            sums = np.concatenate([[0], np.cumsum(c.late & there)])
            late += count * (sums[ends] - sums[starts])
    return starts, ends - starts, late
