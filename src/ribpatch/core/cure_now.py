"""The cure clock: everything wet on the boat at a moment, from the log and the temperatures that it really had.

Where the air was read, the planned warmth is moved by the difference, in a line from reading to reading; before the
first and after the last the difference fades with half a day.
"""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.calendar.clock import Warmth, cure_clock, first_below
from ribpatch.core.logbook.nail import cure_factor
from ribpatch.core.logbook.standing import air_read, laid_things, standing
from ribpatch.core.logged import Laid, NailTest
from ribpatch.core.memo import remembered
from ribpatch.core.numerals import fixed
from ribpatch.core.steps.records import OF_POT_LIFE, mark_time

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ribpatch.core.days import Days
    from ribpatch.core.job import Job
    from ribpatch.core.logbook.nail import CureFactor
    from ribpatch.core.materials.records import Resin

FADE = 12 * 3600.0  # s by which a difference read fades to a third
MARKS = tuple(OF_POT_LIFE)
WATCHED = ("gel", "green_from", "green_to", "sandable", "unclamp", "service")


class Curing(Struct, frozen=True):
    """One wet thing: of which step, with what, since when, how far (s at 25 degC), its state in words, its marks as
    (mark, moment; empty where it is not foretold), the next of them, and how the clock is corrected.
    """

    step: str
    resin: str
    since: str
    worth: float
    state: str
    marks: tuple[tuple[str, str], ...]
    next_mark: str
    next_at: str
    cold: bool
    factor: float
    tests: int


def warmth_had(days: Days, read: Sequence[tuple[str, float]]) -> Warmth:
    """The laminate's warmth as planned, moved to what was read."""
    plan = days.warmth
    if not read:
        return plan
    zero = datetime.fromisoformat(days.start)
    times = np.array([(datetime.fromisoformat(at) - zero).total_seconds() for at, _ in read])
    off = np.array([degrees for _, degrees in read]) - plan.at(times)
    every = np.unique(np.concatenate([plan.times, times]))
    moved = np.interp(every, times, off)
    moved *= np.exp(-np.maximum(times[0] - every, 0) / FADE) * np.exp(-np.maximum(every - times[-1], 0) / FADE)
    return Warmth(every, plan.at(every) + moved)


def marks_of(resin: Resin) -> dict[str, float]:
    """Every mark of a resin, s at 25 degC."""
    return {mark: mark_time(resin, mark) for mark in MARKS}


@remembered(8)
def factors_of(job: Job, days: Days) -> tuple[tuple[str, CureFactor], ...]:
    """How many times as long each resin takes, from the nail tests of the job; only resins that were tried."""
    under: dict[str, Laid] = {}  # what was laid last in a step before the nail was tried on it
    warmth, zero = warmth_had(days, air_read(job.log)), datetime.fromisoformat(days.start)
    tests: dict[str, list[tuple[object, float, dict[str, float]]]] = {}
    for entry in standing(job.log):
        if isinstance(entry, Laid):
            under[entry.step] = entry
        if not isinstance(entry, NailTest) or entry.step not in under:
            continue
        resin = days.shelf.resin(under[entry.step].resin)
        since = (datetime.fromisoformat(under[entry.step].at) - zero).total_seconds()
        until = (datetime.fromisoformat(entry.at) - zero).total_seconds()
        worth = cure_clock(warmth, resin.activation).progress(since, until)
        tests.setdefault(resin.id, []).append((entry.state, worth, marks_of(resin)))
    return tuple((resin, cure_factor(rows)) for resin, rows in tests.items())  # type: ignore[arg-type]  # states of the log


def curing_now(job: Job, days: Days, now: str) -> tuple[Curing, ...]:
    """Everything that cures at a moment, what comes next first; what has its service strength is left out."""
    factors = dict(factors_of(job, days))
    warmth = warmth_had(days, air_read(job.log))
    made = []
    for thing in laid_things(job.log):
        factor = factors.get(thing.resin)
        curing = _curing(thing.step, thing.resin, thing.since, days, warmth, now, factor)
        if curing is not None:
            made.append(curing)
    return tuple(sorted(made, key=lambda c: (c.next_at or "9", c.step)))


CLAMPED = ("bed", "join", "knee")  # kinds of steps after which clamps stay on


def _curing(
    step: str, resin_id: str, since: str, days: Days, warmth: Warmth, now: str, factor: CureFactor | None
) -> Curing | None:
    resin, zero = days.shelf.resin(resin_id), datetime.fromisoformat(days.start)
    start = (datetime.fromisoformat(since) - zero).total_seconds()
    here = (datetime.fromisoformat(now) - zero).total_seconds()
    slower = factor.middle if factor is not None else days.factor_of(resin_id)
    clock = cure_clock(warmth, resin.activation, None, slower)
    worth = clock.progress(start, max(here, start))
    needs = marks_of(resin)
    if worth >= needs["service"] or here < start:
        return None
    cold = first_below(warmth, start, resin.least_temperature)
    row, rows, upcoming = days.by_id.get(step), [], []
    clamped = row is not None and row.kind.id in CLAMPED
    for mark in WATCHED:
        if mark == "unclamp" and not clamped:
            continue
        at = float(clock.reach(start, needs[mark]))
        told = "" if cold is not None and at > cold else days.moment_of_seconds(at)
        rows.append((mark, told))
        if told and at > here:
            upcoming.append((at, mark, told))
    nearest = min(upcoming, default=(0.0, "", ""))
    return Curing(
        step,
        resin_id,
        since,
        worth,
        state_words(worth, needs, resin.family == "epoxy"),
        tuple(rows),
        nearest[1],
        nearest[2],
        cold is not None and cold <= here,
        slower,
        factor.tests if factor is not None else 0,
    )


def state_words(worth: float, needs: dict[str, float], epoxy: bool) -> str:
    """The state of a cure in words; ``worth`` and the marks in s at 25 degC."""
    if worth < needs["gel"]:
        return "liquid: it can still be worked into"
    if worth < needs["green_from"]:
        return "gelled, still too soft for the next ply"
    if worth < needs["green_to"]:
        return "green: the next ply bonds without sanding"
    if worth < needs["sandable"]:
        wash = "wash, then abrade" if epoxy else "abrade"
        return f"past its window, too soft to sand: wait, {wash} before anything goes on"
    if worth < needs["service"]:
        return "hard: it can be sanded; it does not carry its full load yet"
    return "cured"


MARK_SAYS = {
    "gel": "gels",
    "green_from": "the window for the next ply opens",
    "green_to": "the window for the next ply closes",
    "sandable": "can be sanded",
    "unclamp": "can be unclamped",
    "service": "carries its load",
}


def countdown(at: str, now: str) -> str:
    """How long until a moment, as it is said."""
    minutes = round((datetime.fromisoformat(at) - datetime.fromisoformat(now)).total_seconds() / 60)
    if minutes < 0:
        return f"{-minutes // 60} h {-minutes % 60:02d} min ago"
    if minutes >= 48 * 60:
        return f"in {fixed(minutes / 1440, 1)} days"
    return f"in {minutes // 60} h {minutes % 60:02d} min"
