"""The question that a schedule answers, in slots: the crew within the shed's days, each step as a task, what waits for
what, the air in which nothing is laid, and the cure clock of each resin.
"""

from __future__ import annotations

from datetime import date, timedelta
from math import ceil
from typing import TYPE_CHECKING, Any

import numpy as np

from ribpatch.core.calendar.clock import cure_clock
from ribpatch.core.calendar.hours import blocked_slots, shifts_within
from ribpatch.core.calendar.problem import Air, Clock, Lag, Missed, Problem, Task, Wait, Worker
from ribpatch.core.calendar.weather import layable
from ribpatch.core.patch.access.sides import is_inside
from ribpatch.core.slots import DAY_SLOTS, HOUR_SLOTS, SLOT
from ribpatch.core.steps.records import COAT, mark_time
from ribpatch.core.supply.coats import ACTIVATION
from ribpatch.core.timetable import root_of

if TYPE_CHECKING:
    from ribpatch.core.days_stated import Done, StatedDays
    from ribpatch.core.job import Zone
    from ribpatch.core.steps.records import StepRow, StepWait, Until
    from ribpatch.core.timetable import Person


DUST_DRY = 2 * 3600.0  # s at 25 degC until dust does not stick to a coat; judgement


def crew_of(days: StatedDays) -> tuple[Worker, ...]:
    """The crew in slots, within the days that the shed is free."""
    table = days.table
    first = days.slot_of(table.shed_from) if table.shed_from else 0
    last = days.slot_of(table.shed_until) + DAY_SLOTS if table.shed_until else days.slots
    shed = [(float(max(first, 0)), float(min(last, days.slots)))]
    return tuple(Worker(p.name, shifts_within(_spans(days, p), shed, days.slots), p.skills) for p in days.people)


def _spans(days: StatedDays, person: Person) -> list[tuple[float, float, bool]]:
    begin, made = date.fromisoformat(days.start), []
    for n in range(days.table.weeks * 7):
        day = begin + timedelta(days=n)
        text = day.isoformat()
        if text in person.off or (day.weekday() not in person.days and text not in person.more):
            continue
        for rows, late in ((person.hours, False), (person.late, True)):
            made += [(n * DAY_SLOTS + s.start * HOUR_SLOTS, n * DAY_SLOTS + s.end * HOUR_SLOTS, late) for s in rows]
    return made


def problem_of(days: StatedDays, crew: tuple[Worker, ...], since: int) -> Problem:
    """The question in slots where nothing is begun before the slot ``since`` but what was begun already."""
    names = {p.id: p.name for p in days.people}
    done = {d.step: d for d in days.done}
    tasks = tuple(_task(days, row, names, since, done.get(row.id)) for row in days.rows)
    clocks = {u.clock for w in days.waits for u in (w.least, w.most, w.missed_least) if u is not None and u.clock}
    clocks |= {r.lays for r in days.rows if r.lays}
    lays = sorted({r.lays for r in days.rows if r.lays and r.id not in done})
    return Problem(
        SLOT,
        days.slots,
        tasks,
        # What was begun is as it is: it asks nothing of what should have come before it.
        tuple(_lag(days, w) for w in days.waits if w.after not in done),
        crew,
        {key: _blocked(days, key) for key in lays},
        {key: _clock(days, key) for key in sorted(clocks)},
        near_zones(days),
    )


