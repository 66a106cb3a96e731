"""Cores compared, work on a core, bond plan, made parts, tabbing, sides, before cutting: closed forms and rules."""

import math
from math import ceil

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.bed import bed_job as demo_job
from tests.schemes import rescheme
from tests.strategies import SHELF

from ribpatch.core.job import Fitting
from ribpatch.core.laminate.comparison import new_core
from ribpatch.core.laminate.elastic import Elastic
from ribpatch.core.laminate.layup import Layup, Sheet, bed_sheet, core_sheet, scaled
from ribpatch.core.laminate.sandwich import Sandwich, shear_stiffness, wrinkling
from ribpatch.core.laminate.stack import skin_weight, stack_up
from ribpatch.core.patch.access.before import checklist, loads_of, order_of
from ribpatch.core.patch.access.scores import side_scores
from ribpatch.core.patch.bonding.protocol import bond_plan, compatibility, coupon_test, plan_table, sittings
from ribpatch.core.patch.coring.choice import core_choices, core_table, sheet_for
from ribpatch.core.patch.coring.table import work_table
from ribpatch.core.patch.coring.work import clamping_of, core_work, pour_mass, wedge_volume
from ribpatch.core.patch.made_parts import bond_area, developed, part_made, unfolded
from ribpatch.core.patch.part_table import part_table
from ribpatch.core.patch.repair import patch_of
from ribpatch.core.patch.tab_table import tab_table
from ribpatch.core.patch.tabbing import arc, fillet_volume, tab_section
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve, read_as
from ribpatch.core.scheme import MadePart, Scheme, SideMark, StackLine, Tabbing
from ribpatch.core.scheme_edits import tick
from ribpatch.core.units import Measure


def m(value):
    return Measure(si=value)


@pytest.fixture(scope="module")
def made(job):
    return plan(job, SHELF)


DECK = demo_job().zone("z1")


def deck_choices(made):
    z = made.zone("z1")
    return {c.core.id: c for c in core_choices(z.zone, z.patch, z.comparison, SHELF)}


# ---- sandwich ----


def test_sandwich_formulas_against_hand_sums():
    assert shear_stiffness(50e6, 0.02, 0.018) == pytest.approx(50e6 * 0.0004 / 0.018)
    assert wrinkling(10e9, 0.1e9, 0.04e9) == pytest.approx(0.5 * (10e9 * 0.1e9 * 0.04e9) ** (1 / 3))


def test_a_thin_faced_sandwich_bends_as_its_skins_apart(made):
    """D of two like skins a distance d apart is E t d2 / 2 / (1 - nu2); a soft core adds little."""
    skin = made.zone("z4").comparison.skin.new
    core = SHELF.core("foam-pvc-80")
    panel = Sandwich(skin, core, 0.2, skin)
    e = float(skin.plate.A[0, 0])  # E t / (1 - nu2)
    thin = e * panel.d**2 / 2
    own = core_sheet(core, 0.2).elastic.e1 * 0.2**3 / 12 / (1 - 0.09)
    assert float(panel.layup.plate.D[0, 0]) == pytest.approx(thin + own + 2 * float(skin.plate.D[0, 0]), rel=0.01)


# ---- cores ----


def test_every_core_is_compared(made):
    choices = deck_choices(made)
    assert len(choices) >= 9 and set(choices) == {c.id for c in SHELF.cores}
    for c in choices.values():
        area = made.zone("z1").patch.cut.region.area
        assert c.weight == pytest.approx(area * c.thickness * c.core.density)
        bed = 0.0 if c.core.poured else 0.0015
        assert c.thickness + c.shim == pytest.approx(0.018 - bed)
        assert c.sheets == 0 if c.core.poured else c.sheets > 0


def test_a_core_is_as_thick_as_its_room_in_sheets_or_planed():
    foam, ply = SHELF.core("foam-pvc-130"), SHELF.core("ply-marine")
    assert sheet_for(foam, 0.0158) == 0.015 and sheet_for(foam, 0.0200) == 0.020  # the bed takes up 0.8 mm
    assert sheet_for(foam, 0.0165) == 0.0165  # 1.5 mm are planed off a sheet of 20 mm
    assert sheet_for(foam, 0.004) == 0.004  # thinner than any sheet: planed down
    assert sheet_for(ply, 0.0345) == 0.0345 and sheet_for(ply, 0.0365) == pytest.approx(0.036)
    assert sheet_for(ply, 0.1) == pytest.approx(4 * 0.018)  # no more layers than four
    assert sheet_for(SHELF.core("poured-600"), 0.0165) == 0.0165


