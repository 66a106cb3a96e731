"""Stringers and tabbed joints: sections and beams of a zone against formulas."""

from __future__ import annotations

import numpy as np
import pytest
from tests.bed import bed_job as demo_job

from ribpatch.core.errors import BadStructure
from ribpatch.core.job import Zone
from ribpatch.core.plan import plan
from ribpatch.core.proof import Loads
from ribpatch.core.record import built, evolve
from ribpatch.core.scheme import StackLine, Tabbing, Timber
from ribpatch.core.structure.run import RunModel, timber_gives
from ribpatch.core.structure.tab_run import TabRun
from ribpatch.core.structure.transom import GRAVITY
from ribpatch.core.units import usual
from ribpatch.library.shelf import shipped_shelf

SHELF, JOB = shipped_shelf(), demo_job()


def model(zone: Zone) -> RunModel:
    job = evolve(JOB, zones=tuple(zone if z.id == zone.id else z for z in JOB.zones))
    found = plan(job, SHELF).zone(zone.id).strength.run
    assert found is not None
    return found


def stringer(pressure: float | None = None, **run: object) -> Zone:
    zone = JOB.zone("z3")
    loads = Loads(pressure=usual(pressure)) if pressure is not None else Loads()
    return evolve(zone, proof=evolve(zone.proof, run=evolve(zone.proof.run, **run), loads=loads))


def test_the_beam_is_the_textbook_one() -> None:
    """No mass, simply supported, the same section all along: 5 q L4 / 384 EI and the shear's own part."""
    made = model(stringer(8000.0, mass=None, first="supported", last="supported"))
    q, L, s = 8000.0 * 0.45, made.span, made.old
    w = 5 * q * L**4 / 384 / s.EI + q * L**2 / 8 / s.GA
    answer = made.answers["before"]
    assert answer.greatest(answer.w)[0] == pytest.approx(w, rel=1e-4)
    assert answer.greatest(answer.m)[0] == pytest.approx(q * L**2 / 8, rel=1e-6)


def test_a_mass_stands_under_the_tray_and_counts_by_the_pounding() -> None:
    made = model(stringer(0.0, mass=usual(100.0), factor=usual(2.5)))
    assert made.load[1].force == pytest.approx(100 * GRAVITY * 2.5)
    low, high = made.foot
    assert high - low == pytest.approx(0.42)


def test_a_former_carries_nothing_and_a_counted_core_does_and_rots() -> None:
    former, counted = model(stringer(counted=False)), model(stringer(counted=True))
    assert former.old.EI == former.bad.EI
    assert counted.old.EI > former.old.EI
    assert counted.bad.EI < counted.old.EI
    assert {p.name for p in counted.old.parts} - {p.name for p in former.old.parts} == {"filling"}


def test_a_limber_hole_takes_web_away_and_a_post_stiffens() -> None:
    whole, holed = model(stringer()), model(stringer(limber=usual(0.04)))
    assert holed.old.EI < whole.old.EI
    propped = model(stringer(prop=1.3))
    found = {m: next(c for c in m.checks_in("before") if c.key == "deflection.run").value for m in (whole, propped)}
    assert abs(found[propped]) < 0.3 * abs(found[whole])


def test_a_post_outside_the_span_is_told() -> None:
    with pytest.raises(BadStructure, match="post stands outside"):
        model(stringer(prop=0.1))
    job = evolve(JOB, zones=tuple(stringer(prop=0.1) if z.id == "z3" else z for z in JOB.zones))
    assert "post" in plan(job, SHELF).zone("z3").strength.fault


def test_a_splice_is_used_less_with_a_longer_taper() -> None:
    used = []
    for ratio in (4, 12, 30):
        made = model(stringer(scarfed=usual(ratio)))
        used.append(next(c for c in made.checks_in("repaired") if c.key == "splice").value)
    assert used == sorted(used, reverse=True) and used[0] > 1.5 * used[1]
    assert "splice" not in {c.key for c in model(stringer()).checks_in("repaired")}


def test_bearing_is_weight_over_the_pad() -> None:
    made = model(stringer(mass=usual(140.0), factor=usual(3)))
    wide = next(p.width for p in made.old.parts if p.name == "crown")
    value = next(c for c in made.checks_in("before") if c.key == "bearing").value
    assert value == pytest.approx(140 * GRAVITY * 3 / (0.42 * wide))


