"""What is said at the mixing table: vessels, warmth, the lay-up at once; and the curve, by another calculation."""

import numpy as np
import pytest
from tests.bed import bed_job as demo_job

from ribpatch.core.mixing import THICK, cup_chart, mixing_words, viscosity_at
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve, evolve_in
from ribpatch.core.resin.cup import Mixing, at_mass
from ribpatch.core.resin.cure import time_factor
from ribpatch.core.resin.slab import Layer, Material, Slab, slab_course
from ribpatch.core.resin.vessel import kinetics
from ribpatch.core.supply.laid import core_material, laid_heat
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

JOB, SHELF = demo_job(), shipped_shelf()


def made(temperature=16.5, zone="z2", plies=None, shelf=SHELF, **resin):
    old = JOB.zone(zone)
    scheme = evolve_in(old.scheme, "resin", **resin) if resin else old.scheme
    if plies is not None:
        scheme = evolve_in(scheme, "laminate", plies=plies)
    zones = tuple(evolve(z, scheme=scheme) if z.id == zone else z for z in JOB.zones)
    job = evolve(JOB, zones=zones, air=evolve(JOB.air, temperature=Measure(si=temperature)))
    return plan(job, shelf).zone(zone)


@pytest.mark.parametrize("system", ["metric", "us"])
def test_the_curve_is_the_working_time_over_the_time_it_takes(system):
    zone = made(24)
    chart = cup_chart(zone, system)
    factor = 1.0 if system == "metric" else 0.45359237
    (can, takes), (mark,) = chart.curves, chart.marks
    for x, y in (can.points[0], can.points[9], can.points[-1]):
        assert y * 60 == pytest.approx(at_mass(zone.needs.resin, x * factor, Mixing("cup", 24, 24), SHELF)[0], rel=1e-6)
    x, y = takes.points[5]
    assert y == pytest.approx(1.5 * (3 + x * factor / 0.04)) and not chart.share
    assert mark.x * factor == pytest.approx(zone.needs.cups.each) and mark.text.split()[-1] == chart.x_name.split()[-1]
    assert x == pytest.approx(np.geomspace(0.02, 0.5, 18)[5] / factor)


def test_a_cold_shed_shows_no_curve_and_says_only_that():
    cold = made(8)
    assert cup_chart(cold, "metric") is None and len(mixing_words(cold, "metric")) == 1
    assert "below the least temperature" in mixing_words(cold, "metric")[0]


def test_words_name_vessels_that_take_more_and_warmth_that_thins():
    hot = " ".join(mixing_words(made(29, main="epoxy-5-1-fast"), "metric"))
    assert "Limited by working time" in hot and "From a roller pan" in hot and "warm box" not in hot
    pan = " ".join(mixing_words(made(29, main="epoxy-5-1-fast", vessel="pan"), "metric"))
    assert "From a" not in pan
    cool = " ".join(mixing_words(made(16), "metric"))
    assert "warm box at 25.0 °C" in cool
    assert "warm box" not in " ".join(mixing_words(made(16, warmed=Measure(si=25.0)), "metric"))
    resin = SHELF.resin("epoxy-5-1-slow")
    assert viscosity_at(resin, 25) == resin.viscosity < THICK
    assert viscosity_at(resin, 15) / resin.viscosity == pytest.approx(time_factor(15, 45_000))
    one = made(20)
    cups = one.needs.cups
    assert f"{cups.count} mixes" in " ".join(mixing_words(one, "metric"))


def test_cans_from_a_warm_box_can_be_worked_for_less():
    shed, warm = made(18), made(18, warmed=Measure(si=28.0))
    assert warm.needs.cups.working < shed.needs.cups.working and warm.needs.cups.largest <= shed.needs.cups.largest
    pan = made(18, vessel="pan")
    assert pan.needs.cups.peak < shed.needs.cups.peak - 40
    assert {g.name: g.value for g in pan.by_id["cup.working"].inputs}["worked from"] == "roller pan"


def test_a_lay_up_at_once_is_the_slab_of_its_plies_on_its_core():
    zone = made(20)
    heat = laid_heat(zone.patch.stack, zone.zone, 20.0, SHELF)
    plies = zone.patch.stack.plies
    wet, dry = sum(p.ply.resin for p in plies), sum(p.ply.fibre for p in plies)
    t = sum(p.ply.thickness for p in plies)
    core = SHELF.core("ply-marine")
    lead = Material(0.02 + 1.5e-4 * core.density, core.density, 1600.0)
    assert core_material(core) == lead and heat.base == core.name and heat.thickness == pytest.approx(t)
    base = (Layer(0.0345, lead), Layer(0.003, Material(0.3, 1600, 1200)))
    slab = Slab(t, Material(0.3, (wet + dry) / t, 1200), wet / (wet + dry), base, 10, 10)
    same = slab_course(slab, kinetics(zone.needs.resin, SHELF), 20, 20, cells=40)
    assert heat.peak == pytest.approx(same.peak, abs=0.4) and heat.most == heat.plies == len(plies)


def test_too_many_plies_at_once_are_told_by_how_many_may_go_on():
    thick = tuple(evolve(line, count=12) for line in JOB.zone("z2").scheme.laminate.plies)
    zone = made(28, plies=thick)
    heat = laid_heat(zone.patch.stack, zone.zone, 28.0, SHELF)
    assert heat.peak > 60 and 0 < heat.most < heat.plies == 24
    words = mixing_words(zone, "metric")[-1]
    assert words.startswith("⚠ All 24 plies at once") and f"lay {heat.most} plies at a sitting" in words
    fewer = tuple(evolve(line, count=1) for line in thick[:1])
    assert mixing_words(made(20, plies=fewer), "metric")[-1].startswith("One ply (")
    assert laid_heat(zone.patch.stack, zone.zone, 5.0, SHELF) is None
    bare = evolve_in(evolve_in(zone.zone.scheme, "core", material=None, thickness=None), "laminate", plies=thick)
    hull = evolve(zone.zone, scheme=bare, build=evolve(zone.zone.build, core=None))
    assert laid_heat(zone.patch.stack, hull, 28.0, SHELF).base == "laminate"
