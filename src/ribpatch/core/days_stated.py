"""What is stated of when the work is done: the steps of all zones as changed, what was done already, the crew and the
air.

Slots are counted from the midnight of the day on which the calendar begins.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from functools import cached_property
from math import ceil
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.arrivals import arrivals
from ribpatch.core.calendar.weather import Aid, Hours, Shed, WorkAir, at_work, repeated, warmth_of
from ribpatch.core.record import known
from ribpatch.core.slots import DAY_SLOTS, HOUR_SLOTS, SLOT
from ribpatch.core.step_changes import changed, without_circles
from ribpatch.core.steps.records import COAT, StepRow, StepWait
from ribpatch.core.timetable import DaySpan, Person

if TYPE_CHECKING:
    from ribpatch.core.calendar.clock import Warmth
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.plan import Plan
    from ribpatch.core.timetable import Timetable
    from ribpatch.core.units import Measure
    from ribpatch.core.zone_plan import ZonePlan

USUAL_HAND = known(Person, id="hand", name="one hand", hours=(known(DaySpan, start=8.0, end=17.0),))


class Done(Struct, frozen=True):
    """A step that was begun, and ended unless ``end`` is empty: moments."""

    step: str
    start: str
    end: str = ""


class StatedDays(Struct, frozen=True, eq=False, dict=True):
    """What is stated of when the work is done, each part worked out when it is first asked for."""

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

    # ---- people ----

    @cached_property
    def people(self) -> tuple[Person, ...]:
        """The crew; one hand from Monday to Friday where none is stated."""
        return self.table.people or (USUAL_HAND,)


def _si(measure: Measure | None) -> float | None:
    return None if measure is None else measure.si
