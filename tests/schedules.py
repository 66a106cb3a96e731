"""Schedules checked and found a second way: slot by slot, from the problem alone."""

from __future__ import annotations

from itertools import combinations
from typing import TYPE_CHECKING, Any

import numpy as np

from ribpatch.core.calendar.problem import Air, Clock, Lag, Missed, Placed, Problem, Task, Wait, Worker

if TYPE_CHECKING:
    from collections.abc import Iterator

    from ribpatch.core.calendar.problem import Schedule


def at_hand(worker: Worker, slot: int) -> bool:
    return any(a <= slot < b for a, b, _ in worker.shifts)


def is_late(worker: Worker, slot: int) -> bool:
    return any(a <= slot < b and late for a, b, late in worker.shifts)


def gone_by(wait: Wait, start: int, end: int, problem: Problem, fast: bool) -> float:
    """How much of a wait has gone by between two slots, over what it takes."""
    if wait.worth is None:
        return (end - start) * problem.slot - (wait.hours or 0)
    clock = problem.clocks[wait.clock]
    worth = clock.fast if fast else clock.slow
    return worth[end] - worth[start] - wait.worth


def faults(problem: Problem, made: Schedule) -> list[str]:
    """Every rule that a schedule breaks."""
    put = made.by_id
    if set(put) != {t.id for t in problem.tasks}:
        return ["not every step is there"]
    told = [f for task in problem.tasks for f in step_faults(problem, task, put[task.id])]
    told += [f for lag in problem.lags for f in lag_faults(problem, lag, put)]
    told += [*people_faults(made), *wet_faults(problem, put), *dust_faults(problem, put)]
    people = {w.name: w for w in problem.crew}
    late = sum(is_late(people[n], s) for p in made.placed for s in worked(problem, p) for n in p.who)
    if made.finish != max((p.end for p in made.placed), default=0):
        told.append("the finish is another")
    if made.late != late or made.sandings != sum(p.missed for p in made.placed):
        told.append(f"late {made.late}, and {late}; sandings {made.sandings}")
    if made.bound > made.finish:
        told.append("the bound is over the finish")
    return told


def worked(problem: Problem, put: Placed) -> list[int]:
    """The slots in which all who do a step are there."""
    crew = [w for w in problem.crew if w.name in put.who]
    return [s for s in range(put.start, put.end) if all(at_hand(w, s) for w in crew)]


def step_faults(problem: Problem, task: Task, put: Placed) -> Iterator[str]:
    """What is wrong with one step by itself."""
    crew, slots = [w for w in problem.crew if w.name in put.who], worked(problem, put)
    work = task.work
    if put.missed:
        work += max(x.missed.work for x in problem.lags if x.after == task.id and x.missed is not None)
    if len(slots) != work or not slots or slots[0] != put.start or slots[-1] != put.end - 1:
        yield f"{task.id}: {len(slots)} slots worked of {work}"
    if not task.split and put.end - put.start != work:
        yield f"{task.id} is broken off"
    if len(set(put.who)) != task.people or len(crew) != task.people:
        yield f"{task.id}: {put.who}"
    if (task.skill and not all(task.skill in w.skills for w in crew)) or (task.by and not set(put.who) <= set(task.by)):
        yield f"{task.id}: {put.who} cannot"
    if put.start < task.earliest or (task.latest is not None and put.end > task.latest):
        yield f"{task.id}: {put.start} to {put.end}"
    if task.at is not None and put.start != task.at:
        yield f"{task.id} is not where it was put"
    if task.air:
        bad = {s for a, b in problem.air[task.air].blocked for s in range(a, b)}
        yield from (f"{task.id}: air at {s}" for s in slots if s in bad)


def people_faults(made: Schedule) -> Iterator[str]:
    """Who does two things at once."""
    busy: dict[tuple[str, int], str] = {}
    for p in made.placed:
        for place in ((n, s) for n in p.who for s in range(p.start, p.end)):
            if place in busy:
                yield f"{place[0]} does {p.id} and {busy[place]} at {place[1]}"
            busy[place] = p.id


def wet_faults(problem: Problem, put: dict[str, Placed]) -> Iterator[str]:
    """Where more is wet than there are people."""
    blocks: dict[str, list[Placed]] = {}
    for task in problem.tasks:
        if task.wet:
            blocks.setdefault(task.wet, []).append(put[task.id])
    spans = [(min(p.start for p in b), max(p.end for p in b)) for b in blocks.values()]
    for s in range(problem.slots):
        if sum(a <= s < b for a, b in spans) > len(problem.crew):
            yield f"too much is wet at {s}"


def dust_faults(problem: Problem, put: dict[str, Placed]) -> Iterator[str]:
    """Where dust flies while something is wet: near it until it is hard, anywhere until it has gelled."""
    for dusty in (t for t in problem.tasks if t.dust):
        for wet in (t for t in problem.tasks if t.gel is not None and t is not dusty):
            d, w = put[dusty.id], put[wet.id]
            wait = wet.hard if wet.zone in problem.near.get(dusty.zone, ()) else wet.gel
            if d.end <= w.start:
                continue
            if d.start < w.end or (wait is not None and gone_by(wait, w.end, d.start, problem, fast=False) < -1e-3):
                yield f"{dusty.id} throws dust on {wet.id}"


