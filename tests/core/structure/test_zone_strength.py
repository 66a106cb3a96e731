"""Zones as structures: panels from outlines, laminates where they are bad, loads, margins, what they say."""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, pi, radians, sin

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import box
from tests.bed import bed_job as demo_job
from tests.core.structure.second_calculations import plain

from ribpatch.core.errors import BadStructure
from ribpatch.core.job import Fitting, Zone
from ribpatch.core.plan import plan
from ribpatch.core.proof import Engine, Loads, Proof, Span
from ribpatch.core.record import evolve
from ribpatch.core.scheme import Member
from ribpatch.core.structure.cases import cases_of
from ribpatch.core.structure.laminates import bad_laminate, core_left
from ribpatch.core.structure.members import KNEE_STEPS, added_bending, plate_stiffeners
from ribpatch.core.structure.panel_records import Box, Edges, Panel, PlateLoad, PlateStiffener
from ribpatch.core.structure.panel_solver import solve_panel
from ribpatch.core.structure.proved import Check, Proved
from ribpatch.core.structure.strength import ZoneStrength
from ribpatch.core.structure.transom import GRAVITY, bolt_tension, engine_cases, thrust_of, washer_pressure
from ribpatch.core.structure.zone_panel import boxes_of, panel_box
from ribpatch.core.units import Kind, Measure, usual
from ribpatch.core.zone_plan import ZonePlan
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
JOB = demo_job()


def made(zone: Zone) -> ZonePlan:
    return plan(evolve(JOB, zones=tuple(zone if z.id == zone.id else z for z in JOB.zones)), SHELF).zone(zone.id)


def proved(zone: Zone) -> Proved:
    found = made(zone).strength.proved
    assert found is not None
    return found


def with_proof(zone: str, **changes: object) -> Zone:
    z = JOB.zone(zone)
    return evolve(z, proof=evolve(z.proof, **changes))


def check(found: Proved, key: str, state: str = "repaired") -> Check:
    return next(c for c in found.checks_in(state) if c.key == key)  # type: ignore[arg-type]  # a state


# ---- the panel of a zone


def test_an_outline_that_is_no_rectangle_is_enclosed_or_holds_one_and_says_so() -> None:
    bare = with_proof("z1", span=Span())
    x0, y0, a, b, words = panel_box(bare)
    assert (a, b) == pytest.approx((2.15, 2.3))
    assert "enclosed" in words
    inner = with_proof("z1", span=Span(outline="inscribed"))
    x0, y0, c, d, words = panel_box(inner)
    assert "within" in words and c / d == pytest.approx(a / b)
    assert box(x0, y0, x0 + c, y0 + d).within(made(inner).patch.extent.likely.convex_hull.buffer(9)) and c < a
    stated = with_proof("z1", span=Span(length=usual(1.0), width=usual(0.8)))
    assert panel_box(stated)[2:] == (1.0, 0.8, "spans as stated")


@settings(max_examples=25, deadline=None)
@given(st.floats(0.05, 0.8), st.floats(0.05, 0.5), st.floats(0.05, 0.2))
def test_a_bad_area_keeps_its_size_and_middle_as_a_rectangle(x: float, y: float, r: float) -> None:
    from shapely.geometry import Point

    (only,) = boxes_of(Point(1 + x, 1 + y).buffer(r), (0.5, 0.5), (2.5, 2.0))
    w, h = only.size
    assert w * h == pytest.approx(pi * r * r, rel=0.01)
    assert only.centre == pytest.approx((0.5 + x, 0.5 + y), abs=1e-6)


def test_assumed_edges_are_those_that_nobody_stated() -> None:
    found = proved(with_proof("z1", span=Span(left="clamped")))
    assert found.panel.edges.all == ("C", "S", "S", "S")
    assert found.panel.assumed == ("right", "bottom", "top")
    told = made(with_proof("z1", span=Span(left="clamped"))).prove_notices("metric")
    assert any("assumed (right, bottom, top)" in n.text for n in told)


