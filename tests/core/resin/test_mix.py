"""What a mix weighs, by sums of mass and volume."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.strategies import SHELF

from ribpatch.core.resin.mix import filled, mixed_density, volume_parts


def test_two_liquids_by_hand():
    # 100 kg of 1,160 and 20 kg of 1,000 kg/m3: 120 kg in 0.0862 + 0.02 m3.
    assert mixed_density((100, 20), (1160, 1000)) == pytest.approx(120 / (100 / 1160 + 20 / 1000))
    assert volume_parts((5.8, 1), (1160, 1000)) == pytest.approx((5.0, 1.0))


@pytest.mark.parametrize("resin", [r for r in SHELF.resins if r.family == "epoxy"], ids=lambda r: r.id)
def test_shipped_parts_by_volume_are_those_by_mass(resin):
    parts = volume_parts(resin.mass_parts, (resin.resin_density, resin.hardener_density))
    wanted = [v / resin.volume_parts[1] for v in resin.volume_parts]
    assert parts == pytest.approx(wanted, rel=0.03)


@pytest.mark.parametrize("putty", [p for p in SHELF.putties if p.filler_bulk], ids=lambda p: p.id)
def test_shipped_putties_weigh_what_their_parts_do(putty):
    made = filled(1150.0, putty.filler_volumes, putty.filler_bulk, putty.filler_true)
    assert made.density == pytest.approx(putty.density, rel=0.01)
    assert made.resin_share == pytest.approx(putty.resin_share, abs=0.005)


@given(st.floats(800, 1500), st.floats(0.05, 5), st.floats(20, 1500), st.floats(1.0, 10))
def test_mass_and_volume_are_kept(resin, volumes, bulk, solid):
    made = filled(resin, volumes, bulk, bulk * solid)
    filler = volumes * bulk
    assert made.density * made.volume == pytest.approx(resin + filler)
    assert made.resin_share * (resin + filler) == pytest.approx(resin)
    assert made.volume == pytest.approx(1 + volumes / solid)
