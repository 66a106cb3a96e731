"""The search for schedules: exact against brute force, and never a stack outside its own limits."""

from itertools import product

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.strategies import SHELF

from ribpatch.core.job import Skin
from ribpatch.core.laminate.layup import Layup, layup_of
from ribpatch.core.laminate.original import skin_layup
from ribpatch.core.laminate.search import Limits, Stopped, search
from ribpatch.core.laminate.stack import stack_up
from ribpatch.core.laminate.suggest import cloths_of, proposed, stack_key, table_of, usable
from ribpatch.core.units import Measure

RESIN = "epoxy-5-1-slow"


def cloths(*ids):
    return cloths_of(tuple(SHELF.fabric(i) for i in ids), RESIN, "hand", SHELF)


def old(millimetres):
    return skin_layup(Skin(thickness=Measure(si=millimetres / 1000)), 1998, SHELF)


def evaluated(lines):
    return layup_of(stack_up(lines, RESIN, "hand", SHELF), SHELF.resin(RESIN), SHELF)


def ratios(layup: Layup, goal: Layup):
    a = np.diagonal(layup.plate.A)[:2] / np.diagonal(goal.plate.A)[:2]
    return a, layup.plate.bending / goal.plate.bending


def test_it_finds_what_trying_every_sequence_finds():
    """All 3^1 to 3^6 sequences of three cloths, evaluated one by one, give the same lightest stacks."""
    choice, goal = cloths("woven-600", "biax-45-450", "biax-090-600"), old(3.0)
    limits = Limits(0.003, 0.00375, 1.0, 1.25, plies=6)
    best = {}
    for n in range(1, 7):
        for order in product(range(3), repeat=n):
            layup = Layup(tuple(s for i in order for s in choice[i].sheets))
            if not limits.thin <= layup.thickness <= limits.thick:
                continue
            a, d = ratios(layup, goal)
            if (a >= 1).all() and (a <= 1.25).all() and (d >= 1).all() and (d <= 1.25).all():
                counts = tuple(order.count(i) for i in range(3))
                best[counts] = sum(choice[i].weight for i in order)
    found = search(choice, goal, limits, wanted=50)
    assert len(found) == len(best) > 3
    assert sorted(best.values()) == pytest.approx([f.weight for f in found])


@given(
    st.sampled_from([2.0, 3.0, 5.0, 7.0]), st.floats(0.8, 1.1), st.floats(1.15, 1.6), st.integers(3, 10), st.integers(1, 3),
    st.booleans(),
)  # fmt: skip
def test_no_stack_breaks_its_own_limits(thick, least, most, plies, different, symmetric):
    goal = old(thick)
    limits = Limits(thick / 1000, thick / 1000 * 1.25, least, most, plies, different, 0.1, symmetric)
    for found in search(cloths("woven-800", "biax-45-600", "biax-090-450", "uni-300"), goal, limits, wanted=6):
        layup = evaluated(found.lines)
        a, d = ratios(layup, goal)
        assert limits.thin <= layup.thickness <= limits.thick
        assert (a >= least - 1e-9).all() and (a <= most + 1e-9).all()
        assert (d >= least - 1e-9).all() and (d <= most + 1e-9).all()
        assert sum(line.count for line in found.lines) == found.plies <= plies
        assert len({(line.fabric, line.angle) for line in found.lines}) <= different
        assert found.pull <= 0.1
        if symmetric:
            names = [(line.fabric, line.angle) for line in found.lines for _ in range(line.count)]
            assert names == names[::-1]


def test_lightest_first_and_then_fewest_plies():
    found = search(
        cloths("woven-800", "biax-45-450", "biax-090-450", "biax-090-600"), old(4.0), Limits(0.004, 0.005, 1.0, 1.25)
    )
    weights = [round(f.weight, 6) for f in found]
    assert weights == sorted(weights) and len(found) >= 5


def test_nothing_where_nothing_keeps_the_limits():
    assert search(cloths("uni-300"), old(4.0), Limits(0.004, 0.005, 1.0, 1.25)) == ()
    assert search((), old(4.0), Limits(0.004, 0.005, 1.0, 1.25)) == ()


def test_it_can_be_stopped():
    with pytest.raises(Stopped):
        search(cloths("woven-800", "biax-45-600"), old(4.0), Limits(0.004, 0.005, 1.0, 1.25), go_on=lambda share: False)


def test_the_shelf_proposes_what_suits_the_resin():
    epoxy, polyester = (usable(SHELF, r, False, "hand") for r in (RESIN, "polyester-ortho"))
    assert not any(layer.kind == "mat" for f in epoxy for layer in f.layers)
    assert any(layer.kind == "mat" for f in polyester for layer in f.layers)
    light = usable(SHELF, RESIN, True, "hand")
    assert {f.id for f in light} < {f.id for f in epoxy} and "biax-45-800" not in {f.id for f in light}
    chosen = proposed(("uni-300",), (), epoxy)
    assert chosen[0] == "uni-300" and len(chosen) == len(set(chosen)) == 8


def test_the_table_tells_the_limits_and_the_stack_in_use():
    limits = Limits(0.004, 0.005, 1.0, 1.25)
    found = search(cloths("woven-800", "biax-45-450", "biax-090-450"), old(4.0), limits)
    now = stack_key(found[1].lines)
    table = table_of(found, limits, SHELF, "z1", now)
    assert [row.mark for row in table.rows[:2]] == ["", "chosen"] and "4.0 mm to 5.0 mm" in table.note
    assert table.rows[0].cells[3].value == pytest.approx(found[0].weight)


def test_suggestions_come_lightest_first_then_fewest_plies_then_cheapest():
    limits = Limits(0.003, 0.00375, 0.9, 1.3, plies=6)
    found = search(cloths("woven-600", "biax-45-450", "biax-090-600", "biax-45-600"), old(3.0), limits, wanted=50)
    keys = [(round(f.weight, 6), f.plies, round(f.price, 6)) for f in found]
    assert len(found) > 8 and keys == sorted(keys) and len({k[1] for k in keys}) > 1
