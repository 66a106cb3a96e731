"""The days of a job: every schedule keeps the rules, and words tell what the numbers say."""

from datetime import date
from itertools import pairwise

import numpy as np
import pytest
from msgspec.structs import replace
from tests.schedules import faults

from ribpatch.core import days_question
from ribpatch.core.calendar.first import first_schedule, replayed
from ribpatch.core.calendar.problem import Missed, Wait
from ribpatch.core.calendar.range import Spread, finish_range
from ribpatch.core.dates import day_words, moment_words
from ribpatch.core.day_air import air_table
from ribpatch.core.day_lanes import lanes_of
from ribpatch.core.day_words import (
    clash_words,
    day_sheet,
    finish_words,
    hours_words,
    order_table,
    step_table,
    step_words,
    weekend_after,
)
from ribpatch.core.days import days_of, spread_of
from ribpatch.core.days_stated import Done
from ribpatch.core.log_edits import log_entry
from ribpatch.core.logged_days import logged_days
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.simulated_air import simulated_forecast
from ribpatch.core.spare_time import fits_in, worth_doing
from ribpatch.core.steps.records import StepWait, Until
from ribpatch.core.timetable import AidKept, DaySpan, Forecast, Person, StepChange, Timetable
from ribpatch.core.timetable_edits import keep_schedule
from ribpatch.core.units import Measure
from ribpatch.scheduler.search import searched

MONDAY = "2026-11-30"
HAND = Person(id="p1", name="hand", hours=(DaySpan(start=8, end=17),))


def days_with(job, shelf, **stated):
    table = Timetable(start=MONDAY, **stated)
    return days_of(plan(evolve(job, timetable=table), shelf), MONDAY)


@pytest.fixture(scope="module")
def days(job, shelf):
    return days_of(plan(job, shelf), "2026-01-01")


def test_the_demo_is_planned_at_once_and_keeps_every_rule(days):
    days.problem.check()
    assert days.start == MONDAY and days.first is not None
    assert faults(days.problem, days.first) == []
    again = replayed(days.problem, days.first)
    assert again is not None and faults(days.problem, again) == []


@pytest.mark.parametrize("seed", range(6))
def test_any_weather_any_crew_gives_a_schedule_that_holds_or_none(job, shelf, seed):
    table = Timetable(
        start=MONDAY,
        people=(
            evolve(HAND, late=(DaySpan(start=18, end=20 + seed % 3),)),
            *(
                (Person(id="p2", name="other", hours=(DaySpan(start=8 + seed % 2, end=12),), skills=("lay",)),)
                * (seed % 2)
            ),
        ),
        aids=(AidKept(id="a1", kind="heater", degrees=Measure(si=16 + seed)),) if seed % 3 else (),
        outdoors=seed == 5,
        shed_until="2027-01-15",
    )
    table = evolve(table, forecast=simulated_forecast(table, MONDAY, seed=seed))
    made = days_of(plan(evolve(job, timetable=table), shelf), MONDAY)
    found = first_schedule(made.problem)
    if found is not None:
        assert faults(made.problem, found) == []
        assert made.moment_of(found.finish) <= "2027-01-16"


def test_slots_and_moments_are_one(days):
    assert days.slot_of("2026-12-01T14:30") == 96 + 58 and days.moment_of(96 + 58) == "2026-12-01T14:30"
    assert days.slot_of("2026-11-30T08:01") == 32 and days.slot_of("2026-11-30T08:01", up=True) == 33


def test_nothing_is_laid_below_the_systems_minimum_and_the_clock_stands_there(job, shelf):
    cold = Forecast(start=f"{MONDAY}T00:00", temperature=(4.0,) * 48, humidity=(0.5,) * 48)
    made = days_with(job, shelf, people=(HAND,), forecast=cold)
    laid = made.problem.air["epoxy-5-1-slow"]
    assert laid.blocked == ((0, made.slots + 96),) or laid.blocked[0][1] >= made.slots
    assert made.first is None
    clock = made.problem.clocks["epoxy-5-1-slow"]
    assert clock.slow[-1] == 0 < clock.fast[-1]
    warm = days_with(job, shelf, people=(HAND,), forecast=cold, aids=(AidKept(id="a1", kind="tent"), HEATER))
    assert warm.first is not None and faults(warm.problem, warm.first) == []


