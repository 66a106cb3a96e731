"""The calendar file, read by the library that calendars use."""

from datetime import timedelta

from icalendar import Calendar

from ribpatch.core.days import days_of
from ribpatch.core.plan import plan
from ribpatch.formats.days_ics import days_ics


def test_every_hour_of_work_is_an_event_and_waits_are_none(job, shelf):
    days = days_of(plan(job, shelf), "")
    schedule = days.first
    assert schedule is not None
    data = days_ics(days, schedule, "Heron Reach")
    assert data == days_ics(days, schedule, "Heron Reach")
    events = [e for e in Calendar.from_ical(data).walk("VEVENT")]
    worked = sum(((e["dtend"].dt - e["dtstart"].dt) for e in events), timedelta())
    planned = sum(t.work for t in days.problem.tasks if t.people)
    planned += sum(
        max(x.missed.work for x in days.problem.lags if x.after == p.id and x.missed)
        for p in schedule.placed
        if p.missed
    )
    assert worked == planned * timedelta(minutes=15)
    assert not any("dry out" in str(e["summary"]) for e in events)
    assert all(8 <= e["dtstart"].dt.hour < 20 for e in events)
