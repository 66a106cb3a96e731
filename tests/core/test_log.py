"""The log of a job: corrections stand beside what they correct, what is wrong is raised at once, the clock tells."""

from datetime import datetime, timedelta

import pytest
from tests.schedules import faults

from ribpatch.core.cure_now import countdown, curing_now, factors_of, state_words, warmth_had
from ribpatch.core.errors import Fault
from ribpatch.core.log_checks import raised
from ribpatch.core.log_edits import correct, log_entry, take_back, take_coupons, take_factors
from ribpatch.core.log_tables import against_table, log_table, soon
from ribpatch.core.log_typed import stated_of, texts_of
from ribpatch.core.logbook.standing import doings, standing
from ribpatch.core.logged import CouponResult, CouponRow, CouponSet, Logbook, Said
from ribpatch.core.logged_days import logged_days
from ribpatch.core.materials.records import Coupon
from ribpatch.core.plan import plan
from ribpatch.core.record import built, evolve
from ribpatch.core.shop import Shop, ShopJob, applied, job_mark, taught
from ribpatch.core.timetable import Timetable
from ribpatch.core.units import Measure
from ribpatch.core.years import years_table

MONDAY = "2026-11-30"
SLOW = "epoxy-5-1-slow"


def m(value):
    return Measure(si=value)


@pytest.fixture(scope="module")
def bare(job):
    """The demo at 20 degC all the time, one hand."""
    air = evolve(job.air, temperature=m(20.0), humidity=m(0.5), surface=None)
    return evolve(job, timetable=Timetable(start=MONDAY), air=air)


def logged(job, *entries):
    for kind, at, stated in entries:
        job = log_entry(job, kind, at=f"2026-{at}", **stated).change(job)
    return job


def days(job, shelf, now=""):
    return logged_days(plan(job, shelf), MONDAY, now)


def says(job, shelf):
    return " ".join(raised(job.log.entries[-1], job, days(job, shelf), "metric"))


def test_a_correction_stands_beside_what_it_corrects_and_counts_in_its_place(bare, shelf):
    made = logged(bare, ("begun", "11-30T08:00", {"step": "z4.strip"}), ("ended", "11-30T12:00", {"step": "z4.strip"}))
    ended = made.log.entries[-1]
    mended = correct(made, ended, at="2026-11-30T11:00").change(made)
    assert [e.id for e in mended.log.entries] == ["e1", "e2", "e3"] and mended.log.entries[1] is ended
    assert [e.id for e in standing(mended.log)] == ["e1", "e3"]
    assert doings(mended.log)[0].worked == 3 * 3600
    again = correct(mended, mended.log.entries[-1], at="2026-11-30T10:00").change(mended)
    assert doings(again.log)[0].worked == 2 * 3600
    gone = take_back(again, "e4", "2026-11-30T13:00").change(again)
    assert doings(gone.log)[0].ended == "" and len(gone.log.entries) == 5
    table = log_table(gone, days(gone, shelf), "metric")
    assert [r.mark for r in table.rows if r.key in ("e2", "e3")] == ["head", "head"]
    assert any("corrected by e3" in str(r.cells[0]) for r in table.rows)
    for entries, words in (
        ((Said(id="e1", at="2026-11-30T08:00", corrects="e2"),), "does not stand before"),
        ((Said(id="e1", at="2026-11-30T08:00"), Said(id="e1", at="2026-11-30T09:00")), "same id"),
        ((Said(id="e1", at="2026-11-30T08:00", void=True),), "does not say what"),
    ):
        with pytest.raises(Fault, match=words):
            built(Logbook, entries=entries)


def test_people_and_breaks_count_in_the_hours(bare):
    made = logged(
        bare,
        ("begun", "11-30T08:00", {"step": "z4.grind", "people": 2}),
        ("ended", "11-30T10:00", {"step": "z4.grind"}),
        ("begun", "12-01T08:00", {"step": "z4.grind"}),
        ("ended", "12-01T08:30", {"step": "z4.grind"}),
    )
    (one,) = doings(made.log)
    assert one.worked == (2 * 2 + 0.5) * 3600 and (one.begun[-5:], one.ended[-5:]) == ("08:00", "08:30")


