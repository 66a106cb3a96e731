"""Edits of schemes: what they change, what they refuse, and that undoing them gives the same job."""

from math import exp

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from tests.schemes import rescheme
from tests.strategies import SHELF

from ribpatch.core.compare import as_chosen, compared_schemes, difference, scheme_table
from ribpatch.core.edits import draw_cut, in_skin, set_skin_plies
from ribpatch.core.errors import BadOutline, Fault, ImpossibleCoupon, InvalidValue, OutsideZone
from ribpatch.core.laminate.stack import stack_up
from ribpatch.core.materials.records import Coupon
from ribpatch.core.patch.access.proving_cut import proving_cut
from ribpatch.core.patch.repair import patch_of
from ribpatch.core.patch.snapping import snapped, snaps_of
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.scheme import StackLine, unrolled
from ribpatch.core.scheme_edits import (
    add_coupon,
    add_part,
    add_scheme,
    choose_scheme,
    merge_cut,
    put_depth,
    remove_coupon,
    remove_depth,
    remove_part,
    remove_scheme,
    set_backing,
    set_margin,
    set_mark,
    set_part_plies,
    set_second,
    set_stretch,
    set_tabbing,
    split_cut,
    tick,
)
from ribpatch.core.survey.field import posterior_of
from ribpatch.core.survey.structure import starts_of
from ribpatch.core.units import Measure


def m(value):
    return Measure(si=value)


LEFT = ((0.2, 0.2), (0.4, 0.2), (0.4, 0.5), (0.2, 0.5))
RIGHT = ((0.7, 0.25), (0.9, 0.25), (0.9, 0.45), (0.7, 0.45))


# ---- by side ----


def test_a_side_of_its_own_and_back_to_the_rule(job):
    one = set_margin("z4", "x+", m(0.1)).change(job)
    two = set_margin("z4", "x+", m(0.2)).change(one)
    assert [s.margin.si for s in two.zone("z4").scheme.cut.sides] == [0.2]
    assert set_margin("z4", "x+", None).change(two).zone("z4").scheme.cut.sides == ()
    taper = set_stretch("z4", "y-", m(6)).change(job).zone("z4").scheme.taper
    assert taper.ratio_at("y-") == 6 and taper.ratio_at("y+") == 12


@pytest.mark.parametrize("edit", [set_margin("z4", "x+", m(5.0)), set_stretch("z4", "x+", m(0.2))])
def test_absurd_values_are_refused(job, edit):
    with pytest.raises(Fault):
        edit.change(job)


def test_marks_are_kept_one_a_place(job):
    marked = set_mark("z1", "inside", "access", 4).change(set_mark("z1", "inside", "access", 2).change(job))
    assert [(k.side, k.mark) for k in marked.zone("z1").scheme.access.marks] == [("inside", 4)]
    assert set_mark("z1", "inside", "access", None).change(marked).zone("z1").scheme.access.marks == ()


# ---- the cut by hand ----


def test_two_cuts_become_one_and_one_becomes_two(job):
    drawn = draw_cut("z4", (LEFT, RIGHT)).change(job)
    zone = drawn.zone("z4")
    merged = merge_cut(zone, (LEFT, RIGHT)).change(drawn).zone("z4")
    (ring,) = merged.scheme.cut.drawn
    assert shapely.Polygon(ring).buffer(1e-6).covers(shapely.union_all([shapely.Polygon(LEFT), shapely.Polygon(RIGHT)]))
    parted = split_cut(zone, (LEFT,), ((0.3, 0.0), (0.3, 1.0))).change(drawn).zone("z4")
    areas = [shapely.Polygon(r).area for r in parted.scheme.cut.drawn]
    assert len(areas) == 2 and sum(areas) == pytest.approx(0.2 * 0.3 - 0.002 * 0.3, rel=1e-3)


def test_what_cannot_be_merged_or_split_is_told(job):
    zone = job.zone("z4")
    with pytest.raises(InvalidValue, match="only one part"):
        merge_cut(zone, (LEFT,))
    with pytest.raises(BadOutline, match="does not cross"):
        split_cut(zone, (LEFT,), ((1.2, 0.0), (1.2, 1.0)))


# ---- snapping ----


def test_corners_catch_on_fittings_edges_corners_and_round_sizes(job):
    snaps = snaps_of(job.zone("z1"), (((0.5, 0.5), (0.9, 0.5), (0.9, 0.9)),), "metric")
    place, words = snapped((1.132, 0.33), snaps, 0.004)
    assert place == pytest.approx((1.13, 0.33)) and words == "edge of mooring bollard"
    assert snapped((0.003, 0.333), snaps, 0.004)[1] == "the zone's edge"
    place, words = snapped((0.898, 0.334), snaps, 0.0041)
    assert place == pytest.approx((0.9, 0.33)) and "in line" in words
    assert snapped((0.6345, 0.3345), snaps, 0.001)[0] == (0.6345, 0.3345)


