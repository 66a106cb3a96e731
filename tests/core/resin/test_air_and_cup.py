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


def test_below_the_stated_least_temperature_nothing_is_foretold():
    from ribpatch.library.shelf import shipped_shelf

    shelf = shipped_shelf()
    resin = shelf.resin("epoxy-5-1-slow")
    for temperature, known in ((resin.least_temperature, True), (resin.least_temperature - 0.1, False)):
        cups = cups_for(3.0, temperature, resin, shelf)
        assert (
            (cups.pot_life is not None) is known
            and cups.count >= 6
            and ("no pot life is foretold" in cups.limited) is not known
        )


def test_a_cold_shed_shows_no_pot_life_and_says_so(job, shelf):
    from ribpatch.core.plan import plan
    from ribpatch.core.record import evolve
    from ribpatch.core.units import Measure

    cold = evolve(job, air=evolve(job.air, temperature=Measure(si=8.0)))
    made = plan(cold, shelf)
    assert "z1.cup.pot_life" not in made.by_id and made.by_id["z1.cup.count"].value > 0
    (notice,) = [n for n in made.notices if n.id == "z1.cold"]
    assert notice.grave and "no pot life or cure is predicted" in notice.text


def test_the_margin_over_the_dew_point_keeps_its_side_of_the_limit(job, shelf):
    from ribpatch.core.plan import plan
    from ribpatch.core.record import evolve
    from ribpatch.core.resin.air import dew_point
    from ribpatch.core.units import Measure

    dew = dew_point(16.5, 0.68)
    for margin, says in ((2.63, "2.6 K"), (2.98, "2.98 K")):
        made = plan(evolve(job, air=evolve(job.air, surface=Measure(si=dew + margin))), shelf)
        assert made.by_id["air.margin"].shown("metric") == says
        (notice,) = [n for n in made.notices if n.id.endswith("dew")]
        assert f"only {says} over" in notice.text
    us = [n for n in plan(job, shelf, "us").notices if n.id.endswith("dew")]
    assert all(" K " not in n.text and "°C" not in n.text + n.clears for n in us)
