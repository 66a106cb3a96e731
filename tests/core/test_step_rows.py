"""The steps of a repair: what follows from the scheme, and what is changed of them."""

import pytest
from tests.schemes import rescheme

from ribpatch.core.edits import set_value
from ribpatch.core.finish_edits import add_spots
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.scheme import StackLine
from ribpatch.core.step_changes import changed, without_circles
from ribpatch.core.step_rows import mark_time
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


def test_a_core_is_primed_bedded_and_unclamped_before_plies_go_on(job, shelf):
    made = steps(job, shelf, "z1")
    assert kinds(made)[:9] == ["strip", "open", "dry", "grind", "clean", "fit", "prime", "bed", "lay"]
    assert waits(made, "bed").most.mark == "gel" and waits(made, "lay1").least.mark == "unclamp"
    assert next(r for r in made.rows if r.kind.id == "dry").waits == 7 * 86_400


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