def test_a_wrong_ratio_is_raised_with_what_mends_it(bare, shelf):
    resin = shelf.resin(SLOW)
    right = 0.4 * resin.mass_parts[1] / resin.mass_parts[0]
    cup = {"step": "z4.prime", "resin": SLOW, "mass": m(0.4)}
    assert says(logged(bare, ("mixed", "12-01T08:00", {**cup, "hardener": m(right * 1.04)})), shelf) == ""
    short = says(logged(bare, ("mixed", "12-01T08:00", {**cup, "hardener": m(right * 0.8)})), shelf)
    assert "20% short" in short and f"{right * 0.2 * 1000:.0f} g of hardener" in short
    much = says(logged(bare, ("mixed", "12-01T08:00", {**cup, "hardener": m(right * 1.5)})), shelf)
    assert "50% too much" in much and "0.20 kg of resin" in much
    polyester = next(r.id for r in shelf.resins if r.family == "polyester")
    dry = says(logged(bare, ("mixed", "12-01T08:00", {**cup, "resin": polyester, "hardener": m(0.001)})), shelf)
    assert "0.2% of catalyst" in dry


def test_a_cup_past_its_pot_life_is_raised(bare, shelf):
    cup = {"step": "z4.prime", "resin": SLOW, "mass": m(0.5), "hardener": m(0.0862)}
    fine = {**cup, "used_up": m(600.0), "temperature": m(20.0)}
    assert says(logged(bare, ("mixed", "12-01T08:00", fine)), shelf) == ""
    late = says(logged(bare, ("mixed", "12-01T08:00", {**fine, "used_up": m(3 * 3600.0)})), shelf)
    assert "Used up after" in late and "can be worked for" in late
    cold = says(logged(bare, ("mixed", "12-01T08:00", {**fine, "temperature": m(8.0)})), shelf)
    assert "not foretold" in cold


def test_a_ply_outside_its_window_is_raised(bare, shelf):
    first = ("laid", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW})

    def next_at(at, *between):
        return says(logged(bare, first, *between, ("laid", at, {"step": "z4.lay2", "resin": SLOW})), shelf)

    # Green from 4 to 11 h at 25 degC: at 20 degC with 57 kJ/mol 1.48 times as long, 5.9 to 16.3 h; gelled from 4.4 h.
    assert next_at("12-01T09:00") == "" and next_at("12-01T15:00") == ""
    assert "not green yet" in next_at("12-01T13:00")
    assert "window" in next_at("12-02T02:00") and "abraded" in next_at("12-02T02:00")
    abraded = ("ended", "12-02T10:00", {"step": "z4.abrade.lay2"})
    assert next_at("12-02T11:00", abraded) == ""


def test_damp_air_and_cold_plies_are_raised(bare, shelf):
    damp = says(logged(bare, ("air", "12-01T08:00", {"temperature": m(15.0), "humidity": m(0.9)})), shelf)
    assert "over the dew point" in damp
    assert says(logged(bare, ("air", "12-01T08:00", {"temperature": m(20.0), "humidity": m(0.5)})), shelf) == ""
    cold = logged(
        bare,
        ("air", "12-01T07:00", {"temperature": m(9.0)}),
        ("laid", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW}),
    )
    assert "below 15" in says(cold, shelf)


def test_the_clock_tells_what_is_wet_and_counts_down(bare, shelf):
    made = logged(bare, ("laid", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW}))
    (wet,) = curing_now(made, days(made, shelf), "2026-12-01T10:00")
    assert wet.state.startswith("liquid") and wet.next_mark == "gel"
    # 3 h at 25 degC take 3 x 1.482 h at 20 degC.
    assert wet.next_at == "2026-12-01T12:26" and countdown(wet.next_at, "2026-12-01T10:00") == "in 2 h 26 min"
    (green,) = curing_now(made, days(made, shelf), "2026-12-01T15:00")
    assert green.state.startswith("green") and green.next_mark == "green_to"
    assert dict(green.marks)["green_to"] == "2026-12-02T00:16"
    (closed,) = curing_now(made, days(made, shelf), "2026-12-02T02:00")
    assert "past its window" in closed.state and closed.next_mark == "sandable"
    assert curing_now(made, days(made, shelf), "2026-11-30T08:00") == ()
    assert curing_now(made, days(made, shelf), "2027-12-01T08:00") == ()
    assert countdown("2026-12-05T10:00", "2026-12-01T10:00") == "in 4.0 days"
    assert state_words(1e9, {k: 1.0 for k in ("gel", "green_from", "green_to", "sandable", "service")}, True) == "cured"