HEATER = AidKept(id="a2", kind="heater", degrees=Measure(si=20.0))


def test_put_by_hand_it_stays_and_the_rest_follows(job, shelf):
    free = days_with(job, shelf, people=(HAND,))
    assert free.first is not None
    start = free.moment_of(free.first.by_id["z4.strip"].start)
    put = days_with(job, shelf, people=(HAND,), changes=(StepChange(step="z4.strip", at="2026-12-08T09:15"),))
    assert put.first is not None and faults(put.problem, put.first) == []
    assert put.moment_of(put.first.by_id["z4.strip"].start) == "2026-12-08T09:15" != start
    assert put.first.by_id["z4.open"].start >= put.first.by_id["z4.strip"].end
    sunday = days_with(job, shelf, people=(HAND,), changes=(StepChange(step="z4.strip", at="2026-12-06T09:15"),))
    assert sunday.first is None
    found = searched(sunday.problem, 2.0)
    assert found.clash is not None
    words = " ".join(clash_words(found.clash, sunday))
    assert "has no place" in words and "find a place of its own" in words


def test_what_is_done_stays_done_and_the_rest_begins_now(job, shelf):
    made = plan(evolve(job, timetable=Timetable(start=MONDAY, people=(HAND,))), shelf)
    done = (Done("z4.strip", "2026-11-30T08:00", "2026-11-30T12:10"), Done("z4.open", "2026-12-01T08:00"))
    later = days_of(made, MONDAY, done, "2026-12-03T10:05")
    assert later.first is not None
    put = later.first.by_id
    assert (put["z4.strip"].start, put["z4.strip"].end) == (32, 49)
    assert put["z4.open"].end == later.slot_of("2026-12-03T10:15") and put["z4.open"].start == 96 + 32
    assert min(p.start for p in later.first.placed if p.who) >= later.slot_of("2026-12-03T10:15")


def test_a_resin_that_is_slower_here_waits_longer(job, shelf):
    made = plan(evolve(job, timetable=Timetable(start=MONDAY, people=(HAND,))), shelf)
    slow = days_of(made, MONDAY, (), "", (("epoxy-5-1-slow", 2.0),))
    usual = days_of(made, MONDAY)
    a, b = slow.problem.clocks["epoxy-5-1-slow"].slow, usual.problem.clocks["epoxy-5-1-slow"].slow
    assert a[-1] == pytest.approx(b[-1] / 2)
    assert slow.first is not None and usual.first is not None and slow.first.finish > usual.first.finish


def test_the_schedule_found_is_kept_as_long_as_the_question_is_the_same(job, shelf):
    days = days_with(job, shelf, people=(HAND,))
    assert days.first is not None
    kept = keep_schedule(days.keep(days.first, (90, 400))).change(evolve(job, timetable=days.table))
    again = days_of(plan(kept, shelf), MONDAY)
    assert again.kept is not None and again.kept.placed == days.first.placed
    assert again.kept.late == days.first.late and again.range == (days.moment_of(90), days.moment_of(400))
    other = evolve(kept, timetable=evolve(kept.timetable, weeks=9))
    assert days_of(plan(other, shelf), MONDAY).kept is None and days_of(plan(other, shelf), MONDAY).range is None