@pytest.mark.parametrize(
    ("span", "words"),
    [
        (Span(left="free", right="free", bottom="free", top="free"), "mechanism"),
        (Span(left="free", right="free", bottom="free", top="supported"), "can turn"),
    ],
)
def test_a_mechanism_is_told_in_place_and_nothing_is_worked_out(span: Span, words: str) -> None:
    zone = made(with_proof("z1", span=span))
    assert words in zone.strength.fault
    (told,) = zone.prove_notices("metric")
    assert told.grave and words in told.text and told.clears
    assert not any(f.id.startswith("z1.prove.before") for f in zone.prove_figures)
    with pytest.raises(BadStructure):
        zone.strength.proved.checks_in("before")  # type: ignore[union-attr]  # a deck is a panel


# ---- laminates


def test_a_bad_core_keeps_a_share_by_its_kind_and_end() -> None:
    assert core_left((0.3, 0.8), "wet", 0) == pytest.approx(0.7)
    assert core_left((0.3, 0.8), "rotted", 2) == pytest.approx(0.2)
    assert core_left((0.3, 0.8), "wet", 2) == core_left((0.3, 0.8), "rotted", 0) == pytest.approx(0.45)
    whole = proved(JOB.zone("z1")).panel.laminate
    half = bad_laminate(whole, "rotted", 0.5, 1, SHELF)
    assert half.stiffness.S[0, 0] == pytest.approx(0.5 * whole.stiffness.S[0, 0])
    assert half.core_capacity() == pytest.approx(0.5 * whole.core_capacity())
    assert 0.9 < half.stiffness.D[0, 0] / whole.stiffness.D[0, 0] < 1  # the skins carry bending


def test_loose_skins_bend_by_themselves() -> None:
    whole = proved(JOB.zone("z1")).panel.laminate
    loose = bad_laminate(whole, "disbonded", None, 2, SHELF)
    assert whole.sandwich is not None
    parts = [p.plate for p in (whole.sandwich.below, whole.sandwich.above)]
    own = sum(float((p.D - p.B @ np.linalg.solve(p.A, p.B))[0, 0]) for p in parts)
    assert loose.stiffness.D[0, 0] == pytest.approx(own)
    assert loose.stiffness.D[0, 0] < 0.1 * whole.stiffness.D[0, 0]


def test_strain_use_is_curvature_times_distance_over_the_limit() -> None:
    """A solid mat: the same all through, so only the faces count."""
    zone = JOB.zone("z4")
    solid = evolve(zone.build.outer, plies=({"fabric": "mat-450", "count": 6},), thickness=None)
    laminate = proved(evolve(zone, build=evolve(zone.build, outer=solid))).panel.laminate
    fibre = SHELF.fibre("e-glass")
    kx = 0.5
    use = float(laminate.strain_use(np.array([[kx, 0.0, 0.0]]))[0])
    assert use == pytest.approx(kx * laminate.thickness / 2 / min(fibre.mat_tension, fibre.mat_compression), rel=1e-6)
    assert float(laminate.strain_use(np.array([[-kx, 0.0, 0.0]]))[0]) == pytest.approx(use)
    assert laminate.strain_way(np.array([0.0, 0.0, 1.0])) == "in shear"


# ---- loads


def test_a_person_stands_where_stated_and_stays_on_the_panel() -> None:
    found = proved(with_proof("z1", loads=Loads(x=9.0, y=9.0)))
    pad = found.cases[0].loads[0].box
    assert pad.x1 <= found.panel.a + 1e-12 and pad.y1 <= found.panel.b + 1e-12
    assert pad.size == pytest.approx((0.1, 0.1))
    assert found.cases[1].force == pytest.approx(3 * found.cases[0].force)
    assert found.panel.box_round((0.0, 0.0), (99.0, 99.0)).size == pytest.approx((found.panel.a, found.panel.b))