def test_extra_skin_makes_up_what_a_thinner_skin_lost(job):
    zone = job.zone("z1")
    thin = evolve(zone, scheme=rescheme(zone.scheme, plies=(StackLine(fabric="biax-45-600", count=2),)))
    z = plan(evolve(job, zones=(thin,)), SHELF).zone("z1")
    soft = [c for c in core_choices(z.zone, z.patch, z.comparison, SHELF) if c.extra and not c.core.poured]
    assert len(soft) >= 3
    putty = SHELF.putty("silica")
    for c in soft[:3]:
        skin, below = z.comparison.skin.new, z.comparison.old_sandwich.below
        bed = Layup((bed_sheet(putty, 0.0015 + c.shim),))
        panel = Sandwich(below, c.core, c.thickness, scaled(skin, skin.thickness + c.extra), under=bed)
        assert min(panel.layup.plate.bending) == pytest.approx(
            min(z.comparison.old_sandwich.layup.plate.bending), rel=1e-3
        )


def test_a_bed_is_a_layer_of_the_panel_by_hand():
    """Two 3 mm skins of E 10 GPa, 15 mm of nearly nothing, a 1.5 mm bed of 3.2 GPa on the lower skin: D by parallel
    axes.
    """
    elastic = Elastic(10e9, 10e9, 10e9 / 2.6, 0.3)
    skin = Layup((Sheet(1, "skin", 0.003, 0.0, elastic, (1.0,) * 5),))
    core, putty = evolve(SHELF.core("foam-pvc-80"), modulus=1.1e6), SHELF.putty("silica")
    panel = Sandwich(skin, core, 0.015, skin, under=Layup((bed_sheet(putty, 0.0015),)))
    layers = [(0.0, 0.003, 10e9), (0.003, 0.0045, putty.modulus), (0.0195, 0.0225, 10e9)]
    middle = sum(e * (b - a) * (a + b) / 2 for a, b, e in layers) / sum(e * (b - a) for a, b, e in layers)
    bending = sum(e * ((b - middle) ** 3 - (a - middle) ** 3) / 3 for a, b, e in layers)
    made = panel.layup.plate
    # A plate bent one way is held from narrowing: 1 / (1 - nu2) stiffer than a beam; core and bed do the rest.
    assert float(made.bending[0]) == pytest.approx(bending / (1 - 0.09), rel=0.01)
    assert panel.d == pytest.approx(0.0195) and panel.layup.thickness == pytest.approx(0.0225)


def test_a_repair_with_the_same_skin_and_core_in_a_bed_is_no_softer_than_it_was(job):
    """Leaving the bed out of it made a sound repair look a tenth too soft."""
    zone = job.zone("z1")
    same = evolve(zone, scheme=rescheme(zone.scheme, core="balsa-150", core_thickness=m(0.0165), bedding=m(0.0015)))
    comparison = plan(evolve(job, zones=(same,)), SHELF).zone("z1").comparison
    assert comparison.new_sandwich.layup.thickness - comparison.skin.new.thickness == pytest.approx(
        comparison.old_sandwich.layup.thickness - comparison.skin.old.thickness
    )
    skins = comparison.skin.ratio("stiff.along")
    assert comparison.panel.ratio("bend.along") > min(skins, 1.0)


@given(st.floats(0.0, 0.004), st.floats(0.008, 0.0135))
def test_a_thicker_bed_never_softens_the_panel(bedding, thickness):
    new = SHELF.core("foam-pvc-80").id
    scheme = rescheme(DECK.scheme, bedding=m(bedding))
    thin, thick = (new_core(s, new, thickness, 0.018, False, SHELF) for s in (rescheme(scheme, bedding=m(0.0)), scheme))
    assert thin.shim == pytest.approx(0.018 - thickness) and thin.under.thickness == pytest.approx(
        thick.under.thickness
    )
    assert thick.weight == pytest.approx(thin.weight) and thick.over.thickness == 0
    assert new_core(scheme, new, thickness, 0.018, True, SHELF).over.thickness == pytest.approx(bedding)


