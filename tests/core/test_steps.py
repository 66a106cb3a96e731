"""The steps of a repair: what follows from the scheme, and what is changed of them."""

import pytest
from tests.schemes import rescheme

from ribpatch.core.edits import set_value
from ribpatch.core.finish_edits import add_spots
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.scheme import StackLine
from ribpatch.core.step_changes import changed, without_circles
from ribpatch.core.steps.records import mark_time
from ribpatch.core.timetable import OwnStep, StepChange, Timetable
from ribpatch.core.units import Measure


def steps(job, shelf, zone="z4", **choices):
    z = job.zone(zone)
    z = evolve(z, scheme=rescheme(z.scheme, **choices))
    return plan(evolve(job, zones=tuple(z if o.id == zone else o for o in job.zones)), shelf).zone(zone).steps


def kinds(made):
    return [r.kind.id for r in made.rows]


def waits(made, after):
    return next(w for w in made.waits if w.after.endswith(f".{after}"))


def test_a_hole_in_a_solid_laminate_is_cut_ground_laid_in_sittings_and_faired(job, shelf):
    made = steps(job, shelf)
    order = [
        "strip",
        "open",
        "grind",
        "clean",
        "fit",
        "prime",
        "lay",
        "lay",
        "lay",
        "peel",
        "fair",
        "sand",
        "refit",
        "test",
    ]
    assert kinds(made) == order  # seven plies in sittings of three: no core, nothing wet
    assert waits(made, "lay1").most.mark == "gel" and waits(made, "lay1").least is None
    again = waits(made, "lay2")
    assert (again.least.mark, again.most.mark, again.missed_least.mark) == ("green_from", "green_to", "sandable")
    row = next(r for r in made.rows if r.id == "z4.lay2")
    assert again.missed == pytest.approx((0.35 * row.amount + 0.3) * 3600)
    assert waits(made, "sand").least.mark == "sandable" and waits(made, "peel").least.mark == "sandable"
    assert waits(made, "test").least is None or waits(made, "test").least.mark == "service"
    assert any(w.after == "z4.test" and w.least and w.least.mark == "service" for w in made.waits)
    prime, lay = (next(r for r in made.rows if r.id == f"z4.{k}") for k in ("prime", "lay1"))
    assert prime.wet == lay.wet != row.wet and prime.lays == "epoxy-5-1-slow"


def test_a_core_is_primed_bedded_and_unclamped_and_its_face_primed_again_before_plies_go_on(job, shelf):
    made = steps(job, shelf, "z1")
    order = ["strip", "open", "grind", "clean", "fit", "prime", "bed", "abrade", "prime", "lay"]
    assert kinds(made)[:10] == order  # all that is wet is cut out: nothing dries
    assert waits(made, "bed").most.mark == "gel"
    # Of this resin too little of the green window is left when the clamps are off: it cures, is washed and abraded.
    assert waits(made, "abrade.prime.plies").least.mark == "sandable"
    assert waits(made, "lay1").before == "z1.prime.plies" and waits(made, "lay1").most.mark == "gel"
    quick = steps(job, shelf, "z1", resin="epoxy-2-1-slow")
    again = waits(quick, "prime.plies")
    assert (again.before, again.least.mark, again.most.mark) == ("z1.bed", "unclamp", "green_to")
    assert again.missed_least.mark == "sandable" and again.missed > 0
    cured = steps(job, shelf, "z1", resin="epoxy-2-1-slow", between="cured")
    assert next(w.before for w in cured.waits if w.after == "z1.prime.plies") == "z1.abrade.prime.plies"


def test_each_face_is_primed_once_in_its_own_step(job, shelf):
    zone = plan(job, shelf).zone("z1")
    first, second = (r for r in zone.steps.rows if r.kind.id == "prime")
    cut, patch = zone.patch.cut.region.area, zone.patch
    assert first.amount == pytest.approx(cut)  # the far skin; the core's own faces are sealed as it is bedded
    assert second.amount == pytest.approx(patch.band.outer.area)  # the core's top and the taper round it
    wet = {u.key: u.amount for u in zone.needs.uses}
    assert wet["prime.bed"] == first.amount and wet["prime"] == second.amount
    assert first.wet != second.wet