def test_a_line_lifts_by_its_rise_and_tilts_by_its_height() -> None:
    found = proved(with_proof("z1", loads=Loads(lever=usual(0.2), lift=usual(40))))
    (load,) = next(c for c in found.cases if c.key == "pull.f1").loads
    assert load.force == pytest.approx(-6000 * sin(radians(40)))
    assert load.my == pytest.approx(6000 * cos(radians(40)) * 0.2)
    assert load.box.size == pytest.approx((0.16, 0.16))


@dataclass
class Hung:
    power: float
    mass: float


@settings(max_examples=20, deadline=None)
@given(st.floats(2e3, 3e5), st.floats(20, 600), st.floats(0, 1), st.floats(0, 1.2))
def test_engine_loads_are_thrust_arm_weight_and_factors(power: float, mass: float, out: float, below: float) -> None:
    engine = Engine(
        power=Measure(si=power), mass=Measure(si=mass), overhang=Measure(si=out), thrust_below=Measure(si=below)
    )
    panel = proved(JOB.zone("z2")).panel
    thrust, weight = 0.16 * power, mass * GRAVITY
    assert thrust_of(engine, SHELF) == pytest.approx(thrust)
    ahead, astern, slam, trailer = engine_cases(engine, panel, SHELF)
    assert (ahead.force, ahead.moment) == pytest.approx((thrust, thrust * below + weight * out))
    assert astern.moment == pytest.approx(-0.6 * thrust * below + weight * out)
    assert slam.moment - ahead.moment == pytest.approx(2 * weight * out, abs=1e-6)
    assert (trailer.force, trailer.moment) == pytest.approx((0.0, 3 * weight * out))
    assert ahead.loads[0].mx == pytest.approx(-ahead.moment)


def test_a_setback_and_trim_change_the_moment_as_drawn() -> None:
    engine = Engine(power=usual(50e3), mass=usual(100), setback=usual(0.3), trim=usual(10), overhang=usual(0.2))
    ahead = engine_cases(engine, proved(JOB.zone("z2")).panel, SHELF)[0]
    thrust, a = 8000.0, radians(10)
    wanted = thrust * (cos(a) * 0.65 - sin(a) * 0.5) + 100 * GRAVITY * 0.5
    assert ahead.moment == pytest.approx(wanted)
    assert ahead.force == pytest.approx(thrust * cos(a))


def test_bolts_share_the_moment_and_washers_spread_it() -> None:
    engine = Engine(power=usual(50e3), mass=usual(100), bolts=4, washer=usual(0.06))
    cases = engine_cases(engine, proved(JOB.zone("z2")).panel, SHELF)
    tension = bolt_tension(engine, cases[0])
    assert tension == pytest.approx((cases[0].moment / (0.21 * 0.875) - cases[0].force / 2) / 2)
    assert washer_pressure(engine, tension) == pytest.approx(tension / (pi / 4 * (0.06**2 - 0.0125**2)))
    wider = evolve(engine, washer=usual(0.12))
    assert washer_pressure(wider, tension) < washer_pressure(engine, tension) / 3


def test_words_of_loads_mix_no_units() -> None:
    for zone in JOB.zones:
        found = made(zone).strength.proved
        for case in found.cases if found is not None else ():
            assert case.short and not any(u in case.how for u in (" N", " mm", " in", "lbf"))


# ---- members


def test_a_member_adds_what_parallel_axes_say() -> None:
    found = proved(JOB.zone("z4")).panel
    flat = Member(id="m1", name="bar", kind="flat", axis="x", place=0.3, height=usual(0.05), width=usual(0.01),
                  wall=usual(0.005), flange=usual(0.0))  # fmt: skip
    E = float(found.laminate.layup.plate.in_plane[0])
    wall = float(found.wall.plate.in_plane[0])
    t, wide = found.laminate.thickness, 0.01 + 40 * found.laminate.skins
    areas = ((E, wide * t, -t / 2, wide * t**3 / 12), (wall, 0.0005, 0.025, 0.01 * 0.05**3 / 12))
    neutral = sum(e * a * z for e, a, z, _ in areas) / sum(e * a for e, a, _, _ in areas)
    EI = sum(e * (i + a * (z - neutral) ** 2) for e, a, z, i in areas) - E * wide * t**3 / 12
    assert added_bending(flat, found.laminate, found.wall, 5.0, SHELF) == pytest.approx(EI, rel=1e-6)