def lag_faults(problem: Problem, lag: Lag, put: dict[str, Placed]) -> Iterator[str]:
    """What is wrong with one wait."""
    end, start, missed = put[lag.before].end, put[lag.after].start, put[lag.after].missed
    if start < end:
        yield f"{lag.after} before the end of {lag.before}"
        return
    if lag.least is not None and gone_by(lag.least, end, start, problem, fast=False) < -1e-3:
        yield f"{lag.after} too early after {lag.before}"
    if lag.most is not None and gone_by(lag.most, end, start, problem, fast=True) > 1e-3:
        least = lag.missed.least if lag.missed is not None else None
        waited = least is None or gone_by(least, end, start, problem, fast=False) >= -1e-3
        if lag.missed is None or not missed or not waited:
            yield f"{lag.after} too late after {lag.before}"


def every_schedule(problem: Problem) -> Iterator[tuple[int, int, int]]:
    """(finish, sandings, late) of every schedule of a small problem, by trying all starts, teams and windows missed."""
    from ribpatch.core.calendar.problem import Schedule

    people = {w.name: w for w in problem.crew}
    ways: list[list[Placed]] = []
    for task in problem.tasks:
        extra = max((x.missed.work for x in problem.lags if x.after == task.id and x.missed is not None), default=-1)
        rows = []
        for who in combinations([w.name for w in problem.crew], task.people):
            crew = [people[n] for n in who]
            there = [all(at_hand(w, s) for w in crew) for s in range(problem.slots)]
            for missed, work in ((False, task.work), *(((True, task.work + extra),) if extra >= 0 else ())):
                for start in range(problem.slots):
                    left, end = work, start
                    while end < problem.slots and left:
                        left -= there[end]
                        end += 1
                    if not left and there[start]:
                        rows.append(Placed(task.id, start, end, who, missed))
        ways.append(rows)

    def go(n: int, placed: tuple[Placed, ...]) -> Iterator[tuple[int, int, int]]:
        if n == len(ways):
            late = sum(is_late(people[w], s) for p in placed for s in worked(problem, p) for w in p.who)
            made = Schedule(placed, max(p.end for p in placed), 0, sum(p.missed for p in placed), late)
            if not faults(problem, made):
                yield made.finish, made.sandings, made.late
            return
        for way in ways[n]:
            clash = any(set(way.who) & set(p.who) and way.start < p.end and p.start < way.end for p in placed)
            early = any(
                x.after == way.id and p.id == x.before and way.start < p.end for x in problem.lags for p in placed
            )
            if not clash and not early:
                yield from go(n + 1, (*placed, way))

    yield from go(0, ())


def small(seed: int) -> Problem:
    """Three or four short steps of one or two people over two short days."""
    rng = np.random.default_rng(seed)
    slots, count = 16, int(rng.integers(2, 4))
    worth = tuple(3600 * w for w in np.concatenate([[0], np.cumsum(rng.uniform(0.3, 1.7, slots))]).tolist())
    crew = [Worker("a", ((1, 6, False), (6, 8, True), (10, 15, False)), ("paint",))]
    if rng.random() < 0.6:
        crew.append(Worker("b", ((0, 5, False), (9, 15, False))))
    tasks, lags = [], []
    for n in range(count):
        people = int(rng.integers(1, len(crew) + 1))
        tasks.append(
            Task(
                f"t{n}",
                f"t{n}",
                int(rng.integers(1, 4)),
                people,
                "paint" if people == 1 and rng.random() < 0.2 else "",
                bool(rng.random() < 0.4),
                "lay" if rng.random() < 0.3 else "",
                f"w{n % 2}" if rng.random() < 0.3 else "",
                int(rng.integers(0, 3)),
                int(rng.integers(10, 16)) if rng.random() < 0.2 else None,
                zone=f"z{n % 2}",
                **dusty_or_wet(rng),
            )
        )
        if n and rng.random() < 0.8:
            kind = rng.random()
            least = Wait(worth=float(rng.uniform(0, 3)) * 3600, clock="c") if kind < 0.7 else None
            most = Wait(hours=float(rng.integers(0, 6)) * 3600.0) if kind > 0.4 else None
            missed = Missed(int(rng.integers(1, 3)), Wait(hours=4 * 3600.0)) if most and rng.random() < 0.6 else None
            lags.append(Lag(f"t{int(rng.integers(0, n))}", f"t{n}", least, most, missed))
    air = {"lay": Air(((2, 4), (11, 12)), "damp")}
    near = {"z0": ("z0", "z1"), "z1": ("z1", "z0")} if rng.random() < 0.3 else {"z0": ("z0",), "z1": ("z1",)}
    return Problem(3600.0, slots, tuple(tasks), tuple(lags), tuple(crew), air, {"c": Clock(worth, worth)}, near)


def dusty_or_wet(rng: np.random.Generator) -> dict[str, Any]:
    """A step that throws dust, or lays what dust must not settle on, or neither."""
    kind = rng.random()
    if kind < 0.35:
        return {"dust": True}
    if kind > 0.75:
        gel = float(rng.uniform(0, 2)) * 3600
        return {"gel": Wait(worth=gel, clock="c"), "hard": Wait(worth=gel * 2, clock="c")}
    return {}