def test_the_panel_is_weighed_with_bed_prime_and_the_other_skin(made):
    z = made.zone("z1")
    held = {h.key: h for h in z.comparison.panel.held}["weight"]
    skin = {h.key: h for h in z.comparison.skin.held}["weight"]
    behind = skin_weight(z.zone.other_skin, SHELF)
    assert held.old == pytest.approx(skin.old + behind + 0.018 * 150)
    assert held.new == pytest.approx(skin.new + behind + 0.0165 * 130 + 0.0015 * 1206 + 2 * 0.2 + 2 * 0.45)


def test_bolts_press_on_the_core_by_their_pull(made):
    z = made.zone("z1")
    pulled = evolve(z.zone, fittings=tuple(evolve(f, pull=m(8000.0)) if f.id == "f1" else f for f in z.zone.fittings))
    choice = next(c for c in core_choices(pulled, z.patch, z.comparison, SHELF) if c.core.id == "foam-pvc-80")
    assert choice.bolts == pytest.approx(8000 * 1.5 / (0.16 * 0.16) / (0.5 * 1.4e6))


@pytest.mark.parametrize(("times", "insert"), [(0.45, "no"), (0.55, "solid insert"), (0.9, "solid insert")])
def test_an_insert_is_wanted_from_half_the_cores_strength_in_both_tables(made, times, insert):
    z = made.zone("z1")
    strength = SHELF.core("foam-pvc-130").compressive_strength
    pull = m(times * strength * 0.16 * 0.16 / 1.5)
    pulled = evolve(z.zone, fittings=tuple(evolve(f, pull=pull) if f.id == "f1" else f for f in z.zone.fittings))
    work = core_work(pulled, z.patch, SHELF)
    assert next(f for f in work.fastenings if f.fitting.id == "f1").insert == insert
    choice = next(c for c in core_choices(pulled, z.patch, z.comparison, SHELF) if c.core.id == "foam-pvc-130")
    assert choice.bolts == pytest.approx(2 * times) and (choice.bolts > 1) == (insert != "no")


def test_the_table_marks_the_chosen_core_and_is_empty_without_one(made):
    z = made.zone("z1")
    table = core_table(tuple(deck_choices(made).values()), z.zone, SHELF, "z1")
    assert [row.key for row in table.rows if row.mark == "chosen"] == ["foam-pvc-130"]
    solid = made.zone("z4")
    assert core_choices(solid.zone, solid.patch, solid.comparison, SHELF) == ()


def test_clamping_gives_the_pressure():
    screws = clamping_of("screws", 0.86, SHELF)
    assert screws.count == math.ceil(3000 * 0.86 / 400) and screws.pitch == pytest.approx(
        math.sqrt(0.86 / screws.count)
    )
    assert clamping_of("vacuum", 0.86, SHELF).enough
    assert clamping_of("weights", 1.0, SHELF).count == math.ceil(3000 / (10 * 9.80665))


def test_core_work_of_the_demo_deck(made):
    z = made.zone("z1")
    work = core_work(z.zone, z.patch, SHELF)
    assert work.area == pytest.approx(z.patch.cut.region.area)
    assert work.sealed == pytest.approx(2 * work.area + work.edge * 0.0165)
    hole = next(f for f in work.fastenings if f.fitting.id == "f1")
    assert hole.drill == pytest.approx(0.016) and hole.putty == pytest.approx(4 * math.pi / 4 * 0.016**2 * 0.0245)
    assert work.bleeds == math.ceil(work.area / 0.01) and work.kerfs == 0
    keys = [row.key for row in work_table(work, "z1", SHELF, "metric").rows]
    assert {"seal", "edge", "bleeds", "clamp", "hole.f1"} <= set(keys)


def test_a_scored_sheet_takes_putty_and_needs_no_bleed_holes(made):
    z = made.zone("z1")
    scored = evolve(z.zone, scheme=rescheme(z.zone.scheme, scored=True))
    work = core_work(scored, z.patch, SHELF)
    assert work.kerfs == pytest.approx(work.area * 0.0165 * SHELF.rule("kerf.share")) and work.bleeds == 0


