"""A first schedule, at once: steps are put one by one where they end earliest, those that cannot wait before the rest.

Where a step cannot be put before its window closes, what the window began with is taken out again and put later.
Serial generation with unscheduling. Source: [35].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.calendar.dust import DustKept, none_between
from ribpatch.core.calendar.modes import crew_classes, starts_of, teams_of
from ribpatch.core.calendar.problem import Placed, Schedule
from ribpatch.core.calendar.waits import first_after, last_after

if TYPE_CHECKING:
    from ribpatch.core.calendar.modes import CrewClass, Flags, Ints
    from ribpatch.core.calendar.problem import Lag, Problem, Task

TRIES = 400  # of taking something out again


def first_schedule(problem: Problem) -> Schedule | None:
    """A schedule that keeps every rule, the better one of two orders; None where this way finds none."""
    found = [made for turn in (False, True) if (made := _Desk(problem, turn).run()) is not None]
    return min(found, key=lambda s: (s.finish, s.sandings, s.late), default=None)


def replayed(problem: Problem, plan: Schedule) -> Schedule | None:
    """The schedule of a problem that puts its steps in the order in which a plan begins them; None where there is
    none.
    """
    return _Desk(problem, False, {p.id: float(p.start) for p in plan.placed}).run()


class _Put:
    """Where a step was put."""

    __slots__ = ("end", "late", "missed", "start", "team")

    def __init__(self, start: int, end: int, team: tuple[int, ...], late: int, missed: bool) -> None:
        self.start, self.end, self.team, self.late, self.missed = start, end, team, late, missed


class _Desk:
    """Steps put and to put."""

    def __init__(self, problem: Problem, turned: bool, starts: dict[str, float] | None = None) -> None:
        self.problem = problem
        self.crew = crew_classes(problem)
        self.used = np.zeros((len(self.crew), problem.slots), dtype=np.int64)
        self.most = np.array([len(c.names) for c in self.crew]).reshape(-1, 1)
        self.put: dict[str, _Put] = {}
        self.into: dict[str, list[Lag]] = {t.id: [] for t in problem.tasks}
        self.out: dict[str, list[Lag]] = {t.id: [] for t in problem.tasks}
        for lag in problem.lags:
            self.into[lag.after].append(lag)
            self.out[lag.before].append(lag)
        self.first = {id(x): first_after(x.least, problem) for x in problem.lags}
        self.last = {id(x): last_after(x.most, problem) for x in problem.lags if x.most is not None}
        self.floor = {t.id: t.earliest for t in problem.tasks}
        self.planned = starts or {}
        self.tails = self._tails(turned) if starts is None else {}
        self.ways: dict[tuple[str, bool], list[tuple[tuple[int, ...], Ints, Ints, Ints]]] = {}
        self.left = TRIES
        self.by_id = {t.id: t for t in problem.tasks}
        self.dust = DustKept(problem)

    def _tails(self, turned: bool) -> dict[str, float]:
        """How long it takes from the begin of each step to the end of all, or how much work comes after it."""
        problem, made = self.problem, dict[str, float]()

        def tail(task: Task) -> float:
            if task.id not in made:
                after = [
                    tail(problem.task(x.after)) + (0 if turned else _length(x, problem)) for x in self.out[task.id]
                ]
                made[task.id] = task.work + (sum(after) if turned else max(after, default=0.0))
            return made[task.id]

        for task in problem.tasks:
            tail(task)
        return made

    def run(self) -> Schedule | None:
        """Put every step, or give up."""
        while len(self.put) < len(self.by_id):
            task = self._next(self.by_id)
            if not self._place(task):
                return None
        every = tuple(self.put.values())
        return Schedule(
            named(self.problem, self.crew, {i: (p.start, p.end, p.team, p.missed) for i, p in self.put.items()}),
            max((p.end for p in every), default=0),
            0,
            sum(p.missed for p in every),
            sum(p.late for p in every),
        )

    def _next(self, by_id: dict[str, Task]) -> Task:
        """Of the steps whose forerunners are put: the one whose window closes first, else that with most behind it."""
        free = [
            t for t in by_id.values() if t.id not in self.put and all(x.before in self.put for x in self.into[t.id])
        ]
        if self.planned:
            return min(free, key=lambda t: self.planned.get(t.id, 0.0))
        return min(free, key=lambda t: (t.at is None, self._closes(t.id), -self.tails[t.id]))

    def _closes(self, task: str) -> int:
        return min(
            (int(self.last[id(x)][self.put[x.before].end]) for x in self.into[task] if x.most is not None),
            default=self.problem.slots + 1,
        )

    def _opens(self, task: str, missed: bool) -> int:
        opens = self.floor[task]
        for lag in self.into[task]:
            end = self.put[lag.before].end
            opens = max(opens, int(self.first[id(lag)][end]))
            if missed and lag.missed is not None and lag.missed.least is not None:
                opens = max(opens, int(first_after(lag.missed.least, self.problem)[end]))
        return opens

    def _ways(self, task: Task, missed: bool) -> list[tuple[tuple[int, ...], Ints, Ints, Ints]]:
        key = (task.id, missed)
        if key not in self.ways:
            extra = extra_work(self.into[task.id]) if missed else 0
            self.ways[key] = [
                (team, *starts_of(task, self.problem, self.crew, team, task.work + extra))
                for team in teams_of(task, self.crew)
            ]
        return self.ways[key]

    def _place(self, task: Task) -> bool:
        closes = self._closes(task.id)
        found = self._earliest(task, False, closes)
        if found is None and any(x.missed is not None for x in self.into[task.id]):
            hard = [x for x in self.into[task.id] if x.most is not None and x.missed is None]
            limit = min((int(self.last[id(x)][self.put[x.before].end]) for x in hard), default=self.problem.slots + 1)
            found = self._earliest(task, True, limit)
        if found is None:
            return self._later(task)
        self.put[task.id] = found
        self._use(task, found, 1)
        return True

    def _use(self, task: Task, put: _Put, sign: int) -> None:
        self.dust.put(task, put.start, put.end, sign)
        for n, count in enumerate(put.team):
            if count:
                self.used[n, put.start : put.end] += sign * count

    def _earliest(self, task: Task, missed: bool, closes: int) -> _Put | None:
        """Where a step ends earliest."""
        best: _Put | None = None
        opens, wet = self._opens(task.id, missed), self._too_wet(task)
        for team, starts, spans, late in self._ways(task, missed):
            a, b = np.searchsorted(starts, [opens, closes + 1]).tolist()
            begins, ends = starts[a:b], starts[a:b] + spans[a:b]
            free = self.dust.clear(task, begins, ends)
            if task.people:
                wanted = np.array(team).reshape(-1, 1)
                free &= none_between((self.used + wanted > self.most)[wanted[:, 0] > 0].any(axis=0), begins, ends)
            if wet is not None:
                block, full = wet
                free &= none_between(full, np.minimum(begins, block[0]), np.maximum(ends, block[1]))
            if free.any():
                n = int(np.argmax(free))
                if best is None or ends[n] < best.end:
                    best = _Put(int(begins[n]), int(ends[n]), team, int(late[a + n]), missed)
        return best

    def _too_wet(self, task: Task) -> tuple[tuple[int, int], Flags] | None:
        """From where to where a step's block is wet so far, and the slots in which no more can be."""
        if not task.wet:
            return None
        spans: dict[str, tuple[int, int]] = {}
        for t in self.problem.tasks:
            if t.wet and t.id in self.put:
                p, (a, b) = self.put[t.id], spans.get(t.wet, (self.problem.slots, 0))
                spans[t.wet] = (min(a, p.start), max(b, p.end))
        mine = spans.pop(task.wet, (self.problem.slots, 0))
        wet = np.zeros(self.problem.slots, dtype=np.int64)
        for a, b in spans.values():
            wet[a:b] += 1
        return mine, wet >= len(self.problem.crew)

    def _later(self, task: Task) -> bool:
        """Take out what its window began with, to put it later; False where there is nothing left to try."""
        self.left -= 1
        tied = [x for x in self.into[task.id] if x.most is not None]
        if self.left < 0 or not tied:
            return False
        lag = min(tied, key=lambda x: int(self.last[id(x)][self.put[x.before].end]))
        begun = self.put[lag.before]
        free = self._earliest(task, False, self.problem.slots + 1)
        wanted = begun.start + 1
        if free is not None:  # as late as just reaches it
            ends = np.flatnonzero(self.last[id(lag)] >= free.start)
            if len(ends):
                wanted = max(wanted, begun.start + int(ends[0]) - begun.end)
        self.floor[lag.before] = wanted
        self._take_out(lag.before)
        return True

    def _take_out(self, task: str) -> None:
        put = self.put.pop(task, None)
        if put is not None:
            self._use(self.by_id[task], put, -1)
        for lag in self.out[task]:
            if lag.after in self.put:
                self._take_out(lag.after)


