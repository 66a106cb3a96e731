"""Every check worked again from the solved panel or beam, with its limit put together by hand."""

from __future__ import annotations

from math import pi

import numpy as np
import pytest
from tests.bed import bed_job as demo_job

from ribpatch.core.job import Zone
from ribpatch.core.plan import plan
from ribpatch.core.proof import Loads, Span, Well
from ribpatch.core.record import built, evolve
from ribpatch.core.structure.cases import spot_of, zone_pressure
from ribpatch.core.structure.laminates import bad_laminate
from ribpatch.core.structure.members import member_parts, plating_parts
from ribpatch.core.structure.panel_records import Box
from ribpatch.core.structure.pressure import BoatSize, area_of, design_pressure, size_of
from ribpatch.core.structure.proved import Check, Proved, regions
from ribpatch.core.structure.stiffness import layered_shear, sandwich_shear
from ribpatch.core.structure.transom import engine_cases, pad_pressure
from ribpatch.core.structure.zone_panel import edges_of, usual_hold
from ribpatch.core.units import usual
from ribpatch.core.zone_plan import ZonePlan
from ribpatch.library.shelf import shipped_shelf

SHELF, JOB = shipped_shelf(), demo_job()


def made(zone: Zone) -> ZonePlan:
    return plan(evolve(JOB, zones=tuple(zone if z.id == zone.id else z for z in JOB.zones)), SHELF).zone(zone.id)


def panel_of(zone: Zone) -> Proved:
    found = made(zone).strength.proved
    assert found is not None
    return found


def one(checks: tuple[Check, ...], key: str) -> Check:
    return next(c for c in checks if c.key == key)


DECK = panel_of(JOB.zone("z1"))
SIDE = panel_of(JOB.zone("z4"))
TRANSOM = panel_of(JOB.zone("z2"))


def test_deflection_is_the_greatest_anywhere_against_a_share_of_the_span() -> None:
    field = DECK.field("repaired", "stand")
    check = one(DECK.checks_in("repaired"), "deflection.stand")
    grid = field.on_grid(np.linspace(0, DECK.panel.a, 301), np.linspace(0, DECK.panel.b, 301))["w"]
    assert check.value == pytest.approx(float(grid.max()), rel=1e-3)
    assert check.limit == pytest.approx(0.01 * DECK.panel.span)
    assert one(SIDE.checks_in("repaired"), "deflection.pressure").limit == pytest.approx(0.02 * SIDE.panel.span)
    assert one(TRANSOM.checks_in("repaired"), "deflection.thrust").limit == pytest.approx(0.01 * TRANSOM.panel.span)
    stated = evolve(JOB.zone("z4").proof, loads=Loads(limit=usual(200)))
    limit = one(panel_of(evolve(JOB.zone("z4"), proof=stated)).checks_in("repaired"), "deflection.pressure").limit
    assert limit == pytest.approx(SIDE.panel.span / 200)


def test_the_span_counts_twice_where_one_side_is_free() -> None:
    assert TRANSOM.panel.edges.all == ("C", "C", "C", "F")
    assert TRANSOM.panel.span == pytest.approx(min(2.3, 2 * 0.7))
    both = Span(left="free", right="free", length=usual(1.0), width=usual(0.8))
    assert panel_of(evolve(JOB.zone("z4"), proof=evolve(JOB.zone("z4").proof, span=both))).panel.span == 0.8


def test_strain_is_held_against_half_of_first_ply_in_every_region() -> None:
    check = one(SIDE.checks_in("damaged"), "strain")
    field = SIDE.field("damaged", "pressure")
    x, y = np.meshgrid(np.linspace(1e-6, SIDE.panel.a - 1e-6, 241), np.linspace(1e-6, SIDE.panel.b - 1e-6, 241))
    parts = field.at(x, y)
    k = np.stack([parts["kx"], parts["ky"], parts["kxy"]], -1)
    shares = [lam.strain_use(k[mask]).max() for mask, lam in regions(SIDE.panel, "damaged", x, y, SHELF)[:1]]
    assert len(regions(SIDE.panel, "damaged", x, y, SHELF)) == 2
    assert len(regions(SIDE.panel, "before", x, y, SHELF)) == 1
    assert check.value == pytest.approx(float(shares[0]), rel=0.02)
    assert check.limit == 0.5