def _task(days: StatedDays, row: StepRow, names: dict[str, str], since: int, done: Done | None) -> Task:
    if done is not None:
        start = min(max(days.slot_of(done.start), 0), days.slots - 1)
        end = max(days.slot_of(done.end, up=True), start + 1) if done.end else max(since, start + 1)
        # Dust that has flown is as it is; what was laid is wet still.
        return Task(row.id, row.name, min(end, days.slots) - start, 0, at=start, **_wetness(days, row))
    if row.kind.people == 0 or row.people == 0:
        if row.until:
            day = min(max(days.slot_of(row.until), 0), days.slots - 1)
            return Task(row.id, row.name, 1, 0, earliest=max(day, since))
        return Task(row.id, row.name, max(ceil(row.waits / SLOT - 1e-9), 1), 0, earliest=since)
    change = days.table.change_of(row.id)
    people = min(row.people, len(days.people))
    at = days.slot_of(change.at) if change is not None and change.at else None
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
        max(since, _arrives(days, row.id)),
        None,
        at,
        who,
        dust=row.kind.dust,
        **_wetness(days, row),
    )


def _wetness(days: StatedDays, row: StepRow) -> dict[str, Any]:
    """Where a step is, and until when what it lays must be kept from dust."""
    if not row.lays:
        return {"zone": row.zone}
    zone = "" if row.kind.id == "part" else row.zone  # on the bench
    if row.lays == COAT:
        dry = Wait(worth=DUST_DRY, clock=COAT)
        return {"zone": zone, "gel": dry, "hard": dry}
    resin = days.shelf.resin(row.lays)
    gel, hard = (Wait(worth=mark_time(resin, mark), clock=row.lays) for mark in ("gel", "sandable"))
    return {"zone": zone, "gel": gel, "hard": hard}


def near_zones(days: StatedDays) -> dict[str, tuple[str, ...]]:
    """The zones that share a room or an open side with each: inside the boat all, outside those within reach of dust
    along her, and on her centreline or the same side.
    """
    zones = [z.zone for z in days.zones]
    reach = days.shelf.rule("dust.reach")
    return {a.id: tuple(b.id for b in zones if a is b or _share_air(a, b, reach)) for a in zones}


def _share_air(a: Zone, b: Zone, reach: float) -> bool:
    if is_inside(a) or is_inside(b):
        return is_inside(a) and is_inside(b)
    sides = {a.place.side, b.place.side} - {"centre"}
    return len(sides) < 2 and abs(a.place.station.si - b.place.station.si) <= reach


def _arrives(days: StatedDays, step: str) -> int:
    """The slot in which what a step needs has come."""
    day = days.arriving.get(root_of(step), "")
    return min(max(days.slot_of(day), 0), days.slots) if day else 0


def _lag(days: StatedDays, wait: StepWait) -> Lag:
    missed = None
    if wait.missed is not None:
        missed = Missed(max(ceil(wait.missed / SLOT - 1e-6), 1), _until(days, wait.missed_least))
    return Lag(wait.before, wait.after, _until(days, wait.least), _until(days, wait.most), missed, wait.why)


def _until(days: StatedDays, until: Until | None) -> Wait | None:
    if until is None:
        return None
    if until.worth is not None:
        return Wait(worth=until.worth, clock=until.clock) if until.clock else Wait(until.worth)
    return Wait(worth=mark_time(days.shelf.resin(until.clock), until.mark), clock=until.clock)


def _blocked(days: StatedDays, lays: str) -> Air:
    least, humid = days.limits_of(lays)
    fine = layable(days.work_air, least, humid, days.shelf.rule("dew.margin"))
    bad = np.flatnonzero(fine == 0)
    name = "coats" if lays == COAT else days.shelf.resin(lays).name
    return Air(blocked_slots((n * HOUR_SLOTS, (n + 1) * HOUR_SLOTS) for n in bad.tolist()), name)


def _clock(days: StatedDays, clock: str) -> Clock:
    activation = ACTIVATION if clock == COAT else days.shelf.resin(clock).activation
    least, _ = days.limits_of(clock)
    at = np.arange(days.slots + 1, dtype=float) * SLOT
    factor = days.factor_of(clock)
    slow = cure_clock(days.warmth, activation, least, factor).at(at)
    fast = cure_clock(days.warmth, activation, None, factor).at(at)
    return Clock(tuple(slow.tolist()), tuple(fast.tolist()))
