"""Cloth, resin, core and weight against hand sums."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Point
from tests.schemes import a_scheme

from ribpatch.core.job import BuildUp, CoreLayer, Fitting, Job, Place, Skin, Survey, Zone
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.scheme import Cut, StackLine, Taper
from ribpatch.core.supply.cloth import strips_across
from ribpatch.core.supply.figures import mix_split
from ribpatch.core.units import Measure

SQUARE = ((0.5, 0.5), (1.0, 0.5), (1.0, 1.0), (0.5, 1.0))


@pytest.mark.parametrize(
    ("width", "strips"), [(1.0, 1), (1.27, 1), (1.28, 2), (2.49, 2), (2.50, 3), (3.71, 3), (3.72, 4)]
)
def test_strips_across_a_roll(width, strips):
    assert strips_across(width, 1.27, 0.05) == strips


@given(st.floats(0.1, 10), st.floats(0.3, 2), st.floats(0, 0.2))
def test_strips_cover_the_width(width, roll, overlap):
    n = strips_across(width, roll, overlap)
    assert n * roll - (n - 1) * overlap >= width - 1e-6


@given(st.floats(0.01, 100))
def test_mix_parts_sum_to_the_whole(total):
    from ribpatch.library.shelf import shipped_shelf

    for resin in shipped_shelf().resins:
        a, b, va, vb = mix_split(total, resin)
        assert a + b == pytest.approx(total)
        assert a / b == pytest.approx(resin.mass_parts[0] / resin.mass_parts[1])
        assert va * resin.resin_density == pytest.approx(a) and vb * resin.hardener_density == pytest.approx(b)


def zone(**scheme) -> Zone:
    """A 2 x 1.5 m panel, 4 mm on 18 mm of balsa, 0.5 x 0.5 m bad, cut on its line with sharp corners."""
    fields = {
        "cut": Cut(margin=Measure(si=0.0), radius=Measure(si=0.0)), "taper": Taper(ratio=Measure(si=12)),
        "plies": (StackLine(fabric="biax-090-600", count=5),), "core": "foam-pvc-80", "core_thickness": Measure(si=0.0165), "peel_ply": True,
    }  # fmt: skip
    return Zone(
        id="z1", name="panel", kind="deck panel", place=Place(station=Measure(si=1), height=Measure(si=1)),
        outline=((0, 0), (2, 0), (2, 1.5), (0, 1.5)),
        build=BuildUp(outer=Skin(thickness=Measure(si=0.004)), core=CoreLayer(core="balsa-150", thickness=Measure(si=0.018)),
                      inner=Skin(thickness=Measure(si=0.002))),
        survey=Survey(drawn=(SQUARE,)), scheme=a_scheme(**{**fields, **scheme}),
    )  # fmt: skip


def figures(job: Job, made: Zone, shelf):
    return plan(evolve(job, zones=(made,)), shelf).zones[0].by_id


def test_hand_sum_of_a_square_patch(job, shelf):
    f = figures(job, zone(), shelf)
    length = 0.048
    assert f["cut.area"].value == pytest.approx(0.25)
    assert f["taper.length"].value == pytest.approx(length)
    assert f["taper.area"].value == pytest.approx(4 * 0.5 * length + math.pi * length**2, rel=1e-3)
    assert f["resin.core-faces"].value == pytest.approx(0.45 * (2 * 0.25 + 2.0 * 0.0165))  # faces and edges
    # The taper and the new core under the first ply; before them the inside of the far skin.
    assert f["resin.prime"].value == pytest.approx(0.2 * (0.25 + f["taper.area"].value))
    assert f["resin.prime.bed"].value == pytest.approx(0.2 * 0.25)
    assert f["putty.bedding"].value == pytest.approx(0.25 * 0.0015 * 1206)
    assert f["putty.gap"].value == pytest.approx(2.0 * 0.0165 * 0.003 * 1206)
    fair = f["putty.fairing"].value
    assert f["resin.putty"].value == pytest.approx((f["putty.total"].value - fair) * 0.902)
    assert f["resin.fairing"].value == pytest.approx(fair * 0.723)
    assert f["resin.peel"].value == pytest.approx(0.09 * (0.25 + f["taper.area"].value))
    assert f["core.area"].value == pytest.approx(0.25 * 1.12)
    # The gap round it is putty: it is not weighed as core as well.
    assert f["core.mass"].value == pytest.approx((0.25 - 2.0 * 0.003) * 0.0165 * 80)
    assert f["resin.mixed"].value == pytest.approx(f["resin.net"].value * 1.08 + 0.03 * f["cup.count"].value)


def test_weight_off_is_skin_dust_core_and_water(job, shelf):
    f = figures(job, zone(), shelf)
    inputs = {g.name: g.value for g in f["weight.off"].inputs}
    assert inputs["skin cut out"] == pytest.approx(0.25 * 0.004 * 1500)
    assert inputs["old core, dry"] == pytest.approx(0.25 * 0.018 * 150)
    assert inputs["water in the damaged core"] == pytest.approx(0.25 * 0.018 * 350 * 0.5)
    assert f["weight.net"].value == pytest.approx(f["weight.on"].value - f["weight.off"].value)


def test_weight_on_leaves_out_what_goes_away_with_the_peel_ply(job, shelf):
    on = figures(job, zone(), shelf)["weight.on"]
    off = figures(job, zone(peel_ply=False), shelf)["weight.on"]
    assert on.value == pytest.approx(off.value)


def test_keeping_the_core_takes_no_core_and_no_bedding(job, shelf):
    f = figures(job, zone(core=None, core_thickness=None), shelf)
    assert "core.area" not in f and "putty.bedding" not in f
    assert "old core, dry" not in {g.name for g in f["weight.off"].inputs}


def test_overdrilled_holes_in_the_cut_take_putty(job, shelf):
    bolts = Fitting(
        id="f1",
        name="cleat",
        x=0.75,
        y=0.75,
        width=Measure(si=0.1),
        height=Measure(si=0.1),
        holes=4,
        hole=Measure(si=0.01),
    )
    f = figures(job, evolve(zone(), fittings=(bolts,)), shelf)
    volume = 4 * math.pi / 4 * 0.016**2 * 0.024
    assert f["putty.holes"].value == pytest.approx(volume * 1206)


def test_the_pot_life_of_a_cup_is_told_with_its_mass_in_grams(job, shelf):
    said = [i.name for f in figures(job, zone(), shelf).values() for i in f.inputs if "pot life of" in i.name]
    resin = shelf.resin(zone().scheme.resin.main)
    assert said and all(f"pot life of {resin.pot_mass * 1000:.0f} g at 25 °C" in name for name in said)
    assert 50 <= resin.pot_mass * 1000 <= 1000


def test_cloth_of_square_plies(job, shelf):
    f = figures(job, zone(), shelf)
    boxes = [(f[f"ply.{n}.length"].value + 0.04) * (f[f"ply.{n}.width"].value + 0.04) for n in range(1, 6)]
    assert f["cloth.area"].value == pytest.approx(1.1 * sum(boxes), rel=1e-6)
    assert f["cloth.biax-090-600.length"].value == pytest.approx(f["cloth.area"].value / 1.27)


def test_no_damage_needs_nothing(job, shelf):
    f = figures(job, evolve(zone(), survey=Survey()), shelf)
    assert f["cost.total"].value == 0 and f["weight.net"].value == 0 and f["cup.count"].value == 0


def test_bedding_volume_of_a_round_patch(job, shelf):
    disc = tuple((float(x), float(y)) for x, y in Point(1, 0.75).buffer(0.3, quad_segs=32).exterior.coords[:-1])
    f = figures(
        job,
        evolve(
            zone(cut=Cut(margin=Measure(si=0.0), radius=Measure(si=0.0), shape="free")), survey=Survey(drawn=(disc,))
        ),
        shelf,
    )
    assert f["putty.bedding"].value == pytest.approx(math.pi * 0.09 * 0.0015 * 1206, rel=3e-3)


# ---- what was counted wrong once ----


def total(f, key):
    return f[key].value if key in f else 0.0


@pytest.mark.parametrize("apart", [0.5, 1.2])
def test_two_spots_take_the_cloth_of_two_spots_however_far_apart(job, shelf, apart):
    def spot(x):
        return ((x, 0.6), (x + 0.15, 0.6), (x + 0.15, 0.75), (x, 0.75))

    one, two = (
        figures(job, evolve(zone(), survey=Survey(drawn=rings)), shelf)["cloth.area"].value
        for rings in ((spot(0.2),), (spot(0.2), spot(0.2 + apart)))
    )
    assert two == pytest.approx(2 * one, rel=1e-9)


def test_a_poured_core_takes_no_bed_no_gap_no_sheets_and_no_waste(job, shelf):
    f = figures(job, zone(core="poured-600", core_thickness=Measure(si=0.018)), shelf)
    made = plan(evolve(job, zones=(zone(core="poured-600", core_thickness=Measure(si=0.018)),)), shelf).zones[0]
    assert "putty.bedding" not in f and "putty.gap" not in f and "core.sheets" not in f and "core.area" not in f
    assert "resin.core-faces" not in f and made.needs.core_sheets == 0
    poured = 0.25 * 0.018 * 600 * shelf.rule("pour.pack")
    assert f["core.mass"].value == pytest.approx(poured)
    (item,) = [i for i in made.items if i.group == "core"]
    assert item.charged == item.amount == pytest.approx(poured)


def test_from_above_both_standing_skins_get_a_bed_and_a_prime_coat(job, shelf):
    above = evolve(zone(side="above", core_thickness=Measure(si=0.015)), kind="transom")
    f = figures(job, above, shelf)
    assert f["putty.bedding"].value == pytest.approx(2 * 0.25 * 0.0015 * 1206)
    assert f["resin.prime.bed"].value == pytest.approx(0.2 * 2 * 0.25) and "resin.prime" not in f
    assert f["resin.core-faces"].value == pytest.approx(0.45 * (2 * 0.25 + 2.0 * 0.015))
    assert "putty.shim" not in f, "18 mm is two beds and the core"


def test_a_thinner_core_is_shimmed_with_putty(job, shelf):
    f = figures(job, zone(core_thickness=Measure(si=0.015)), shelf)
    assert f["putty.shim"].value == pytest.approx(0.25 * (0.018 - 0.0015 - 0.015) * 1206)


def test_a_saved_skin_is_primed_underneath(job, shelf):
    saved = zone(cut=Cut(margin=Measure(si=0.0), radius=Measure(si=0.0), saved=True))
    made = plan(evolve(job, zones=(saved,)), shelf).zones[0]
    pieces = sum(p.region.area for p in made.patch.saved.pieces)
    slits = made.patch.face.opening.region.area
    wanted = 0.2 * (made.by_id["taper.area"].value + slits + pieces)
    assert made.by_id["resin.prime"].value == pytest.approx(wanted) and pieces > 0.2


def test_a_tabbed_joint_is_primed_under_its_widest_ply(job, shelf):
    from ribpatch.core.scheme import Tabbing

    made = plan(evolve(job, zones=(zone(tabbing=Tabbing(), core=None, core_thickness=None),)), shelf).zones[0]
    widest = max(o.region.area for o in made.patch.outlines)
    assert made.by_id["resin.prime"].value == pytest.approx(0.2 * widest)


def test_kerfs_are_putty_and_not_core_as_well(job, shelf):
    plain, scored = (figures(job, zone(scored=s), shelf) for s in (False, True))
    share = shelf.rule("kerf.share")
    assert scored["core.mass"].value == pytest.approx(plain["core.mass"].value * (1 - share))
    assert scored["putty.kerfs"].value == pytest.approx(0.25 * 0.0165 * share * 1206)


def test_the_other_face_is_covered_faired_and_peeled_as_well(job, shelf):
    from ribpatch.core.scheme import Face

    both = zone(second=Face(plies=(StackLine(fabric="biax-090-600", count=2),)))
    one = figures(job, zone(), shelf)
    two = plan(evolve(job, zones=(both,)), shelf).zones[0]
    more = two.patch.second.band.outer.area
    assert more > 0.25
    assert two.by_id["putty.fairing"].value == pytest.approx(
        one["putty.fairing"].value + more * shelf.rule("fair.depth") * 497
    )
    assert two.by_id["resin.peel"].value == pytest.approx(one["resin.peel"].value + 0.09 * more)


def test_a_material_is_paid_by_what_its_price_is_for(job, shelf):
    """Core is shown by the square metre and sold by the kilogram."""
    made = plan(evolve(job, zones=(zone(),)), shelf).zones[0]
    (item,) = [i for i in made.items if i.group == "core"]
    price = shelf.price(item.id)
    assert item.amount == pytest.approx(0.25 * 1.12) and item.charged == pytest.approx(0.25 * 1.12 * 0.0165 * 80)
    assert price.per == "kg" and made.by_id[f"cost.{item.id}"].value == pytest.approx(item.charged * price.price)


@pytest.mark.parametrize("putty", ["silica", "chopped", "light"])
def test_a_putty_is_as_dense_as_its_own_parts(shelf, putty):
    """Volumes of filler as poured on one volume of resin of 1150 kg/m3; the filler's solid volume adds to the
    resin's.
    """
    p = shelf.putty(putty)
    filler = p.filler_volumes * p.filler_bulk
    assert p.density == pytest.approx((1150 + filler) / (1 + filler / p.filler_true), rel=0.01)
    assert p.resin_share == pytest.approx(1150 / (1150 + filler), rel=0.01)