def test_the_temperatures_really_had_move_the_clock(bare, shelf):
    laid = ("laid", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW})
    warm = logged(
        bare, laid, ("air", "12-01T08:00", {"temperature": m(25.0)}), ("air", "12-01T20:00", {"temperature": m(25.0)})
    )
    (wet,) = curing_now(warm, days(warm, shelf), "2026-12-01T09:00")
    assert wet.next_at == "2026-12-01T11:00"  # three hours at 25 degC
    made = warmth_had(days(warm, shelf), (("2026-12-01T08:00", 25.0), ("2026-12-01T20:00", 25.0)))
    assert float(made.at(36 * 3600.0)) == pytest.approx(25.0) and float(made.at(60 * 3600.0)) < 21.5
    cold = logged(bare, laid, ("air", "12-01T10:00", {"temperature": m(10.0)}))
    (stood,) = curing_now(cold, days(cold, shelf), "2026-12-01T12:00")
    assert stood.cold and dict(stood.marks)["sandable"] == ""


def test_a_nail_corrects_the_clock_of_its_resin_and_the_days(bare, shelf):
    laid = ("laid", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW})
    slow = logged(bare, laid, ("nail", "12-01T17:00", {"step": "z4.lay1", "state": "tacky"}))
    ((resin, factor),) = factors_of(slow, days(slow, shelf))
    assert resin == SLOW and factor.middle > 1.2 and factor.tests == 1
    (wet,) = curing_now(slow, days(slow, shelf), "2026-12-01T17:00")
    assert wet.factor == factor.middle and wet.tests == 1
    assert days(slow, shelf).factor_of(SLOW) == factor.middle


def test_what_is_logged_lies_where_it_was_and_the_rest_is_planned_from_now(bare, shelf):
    made = logged(bare, ("begun", "11-30T08:00", {"step": "z4.strip"}), ("ended", "11-30T15:00", {"step": "z4.strip"}))
    now = days(made, shelf, "2026-12-02T09:00")
    assert now.first is not None and now.first.by_id["z4.strip"].end == 60
    free = [p for p in now.first.placed if p.who]
    assert min(p.start for p in free) >= now.slot_of("2026-12-02T09:00")
    assert [f for f in faults(now.problem, now.first) if "z4.strip" not in f] == []


def test_estimate_against_actual_and_what_a_shop_learns(bare, shelf):
    made = logged(
        bare,
        ("begun", "11-30T08:00", {"step": "z4.strip"}),
        ("ended", "11-30T14:00", {"step": "z4.strip"}),
        ("mixed", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW, "mass": m(0.5), "hardener": m(0.086)}),
        ("used", "12-01T08:00", {"material": "biax-45-800", "amount": m(6.0)}),
        ("laid", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW}),
        ("nail", "12-01T17:00", {"step": "z4.lay1", "state": "tacky"}),
    )
    made_plan, made_days = plan(made, shelf), days(made, shelf)
    table = {r.key: r.cells for r in against_table(made_plan, made_days, "metric").rows}
    assert table["z4.strip"][1:] == ("3.0 h", "6.0 h", "2.00") and table["biax-45-800"][2].startswith("6")
    taught_now = taught(made_plan, made_days)
    assert [(h.kind, h.actual / h.usual) for h in taught_now.hours] == [("strip", 2.0)]
    assert taught_now.cure[0].resin == SLOW and taught_now.mixed is None
    shop = Shop().with_job(taught_now).with_job(taught_now)
    assert len(shop.jobs) == 1 and job_mark(made_plan) == shop.jobs[0].job
    new = applied(shelf, shop)
    # One job of two times the estimate, against a prior worth two: 2 ** (1/3).
    assert new.step("strip").pace == pytest.approx(2 ** (1 / 3)) and "yours, from one job" in new.step("strip").reason
    assert new.origin("strip").value == "yours" and new.step("grind") is shelf.step("grind")
    assert new.resin(SLOW).gel == pytest.approx(shelf.resin(SLOW).gel * taught_now.cure[0].factor ** 0.5)
    later = plan(bare, new).zone("z4").steps.rows[0]
    assert later.hours == pytest.approx(3 * 3600 * 2 ** (1 / 3))
    assert applied(shelf, shop.without(shop.jobs[0].job)) is shelf
    # Learned again with what it taught applied, it teaches the same: usual hours are those before any job.
    again = taught(plan(made, new), logged_days(plan(made, new), MONDAY, ""))
    assert again.hours[0].usual == pytest.approx(taught_now.hours[0].usual)


