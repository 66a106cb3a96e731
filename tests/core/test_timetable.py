"""What is stated of the days: as it is typed, refused and changed."""

import pytest

from ribpatch.core.errors import Fault
from ribpatch.core.record import built, evolve
from ribpatch.core.timetable import AidKept, DaySpan, Forecast, OwnStep, Person, StepChange, Timetable, day_after
from ribpatch.core.timetable_edits import (
    add_aid,
    add_person,
    add_step,
    all_free,
    as_usual,
    change_person,
    change_step,
    remove_aid,
    remove_person,
    remove_step,
)
from ribpatch.core.timetable_typed import days_text, days_typed, spans_text, spans_typed, weekdays_text, weekdays_typed
from ribpatch.core.units import Measure


@pytest.mark.parametrize(
    ("text", "spans"), [("8-17", [(8, 17)]), ("8:30-12, 13 to 17.45", [(8.5, 12), (13, 17.75)]), ("", [])]
)
def test_hours_of_a_day_are_typed_as_they_are_said(text, spans):
    made = spans_typed(text)
    assert [(s.start, s.end) for s in made] == spans
    assert spans_typed(spans_text(made)) == made


@pytest.mark.parametrize(
    ("text", "days", "shown"),
    [
        ("Mon-Fri", (0, 1, 2, 3, 4), "Mon-Fri"),
        ("sat, sunday", (5, 6), "Sat-Sun"),
        ("Fri-Mon", (0, 4, 5, 6), "Mon, Fri-Sun"),
        ("", (), ""),
    ],
)
def test_days_of_the_week(text, days, shown):
    assert weekdays_typed(text) == days and weekdays_text(days) == shown


def test_days_one_by_one_and_in_a_run():
    made = days_typed("2026-12-24 to 2026-12-26, 2026-12-31")
    assert made == ("2026-12-24", "2026-12-25", "2026-12-26", "2026-12-31")
    assert days_text(made) == "2026-12-24 to 2026-12-26, 2026-12-31" and days_typed(days_text(made)) == made
    assert day_after("2026-12-31", 2) == "2027-01-02"


@pytest.mark.parametrize(
    ("read", "text", "words"),
    [
        (spans_typed, "8 till 17", "no stretch of a day"),
        (spans_typed, "8:75-9", "60 minutes"),
        (spans_typed, "17-8", "ends before"),
        (weekdays_typed, "Freitag", "no day of the week"),
        (days_typed, "24/12/2026", "no date"),
        (days_typed, "2026-12-31 to 2026-12-24", "backwards"),
    ],
)
def test_what_cannot_be_read_is_told(read, text, words):
    with pytest.raises(Fault, match=words):
        read(text)


@pytest.mark.parametrize(
    ("stated", "words"),
    [
        ({"shed_from": "2027-01-02", "shed_until": "2027-01-01"}, "until a day before"),
        ({"people": (Person(id="a", name="x"), Person(id="b", name="x"))}, "same name"),
        ({"changes": (StepChange(step="z1.lay"), StepChange(step="z1.lay", people=2))}, "changed twice"),
        ({"start": "tomorrow"}, "no date"),
        ({"weeks": 27}, "26"),
    ],
)
def test_a_timetable_that_does_not_hold_together_is_refused(stated, words):
    with pytest.raises(Fault, match=words):
        built(Timetable, **stated)
    with pytest.raises(Fault, match="same hours"):
        built(Forecast, start="2026-12-01T00:00", temperature=(1.0, 2.0), humidity=(0.5,))
    with pytest.raises(Fault, match="time zone"):
        built(StepChange, step="z1.lay", at="2026-12-01T10:00+01:00")


def test_people_and_aids_come_and_go_and_their_steps_with_them(job):
    bare = evolve(job, timetable=Timetable())
    one = add_person(bare, "hand", (DaySpan(start=8, end=17),)).change(bare)
    two = add_person(one, "owner", (), days=(), more=("2026-12-05",)).change(one)
    assert [p.id for p in two.timetable.people] == ["p1", "p2"]
    named = change_step(two, "z1.lay1", "laminate", who=("p2",)).change(two)
    gone = remove_person(named, "p2").change(named)
    assert [p.id for p in gone.timetable.people] == ["p1"] and gone.timetable.changes == ()
    late = change_person(gone, "p1", late=(DaySpan(start=18, end=20),)).change(gone)
    assert late.timetable.people[0].late[0].end == 20
    warm = add_aid(late, kind="heater", degrees=Measure(si=18.0)).change(late)
    assert remove_aid(warm, "a1").change(warm).timetable.aids == ()


