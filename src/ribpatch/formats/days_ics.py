"""The schedule as an iCalendar file: an event a step on each day that it is worked on; local times without a zone."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from ribpatch.core.day_words import step_words
from ribpatch.core.numerals import plainly
from ribpatch.core.text import many_lines, printable

if TYPE_CHECKING:
    from ribpatch.core.calendar.problem import Placed, Schedule
    from ribpatch.core.days import Days

STAMP = datetime(2000, 1, 1)  # the same plan gives the same file


@plainly()
def days_ics(days: Days, schedule: Schedule, boat: str) -> bytes:
    """An event for each stretch of work; waits are left out."""
    from icalendar import Calendar, Event

    calendar = Calendar()
    calendar.add("prodid", "-//Rib Patch//days//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", printable(f"{boat}: repair"))
    names = days.zone_names
    for put in sorted(schedule.placed, key=lambda p: (p.start, p.id)):
        if not put.who:
            continue
        row = days.by_id[put.id]
        zone = names.get(row.zone, "")
        for n, (start, end) in enumerate(stretches(days, put), 1):
            event = Event()
            event.add("uid", f"{put.id}.{n}@ribpatch.invalid")
            event.add("dtstamp", STAMP)
            event.add("summary", printable(f"{zone}: {row.name}" if zone else row.name))
            event.add("dtstart", start)
            event.add("dtend", end)
            event.add("description", many_lines(step_words(days, schedule, put.id)))
            calendar.add_component(event)
    return bytes(calendar.to_ical())


def stretches(days: Days, put: Placed) -> list[tuple[datetime, datetime]]:
    """The stretches in which a step is worked on."""
    begin = datetime.fromisoformat(days.start)
    made: list[list[int]] = []
    for s in days.worked(put):
        if made and s == made[-1][1]:
            made[-1][1] = s + 1
        else:
            made.append([s, s + 1])
    quarter = timedelta(minutes=15)
    return [(begin + a * quarter, begin + b * quarter) for a, b in made]
