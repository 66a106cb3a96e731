"""Scantlings: the printed formulas by hand, limits of factors, and what a change of the boat asks."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.bed import bed_job as demo_job

from ribpatch.core.structure.pressure import (
    BoatSize,
    along_factor,
    area_factor,
    aspect_factor,
    design_pressure,
    flexural_strength,
    plate_thickness,
)
from ribpatch.core.structure.scantlings import Change, applies, becomes_light, changed_size, scantlings

BOAT = demo_job().boat
SIZE = BoatSize(9.6, 8.7, 2.9, 1.3, 3400, "D")


def test_the_empirical_number_by_hand() -> None:
    sn = 9.6 * 2.9 * 1.3 / 28.32
    assert SIZE.number == pytest.approx(sn) == pytest.approx(1.278, abs=1e-3)
    dlr = 3400 / 1016.0469 / (0.01 * 8.7 / 0.3048) ** 3
    assert SIZE.heavy == pytest.approx(dlr)
    factor = max(1.0, 0.89 + dlr / 2500)
    rows = {s.key: s for s in scantlings(SIZE, (1.0, 0.5), 0.3)}
    assert rows["bottom"].empirical == pytest.approx(6.35e-3 * sn ** (1 / 3) * factor)
    assert rows["transom"].empirical == pytest.approx(1.25 * rows["bottom"].empirical)
    assert rows["chain-plates"].empirical == pytest.approx(1.3 * rows["bottom"].empirical)
    assert rows["stringer"].empirical == pytest.approx(79.2e-3 * sn**0.28)
    assert rows["stringer-laminate"].empirical == pytest.approx(4.32e-3 * sn**0.38)
    assert rows["bulkhead"].empirical == pytest.approx(11.4e-3 * sn**0.3)
    assert rows["pad"].empirical == pytest.approx(8 * rows["bulkhead"].empirical)
    assert rows["frame"].empirical == pytest.approx(78.7e-3 * sn**0.3)


def test_a_heavy_boat_gets_more_and_a_light_one_not_less() -> None:
    heavy = BoatSize(9.6, 8.0, 2.9, 1.3, 9000)
    light = BoatSize(9.6, 8.0, 2.9, 1.3, 1500)
    assert heavy.factor == pytest.approx(0.89 + heavy.heavy / 2500) and heavy.factor > 1
    assert light.factor == 1.0


def test_pressure_by_hand() -> None:
    """Bottom of the demo boat, panel of 1.0 by 0.5 m well forward: every factor worked with a pencil."""
    k_ar = (1.5 - 3e-4 * 500) * 0.1 * 3400**0.15 / 0.5**0.3
    base = 2400 * 3400**0.33 + 20_000
    made = design_pressure(SIZE, "bottom", (1.0, 0.5), 7.0, 0.2)
    assert made.area == pytest.approx(k_ar, rel=1e-9)
    least = 450 * 3400**0.33 + 900 * 8.7 * 0.4
    assert made.value == pytest.approx(max(base * 0.4 * k_ar, least))
    assert design_pressure(SIZE, "deck", (1.0, 0.5), 7.0, 1.3).value == pytest.approx(
        max((350 * 8.7 + 14_600) * 0.4 * k_ar, 5000)
    )


@given(st.floats(0.05, 5), st.floats(0.05, 5), st.floats(50, 50_000))
def test_factors_stay_within_their_limits(a: float, b: float, mass: float) -> None:
    assert 0.25 <= area_factor(a, b, mass) <= 1
    assert area_factor(a, b, mass) == area_factor(b, a, mass)
    assert 0.308 <= aspect_factor(a, b) <= 0.5
    assert 0.5 <= along_factor(a / 5) <= 1


def test_printed_values_of_the_panel_rule() -> None:
    assert aspect_factor(1, 1) == pytest.approx(0.308, abs=1e-3)
    assert aspect_factor(2.5, 1) == 0.5
    assert flexural_strength(0.3) == pytest.approx(152.2e6, rel=1e-3)
    t = plate_thickness(0.5, 10_000, 0.5, 152e6)
    assert t == pytest.approx(0.5 * (10_000 * 0.5 / 76e6) ** 0.5)


def test_a_higher_side_is_pressed_less_than_the_bottom_and_more_than_the_deck() -> None:
    values = [design_pressure(SIZE, area, (1.0, 0.5), 7.0, 0.6).value for area in ("bottom", "side", "deck")]  # type: ignore[arg-type]  # areas
    assert values == sorted(values, reverse=True)
    low, high = (design_pressure(SIZE, "side", (1.0, 0.5), 7.0, h).value for h in (0.4, 1.2))
    assert low > high


def test_what_if_names_what_becomes_too_light_with_what_to_add() -> None:
    longer = becomes_light(BOAT, Change(length=1.0), (1.0, 0.5), 0.3, 0.0)
    assert {"bottom", "stringer", "frame", "keel"} <= {r.key for r in longer}
    assert all(r.add == pytest.approx(r.then - r.now) and r.add > 0 for r in longer)
    assert all(r.reach is None or r.reach > r.add for r in longer)
    assert [r.add for r in longer] == sorted((r.add for r in longer), reverse=True)
    assert becomes_light(BOAT, Change(), (1.0, 0.5), 0.3, 0.0) == ()
    heavier = becomes_light(BOAT, Change(displacement=9000.0), (1.0, 0.5), 0.3, 0.0)
    assert "bottom" in {r.key for r in heavier} and "stringer" not in {r.key for r in heavier}
    power = becomes_light(BOAT, Change(power=160e3), (1.0, 0.5), 0.3, 80e3)
    assert [r.key for r in power] == ["transom"] and power[0].then / power[0].now == pytest.approx(2**0.5)
    assert "chain-plates" in {r.key for r in becomes_light(BOAT, Change(chain_plates=True), (1.0, 0.5), 0.3, 0.0)}


def test_an_extension_carries_the_waterline_and_says_where_rules_end() -> None:
    assert changed_size(SIZE, Change(length=1.2)).waterline == pytest.approx(9.9)
    assert applies(BOAT) == ""
    from ribpatch.core.record import evolve
    from ribpatch.core.units import usual

    small = evolve(BOAT, length=usual(1.6), waterline=usual(1.5), beam=usual(0.5), depth=usual(0.2), category=None)
    assert "0.2 to 250" in applies(small) and "2.5 to 24" in applies(small) and "C is taken" in applies(small)
