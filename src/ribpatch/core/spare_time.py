"""A few hours to spare: which steps fit into them, what each brings forward, and by when what follows it must be done.

Each step that could be begun is put into the time, done by whoever has it, and the rest is planned anew; the first plan
with it is set against the first plan without.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ribpatch.core.calendar.first import first_schedule
from ribpatch.core.calendar.problem import Worker
from ribpatch.core.calendar.waits import first_after, last_after
from ribpatch.core.dates import moment_words
from ribpatch.core.slots import DAY_SLOTS, HOUR_SLOTS
from ribpatch.core.timetable import SKILLS

if TYPE_CHECKING:
    from ribpatch.core.calendar.problem import Problem, Schedule, Task
    from ribpatch.core.days import Days

YOU = "you"
BEGINS, ENDS = 8 * HOUR_SLOTS, 18 * HOUR_SLOTS  # of a day on the weekend
WAITED_FOR = 2 * HOUR_SLOTS  # what ends so soon after the time begins may be waited for


class Offer(Struct, frozen=True):
    """A step that fits: its hours, by how many hours all is done earlier, windows missed more or fewer, and in words
    what must follow by when. ``part`` where only a part of it is done in the time.
    """

    step: str
    name: str
    zone: str
    hours: float
    gain: float
    missed: int
    part: bool
    follows: str


def worth_doing(days: Days, start: str, hours: float) -> tuple[Offer, ...]:
    """What is worth doing in some hours from a moment on, best first: what brings the finish forward, then what misses
    fewer windows, then the longer work.
    """
    plan, problem = days.schedule, days.problem
    first = days.slot_of(start, up=True)
    last = first + int(hours * HOUR_SLOTS)
    if plan is None or not 0 <= first < last <= days.slots:
        return ()
    base = first_schedule(problem)
    more = _with_you(problem, ((first, last),))
    offers = []
    for task in problem.tasks:
        begin = _ready(task, days, plan, first)
        if begin is None or begin >= last or task.people != 1:
            continue
        part = task.work > last - begin
        if part and not task.split:
            continue
        made = first_schedule(_put(more, task, begin))
        if made is None or base is None:
            continue
        row = days.by_id[task.id]
        offers.append(
            Offer(
                task.id,
                task.name,
                days.zone_names.get(row.zone, ""),
                min(task.work, last - begin) / HOUR_SLOTS,
                (base.finish - made.finish) / HOUR_SLOTS,
                made.sandings - base.sandings,
                part,
                _follows(days, made, task.id),
            )
        )
    return tuple(sorted(offers, key=lambda o: (-o.gain, o.missed, -o.hours)))


def _with_you(problem: Problem, shifts: tuple[tuple[int, int], ...]) -> Problem:
    """Someone more, who is there in that time only."""
    you = Worker(YOU, tuple((a, b, False) for a, b in shifts), SKILLS)
    return replace(problem, crew=(*problem.crew, you))


def _put(problem: Problem, task: Task, begin: int) -> Problem:
    """A step begun then, whoever is there goes on with it."""
    by = (YOU,) if not task.split else ()
    tasks = tuple(replace(t, at=begin, earliest=0, by=by) if t.id == task.id else t for t in problem.tasks)
    return replace(problem, tasks=tasks)


def _ready(task: Task, days: Days, plan: Schedule, first: int) -> int | None:
    """The first slot from ``first`` on at which a step can be begun, where all that it waits for is done by then."""
    if task.people == 0 or task.at is not None or plan.by_id[task.id].start < first:
        return None
    begin = max(first, task.earliest)
    for lag in days.problem.lags:
        if lag.after != task.id:
            continue
        end = plan.by_id[lag.before].end
        if end > begin + WAITED_FOR:
            return None
        begin = max(begin, int(first_after(lag.least, days.problem)[end]))
        if lag.most is not None and begin > int(last_after(lag.most, days.problem)[end]):
            return None
    return begin


def _follows(days: Days, made: Schedule, step: str) -> str:
    """By when what follows a step must be done, in words; nothing where it can wait."""
    end = made.by_id[step].end
    for lag in days.problem.lags:
        if lag.before == step and lag.most is not None:
            closes = int(last_after(lag.most, days.problem)[end])
            return f"then “{days.by_id[lag.after].name}” by {moment_words(days.moment_of(closes))}"
    return ""


class Fit(Struct, frozen=True):
    """What fits into a time in which everyone is there: steps in order, and by how many hours all is done earlier."""

    steps: tuple[str, ...]
    gain: float
    finish: int


def fits_in(days: Days, start: str, end: str) -> Fit | None:
    """What is done between two moments if the whole crew works 8 to 18 h then, beside its usual hours."""
    first, last = days.slot_of(start), days.slot_of(end)
    if not 0 <= first < last <= days.slots:
        return None
    spans = []
    for day in range(first // DAY_SLOTS, (last - 1) // DAY_SLOTS + 1):
        a, b = max(first, day * DAY_SLOTS + BEGINS), min(last, day * DAY_SLOTS + ENDS)
        if b > a:
            spans.append((a, b, False))
    crew = tuple(replace(w, shifts=_joined((*w.shifts, *spans))) for w in days.problem.crew)
    base, made = first_schedule(days.problem), first_schedule(replace(days.problem, crew=crew))
    if base is None or made is None:
        return None
    inside = sorted((p for p in made.placed if p.who and first <= p.start and p.end <= last), key=lambda p: p.start)
    return Fit(tuple(p.id for p in inside), (base.finish - made.finish) / HOUR_SLOTS, made.finish)


def _joined(shifts: tuple[tuple[int, int, bool], ...]) -> tuple[tuple[int, int, bool], ...]:
    """Shifts that do not overlap, usual hours before late ones."""
    from ribpatch.core.calendar.hours import shifts_within

    last = max(b for _, b, _ in shifts)
    return shifts_within([(float(a), float(b), late) for a, b, late in shifts], [(0.0, float(last))], last)
