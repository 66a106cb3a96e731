"""The rest by hand: what is left in place, joints, edits, refusals' edges, names, words of what is told."""

from __future__ import annotations

import numpy as np
import pytest
from tests.bed import bed_job as demo_job
from tests.core.structure.second_calculations import plain

from ribpatch.core.edits import draw_cut, draw_extent
from ribpatch.core.errors import BadStructure, InvalidValue
from ribpatch.core.job import Zone
from ribpatch.core.plan import plan
from ribpatch.core.proof import RunLoad, Span
from ribpatch.core.proof_edits import add_member, flex_at, state_engine
from ribpatch.core.record import evolve
from ribpatch.core.remedies import HEIGHTS, PLIES, ask_back, remedy_table, ways_of, worked
from ribpatch.core.structure.beam import Beam, BeamLoad, Prop, solve_beam
from ribpatch.core.structure.panel_records import Box, Edges, Panel, PlateLoad, PlateStiffener
from ribpatch.core.structure.panel_solver import solve_panel
from ribpatch.core.structure.pressure import BoatSize, along_factor, area_factor, design_pressure
from ribpatch.core.structure.proved import regions
from ribpatch.core.structure.scantlings import Change, becomes_light, plies_of
from ribpatch.core.structure.transom import clamp_box
from ribpatch.core.structure.zone_panel import boxes_of, panel_box
from ribpatch.core.units import Measure, usual
from ribpatch.core.zone_plan import ZonePlan
from ribpatch.library import demo
from ribpatch.library.shelf import shipped_shelf

SHELF, JOB = shipped_shelf(), demo_job()


def made(zone: Zone) -> ZonePlan:
    return plan(evolve(JOB, zones=tuple(zone if z.id == zone.id else z for z in JOB.zones)), SHELF).zone(zone.id)


def box_ring(x0: float, y0: float, x1: float, y1: float) -> tuple[tuple[float, float], ...]:
    return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))


# ---- what is left in place, by region


def test_what_the_cut_leaves_stays_bad_and_what_it_takes_is_new() -> None:
    job = draw_extent("z4", (box_ring(0.5, 0.2, 1.0, 0.5),)).change(JOB)
    job = draw_cut("z4", (box_ring(0.45, 0.15, 0.75, 0.55),)).change(job)
    zone = job.zone("z4")
    zone = evolve(zone, proof=evolve(zone.proof, span=Span(length=usual(1.5), width=usual(0.72))))
    proved = made(zone).strength.proved
    assert proved is not None
    panel = proved.panel
    (left,) = panel.left_areas
    x0, y0, x1, y1 = panel.x0, panel.y0, panel.x0 + panel.a, panel.y0 + panel.b
    assert (x1 - x0, y1 - y0) == pytest.approx((1.5, 0.72))
    assert (left.x0 + x0, left.x1 + x0) == pytest.approx((0.75, 1.0), abs=0.01)
    assert left.size[0] * left.size[1] == pytest.approx(0.25 * 0.3, rel=0.02)
    (new,) = panel.new_areas
    assert new.size == pytest.approx((0.3, 0.4), abs=0.02)
    at = panel.laminate_at("repaired", left.centre[0], left.centre[1], SHELF)
    assert at.share == pytest.approx(0.5)
    assert panel.laminate_at("repaired", *new.centre, SHELF) is panel.rebuilt
    assert panel.laminate_at("repaired", 0.001, 0.001, SHELF) is panel.laminate
    assert panel.laminate_at("before", *left.centre, SHELF) is panel.laminate
    assert panel.laminate_at("damaged", *new.centre, SHELF).share in (0.5, 1.0)
    x, y = (np.array([[v]]) for v in left.centre)
    named = [lam.share for mask, lam in regions(panel, "repaired", x, y, SHELF) if mask.all()]
    assert named == [1.0, 0.5]
    stiff = panel.panel("repaired", SHELF)
    assert len(stiff.zones) == 2 and not panel.panel("before", SHELF).zones
    assert pytest.approx(panel.laminate.stiffness.D / 2) == stiff.zones[0].stiffness.D