def test_a_poured_core_comes_in_lifts_and_is_not_clamped(made):
    z = made.zone("z2")
    poured = evolve(z.zone, scheme=rescheme(z.zone.scheme, core="poured-600", side="above"))
    work = core_work(poured, patch_of(poured, SHELF), SHELF)
    thick = poured.scheme.core.thickness.si
    assert work.poured == pytest.approx(work.area * thick * 600 * 1.05) and work.bleeds == 0
    # By the height of the cavity, not by its width: as high as the highest cut is, in lifts of 150 mm.
    height = max(p.bounds[3] - p.bounds[1] for p in patch_of(poured, SHELF).cut.region.geoms)
    assert work.liquid == pytest.approx(height) and work.lifts == ceil(height / 0.15) > 3
    assert work.head == pytest.approx(600 * 9.80665 * 0.15)
    rows = {row.key: row for row in work_table(work, "z2", SHELF, "metric").rows}
    assert "clamp" not in rows and f"{work.lifts} lifts" in rows["pour"].cells[2] and "Caution" in rows["pour"].cells[2]
    assert "0.88 kPa at the foot" in rows["pour"].cells[2]
    assert rows["pour"].cells[1].value == pytest.approx(work.poured)


def test_every_way_of_clamping_is_told_with_its_number(made):
    z = made.zone("z1")
    for how, words in (("screws", "screws"), ("weights", "weights"), ("props", "props"), ("vacuum", "vacuum")):
        zone = evolve(z.zone, scheme=rescheme(z.zone.scheme, clamp=how))
        row = next(r for r in work_table(core_work(zone, z.patch, SHELF), "z1", SHELF, "us").rows if r.key == "clamp")
        assert words in row.cells[0] and row.cells[1].value > 0


def test_no_core_work_without_a_new_core(made):
    z = made.zone("z4")
    assert core_work(z.zone, z.patch, SHELF) is None


def test_wedges_and_pours():
    assert wedge_volume(0.2, 0.1, 45) == pytest.approx(0.2 * 0.2 * 0.1 / 2)
    assert wedge_volume(0.2, 0.1, 0) == 0
    assert pour_mass(0.01, 40, 1.2) == pytest.approx(0.48)


def test_a_sloped_fitting_gets_a_pad(made):
    z = made.zone("z1")
    sloped = evolve(z.zone, fittings=tuple(evolve(f, slope=m(5.0)) if f.id == "f1" else f for f in z.zone.fittings))
    work = core_work(sloped, patch_of(sloped, SHELF), SHELF)
    pad = next(f for f in work.fastenings if f.fitting.id == "f1")
    assert pad.pad == pytest.approx(0.16**2 * math.tan(math.radians(5)) * 0.16 / 2)
    assert "pad.f1" in [row.key for row in work_table(work, "z1", SHELF, "us").rows]


# ---- bonds ----


def test_what_is_primary_and_what_is_secondary(made):
    z = made.zone("z1")
    kinds = {i.key: i.kind for i in bond_plan(z.zone, z.patch, 1998, SHELF)}
    assert kinds["scarf"] == kinds["bed"] == "secondary" and kinds["core"] == kinds["plies"] == "primary"
    cured = evolve(z.zone, scheme=rescheme(z.zone.scheme, between="cured"))
    plies = next(i for i in bond_plan(cured, z.patch, 1998, SHELF) if i.key == "plies")
    assert plies.kind == "secondary" and any("blush" in step.lower() for step in plies.steps)


def test_degreasing_always_comes_before_abrading():
    for how in SHELF.preparations:
        degrease = next((k for k, s in enumerate(how.steps) if "egrease" in s or "grease off" in s), None)
        abrade = next((k for k, s in enumerate(how.steps) if s.startswith(("Grind", "Abrade"))), None)
        if degrease is not None and abrade is not None:
            assert degrease < abrade, how.id


def test_every_pair_of_resins_has_a_word():
    families = {r.family for r in SHELF.resins}
    for under in families:
        for over in families:
            assert compatibility(under, over, SHELF) is not None, (under, over)