def joint(**changes: object) -> TabRun:
    zone = evolve(JOB.zone("z3"), kind="tabbing run", **changes)
    job = evolve(JOB, zones=tuple(zone if z.id == "z3" else z for z in JOB.zones))
    found = plan(job, SHELF).zone("z3").strength.tab
    assert found is not None
    return found


def test_tabbing_shares_the_load_between_two_legs_and_mat_only_is_told() -> None:
    scheme = JOB.zone("z3").scheme
    laid = evolve(scheme, laminate=evolve(scheme.laminate, tabbing=Tabbing()))
    made = joint(scheme=laid)
    bond = next(c for c in made.checks_in("repaired") if c.key == "bond")
    assert bond.value == pytest.approx(made.load / (2 * made.new_leg))
    assert not made.mat_only("repaired")
    mat = evolve(laid, laminate=evolve(laid.laminate, plies=(StackLine(fabric="mat-450", count=4),)))
    weak = joint(scheme=mat)
    assert weak.mat_only("repaired")
    plies = next(c for c in weak.checks_in("repaired") if c.key == "plies")
    assert "nothing but mat" in plies.note


@pytest.mark.parametrize(
    ("kind", "names"),
    [
        ("hat", {"plating", "webs", "crown", "flanges"}),
        ("box", {"plating", "webs", "crown"}),
        ("angle", {"plating", "web", "crown", "flange"}),
        ("I", {"plating", "web", "crown", "flanges"}),
        ("flat", {"plating", "web"}),
    ],
)
def test_every_shape_has_its_parts_on_the_plating(kind: str, names: set[str]) -> None:
    made = model(stringer(kind=kind))
    assert {p.name for p in made.old.parts} == names
    t = made.walls[0].thickness
    webs = next(p for p in made.old.parts if p.name.startswith("web"))
    assert webs.width == pytest.approx({"hat": 2 * t, "box": 2 * t, "flat": 0.038 + 2 * t}.get(kind, t))
    assert made.old.top == pytest.approx(0.18) and made.old.bottom == pytest.approx(-0.009)


def supported(zone: Zone, rebuilt: bool = True, **support: object) -> Zone:
    """A run with something beside it in its scheme; not ``rebuilt``: with no plies."""
    scheme = evolve(zone.scheme, support=evolve(zone.scheme.support, **support))
    if not rebuilt:
        scheme = evolve(scheme, laminate=evolve(scheme.laminate, plies=()))
    return evolve(zone, scheme=scheme)


def test_a_strip_beside_it_stiffens_the_whole_run_and_only_once_it_is_repaired() -> None:
    alone, sistered = model(stringer()), model(supported(stringer(), sister=usual(0.02)))
    assert sistered.old.EI == alone.old.EI and sistered.bad.EI == alone.bad.EI
    assert alone.new is not None and sistered.new is not None
    for kept, without in ((sistered.new, alone.new), (sistered.kept, alone.old), (sistered.left_bad, alone.bad)):
        E = next(p.E for p in kept.parts if p.name == "sister")
        assert kept.EI > without.EI
        assert pytest.approx(E * 0.02 * 0.18) == kept.EA - without.EA
    assert sistered.section_at("damaged", 0.01) is sistered.old
    assert sistered.section_at("repaired", 0.01) in (sistered.kept, sistered.new)
    assert sistered.beam("damaged").EI == alone.old.EI and sistered.beam("repaired").EI == sistered.kept.EI


def test_a_run_that_is_only_carried_is_a_repair_too_and_keeps_its_rot() -> None:
    zone = stringer(8000.0, mass=None, counted=True)
    assert model(supported(zone, rebuilt=False)).states == ("before", "damaged")
    made = model(supported(zone, rebuilt=False, post=1.3))
    assert made.states == ("before", "damaged", "repaired") and made.new_stretches == () and made.bad_stretches
    a, b = made.bad_stretches[0]
    assert made.section_at("repaired", (a + b) / 2) is made.bad
    answers = {s: made.answers[s].greatest(made.answers[s].w)[0] for s in made.states}
    assert answers["repaired"] < answers["before"] < answers["damaged"]


