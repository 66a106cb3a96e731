"""A day's sheet on paper."""

from tests.papers import text_of

from ribpatch.core.days import days_of
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.report.day_sheet import day_pdf
from ribpatch.report.pack.days import job_pages


def test_the_sheet_of_a_day_tells_steps_cups_and_cautions(made):
    days = days_of(made, "")
    assert days.first is not None
    day = days.moment_of(days.first.by_id["z4.lay1"].start)[:10]
    data = day_pdf(made, days, days.first, day, "metric", "A4")
    assert data == day_pdf(made, days, days.first, day, "metric", "A4")
    text = text_of(data)
    assert "Bow topside: laminate, sitting 1 of 3" in text and "sensitises" in text and "[ ]" in text.replace("  ", " ")
    kept = evolve(made.job, timetable=evolve(made.job.timetable, kept=days.keep(days.first)))
    (head, words, *rest) = job_pages(plan(kept, made.shelf), "metric", 500.0)
    assert "Days" in head.text and "Done on" in words.text and rest
    other = evolve(kept, timetable=evolve(kept.timetable, weeks=9))
    assert "plan them anew" in job_pages(plan(other, made.shelf), "metric", 500.0)[1].text
    assert job_pages(made, "metric", 500.0) == []
    empty = day_pdf(made, days, days.first, "2026-12-06", "us", "Letter")
    assert "No work is planned" in text_of(empty)