def test_core_shear_from_a_panels_thickness_beyond_what_presses() -> None:
    check = one(DECK.checks_in("before"), "shear")
    t = DECK.panel.laminate.thickness
    worst = 0.0
    for case, field in zip(DECK.cases, DECK.fields("before"), strict=True):
        box = case.loads[0].box
        x, y = np.meshgrid(np.linspace(1e-6, DECK.panel.a - 1e-6, 401), np.linspace(1e-6, DECK.panel.b - 1e-6, 401))
        parts = field.at(x, y)
        away = (x <= box.x0 - t) | (x >= box.x1 + t) | (y <= box.y0 - t) | (y >= box.y1 + t)
        worst = max(worst, float(np.hypot(parts["qx"], parts["qy"])[away].max()))
    sandwich = DECK.panel.laminate.sandwich
    assert sandwich is not None
    assert DECK.panel.laminate.core_capacity() == pytest.approx(sandwich.core.shear_strength * sandwich.d)
    assert check.value == pytest.approx(worst / DECK.panel.laminate.core_capacity(), rel=0.12)
    assert check.limit == 0.5
    assert not [c for c in SIDE.checks_in("before") if c.key == "shear"]


def test_crushing_is_the_landing_on_both_feet() -> None:
    check = one(DECK.checks_in("before"), "crushing")
    assert check.value == pytest.approx(3 * 1000 / 0.1**2)
    assert check.limit == pytest.approx(SHELF.core("balsa-150").compressive_strength / 2)
    x, y = DECK.cases[0].loads[0].box.centre
    bad = DECK.panel.laminate_at("damaged", x, y, SHELF).sandwich
    assert bad is not None and bad.stiff < 1
    damaged = one(DECK.checks_in("damaged"), "crushing")
    assert damaged.limit == pytest.approx(check.limit * bad.stiff)
    new = one(DECK.checks_in("repaired"), "crushing")
    assert new.limit == pytest.approx(SHELF.core("foam-pvc-130").compressive_strength / 2)


def test_clamp_and_washers_by_hand() -> None:
    zone = JOB.zone("z2")
    engine = zone.proof.engine
    assert engine is not None
    cases = engine_cases(engine, TRANSOM.panel, SHELF)
    slam = cases[2]
    lever = 0.21 * 0.875
    pad = one(TRANSOM.checks_in("repaired"), "pad")
    assert pad_pressure(slam, engine) == pytest.approx((slam.moment / lever + slam.force / 2) / (0.33 * 0.21 * 0.25))
    assert pad.value == pytest.approx(pad_pressure(slam, engine)) and pad.case == "slam at full thrust"
    washer = one(TRANSOM.checks_in("repaired"), "washer")
    tension = (slam.moment / lever - slam.force / 2) / 2
    assert washer.value == pytest.approx(tension / (pi / 4 * (0.075**2 - 0.0125**2)))
    assert washer.limit == pad.limit == pytest.approx(SHELF.core("ply-marine").compressive_strength / 2)
    assert (washer.note != "") == (washer.margin < 1)
    assert washer.local and pad.local and not one(TRANSOM.checks_in("repaired"), "strain").local


def test_edges_hand_on_what_the_plate_gives_them() -> None:
    check = one(SIDE.checks_in("before"), "edge")
    field = SIDE.field("before", "pressure")
    t = np.linspace(0.1, 0.9, 33)
    a, b = SIDE.panel.a, SIDE.panel.b
    flows = [np.abs(field.at(np.full(33, x), t * b)["qx"]).max() for x in (0.0, a)]
    flows += [np.abs(field.at(t * a, np.full(33, y))["qy"]).max() for y in (0.0, b)]
    assert check.value == pytest.approx(max(flows) / (2 * SHELF.rule("tab.least")))
    zone = JOB.zone("z4")
    worse = next(p for p in SHELF.preparations if p.factor < 1)
    rough = evolve(zone, scheme=evolve(zone.scheme, bond=evolve(zone.scheme.bond, preparation=worse.id)))
    limit = one(panel_of(rough).checks_in("before"), "edge").limit
    resin = SHELF.resin(zone.scheme.resin.main)
    assert limit == pytest.approx(resin.bond_shear * worse.factor / zone.scheme.bond.factor.si)