def test_polyester_over_epoxy_is_refused_with_a_remedy_and_a_coupon(made):
    z = made.zone("z1")
    later = evolve(z.zone, scheme=rescheme(z.zone.scheme, later_resin="polyester-iso"))
    pair = next(i for i in bond_plan(later, z.patch, 1998, SHELF) if i.key == "later")
    assert pair.suits.verdict == "no" and "epoxy" in pair.steps[0]
    assert len(coupon_test(later, SHELF)) >= 5 and coupon_test(z.zone, SHELF) == ()
    row = next(r for r in plan_table(bond_plan(later, z.patch, 1998, SHELF)).rows if r.key == "later")
    assert row.mark == "warn"


def test_sittings_are_limited_by_count_and_by_thickness(made):
    z = made.zone("z1")
    assert sittings(z.zone, z.patch, SHELF) == 2  # six plies, four a sitting
    thick = evolve(z.zone, scheme=rescheme(z.zone.scheme, plies=(StackLine(fabric="mat-600", count=3),)))
    assert sittings(thick, patch_of(thick, SHELF), SHELF) == 2  # 4.2 mm of mat


def test_nothing_cut_nothing_to_bond(job):
    from ribpatch.core.job import Survey

    bare = evolve(job.zone("z4"), survey=Survey())
    assert bond_plan(bare, patch_of(bare, SHELF), 1998, SHELF) == ()


# ---- made parts ----


def part(kind="angle", former="plug", **sizes):
    facts = {"length": 0.6, "width": 0.08, "depth": 0.06, "radius": 0.01} | sizes
    return read_as(MadePart, {
        "id": "p1", "name": "clip", "kind": kind, "former": former, "plies": (StackLine(fabric="biax-45-600", count=4),),
        **{k: m(v) for k, v in facts.items()},
    })  # fmt: skip


def test_an_angle_unfolds_round_its_middle_surface():
    """Legs 80 and 60 over radius 10 in 4 mm: 66 + 46 + pi/2 x 12."""
    assert unfolded(0.08, 0.06, 0.010, 0.004) == pytest.approx(0.066 + 0.046 + math.pi / 2 * 0.012)
    assert unfolded(0.08, 0.06, 0.0, 0.0) == pytest.approx(0.14)


def test_developed_shapes_of_the_other_parts():
    assert developed(part("backing plate"), 0.003).area == pytest.approx(0.6 * 0.08)
    assert developed(part("knee", "flat bench", length=0.3, width=0.2), 0.003).area == pytest.approx(0.03)
    knee = developed(part("knee", length=0.3, width=0.2, depth=0.05), 0.003)
    assert knee.area == pytest.approx(0.03 + 0.05 * 0.3 + 0.05 * 0.2 + 0.05**2)
    cap = developed(part("end cap", length=0.2, width=0.1, depth=0.05), 0.003)
    assert cap.area == pytest.approx(0.2 * 0.1 + 2 * 0.05 * (0.2 + 0.1))
    assert bond_area(part("end cap", length=0.2, width=0.1, depth=0.05)) == pytest.approx(0.03)


def test_a_part_weighs_its_area_and_lists_its_steps():
    got = part_made(part(), "epoxy-5-1-slow", "hand", SHELF)
    assert got.weight == pytest.approx(got.area * got.stack.weight)
    assert got.bed == pytest.approx(0.6 * 0.14 * 0.003)
    assert got.size[0] == pytest.approx(0.6 + 0.04)
    assert "Degrease first" in " ".join(got.steps) and "putty" in got.steps[-1]
    assert "elastic" in part_made(evolve(part(), fixing="adhesive"), "epoxy-5-1-slow", "hand", SHELF).steps[-1]
    row = part_table((got,), "z1").rows[0]
    assert row.cells[4].value == pytest.approx(got.weight) and row.mark == ""


