"""Ply thickness and resin against published figures and volume balance."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.job import Skin
from ribpatch.core.laminate.ply import cured_thickness, ply_of, resin_in
from ribpatch.core.laminate.stack import plies_for, skin_thickness, skin_weight, stack_up
from ribpatch.core.scheme import StackLine
from ribpatch.core.units import Measure


def test_published_mat_ply():
    """300 g/m2 mat at a fibre mass fraction of 0.30 in polyester is about 0.70 mm thick and holds 700 g/m2 of resin."""
    assert cured_thickness(0.3, 0.30, 2560, 1200) == pytest.approx(0.70e-3, abs=0.01e-3)
    assert resin_in(0.3, 0.30) == pytest.approx(0.7)


@given(st.floats(0.05, 3), st.floats(0.11, 0.79), st.floats(1200, 2700), st.floats(1000, 1400), st.floats(0, 0.2))
def test_thickness_is_the_volume_of_what_is_in_it(w, psi, fibre, resin, voids):
    t = cured_thickness(w, psi, fibre, resin, voids)
    solid = w / fibre + resin_in(w, psi) / resin
    assert t * (1 - voids) == pytest.approx(solid, rel=1e-9)


@given(st.floats(0.11, 0.78), st.floats(0.001, 0.01))
def test_more_fibre_makes_a_thinner_ply(psi, more):
    assert cured_thickness(0.45, psi + more, 2560, 1150) < cured_thickness(0.45, psi, 2560, 1150)


@pytest.mark.parametrize("psi", [0.1, 0.8, 0.0, 1.0, -1])
def test_impossible_fractions_are_refused(psi):
    with pytest.raises(ValueError, match="outside"):
        cured_thickness(0.3, psi, 2560, 1200)


def test_a_fabric_with_mat_is_the_sum_of_its_layers(shelf):
    whole = ply_of(shelf.fabric("biax-45-600-mat-225"), 1150, "hand", shelf)
    parts = [ply_of(shelf.fabric(f), 1150, "hand", shelf) for f in ("biax-45-600", "mat-225")]
    assert whole.thickness == pytest.approx(sum(p.thickness for p in parts))
    assert whole.resin == pytest.approx(sum(p.resin for p in parts))
    assert whole.weight == pytest.approx(whole.fibre / whole.fibre_fraction)


def test_a_bag_makes_a_thinner_ply_than_the_hand(shelf):
    fabric = shelf.fabric("biax-45-600")
    assert ply_of(fabric, 1150, "infusion", shelf).thickness < ply_of(fabric, 1150, "bag", shelf).thickness
    assert ply_of(fabric, 1150, "bag", shelf).thickness < ply_of(fabric, 1150, "hand", shelf).thickness


@pytest.mark.parametrize(
    ("thickness", "ply", "count"),
    [(4e-3, 1e-3, 4), (4.01e-3, 1e-3, 5), (4.0005e-3, 1e-3, 4), (0, 1e-3, 0), (1e-4, 1e-3, 1)],
)
def test_plies_for_a_thickness_round_up(thickness, ply, count):
    assert plies_for(thickness, ply) == count


@given(st.floats(1e-4, 0.05), st.floats(1e-4, 3e-3))
def test_plies_reach_the_thickness_and_one_fewer_does_not(thickness, ply):
    n = plies_for(thickness, ply)
    assert n * ply >= thickness - 1e-6 - 1e-12
    assert (n - 1) * ply < thickness


def test_plies_of_no_thickness_are_refused():
    with pytest.raises(ValueError):
        plies_for(1e-3, 0)


def test_stack_counts_and_numbers_plies(shelf):
    stack = stack_up(
        (StackLine(fabric="mat-300", count=2), StackLine(fabric="woven-600")), "polyester-ortho", "hand", shelf
    )
    assert [laid.number for laid in stack.plies] == [1, 2, 3]
    assert stack.tops[-1] == pytest.approx(stack.thickness)


def test_old_skin_by_thickness_or_by_plies(shelf):
    measured = Skin(thickness=Measure(si=0.004, typed="4 mm"))
    counted = Skin(plies=(StackLine(fabric="mat-450", count=3),))
    assert skin_thickness(measured, shelf) == 0.004
    assert skin_weight(measured, shelf) == pytest.approx(6.0)
    assert skin_thickness(counted, shelf) == pytest.approx(3 * cured_thickness(0.45, 0.30, 2560, 1200))
    assert skin_weight(counted, shelf) == pytest.approx(3 * 0.45 / 0.30)
