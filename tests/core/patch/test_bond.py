"""The bond along a scarf against closed forms and the limits that independent trials showed."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.schemes import rescheme

from ribpatch.core.patch.bonding.shear_lag import (
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


def refined(levels, ratio, old, new, t, glue, cells=4000):
    """Peak over mean by plain finite differences on a mesh graded towards every step: another calculation
    altogether.
    """
    length = ratio * t
    n = len(levels)
    nodes = [0.0]
    for _ in range(n):
        half = np.geomspace(1e-7, 1.0, cells // 2)
        spread = np.concatenate([half / 2, 1 - half[::-1][1:] / 2])
        nodes += (nodes[-1] + spread * length / n).tolist()
    x = np.array(nodes)
    middle = (x[1:] + x[:-1]) / 2
    step = np.minimum((middle / length * n).astype(int), n - 1)
    c_old = np.array([1 / (old * a * t) for a, _ in levels])[step]
    c_new = np.array([1 / (new * b * t) for _, b in levels])[step]
    h, k = np.diff(x), glue.layer / glue.modulus
    low, high = k / h[:-1], k / h[1:]
    both, pull = (c_old + c_new) * h / 2, c_old * h / 2
    diagonal = low + high + both[:-1] + both[1:]
    right = pull[:-1] + pull[1:]
    right[0] += low[0]
    for i in range(1, len(diagonal)):  # elimination
        w = low[i] / diagonal[i - 1]
        diagonal[i] -= w * high[i - 1]
        right[i] += w * right[i - 1]
    force = np.zeros(len(x))
    force[0] = 1.0
    force[-2] = right[-1] / diagonal[-1]
    for i in range(len(diagonal) - 2, -1, -1):
        force[i + 1] = (right[i] + high[i] * force[i + 2]) / diagonal[i]
    return float(np.abs(np.diff(force) / h).max() * length)


@pytest.mark.parametrize("laps", [1, 3, 6])
@pytest.mark.parametrize("times", [1.0, 3.0])
@pytest.mark.parametrize("ratio", [8.0, 20.0, 40.0])
def test_a_stepped_peak_is_that_of_a_mesh_refined_at_the_steps(laps, times, ratio):
    levels = [(k / (laps + 1), 1 - k / (laps + 1)) for k in range(1, laps + 1)]
    peak = shear_lag_peak(np.array([ratio]), scarf(new=11e9 * times, steps=laps), GLUE)[0]
    assert peak == pytest.approx(refined(levels, ratio, 11e9, 11e9 * times, 0.004, GLUE), rel=0.005)


@pytest.mark.parametrize("laps", [1, 3, 6])
@pytest.mark.parametrize("ratio", [1.0, 3.0, 8.0])
def test_short_steps_in_a_soft_layer_are_those_of_the_refined_mesh_too(laps, ratio):
    """Where a step is shorter than the stress takes to die out, its two ends feel one another."""
    soft = Glue(shear=12e6, peel=7e6, modulus=0.3e9, layer=0.002)
    levels = [(k / (laps + 1), 1 - k / (laps + 1)) for k in range(1, laps + 1)]
    peak = shear_lag_peak(np.array([ratio]), scarf(new=22e9, steps=laps), soft)[0]
    assert peak == pytest.approx(refined(levels, ratio, 11e9, 22e9, 0.004, soft), rel=0.005)


@pytest.mark.parametrize("layer", [0.0002, 0.02])
def test_one_step_of_like_laminates_has_the_closed_form_peak(layer):
    """[19]: half the thickness over half of it: peak over mean is (w L / 2) coth(w L / 2), w2 = 2 G / (ta E t / 2)."""
    glue = Glue(GLUE.shear, GLUE.peel, GLUE.modulus, layer)
    half = np.sqrt(2 * GLUE.modulus / (layer * 11e9 * 0.002)) * RATIOS * 0.004 / 2
    assert shear_lag_peak(RATIOS, scarf(steps=1), glue) == pytest.approx(half / np.tanh(half), rel=1e-9)


@pytest.mark.parametrize("times", [0.25, 0.5, 2.0, 4.0])
def test_a_ground_peak_does_not_depend_on_the_mesh(times, monkeypatch):
    usual = shear_lag_peak(RATIOS, scarf(new=11e9 * times), GLUE)
    monkeypatch.setattr("ribpatch.core.patch.bonding.shear_lag.CELLS", 6400)
    assert usual == pytest.approx(shear_lag_peak(RATIOS, scarf(new=11e9 * times), GLUE), rel=0.002)


def joint_with(plies, old=None, taper=None):
    from tests.bed import bed_job as demo_job

    from ribpatch.core.plan import plan
    from ribpatch.core.record import evolve
    from ribpatch.library.shelf import shipped_shelf

    job = demo_job()
    zone = job.zone("z4")
    scheme = rescheme(zone.scheme, plies=plies, **({"taper": taper} if taper else {}))
    build = evolve(zone.build, outer=evolve(zone.build.outer, plies=old)) if old else zone.build
    return plan(evolve(job, zones=(evolve(zone, scheme=scheme, build=build),)), shipped_shelf()).zone("z4")


def test_each_direction_is_judged_by_itself_and_the_worse_is_shown():
    """A unidirectional repair of a mat laminate: far stiffer along, softer across, and no mixture of the two."""
    from ribpatch.core.scheme import StackLine

    z = joint_with((StackLine(fabric="uni-300", count=12),), (StackLine(fabric="mat-450", count=8),))
    f, along, across = z.by_id, z.joint.along, z.joint.across
    assert along.new > 2 * along.old and across.new < along.new / 2
    for way, one in (("along", along), ("across", across)):
        lone = shear_lag_peak(np.array([12.0]), one, z.joint.glue)[0]
        assert f[f"bond.peak.{way}"].value == pytest.approx(lone)
    assert f["bond.peak"].value == max(f["bond.peak.along"].value, f["bond.peak.across"].value) > 1.9
    assert f["bond.used.peak"].value == pytest.approx(max(f["bond.used.along"].value, f["bond.used.across"].value))
    turned = joint_with((StackLine(fabric="uni-300", count=12, angle=90.0),), (StackLine(fabric="mat-450", count=8),))
    assert turned.by_id["bond.peak"].value == pytest.approx(f["bond.peak"].value, rel=1e-6)


@pytest.mark.parametrize("ratio", [3.0, 12.0, 40.0])
def test_the_mean_use_of_a_joint_is_that_of_its_worse_way(ratio):
    from ribpatch.core.scheme import StackLine

    z = joint_with((StackLine(fabric="uni-300", count=12),), (StackLine(fabric="uni-300", count=12),))
    at = np.array([ratio])
    lone = [bond_curve(at, scarf, z.joint.glue).used[0] for scarf in (z.joint.along, z.joint.across)]
    assert max(lone) > 1.2 * min(lone)
    assert z.joint.used(at)[0] == pytest.approx(max(lone))


def test_a_stepped_stack_of_n_plies_laps_on_one_step_less():
    from ribpatch.core.scheme import StackLine, Taper
    from ribpatch.core.units import Measure

    taper = Taper(ratio=Measure(si=12), form="stepped")
    for count, laps in ((7, 6), (2, 1), (1, 1)):
        z = joint_with((StackLine(fabric="biax-45-800", count=count),), taper=taper)
        assert z.joint.along.steps == laps


def test_a_side_with_a_ratio_of_its_own_sets_the_bond_and_the_chosen_row():
    from ribpatch.core.patch.bonding.figures import school_table
    from ribpatch.core.scheme import StackLine, Stretch, Taper
    from ribpatch.core.units import Measure
    from ribpatch.library.shelf import shipped_shelf

    plies = (StackLine(fabric="biax-45-800", count=7),)
    own = Taper(ratio=Measure(si=12), stretches=(Stretch(facing="x+", ratio=Measure(si=5)),))
    even, sided, five = (
        joint_with(plies, taper=t) for t in (Taper(ratio=Measure(si=12)), own, Taper(ratio=Measure(si=5)))
    )
    assert sided.by_id["bond.used"].value == pytest.approx(five.by_id["bond.used"].value)
    assert sided.by_id["bond.used"].value > even.by_id["bond.used"].value

    def chosen(z):
        table = school_table(z.joint, z.patch, z.zone.scheme, z.zone.outline, shipped_shelf(), "z4")
        (row,) = [r for r in table.rows if r.mark == "chosen"]
        return row

    row = chosen(sided)
    assert row.cells[3].value == pytest.approx(sided.patch.band.region.area)
    assert row.cells[3].value < chosen(even).cells[3].value
    assert row.cells[1].value == pytest.approx(sided.by_id["bond.used"].value) and "of its own" in row.cells[0]


def test_a_ratio_fits_where_the_room_is_for_it_and_not_a_little_more():
    """Cut closer, the foredeck's locker hatch leaves room for about 9: 8 fits all round and 12 does not."""
    from tests.bed import bed_job as demo_job

    from ribpatch.core.patch.bonding.figures import school_table
    from ribpatch.core.plan import plan
    from ribpatch.core.record import evolve
    from ribpatch.core.scheme import Cut
    from ribpatch.core.units import Measure
    from ribpatch.library.shelf import shipped_shelf

    job = demo_job()
    deck = evolve(job.zone("z1"), scheme=rescheme(job.zone("z1").scheme, cut=Cut(margin=Measure(si=0.03))))
    z = plan(evolve(job, zones=(deck, *job.zones[1:])), shipped_shelf()).zone("z1")
    table = school_table(z.joint, z.patch, z.zone.scheme, z.zone.outline, shipped_shelf(), "z1")
    room = z.patch.band.least_ratio
    for row in table.rows:
        ratio = float(row.key)
        assert (row.cells[-1] == "all round") == (ratio <= room), (ratio, room)
    assert {row.cells[-1] for row in table.rows} == {"all round", "not all round"}