def test_the_largest_rectangle_in_a_triangle() -> None:
    """Of the box's proportions round the centroid of a right triangle of sides 1: its far corner meets the slope."""
    zone = JOB.zone("z4")
    triangle = evolve(zone, outline=((0.0, 0.0), (1.0, 0.0), (0.0, 1.0)), fittings=(), edges=())
    triangle = evolve(triangle, proof=evolve(triangle.proof, span=Span(outline="inscribed")))
    x0, y0, a, b, _ = panel_box(triangle)
    assert a == pytest.approx(1 / 3, rel=1e-3) and b == pytest.approx(a)
    assert (x0 + a / 2, y0 + b / 2) == pytest.approx((1 / 3, 1 / 3), abs=1e-6)


def test_slivers_at_the_edge_are_taken_in_and_crumbs_left_out() -> None:
    from shapely.geometry import MultiPolygon, box

    (only,) = boxes_of(box(0.02, 0.3, 0.5, 0.5), (0.0, 0.0), (1.0, 1.0))
    assert only.x0 == 0.0 and only.x1 == pytest.approx(0.5) and only.y0 == pytest.approx(0.3)
    (other,) = boxes_of(box(0.5, 0.3, 0.98, 0.5), (0.0, 0.0), (1.0, 1.0))
    assert other.x1 == 1.0
    assert boxes_of(box(0.5, 0.3, 0.508, 0.5), (0.0, 0.0), (1.0, 1.0)) == ()
    many = MultiPolygon([box(0.1 + 0.15 * k, 0.4, 0.15 + 0.15 * k, 0.5 + 0.01 * k) for k in range(6)])
    assert len(boxes_of(many, (0.0, 0.0), (1.0, 1.0))) == 4


# ---- loads


def test_pads_and_clamps_stay_on_the_panel() -> None:
    proved = made(JOB.zone("z2")).strength.proved
    assert proved is not None
    panel = proved.panel
    corner = panel.box_round((99.0, -5.0), (0.1, 0.1))
    assert (corner.x1, corner.y0) == pytest.approx((panel.a, 0.0))
    engine = JOB.zone("z2").proof.engine
    assert engine is not None
    low = clamp_box(evolve(engine, height=usual(0.0)), panel)
    assert low.y0 == 0.0 and low.size == pytest.approx((0.33, 0.21))
    top = clamp_box(evolve(engine, height=None, x=0.2), panel)
    assert top.y1 == pytest.approx(panel.b) and top.centre[0] == pytest.approx(0.2 - panel.x0)
    assert clamp_box(engine, panel).centre == pytest.approx((panel.a / 2, 0.52))


def test_sides_and_transoms_have_their_least_pressure_and_factors_their_ends() -> None:
    large = BoatSize(20.0, 18.0, 5.0, 2.5, 200, "A")
    made_ = design_pressure(large, "side", (4.0, 3.0), 0.0, 9.0)
    assert made_.value == made_.least == pytest.approx(900 * 18.0)
    assert design_pressure(large, "deck", (4.0, 3.0), 0.0, 9.0).value == 5000.0
    assert along_factor(0.6) == 1.0 and along_factor(0.3) == pytest.approx(0.75) and along_factor(-1.0) == 0.5
    assert area_factor(1.0, 0.5, 3400, stiffener=True) == pytest.approx((1 - 0.2) * 0.1 * 3400**0.15 / 0.5**0.3)
    assert area_factor(0.02, 0.02, 50_000) == 1.0 and area_factor(8.0, 8.0, 50) == 0.25
    assert area_factor(9.0, 0.5, 3400) == pytest.approx((1.5 - 0.15) * 0.1 * 3400**0.15 / (2.5 * 0.25) ** 0.3)


def test_layers_of_a_cloth_for_a_thickness() -> None:
    count, one = plies_of(0.0069, "biax-45-800", SHELF, "epoxy-5-1-slow")
    assert count == int(np.ceil(0.0069 / one - 1e-6)) and 0.0005 < one < 0.002