@given(st.floats(0.1, 2.0), st.floats(-1, 1), st.floats(0.0005, 0.02))
def test_a_corner_never_jumps_further_than_its_reach(x, y, reach):
    from tests.bed import bed_job as demo_job

    snaps = snaps_of(demo_job().zone("z1"), (), "us")
    (sx, sy), _ = snapped((x, y), snaps, reach)
    assert abs(sx - x) <= reach + 1e-12 and abs(sy - y) <= reach + 1e-12


# ---- depth, ticks ----


def test_a_depth_near_another_replaces_it(job):
    one = put_depth(job.zone("z4"), (0.7, 0.3), m(0.003)).change(job)
    two = put_depth(one.zone("z4"), (0.705, 0.3), m(0.004), near=0.02).change(one)
    assert [d.depth.si for d in two.zone("z4").depths] == [0.004]
    identity = two.zone("z4").depths[0].id
    assert remove_depth("z4", identity).change(two).zone("z4").depths == ()
    with pytest.raises(OutsideZone):
        put_depth(job.zone("z4"), (9.0, 0.3), m(0.003))


def test_a_tick_wants_a_note(job):
    with pytest.raises(InvalidValue, match="few words"):
        tick("z1", "deck-support", " ")
    assert tick("z1", "deck-support", "shored").change(job).zone("z1").ticks[-1].note == "shored"


# ---- faces, backing, parts ----


def test_the_other_face_of_a_solid_laminate_shares_the_plies(job):
    both = set_second("z4", True).change(job).zone("z4").scheme
    assert (
        sum(line.count for line in unrolled(both.laminate.plies)) == 4
        and sum(line.count for line in unrolled(both.laminate.second.plies)) == 3
    )
    back = set_second("z4", False).change(set_second("z4", True).change(job)).zone("z4").scheme
    assert back.laminate.second is None
    whole = [stack_up(s.laminate.plies, s.resin.main, "hand", SHELF).thickness for s in (job.zone("z4").scheme, back)]
    assert whole[0] == pytest.approx(whole[1])


def test_backing_tabbing_and_parts_come_and_go(job):
    assert set_backing("z4", True).change(job).zone("z4").scheme.laminate.backing is not None
    assert set_backing("z4", False).change(job).zone("z4").scheme.laminate.backing is None
    assert set_tabbing("z3", True).change(job).zone("z3").scheme.laminate.tabbing is not None
    for kind in ("angle", "knee", "backing plate", "end cap"):
        with_part = add_part(job.zone("z4"), kind).change(job)
        (part,) = with_part.zone("z4").scheme.parts
        assert part.kind == kind and sum(line.count for line in part.plies) == 4
        emptied = set_part_plies("z4", part.id, ()).change(with_part)
        assert emptied.zone("z4").scheme.parts[0].plies == ()
        assert remove_part("z4", part.id).change(with_part).zone("z4").scheme.parts == ()


def test_what_is_known_of_the_old_skin_goes_to_the_skin_rebuilt(job):
    changed = in_skin(job.zone("z2"), "choose era", era="before-1975").change(job)
    assert changed.zone("z2").build.inner.era == "before-1975" and changed.zone("z2").build.outer.era is None


# ---- schemes ----


def test_schemes_are_copied_chosen_and_dropped(job):
    two = add_scheme(job.zone("z4")).change(job)
    zone = two.zone("z4")
    assert zone.scheme.id == "s2" and [s.id for s in zone.schemes] == ["s1", "s2"]
    back = choose_scheme(zone, "s1").change(two).zone("z4")
    assert back.scheme == job.zone("z4").scheme and [s.id for s in back.schemes] == ["s1", "s2"]
    one = remove_scheme(zone, "s2").change(two).zone("z4")
    assert one.scheme.id == "s1" and one.others == ()
    with pytest.raises(InvalidValue, match="only one"):
        remove_scheme(one, "s1")
    with pytest.raises(InvalidValue, match="not there"):
        choose_scheme(zone, "s9")