def test_parts_take_cloth_resin_and_weight_with_them(job):
    zone = job.zone("z4")
    with_part = evolve(zone, scheme=evolve(zone.scheme, parts=(evolve(part(), count=3),)))
    before, after = (plan(evolve(job, zones=(z,)), SHELF).zone("z4") for z in (zone, with_part))
    one = part_made(part(), "epoxy-5-1-slow", "hand", SHELF)
    resin = {u.key: u.mass for u in after.needs.uses}["plies"] - {u.key: u.mass for u in before.needs.uses}["plies"]
    laid = 3 * one.blank.area * sum(p.ply.resin for p in one.stack.plies)
    putty = 3 * 0.6 * 0.14 * 0.003 * 1206
    assert resin == pytest.approx(laid) and after.by_id["putty.parts"].value == pytest.approx(putty)
    # On the boat: the finished parts and their beds; what is trimmed off them is bought and not carried.
    grown = after.by_id["weight.on"].value - before.by_id["weight.on"].value
    assert grown == pytest.approx(3 * one.weight + putty)
    # Trimmed once: the blank has its trim already.
    cloth = sum(c.area for c in after.needs.cloth) - sum(c.area for c in before.needs.cloth)
    long, wide = one.size
    assert cloth == pytest.approx(3 * 4 * long * wide * 1.1)


# ---- tabbing ----


def test_fillet_and_arc_closed_forms():
    assert fillet_volume(0.02, 90) == pytest.approx(0.02**2 * (1 - math.pi / 4))
    assert arc(0.02, 90) == pytest.approx(0.02 * math.pi / 2)


@given(st.floats(0.005, 0.1), st.floats(30, 150))
def test_the_fillet_is_the_kite_less_the_sector(radius, degrees):
    """Two right triangles from the corner to the centre, less the sector between the touching points."""
    half = math.radians(degrees) / 2
    kite = radius * radius / math.tan(half)
    sector = radius * radius * (math.pi - 2 * half) / 2
    assert fillet_volume(radius, degrees) == pytest.approx(kite - sector, rel=1e-9, abs=1e-12)


def test_each_ply_of_tabbing_laps_past_the_one_under_it():
    stack = stack_up((StackLine(fabric="biax-45-600", count=4),), "epoxy-5-1-slow", "hand", SHELF)
    tabbing = Tabbing(angle=m(90), radius=m(0.012), first=m(0.05), stagger=m(0.015))
    section = tab_section(stack, tabbing, 10, 0.05)
    assert [p.leg for p in section.plies] == pytest.approx([0.05, 0.065, 0.08, 0.095])
    assert section.plies[0].width == pytest.approx(0.1 + 0.012 * math.pi / 2)
    assert section.least == pytest.approx(max(10 * stack.thickness, 0.05)) and section.enough
    short = evolve(tabbing, first=m(0.02), stagger=m(0.0))
    assert not tab_section(stack, short, 10, 0.05).enough
    assert next(r for r in tab_table(stack, short, SHELF, "z1").rows if r.key == "least").mark == "warn"


def test_a_tabbed_run_is_cut_to_its_section(job):
    run = job.zone("z3")
    tabbed = evolve(run, scheme=rescheme(run.scheme, tabbing=Tabbing()))
    patch = patch_of(tabbed, SHELF)
    widths = [o.region.bounds[3] - o.region.bounds[1] for o in patch.outlines]
    assert widths == pytest.approx([2 * (0.05 + 0.015 * k) + 0.012 * math.pi / 2 for k in range(4)])
    assert plan(evolve(job, zones=(tabbed,)), SHELF).zone("z3").by_id["putty.fillet"].value > 0


# ---- sides and before cutting ----


def test_sides_are_scored_by_weighted_marks(made):
    z = made.zone("z1")
    scores = side_scores(z.zone, z.patch, SHELF)
    assert [s.score for s in scores] == sorted((s.score for s in scores), reverse=True)
    for score in scores:
        weights = sum(c.weight for c in SHELF.sides)
        assert score.score == pytest.approx(sum(m.mark * m.criterion.weight for m in score.marks) / weights)
        assert all(0 <= mark.mark <= 5 and mark.why for mark in score.marks)


@pytest.mark.parametrize(("holes", "more"), [(0, 0.0), (1, 0.5), (3, 1.5), (9, 2.0)])
def test_holes_in_the_cut_raise_the_mark_of_outside_up_to_the_best(made, holes, more):
    z = made.zone("z1")
    name = z.patch.band.removed[0]
    fittings = tuple(evolve(f, holes=holes if f.name == name else 0) for f in z.zone.fittings)
    for s in side_scores(evolve(z.zone, fittings=fittings), z.patch, SHELF):
        mark = next(m for m in s.marks if m.criterion.id == "holes")
        usual = mark.criterion.mark(z.zone.kind, s.side)
        assert mark.mark == min(usual + (more if s.side == "outside" else 0), 5) and f"{holes} holes" in mark.why