def test_the_least_pressure_on_a_bottom_and_how_far_a_thickening_runs() -> None:
    wide = design_pressure(BoatSize(9.6, 8.7, 2.9, 1.3, 3400, "D"), "bottom", (4.0, 4.0), 0.0, 0.0)
    assert wide.value == wide.least == pytest.approx(450 * 3400**0.33 + 900 * 8.7 * 0.4)
    rows = {r.key: r for r in becomes_light(JOB.boat, Change(length=2.0, chain_plates=True), (1.0, 0.5), 0.3, 0.0)}
    for key in ("keel", "transom", "chain-plates"):
        assert rows[key].reach == pytest.approx(40 * (rows[key].then - rows[key].now) + 0.1)
    # A pad, a frame or a bulkhead grows itself, and a shell is thicker all over: nothing of them runs out.
    assert all(row.reach is None for key, row in rows.items() if key not in ("keel", "transom", "chain-plates"))
    assert {"pad", "frame", "bulkhead", "bottom"} <= rows.keys()


@pytest.mark.parametrize(
    ("edges", "factor"),
    [("SS", 48), ("CC", 192), ("CS", 48 * 16 / 7), ("SC", 48 * 16 / 7)],
)
@pytest.mark.parametrize("axis", ["x", "y"])
def test_a_stiff_member_on_a_limp_panel_is_a_beam_held_as_the_edges_are(edges: str, factor: float, axis: str) -> None:
    """A force on its middle: F L3 / 48, 192, and 7 F L3 / 768 EI."""
    limp = plain(t=0.0004)
    if axis == "x":
        panel = Panel(1.0, 0.8, Edges(edges[0], edges[1], "S", "S"), limp, (), (PlateStiffener("x", 0.4, 500.0),))  # type: ignore[arg-type]  # letters
        load, at = Box(0.5, 0.4, 0.5, 0.4), (0.5, 0.4)
    else:
        panel = Panel(0.8, 1.0, Edges("S", "S", edges[0], edges[1]), limp, (), (PlateStiffener("y", 0.4, 500.0),))  # type: ignore[arg-type]  # letters
        load, at = Box(0.4, 0.5, 0.4, 0.5), (0.4, 0.5)
    field = solve_panel(panel, ((PlateLoad(load, 10.0),),)).field
    assert float(field.at(*map(np.array, at))["w"]) == pytest.approx(10.0 / (factor * 500.0), rel=0.01)


def test_a_member_along_a_free_edge_carries_as_one_inside_does() -> None:
    limp = plain(t=0.0004)
    for place in (0.0, 0.8):
        edges = Edges("S", "S", "F" if place == 0 else "S", "F" if place > 0 else "S")
        panel = Panel(1.0, 0.8, edges, limp, (), (PlateStiffener("x", place, 500.0),))
        field = solve_panel(panel, ((PlateLoad(Box(0.5, place, 0.5, place), 10.0),),)).field
        assert float(field.at(np.array(0.5), np.array(place))["w"]) == pytest.approx(10.0 / (48 * 500.0), rel=0.01)


# ---- beams at their edges


def test_what_a_beam_may_be_and_what_not() -> None:
    load = BeamLoad(0.0, 0.0, 5.0)
    assert solve_beam(Beam(1000.0, 1.0), (load,)).reactions[0] == pytest.approx(5.0)
    with pytest.raises(BadStructure, match="m long"):
        solve_beam(Beam(1000.5, 1.0), (load,))
    with pytest.raises(BadStructure, match="one place"):
        solve_beam(Beam(2.0, 1.0, props=(Prop(0.0),)), (load,))
    with pytest.raises(BadStructure, match="mechanism"):
        solve_beam(Beam(2.0, 1.0, ("F", "F"), props=(Prop(0.5), Prop(1.0, 0.0))), (load,))
    hung = solve_beam(Beam(2.0, 1.0, ("F", "F"), props=(Prop(0.5), Prop(1.5, 10.0))), (BeamLoad(1.5, 1.5, 4.0),))
    assert hung.at(1.5)[0] == pytest.approx(0.4) and hung.at(0.5)[0] == pytest.approx(0.0, abs=1e-12)
    w, x = hung.greatest(hung.w)
    assert abs(w) == np.abs(hung.w).max() and x in (0.0, 2.0)


# ---- joints


