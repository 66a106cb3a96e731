"""When the work is done: the steps of all zones as stated and changed, the air, the crew, the question in slots, and
the schedule. Pure: the day it is, and what is done already, are told.

Time is counted in slots of a quarter of an hour from the midnight of the day on which the calendar begins.
"""

from __future__ import annotations

from datetime import date, datetime, timedelta
from functools import cached_property
from math import ceil
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.arrivals import arrivals
from ribpatch.core.calendar.clock import Warmth, cure_clock
from ribpatch.core.calendar.first import first_schedule, replayed
from ribpatch.core.calendar.hours import blocked_slots, shifts_within
from ribpatch.core.calendar.problem import Air, Clock, Lag, Missed, Placed, Problem, Schedule, Task, Wait, Worker
from ribpatch.core.calendar.range import Spread
from ribpatch.core.calendar.weather import Aid, Hours, Shed, WorkAir, at_work, layable, repeated, warmth_of
from ribpatch.core.memo import remembered
from ribpatch.core.record import known
from ribpatch.core.step_changes import changed, without_circles
from ribpatch.core.step_rows import COAT, StepRow, StepWait, Until, mark_time
from ribpatch.core.supply.coats import ACTIVATION
from ribpatch.core.timetable import DaySpan, KeptSchedule, KeptStep, Person, root_of

if TYPE_CHECKING:
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.plan import Plan
    from ribpatch.core.timetable import Timetable
    from ribpatch.core.units import Measure
    from ribpatch.core.zone_plan import ZonePlan

SLOT = 900.0  # s
HOUR_SLOTS, DAY_SLOTS = 4, 96
NINE_IN_TEN = 1.645  # deviations
EACH_OFF, WAIT_OFF = 0.3, 0.5  # deviation of the logarithm of one step's hours, of a wait; judgement
USUAL_HAND = known(Person, id="hand", name="one hand", hours=(known(DaySpan, start=8.0, end=17.0),))


class Done(Struct, frozen=True):
    """A step that was begun, and ended unless ``end`` is empty: moments."""

    step: str
    start: str
    end: str = ""


