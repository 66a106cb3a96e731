"""The bond along a scarf against closed forms and the limits that independent trials showed."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.patch.bond import (
    Glue,
    Scarf,
    bond_curve,
    bond_use,
    lap_shear,
    mean_stresses,
    ratio_for,
    shear_lag_peak,
)

GLUE = Glue(shear=12e6, peel=7e6, modulus=1.14e9, layer=0.0002)
RATIOS = np.array([5.0, 8.0, 12.0, 20.0, 40.0])


def scarf(new=11e9, stress=66e6, steps=0):
    return Scarf(old=11e9, new=new, thickness=0.004, stress=stress, steps=steps)


def test_mean_stresses_are_those_on_an_inclined_plane():
    """At R = 1 (45 degrees) shear and peel are both half the stress; at R = 12 shear is s 12/145, peel s/145."""
    shear, peel = mean_stresses(np.array([1.0, 12.0]), 100.0)
    assert shear == pytest.approx([50, 100 * 12 / 145]) and peel == pytest.approx([50, 100 / 145])


def test_forces_on_the_slope_balance_the_pull():
    """Shear and peel over the slope's length add up, along the joint, to stress times thickness."""
    shear, peel = mean_stresses(RATIOS, 50e6)
    angle = np.arctan(1 / RATIOS)
    slope = 0.004 / np.sin(angle)
    assert slope * (shear * np.cos(angle) + peel * np.sin(angle)) == pytest.approx(np.full(5, 50e6 * 0.004))


def test_use_of_the_bond_combines_both_shares():
    assert bond_use(np.array([12e6]), np.array([0.0]), GLUE) == pytest.approx([1.0])
    assert bond_use(np.array([12e6]), np.array([7e6]), GLUE) == pytest.approx([2**0.5])


@pytest.mark.parametrize(("length", "layer"), [(0.02, 0.0002), (0.05, 0.0005), (0.1, 0.001)])
def test_a_plain_lap_has_the_closed_form_peak(length, layer):
    """[19]: like adherends of constant thickness: peak over mean is (w L / 2) coth(w L / 2), w2 = 2 G / (ta E t)."""
    e, t = 20e9, 0.003
    glue = Glue(12e6, 7e6, 1.1e9, layer)
    flat = np.full(2001, 1 / (e * t))
    shear = lap_shear(np.array([length]), flat, flat, glue.layer, glue.modulus)[0]
    half = np.sqrt(2 * glue.modulus / (layer * e * t)) * length / 2
    assert shear.max() * length == pytest.approx(half / np.tanh(half), rel=0.03)
    assert shear.sum() * length / 2000 == pytest.approx(1.0)
    assert shear == pytest.approx(shear[::-1], rel=1e-6)


def test_a_scarf_of_like_moduli_is_evenly_loaded():
    assert shear_lag_peak(RATIOS, scarf(), GLUE) == pytest.approx(np.ones(5), abs=0.02)


@pytest.mark.parametrize(("times", "low", "high"), [(2, 1.7, 2.5), (4, 2.5, 5.0)])
def test_unlike_moduli_peak_within_the_range_that_trials_showed(times, low, high):
    peaks = shear_lag_peak(RATIOS, scarf(new=11e9 * times), GLUE)
    assert (peaks > low).all() and (peaks < high).all()
    assert (np.diff(peaks) > 0).all()
    assert peaks[-1] < times and shear_lag_peak(np.array([400.0]), scarf(new=11e9 * times), GLUE)[0] == pytest.approx(
        times, rel=0.05
    )


@given(st.floats(0.25, 4.0), st.floats(4, 30))
def test_swapping_old_and_new_changes_nothing(times, ratio):
    a = shear_lag_peak(np.array([ratio]), Scarf(11e9, 11e9 * times, 0.004, 1.0), GLUE)
    b = shear_lag_peak(np.array([ratio]), Scarf(11e9 * times, 11e9, 0.004, 1.0), GLUE)
    assert a == pytest.approx(b, rel=1e-6)


def test_a_stepped_joint_peaks_at_its_steps():
    ground, stepped = (shear_lag_peak(np.array([12.0]), scarf(steps=n), GLUE)[0] for n in (0, 6))
    assert stepped > 5 * ground


@given(st.floats(1.0, 6.0), st.floats(20e6, 150e6))
def test_the_ratio_for_a_factor_gives_that_factor(factor, stress):
    joint = scarf(stress=stress)
    ratio = ratio_for(factor, joint, GLUE)
    if np.isfinite(ratio):
        assert bond_curve(np.array([ratio]), joint, GLUE).used[0] * factor == pytest.approx(1.0, rel=1e-3)
    else:
        assert bond_curve(np.array([100.0]), joint, GLUE).used[0] * factor > 1


def test_a_ratio_out_of_reach_is_infinite():
    assert ratio_for(20, scarf(stress=150e6), Glue(1e6, 1e6, 1e9, 2e-4)) == float("inf")


@given(st.floats(3, 40), st.floats(0.1, 20))
def test_a_longer_taper_never_uses_more_of_the_bond(ratio, more):
    curve = bond_curve(np.array([ratio, ratio + more]), scarf(), GLUE)
    assert curve.used[1] <= curve.used[0]