def _length(lag: Lag, problem: Problem) -> float:
    """Roughly how long a wait is, slots."""
    if lag.least is None:
        return 0.0
    return (lag.least.hours if lag.least.worth is None else lag.least.worth or 0.0) / problem.slot  # type: ignore[operator]  # one of the two is given


def extra_work(lags: list[Lag] | tuple[Lag, ...]) -> int:
    """Work that comes with a window of any of these missed, slots."""
    return max((x.missed.work for x in lags if x.missed is not None), default=0)


def named(
    problem: Problem, crew: tuple[CrewClass, ...], put: dict[str, tuple[int, int, tuple[int, ...], bool]]
) -> tuple[Placed, ...]:
    """Steps with the people who do them: of each class whoever has been free longest."""
    free = {name: 0 for c in crew for name in c.names}
    who: dict[str, tuple[str, ...]] = {}
    for task, (start, end, team, _) in sorted(put.items(), key=lambda row: (row[1][0], row[1][1])):
        chosen: list[str] = []
        for count, c in zip(team, crew, strict=True):
            ready = sorted((n for n in c.names if free[n] <= start), key=lambda n: free[n])
            assert len(ready) >= count, "more people at work than there are"
            chosen += ready[:count]
        for name in chosen:
            free[name] = end
        who[task] = tuple(chosen)
    return tuple(
        Placed(t.id, put[t.id][0], put[t.id][1], who[t.id], put[t.id][3]) for t in problem.tasks if t.id in put
    )
