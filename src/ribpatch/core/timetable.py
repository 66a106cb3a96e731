"""What is stated of when the work is done: people and their hours, the shed, its air and what betters it, steps
changed, added or put by hand, and the schedule that was found and is kept.

Days are local; a moment is a local day and time to the minute, as 2027-03-28T14:30. Hours of a day count from midnight.
"""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from ribpatch.core.materials.records import Id
from ribpatch.core.ranged import ranged
from ribpatch.core.record import Checked, Limits, Record
from ribpatch.core.stock import FIRST_YEAR, LAST_YEAR, Day
from ribpatch.core.units import Kind, Measure, usual

MOST_PEOPLE, MOST_STEPS, MOST_HOURS = 6, 1000, 24 * 120
WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
SKILLS = ("lay", "paint", "lift")

StepId = Annotated[str, Limits(min_length=1, max_length=140, pattern=r"^[a-z0-9][a-z0-9._-]*$")]
Skill = Literal["lay", "paint", "lift"]
HourOfDay = Annotated[float, Limits(ge=0, le=24)]
Words = Annotated[str, Limits(max_length=400)]


def _moment(text: str) -> str:
    """A moment in the one way that sorts as text."""
    if not text:
        return text
    try:
        when = datetime.fromisoformat(text)
    except ValueError:
        raise ValueError(f"“{text}” is no day and time; write it as 2027-03-28T14:30") from None
    if when.tzinfo is not None:
        raise ValueError(f"“{text}” names a time zone; times are those of the clock in the shed")
    if not FIRST_YEAR <= when.year <= LAST_YEAR:
        raise ValueError(f"“{text}” is outside the years {FIRST_YEAR} to {LAST_YEAR}")
    return when.isoformat(timespec="minutes")


Moment = Annotated[str, Limits(max_length=32), Checked(_moment)]


class DaySpan(Record):
    """A stretch of a day, hours from midnight."""

    start: HourOfDay
    end: HourOfDay

    def check(self) -> None:
        """It ends after it begins."""
        if self.end <= self.start:
            raise ValueError("a stretch of a day ends before it begins")


class Person(Record):
    """Someone who works on the boat, by what they are: usual and late hours, on which days of the week (0 is Monday),
    days off and days more. A visitor comes only on the days more.
    """

    id: Id
    name: Annotated[str, Limits(min_length=1, max_length=80)]
    hours: Annotated[tuple[DaySpan, ...], Limits(max_length=6)] = ()
    late: Annotated[tuple[DaySpan, ...], Limits(max_length=6)] = ()
    days: Annotated[tuple[Annotated[int, Limits(ge=0, le=6)], ...], Limits(max_length=7)] = (0, 1, 2, 3, 4)
    off: Annotated[tuple[Day, ...], Limits(max_length=200)] = ()
    more: Annotated[tuple[Day, ...], Limits(max_length=200)] = ()
    skills: Annotated[tuple[Skill, ...], Limits(max_length=3)] = ("lay", "paint", "lift")


class AidKept(Record):
    """Something that betters the air of the shed or of one zone."""

    id: Id
    kind: Literal["heater", "tent", "dehumidifier", "blanket", "cover"]
    degrees: Annotated[Measure, ranged(0, 80, Kind.TEMPERATURE)] | None = None
    humidity: Annotated[Measure, ranged(0.2, 1, Kind.PERCENT)] | None = None
    power: Annotated[Measure, ranged(100, 100_000, Kind.POWER)] | None = None


Degrees = Annotated[float, Limits(ge=-45, le=60)]
Humid = Annotated[float, Limits(gt=0, le=1)]
Rain = Annotated[float, Limits(ge=0, le=300)]


class Forecast(Record):
    """Air outside by the hour from a moment on, and where it comes from."""

    start: Annotated[str, Limits(max_length=16), Checked(_moment)]
    temperature: Annotated[tuple[Degrees, ...], Limits(min_length=1, max_length=MOST_HOURS)]
    humidity: Annotated[tuple[Humid, ...], Limits(min_length=1, max_length=MOST_HOURS)]
    rain: Annotated[tuple[Rain, ...], Limits(max_length=MOST_HOURS)] = ()
    origin: Annotated[str, Limits(max_length=200)] = ""

    def check(self) -> None:
        """As many of each."""
        if len(self.temperature) != len(self.humidity) or len(self.rain) not in (0, len(self.temperature)):
            raise ValueError("temperature, humidity and rain must be told for the same hours")
        if not self.start:
            raise ValueError("a forecast begins on a day")