def test_even_pressure_is_carried_by_the_edges() -> None:
    """All the shear round the panel is the pressure on it."""
    (case,) = SIDE.cases
    field = SIDE.fields("before")[0]
    a, b = SIDE.panel.a, SIDE.panel.b
    z, weight = np.polynomial.legendre.leggauss(40)
    t = (z + 1) / 2
    total = 0.0
    for x, sign in ((0.0, 1), (a, -1)):
        total += sign * float((weight / 2 * b) @ field.at(np.full(40, x), t * b)["qx"])
    for y, sign in ((0.0, 1), (b, -1)):
        total += sign * float((weight / 2 * a) @ field.at(t * a, np.full(40, y))["qy"])
    assert abs(total) == pytest.approx(case.force, rel=0.02)


def test_bad_solid_laminate_keeps_a_share_of_both_stiffnesses() -> None:
    whole = SIDE.panel.laminate
    for end, share in ((0, 0.75), (1, 0.5), (2, 0.25)):
        bad = bad_laminate(whole, "rotted", None, end, SHELF)
        assert pytest.approx(whole.stiffness.D * share) == bad.stiffness.D
        assert pytest.approx(whole.stiffness.S * share) == bad.stiffness.S
    stated = bad_laminate(whole, "wet", 0.3, 0, SHELF)
    assert pytest.approx(whole.stiffness.D * 0.3) == stated.stiffness.D


def test_margin_figures_carry_the_limit_that_they_are_held_against() -> None:
    by_id = made(JOB.zone("z1")).strength.by_id
    check = one(DECK.checks_in("repaired"), "strain")
    assert by_id["repaired.strain"].value == pytest.approx(check.value)
    assert by_id["repaired.strain"].limit == 0.5
    assert by_id["repaired.strain.margin"].limit == 1.0
    assert by_id["repaired.strain.margin"].value == pytest.approx(0.5 / check.value)


def test_where_a_person_stands_and_how_sides_are_usually_held() -> None:
    zone = JOB.zone("z1")
    bare = evolve(zone, proof=evolve(zone.proof, loads=Loads()))
    found = panel_of(bare)
    assert spot_of(bare, found.panel) == found.panel.bad_areas[0].centre
    sound = evolve(bare, survey=evolve(bare.survey, readings=(), references=()))
    quiet = panel_of(sound)
    assert spot_of(sound, quiet.panel) == (quiet.panel.a / 2, quiet.panel.b / 2)
    assert [usual_hold(JOB.zone("z2"), s) for s in ("left", "top")] == ["supported", "free"]
    assert usual_hold(JOB.zone("z4"), "left") == "clamped"
    edges, assumed = edges_of(evolve(JOB.zone("z4"), proof=evolve(JOB.zone("z4").proof, span=Span())))
    assert edges.all == ("C", "C", "C", "C") and len(assumed) == 4


def test_parts_of_the_boat_and_their_pressure() -> None:
    assert [area_of(z, JOB.boat) for z in JOB.zones] == ["deck", "transom", "bottom", "side"]
    z4, panel = JOB.zone("z4"), SIDE.panel
    wanted = design_pressure(size_of(JOB.boat), "side", (0.75, 0.45), 7.3 + 0.375, 0.5 + 0.225).value
    assert zone_pressure(z4, panel, JOB.boat) == pytest.approx(wanted)
    assert SIDE.cases[0].force == pytest.approx(wanted * 0.75 * 0.45)


