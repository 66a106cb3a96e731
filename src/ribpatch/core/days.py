"""When the work is done: the question that what is stated comes to, and the schedules that answer it. Pure: the day it
is, and what is done already, are told.
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.calendar.first import first_schedule, replayed
from ribpatch.core.calendar.problem import Placed, Problem, Schedule, Worker
from ribpatch.core.calendar.range import Spread
from ribpatch.core.days_question import crew_of, problem_of
from ribpatch.core.days_stated import StatedDays
from ribpatch.core.memo import remembered
from ribpatch.core.timetable import KeptSchedule, KeptStep

if TYPE_CHECKING:
    from ribpatch.core.days_stated import Done
    from ribpatch.core.plan import Plan

NINE_IN_TEN = 1.645  # deviations
EACH_OFF, WAIT_OFF = 0.3, 0.5  # deviation of the logarithm of one step's hours, of a wait; judgement


class Days(StatedDays, frozen=True, eq=False, dict=True):
    """All that can be worked out of when the work is done, each part when it is first asked for."""

    # ---- the question ----

    @cached_property
    def crew(self) -> tuple[Worker, ...]:
        """The crew in slots, within the days that the shed is free."""
        return crew_of(self)

    @cached_property
    def problem(self) -> Problem:
        """The question in slots."""
        return problem_of(self, self.crew, self.since)

    @property
    def since(self) -> int:
        """The slot before which nothing more can be begun."""
        return max(self.slot_of(self.now, up=True), 0) if self.now else 0

    @cached_property
    def mark(self) -> str:
        """A short mark by which the same question is known again, whatever time it is."""
        from hashlib import sha256

        import msgspec

        asked = problem_of(self, self.crew, 0) if self.since else self.problem
        return sha256(msgspec.json.encode(asked)).hexdigest()[:16]

    # ---- the answer ----

    @cached_property
    def first(self) -> Schedule | None:
        """A first schedule, at once."""
        return first_schedule(self.problem) if self.rows else Schedule((), 0, 0, 0, 0, True, True)

    @cached_property
    def kept(self) -> Schedule | None:
        """The schedule that the job keeps, where it is of this very question."""
        told = self.table.kept
        if told is None or told.mark != self.mark:
            return None
        placed = tuple(Placed(s.step, self.slot_of(s.start), self.slot_of(s.end), s.who, s.missed) for s in told.steps)
        done = {d.step for d in self.done}
        if {p.id for p in placed} != set(self.by_id) or any(p.start < self.since for p in placed if p.id not in done):
            return None  # what should have been begun by now was not
        late = sum(self._late_slots(p) for p in placed)
        sandings = sum(p.missed for p in placed)
        finish = max((p.end for p in placed), default=0)
        return Schedule(placed, finish, self.slot_of(told.bound), sandings, late, told.proven, told.best)

    def worked(self, put: Placed) -> list[int]:
        """The slots in which a step is worked on: it pauses while any of its people is away."""
        crew = [w for w in self.crew if w.name in put.who]
        if not crew:
            return []
        return [s for s in range(put.start, put.end) if all(any(a <= s < b for a, b, _ in w.shifts) for w in crew)]

    def _late_slots(self, put: Placed) -> int:
        """Slots of people that fall in late hours."""
        shifts = {w.name: w.shifts for w in self.crew}
        return sum(
            any(a <= s < b and late for a, b, late in shifts[name]) for s in self.worked(put) for name in put.who
        )

    def after(self, last: Schedule | None) -> Schedule | None:
        """The schedule to work by where another was worked by before: the one kept, else the better one of a first plan
        and of the last one, worked through anew in its order.
        """
        if self.kept is not None:
            return self.kept
        again = replayed(self.problem, last) if last is not None and last.placed else None
        found = [s for s in (again, self.first) if s is not None]
        return min(found, key=lambda s: (s.finish, s.sandings, s.late), default=None)

    @cached_property
    def schedule(self) -> Schedule | None:
        """The schedule to work by: the one kept, else a first one."""
        return self.kept or self.first

    @property
    def range(self) -> tuple[str, str] | None:
        """The days between which nine in ten finish, where that was worked out."""
        told = self.table.kept
        return (told.soonest, told.latest) if told is not None and told.mark == self.mark and told.soonest else None

    def keep(self, found: Schedule, span: tuple[int, int] | None = None) -> KeptSchedule:
        """A schedule as the job keeps it."""
        return KeptSchedule(
            mark=self.mark,
            steps=tuple(
                KeptStep(
                    step=p.id, start=self.moment_of(p.start), end=self.moment_of(p.end), who=p.who, missed=p.missed
                )
                for p in found.placed
            ),
            bound=self.moment_of(found.bound),
            proven=found.proven,
            best=found.best,
            soonest="" if span is None else self.moment_of(span[0]),
            latest="" if span is None else self.moment_of(span[1]),
        )


def spread_of(days: Days) -> Spread:
    """How far hours and waits are off: nine estimates of ten lie within the spread of an estimate either way."""
    common = float(np.log1p(days.shelf.rule("estimate.spread"))) / NINE_IN_TEN
    return Spread(common, EACH_OFF, WAIT_OFF, round(days.shelf.rule("days.range")))


@remembered(6)
def days_of(
    plan: Plan,
    today: str,
    done: tuple[Done, ...] = (),
    now: str = "",
    factors: tuple[tuple[str, float], ...] = (),
) -> Days:
    """When the work of a job is done. It begins on the day stated, else ``today``; ``now`` is the moment before which
    nothing more can be begun; ``factors`` are by how many times longer than stated a resin takes (1: dimensionless).
    """
    start = plan.job.timetable.start or today
    first = min((d.start[:10] for d in done), default=start)
    return Days(plan, min(start, first), done, now, factors)