def test_the_range_of_the_finish_holds_the_plan_and_grows_with_the_spread(days):
    assert days.first is not None
    narrow = finish_range(days.problem, days.first, Spread(0.02, 0.05, 0.05, 8))
    wide = finish_range(days.problem, days.first, Spread(0.4, 0.5, 0.6, 8))
    assert narrow[0] <= days.first.finish <= narrow[1]
    assert wide[1] > narrow[1] and finish_range(days.problem, days.first, Spread(0.4, 0.5, 0.6, 8)) == wide
    spread = spread_of(days)
    assert spread.common == pytest.approx(0.1357, abs=1e-3)  # a quarter either way, nine in ten


def test_words_tell_the_finish_the_step_and_the_table(days, job, shelf):
    schedule = days.first
    assert schedule is not None
    told = finish_words(days, schedule)
    assert told.startswith(f"Done on {moment_words(days.moment_of(schedule.finish))}") and "first plan" in told
    words = step_words(days, schedule, "z4.lay2")
    assert "window from" in words and "after “laminate, sitting 1 of 3”" in words
    table = step_table(days, schedule, "metric")
    area = next(r for r in days.rows if r.kind.unit == "m2" and r.people)
    total = area.amount * area.kind.hours * area.kind.pace + area.kind.set_up + area.kind.clean_up
    assert total == pytest.approx(area.hours / 3600)
    said = hours_words(area, "metric")
    assert f"{area.amount:.2f} m²" in said and f"{area.kind.set_up + area.kind.clean_up:g} h to set up" in said
    assert "ft²" in hours_words(area, "us") and "m²" not in hours_words(area, "us")
    assert "as stated" in hours_words(replace(area, hours=99.0), "metric")
    assert hours_words(replace(area, people=0), "metric") == ""
    assert len(table.rows) == len(days.rows) and table.rows[0].cells[2].endswith("08:00")
    assert day_words("2026-12-24") == "Thu 24 Dec"


def test_a_days_sheet_has_its_steps_cups_and_cautions(days, job, shelf):
    schedule, made = days.first, plan(job, shelf)
    assert schedule is not None
    lay = schedule.by_id["z4.lay1"]
    sheet = day_sheet(made, days, schedule, days.moment_of(lay.start)[:10], "metric")
    assert sheet.waits == ()  # what is wet and rotten is cut out: nothing dries
    row = next(s for s in sheet.steps if s.step == "z4.lay1")
    assert "cup" in row.cups and "resin" not in row.cups and "gloves" in row.lay_out
    assert any("sensitises" in c for c in row.cautions) and "degC" not in sheet.air
    times = [s.time for s in sheet.steps]
    assert times == sorted(times, key=lambda t: t if t[0].isdigit() else "") or len(times) < 3


def test_what_must_be_ordered_by_when_counts_back_from_its_first_use(days, job, shelf):
    made = plan(job, shelf)
    assert days.first is not None
    table = order_table(made, days, days.first, made.buys_with(made.first_rolls), "2026-11-25")
    row = next(r for r in table.rows if r.key == "epoxy-5-1-slow")
    prime = min(days.first.by_id[r.id].start for r in days.rows if r.kind.id in ("prime", "bed", "lay", "fair"))
    assert row.cells[1] == day_words(days.moment_of(prime)) and row.cells[3].endswith(", late") and row.mark == "warn"


def test_lanes_hold_every_step_once_in_rows_that_do_not_overlap(days):
    schedule = days.first
    assert schedule is not None
    lanes = lanes_of(days, schedule)
    bars = [b for lane in lanes.lanes for b in lane.bars]
    assert sorted(b.step for b in bars) == sorted(days.by_id)
    for lane in lanes.lanes:
        for row in range(lane.rows):
            mine = sorted((b.start, b.end) for b in lane.bars if b.row == row)
            assert all(a[1] <= b[0] + 1e-9 for a, b in pairwise(mine))
    people = lanes_of(days, schedule, "person")
    assert next(lane.name for lane in people.lanes) == "yard hand" and not any(lane.windows for lane in people.lanes)
    window = next(w for lane in lanes.lanes for w in lane.windows if w.step == "z4.lay2")
    start = schedule.by_id["z4.lay2"].start / 4
    missed = schedule.by_id["z4.lay2"].missed
    assert missed or window.opens <= start <= window.closes


