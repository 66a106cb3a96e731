"""What a schedule keeps to and might let go, one by one: to find out what clashes, and what would free it."""

from __future__ import annotations

from typing import TYPE_CHECKING

import msgspec

from ribpatch.core.calendar.dust import kept_apart
from ribpatch.core.calendar.modes import crew_classes, modes_of
from ribpatch.core.calendar.problem import Ruling

if TYPE_CHECKING:
    from ribpatch.core.calendar.problem import Problem, Task

replace = msgspec.structs.replace


def rulings_of(problem: Problem) -> tuple[Ruling, ...]:
    """Everything that might be let go."""
    made = []
    for task in problem.tasks:
        if task.at is not None:
            made.append(Ruling("at", task.id))
        if task.latest is not None:
            made.append(Ruling("latest", task.id))
        if task.earliest > 0:
            made.append(Ruling("earliest", task.id))
        if task.by:
            made.append(Ruling("by", task.id))
        elif task.skill:
            made.append(Ruling("skill", task.id))
    made += [Ruling("window", x.after, x.before) for x in problem.lags if x.most is not None]
    made += [Ruling("air", name) for name in problem.air]
    if kept_apart(problem):
        made.append(Ruling("dust"))
    return (*made, Ruling("people"))


def let_go(problem: Problem, ruling: Ruling) -> Problem:
    """The problem without a ruling; for ``people`` with two people more, who are there whenever anyone is."""
    if ruling.kind == "window":
        lags = tuple(
            replace(x, most=None) if (x.before, x.after) == (ruling.before, ruling.step) else x for x in problem.lags
        )
        return replace(problem, lags=lags)
    if ruling.kind == "air":
        return replace(problem, air={**problem.air, ruling.step: replace(problem.air[ruling.step], blocked=())})
    if ruling.kind == "people":
        return _more_people(problem)
    if ruling.kind == "dust":
        return replace(problem, tasks=tuple(replace(t, dust=False) for t in problem.tasks))
    change: dict[str, dict[str, object]] = {
        "at": {"at": None},
        "latest": {"latest": None},
        "earliest": {"earliest": 0},
        "by": {"by": ()},
        "skill": {"skill": ""},
        "one go": {"split": True},
    }
    tasks = tuple(replace(t, **change[ruling.kind]) if t.id == ruling.step else t for t in problem.tasks)
    return replace(problem, tasks=tasks)


def _more_people(problem: Problem) -> Problem:
    spans: list[list[int]] = []
    for start, end, _ in sorted(s for w in problem.crew for s in w.shifts):
        if spans and start <= spans[-1][1]:
            spans[-1][1] = max(spans[-1][1], end)
        else:
            spans.append([start, end])
    if not spans:
        spans = [[0, problem.slots]]
    skills = tuple(sorted({t.skill for t in problem.tasks if t.skill}))
    shifts = tuple((a, b, False) for a, b in spans)
    row = problem.crew[0] if problem.crew else None
    more = tuple(
        msgspec.structs.replace(row, name=f"another {n}", shifts=shifts, skills=skills)
        if row is not None
        else _worker(f"another {n}", shifts, skills)
        for n in (1, 2)
    )
    return replace(problem, crew=(*problem.crew, *more))


def _worker(name: str, shifts: tuple[tuple[int, int, bool], ...], skills: tuple[str, ...]) -> object:
    from ribpatch.core.calendar.problem import Worker

    return Worker(name, shifts, skills)


def nowhere(problem: Problem, task: Task) -> tuple[Ruling, ...]:
    """Why a step by itself has no place at all: each of these by itself would give it one; the last resort is more
    people or more days. Empty where it has a place.
    """
    crew = crew_classes(problem)
    if modes_of(task, problem, crew):
        return ()
    mine = [r for r in rulings_of(problem) if r.step == task.id or (r.kind == "air" and r.step == task.air)]
    if not task.split and task.people:
        mine.append(Ruling("one go", task.id))
    mine.append(Ruling("people"))
    found = []
    for ruling in mine:
        free = let_go(problem, ruling)
        if modes_of(free.task(task.id), free, crew_classes(free)):
            found.append(ruling if ruling.step else Ruling(ruling.kind, task.id))
    return tuple(found) or (Ruling("days", task.id),)