def test_a_joints_bond_is_held_against_its_own_preparation() -> None:
    worse = next(p for p in SHELF.preparations if p.factor < 1)
    zone = evolve(JOB.zone("z3"), kind="tabbing run")
    scheme = evolve(zone.scheme, bond=evolve(zone.scheme.bond, preparation=worse.id))
    tab = made(evolve(zone, scheme=scheme)).strength.tab
    assert tab is not None
    bond, plies, leg = tab.checks_in("repaired")
    resin = SHELF.resin(scheme.resin.main)
    assert bond.limit == pytest.approx(resin.bond_shear * worse.factor / scheme.bond.factor.si)
    assert plies.value == pytest.approx(tab.load / 2)
    assert leg.margin == pytest.approx(tab.new_leg / max(10 * tab.layup("repaired").thickness, 0.05))
    assert tab.states == ("before", "damaged", "repaired") and tab.layup("before") is tab.old
    spacing = evolve(zone, proof=evolve(zone.proof, run=RunLoad(spacing=usual(0.9))))
    wide = made(spacing).strength.tab
    assert wide is not None and wide.load > 1.3 * tab.load


# ---- edits


def test_stiffeners_begin_across_the_shorter_side_with_their_own_sizes() -> None:
    tall = evolve(JOB.zone("z4"), outline=box_ring(0.0, 0.0, 0.5, 2.0), edges=())
    job = evolve(JOB, zones=(*JOB.zones[:3], tall))
    (hat,) = add_member(tall, "hat").change(job).zone("z4").scheme.members
    assert hat.axis == "x" and hat.place == pytest.approx(1.0) and hat.width.si == 0.06 and hat.name == "hat 1"
    (flat,) = add_member(tall, "flat").change(job).zone("z4").scheme.members
    assert flat.width.si == 0.02
    (knee,) = add_member(tall, "knee").change(job).zone("z4").scheme.members
    assert (knee.axis, knee.start, knee.end, knee.height.si) == ("y", 0.0, 1.8, 0.2)
    two = add_member(add_member(tall, "hat").change(job).zone("z4"), "box").change(add_member(tall, "hat").change(job))
    assert [m.id for m in two.zone("z4").scheme.members] == ["m1", "m2"]


def test_a_reading_of_nothing_is_refused_and_an_engine_has_usual_values() -> None:
    with pytest.raises(InvalidValue, match="says nothing"):
        flex_at(JOB.zone("z1"), (1.0, 0.0), Measure(si=100.0), Measure(si=0.0))
    flex = flex_at(JOB.zone("z1"), (1.0, 0.25), Measure(si=100.0), Measure(si=0.001))
    assert (flex.id, flex.x, flex.y) == ("x2", 1.0, 0.25)
    engine = state_engine(JOB.zone("z2"), True).change(JOB).zone("z2").proof.engine
    assert engine is not None and (engine.power.si, engine.mass.si) == (40_000, 100)


# ---- remedies


def test_the_answer_is_the_first_amount_that_does_of_all() -> None:
    zone = JOB.zone("z4")
    loads = evolve(zone.proof.loads, pressure=usual(60_000.0))
    zone_plan = made(evolve(zone, proof=evolve(zone.proof, loads=loads)))
    way = next(w for w in ways_of(zone_plan) if w.key == "stiffener")

    def margin(amount: float) -> float:
        proved = worked(zone_plan, way.make(amount)).strength.proved
        assert proved is not None
        return next(c.margin for c in proved.checks_in("repaired") if c.key == "deflection.pressure")

    margins = [margin(a) for a in way.amounts]
    first = next(n for n, m in enumerate(margins) if m >= 1)
    answer = next(a for a in ask_back(zone_plan, "deflection.pressure", "metric") if a.way == "stiffener")
    assert answer.scheme is not None and answer.scheme.members[-1].height.si == way.amounts[first]
    assert answer.margin == pytest.approx(margins[first]) and f"({margins[first]:.2f})" in answer.words


def test_names_and_amounts_of_the_ways() -> None:
    ways = {w.key: w for w in ways_of(plan(JOB, SHELF).zone("z2"))}
    assert ways["plies"].name(1, "metric") == "1 more ply" and ways["plies"].name(3, "metric") == "3 more plies"
    assert ways["core"].name(0.006, "metric") == "core 6.0 mm thicker"
    assert ways["plies"].amounts == PLIES == tuple(range(1, 13)) and ways["knee"].amounts == HEIGHTS
    assert HEIGHTS[0] == 0.02 and HEIGHTS[-1] == 0.25 and list(HEIGHTS) == sorted(HEIGHTS)
    assert [w.usual for w in ways.values()] == [2, 0.006, 0.0, 0.06, 0.2, 0.2]