def test_hours_to_spare_offer_what_can_be_begun(job, shelf):
    days = days_with(job, shelf, people=(HAND,))
    assert days.first is not None
    offers = worth_doing(days, "2026-11-30T18:00", 3.0)
    assert offers and all(o.hours <= 3.0 for o in offers)
    assert offers == tuple(sorted(offers, key=lambda o: (-o.gain, o.missed, -o.hours)))
    base = days.first.by_id
    assert all(base[o.step].start >= days.slot_of("2026-11-30T18:00") for o in offers)
    assert worth_doing(days, "2030-01-01T18:00", 3.0) == ()


def test_a_weekend_brings_the_finish_forward_or_leaves_it(job, shelf):
    days = days_with(job, shelf, people=(HAND,))
    first, last = weekend_after("2026-12-01")
    assert (first, last) == ("2026-12-05T08:00", "2026-12-06T17:00")
    assert weekend_after("2026-12-06") == ("2026-12-06T08:00", "2026-12-06T17:00")
    fit = fits_in(days, first, last)
    assert fit is not None and fit.steps
    base = first_schedule(days.problem)
    assert base is not None and fit.gain == (base.finish - fit.finish) / 4


def test_the_air_of_each_day_says_when_it_may_be_laid_in(days):
    table = air_table(days, "metric")
    assert table.columns[-1].startswith("lay in:") and len(table.rows) == 42
    cold = [r for r in table.rows if r.mark == "warn"]
    assert all(" h: " in r.why for r in cold) and {r.cells[-1] for r in table.rows} != {"all day"}
    assert date.fromisoformat(days.start).weekday() == 0 and table.rows[0].cells[0] == "Mon 30 Nov"


def test_what_is_ordered_comes_its_lead_time_later_and_steps_wait_for_it(job, shelf):
    free, waits = days_with(job, shelf, people=(HAND,)), days_with(job, shelf, people=(HAND,), ordered=MONDAY)
    assert free.arriving == {} and free.first is not None and waits.first is not None
    lead = max(shelf.price(i).lead for i in ("epoxy-5-1-slow", "biax-45-800"))
    coming = waits.arriving
    assert coming["z4.lay1"] >= f"2026-12-{int(lead):02d}" and "z4.strip" not in coming
    first = waits.first.by_id["z4.lay1"].start
    assert waits.moment_of(first)[:10] >= coming["z4.lay1"] and first > free.first.by_id["z4.lay1"].start
    assert faults(waits.problem, waits.first) == []
    assert f"comes by {day_words(coming['z4.lay1'])}" in step_words(waits, waits.first, "z4.lay1")
    split = days_with(job, shelf, ordered=MONDAY, changes=(StepChange(step="z4.lay1", parts=2),))
    assert split.problem.task("z4.lay1.p2").earliest == split.slot_of(coming["z4.lay1"])


def test_a_step_begun_before_its_forerunners_are_logged_does_not_stop_the_planning(job, shelf):
    """Hands begin where they find room: what is logged is believed, and the rest is planned on."""
    begun = log_entry(job, "begun", step="z4.grind", at="2026-11-30T09:00", people=1).change(job)
    days = logged_days(plan(begun, shelf), MONDAY, "2026-11-30T10:00")
    assert days.done and days.first is not None and faults(days.problem, days.first) == []