class StepChange(Record):
    """What was changed of a step that comes from the schemes: hours, people, who, where it was put, name; skipped for a
    reason, split into parts, or done together with the step before it.
    """

    step: StepId
    hours: Annotated[Measure, ranged(0.0, 3.6e6, Kind.HOURS)] | None = None
    people: Annotated[int, Limits(ge=1, le=MOST_PEOPLE)] | None = None
    who: Annotated[tuple[Id, ...], Limits(max_length=MOST_PEOPLE)] = ()
    at: Moment = ""
    name: Annotated[str, Limits(max_length=120)] = ""
    skipped: Words = ""
    parts: Annotated[int, Limits(ge=1, le=8)] = 1
    joined: bool = False


class OwnStep(Record):
    """A step that the user added: after which others, before which, and how long it keeps the next one waiting."""

    id: StepId
    name: Annotated[str, Limits(min_length=1, max_length=120)]
    zone: Id | None = None
    hours: Annotated[Measure, ranged(0.0, 3.6e6, Kind.HOURS)] = usual(3600)
    people: Annotated[int, Limits(ge=0, le=MOST_PEOPLE)] = 1
    split: bool = True
    after: Annotated[tuple[StepId, ...], Limits(max_length=40)] = ()
    before: Annotated[tuple[StepId, ...], Limits(max_length=40)] = ()
    wait: Annotated[Measure, ranged(0, 3.6e6, Kind.HOURS)] = usual(0)


class KeptStep(Record):
    """A step of a schedule that is kept."""

    step: StepId
    start: Moment
    end: Moment
    who: Annotated[tuple[Annotated[str, Limits(max_length=80)], ...], Limits(max_length=MOST_PEOPLE)] = ()
    missed: bool = False


class KeptSchedule(Record):
    """The schedule that was found, with a mark of what it was worked out from, the least that any could need, and how
    far it was proven.
    """

    mark: Annotated[str, Limits(min_length=16, max_length=16, pattern=r"^[0-9a-f]{16}$")]
    steps: Annotated[tuple[KeptStep, ...], Limits(max_length=MOST_STEPS)]
    bound: Moment
    proven: bool = False
    best: bool = False
    soonest: Moment = ""  # nine in ten finish after this
    latest: Moment = ""  # nine in ten finish before this


class Timetable(Record):
    """When the work is done, as stated. Without people one hand works from Monday to Friday."""

    start: Day = ""
    weeks: Annotated[int, Limits(ge=1, le=26)] = 12
    people: Annotated[tuple[Person, ...], Limits(max_length=MOST_PEOPLE)] = ()
    ordered: Day = ""
    shed_from: Day = ""
    shed_until: Day = ""
    outdoors: bool = False
    aids: Annotated[tuple[AidKept, ...], Limits(max_length=20)] = ()
    forecast: Forecast | None = None
    changes: Annotated[tuple[StepChange, ...], Limits(max_length=MOST_STEPS)] = ()
    added: Annotated[tuple[OwnStep, ...], Limits(max_length=200)] = ()
    kept: KeptSchedule | None = None

    def check(self) -> None:
        """People, aids and steps are told apart; the shed is free for some time."""
        for rows, what in (
            ([p.id for p in self.people], "two people carry the same id"),
            ([p.name for p in self.people], "two people carry the same name; tell them apart"),
            ([a.id for a in self.aids], "two heaters or the like carry the same id"),
            ([c.step for c in self.changes], "a step is changed twice"),
            ([s.id for s in self.added], "two added steps carry the same id"),
        ):
            if len(set(rows)) != len(rows):
                raise ValueError(what)
        if self.shed_from and self.shed_until and self.shed_until < self.shed_from:
            raise ValueError("the shed is free until a day before it is free from")

    def change_of(self, step: str) -> StepChange | None:
        """What was changed of a step; None where nothing was."""
        return next((c for c in self.changes if c.step == step), None)


def root_of(step: str) -> str:
    """The step that a part belongs to; the step itself where it is whole."""
    head, dot, number = step.rpartition(".p")
    return head if dot and number.isdigit() else step


def day_after(day: str, days: float) -> str:
    """The day so many days later."""
    from datetime import timedelta

    return (date.fromisoformat(day) + timedelta(days=days)).isoformat()
