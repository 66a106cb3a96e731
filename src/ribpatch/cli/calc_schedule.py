"""``ribpatch calc schedule``: steps, waits, people and air to a plan, its bound, or what clashes. Hours from the
midnight at which the calendar begins; an hour of a cure is one at 25 degC.
"""

from __future__ import annotations

from datetime import date, timedelta
from math import ceil, floor
from typing import TYPE_CHECKING, Annotated, Any, Literal

import numpy as np

from ribpatch.core.record import Limits, Record

if TYPE_CHECKING:
    from ribpatch.core.calendar.problem import Air, Clash, Clock, Problem, Schedule, Wait, Worker

Hour = Annotated[float, Limits(ge=0, le=10_000, description="h")]
Name = Annotated[str, Limits(min_length=1, max_length=80)]
Day = Annotated[str, Limits(pattern=r"^\d{4}-\d{2}-\d{2}$", description="as 2026-03-31")]
Weekday = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
WEEK: tuple[Weekday, ...] = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
Span = tuple[
    Annotated[float, Limits(ge=0, le=24, description="h of the day, from")],
    Annotated[float, Limits(ge=0, le=24, description="to")],
]
Stretch = tuple[Annotated[float, Limits(ge=0, le=10_000, description="h, from")], Hour]


class CalcWait(Record):
    """Hours by the wall, or by the cure: what that much takes at 25 degC."""

    hours: Hour | None = None
    cure: Annotated[float, Limits(ge=0, le=10_000, description="h at 25 degC")] | None = None

    def check(self) -> None:
        """One of the two."""
        if (self.hours is None) == (self.cure is None):
            raise ValueError("give either hours or cure")


class CalcMissed(Record):
    """What a missed window costs: hours of work, and how long after the step before it can be done at all."""

    hours: Hour = 0.0
    least: CalcWait | None = None


class CalcLag(Record):
    """``after`` begins at least, and at most, so long after the end of ``before``."""

    before: Name
    after: Name
    least: CalcWait | None = None
    most: CalcWait | None = None
    missed: CalcMissed | None = None


class CalcStep(Record):
    """One step. ``split`` work goes on over nights and days off; if it is left out, all work does but what lays or is
    wet, which is done in one go. ``people`` 0 is a wait, of ``hours`` by the wall.
    """

    id: Name
    hours: Annotated[float, Limits(gt=0, le=1000, description="h of work")]
    people: Annotated[int, Limits(ge=0, le=6)] = 1
    skill: Annotated[str, Limits(max_length=80)] = ""
    who: Annotated[tuple[Name, ...], Limits(max_length=6)] = ()
    split: bool | None = None
    lays: bool = False  # it needs air to lay in
    wet: Annotated[str, Limits(max_length=80)] = ""  # its block of wet work
    earliest: Hour = 0.0
    latest: Hour | None = None
    at: Hour | None = None


class CalcPerson(Record):
    """Someone who works: hours of a day, on which weekdays; late hours, that are to be spared; days off and days more;
    or shifts one by one.
    """

    name: Name
    hours: Annotated[tuple[Span, ...], Limits(max_length=8)] = ((8.0, 17.0),)
    late: Annotated[tuple[Span, ...], Limits(max_length=8)] = ()
    days: tuple[Weekday, ...] = ("mon", "tue", "wed", "thu", "fri")
    off: Annotated[tuple[Day, ...], Limits(max_length=400)] = ()
    more: Annotated[tuple[Day, ...], Limits(max_length=400)] = ()
    skills: Annotated[tuple[Name, ...], Limits(max_length=20)] = ()
    shifts: Annotated[tuple[Stretch, ...], Limits(max_length=1000)] | None = None


class CalcHour(Record):
    """Air at an hour, held until the next."""

    hours: Hour
    temperature: Annotated[float, Limits(ge=-40, le=60, description="degC")]
    humidity: Annotated[float, Limits(gt=0, le=1)] = 0.5