def test_pressure_of_decks_and_sides_of_a_sea_boat_by_hand() -> None:
    sea = BoatSize(12.0, 11.0, 3.8, 1.8, 9000, "A")
    k = (1.5 - 3e-4 * 400) * 0.1 * 9000**0.15 / (0.4 * 0.6) ** 0.3
    base_deck, base_bottom = 350 * 11 + 14_600, 2400 * 9000**0.33 + 20_000
    assert design_pressure(sea, "deck", (0.6, 0.4), 8.0, 2.0).value == pytest.approx(base_deck * k)
    assert design_pressure(sea, "bottom", (0.6, 0.4), 8.0, 0.0).value == pytest.approx(base_bottom * k)
    aft = design_pressure(sea, "bottom", (0.6, 0.4), 0.0, 0.0)
    assert aft.along == 0.5 and aft.value == pytest.approx(max(base_bottom * k * 0.5, 450 * 9000**0.33 + 900 * 11))
    over = (1.2 - 0.4 * 1.8) / (0.6 * 1.8)
    side = base_deck + (1 - over) * (base_bottom - base_deck)
    assert design_pressure(sea, "side", (0.6, 0.4), 8.0, 1.2).value == pytest.approx(side * k)


def test_shear_of_layers_by_hand() -> None:
    t, zero = np.array([0.004, 0.006]), np.zeros(2)
    alike = layered_shear(t, zero, np.full(2, 3e9), np.full(2, 2e9))
    assert np.diag(alike) == pytest.approx(5 / 6 * 0.01 * np.array([3e9, 2e9]))
    turned = layered_shear(t, np.full(2, 90.0), np.full(2, 3e9), np.full(2, 2e9))
    assert np.diag(turned) == pytest.approx(np.diag(alike)[::-1])
    cores = np.array([False, True, True, False])
    layers = np.array([0.002, 0.01, 0.02, 0.004])
    S = sandwich_shear(layers, np.zeros(4), np.array([1e9, 4e7, 2e7, 1e9]), np.array([1e9, 4e7, 2e7, 1e9]), cores)
    d = 0.03 + 0.003
    assert S[0, 0] == pytest.approx(d**2 / (0.01 / 4e7 + 0.02 / 2e7))


def test_parts_of_members_by_hand() -> None:
    member = JOB.zone("z2").scheme.members[0]
    hat = evolve(member, kind="hat", height=usual(0.06), width=usual(0.05), wall=usual(0.004), flange=usual(0.03))
    wall = TRANSOM.panel.wall

    def areas(**changes: object) -> dict[str, float]:
        return {p.name: p.area for p in member_parts(evolve(hat, **changes), wall, SHELF)}

    assert areas() == pytest.approx({"webs": 0.008 * 0.056, "crown": 0.05 * 0.004, "flanges": 0.06 * 0.004})
    assert "flanges" not in areas(kind="box")
    assert areas(kind="angle")["flanges"] == pytest.approx(0.03 * 0.004)
    assert areas(kind="I")["web"] == pytest.approx(0.004 * 0.056)
    filled = areas(filling="foam-pvc-130", counted=True)
    assert filled["filling"] == pytest.approx(0.042 * 0.056)
    assert "filling" not in areas(filling="foam-pvc-130", counted=False)
    # What is laid: two skins, however far apart; one sheet where they meet.
    assert areas(kind="flat")["web"] == areas(kind="knee")["web"] == pytest.approx(0.008 * 0.06)
    assert areas(kind="flat", width=usual(0.006))["web"] == pytest.approx(0.006 * 0.06)
    parts = plating_parts(DECK.panel.laminate, "x", 0.4)
    assert [p.name for p in parts] == ["near skin", "core", "far skin"]
    assert parts[0].top == 0.0 and parts[1].top == pytest.approx(parts[0].bottom)
    assert parts[2].top == pytest.approx(parts[1].bottom)
    assert sum(p.height for p in parts) == pytest.approx(DECK.panel.laminate.thickness)


def test_boxes_are_told_by_their_corners() -> None:
    box = Box(1.0, 2.0, 1.5, 2.2)
    assert box.size == pytest.approx((0.5, 0.2)) and box.centre == pytest.approx((1.25, 2.1))