@pytest.mark.parametrize("kind", ["gamma", "even"])
def test_nine_of_ten_finishes_lie_in_the_range_whoever_draws_the_hours(job, shelf, kind):
    """Hours drawn otherwise than the range draws them, worked through in the order of the plan."""
    import numpy as np
    from msgspec.structs import replace

    days = days_with(job, shelf, people=(HAND,))
    assert days.first is not None
    low, high = finish_range(days.problem, days.first, replace(spread_of(days), runs=30))
    rng, held = np.random.default_rng(11), []
    same = replayed(days.problem, days.first)
    assert same is not None
    for _ in range(25):
        shop = rng.gamma(1 / 0.136**2, 0.136**2) if kind == "gamma" else rng.uniform(0.78, 1.26)
        tasks = []
        for task in days.problem.tasks:
            own = rng.gamma(1 / 0.3**2, 0.3**2) if kind == "gamma" else rng.uniform(0.55, 1.6)
            off = (
                (rng.gamma(1 / 0.45**2, 0.45**2) if kind == "gamma" else rng.uniform(0.4, 2.0))
                if task.people == 0
                else shop * own
            )
            tasks.append(replace(task, work=max(round(task.work * off), 1)))
        made = replayed(replace(days.problem, tasks=tuple(tasks)), days.first)
        assert made is not None
        held.append(low <= made.finish - (same.finish - days.first.finish) <= high)
    assert 0.8 <= np.mean(held) <= 1.0


def test_a_weekend_is_worked_from_eight_to_six(job, shelf):
    from ribpatch.core.spare_time import _joined

    days = days_with(job, shelf, people=(HAND,))
    assert _joined(((32, 68, False), (60, 80, True), (400, 420, False))) == (
        (32, 68, False), (68, 80, True), (400, 420, False),
    )  # fmt: skip
    fit = fits_in(days, "2026-12-05T08:00", "2026-12-06T17:00")
    early = fits_in(days, "2026-12-05T06:00", "2026-12-05T23:00")
    assert fit is not None and early is not None and set(early.steps) <= set(fit.steps) | set(early.steps)
    none = fits_in(days, "2026-12-05T18:00", "2026-12-05T23:00")
    assert none is not None and none.steps == () and none.gain == 0
    hour = fits_in(days, "2026-12-05T08:00", "2026-12-05T08:30")
    assert hour is None or all(days.problem.task(s).work <= 2 for s in hour.steps)