def laid(made):
    """Steps whose resin carries load."""
    return [r for r in made.rows if r.kind.id in ("part", "bed", "pour", "lay", "join", "knee")]


@pytest.mark.parametrize(
    ("zone", "choices"),
    [
        ("z1", {}),
        ("z2", {}),
        ("z2", {"side": "above", "plies": ()}),
        ("z2", {"side": "above", "plies": (), "core": "poured-600"}),
        ("z3", {"between": "cured"}),
        ("z4", {}),
    ],
)
def test_nothing_loads_a_bond_before_every_resin_under_it_is_in_service(job, shelf, zone, choices):
    made = steps(job, shelf, zone, **choices)
    under = laid(made)
    assert under
    for row in under:
        for after in ("refit", "test"):
            assert any(
                w.before == row.id and w.after == f"{zone}.{after}" and w.least and w.least.mark == "service"
                for w in made.waits
            ), (row.id, after)
    for row in made.rows:
        if row.kind.id == "knee":
            first = next(w.before for w in made.waits if w.after == row.id)
            held = {w.before for w in made.waits if w.after == first and w.least and w.least.mark == "service"}
            assert held == {r.id for r in under if r.kind.id not in ("part", "knee")}
    order = [r.id for r in made.rows]
    assert order.index(f"{zone}.refit") > max(order.index(r.id) for r in under)