def test_a_knee_runs_out_in_steps_from_its_foot() -> None:
    found = proved(JOB.zone("z2")).panel
    knee = JOB.zone("z2").scheme.members[0]
    steps = plate_stiffeners(knee, found.laminate, found.wall, (0.0, 0.0, 2.3, 0.8), SHELF)
    assert len(steps) == KNEE_STEPS
    assert [s.footed for s in steps] == [True, False, False]
    stiff = [s.EI for s in steps]
    assert stiff == sorted(stiff, reverse=True)
    assert steps[0].start == 0.0 and steps[-1].end == pytest.approx(0.6)
    assert not plate_stiffeners(evolve(knee, place=9.0), found.laminate, found.wall, (0.0, 0.0, 2.3, 0.8), SHELF)


def test_a_stiffener_lowers_deflection_and_a_knee_without_a_foot_is_told() -> None:
    zone = JOB.zone("z4")
    hat = Member(id="m1", name="hat", axis="y", place=0.75)
    stiffer = evolve(zone, scheme=evolve(zone.scheme, members=(hat,)))
    assert check(proved(stiffer), "deflection.pressure").value < 0.6 * check(proved(zone), "deflection.pressure").value
    transom = JOB.zone("z2")
    loose = tuple(evolve(m, footed=False) for m in transom.scheme.members)
    told = made(evolve(transom, scheme=evolve(transom.scheme, members=loose))).prove_notices("metric")
    assert any("without a stringer" in n.text for n in told)


def test_a_knee_hands_on_what_a_cantilever_would() -> None:
    """A stiff footed member on a limp panel carries a point load at its end alone: moment = force times arm."""
    limp = plain(t=0.0008)
    knee = PlateStiffener("y", 0.5, 1e5, 0.0, 0.6, footed=True)
    panel = Panel(1.0, 0.8, Edges(top="F"), limp, (), (knee,))
    solved = solve_panel(panel, ((PlateLoad(Box(0.5, 0.6, 0.5, 0.6), 100.0),),))
    assert abs(solved.feet[0, 0]) == pytest.approx(60.0, rel=0.02)
    turned = Panel(0.8, 1.0, Edges(right="F"), limp, (), (PlateStiffener("x", 0.5, 1e5, 0.0, 0.6, footed=True),))
    other = solve_panel(turned, ((PlateLoad(Box(0.6, 0.5, 0.6, 0.5), 100.0),),))
    assert abs(other.feet[0, 0]) == pytest.approx(60.0, rel=0.02)


def test_knees_onto_damaged_stringers_are_a_red_flag() -> None:
    told = plan(JOB, SHELF).prove_notices_of("z2")
    assert any("Battery stringer, whose repair is planned" in n.text and not n.grave for n in told)
    run = JOB.zone("z3")
    left = evolve(run, scheme=evolve(run.scheme, core=type(run.scheme.core)()))
    told = plan(evolve(JOB, zones=(*JOB.zones[:2], left, JOB.zones[3])), SHELF).prove_notices_of("z2")
    assert any("Battery stringer, where damage was found" in n.text and n.grave for n in told)
    assert made(JOB.zone("z2")).strength.by_id["foot"].value > 100
    sound = evolve(JOB.zone("z3"), survey=evolve(JOB.zone("z3").survey, readings=(), references=()))
    job = evolve(JOB, zones=(*JOB.zones[:2], sound, JOB.zones[3]))
    assert not any("Battery stringer" in n.text for n in plan(job, SHELF).prove_notices_of("z2"))


