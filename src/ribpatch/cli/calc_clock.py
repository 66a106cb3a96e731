"""``ribpatch calc clock``: when a cure reaches its marks under temperatures over time. Hours and degC, as named."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Any, Literal

import numpy as np

from ribpatch.core.record import Limits, Record

Degrees = Annotated[float, Limits(ge=-50, le=120, description="degC")]
Hour = Annotated[float, Limits(ge=0, le=1e5, description="h from the beginning")]


class CalcDegrees(Record):
    """A temperature at a time."""

    hours: Hour
    degrees: Degrees


class CalcMark(Record):
    """Something that the cure comes to, by how long it takes at 25 degC."""

    name: Annotated[str, Limits(min_length=1, max_length=80)]
    hours: Annotated[float, Limits(gt=0, le=1e4, description="h at 25 degC")]


class ClockInput(Record):
    """Temperatures, straight from one to the next or held until the next; the first holds before, the last after."""

    temperatures: Annotated[tuple[CalcDegrees, ...], Limits(min_length=1, max_length=20_000)]
    between: Literal["straight", "held"] = "straight"
    activation: Annotated[float, Limits(ge=0, le=2e5, description="J/mol")] = 55_000.0
    least: Annotated[float, Limits(ge=-50, le=60, description="degC under which nothing is foretold")] | None = None
    factor: Annotated[float, Limits(gt=0.05, le=20, description="how many times as long it takes")] = 1.0
    laid: Hour = 0.0
    marks: Annotated[tuple[CalcMark, ...], Limits(min_length=1, max_length=100)]
    ask: Annotated[tuple[Hour, ...], Limits(max_length=1000)] = ()

    def check(self) -> None:
        """Times rise."""
        hours = [t.hours for t in self.temperatures]
        if any(b <= a for a, b in pairwise(hours)):
            raise ValueError("temperatures: hours must rise from one to the next")


def clock(given: ClockInput) -> dict[str, Any]:
    """When each mark is reached, and what the time is worth at 25 degC at some hours."""
    from ribpatch.core.calendar.clock import Warmth, cure_clock, marks_reached

    times = np.array([t.hours for t in given.temperatures]) * 3600
    warmth = Warmth(times, np.array([t.degrees for t in given.temperatures]), given.between == "held")
    needs = {str(n): m.hours * 3600 for n, m in enumerate(given.marks)}
    laid = given.laid * 3600
    made = marks_reached(needs, laid, warmth, given.activation, given.least, given.factor)
    plain = cure_clock(warmth, given.activation, None, given.factor)
    return {
        "marks": [
            {
                "name": mark.name,
                "hours": None if m.at is None else m.at / 3600,
                "after": None if m.at is None else (m.at - laid) / 3600,
                "why": m.why,
            }
            for mark, m in zip(given.marks, made, strict=True)
        ],
        "progress": [
            {"hours": h, "worth": plain.progress(laid, h * 3600) / 3600 if h >= given.laid else 0.0} for h in given.ask
        ],
    }
