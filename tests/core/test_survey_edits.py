"""Edits of sessions, photographs, practice and readings from a file; warnings of the survey."""

import pytest

from ribpatch.core import survey_edits
from ribpatch.core.errors import Fault
from ribpatch.core.geometry import polygon_of
from ribpatch.core.job import Practice, Survey, members_of
from ribpatch.core.plan import plan
from ribpatch.core.readings import Moisture, SurveySession, Tap
from ribpatch.core.record import evolve
from ribpatch.core.survey.edges import runs_on
from ribpatch.core.survey.entry import made_reading
from ribpatch.library.practice import practice_job
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()


def survey_of(job, zone="z1"):
    return job.zone(zone).survey


def test_the_first_session_takes_in_what_was_read_before(job):
    changed = survey_edits.begin_session("z1", "2026-05-14", "yard hand").change(job)
    survey = survey_of(changed)
    assert [s.id for s in survey.sessions] == ["s1", "s2"] and {r.session for r in survey.readings} == {"s1"}
    read = survey_edits.put_reading("z1", Tap(id="new", x=0.5, y=0.0, grade="ring"), 0.2).change(changed)
    assert survey_of(read).readings[-1].session == "s2", "a new session does not overwrite the one before"
    assert len(survey_of(read).readings) == len(survey.readings) + 1
    corrected = survey_edits.set_session("z1", "s2", date="2026-05-15", who="surveyor").change(read)
    assert survey_of(corrected).sessions[1].date == "2026-05-15"


@pytest.mark.parametrize("date", ["14.5.2026", "tomorrow", "2026-13-01"])
def test_dates_that_are_none_are_refused(job, date):
    with pytest.raises(Fault, match="no date"):
        survey_edits.begin_session("z1", date)


def test_notes_on_a_reading(job):
    changed = survey_edits.annotate_reading(
        "z1", "r3", note="by the hatch", who="yard hand", at="2026-05-14 09:30"
    ).change(job)
    reading = next(r for r in survey_of(changed).readings if r.id == "r3")
    assert (reading.note, reading.who, reading.at) == ("by the hatch", "yard hand", "2026-05-14 09:30")


def test_photographs_come_are_tied_pinned_and_go_with_their_ties(job):
    added = survey_edits.add_photograph("z1", "abc.jpg", "core", (0.2, 0.1), reading="r1").change(job)
    survey = survey_of(added)
    assert survey.photographs[0].x == 0.2 and survey.readings[0].photographs == ("p1",)
    assert "photographs/abc.jpg" in members_of(added)
    moved = survey_edits.set_photograph("z1", "p1", caption="plug", at=(0.5, 0.0)).change(added)
    assert survey_of(moved).photographs[0].caption == "plug" and survey_of(moved).photographs[0].x == 0.5
    gone = survey_edits.remove_photograph("z1", "p1").change(moved)
    assert survey_of(gone) == survey_of(job) and not members_of(gone)


def test_a_file_brings_its_sessions_and_references(job):
    told = (SurveySession(id="s1", date="2026-05-14"), SurveySession(id="s2", date="2026-06-14"))
    rows = (
        Moisture(id="a", x=0.3, y=0, value=12, session="s1"), Moisture(id="b", x=0.4, y=0, value=40, session="s2", photographs=("p9",)),
    )  # fmt: skip
    once = survey_edits.import_survey("z1", rows, told, (0,)).change(job)
    twice = survey_edits.import_survey("z1", rows, told, ()).change(once)
    assert [s.date for s in survey_of(twice).sessions] == ["2026-05-14", "2026-06-14"], (
        "the same sessions are used again"
    )
    new = survey_of(once).readings[-2:]
    assert new[0].id in survey_of(once).references and new[1].photographs == () and new[1].session == "s2"


def notices(job, zone="z1"):
    return {n.id.removeprefix(f"{zone}."): n for n in plan(job, SHELF).notices if n.zone == zone}


def surveyed(job, *rows, references=()):
    numbered = tuple(evolve(r, id=f"r{n}") for n, r in enumerate(rows))
    zones = (evolve(job.zones[0], survey=Survey(readings=numbered, references=references)), *job.zones[1:])
    return evolve(job, zones=zones)