def test_each_way_makes_the_scheme_that_it_says() -> None:
    zone_plan = plan(JOB, SHELF).zone("z2")
    ways = {w.key: w for w in ways_of(zone_plan)}
    old = zone_plan.zone.scheme
    more = ways["plies"].make(2).laminate.plies[-1]
    assert (more.fabric, more.count) == (old.laminate.plies[-1].fabric, 2)  # type: ignore[union-attr]  # lines
    core = ways["core"].make(0.006).core
    assert core.material == "ply-marine" and core.thickness is not None
    assert core.thickness.si == pytest.approx(0.0405)
    cap = ways["cap"].make(0.08).members[-1]
    assert (cap.kind, cap.axis, cap.place, cap.height.si, cap.flange.si) == ("box", "x", pytest.approx(0.75), 0.08, 0.0)
    (knee,) = ways["knee"].make(0.15).members[len(old.members) :]
    assert knee.place == pytest.approx(1.15) and knee.height.si == 0.15 and knee.kind == "knee"
    pair = ways["knees"].make(0.15).members[len(old.members) :]
    assert [k.place for k in pair] == pytest.approx([1.15 - 0.165, 1.15 + 0.165])
    parts = ways["knees"].make(0.15).parts[len(old.parts) :]
    assert [p.kind for p in parts] == ["knee", "knee"] and all(p.plies == old.laminate.plies for p in parts)
    assert parts[0].length.si == pytest.approx((pair[0].end or 0) - (pair[0].start or 0))
    assert worked(zone_plan, ways["plies"].make(2)).zone.others == ()


def test_no_table_of_remedies_without_a_repair_or_with_a_fault() -> None:
    bare = JOB.zone("z4")
    bare = evolve(bare, scheme=evolve(bare.scheme, laminate=evolve(bare.scheme.laminate, plies=())))
    assert remedy_table(made(bare), "metric") is None and ways_of(made(bare)) == ()
    loose = evolve(JOB.zone("z1").proof, span=Span(left="free", right="free", bottom="free", top="free"))
    faulty = made(evolve(JOB.zone("z1"), proof=loose))
    assert remedy_table(faulty, "metric") is None and ways_of(faulty) == ()
    assert faulty.strength.expected == {} and faulty.strength.explained == {}
    from ribpatch.core.tables import zone_table

    assert zone_table(faulty, "trial", "metric") is None and zone_table(faulty, "margins", "metric") is None
    assert zone_table(faulty, "scantlings", "metric") is not None


# ---- words


def test_warnings_say_what_is_short_by_how_much_and_how_grave() -> None:
    zone = JOB.zone("z4")
    loads = evolve(zone.proof.loads, pressure=usual(40_000.0))
    told = {n.id: n for n in made(evolve(zone, proof=evolve(zone.proof, loads=loads))).prove_notices("metric")}
    short = told["z4.prove.short.strain"]
    assert short.grave and "repaired as planned" in short.text and "50 %" in short.text and "margin 0." in short.text
    assert short.stage == "prove" and short.about == "margins" and short.clears
    quiet = made(JOB.zone("z4")).prove_notices("metric")
    assert not [n for n in quiet if "short" in n.id]
    assert [n.id for n in quiet] == ["z4.prove.assumed"]


def test_the_moved_load_and_the_knees_are_told_in_the_units_of_the_reader() -> None:
    metric, us = (
        " ".join(n.text for n in plan(JOB, SHELF, system).prove_notices_of("z2"))
        for system in ("metric", "us")  # type: ignore[arg-type]  # systems
    )
    assert "N·m" in metric and "lbf·ft" in us and "N·m" not in us


# ---- standing skins, stiffeners that nothing lays