def test_the_table_of_schemes_is_computed_for_each_as_if_chosen(job):
    two = add_scheme(job.zone("z4")).change(job)
    zone = two.zone("z4")
    thin = evolve(
        zone, scheme=rescheme(zone.scheme, plies=(evolve(zone.scheme.laminate.plies[0], count=3),), between="cured")
    )
    rows = compared_schemes(thin, two.air, two.boat, SHELF, "metric")
    assert [w.scheme.id for w in rows] == ["s1", "s2"]
    alone = plan(evolve(two, zones=(as_chosen(thin, rows[0].scheme),)), SHELF).zone("z4")
    assert rows[0].made.by_id["weight.net"].value == pytest.approx(alone.by_id["weight.net"].value)
    assert rows[1].figures["stiff"].value < rows[0].figures["stiff"].value
    assert rows[1].figures["hours"].value < rows[0].figures["hours"].value
    table = scheme_table(rows, "s2")
    assert [row.mark for row in table.rows] == ["", "chosen"]
    assert "kg" in difference(rows[0], rows[1]) and difference(rows[1], rows[1]) == ""
    assert "thinner" in table.rows[1].cells[-1]


# ---- coupons ----


def coupon(millimetres=2.9):
    return Coupon(
        id="new", fabric="biax-45-600", process="hand", resin="epoxy-5-1-slow", plies=4, thickness=millimetres / 1000
    )


def test_a_coupon_is_used_everywhere_with_its_origin(job):
    calibrated = add_coupon(job, coupon(), SHELF).change(job)
    before, after = (plan(j, SHELF).zone("z1") for j in (job, calibrated))
    assert after.by_id["stack.thickness"].value < before.by_id["stack.thickness"].value
    given = [g for f in after.figures if f.id == "z1.ply.thickness" or f.id == "z1.stack.thickness" for g in f.inputs]
    assert any("coupon" in g.name and g.origin == "yours" for g in given)
    twice = add_coupon(calibrated, coupon(3.0), SHELF).change(calibrated)
    assert len(twice.own.coupons) == 1
    assert remove_coupon(twice.own.coupons[0].id).change(twice).own.coupons == ()


def test_an_impossible_coupon_changes_nothing(job):
    with pytest.raises(ImpossibleCoupon):
        add_coupon(job, coupon(0.9), SHELF)


# ---- the test cut that tells most ----


def test_a_test_cut_is_proposed_across_the_line_where_doubt_is(job):
    zone = job.zone("z1")
    patch = patch_of(zone, SHELF)
    cut = proving_cut(zone, patch.cut, SHELF)
    track = shapely.LineString([cut.start, cut.end])
    assert track.crosses(patch.cut.region.boundary) or track.intersects(patch.cut.region.boundary)
    assert not patch.cut.region.contains(shapely.Point(cut.start)) and 0 <= cut.chance <= 1
    assert proving_cut(job.zone("z4"), patch_of(job.zone("z4"), SHELF).cut, SHELF) is None  # nothing was read there


def test_the_chance_beside_a_proposed_cut_is_that_of_the_field_there(job):
    """As asked of the readings' own field, place by place."""
    zone = job.zone("z1")
    proposed = proving_cut(zone, patch_of(zone, SHELF).cut, SHELF)
    step = {"x-": (-1, 0), "x+": (1, 0), "y-": (0, -1), "y+": (0, 1)}[proposed.facing]
    at = np.array([[proposed.start[0] - 0.07 * step[0], proposed.start[1] - 0.07 * step[1]]])
    made = posterior_of(zone.survey, zone.outline, SHELF, starts_of(zone, SHELF))
    odds = float(made.at(at)[0][0])
    assert proposed.chance == pytest.approx(1 / (1 + exp(-odds)), abs=1e-6)


def test_counted_plies_mean_the_same_wherever_they_are_typed(job):
    """Boat and Rebuild give one thickness; era and burn-off stay; a typed thickness goes first."""
    zone = job.zone("z4")
    known = evolve(zone.build.outer, thickness=Measure(si=0.003), era="before-1975", fibre_fraction=Measure(si=0.42))
    job = evolve(job, zones=(evolve(zone, build=evolve(zone.build, outer=known)),))
    plies = (StackLine(fabric="mat-450", count=3),)
    boat = set_skin_plies("z4", plies).change(job).zone("z4").build.outer
    rebuild = in_skin(job.zone("z4"), "count", plies=plies).change(job).zone("z4").build.outer
    assert boat == rebuild and boat.era == "before-1975" and boat.fibre_fraction.si == 0.42 and boat.thickness is None
    typed = evolve(
        job,
        zones=(evolve(zone, build=evolve(zone.build, outer=evolve(known, thickness=Measure(si=0.007, typed="7 mm")))),),
    )
    for edit in (set_skin_plies("z4", plies), in_skin(typed.zone("z4"), "count", plies=plies)):
        assert edit.change(typed).zone("z4").build.outer.thickness.si == 0.007
    cleared = in_skin(evolve(zone, build=evolve(zone.build, outer=boat)), "none", plies=()).change(
        set_skin_plies("z4", plies).change(job)
    )
    assert cleared.zone("z4").build.outer.thickness is not None
