"""Dew point and time-temperature against published figures; cups against their own stated limits."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.record import evolve
from ribpatch.core.resin.air import dew_point
from ribpatch.core.resin.cup import (
    PEAK,
    STIRRED,
    TOO_COLD,
    TOO_HOT,
    TOO_SHORT,
    WORKING,
    Mixing,
    at_mass,
    cups_for,
    largest_cup,
    needed_time,
)
from ribpatch.core.resin.cure import time_factor
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()


def with_rules(values):
    rules = tuple(evolve(r, value=values[r.id]) if r.id in values else r for r in SHELF.rules)
    return Shelf(**{**{f: getattr(SHELF, f) for f in SHELF.__struct_fields__}, "rules": rules})


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


@given(
    st.floats(5, 40), st.sampled_from(["cup", "tray", "pan"]), st.sampled_from(["epoxy-5-1-fast", "polyester-ortho"])
)
@settings(max_examples=40, deadline=None)
def test_the_largest_cup_keeps_its_margin_and_a_larger_one_would_not(t, vessel, name):
    resin, mixing = SHELF.resin(name), Mixing(vessel, t, t)
    mass, limited = largest_cup(resin, mixing, SHELF)
    margin = SHELF.rule("cup.margin")
    if limited == WORKING:
        assert at_mass(resin, mass, mixing, SHELF)[0] >= 0.998 * margin * needed_time(mass, SHELF)
        more = mass + 0.011
        assert at_mass(resin, more, mixing, SHELF)[0] < 1.002 * margin * needed_time(more, SHELF)
    else:
        assert mass == SHELF.rule("cup.most" if limited in (STIRRED, TOO_COLD) else "cup.least")
        if limited == TOO_SHORT:
            assert at_mass(resin, mass, mixing, SHELF)[0] < 1.002 * margin * needed_time(mass, SHELF)


def test_a_lower_limit_of_warmth_makes_cups_smaller_and_a_tray_takes_more():
    resin, cool = SHELF.resin("epoxy-2-1-slow"), with_rules({"cup.peak": 110.0})
    cup, tray = (largest_cup(resin, Mixing(v, 20, 20), cool) for v in ("cup", "tray"))
    assert cup[1] == PEAK and cup[0] < tray[0]
    hottest = [at_mass(resin, cup[0] + more, Mixing("cup", 20, 20), cool)[1] for more in (0.0, 0.011)]
    assert hottest[0] <= 110.8 and hottest[1] > 109.5
    assert largest_cup(resin, Mixing("cup", 20, 20), with_rules({"cup.peak": 30.0})) == (0.05, TOO_HOT)


def test_two_who_lay_may_mix_more_at_a_time_and_warm_cans_less():
    resin = SHELF.resin("epoxy-5-1-fast")
    alone = largest_cup(resin, Mixing("cup", 25, 25), SHELF)[0]
    assert largest_cup(resin, Mixing("cup", 25, 25), with_rules({"cup.people": 2.0}))[0] > 1.3 * alone
    assert (
        largest_cup(resin, Mixing("cup", 30, 25), SHELF)[0]
        < alone
        < largest_cup(resin, Mixing("cup", 20, 25), SHELF)[0]
    )
    assert needed_time(0.2, SHELF) == pytest.approx(180 + 0.2 / 0.04 * 60)


@given(st.floats(0.01, 30), st.floats(5, 35))
@settings(deadline=None)
def test_cups_hold_what_is_needed_and_no_cup_is_too_large(net, t):
    cups = cups_for(net, SHELF.resin("epoxy-5-1-slow"), Mixing("cup", t, t), SHELF)
    assert cups.each <= cups.largest + 1e-9
    left = cups.total - cups.count * SHELF.rule("loss.cup")
    assert left == pytest.approx(net * 1.08) and cups.every == pytest.approx(180 + cups.each * 1500)


def test_working_time_and_peak_of_each_cup_are_those_of_its_mass():
    resin, mixing = SHELF.resin("epoxy-5-1-slow"), Mixing("cup", 22, 19)
    for net in (0.02, 0.7, 5.0):
        cups = cups_for(net, resin, mixing, SHELF)
        time, peak = at_mass(resin, cups.each, mixing, SHELF)
        assert cups.working == pytest.approx(time, rel=3e-3) and cups.peak == pytest.approx(peak, abs=0.7)


def test_no_resin_needs_no_cups():
    assert cups_for(0, SHELF.resin("vinylester"), Mixing("cup", 20, 20), SHELF).count == 0


def test_below_the_stated_least_temperature_nothing_is_foretold():
    resin = SHELF.resin("epoxy-5-1-slow")
    least = resin.least_temperature
    for mixed, air, known in ((least, least, True), (least, least - 0.1, False), (least - 0.1, least, False)):
        cups = cups_for(3.0, resin, Mixing("cup", mixed, air), SHELF)
        assert (cups.working is not None) is (cups.peak is not None) is known
        assert (
            cups.count >= 6 and ("none is foretold" in cups.limited or "no working time" in cups.limited) is not known
        )


def test_a_cold_shed_shows_no_working_time_and_says_so(job, shelf):
    from ribpatch.core.plan import plan
    from ribpatch.core.record import evolve
    from ribpatch.core.units import Measure

    cold = evolve(job, air=evolve(job.air, temperature=Measure(si=8.0)))
    made = plan(cold, shelf)
    assert "z1.cup.working" not in made.by_id and made.by_id["z1.cup.count"].value > 0
    (notice,) = [n for n in made.notices if n.id == "z1.cold"]
    assert notice.grave and "no working time or cure is predicted" in notice.text


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