def test_coupons_change_the_bond_of_a_job(bare, shelf):
    zone = bare.zones[3]
    preparation = shelf.preparation(zone.scheme.bond.preparation)
    weaker = take_factors("less", [(preparation, preparation.factor / 2, "by coupons")]).change(bare)
    before, after = (plan(j, shelf).zone(zone.id).figure("bond.used") for j in (bare, weaker))
    assert before is not None and after is not None and after.value > before.value * 1.5


def test_jobs_of_a_boat_stand_side_by_side(bare, shelf):
    made = logged(bare, ("begun", "11-30T08:00", {"step": "z4.strip"}), ("ended", "12-02T14:00", {"step": "z4.strip"}))
    table = years_table((("this", plan(made, shelf)), ("2019.ribpatch", plan(bare, shelf))), "metric")
    rows = {r.key: r.cells for r in table.rows}
    assert rows["days"] == ("logged", "2026-11-30 to 2026-12-02", MONDAY) and table.columns[2] == "2019.ribpatch"
    assert "plies" in rows["zone.Bow topside"][1] and "54.0 h logged" in rows["hours"][1]


@pytest.mark.parametrize(
    ("kind", "texts", "words"),
    [
        ("mixed", {"mass": "400 g"}, "nothing is typed"),
        ("mixed", {"mass": "much", "hardener": "3 g"}, "much"),
        ("laid", {"first": "3", "last": "2"}, "lies before"),
        ("begun", {"people": "1.5"}, "no whole number"),
    ],
)
def test_what_is_typed_wrong_names_its_line(kind, texts, words):
    with pytest.raises(Fault, match=words):
        stated_of(kind, texts, "metric")
    assert stated_of("laid", {"first": "2"}, "metric") == {"first": 2, "last": 2}
    assert stated_of("mixed", {"mass": "400 g", "hardener": "69 g"}, "metric")["mass"].si == pytest.approx(0.4)


def test_a_bed_is_told_when_its_clamps_come_off(bare, shelf):
    made = logged(bare, ("laid", "12-01T08:00", {"step": "z1.bed", "resin": SLOW}))
    (wet,) = curing_now(made, days(made, shelf), "2026-12-01T16:00")
    assert wet.next_mark == "unclamp" and wet.next_at == "2026-12-01T22:48"  # 10 h at 25 degC


def test_hours_taught_leave_set_up_as_it_is_and_resin_counts_once_a_zone_is_laid(bare, shelf):
    rows = [r for r in plan(bare, shelf).zone("z4").steps.rows if r.lays]
    entries = []
    for row in rows:
        entries += [("begun", "12-01T08:00", {"step": row.id}), ("ended", "12-01T09:00", {"step": row.id})]
    half = logged(bare, *entries[:-2])
    cup = ("mixed", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW, "mass": m(0.6), "hardener": m(0.1)})
    whole = logged(
        bare,
        *entries,
        cup,
        ("begun", "12-02T08:00", {"step": "z4.grind"}),
        ("ended", "12-02T10:00", {"step": "z4.grind"}),
    )
    assert taught(plan(half, shelf), days(half, shelf)).mixed is None
    made = taught(plan(whole, shelf), days(whole, shelf))
    planned = sum(b.cups.total for b in plan(bare, shelf).zone("z4").needs.batches)
    assert made.mixed == pytest.approx(0.7) and made.planned == pytest.approx(planned)
    grind = next(h for h in made.hours if h.kind == "grind")
    row = next(r for r in plan(bare, shelf).zone("z4").steps.rows if r.kind.id == "grind")
    assert grind.usual == pytest.approx(row.hours) and grind.actual == 7200
    new = applied(shelf, Shop().with_job(made))
    again = taught(plan(whole, new), logged_days(plan(whole, new), MONDAY, ""))
    assert next(h for h in again.hours if h.kind == "grind").usual == pytest.approx(grind.usual)
    # .7 kg of what was planned, against a prior worth two jobs.
    loss = (1 + shelf.rule("loss.share")) * (made.mixed / made.planned) ** (1 / 3) - 1
    assert new.rule("loss.share") == pytest.approx(min(max(loss, 0.0), 0.6))


