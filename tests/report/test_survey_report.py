"""The survey report and the findings sheet: everything a customer is promised stands in them."""

from io import BytesIO

import pytest
from PIL import Image
from tests.papers import flat, pages_of, text_of

from ribpatch.core import survey_edits
from ribpatch.core.job import Survey
from ribpatch.core.plan import plan
from ribpatch.core.readings import Strike, Tap
from ribpatch.core.record import evolve
from ribpatch.core.survey.entry import made_reading
from ribpatch.jobfile.album import Album
from ribpatch.library.shelf import shipped_shelf
from ribpatch.report.survey_report import findings_sheet, survey_report

SHELF = shipped_shelf()


def text(pdf):
    return flat(text_of(pdf))


@pytest.fixture(scope="module")
def album():
    made, stream = Album(), BytesIO()
    Image.new("RGB", (300, 200), "#806040").save(stream, "JPEG")
    made.add("photographs/", stream.getvalue(), ".jpg")
    return made


@pytest.fixture(scope="module")
def surveyed(job, album):
    """The demo job with photographs (one of them lost) and drying over three sessions."""
    member = next(iter(album.fresh)).removeprefix("photographs/")
    changed = survey_edits.add_photograph("z2", member, "drain tube from inside", (0.5, 0.1)).change(job)
    changed = survey_edits.add_photograph("z2", "lost.jpg", "lost").change(changed)
    for day, value in (("2026-03-01", 55), ("2026-03-20", 40), ("2026-04-10", 30)):
        changed = survey_edits.begin_session("z2", day, "yard hand").change(changed)
        changed = survey_edits.put_reading(
            "z2", made_reading("moisture", SHELF, x=0.62, y=0.12, value=value), 0.01
        ).change(changed)
    return plan(changed, SHELF)


@pytest.mark.parametrize("zone", ["z1", "z2", "z3", "z4"])
@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_a_findings_sheet_is_one_page(surveyed, album, zone, paper):
    pdf = findings_sheet(surveyed, zone, album, "metric", paper)
    assert len(pages_of(pdf)) == 1
    said = text(pdf)
    assert surveyed.zone(zone).zone.name in said and "Not inspected" in said and "Causes" in said


def test_the_report_holds_map_causes_first_steps_photographs_drying_and_readings(surveyed, album):
    said = text(survey_report(surveyed, album))
    for words in (
        "Heron Reach: survey report", "In short", "Water in through", "What to do first", "Not inspected", "Photographs",
        "drain tube from inside", "missing from the job file", "Drying", "moisture 30", "sound reference", "Limits", "certify nothing",
        "2026-04-10",
    ):  # fmt: skip
        assert words in said, words
    assert " safe" not in said.lower() and "approved" not in said.lower()


def test_beside_a_photograph_stands_when_and_where_it_was_taken_and_what_was_read_there(job, album):
    member = next(iter(album.fresh)).removeprefix("photographs/")
    changed = survey_edits.begin_session("z2", "2026-03-01", "yard hand").change(job)
    reading = made_reading("moisture", SHELF, x=0.62, y=0.12, value=47)
    changed = survey_edits.put_reading("z2", reading, 0.01).change(changed)
    newest = changed.zone("z2").survey.readings[-1].id
    changed = survey_edits.add_photograph("z2", member, "wet below the drain", (0.62, 0.12), newest).change(changed)
    said = text(survey_report(plan(changed, SHELF), album))
    beside = said[said.index("wet below the drain") :]
    for words in ("2026-03-01, yard hand", "620", "belongs to: moisture 47"):
        assert words in beside[:160], words


def test_the_same_survey_gives_the_same_bytes_and_us_units_say_so(surveyed, album):
    assert survey_report(surveyed, album) == survey_report(surveyed, album)
    said = text(survey_report(surveyed, album, "us", "Letter"))
    assert "ft²" in said and "x in" in said and "x mm" not in said
    assert "24.4 4.7 moisture 55" in said  # at 620, 120 mm


def test_readings_say_what_a_recorded_tap_is_told_as_and_which_one_stands_alone(job, album):
    outline = ((0.0, 0.0), (1.2, 0.0), (1.2, 0.8), (0.0, 0.8))
    rings = [
        Tap(id=f"t{i}{k}", x=0.1 + 0.1 * i, y=0.1 + 0.1 * k, grade="drummy" if (i, k) == (5, 3) else "ring")
        for i in range(11)
        for k in range(7)
    ]
    strike = {"centroid": 1500, "decay": 0.01, "contact": 0.002, "frequency": 800}
    heard = [Strike(id="s1", x=0.2, y=0.2, **strike), Strike(id="s2", x=0.4, y=0.2, **strike)]
    survey = Survey(readings=(*rings, *heard), references=("s1",))
    zone = evolve(job.zones[0], outline=outline, survey=survey, fittings=())
    said = text(survey_report(plan(evolve(job, zones=(zone,)), SHELF), album))
    assert "told as sound" in said and said.count("stands alone: take it again") == 1
    unheard = evolve(zone, survey=evolve(survey, references=()))
    assert "told as no reference" in text(survey_report(plan(evolve(job, zones=(unheard,)), SHELF), album))
