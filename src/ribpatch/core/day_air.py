"""The air at the work day by day: warmth, dampness, and in which hours each resin may be laid."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.calendar.weather import layable, why_not
from ribpatch.core.dates import day_words
from ribpatch.core.slots import DAY_SLOTS
from ribpatch.core.steps.records import COAT
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.days import Days
    from ribpatch.core.units import System

MOST_DAYS = 42


def air_table(days: Days, system: System) -> Table:
    """A row a day: coldest and warmest, humidity, the laminate over the dew point at its least, hours to lay in."""
    work, rows = days.work_air, []
    lays = sorted({r.lays for r in days.rows if r.lays})
    names = ["coats" if key == COAT else days.shelf.resin(key).name for key in lays]
    margin = days.shelf.rule("dew.margin")
    fine = [layable(work, *days.limits_of(key), margin) for key in lays]
    for day in range(min(days.slots // DAY_SLOTS, MOST_DAYS)):
        span = slice(day * 24 - work.air.first, day * 24 + 24 - work.air.first)
        air, humid = work.air.temperature[span], work.air.humidity[span]
        low, high = (shown(float(v), Kind.TEMPERATURE, system) for v in (air.min(), air.max()))
        over = float((work.laminate[span] - work.air.dew[span]).min())
        cells = [
            day_words(days.moment_of(day * DAY_SLOTS)),
            f"{low} to {high}",
            f"{humid.min():.0%} to {humid.max():.0%}",
            shown(over, Kind.DIFFERENCE, system),
            *(_hours(f[span]) for f in fine),
        ]
        bad = next((h for h in range(8, 18) for f in fine if not f[day * 24 + h - work.air.first]), None)
        why = ""
        if bad is not None:
            key = next(k for k, f in zip(lays, fine, strict=True) if not f[day * 24 + bad - work.air.first])
            why = f"{bad} h: {why_not(work, day * 24 + bad, *days.limits_of(key), margin, system)}"
        rows.append(Row(f"day.{day}", tuple(cells), "warn" if bad is not None else "", why))
    columns = ("day", "air", "humidity", "laminate over dew point", *(f"lay in: {n}" for n in names))
    return Table(columns, tuple(rows), "Hours of the day in which each may be laid or put on.", empty="")


def _hours(fine: np.ndarray[tuple[int], np.dtype[np.float64]]) -> str:
    """Hours of a day as stretches."""
    if fine.all():
        return "all day"
    if not fine.any():
        return "no hour"
    edges = np.flatnonzero(np.diff(np.concatenate([[0.0], fine, [0.0]])))
    return ", ".join(f"{a}-{b}" for a, b in edges.reshape(-1, 2).tolist())