@pytest.mark.parametrize("gives", [0.0, 0.0002, 0.002, 0.05])
def test_a_beam_on_posts_takes_what_the_textbook_says(gives: float) -> None:
    """Under its middle, one section all along: R = w0 / (L3 / 48 EI + L / 4 GA + 1 / k), w0 as without it."""
    zone = stringer(8000.0, mass=None, first="supported", last="supported")
    plain = model(zone)
    middle = plain.start + plain.span / 2
    made = model(supported(zone, rebuilt=False, post=middle, gives=usual(gives)))
    q, L, s = 8000.0 * 0.45, made.span, made.old
    answer = made.answers["repaired"]
    free = 5 * q * L**4 / 384 / s.EI + q * L**2 / 8 / s.GA
    carried = free / (L**3 / 48 / s.EI + L / 4 / s.GA + gives / 1000)
    at_middle = float(np.interp(L / 2, answer.x, answer.w))
    assert at_middle == pytest.approx(carried * gives / 1000, rel=2e-3, abs=1e-9)
    assert made.answers["before"].greatest(made.answers["before"].w)[0] == pytest.approx(free, rel=1e-3)


def test_a_beam_outside_the_span_is_explained() -> None:
    with pytest.raises(BadStructure, match="beam on posts lies outside"):
        model(supported(stringer(), post=40.0))


def test_a_notch_is_a_short_stretch_of_a_lower_section() -> None:
    whole, cut = model(stringer()), model(stringer(notch=usual(0.06)))
    assert cut.notched is not None and cut.notched[0].top == pytest.approx(0.12)
    assert cut.section_at("before", cut.span / 2) is cut.notched[0] and cut.section_at("before", 0.2) is cut.old
    found = [next(c for c in m.checks_in("before") if c.key == "strain").value for m in (whole, cut)]
    assert found[1] > found[0]
    at = model(stringer(notch=usual(0.06), notch_at=0.9))
    assert at.section_at("before", 0.9 - at.start) is at.notched[0]
    with pytest.raises(BadStructure, match="notch lies outside"):
        model(stringer(notch=usual(0.06), notch_at=0.1))


def test_what_is_left_of_a_damaged_joint_takes_all_of_it() -> None:
    made = joint()
    before, damaged = (next(c for c in made.checks_in(s) if c.key == "bond").value for s in ("before", "damaged"))  # type: ignore[arg-type]  # states
    assert 0 < made.bad < made.length == pytest.approx(2.6)
    assert damaged == pytest.approx(before * made.length / (made.length - made.bad))


def test_a_timber_beam_gives_what_the_textbook_says_and_its_posts_on_top() -> None:
    """F L3 / 48 EI and its shear F L / 4 GA' with A' five sixths of the section and G a sixteenth of E."""
    timber = built(Timber, span=usual(1.2), width=usual(0.05), height=usual(0.15))
    E = SHELF.rule("beam.modulus")
    gives = 1000 * 1.2**3 / 48 / (E * 0.05 * 0.15**3 / 12) + 1000 * 1.2 / 4 / (E / 16 * 0.05 * 0.15 / 1.2)
    assert timber_gives(timber, E) == pytest.approx(gives)
    zone = stringer(8000.0, mass=None, first="supported", last="supported")
    middle = model(zone).start + model(zone).span / 2
    stated = model(supported(zone, rebuilt=False, post=middle, gives=usual(round(gives + 0.0005, 9))))
    made = model(supported(zone, rebuilt=False, post=middle, gives=usual(0.0005), timber=timber))
    assert made.gives == pytest.approx(stated.gives, rel=1e-5)
    w = float(np.interp(made.span / 2, made.answers["repaired"].x, made.answers["repaired"].w))
    check = next(c for c in made.checks_in("repaired") if c.key == "timber")
    assert check.value == pytest.approx(w / made.gives * 1000 * 1.2 / 4 / (0.05 * 0.15**2 / 6))
    assert check.limit == SHELF.rule("beam.strength")
    assert "timber" not in {c.key for c in (*stated.checks_in("repaired"), *made.checks_in("before"))}


def test_a_strip_beside_a_notched_run_carries_past_the_notch() -> None:
    zone = stringer(8000.0, notch=usual(0.05))
    alone, beside = model(zone), model(supported(zone, rebuilt=False, sister=usual(0.01)))
    assert alone.notched is not None and beside.notched is not None
    assert (
        pytest.approx(alone.notched[1].EI) == alone.notched[0].EI and beside.notched[1].EI > 1.1 * alone.notched[1].EI
    )
    middle = beside.span / 2
    assert beside.section_at("repaired", middle) is beside.notched[1]
    assert beside.section_at("before", middle) is beside.section_at("damaged", middle) is beside.notched[0]
    assert min(s.EI for s in beside.beam("repaired").stretches) == pytest.approx(beside.notched[1].EI)
