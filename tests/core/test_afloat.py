"""How she floats: a box by closed form, the shape by integrals of its own, and the demo's repairs by hand."""

from math import degrees

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.bed import bed_job as demo_job

from ribpatch.core.afloat import SHARES, afloat, afloat_words, changed_at
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.supply.floating import Change, Floating, floating, planform, waterplane
from ribpatch.library.shelf import shipped_shelf

JOB, SHELF = demo_job(), shipped_shelf()


def test_a_box_floats_as_its_formulas_say():
    """A = L B, I = B L3 / 12 and L B3 / 12; sinkage m / (rho A), trim m d / (rho I_L), heel m y / (D GM)."""
    L, B, D, m, x, y = 6.0, 2.0, 2400.0, 30.0, 5.0, 0.5
    box = waterplane(L, B, 1.0, 1.0, 2.0)
    assert (box.area, box.centre) == pytest.approx((L * B, L / 2))
    assert box.along == pytest.approx(B * L**3 / 12, rel=1e-4) and box.across == pytest.approx(L * B**3 / 12)
    made = floating(box, D, (Change(m, x, y),), 1025.0, 0.2)
    sink, turn = m / (1025 * L * B), m * (x - 3) / (1025 * B * L**3 / 12)
    assert made.sinkage == pytest.approx(sink)
    assert made.transom == pytest.approx(sink - 3 * turn, rel=1e-3) and made.stem == pytest.approx(
        sink + 3 * turn, rel=1e-3
    )
    height = L * B**3 / 12 / (D / 1025) - 0.2
    assert made.heel == pytest.approx(degrees(m * y / D / height))


@given(st.floats(0.0, 1.0), st.floats(0.05, 0.95), st.floats(1, 6))
def test_the_shape_by_its_integrals(transom, widest, bow):
    """Aft a trapezoid from the transom's width to the full one, forward 1 - u^bow: both by antiderivatives."""
    L, B = 8.0, 2.4
    plane = waterplane(L, B, transom, widest, bow)
    a, f = widest * L, (1 - widest) * L
    area = B * (a * (transom + 1) / 2 + f * (1 - 1 / (bow + 1)))
    assert plane.area == pytest.approx(area, rel=2e-3)
    aft = B * a**2 * (transom / 2 + (1 - transom) / 3)
    fore = B * (a * f * (1 - 1 / (bow + 1)) + f**2 * (1 / 2 - 1 / (bow + 2)))
    assert plane.centre == pytest.approx((aft + fore) / area, rel=2e-3)
    cubes = a * (1 + transom) * (1 + transom**2) / 4
    cubes += f * (1 - 3 / (bow + 1) + 3 / (2 * bow + 1) - 1 / (3 * bow + 1))
    assert plane.across == pytest.approx(2 / 3 * (B / 2) ** 3 * cubes, rel=4e-3)


@given(st.lists(st.tuples(st.floats(-50, 50), st.floats(0, 8), st.floats(-1, 1)), min_size=2, max_size=5))
def test_changes_add_up_and_what_goes_on_and_comes_off_leaves_nothing(rows):
    plane = waterplane(8, 2.4, 0.85, 0.45, 2)
    changes = tuple(Change(*row) for row in rows)
    whole = floating(plane, 3000, changes, 1000, 0.3)
    parts = [floating(plane, 3000, (c,), 1000, 0.3) for c in changes]
    assert whole.transom == pytest.approx(sum(p.transom for p in parts), abs=1e-12)
    assert whole.heel == pytest.approx(sum(p.heel for p in parts), abs=1e-9)
    back = floating(plane, 3000, (*changes, *(Change(-c.mass, c.x, c.y) for c in changes)), 1000, 0.3)
    assert (back.sinkage, back.transom, back.heel) == pytest.approx((0, 0, 0), abs=1e-12)
    over = floating(plane, 3000, (Change(10, plane.centre, 0),), 1000, 0.3)
    assert over.transom == pytest.approx(over.stem) and over.transom == pytest.approx(over.sinkage)


def test_a_tender_boat_has_no_heel_and_half_breadths_may_be_measured():
    narrow = planform(np.array([0.5, 1.5, 2.5]), np.array([0.1, 0.2, 0.05]), 3.0)
    assert narrow.area == pytest.approx(0.7) and narrow.across == pytest.approx(2 / 3 * (0.001 + 0.008 + 0.000125))
    assert floating(narrow, 300, (Change(1, 1, 0.1),), 1000, 0.2).heel is None


def test_the_repairs_of_the_demo_by_hand():
    made = plan(JOB, SHELF)
    boat, changes = JOB.boat, dict(made.changes)
    transom = made.zone("z2")
    cut = transom.patch.cut.region.centroid
    x0, _, x1, _ = transom.patch.cut.region.envelope.bounds
    there = changes[transom.zone.name]
    assert there.x == 0 and there.mass == pytest.approx(transom.by_id["weight.net"].value) and x0 < x1
    width = max(p[0] for p in transom.zone.outline) + min(p[0] for p in transom.zone.outline)
    assert there.y == pytest.approx(width / 2 - cut.x)
    hull = changes[JOB.zone("z4").name]
    assert hull.y == pytest.approx(-SHARES["hull panel"] * boat.beam.si)
    low = min(p[0] for p in JOB.zone("z4").outline)
    assert hull.x == pytest.approx(7.3 + made.zone("z4").patch.cut.region.centroid.x - low)
    run = changes[JOB.zone("z3").name]
    assert 0 < run.y <= 0.22 * boat.beam.si + 1e-9, "where it is drawn"
    whole = afloat(boat, tuple(changes.values()), SHELF)
    plane = waterplane(boat.waterline.si, 0.9 * boat.beam.si, 0.85, 0.45, 2)
    assert made.by_id["job.trim.sinkage"].value == pytest.approx(whole.mass / 1000 / plane.area)
    assert whole.mass == pytest.approx(made.by_id["job.weight.net"].value)
    assert made.by_id["job.trim.heel"].value == pytest.approx(whole.heel)
    assert made.afloat_in("metric") == afloat_words(whole, "metric") and "er, floats" in made.afloat_in("us")


def test_words_say_where_and_which_way_and_leave_out_what_is_nothing():
    words = afloat_words(Floating(3, 1, 0.1, 1e-4, 0.0012, -0.0004, -0.03), "metric")
    assert words == (
        "She is 3.00 kg heavier, floats 1.2 mm deeper at the transom, floats 0.40 mm higher at the stem and heels 0.03° "
        "to starboard."
    )
    assert afloat_words(Floating(-3, 1, 0, 0, 0, 0, 0.001), "metric") == "She is 3.00 kg lighter."
    assert "cannot be told" in afloat_words(Floating(1, 1, 0, 0, 0, 0, None), "metric")


def test_a_zone_without_a_cut_counts_at_its_middle_and_a_job_that_changes_nothing_says_nothing():
    zone = JOB.zone("z1")
    bare = plan(evolve(JOB, zones=(evolve(zone, survey=evolve(zone.survey, readings=(), references=())),)), SHELF)
    made = bare.zone("z1")
    assert made.patch.cut.region.is_empty
    at = changed_at(made.zone, made.patch, JOB.boat, 5.0)
    xs = [p[0] for p in zone.outline]
    assert zone.place.station.si < at.x < zone.place.station.si + max(xs) - min(xs)
    empty = plan(evolve(JOB, zones=()), SHELF)
    assert empty.afloat_in("metric") == "" and "job.trim.sinkage" not in empty.by_id