def test_a_clock_reads_every_watch_of_a_shift(bare, shelf):
    for hour, state in ((9, "liquid"), (13, "gelled"), (16, "green"), (26, "past its window"), (48, "hard")):
        day, rest = divmod(hour, 24)
        made = logged(bare, ("laid", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW}))
        (wet,) = curing_now(made, days(made, shelf), f"2026-12-{1 + day:02d}T{rest:02d}:00")
        assert wet.state.startswith(state), hour


def test_a_second_word_of_coupons_takes_the_place_of_the_first(bare, shelf):
    one, two = shelf.preparations[0], shelf.preparations[1]
    made = take_factors("taken", [(one, 0.5, "first")]).change(bare)
    made = take_factors("taken", [(two, 0.4, "other")]).change(made)
    made = take_factors("taken", [(one, 0.3, "again")]).change(made)
    assert {p.id: p.factor for p in made.own.preparations} == {one.id: 0.3, two.id: 0.4}
    assert made.own.preparations[-1].reason == "again"


def test_resin_mixed_and_material_used_add_up(bare, shelf):
    cup = ("mixed", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW, "mass": m(0.5), "hardener": m(0.086)})
    peel = ("used", "12-01T08:00", {"material": "peel-ply", "amount": m(1.5)})
    made = logged(bare, cup, cup, peel, peel)
    rows = {r.key: r.cells for r in against_table(plan(made, shelf), days(made, shelf), "metric").rows}
    assert rows[SLOW][2] == "1.17 kg" and rows["peel-ply"][2].startswith("3")
    planned = sum(b.cups.total for z in plan(bare, shelf).zones for b in z.needs.batches if b.resin.id == SLOW)
    assert rows[SLOW][3] == f"{1.172 / planned:.2f}"


def test_every_kind_of_entry_is_told_in_words(bare, shelf):
    from ribpatch.core.log_tables import entry_words, step_name

    made = logged(
        bare,
        ("begun", "12-01T08:00", {"step": "z4.strip", "people": 2}),
        ("laid", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW, "first": 2, "last": 2}),
        ("laid", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW, "first": 2, "last": 4}),
        ("used", "12-01T08:00", {"material": "biax-45-800", "amount": m(1.5)}),
        ("measured", "12-01T08:00", {"thickness": m(0.0042)}),
        ("air", "12-01T08:00", {"temperature": m(18.0), "humidity": m(0.5)}),
        ("nail", "12-01T08:00", {"step": "z4.lay1", "state": "marks"}),
        ("said", "12-01T08:00", {"note": "rain"}),
    )
    told = [entry_words(e, days(made, shelf), "metric") for e in made.log.entries]
    assert told[0] == "begun by 2" and told[1].startswith("ply 2 laid") and told[2].startswith("plies 2 to 4 laid")
    assert told[3:] == [
        "used 1.5 m of biax-45-800",
        "4.2 mm thick",
        "18.0 °C, 50% at the work",
        "nail: hard, a nail only marks it",
        "",
    ]
    assert step_name("z9.gone", days(made, shelf)) == "z9.gone"


def test_a_nail_speaks_of_what_was_laid_before_it(bare, shelf):
    first = (
        ("laid", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW}),
        ("nail", "12-01T17:00", {"step": "z4.lay1", "state": "tacky"}),
    )
    more = logged(bare, *first, ("laid", "12-01T18:00", {"step": "z4.lay1", "resin": SLOW, "first": 2, "last": 2}))
    alone = logged(bare, *first)
    assert factors_of(more, days(more, shelf)) == factors_of(alone, days(alone, shelf))
    early = logged(bare, ("nail", "12-01T07:00", {"step": "z4.lay1", "state": "tacky"}), first[0])
    assert factors_of(early, days(early, shelf)) == ()