def test_own_marks_go_before_the_usual_ones(made):
    z = made.zone("z1")
    own = evolve(z.zone, scheme=rescheme(z.zone.scheme, marks=(SideMark(side="inside", criterion="access", mark=5),)))
    mark = next(
        m for s in side_scores(own, z.patch, SHELF) if s.side == "inside" for m in s.marks if m.criterion.id == "access"
    )
    assert mark.own and mark.mark == 5


def test_the_taper_mark_follows_the_room(made):
    z = made.zone("z1")
    marks = {s.side: next(m for m in s.marks if m.criterion.id == "taper") for s in side_scores(z.zone, z.patch, SHELF)}
    assert marks["outside"].mark == pytest.approx(5 * z.patch.band.least_ratio / 12, rel=0.01)  # the hatch is near
    assert 3 < z.patch.band.least_ratio < 12
    transom = made.zone("z2")
    above = next(s for s in side_scores(transom.zone, transom.patch, SHELF) if s.side == "above")
    assert next(m for m in above.marks if m.criterion.id == "taper").mark == 5


def test_every_kind_of_zone_has_something_to_support_and_its_turn(made):
    for z in made.zones:
        groups = {s.item.group for s in checklist(z.zone, z.patch, SHELF)}
        assert {"support", "disconnect"} <= groups, z.zone.name
    names = [t.zone.name for t in order_of(made.job, SHELF)]
    assert names == ["Battery stringer", "Transom", "Bow topside", "Foredeck"]


def test_stated_pulls_belong_to_what_a_zone_carries(job):
    assert loads_of(job.zone("z1"), "metric") == "Stated loads: mooring bollard 6000 N."
    assert "lbf" in loads_of(job.zone("z1"), "us") and loads_of(job.zone("z4"), "metric") == ""


def test_an_item_stays_open_until_it_is_ticked_with_a_note(job):
    ticked = tick("z1", "deck-support", "two shores under the cut").change(job)
    before, after = (plan(j, SHELF) for j in (job, ticked))
    open_ids = [{n.id for n in p.notices} for p in (before, after)]
    assert "z1.before.deck-support" in open_ids[0] and "z1.before.deck-support" not in open_ids[1]
    again = tick("z1", "deck-support", None).change(ticked)
    assert again.zone("z1").ticks == job.zone("z1").ticks


def test_fittings_come_out_only_where_they_stand_in_the_cut(made):
    deck, hull = made.zone("z1"), made.zone("z4")
    assert "fittings" in {s.item.id for s in checklist(deck.zone, deck.patch, SHELF)}
    assert "fittings" not in {s.item.id for s in checklist(hull.zone, hull.patch, SHELF)}
    assert Scheme().access.marks == () and Fitting(id="f", name="x", x=0, y=0, width=m(0.1), height=m(0)).pull is None


@pytest.mark.parametrize(("side", "beds"), [("outside", 1), ("above", 2)])
def test_between_standing_skins_a_core_leaves_room_for_two_beds(job, side, beds):
    zone = job.zone("z2")
    zone = evolve(zone, scheme=rescheme(zone.scheme, side=side, bedding=m(0.007)))
    z = plan(evolve(job, zones=(zone,)), SHELF).zone("z2")
    assert z.comparison is not None and z.comparison.old_sandwich is not None
    for choice in core_choices(zone, z.patch, z.comparison, SHELF):
        if not choice.core.poured:
            assert choice.thickness + choice.shim == pytest.approx(0.036 - beds * 0.007)
            assert choice.thickness == pytest.approx(sheet_for(choice.core, 0.036 - beds * 0.007))


def test_the_beds_stand_among_what_the_panels_figures_came_from(made):
    inputs = {g.name: g.value for g in made.zone("z1").by_id["panel.bend.along.new"].inputs}
    assert inputs["beds and shim of putty"] == pytest.approx(0.0015)
    kept = evolve(DECK, scheme=rescheme(DECK.scheme, core=None, core_thickness=None))
    without = plan(evolve(demo_job(), zones=(kept,)), SHELF).zone("z1").by_id["panel.bend.along.new"]
    assert all(g.name != "beds and shim of putty" for g in without.inputs)
