"""The days as lanes, by zone or by person: bars of steps, windows that close, hours in which nobody is there or in
which nothing may be laid. Hours from the beginning of the calendar.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct

from ribpatch.core.calendar.waits import first_after, last_after
from ribpatch.core.slots import HOUR_SLOTS
from ribpatch.core.steps.records import COAT

if TYPE_CHECKING:
    from ribpatch.core.calendar.problem import Placed, Schedule
    from ribpatch.core.days import Days

BarKind = Literal["work", "wet", "wait", "done"]


class Bar(Struct, frozen=True):
    """One step: from, to in hours, in which row of its lane; who; put by hand; its window missed."""

    step: str
    name: str
    kind: BarKind
    start: float
    end: float
    row: int
    who: tuple[str, ...]
    put: bool = False
    missed: bool = False


class Window(Struct, frozen=True):
    """When a step may be done after the one before it: from, to in hours, in the row of its bar."""

    step: str
    opens: float
    closes: float
    row: int


class Lane(Struct, frozen=True):
    """One zone or person."""

    name: str
    key: str
    bars: tuple[Bar, ...]
    windows: tuple[Window, ...]
    rows: int


class Lanes(Struct, frozen=True):
    """All lanes, the hours that they span, and stretches (from, to) in which nobody works or nothing may be laid."""

    lanes: tuple[Lane, ...]
    hours: float
    closed: tuple[tuple[float, float], ...]
    cold: tuple[tuple[float, float], ...]


def lanes_of(days: Days, schedule: Schedule, by: Literal["zone", "person"] = "zone") -> Lanes:
    """The lanes of a schedule."""
    put = sorted(schedule.placed, key=lambda p: (p.start, p.end))
    keys: dict[str, str] = dict(days.zone_names) if by == "zone" else {p.name: p.name for p in days.people}
    if by == "zone" and any(not days.by_id[p.id].zone for p in put):
        keys[""] = "the whole job"
    windows = windows_of(days, schedule)
    made = []
    for key, name in keys.items():
        mine = [p for p in put if (days.by_id[p.id].zone == key if by == "zone" else key in p.who)]
        if mine:
            made.append(_lane(days, key, name, mine, windows if by == "zone" else {}))
    last = max([*(p.end for p in put), *(w[1] for w in windows.values()), HOUR_SLOTS * 24]) / HOUR_SLOTS
    hours = float(np.ceil((last + 6) / 24) * 24)
    return Lanes(tuple(made), hours, _closed(days, hours), _cold(days, hours))


def _lane(days: Days, key: str, name: str, put: list[Placed], windows: dict[str, tuple[float, float]]) -> Lane:
    ends: list[float] = []
    bars, bands = [], []
    done = {d.step for d in days.done}
    for p in put:
        row = next((n for n, end in enumerate(ends) if end <= p.start), len(ends))
        ends[row : row + 1] = [float(p.end)]
        step = days.by_id[p.id]
        kind: BarKind = "done" if p.id in done else "wait" if not p.who else "wet" if step.lays else "work"
        change = days.table.change_of(p.id)
        bars.append(
            Bar(
                p.id,
                step.name,
                kind,
                p.start / HOUR_SLOTS,
                p.end / HOUR_SLOTS,
                row,
                p.who,
                change is not None and bool(change.at),
                p.missed,
            )
        )
        if p.id in windows:
            opens, closes = windows[p.id]
            bands.append(Window(p.id, opens / HOUR_SLOTS, closes / HOUR_SLOTS, row))
    return Lane(name, key, tuple(bars), tuple(bands), len(ends))


def windows_of(days: Days, schedule: Schedule) -> dict[str, tuple[float, float]]:
    """From when to when each step that has a last moment may begin, in slots: the narrowest of what it waits for."""
    placed, found = schedule.by_id, dict[str, tuple[float, float]]()
    done = {d.step for d in days.done}
    for lag in days.problem.lags:
        if lag.most is None or lag.after in done:
            continue
        end = placed[lag.before].end
        opens = float(first_after(lag.least, days.problem)[end])
        closes = float(last_after(lag.most, days.problem)[end])
        if lag.after in found:
            opens, closes = max(opens, found[lag.after][0]), min(closes, found[lag.after][1])
        found[lag.after] = (opens, closes)
    return found


def _closed(days: Days, hours: float) -> tuple[tuple[float, float], ...]:
    count = min(int(hours * HOUR_SLOTS), days.slots)
    there = np.zeros(count, bool)
    for worker in days.crew:
        for a, b, _ in worker.shifts:
            there[max(a, 0) : max(b, 0)] = True
    return _stretches(~there, HOUR_SLOTS)


def _cold(days: Days, hours: float) -> tuple[tuple[float, float], ...]:
    """Hours in which what most is laid with may not be laid."""
    lays = [r.lays for r in days.rows if r.lays and r.lays != COAT]
    if not lays:
        return ()
    main = max(sorted(set(lays)), key=lays.count)
    bad = np.zeros(int(hours), bool)
    air = days.problem.air.get(main)
    for a, b in air.blocked if air is not None else ():
        bad[max(a // HOUR_SLOTS, 0) : max(b // HOUR_SLOTS, 0)] = True
    return _stretches(bad, 1)


def _stretches(flags: np.ndarray[tuple[int], np.dtype[np.bool_]], each: int) -> tuple[tuple[float, float], ...]:
    edges = np.flatnonzero(np.diff(np.concatenate([[False], flags, [False]]).astype(int)))
    return tuple((a / each, b / each) for a, b in edges.reshape(-1, 2).tolist())