def test_from_above_both_skins_stand_whatever_plies_are_stated() -> None:
    """Match and Prove against the same panel opened from inside with a skin like the old one: the core alone differs."""
    from tests.schemes import rescheme

    zone = JOB.zone("z2")
    above = evolve(zone, scheme=rescheme(zone.scheme, side="above", core_thickness=usual(0.033)))
    bare = evolve(above, scheme=rescheme(above.scheme, plies=()))
    for one in (above, bare):
        held = made(one).comparison
        assert held is not None and held.standing and held.panel is not None
        assert {h.key: h.ratio for h in held.skin.held} == pytest.approx({h.key: 1.0 for h in held.skin.held})
        panel = held.new_sandwich
        assert panel is not None and panel.below.thickness + panel.above.thickness == pytest.approx(0.009)
        # Two beds, the core and the shim fill the room of the old core.
        assert held.panel.ratio("thickness") == pytest.approx(1.0)
        notices = {n.id.removeprefix("z2.") for n in plan(evolve(JOB, zones=(one,)), SHELF).notices}
        assert not notices & {"thin", "proud", "no-plies"}
        proved = made(one).strength.proved
        assert proved is not None and proved.panel.rebuilt is not None
        assert proved.panel.rebuilt.skins == pytest.approx(proved.panel.laminate.skins - 0 + panel_beds(panel))
    assert not made(zone).comparison.standing  # type: ignore[union-attr]  # it has plies


def panel_beds(panel) -> float:  # type: ignore[no-untyped-def]  # a sandwich
    """What beds and shim add to what is no core."""
    return float(panel.under.thickness + panel.over.thickness)


def test_a_stiffener_that_a_scheme_adds_is_told_as_not_laid_and_one_that_stands_is_not() -> None:
    notices = {n.id: n for n in plan(JOB, SHELF).prove_notices_of("z2")}
    told = notices["z2.prove.not-laid"]
    assert "knee, port and knee, starboard" in told.text and "Not yet laid or bought" in told.text and not told.grave
    zone = JOB.zone("z2")
    stands = evolve(
        zone,
        scheme=evolve(zone.scheme, members=()),
        proof=evolve(zone.proof, members=zone.scheme.members),
    )
    job = evolve(JOB, zones=tuple(stands if z.id == "z2" else z for z in JOB.zones))
    assert not [n for n in plan(job, SHELF).prove_notices_of("z2") if "not-laid" in n.id]


DEMO = demo.demo_job()  # itself: other tests work on a job that leaves something to warn of


def test_a_knee_hands_its_load_to_a_stringer_that_is_bad_or_whose_repair_is_planned() -> None:
    (planned,) = [n for n in plan(DEMO, SHELF).prove_notices_of("z2") if n.id.endswith("prove.moved")]
    assert not planned.grave and "whose repair is planned" in planned.text
    run = DEMO.zone("z3")
    kept = evolve(run, scheme=evolve(run.scheme, core=type(run.scheme.core)()))
    job = evolve(DEMO, zones=tuple(kept if z.id == "z3" else z for z in DEMO.zones))
    (bad,) = [n for n in plan(job, SHELF).prove_notices_of("z2") if n.id.endswith("prove.moved")]
    assert bad.grave and "where damage was found" in bad.text


def test_the_demo_is_a_repair_that_one_would_be_proud_of() -> None:
    """Every margin is one at least, nothing is grave but what is seen to on the day and the one decision left open."""
    plans = plan(DEMO, SHELF)
    for zone in DEMO.zones:
        model = plans.zone(zone.id).strength.model
        if model is not None:
            short = [(c.key, c.margin) for c in model.checks_in("repaired") if c.margin < 1]
            assert short == [], (zone.name, short)
    left = {n.id for n in plans.all_notices if n.grave and ".before." not in n.id}
    assert left == {"z2.tight.1", "z2.tight.2"}
    assert "LEFT OPEN AS AN EXAMPLE" in DEMO.zone("z2").scheme.note
    for z in plans.zones:
        core = z.zone.scheme.core
        if core.material == "ply-marine" and core.thickness is not None:
            assert core.thickness.si % 0.018 == pytest.approx(0, abs=1e-9) or core.thickness.si in (0.015,), (
                "whole sheets"
            )
        held = z.comparison
        assert held is not None
        for h in (held.panel or held.skin).held:
            if h.key.startswith(("strong", "bend", "stiff")):
                assert h.ratio > 0.85, (z.zone.name, h.name, h.ratio)
