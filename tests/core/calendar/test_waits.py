"""Waits in slots, at their very edges; starts that no schedule can use; ranges."""

import numpy as np
import pytest

from ribpatch.core.calendar.first import first_schedule, replayed
from ribpatch.core.calendar.modes import LONGEST, crew_classes, modes_of, starts_of
from ribpatch.core.calendar.problem import Clock, Lag, Problem, Task, Wait, Worker
from ribpatch.core.calendar.range import Spread, finish_range
from ribpatch.core.calendar.rulings import let_go, nowhere, rulings_of
from ribpatch.core.calendar.trim import in_order, trimmed
from ribpatch.core.calendar.waits import first_after, last_after
from ribpatch.core.calendar.words import freeing_words, ruling_words

WORTH = (0.0, 900.0, 1800.0, 2700.0, 2700.0, 3600.0, 5400.0, 7200.0, 7300.0)  # stands in slot 3, runs in 5 and 6


ONE = (Worker("x", ((0, 8, False),)),)


def problem(*tasks, lags=(), crew=ONE, slots=8):
    return Problem(900.0, slots, tasks, tuple(lags), tuple(crew), {}, {"c": Clock(WORTH, WORTH)})


def test_hours_by_the_wall_round_to_the_slot_that_is_safe():
    p = problem()
    assert first_after(None, p).tolist() == list(range(9))
    assert first_after(Wait(900.0), p)[:3].tolist() == [1, 2, 3]
    assert first_after(Wait(901.0), p)[:3].tolist() == [2, 3, 4] and last_after(Wait(901.0), p)[:3].tolist() == [
        1,
        2,
        3,
    ]
    assert last_after(Wait(1799.0), p)[0] == 1 and last_after(Wait(1800.0), p)[0] == 2
    assert first_after(Wait(1e6), p)[0] == 9 and last_after(Wait(1e6), p)[0] == 8
    assert first_after(Wait(), p)[2] == 2


def test_hours_by_the_clock_go_by_what_the_time_is_worth():
    p = problem()
    assert first_after(Wait(worth=1800.0, clock="c"), p)[:4].tolist() == [2, 3, 5, 6]
    assert last_after(Wait(worth=1800.0, clock="c"), p)[:4].tolist() == [2, 4, 5, 5]
    assert (
        first_after(Wait(worth=1801.0, clock="c"), p)[0] == 3 and last_after(Wait(worth=1799.0, clock="c"), p)[0] == 1
    )
    assert first_after(Wait(worth=1e5, clock="c"), p)[0] == 9 and last_after(Wait(worth=1e5, clock="c"), p)[0] == 8


def test_starts_that_no_schedule_can_use_are_left_out_and_no_others():
    a, b = Task("a", "a", 2), Task("b", "b", 3)
    p = problem(a, b, lags=[Lag("a", "b", Wait(900.0))])
    crew = crew_classes(p)
    modes = {t.id: modes_of(t, p, crew) for t in p.tasks}
    made = trimmed(p, modes, 8)
    assert made["a"][0].starts.tolist() == [0, 1, 2] and made["b"][0].starts.tolist() == [3, 4, 5]
    assert trimmed(p, modes, 6)["a"][0].starts.tolist() == [0] and trimmed(p, modes, 5)["b"] == ()
    assert in_order(problem(b, a, lags=[Lag("a", "b")])) == ("a", "b")


def test_split_work_counts_only_the_slots_in_which_all_are_there():
    crew = (Worker("x", ((0, 3, False), (5, 8, True))), Worker("y", ((1, 8, False),)))
    p = problem(Task("t", "t", 3, people=2, split=True), crew=crew)
    starts, spans, late = starts_of(p.tasks[0], p, crew_classes(p), (1, 1), 3)
    assert starts.tolist() == [1, 2, 5] and spans.tolist() == [5, 5, 3]
    assert late.tolist() == [1, 2, 3]  # of the one whose hours are late then
    days = Problem(
        900.0,
        96 * 20,
        (Task("t", "t", 2, split=True),),
        (),
        (Worker("x", ((0, 1, False), (96 * 15, 96 * 15 + 1, False))),),
    )
    assert modes_of(days.tasks[0], days, crew_classes(days)) == () and LONGEST == 96 * 14 * 900


def test_what_might_be_let_go_is_listed_once_and_words_say_it():
    a = Task("a", "a", 1, at=2, latest=5, earliest=1, skill="lay")
    b = Task("b", "b", 1, by=("x",))
    p = problem(a, b, lags=[Lag("a", "b", None, Wait(900.0), why="it gels")])
    kinds = [(r.kind, r.step) for r in rulings_of(p)]
    assert kinds == [
        ("at", "a"), ("latest", "a"), ("earliest", "a"), ("skill", "a"), ("by", "b"), ("window", "b"), ("people", ""),
    ]  # fmt: skip
    for ruling in rulings_of(p):
        assert ruling_words(ruling, p, str) and freeing_words(ruling, p, str)
        assert let_go(p, ruling) != p
    assert "it gels" in ruling_words(rulings_of(p)[5], p, str)
    assert [r.kind for r in nowhere(p, a)] == ["skill", "people"] and nowhere(p, b) == ()
    assert [w.name for w in let_go(p, rulings_of(p)[-1]).crew] == ["x", "another 1", "another 2"]


def test_a_range_is_of_the_runs_and_holds_nine_in_ten_of_them():
    tasks = tuple(Task(f"t{n}", f"t{n}", 8) for n in range(6))
    p = Problem(900.0, 400, tasks, (), (Worker("x", ((0, 400, False),)),))
    plan = first_schedule(p)
    assert plan is not None and plan.finish == 48 and replayed(p, plan) == plan
    assert finish_range(p, plan, Spread(0.0, 0.0, 0.0, 20)) == (48, 48)
    low, high = finish_range(p, plan, Spread(0.2, 0.0, 0.0, 400))
    # The whole is log-normal about 48 slots: 48 exp(-+1.645 x .2).
    assert low == pytest.approx(48 * np.exp(-0.329), abs=2.5) and high == pytest.approx(48 * np.exp(0.329), abs=3.5)
