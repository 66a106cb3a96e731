"""A schedule as a model of integers for the solver: who does what when, every rule of it, and what is wanted.

Each step has one mode chosen (team, length, late hours, window missed) and a start among those of the mode. Waits by
the clock are offsets, each with the ends at which it holds, so that nothing is rounded or straightened.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
from ortools.sat.python import cp_model

from ribpatch.core.calendar.dust import kept_apart, open_until
from ribpatch.core.calendar.first import extra_work
from ribpatch.core.calendar.modes import Mode, crew_classes, modes_of
from ribpatch.core.calendar.trim import trimmed
from ribpatch.core.calendar.waits import first_after, last_after

if TYPE_CHECKING:
    from ribpatch.core.calendar.modes import Ints
    from ribpatch.core.calendar.problem import Lag, Placed, Problem, Schedule, Task


class Step:
    """The variables of one step."""

    __slots__ = ("end", "late", "missed", "modes", "picked", "start", "task")

    def __init__(self, task: Task, modes: tuple[Mode, ...], model: cp_model.CpModel) -> None:
        self.task, self.modes = task, modes
        starts = np.unique(np.concatenate([m.starts for m in modes]))
        ends = np.unique(np.concatenate([m.starts + m.span for m in modes]))
        self.start = model.new_int_var_from_domain(domain(starts), f"s.{task.id}")
        self.end = model.new_int_var_from_domain(domain(ends), f"e.{task.id}")
        self.picked = [model.new_bool_var(f"m.{task.id}.{n}") for n in range(len(modes))]
        missed = [p for p, m in zip(self.picked, modes, strict=True) if m.missed]
        self.missed: Any = sum(missed) if missed else 0
        self.late: Any = sum(m.late * p for p, m in zip(self.picked, modes, strict=True) if m.late)
        model.add_exactly_one(self.picked)
        for p, m in zip(self.picked, modes, strict=True):
            model.add_linear_expression_in_domain(self.start, domain(m.starts)).only_enforce_if(p)
            model.add(self.end == self.start + m.span).only_enforce_if(p)


def domain(values: Ints) -> cp_model.Domain:
    """A set of values, as the solver takes it."""
    cuts = np.flatnonzero(np.diff(values) > 1)
    firsts, lasts = values[np.concatenate([[0], cuts + 1])], values[np.concatenate([cuts, [len(values) - 1]])]
    return cp_model.Domain.from_intervals([[int(a), int(b)] for a, b in zip(firsts, lasts, strict=True)])


class Model:
    """The model of a problem, and what is asked of it one after the other."""

    def __init__(self, problem: Problem, finish: int | None = None) -> None:
        """``finish`` is the slot by which all must be done; the whole calendar if it is not told."""
        self.problem = problem
        self.model = cp_model.CpModel()
        self.crew = crew_classes(problem)
        self.into = {t.id: tuple(x for x in problem.lags if x.after == t.id) for t in problem.tasks}
        self.impossible: list[str] = []
        self.steps: dict[str, Step] = {}
        by = problem.slots if finish is None else finish
        every = {t.id: modes_of(t, problem, self.crew, extra_work(self.into[t.id])) for t in problem.tasks}
        every = trimmed(problem, every, by)
        for task in problem.tasks:
            if every[task.id]:
                self.steps[task.id] = Step(task, every[task.id], self.model)
            else:
                self.impossible.append(task.id)
        if self.impossible:
            return
        self._people()
        self._wet()
        for lag in problem.lags:
            self._lag(lag)
        self._apart()
        self.finish = self.model.new_int_var(0, by, "finish")
        if self.steps:
            self.model.add_max_equality(self.finish, [s.end for s in self.steps.values()])
        self.sandings = sum(s.missed for s in self.steps.values())
        self.late = sum(s.late for s in self.steps.values())

    def _people(self) -> None:
        for n, c in enumerate(self.crew):
            intervals, demands = [], []
            for step in self.steps.values():
                for count in sorted({m.team[n] for m in step.modes} - {0}):
                    mine = [p for p, m in zip(step.picked, step.modes, strict=True) if m.team[n] == count]
                    here = self._any(mine, len(step.modes))
                    size = self.model.new_int_var_from_domain(domain(np.unique([m.span for m in step.modes])), "")
                    intervals.append(self.model.new_optional_interval_var(step.start, size, step.end, here, ""))
                    demands.append(count)
            if len(c.names) == 1:
                self.model.add_no_overlap(intervals)
            elif intervals:
                self.model.add_cumulative(intervals, demands, len(c.names))

    def _any(self, literals: list[Any], of: int) -> Any:
        """A literal that is true where one of some modes is picked."""
        if len(literals) == of:
            return self.model.new_constant(1)
        if len(literals) == 1:
            return literals[0]
        here = self.model.new_bool_var("")
        self.model.add(sum(literals) == here)
        return here

    def _wet(self) -> None:
        blocks: dict[str, list[Step]] = {}
        for step in self.steps.values():
            if step.task.wet:
                blocks.setdefault(step.task.wet, []).append(step)
        if len(blocks) < 2:
            return
        intervals, slots = [], self.problem.slots
        for steps in blocks.values():
            start, end, size = (self.model.new_int_var(0, slots, "") for _ in range(3))
            self.model.add_min_equality(start, [s.start for s in steps])
            self.model.add_max_equality(end, [s.end for s in steps])
            intervals.append(self.model.new_interval_var(start, size, end, ""))
        if len(self.problem.crew) == 1:
            self.model.add_no_overlap(intervals)
        else:
            self.model.add_cumulative(intervals, [1] * len(intervals), max(len(self.problem.crew), 1))

    def _apart(self) -> None:
        """Dusty work ends before a wet step begins, or begins when dust may fly again after it."""
        until: dict[tuple[str, bool], Any] = {}
        for dusty, wet, near in kept_apart(self.problem):
            d, w = self.steps[dusty.id], self.steps[wet.id]
            key = (wet.id, near)
            if key not in until:
                until[key] = self._open_until(w, open_until(wet, self.problem, near))
            first = self.model.new_bool_var("")
            self.model.add(d.end <= w.start).only_enforce_if(first)
            self.model.add(d.start >= until[key]).only_enforce_if(first.negated())

    def _open_until(self, wet: Step, reached: Ints) -> Any:
        """The slot at which dust may fly again after a wet step."""
        made = self.model.new_int_var(0, self.problem.slots + 1, "")
        for offset, ends in _offsets(wet, reached):
            value = self.problem.slots + 1 if offset is None else wet.end + offset
            self.model.add(made == value).only_enforce_if(self._at(wet, ends))
        return made

    def _lag(self, lag: Lag) -> None:
        before, after = self.steps[lag.before], self.steps[lag.after]
        kept: list[Any] = []
        if lag.missed is not None and lag.most is not None and not isinstance(after.missed, int):
            missed = self.model.new_bool_var("")  # this very window
            self.model.add(missed <= after.missed)
            kept = [missed.negated()]
            if lag.missed.least is not None:
                self._least(before, after, first_after(lag.missed.least, self.problem), [missed])
        self._least(before, after, first_after(lag.least, self.problem), [])
        if lag.most is not None:
            self._most(before, after, last_after(lag.most, self.problem), kept)

    def _least(self, before: Step, after: Step, first: Ints, held: list[Any]) -> None:
        for offset, ends in _offsets(before, first):
            # What is never over within the calendar leaves no place for the step.
            with_held = [*held]
            if offset is None:
                literal = self._at(before, ends)
                self.model.add_bool_or([*(h.negated() for h in with_held), literal.negated()])
                continue
            if ends is not None:
                with_held.append(self._at(before, ends))
            made = self.model.add(after.start >= before.end + offset)
            if with_held:
                made.only_enforce_if(with_held)

    def _most(self, before: Step, after: Step, last: Ints, held: list[Any]) -> None:
        for offset, ends in _offsets(before, last, never=False):
            with_held = [*held]
            if offset is None:
                continue
            if ends is not None:
                with_held.append(self._at(before, ends))
            made = self.model.add(after.start <= before.end + offset)
            if with_held:
                made.only_enforce_if(with_held)

    def _at(self, step: Step, ends: Ints | None) -> Any:
        """A literal that is true where a step ends at one of some slots."""
        if ends is None:
            return self.model.new_constant(1)
        here = self.model.new_bool_var("")
        inside = domain(ends)
        self.model.add_linear_expression_in_domain(step.end, inside).only_enforce_if(here)
        self.model.add_linear_expression_in_domain(step.end, inside.complement()).only_enforce_if(here.negated())
        return here

    def ask(self, goal: Any, known: Schedule | None) -> None:
        """Ask for the least of something, beginning from a schedule that is known."""
        self.model.clear_hints()  # type: ignore[no-untyped-call]  # the solver's own
        self.model.minimize(goal)
        if known is not None:
            self._hint(known)

    def _hint(self, known: Schedule) -> None:
        for put in known.placed:
            step = self.steps[put.id]
            self.model.add_hint(step.start, put.start)
            self.model.add_hint(step.end, put.end)
            mode = self._mode_of(step, put)
            for n, picked in enumerate(step.picked):
                self.model.add_hint(picked, n == mode)

    def _mode_of(self, step: Step, put: Placed) -> int:
        """Which mode of a step was taken."""
        team = tuple(sum(name in c.names for name in put.who) for c in self.crew)
        return next(
            n
            for n, m in enumerate(step.modes)
            if (m.team, m.missed, m.span) == (team, put.missed, put.end - put.start) and put.start in m.starts
        )


def _offsets(before: Step, reached: Ints, never: bool = True) -> list[tuple[int | None, Ints | None]]:
    """The waits after each possible end of a step: how many slots, and at which ends (None: at all of them). A wait
    that is not over within the calendar has no number of slots.
    """
    ends = np.unique(np.concatenate([m.starts + m.span for m in before.modes]))
    slots = len(reached) - 1
    outside = reached[ends] > slots if never else reached[ends] >= slots
    offsets = reached[ends] - ends
    made: list[tuple[int | None, Ints | None]] = []
    for offset in np.unique(offsets[~outside]).tolist():
        chosen = ends[(offsets == offset) & ~outside]
        made.append((offset, None if len(chosen) == len(ends) else chosen))
    if outside.any():
        made.append((None, ends[outside]))
    return made
