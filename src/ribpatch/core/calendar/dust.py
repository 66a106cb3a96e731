"""No dust near what is wet: where dusty work may lie beside a lay-up, and a lay-up beside dusty work.

Dust that settles on wet resin stays in it. In the same room it keeps away until the resin can be sanded; at the other
end of the shed until it has gelled, when what settles is washed off with the blush. Judgement.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.calendar.waits import first_after

if TYPE_CHECKING:
    from ribpatch.core.calendar.modes import Flags, Ints
    from ribpatch.core.calendar.problem import Problem, Task


def is_wet(task: Task) -> bool:
    """Whether a step lays something that dust must not settle on."""
    return task.gel is not None


def open_until(task: Task, problem: Problem, near: bool) -> Ints:
    """For an end of a wet step at each slot (slots + 1,), the first slot at which dust may fly again; ``slots + 1``
    where that is not within the calendar.
    """
    return first_after(task.hard if near else task.gel, problem)


class DustKept:
    """Where dust flies and where something is wet, of the steps put so far: counts by slot."""

    def __init__(self, problem: Problem) -> None:
        self.problem = problem
        self.wanted = any(t.dust for t in problem.tasks) and any(is_wet(t) for t in problem.tasks)
        self._dust, self._wet = self._empty(), self._empty()
        self._near_dust: dict[str, Ints] = {}
        self._near_wet: dict[str, Ints] = {}
        self._until: dict[tuple[str, bool], Ints] = {}

    def _empty(self) -> Ints:
        return np.zeros(self.problem.slots, dtype=np.int64)

    def until(self, task: Task, near: bool) -> Ints:
        """When dust may fly again after each end of a wet step."""
        key = (task.id, near)
        if key not in self._until:
            self._until[key] = np.minimum(open_until(task, self.problem, near), self.problem.slots)
        return self._until[key]

    def put(self, task: Task, start: int, end: int, sign: int) -> None:
        """A step is put (1) or taken out again (-1)."""
        if not self.wanted:
            return
        near = self.problem.near.get(task.zone, ())
        if task.dust:
            self._dust[start:end] += sign
            for zone in near:
                self._near_dust.setdefault(zone, self._empty())[start:end] += sign
        if is_wet(task):
            self._wet[start : self.until(task, False)[end]] += sign
            for zone in near:
                self._near_wet.setdefault(zone, self._empty())[start : self.until(task, True)[end]] += sign

    def clear(self, task: Task, begins: Ints, ends: Ints) -> Flags:
        """Whether a step may lie from each begin to each end, (n,)."""
        free = np.ones(len(begins), bool)
        if not self.wanted:
            return free
        if task.dust:
            free &= none_between(self._wet > 0, begins, ends)
            if task.zone in self._near_wet:
                free &= none_between(self._near_wet[task.zone] > 0, begins, ends)
        if is_wet(task):
            free &= none_between(self._dust > 0, begins, self.until(task, False)[ends])
            if task.zone in self._near_dust:
                free &= none_between(self._near_dust[task.zone] > 0, begins, self.until(task, True)[ends])
        return free


def none_between(bad: Flags, begins: Ints, ends: Ints) -> Flags:
    """Whether no slot between is bad, for each (n,)."""
    sums = np.concatenate([[0], np.cumsum(bad)])
    return np.asarray(sums[ends] == sums[begins])


def kept_apart(problem: Problem) -> tuple[tuple[Task, Task, bool], ...]:
    """Every dusty step with every wet one that it must be kept from, and whether they are near each other."""
    return tuple(
        (dusty, wet, wet.zone in problem.near.get(dusty.zone, ()))
        for dusty in problem.tasks
        if dusty.dust
        for wet in problem.tasks
        if is_wet(wet) and wet is not dusty
    )