class Days(Struct, frozen=True, eq=False, dict=True):
    """All that can be worked out of when the work is done, each part when it is first asked for."""

    plan: Plan
    start: str
    done: tuple[Done, ...] = ()
    now: str = ""
    factors: tuple[tuple[str, float], ...] = ()  # how many times as long a resin takes here

    @property
    def table(self) -> Timetable:
        """What is stated of it."""
        return self.plan.job.timetable

    @property
    def shelf(self) -> Shelf:
        """Materials and rules."""
        return self.plan.shelf

    @cached_property
    def zones(self) -> tuple[ZonePlan, ...]:
        """The zones in the order of repair."""
        return tuple(self.plan.zone(o.zone.id) for o in self.plan.order)

    @cached_property
    def zone_names(self) -> dict[str, str]:
        """Each zone's name by its id, in the order of repair."""
        return {z.zone.id: z.zone.name for z in self.zones}

    def zone_name(self, step: str) -> str:
        """The name of a step's zone; none where it is of the whole job."""
        return self.zone_names.get(self.by_id[step].zone, "")

    @cached_property
    def usual_rows(self) -> tuple[StepRow, ...]:
        """Every step as it comes from the schemes."""
        return tuple(r for z in self.zones for r in z.steps.rows)

    @cached_property
    def arriving(self) -> dict[str, str]:
        """Steps that wait for an order, and until which day."""
        return arrivals(self.plan, self.usual_rows)

    # ---- time ----

    @cached_property
    def slots(self) -> int:
        """How many slots the calendar has."""
        return self.table.weeks * 7 * DAY_SLOTS

    def slot_of(self, moment: str, up: bool = False) -> int:
        """The slot in which a moment or a day lies, or the first one that is not before it."""
        span = (datetime.fromisoformat(moment) - datetime.fromisoformat(self.start)).total_seconds() / SLOT
        return ceil(span - 1e-9) if up else int(span // 1)

    def moment_of(self, slot: int) -> str:
        """The moment at which a slot begins."""
        return (datetime.fromisoformat(self.start) + timedelta(seconds=slot * SLOT)).isoformat(timespec="minutes")

    def moment_of_seconds(self, seconds: float) -> str:
        """The moment so many seconds, s, after the beginning, to the minute."""
        return (datetime.fromisoformat(self.start) + timedelta(seconds=seconds)).isoformat(timespec="minutes")

    # ---- steps ----

    @cached_property
    def rows(self) -> tuple[StepRow, ...]:
        """Every step to do, as changed, joined and split; those skipped are left out."""
        return self._changed[0]

    @cached_property
    def waits(self) -> tuple[StepWait, ...]:
        """What waits for what among them, but for what would close a circle."""
        return self._sound[0]

    @property
    def left_out(self) -> tuple[StepWait, ...]:
        """Waits that would close a circle, and are left out."""
        return self._sound[1]

    @cached_property
    def _sound(self) -> tuple[tuple[StepWait, ...], tuple[StepWait, ...]]:
        return without_circles(self._changed[1])

    @cached_property
    def _changed(self) -> tuple[tuple[StepRow, ...], tuple[StepWait, ...]]:
        return changed(self.usual_rows, tuple(w for z in self.zones for w in z.steps.waits), self.table)

    @cached_property
    def by_id(self) -> dict[str, StepRow]:
        """Each step by its id."""
        return {r.id: r for r in self.rows}

    # ---- air ----

    @cached_property
    def work_air(self) -> WorkAir:
        """Air at the work for all hours of the calendar."""
        first, count = 0, self.slots // HOUR_SLOTS + 24
        rule = self.shelf.rule
        told = self.table.forecast
        aids = tuple(Aid(a.kind, _si(a.degrees), _si(a.humidity), _si(a.power)) for a in self.table.aids)
        if told is None:
            stated = self.plan.job.air
            outside = Hours(
                first,
                np.full(count, stated.temperature.si),
                np.full(count, stated.humidity.si),
                np.zeros(count),
            )
            return at_work(outside, Shed(rule("shed.loss"), 0.0, True, rule("shed.lag")), aids)
        begins = round((datetime.fromisoformat(told.start) - datetime.fromisoformat(self.start)).total_seconds() / 3600)
        rain = np.array(told.rain) if told.rain else np.zeros(len(told.temperature))
        known_hours = Hours(begins, np.array(told.temperature), np.array(told.humidity), rain)
        outside = repeated(known_hours, first, count)
        out = self.table.outdoors
        shed = Shed(rule("shed.loss"), 0.0 if out else rule("shed.warmer"), not out, rule("shed.lag"))
        return at_work(outside, shed, aids)

    @cached_property
    def warmth(self) -> Warmth:
        """The laminate's temperatures over the calendar, s from its beginning."""
        return warmth_of(self.work_air)

    def limits_of(self, lays: str) -> tuple[float, float]:
        """The least temperature, degC, and the most humidity for a resin or for coats."""
        if lays == COAT:
            return self.shelf.rule("coat.least"), self.shelf.rule("coat.humid")
        resin = self.shelf.resin(lays)
        return resin.least_temperature, resin.most_humidity

    def factor_of(self, clock: str) -> float:
        """How many times as long as stated a resin takes here."""
        return dict(self.factors).get(clock, 1.0)

    def _blocked(self, lays: str) -> Air:
        least, humid = self.limits_of(lays)
        fine = layable(self.work_air, least, humid, self.shelf.rule("dew.margin"))
        bad = np.flatnonzero(fine == 0)
        name = "coats" if lays == COAT else self.shelf.resin(lays).name
        return Air(blocked_slots((n * HOUR_SLOTS, (n + 1) * HOUR_SLOTS) for n in bad.tolist()), name)

    def _clock(self, clock: str) -> Clock:
        activation = ACTIVATION if clock == COAT else self.shelf.resin(clock).activation
        least, _ = self.limits_of(clock)
        at = np.arange(self.slots + 1, dtype=float) * SLOT
        factor = self.factor_of(clock)
        slow = cure_clock(self.warmth, activation, least, factor).at(at)
        fast = cure_clock(self.warmth, activation, None, factor).at(at)
        return Clock(tuple(slow.tolist()), tuple(fast.tolist()))

    # ---- the question ----

    @cached_property
    def people(self) -> tuple[Person, ...]:
        """The crew; one hand from Monday to Friday where none is stated."""
        return self.table.people or (USUAL_HAND,)

    @cached_property
    def crew(self) -> tuple[Worker, ...]:
        """The crew in slots, within the days that the shed is free."""
        first = self.slot_of(self.table.shed_from) if self.table.shed_from else 0
        last = self.slot_of(self.table.shed_until) + DAY_SLOTS if self.table.shed_until else self.slots
        shed = [(float(max(first, 0)), float(min(last, self.slots)))]
        return tuple(
            Worker(p.name, shifts_within(list(self._spans(p)), shed, self.slots), p.skills) for p in self.people
        )

    def _spans(self, person: Person) -> list[tuple[float, float, bool]]:
        begin, made = date.fromisoformat(self.start), []
        for n in range(self.table.weeks * 7):
            day = begin + timedelta(days=n)
            text = day.isoformat()
            if text in person.off or (day.weekday() not in person.days and text not in person.more):
                continue
            for rows, late in ((person.hours, False), (person.late, True)):
                made += [(n * DAY_SLOTS + s.start * HOUR_SLOTS, n * DAY_SLOTS + s.end * HOUR_SLOTS, late) for s in rows]
        return made

    @cached_property
    def problem(self) -> Problem:
        """The question in slots."""
        return self._problem(self.since)

    @property
    def since(self) -> int:
        """The slot before which nothing more can be begun."""
        return max(self.slot_of(self.now, up=True), 0) if self.now else 0

    def _problem(self, since: int) -> Problem:
        names = {p.id: p.name for p in self.people}
        done = {d.step: d for d in self.done}
        tasks = tuple(self._task(row, names, since, done.get(row.id)) for row in self.rows)
        clocks = sorted({u.clock for w in self.waits for u in (w.least, w.most, w.missed_least) if u is not None})
        lays = sorted({r.lays for r in self.rows if r.lays and r.id not in done})
        return Problem(
            SLOT,
            self.slots,
            tasks,
            # What was begun is as it is: it asks nothing of what should have come before it.
            tuple(self._lag(w) for w in self.waits if w.after not in done),
            self.crew,
            {key: self._blocked(key) for key in lays},
            {key: self._clock(key) for key in clocks},
        )

    def _task(self, row: StepRow, names: dict[str, str], since: int, done: Done | None) -> Task:
        if done is not None:
            start = min(max(self.slot_of(done.start), 0), self.slots - 1)
            end = max(self.slot_of(done.end, up=True), start + 1) if done.end else max(since, start + 1)
            return Task(row.id, row.name, min(end, self.slots) - start, 0, at=start)
        if row.kind.people == 0 or row.people == 0:
            if row.until:
                day = min(max(self.slot_of(row.until), 0), self.slots - 1)
                return Task(row.id, row.name, 1, 0, earliest=max(day, since))
            return Task(row.id, row.name, max(ceil(row.waits / SLOT - 1e-9), 1), 0, earliest=since)
        change = self.table.change_of(row.id)
        people = min(row.people, len(self.people))
        at = self.slot_of(change.at) if change is not None and change.at else None
        who = tuple(names[p] for p in change.who if p in names) if change is not None else ()
        return Task(
            row.id,
            row.name,
            max(ceil(row.hours / people / SLOT - 1e-6), 1),
            people,
            row.kind.skill,
            row.kind.split,
            row.lays,
            row.wet,
            max(since, self._arrives(row.id)),
            None,
            at,
            who,
        )

    def _arrives(self, step: str) -> int:
        """The slot in which what a step needs has come."""
        day = self.arriving.get(root_of(step), "")
        return min(max(self.slot_of(day), 0), self.slots) if day else 0

    def _lag(self, wait: StepWait) -> Lag:
        missed = None
        if wait.missed is not None:
            missed = Missed(max(ceil(wait.missed / SLOT - 1e-6), 1), self._until(wait.missed_least))
        return Lag(wait.before, wait.after, self._until(wait.least), self._until(wait.most), missed, wait.why)

    def _until(self, until: Until | None) -> Wait | None:
        if until is None:
            return None
        if until.worth is not None:
            return Wait(worth=until.worth, clock=until.clock) if until.clock else Wait(until.worth)
        return Wait(worth=mark_time(self.shelf.resin(until.clock), until.mark), clock=until.clock)

    @cached_property
    def mark(self) -> str:
        """A short mark by which the same question is known again, whatever time it is."""
        from hashlib import sha256

        import msgspec

        asked = self._problem(0) if self.since else self.problem
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


def _si(measure: Measure | None) -> float | None:
    return None if measure is None else measure.si


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