# ---- margins and what moves them


def test_damage_softens_and_more_plies_stiffen() -> None:
    found = proved(with_proof("z1", loads=Loads(x=1.0, y=0.1)))
    before, damaged = (check(found, "deflection.stand", s).value for s in ("before", "damaged"))
    assert damaged > before > 0
    zone = found.zone
    plies = zone.scheme.laminate.plies * 2
    more = proved(evolve(zone, scheme=evolve(zone.scheme, laminate=evolve(zone.scheme.laminate, plies=plies))))
    assert check(more, "deflection.stand").value < check(found, "deflection.stand").value


def test_margins_are_limits_over_values_and_halve_with_twice_the_load() -> None:
    zone = JOB.zone("z4")
    one = proved(evolve(zone, proof=evolve(zone.proof, loads=Loads(pressure=usual(4000.0)))))
    two = proved(evolve(zone, proof=evolve(zone.proof, loads=Loads(pressure=usual(8000.0)))))
    for key in ("deflection.pressure", "strain", "edge"):
        a, b = check(one, key), check(two, key)
        assert a.margin == pytest.approx(a.limit / a.value)
        assert a.margin == pytest.approx(2 * b.margin, rel=1e-6)


def test_a_hole_in_the_panel_softens_it() -> None:
    zone = JOB.zone("z1")
    shut = evolve(zone, fittings=tuple(evolve(f, opening=False) for f in zone.fittings))
    assert len(proved(zone).panel.openings) == 1 and not proved(shut).panel.openings
    assert check(proved(zone), "deflection.stand").value > check(proved(shut), "deflection.stand").value


def test_a_zone_without_plies_has_no_repair_to_prove() -> None:
    zone = JOB.zone("z4")
    bare = evolve(zone, scheme=evolve(zone.scheme, laminate=evolve(zone.scheme.laminate, plies=())))
    assert proved(bare).states == ("before", "damaged")
    assert any("no plies" in n.text for n in made(bare).prove_notices("metric"))


def test_a_transom_without_an_engine_says_what_to_state() -> None:
    zone = made(with_proof("z2", engine=None))
    assert zone.strength.model is None
    (told,) = zone.prove_notices("metric")
    assert "engine" in told.text


def test_a_hard_spot_is_flagged() -> None:
    zone = JOB.zone("z4")
    many = evolve(zone.scheme.laminate, plies=tuple(evolve(p, count=20) for p in zone.scheme.laminate.plies))
    told = made(evolve(zone, scheme=evolve(zone.scheme, laminate=many))).prove_notices("metric")
    assert any("Hard spot" in n.text for n in told)


def test_every_figure_has_its_working_and_no_verdict_is_given() -> None:
    for zone in JOB.zones:
        for figure in made(zone).prove_figures:
            assert figure.formula
            words = " ".join((figure.name, figure.formula, figure.valid, *figure.warnings)).lower()
            assert "approved" not in words and " safe" not in words
            assert np.isfinite(figure.value)


def test_what_is_not_looked_at_is_not_worked_out() -> None:
    zone = made(evolve(JOB.zone("z1"), name="another foredeck"))
    assert zone.by_id and "strength" not in zone.__dict__
    assert zone.figure("prove.repaired.deflection.stand") is not None
    assert "strength" in zone.__dict__


def test_fittings_without_a_pull_load_nothing() -> None:
    zone = JOB.zone("z4")
    bolt = Fitting(id="f1", name="bolt", x=0.5, y=0.3, width=usual(0.05), height=usual(0.0))
    found = proved(evolve(zone, fittings=(bolt,)))
    assert [c.key for c in cases_of(found.zone, found.panel, JOB.boat, SHELF)] == ["pressure"]
    assert isinstance(made(zone).strength, ZoneStrength) and Kind.FACTOR.value == "factor"
    assert Proof() == Proof()