def test_cups_of_a_step_are_its_share_by_area(days, job, shelf):
    from ribpatch.core.day_words import cup_words, hours_between

    made = plan(job, shelf)
    batch = made.zone("z4").needs.batches[0]
    rows = [r for r in days.rows if r.zone == "z4" and r.lays == batch.resin.id]
    every = sum(r.amount for r in rows)
    for row in rows:
        count = -(-batch.cups.count * row.amount // every)
        words = cup_words(made, days, row, "metric")
        assert f"about {count:.0f} cup" in words and "used up in" in words
    resin, hardener = batch.resin.mass_parts
    assert f"{batch.cups.each * resin / (resin + hardener):.2f} kg + " in cup_words(made, days, rows[0], "metric")
    assert cup_words(made, days, days.by_id["z4.strip"], "metric") == ""
    assert hours_between("2026-12-01T08:00", "2026-12-02T09:30") == 25.5


def test_what_is_overdue_is_told(job, shelf):
    from ribpatch.core.day_words import gripes

    days = days_with(job, shelf, people=(HAND,))
    assert days.first is not None
    assert gripes(days, days.first, "2026-11-29T10:00") == gripes(days, days.first)
    late = gripes(days, days.first, "2026-12-01T08:00")
    done = sum(p.end <= days.slot_of("2026-12-01T08:00") for p in days.first.placed if p.who)
    assert late[0].startswith(f"{done} steps are planned to be done by now")


def test_a_gap_is_told_as_what_could_be_gained(job, shelf):
    from msgspec.structs import replace

    days = days_with(job, shelf, people=(HAND,))
    assert days.first is not None
    finish = days.first.finish

    def told(**more):
        kept = days.keep(replace(days.first, **more))
        table = evolve(days.table, kept=kept)
        again = days_of(plan(evolve(job, timetable=table), shelf), MONDAY)
        assert again.kept is not None
        return finish_words(again, again.kept)

    assert "At most 10 hours could be gained" in told(bound=finish - 40)
    assert "At most 2.5 days could be gained" in told(bound=finish - 240)
    assert "At most 2.0 days could be gained" in told(bound=finish - 192)
    assert "sandings and late hours may be" in told(proven=True) and "No plan is done earlier, nor" in told(best=True)


def test_a_step_over_a_night_goes_on_on_the_next_sheet(job, shelf):
    changes = (StepChange(step="z4.strip", hours=Measure(si=12 * 3600), at="2026-11-30T10:00"),)
    days, made = days_with(job, shelf, people=(HAND,), changes=changes), plan(job, shelf)
    assert days.first is not None
    first, second = (day_sheet(made, days, days.first, day, "us") for day in (MONDAY, "2026-12-01"))
    assert next(s for s in first.steps if s.step == "z4.strip").time == "from 10:00, goes on on Tue 1 Dec"
    assert next(s for s in second.steps if s.step == "z4.strip").time == "goes on, to 13:00"
    assert not any(
        "transom" in c.lower() or "engine" in c.lower() for s in first.steps for c in s.cautions if s.step == "z4.strip"
    )


@pytest.mark.parametrize("name", ["epoxy-5-1-slow", "coat"])
def test_each_clock_runs_by_its_own_activation_in_air_that_holds(job, shelf, name):
    """By Arrhenius, at the temperature that the shed is stated at: worth / time = exp[(E/R)(1/298.15 - 1/T)]."""
    held = days_with(job, shelf)
    kelvin = job.air.temperature.si + 273.15
    activation = 55_000.0 if name == "coat" else shelf.resin(name).activation
    clock = days_question._clock(held, name)
    assert len(clock.slow) == len(clock.fast) == held.slots + 1
    pace = np.exp(activation / 8.314462618 * (1 / 298.15 - 1 / kelvin))
    assert clock.fast[800] - clock.fast[400] == pytest.approx(400 * 900 * pace, rel=1e-6)


def test_what_was_begun_and_ended_within_a_slot_has_taken_one(days):
    step = days.problem.tasks[0].id
    moment = f"{MONDAY}T09:00"
    task = days_of(days.plan, MONDAY, (Done(step, moment, moment),), moment).problem.task(step)
    assert (task.at, task.work) == (36, 1)


@pytest.mark.parametrize("outdoors", [True, False])
def test_outdoors_it_is_as_cold_and_as_wet_as_the_forecast_says(job, shelf, outdoors):
    told = Forecast(start=f"{MONDAY}T00:00", temperature=(8.0,) * 24, humidity=(0.7,) * 24, rain=(1.0,) * 24)
    air = days_with(job, shelf, forecast=told, outdoors=outdoors).work_air
    warmer = 0.0 if outdoors else shelf.rule("shed.warmer")
    assert np.allclose(air.air.temperature, 8.0 + warmer) and np.all(air.rained == float(outdoors))


def test_waits_are_told_in_slots_by_the_wall_or_by_a_resins_clock(days):
    """A window missed costs whole slots: an hour four, a second more a fifth."""
    hour = StepWait(
        "a", "b", Until("", worth=7200.0), Until("epoxy-5-1-slow", worth=600.0), 3600.0, Until("", worth=60.0)
    )
    lag = days_question._lag(days, hour)
    assert (lag.least, lag.most) == (Wait(hours=7200.0), Wait(worth=600.0, clock="epoxy-5-1-slow"))
    assert lag.missed == Missed(4, Wait(hours=60.0))
    assert days_question._lag(days, replace(hour, missed=3601.0)).missed.work == 5


def test_air_that_is_too_cold_is_told_by_what_is_laid(days):
    names = {key: days_question._blocked(days, key).why for key in ("coat", "epoxy-5-1-slow")}
    assert names == {"coat": "coats", "epoxy-5-1-slow": days.plan.shelf.resin("epoxy-5-1-slow").name}