def test_changes_of_a_step_are_kept_as_long_as_they_change_anything(job):
    bare = evolve(job, timetable=Timetable())
    put = change_step(bare, "z1.lay1", "laminate", at="2026-12-01 10:00".replace(" ", "T"))
    assert put.name == "put laminate by hand"
    made = put.change(bare)
    more = change_step(made, "z1.lay1", "laminate", people=2).change(made)
    assert all_free(more).change(more).timetable.changes == (StepChange(step="z1.lay1", people=2),)
    assert as_usual(more, "z1.lay1", "laminate").change(more).timetable.changes == ()
    free = change_step(made, "z1.lay1", "laminate", at="")
    assert free.name == "let laminate find its place" and free.change(made).timetable.changes == ()
    own = add_step(bare, name="sign off").change(bare)
    assert own.timetable.added[0].id == "own1" and remove_step(own, "own1").change(own).timetable.added == ()
    with pytest.raises(Fault, match="skip the others"):
        remove_step(own, "z1.lay1")


@pytest.mark.parametrize(
    ("model", "good", "bad"),
    [
        (DaySpan, {"start": 0, "end": 24}, {"start": 0, "end": 24.1}),
        (DaySpan, {"start": 0, "end": 24}, {"start": -0.1, "end": 2}),
        (Person, {"id": "a", "name": "x", "days": (0, 6)}, {"id": "a", "name": "x", "days": (7,)}),
        (Person, {"id": "a", "name": "x", "days": (0,)}, {"id": "a", "name": "x", "days": (-1,)}),
        (Person, {"id": "a", "name": "x"}, {"id": "a", "name": ""}),
        (AidKept, {"id": "a", "kind": "tent"}, {"id": "a", "kind": "candle"}),
        (AidKept, {"id": "a", "kind": "heater", "power": Measure(si=100.0)}, {"id": "a", "kind": "heater", "power": Measure(si=99.0)}),
        (AidKept, {"id": "a", "kind": "heater", "degrees": Measure(si=0.0)}, {"id": "a", "kind": "heater", "degrees": Measure(si=81.0)}),
        (StepChange, {"step": "z1.lay", "parts": 8}, {"step": "z1.lay", "parts": 9}),
        (StepChange, {"step": "z1.lay", "parts": 1}, {"step": "z1.lay", "parts": 0}),
        (StepChange, {"step": "z1.lay", "people": 6}, {"step": "z1.lay", "people": 7}),
        (StepChange, {"step": "z1.lay", "people": 1}, {"step": "z1.lay", "people": 0}),
        (OwnStep, {"id": "own1", "name": "x", "people": 0}, {"id": "own1", "name": "x", "people": 7}),
        (Timetable, {"weeks": 26}, {"weeks": 0}),
        (Forecast, {"start": "2026-12-01T00:00", "temperature": (60,), "humidity": (1,)}, {"start": "", "temperature": (1,), "humidity": (1,)}),
        (Forecast, {"start": "2026-12-01T00:00", "temperature": (-45,), "humidity": (0.01,)}, {"start": "2026-12-01T00:00", "temperature": (1,), "humidity": (0,)}),
    ],
)  # fmt: skip
def test_what_is_stated_keeps_to_its_limits(model, good, bad):
    assert built(model, **good)
    with pytest.raises(Fault):
        built(model, **bad)


def test_what_is_left_out_is_as_usual():
    person, step, own = Person(id="a", name="x"), StepChange(step="z1.lay"), OwnStep(id="own1", name="x")
    assert person.days == (0, 1, 2, 3, 4) and set(person.skills) == {"lay", "paint", "lift"} and person.hours == ()
    assert (step.parts, step.joined, step.skipped, step.at, step.hours) == (1, False, "", "", None)
    assert (own.hours.si, own.people, own.split, own.wait.si) == (3600, 1, True, 0)
    assert (Timetable().weeks, Timetable().outdoors, Timetable().kept) == (12, False, None)