def test_the_days_hang_no_engine_on_a_bond_that_is_not_in_service(job, shelf):
    """By the schedule itself: from the end of each wet step to the refit, the hours by an Arrhenius sum of our own."""
    from math import exp

    from ribpatch.core.days import days_of

    days = days_of(plan(job, shelf), "2026-11-30")
    put = days.first.by_id
    for zone in ("z1", "z2", "z3", "z4"):
        for row in laid(plan(job, shelf).zone(zone).steps):
            resin = shelf.resin(row.lays)
            worth = 0.0
            for slot in range(put[row.id].end, put[f"{zone}.refit"].start):
                warm = float(days.work_air.laminate[slot // 4 - days.work_air.air.first])
                rate = exp(-resin.activation / 8.314462 * (1 / (warm + 273.15) - 1 / 298.15))
                worth += 900 * rate if warm >= resin.least_temperature else 0
            assert worth > 0.98 * resin.service, (row.id, worth / 86400)


def test_a_cap_is_bonded_in_before_anything_goes_back(job, shelf):
    from ribpatch.core.scheme_edits import made_part

    z = job.zone("z2")
    scheme = rescheme(z.scheme, side="above", plies=(), core="poured-600")
    cap = made_part(scheme, "end cap", "biax-45-600", 4)
    made = plan(evolve(job, zones=(evolve(z, scheme=evolve(scheme, parts=(cap,))),)), shelf).zone("z2").steps
    order = kinds(made)
    assert order.index("join") < order.index("refit") and "knee" not in order and "bed" not in order
    first = waits(made, "abrade.join")
    assert first.least.mark == "sandable" and first.before.startswith("z2.pour")
    bench = next(r for r in made.rows if r.kind.id == "part")
    assert any(w.before == bench.id and w.after == "z2.join" and w.least.mark == "sandable" for w in made.waits)


def test_a_pour_is_lifts_by_the_depth_of_the_liquid_each_in_the_window_of_the_one_before(job, shelf):
    made = steps(job, shelf, "z2", side="above", plies=(), core="poured-600")
    lifts = [r for r in made.rows if r.kind.id == "pour"]
    zone = job.zone("z2")
    height = max(y for _, y in zone.outline) - min(y for _, y in zone.outline)
    assert 4 <= len(lifts) <= -(-height // 0.15) and "clamp" not in lifts[0].kind.name
    assert waits(made, "pour1").most.mark == "gel"
    for n in range(2, len(lifts) + 1):
        wait = waits(made, f"pour{n}")
        assert wait.before == f"z2.pour{n - 1}" and (wait.least.mark, wait.most.mark) == ("green_from", "green_to")
    assert "braced" in lifts[0].why
    flat = steps(job, shelf, "z1", core="poured-600")  # a deck lies: the liquid is as deep as the core is thick
    assert [r.name for r in flat.rows if r.kind.id == "pour"] == ["pour the core"]


def test_only_what_stays_wet_dries(job, shelf):
    assert "dry" in kinds(steps(job, shelf, "z1", core=None, core_thickness=None))
    tight = ((0.9, -0.05), (1.0, -0.05), (1.0, 0.05), (0.9, 0.05))
    zone = job.zone("z1")
    left = evolve(zone, scheme=evolve(zone.scheme, cut=evolve(zone.scheme.cut, drawn=(tight,))))
    made = plan(evolve(job, zones=(left,)), shelf).zone("z1")
    assert made.patch.cut.missed > 0 and "dry" in kinds(made.steps)
    assert next(r for r in made.steps.rows if r.kind.id == "dry").waits == 7 * 86_400


def test_an_abraded_face_is_wet_within_a_day_or_cleaned_again(job, shelf):
    made = steps(job, shelf)
    again = next(w for w in made.waits if (w.before, w.after) == ("z4.clean", "z4.prime"))
    clean = next(r for r in made.rows if r.id == "z4.clean")
    assert again.most.worth == 86_400 and again.missed == clean.hours
    for each in (made, steps(job, shelf, "z1", between="cured"), steps(job, shelf, "z2"), steps(job, shelf, "z3")):
        hours = {r.id: r.hours for r in each.rows if r.kind.id == "abrade"}
        on = {w.before: w for w in each.waits if w.before in hours}
        assert set(on) == set(hours), "something is laid on every abraded face"
        assert all(w.most.worth == 86_400 and w.missed == hours[w.before] for w in on.values())


def test_plies_that_cure_between_are_washed_and_abraded_and_count_in_the_hours(job, shelf):
    green, cured = steps(job, shelf), steps(job, shelf, between="cured")
    assert kinds(cured).count("abrade") == 2 and "abrade" not in kinds(green)
    assert waits(cured, "abrade.lay2").least.mark == "sandable" and waits(cured, "lay2").most is None
    more = sum(r.hours for r in cured.rows) - sum(r.hours for r in green.rows)
    assert more == pytest.approx(sum(r.hours for r in cured.rows if r.kind.id == "abrade"))


def test_without_peel_ply_it_is_scraped_and_a_later_resin_goes_on_before_fairing(job, shelf):
    made = steps(job, shelf, peel_ply=False, later_resin="epoxy-5-1-fast")
    assert "scrape" in kinds(made) and "peel" not in kinds(made)
    second = next(r for r in made.rows if r.kind.id == "second")
    assert second.lays == "epoxy-5-1-fast" and waits(made, "fair").most.clock == "epoxy-5-1-fast"


def test_fairing_on_the_wet_laminate_follows_it_in_its_window(job, shelf):
    wet = set_value(("zones", "z4", "finish", "way"), "wet").change(job)
    made = steps(wet, shelf)
    assert "peel" not in kinds(made) and waits(made, "fair").before == "z4.lay3"
    assert waits(made, "fair").most.mark == "green_to"


def test_coats_go_on_over_each_other_within_their_windows(job, shelf):
    spotted = add_spots(job.zone("z4"), "300 250: 1.2").change(job)
    painted = set_value(("zones", "z4", "finish", "system"), "topsides-paint").change(spotted)
    made = steps(painted, shelf)
    rows = [r for r in made.rows if r.kind.id == "coat"]
    system = shelf.finish("topsides-paint")
    assert len(rows) == sum(c.coats for c in system.coats) and {r.lays for r in rows} == {"coat"}
    area = rows[0].amount
    worked = sum(c.hours * c.coats for c in system.coats) * area + 0.4 * len(rows)
    assert sum(r.hours for r in rows) == pytest.approx(worked * 3600)
    first = next(w for w in made.waits if w.after == rows[1].id)
    # Six hours at 20 degC, 1.46 times as long as at 25.
    assert first.least.worth == pytest.approx(6 * 3600 / 1.46, rel=0.01) and first.missed_least == first.least


def test_nothing_is_done_where_nothing_is_cut(job, shelf):
    empty = set_value(("zones", "z4", "survey", "drawn"), None).change(job)
    zone = empty.zone("z4")
    bare = evolve(empty, zones=(evolve(zone, survey=type(zone.survey)()),))
    assert plan(bare, shelf).zone("z4").steps.rows == ()


def test_a_resin_that_tells_no_more_than_its_pot_life_has_usual_times(shelf):
    resin = evolve(shelf.resin("epoxy-5-1-slow"), gel=None, sandable=None)
    assert mark_time(resin, "gel") == resin.pot_life * 4 and mark_time(resin, "green_to") == resin.green_to
    assert mark_time(resin, "sandable") == resin.pot_life * 36


def test_steps_are_skipped_joined_split_renamed_and_added(job, shelf):
    made = steps(job, shelf)

    def after(*changes, added=()):
        return changed(made.rows, made.waits, Timetable(changes=changes, added=added))

    rows, links = after(StepChange(step="z4.peel", skipped="none was laid"))
    assert "z4.peel" not in {r.id for r in rows}
    assert next(w for w in links if w.after == "z4.fair").before == "z4.lay3"
    assert next(w for w in links if w.after == "z4.fair").least.mark == "sandable"
    rows, links = after(StepChange(step="z4.clean", joined=True))
    both = next(r for r in rows if r.id == "z4.grind")
    old = {r.id: r for r in made.rows}
    assert both.hours == pytest.approx(old["z4.grind"].hours + old["z4.clean"].hours) and "and degrease" in both.name
    assert next(w for w in links if w.after == "z4.fit").before == "z4.grind"
    rows, links = after(StepChange(step="z4.strip", parts=3, hours=Measure(si=9 * 3600)))
    parts = [r for r in rows if r.id.startswith("z4.strip")]
    assert [r.id for r in parts] == ["z4.strip", "z4.strip.p2", "z4.strip.p3"] and parts[0].hours == 3 * 3600
    assert next(w for w in links if w.after == "z4.open").before == "z4.strip.p3"
    own = OwnStep(id="own1", name="tea", zone="z4", after=("z4.open",), before=("z4.grind",), wait=Measure(si=7200))
    rows, links = after(StepChange(step="z4.open", name="saw", people=2), added=(own,))
    assert next(r for r in rows if r.id == "z4.open").name == "saw" and rows[-1].id == "own1"
    assert next(w for w in links if w.before == "own1").least.worth == 7200
    assert after(StepChange(step="z9.gone", skipped="no zone"))[0] == made.rows


def test_more_hands_share_what_is_long(job, shelf):
    long = steps(job, shelf, plies=(StackLine(fabric="biax-45-800", count=7),), overlap=Measure(si=0.4))
    assert {r.people for r in long.rows if r.kind.id == "lay"} <= {1, 2}
    lay = shelf.step("lay")
    assert all((r.people == 2) == (r.hours > lay.more_from * 3600) for r in long.rows if r.kind.id == "lay")


def test_waits_that_would_close_a_circle_are_left_out_the_last_ones_first(job, shelf):
    made = steps(job, shelf)
    round_about = OwnStep(id="own1", name="loop", after=("z4.refit",), before=("z4.grind",))
    rows, links = changed(made.rows, made.waits, Timetable(added=(round_about,)))
    kept, left = without_circles(links)
    assert [(w.before, w.after) for w in left] == [("own1", "z4.grind")] and len(kept) == len(links) - 1
    assert without_circles(made.waits) == (made.waits, ())
    assert {r.id for r in rows} >= {"own1"}