class CalcAir(Record):
    """The air at the work and what it must be to lay in it; the clock of the cure runs by its temperature."""

    hours: Annotated[tuple[CalcHour, ...], Limits(min_length=1, max_length=5000)]
    least: Annotated[float, Limits(ge=-40, le=60, description="degC")] = -40.0
    most_humidity: Annotated[float, Limits(gt=0, le=1)] = 1.0
    margin: Annotated[float, Limits(ge=0, le=20, description="K over the dew point")] = 3.0
    activation: Annotated[float, Limits(ge=0, le=2e5, description="J/mol")] = 55_000.0


class ScheduleInput(Record):
    """Steps, waits, people and air."""

    start: Day = "2026-03-02"  # a Monday
    days: Annotated[int, Limits(ge=1, le=200)] = 56
    grid: Annotated[float, Limits(ge=1, le=240, description="minutes; hours of work are rounded up to it")] = 15.0
    steps: Annotated[tuple[CalcStep, ...], Limits(min_length=1, max_length=400)]
    lags: Annotated[tuple[CalcLag, ...], Limits(max_length=2000)] = ()
    crew: Annotated[tuple[CalcPerson, ...], Limits(max_length=6)] = ()
    shed: Annotated[tuple[Stretch, ...], Limits(max_length=100)] = ()  # when it is free; always if none is given
    air: CalcAir | None = None
    seconds: Annotated[float, Limits(gt=0, le=600)] = 10.0

    def check(self) -> None:
        """Names are told apart, days are days, a day is a whole number of slots."""
        date.fromisoformat(self.start)
        if abs(1440 / self.grid - round(1440 / self.grid)) > 1e-9:
            raise ValueError("grid: a day must be a whole number of it, as 5, 10, 15, 30 or 60 minutes")
        names = [p.name for p in self.crew]
        if len(set(names)) != len(names):
            raise ValueError("two of the crew carry the same name")


def schedule(given: ScheduleInput) -> dict[str, Any]:
    """The plan, its bound, or what clashes."""
    from ribpatch.core.errors import InvalidValue
    from ribpatch.scheduler.search import searched

    made = problem_of(given)
    try:
        made.check()
    except ValueError as error:
        raise InvalidValue("steps", reason=str(error)) from None
    found = searched(made, given.seconds)
    if found.schedule is None:
        return {"found": False, **_clash(found.clash, made)}
    return {"found": True, **_plan(found.schedule, made)}


def problem_of(given: ScheduleInput) -> Problem:
    """The question in slots."""
    from ribpatch.core.calendar.problem import Lag, Missed, Problem, Task

    slot, slots = given.grid * 60, round(given.days * 1440 / given.grid)

    def up(hours: float) -> int:
        return ceil(hours * 3600 / slot - 1e-6)

    def down(hours: float) -> int:
        return floor(hours * 3600 / slot + 1e-6)

    tasks = tuple(
        Task(
            s.id,
            s.id,
            max(up(s.hours), 1),
            s.people,
            s.skill,
            s.split if s.split is not None else not (s.lays or s.wet),
            "lay" if s.lays and given.air is not None else "",
            s.wet,
            up(s.earliest),
            None if s.latest is None else down(s.latest),
            None if s.at is None else down(s.at),
            s.who,
        )
        for s in given.steps
    )
    lags = tuple(
        Lag(
            x.before,
            x.after,
            _wait(x.least),
            _wait(x.most),
            None if x.missed is None else Missed(up(x.missed.hours), _wait(x.missed.least)),
        )
        for x in given.lags
    )
    crew = tuple(_worker(p, given, slot, slots) for p in given.crew)
    air, clocks = _air(given, slot, slots)
    return Problem(slot, slots, tasks, lags, crew, air, clocks)


