"""Starts that no schedule can use are left out: those before what must come first can be done, and those after which
the rest cannot be done by a slot.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.calendar.modes import Mode
from ribpatch.core.calendar.waits import first_after

if TYPE_CHECKING:
    from ribpatch.core.calendar.problem import Lag, Problem


def trimmed(problem: Problem, modes: dict[str, tuple[Mode, ...]], finish: int) -> dict[str, tuple[Mode, ...]]:
    """The modes of every step with what cannot be left out; a step that has none left can only be done later."""
    into: dict[str, list[Lag]] = {t.id: [] for t in problem.tasks}
    out: dict[str, list[Lag]] = {t.id: [] for t in problem.tasks}
    for lag in problem.lags:
        into[lag.after].append(lag)
        out[lag.before].append(lag)
    first = {id(x): first_after(x.least, problem) for x in problem.lags}
    order = in_order(problem)
    made = dict(modes)
    ends: dict[str, int] = {}
    for task in order:
        opens = max((int(first[id(x)][ends[x.before]]) for x in into[task]), default=0)
        made[task] = _kept(made[task], opens, finish)
        ends[task] = min((int(m.starts[0]) + m.span for m in made[task]), default=finish)
    starts: dict[str, int] = {}
    for task in reversed(order):
        closes = finish
        for lag in out[task]:
            fits = np.flatnonzero(first[id(lag)] <= starts[lag.after])
            closes = min(closes, int(fits[-1]) if len(fits) else -1)
        made[task] = _kept(made[task], 0, closes)
        starts[task] = max((int(m.starts[-1]) for m in made[task]), default=-1)
    return made


def _kept(modes: tuple[Mode, ...], opens: int, closes: int) -> tuple[Mode, ...]:
    kept = []
    for m in modes:
        starts = m.starts[(m.starts >= opens) & (m.starts + m.span <= closes)]
        if len(starts):
            kept.append(m if len(starts) == len(m.starts) else Mode(m.team, m.missed, m.span, m.late, starts))
    return tuple(kept)


def in_order(problem: Problem) -> tuple[str, ...]:
    """The steps, each after all that it waits for."""
    before: dict[str, set[str]] = {t.id: set() for t in problem.tasks}
    for lag in problem.lags:
        before[lag.after].add(lag.before)
    done: dict[str, None] = {}
    while len(done) < len(before):
        free = [i for i, names in before.items() if i not in done and names <= done.keys()]
        assert free, "steps that wait for each other in a circle are refused before"
        done.update(dict.fromkeys(free))
    return tuple(done)
