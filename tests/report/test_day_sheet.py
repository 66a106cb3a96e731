"""A day's sheet on paper."""

from io import BytesIO

from pypdf import PdfReader

from ribpatch.core.days import days_of
from ribpatch.report.day_sheet import day_pdf


def test_the_sheet_of_a_day_tells_steps_cups_and_cautions(made):
    days = days_of(made, "")
    assert days.first is not None
    day = days.moment_of(days.first.by_id["z4.lay1"].start)[:10]
    data = day_pdf(made, days, days.first, day, "metric", "A4")
    assert data == day_pdf(made, days, days.first, day, "metric", "A4")
    text = "\n".join(page.extract_text() for page in PdfReader(BytesIO(data)).pages)
    assert "Bow topside: laminate, sitting 1 of 3" in text and "sensitises" in text and "[ ]" in text.replace("  ", " ")
    empty = day_pdf(made, days, days.first, "2026-12-06", "us", "Letter")
    assert "No work is planned" in PdfReader(BytesIO(empty)).pages[0].extract_text()