def _wait(given: CalcWait | None) -> Wait | None:
    from ribpatch.core.calendar.problem import Wait

    if given is None:
        return None
    return Wait(worth=given.cure * 3600, clock="cure") if given.cure is not None else Wait((given.hours or 0) * 3600)


def _worker(person: CalcPerson, given: ScheduleInput, slot: float, slots: int) -> Worker:
    from ribpatch.core.calendar.hours import shifts_within
    from ribpatch.core.calendar.problem import Worker

    shed = [(a * 3600 / slot, b * 3600 / slot) for a, b in given.shed]
    spans = []
    if person.shifts is not None:
        spans = [(a * 3600 / slot, b * 3600 / slot, False) for a, b in person.shifts]
    else:
        first, day = date.fromisoformat(given.start), 86_400 / slot
        for n in range(given.days):
            now = first + timedelta(days=n)
            text = now.isoformat()
            if text in person.off or (WEEK[now.weekday()] not in person.days and text not in person.more):
                continue
            for rows, late in ((person.hours, False), (person.late, True)):
                spans += [(n * day + a * 3600 / slot, n * day + b * 3600 / slot, late) for a, b in rows]
    return Worker(person.name, shifts_within(spans, shed or [(0, slots)], slots), person.skills)


def _air(given: ScheduleInput, slot: float, slots: int) -> tuple[dict[str, Air], dict[str, Clock]]:
    from ribpatch.core.calendar.clock import Warmth, cure_clock
    from ribpatch.core.calendar.hours import blocked_slots
    from ribpatch.core.calendar.problem import Air, Clock
    from ribpatch.core.calendar.weather import dew_points

    at = np.arange(slots + 1, dtype=float) * slot
    if given.air is None:
        worth = tuple(at.tolist())
        return {}, {"cure": Clock(worth, worth)}
    rows = given.air.hours
    times = np.array([r.hours for r in rows]) * 3600
    degrees, humidity = np.array([r.temperature for r in rows]), np.array([r.humidity for r in rows])
    warmth = Warmth(times, degrees, held=True)
    worth = tuple(cure_clock(warmth, given.air.activation).at(at).tolist())
    bad = (degrees < given.air.least) | (humidity > given.air.most_humidity + 1e-9)
    bad |= degrees < dew_points(degrees, humidity) + given.air.margin - 1e-9
    ends = np.concatenate([times[1:], [slots * slot]])
    begins = np.concatenate([[0.0], times[1:]])
    stretches = [(a / slot, b / slot) for a, b, off in zip(begins, ends, bad, strict=True) if off]
    return {"lay": Air(blocked_slots(stretches), "the air")}, {"cure": Clock(worth, worth)}


def _plan(found: Schedule, made: Problem) -> dict[str, Any]:
    hour = made.slot / 3600
    return {
        "finish": found.finish * hour,
        "bound": found.bound * hour,
        "proven": found.proven,
        "best": found.best,
        "sandings": found.sandings,
        "late_hours": found.late * hour,
        "steps": [
            {"id": p.id, "start": p.start * hour, "end": p.end * hour, "who": list(p.who), "missed": p.missed}
            for p in found.placed
        ],
    }


def _clash(clash: Clash | None, made: Problem) -> dict[str, Any]:
    if clash is None:
        return {"clash": None, "why": "No schedule was found in the time, and none was ruled out; give more seconds."}
    from ribpatch.core.calendar.words import freeing_words, ruling_words

    def when(slot: int) -> str:
        return f"hour {slot * made.slot / 3600:g}"

    return {
        "clash": [
            {"kind": r.kind, "step": r.step, "before": r.before, "words": ruling_words(r, made, when)}
            for r in clash.against
        ],
        "frees": [
            {
                "kind": r.kind,
                "step": r.step,
                "before": r.before,
                "hours": None if r.slot is None else r.slot * made.slot / 3600,
                "words": freeing_words(r, made, when),
            }
            for r in clash.frees
        ],
    }