def wet(value, x=0.5):
    return Moisture(id="x", x=x, y=0.0, value=value)


def test_references_that_are_missing_wet_or_at_odds_are_told(job):
    assert notices(surveyed(job, wet(40)))["no-reference"].grave
    assert notices(surveyed(job, wet(55), wet(60, 0.6), references=("r0",)))["reference-wet"].grave
    assert "reference-spread" in notices(surveyed(job, wet(8), wet(30, 0.6), references=("r0", "r1")))
    plug = made_reading("plug", SHELF, x=0.51, y=0.0, water="wet", core="soft", bond="torn")
    assert "reference-bad" in notices(surveyed(job, wet(12), plug, references=("r0",)))
    assert not {"no-reference", "reference-wet", "reference-spread"} & set(
        notices(surveyed(job, wet(12), wet(40, 0.6), references=("r0",)))
    )


def test_plugs_that_disagree_side_by_side_are_told_and_ones_apart_are_not(job):
    bad = made_reading("plug", SHELF, x=0.5, y=0.0, water="wet", core="soft", bond="torn")
    good = made_reading("plug", SHELF, x=0.52, y=0.0, water="dry", core="firm", bond="whole")
    assert any(key.startswith("plugs.") for key in notices(surveyed(job, bad, good)))
    assert not any(key.startswith("plugs.") for key in notices(surveyed(job, bad, evolve(good, x=0.9))))
    tap = Tap(id="x", x=0.52, y=0.01, grade="crunch")
    assert "overruled" in notices(surveyed(job, good, tap))


def test_where_the_damage_runs_on_is_named(job):
    zone = job.zones[0]
    rows = [
        Tap(id="x", x=x / 10, y=y / 10, grade="dull" if y > 6 and x < 6 else "ring")
        for x in range(1, 12)
        for y in range(-8, 10, 2)
    ]
    told = notices(surveyed(job, *rows))["edge"].text
    assert "cabin front" in told or "side" in told
    whole = runs_on(polygon_of(zone.outline), zone.outline, zone.edges)
    assert len(whole) == len(zone.outline) and {r.name for r in whole} >= {"cabin front", "toe rail, starboard"}
    assert sum(r.length for r in whole) == pytest.approx(polygon_of(zone.outline).exterior.length, rel=1e-6)
    assert runs_on(polygon_of(((0.5, -0.1), (0.6, -0.1), (0.6, 0.1))), zone.outline, zone.edges) == ()


def test_a_practice_job_is_whole_and_can_be_turned_off(job):
    made = practice_job(7)
    assert plan(made, SHELF).zones[0].zone.practice == Practice(seed=7, plugs=3)
    assert survey_edits.set_practice("z1", None, "no practice").change(made).zones[0].practice is None


def test_photographs_and_recordings_are_named_as_people_know_them(job):
    from ribpatch.core.job import member_name
    from ribpatch.core.readings import Strike

    more = survey_edits.add_photograph("z1", "a.jpg", "wet core").change(job)
    more = survey_edits.add_photograph("z1", "b.jpg", "").change(more)
    taken = Strike(id="x", x=0.5, y=0.0, frequency=900, centroid=1500, decay=0.01, contact=4e-4, recording="c.wav")
    more = survey_edits.add_readings("z2", (taken,)).change(more)
    assert member_name(more, "photographs/a.jpg") == "photograph 1 “wet core” of Foredeck"
    assert member_name(more, "photographs/b.jpg") == "photograph 2 of Foredeck"
    assert member_name(more, "recordings/c.wav") == "a recording of Transom"
    assert "no longer shows" in member_name(more, "photographs/c.jpg") and "no longer shows" in member_name(
        more, "recordings/a.wav"
    )


def test_the_next_reading_takes_the_number_after_the_highest(job, shelf):
    zone = job.zones[0]
    numbers = [int(r.id[1:]) for r in zone.survey.readings]
    new = (Tap(id="new", x=0.3, y=0.0, grade="ring"), Tap(id="new", x=0.4, y=0.0, grade="dull"))
    after = survey_edits.add_readings(zone.id, new).change(job).zones[0].survey.readings
    assert [r.id for r in after[-2:]] == [f"r{max(numbers) + 1}", f"r{max(numbers) + 2}"]
