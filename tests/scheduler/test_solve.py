"""The solver against every schedule there is, and against what is known of clashes."""

import msgspec
import pytest
from tests.schedules import every_schedule, faults, small

from ribpatch.core.calendar.first import first_schedule
from ribpatch.core.calendar.problem import Lag, Problem, Task, Wait, Worker
from ribpatch.core.calendar.rulings import let_go
from ribpatch.scheduler.explain import clash_of
from ribpatch.scheduler.search import searched
from ribpatch.scheduler.solve import best_schedule

DAY = ((8, 17, False), (32, 41, False))


@pytest.mark.parametrize("seed", range(100, 124))
def test_a_small_problem_is_solved_as_well_as_by_trying_everything(seed):
    asked = small(seed)
    best = min(every_schedule(asked), default=None)
    made = best_schedule(asked, 8.0, first_schedule(asked), lambda found: None)
    if best is None:
        assert made is None
        clash = clash_of(asked, 8.0)
        assert clash is not None and clash.against and clash.frees
        return
    assert made is not None and faults(asked, made) == []
    assert (made.finish, made.sandings, made.late) == best
    assert made.best and made.proven and made.bound == made.finish


def test_a_clash_names_what_clashes_and_how_far_it_must_be_let_go():
    tasks = (Task("a", "a", 4), Task("b", "b", 3, latest=14))
    asked = Problem(3600.0, 48, tasks, (Lag("a", "b", Wait(4 * 3600.0)),), (Worker("x", DAY),))
    clash = clash_of(asked, 20.0)
    assert clash is not None
    assert [r.kind for r in clash.against] == ["latest"] and [r.kind for r in clash.frees] == ["latest"]
    assert clash.frees[0].slot == 35  # a from 8 to 12, four hours' wait, and on the first day only an hour is left
    assert first_schedule(let_go(asked, clash.frees[0])) is not None


def test_where_only_more_people_would_help_that_is_said():
    asked = Problem(3600.0, 24, (Task("a", "a", 6), Task("b", "b", 6)), (), (Worker("x", DAY[:1]),))
    clash = clash_of(asked, 20.0)
    assert clash is not None and [r.kind for r in clash.against] == ["people"] == [r.kind for r in clash.frees]


def test_the_search_in_its_own_process_hands_on_and_can_be_stopped():
    asked = small(101)
    seen = []
    made = searched(asked, 5.0, None, lambda share, best: seen.append(share) or True)
    assert made.schedule is not None and made.schedule.best and faults(asked, made.schedule) == []
    stopped = searched(asked, 30.0, None, lambda share, best: False)
    assert stopped.schedule is not None and faults(asked, stopped.schedule) == []
    none = searched(msgspec.structs.replace(asked, crew=()), 2.0)
    assert none.schedule is None and none.clash is not None


def test_a_calendar_that_is_too_short_is_told():
    days = tuple((n * 24 + 8, n * 24 + 17, False) for n in range(2))
    tasks = (Task("a", "a", 2), Task("b", "b", 2))
    asked = Problem(3600.0, 48, tasks, (Lag("a", "b", Wait(40 * 3600.0)),), (Worker("x", days),))
    clash = clash_of(asked, 10.0)
    assert clash is not None and [r.kind for r in clash.against] == ["days"] == [r.kind for r in clash.frees]
