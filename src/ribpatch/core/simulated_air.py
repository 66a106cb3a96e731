"""Simulated weather as a forecast of a job: a stand-in for one from outside, by the same way in."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.calendar.weather import simulated
from ribpatch.core.record import built
from ribpatch.core.timetable import Forecast

if TYPE_CHECKING:
    from ribpatch.core.timetable import Timetable

DAYS = 28
ORIGIN = "simulated: weather that could be at this time of the year, no forecast"


def simulated_forecast(table: Timetable, today: str, days: int = DAYS, seed: int = 7) -> Forecast:
    """Weather that could be, from the day on which the work begins."""
    start = date.fromisoformat(table.start or today)
    made = simulated(0, days * 24, start.timetuple().tm_yday, seed + start.year)
    return built(
        Forecast,
        start=f"{start.isoformat()}T00:00",
        temperature=tuple(made.temperature.tolist()),
        humidity=tuple(np.clip(made.humidity, 0.05, 1.0).tolist()),
        rain=tuple(made.rain.tolist()),
        origin=ORIGIN,
    )