def with_well(**stated: object) -> Zone:
    zone = JOB.zone("z2")
    well = built(Well, width=usual(0.5), length=usual(0.4), floor=usual(0.3), wall=usual(0.006), **stated)
    return evolve(zone, proof=evolve(zone.proof, well=well))


def test_a_well_stands_on_the_transom_where_it_is_stated_and_holds_by_its_own_plane() -> None:
    made_of = panel_of(with_well())
    panel = made_of.panel
    floor, left, right = panel.held_by_well(SHELF)
    E = float(panel.wall.plate.in_plane[0])
    assert floor.k == left.k == right.k == pytest.approx(0.5 * E * 0.006 / 0.4)
    assert (floor.axis, floor.place, left.axis) == ("x", 0.3, "y")
    middle = panel.a / 2
    assert (left.place, right.place) == pytest.approx((middle - 0.25, middle + 0.25))
    assert (floor.start, floor.end, left.start, left.end) == pytest.approx((left.place, right.place, 0.3, panel.b))
    aside = panel_of(with_well(x=panel.x0 + 0.4)).panel.held_by_well(SHELF)[1]
    assert aside.place == pytest.approx(0.15)


def test_what_a_well_takes_the_edges_do_not() -> None:
    """The force on the lines, by their deflection, and what it does to the transom, against one without a well."""
    made_of = panel_of(with_well(leg=usual(0.04)))
    bare, held = TRANSOM.checks_in("repaired"), made_of.checks_in("repaired")
    assert abs(one(held, "deflection.thrust").value) < 0.7 * abs(one(bare, "deflection.thrust").value)
    flow, _, name = made_of.well("repaired")
    most = 0.0
    for case, field in zip(made_of.cases, made_of.fields("repaired"), strict=True):
        if case.name == name:
            for line in made_of.panel.held_by_well(SHELF):
                s = np.linspace(line.start or 0, line.end or 0, 400)
                place = np.full(400, line.place)
                w = field.at(s, place)["w"] if line.axis == "x" else field.at(place, s)["w"]
                most = max(most, line.k * float(np.abs(w).max()))
    assert flow == pytest.approx(most, rel=0.01)
    check = one(held, "well")
    assert check.value == pytest.approx(flow / 0.08) and check.limit == one(held, "edge").limit
    assert TRANSOM.well("repaired") == (0.0, 0.0, "") and not [c for c in bare if c.key == "well"]


def test_a_well_beside_the_transom_is_told_and_a_deck_has_none() -> None:
    wide = with_well(x=0.1)
    fault = made(wide).strength.fault
    assert "well is wider than the transom" in fault and "lowest edge" in fault
    deck = JOB.zone("z1")
    assert panel_of(evolve(deck, proof=evolve(deck.proof, well=wide.proof.well))).panel.held_by_well(SHELF) == ()
    told = [n for n in made(with_well()).prove_notices("metric") if n.id.endswith("prove.well")]
    assert len(told) == 1 and "hold its forward end" in told[0].text


def test_a_bracket_moves_the_engine_aft_and_up_and_hangs_with_half_its_length() -> None:
    engine = JOB.zone("z2").proof.engine
    assert engine is not None
    far = evolve(engine, setback=usual(0.6), bracket_mass=usual(30.0), bracket_raise=usual(0.1))
    plain, moved = engine_cases(engine, TRANSOM.panel, SHELF), engine_cases(far, TRANSOM.panel, SHELF)
    thrust, g = 80_000 * SHELF.rule("prove.thrust"), 9.80665
    hung = 165 * g * (0.23 + 0.6) + 30 * g * 0.3
    assert moved[0].moment == pytest.approx(thrust * (0.62 - 0.1) + hung)
    assert moved[1].moment == pytest.approx(-0.6 * thrust * (0.62 - 0.1) + hung)
    assert moved[3].moment == pytest.approx(SHELF.rule("prove.trailer") * hung)
    assert plain[0].moment == pytest.approx(thrust * 0.62 + 165 * g * 0.23)