def test_an_end_without_a_begin_adds_nothing_and_is_raised(bare, shelf):
    made = logged(bare, ("begun", "11-30T08:00", {"step": "z4.grind"}), ("ended", "11-30T10:00", {"step": "z4.grind"}))
    assert says(made, shelf) == ""
    twice = logged(made, ("ended", "11-30T12:00", {"step": "z4.grind"}))
    assert doings(twice.log)[0].worked == 2 * 3600 and "No begin" in says(twice, shelf)
    other = logged(bare, ("begun", "11-30T08:00", {"step": "z4.strip"}), ("ended", "11-30T12:00", {"step": "z4.grind"}))
    assert "No begin" in says(other, shelf)


def test_the_air_read_after_plies_were_laid_says_nothing_of_their_laying(bare, shelf):
    cold = ("air", "12-01T06:00", {"temperature": m(4.0)})
    laid = ("laid", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW})
    made = logged(bare, ("air", "12-01T20:00", {"temperature": m(4.0)}), laid)
    assert "below" not in says(made, shelf) and "below" in says(logged(bare, cold, laid), shelf)


def test_an_entry_is_typed_again_as_it_was_or_in_the_units_shown(bare, shelf):
    cup = {"resin": SLOW, "mass": m(0.4), "hardener": m(0.069), "temperature": m(20.0)}
    held = logged(bare, ("mixed", "12-01T08:00", cup))
    (entry,) = held.log.entries
    for system in ("metric", "us"):
        texts = texts_of(entry, system)
        again = stated_of("mixed", texts, system)
        assert again["temperature"].si == pytest.approx(20.0) and again["hardener"].si == pytest.approx(0.069, rel=0.02)
        assert texts["used_up"] == "" and again["used_up"] is None
    emptied = correct(held, entry, **stated_of("mixed", {**texts_of(entry, "us"), "temperature": ""}, "us"))
    assert emptied.change(held).log.entries[-1].temperature is None
    seen = Said(id="e1", at="2026-12-01T08:00", photographs=("p1", "p2"))
    assert stated_of("said", texts_of(seen, "us"), "us")["photographs"] == ("p1", "p2")
    with pytest.raises(Fault, match="no photograph p9"):
        correct(held, entry, photographs=("p9",), step="z4.lay1")


def test_one_edit_takes_the_word_of_every_row_of_coupons(bare, shelf):
    old = [p for p in shelf.preparations if p.old][:2]
    rows = tuple(
        CouponRow(id=f"r{n}", preparation=p.id, results=(CouponResult(mode=mode),) * 5)
        for n, (p, mode) in enumerate(((old[0], "clean"), (old[1], "torn"), (old[0], "torn")), 1)
    )
    made = take_coupons(CouponSet(id="c1", name="onto peel ply", rows=rows), shelf).change(bare).own.preparations
    # The stated share is worth five coupons; of two rows of one preparation the worse holds: five came off clean at .15.
    told = ((old[0], "0 tore fibres", 5 * 0.15), (old[1], "5 tore fibres", 5.0))
    for p, words, seen in told:
        (mine,) = (m for m in made if m.id == p.id)
        assert mine.factor == pytest.approx((5 * p.factor + seen) / 10, abs=1e-4) and words in mine.reason


def test_coupons_of_two_jobs_of_a_shop_are_both_kept(bare, shelf):
    both = tuple(f.id for f in shelf.fabrics)[:2]
    jobs = tuple(
        ShopJob(
            job=f"boat {n}",
            boat="",
            coupons=(Coupon(id="c1", fabric=f, process="hand", resin=SLOW, plies=4, thickness=0.003),),
        )
        for n, f in enumerate(both)
    )
    assert {c.fabric for c in applied(shelf, Shop(jobs=jobs)).coupons} >= set(both)


def test_a_mark_is_told_a_quarter_of_an_hour_before_it_and_not_after(bare, shelf):
    made = logged(bare, ("laid", "12-01T08:00", {"step": "z4.lay1", "resin": SLOW}))
    gels = dict(curing_now(made, days(made, shelf), "2026-12-01T08:10")[0].marks)["gel"]
    for minutes, told in ((16, 0), (15, 1), (0, 1), (-1, 0)):
        here = (datetime.fromisoformat(gels) - timedelta(minutes=minutes)).isoformat(timespec="minutes")
        found = soon(curing_now(made, days(made, shelf), here), days(made, shelf), here)
        assert len(found) == told and all(f"in 0 h {minutes:02d} min" in words for _, words in found), minutes
