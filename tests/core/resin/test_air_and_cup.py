"""Dew point and time-temperature against published figures; cups against their own stated rule."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.resin.air import dew_point
from ribpatch.core.resin.cup import cups_for, largest_cup, pot_life, time_factor, working_time


@pytest.mark.parametrize(
    ("t", "rh", "dew"),
    [(20, 0.50, 9.3), (25, 0.60, 16.7), (10, 0.80, 6.7), (30, 0.70, 23.9), (15, 1.0, 15.0), (5, 0.4, -7.4)],
)
def test_dew_point_matches_psychrometric_tables(t, rh, dew):
    assert dew_point(t, rh) == pytest.approx(dew, abs=0.15)


@pytest.mark.parametrize(("t", "rh"), [(70, 0.5), (-50, 0.5), (20, 0), (20, 1.1)])
def test_dew_point_refuses_what_it_cannot_know(t, rh):
    with pytest.raises(ValueError):
        dew_point(t, rh)


@given(st.floats(-20, 50), st.floats(0.05, 0.99))
def test_dew_point_is_never_above_the_air(t, rh):
    assert dew_point(t, rh) <= t + 1e-9


@pytest.mark.parametrize(("t", "factor"), [(10, 3.24), (15, 2.16), (20, 1.46), (25, 1.0), (30, 0.69)])
def test_arrhenius_factors_at_55_kj(t, factor):
    assert time_factor(t, 55_000) == pytest.approx(factor, abs=0.011)


def test_pot_life_of_the_stated_mass_at_25_is_as_stated(shelf):
    resin = shelf.resin("epoxy-5-1-slow")
    assert pot_life(resin.pot_mass, 25, resin, 1 / 3) == pytest.approx(resin.pot_life)
    assert pot_life(8 * resin.pot_mass, 25, resin, 1 / 3) == pytest.approx(resin.pot_life / 2)


@given(st.floats(-5, 40))
def test_the_largest_cup_keeps_its_margin_and_a_larger_one_would_not(t):
    from ribpatch.library.shelf import shipped_shelf

    shelf = shipped_shelf()
    resin = shelf.resin("epoxy-5-1-fast")
    mass, limited = largest_cup(t, resin, shelf)
    exponent, margin = shelf.rule("cup.exponent"), shelf.rule("cup.margin")
    if limited == "pot life":
        assert pot_life(mass, t, resin, exponent) >= margin * working_time(mass, shelf) - 1e-6
        assert pot_life(mass + 0.011, t, resin, exponent) < margin * working_time(mass + 0.011, shelf)
    else:
        assert mass in (shelf.rule("cup.most"), shelf.rule("cup.least"))


@given(st.floats(0.01, 30), st.floats(5, 35))
def test_cups_hold_what_is_needed_and_no_cup_is_too_large(net, t):
    from ribpatch.library.shelf import shipped_shelf

    shelf = shipped_shelf()
    cups = cups_for(net, t, shelf.resin("epoxy-5-1-slow"), shelf)
    assert cups.each <= cups.largest + 1e-9
    left = cups.total - cups.count * shelf.rule("loss.cup")
    assert left == pytest.approx(net * 1.08)


def test_no_resin_needs_no_cups(shelf):
    assert cups_for(0, 20, shelf.resin("vinylester"), shelf).count == 0
