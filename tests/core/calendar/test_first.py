"""The first schedule keeps every rule, whatever is asked of it."""

import msgspec
import numpy as np
import pytest
from tests.schedules import faults, small

from ribpatch.core.calendar.first import first_schedule
from ribpatch.core.calendar.hours import blocked_slots, shifts_within
from ribpatch.core.calendar.modes import crew_classes, modes_of
from ribpatch.core.calendar.problem import Lag, Problem, Task, Wait, Worker

DAY = ((8, 17, False), (32, 41, False), (56, 65, False))


def problem(*tasks, lags=(), crew=None, slots=72):
    return Problem(3600.0, slots, tasks, tuple(lags), crew or (Worker("hand", DAY),))


@pytest.mark.parametrize("seed", range(40))
def test_what_it_finds_keeps_every_rule(seed):
    asked = small(seed)
    asked.check()
    made = first_schedule(asked)
    if made is not None:
        assert faults(asked, made) == []


def test_work_that_may_be_split_goes_on_the_next_morning_and_other_work_waits_for_it():
    made = first_schedule(
        problem(Task("grind", "grind", 5, split=True, earliest=14), Task("lay", "lay", 5, earliest=14))
    )
    assert made is not None
    grind, lay = made.by_id["grind"], made.by_id["lay"]
    assert (
        faults(problem(Task("grind", "grind", 5, split=True, earliest=14), Task("lay", "lay", 5, earliest=14)), made)
        == []
    )
    assert made.finish <= 41 and lay.end - lay.start == 5
    alone = first_schedule(problem(Task("grind", "grind", 5, split=True, earliest=14)))
    assert alone is not None and (alone.placed[0].start, alone.placed[0].end) == (14, 34)
    assert grind.start >= 14


def test_what_must_follow_in_time_is_put_later_as_a_whole():
    prime, lay = Task("prime", "prime", 1), Task("lay", "lay", 4)
    follows = Lag("prime", "lay", Wait(3600.0), Wait(3 * 3600.0))
    tied = problem(prime, lay, Task("on", "on", 9, at=8), lags=[follows], slots=72)
    made = first_schedule(tied)
    assert made is not None and faults(tied, made) == []
    assert made.by_id["prime"].start == 32 and made.by_id["lay"].start == 34


def test_nothing_is_found_where_nothing_can_be():
    assert first_schedule(problem(Task("long", "long", 10))) is None
    assert first_schedule(problem(Task("two", "two", 1, people=2))) is None


def test_people_with_the_same_hours_are_one_class_and_one_who_is_named_another():
    crew = (Worker("a", DAY), Worker("b", DAY), Worker("c", DAY[:1]))
    assert [c.names for c in crew_classes(problem(Task("x", "x", 1), crew=crew))] == [("a", "b"), ("c",)]
    named = problem(Task("x", "x", 1, by=("b",)), crew=crew)
    assert [c.names for c in crew_classes(named)] == [("a",), ("b",), ("c",)]
    made = first_schedule(named)
    assert made is not None and made.placed[0].who == ("b",)


def test_modes_tell_length_and_late_work_of_every_start():
    crew = (Worker("a", ((8, 12, False), (12, 14, True), (32, 36, False))),)
    asked = problem(Task("x", "x", 3, split=True), crew=crew, slots=48)
    rows = {(m.span, m.late): m.starts.tolist() for m in modes_of(asked.tasks[0], asked, crew_classes(asked))}
    assert rows == {(3, 0): [8, 9, 32, 33], (3, 1): [10], (3, 2): [11], (21, 2): [12], (21, 1): [13]}


def test_shifts_are_cut_to_the_shed_and_usual_hours_go_before_late_ones():
    made = shifts_within([(8, 17, False), (16, 20, True), (30.5, 40, False)], [(0, 18), (30, 35)], 48)
    assert made == ((8, 17, False), (17, 18, True), (31, 35, False))
    assert blocked_slots([(5.2, 6.1), (6.5, 8), (1, 1)]) == ((5, 8),)


def test_circles_and_lost_names_are_refused():
    a, b = Task("a", "a", 1), Task("b", "b", 1)
    for wrong, words in (
        (problem(a, b, lags=[Lag("a", "b"), Lag("b", "a")]), "circle"),
        (problem(a, lags=[Lag("a", "c")]), "no such step"),
        (problem(a, a), "same id"),
        (problem(a, lags=[Lag("a", "a")]), "itself"),
        (problem(msgspec.structs.replace(a, air="lay")), "air"),
    ):
        with pytest.raises(ValueError, match=words):
            wrong.check()
    assert np.array_equal(a.work, 1)
