"""Stacks as typed: what is understood, what is refused, and reading back what was written."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.strategies import SHELF, lines

from ribpatch.core.errors import ImpossibleCoupon, UnreadableStack
from ribpatch.core.job import Skin
from ribpatch.core.laminate.ply import coupon_fibre_fraction, layer_fibre_fraction, ply_of
from ribpatch.core.laminate.stack import skin_thickness, stack_up
from ribpatch.core.laminate.stack_text import stack_from_text, text_of
from ribpatch.core.materials.records import Coupon
from ribpatch.core.materials.shelf import merged
from ribpatch.core.record import evolve
from ribpatch.core.scheme import Repeat, StackLine, unrolled
from ribpatch.core.units import Measure


def test_counts_fabrics_angles_and_sub_stacks():
    stack = stack_from_text("2 x biax 45 600, 3 x (mat 300, 0/90 600); light 200 @ 45", SHELF)
    assert stack[0] == StackLine(fabric="biax-45-600", count=2)
    assert stack[1] == Repeat(times=3, lines=(StackLine(fabric="mat-300"), StackLine(fabric="biax-090-600")))
    assert stack[2] == StackLine(fabric="woven-200", angle=45)
    assert len(unrolled(stack)) == 8


def test_a_repeat_is_as_thick_as_what_it_writes_out():
    stack = stack_from_text("3 x (mat 300, woven 600)", SHELF)
    whole = stack_up(stack, "polyester-ortho", "hand", SHELF)
    one = stack_up(stack[0].lines, "polyester-ortho", "hand", SHELF)
    assert whole.thickness == pytest.approx(3 * one.thickness) and len(whole.plies) == 6


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("2 x nothing such", "no fabric on the shelf"), ("biax 600", "it may be"), ("3 x (mat 300", "bracket"), ("(mat 300)", "brackets go with a count"),
        ("0 x mat 300", "count is 1"), ("99 x mat 300", "count is 1"), ("mat 300 @ 120", "angle is from"), ("0 x (mat 300)", "repeats 1 to"),
        ("2 x ()", "holds plies"), ("mat 300) 2", "bracket"),
    ],
)  # fmt: skip
def test_what_cannot_be_read_is_told_with_the_text(text, says):
    with pytest.raises(UnreadableStack) as fault:
        stack_from_text(text, SHELF)
    assert says in fault.value.sentence


def test_no_text_is_no_ply():
    assert stack_from_text("  ", SHELF) == ()


whole_angles = lines.map(lambda line: evolve(line, angle=float(round(line.angle))))
groups = st.builds(Repeat, times=st.integers(1, 5), lines=st.lists(whole_angles, min_size=1, max_size=3).map(tuple))


@given(st.lists(st.one_of(whole_angles, groups), max_size=5).map(tuple))
def test_reading_back_what_is_shown_gives_the_same_stack(stack):
    assert stack_from_text(text_of(stack), SHELF) == stack


# ---- coupons ----


def coupon(fabric="biax-45-600", plies=4, millimetres=2.6, process="hand"):
    return Coupon(
        id="c1", fabric=fabric, process=process, resin="epoxy-5-1-slow", plies=plies, thickness=millimetres / 1000
    )


def test_a_coupon_gives_back_the_thickness_that_was_measured():
    for fabric in ("biax-45-600", "biax-45-600-mat-225", "mat-450"):
        per_ply = ply_of(SHELF.fabric(fabric), SHELF.resin("epoxy-5-1-slow").density, "hand", SHELF).thickness * 1.1
        shelf = merged(SHELF, coupons=(coupon(fabric, 4, per_ply * 4000),))
        ply = ply_of(shelf.fabric(fabric), shelf.resin("epoxy-5-1-slow").density, "hand", shelf)
        assert ply.thickness == pytest.approx(per_ply)
        assert ply.fibre_fraction == pytest.approx(coupon_fibre_fraction(shelf.fabric(fabric), shelf.coupons[0], shelf))


def test_the_psi_of_a_coupon_by_hand():
    """600 g/m2 glass at 0.7 mm: resin volume 0.7 - 0.6/2.56 = 0.4656 L/m2 at 1.15 kg/L, psi = 0.6/(0.6 + 0.5355)."""
    psi = coupon_fibre_fraction(SHELF.fabric("biax-45-600"), coupon(plies=1, millimetres=0.7), SHELF)
    assert psi == pytest.approx(0.6 / (0.6 + (0.0007 - 0.6 / 2560) * 1150), rel=1e-9)


def test_a_coupon_speaks_for_its_own_fabric_and_process_only():
    shelf = merged(SHELF, coupons=(coupon(),))
    for fabric, process in (("biax-45-600", "bag"), ("biax-090-600", "hand")):
        same = ply_of(shelf.fabric(fabric), 1150, process, shelf)
        assert same.layers[0][1] == layer_fibre_fraction(same.fabric.layers[0], process, SHELF)


@pytest.mark.parametrize(
    ("millimetres", "why"), [(0.9, "thinner than its fibres"), (30.0, "nearly all of it would be resin")]
)
def test_impossible_coupons_are_refused_with_the_reason(millimetres, why):
    with pytest.raises(ImpossibleCoupon) as fault:
        coupon_fibre_fraction(SHELF.fabric("biax-45-600"), coupon(millimetres=millimetres), SHELF)
    assert why in fault.value.sentence and "Check the count" in fault.value.sentence


def test_a_burn_off_changes_the_thickness_of_counted_plies():
    plies = (StackLine(fabric="mat-450", count=3),)
    rich, dry = (skin_thickness(Skin(plies=plies, fibre_fraction=Measure(si=p)), SHELF) for p in (0.25, 0.4))
    assert rich > skin_thickness(Skin(plies=plies), SHELF) > dry
