"""Remedies and the reverse question: each is a scheme worked out whole."""

from __future__ import annotations

import pytest
from tests.bed import bed_job as demo_job

from ribpatch.core.figure import Figure
from ribpatch.core.plan import plan
from ribpatch.core.proof_edits import add_member, begin_scheme, remove_member, stand_at, state_engine
from ribpatch.core.record import evolve
from ribpatch.core.remedies import ask_back, remedies_of, remedy_table, ways_of, worked
from ribpatch.core.tables import zone_table
from ribpatch.core.units import usual
from ribpatch.core.zone_plan import ZonePlan
from ribpatch.library.shelf import shipped_shelf

SHELF, JOB = shipped_shelf(), demo_job()


def weak() -> ZonePlan:
    """A topside pressed harder than it carries."""
    zone = JOB.zone("z4")
    loads = evolve(zone.proof.loads, pressure=usual(60_000.0))
    zone = evolve(zone, proof=evolve(zone.proof, loads=loads))
    return plan(evolve(JOB, zones=(*JOB.zones[:3], zone)), SHELF).zone("z4")


def margin(made: ZonePlan, key: str) -> float:
    found = made.strength.proved
    assert found is not None
    return next(c for c in found.checks_in("repaired") if c.key == key).margin


def test_every_zone_has_the_ways_that_fit_it() -> None:
    made = plan(JOB, SHELF)
    assert {w.key for w in ways_of(made.zone("z1"))} == {"plies", "core", "other-core", "stiffener"}
    assert {"cap", "knee", "knees"} <= {w.key for w in ways_of(made.zone("z2"))}
    assert {w.key for w in ways_of(made.zone("z4"))} == {"plies", "stiffener"}
    assert [w.key for w in ways_of(made.zone("z3"))] == ["plies", "sister", "post"]


def test_remedies_stiffen_weigh_and_cost() -> None:
    made = plan(JOB, SHELF).zone("z1")
    table = remedy_table(made, "metric")
    assert table is not None and [r.key for r in table.rows][:3] == ["now", "plies", "core"]
    now, plies, core, *_ = table.rows

    def value(row: object, n: int) -> float:
        cell = row.cells[n]  # type: ignore[attr-defined]  # a Row
        assert isinstance(cell, Figure)
        return cell.value

    assert value(now, 3) == value(now, 4) == value(now, 5) == 0
    for row in (plies, core):
        assert value(row, 1) < value(now, 1)
        assert value(row, 3) > 0 and value(row, 4) > 0
    assert value(plies, 5) > 0


def test_a_stiffener_brings_what_it_is_made_of() -> None:
    made = plan(JOB, SHELF).zone("z4")
    remedy = next(r for r in remedies_of(made, "metric") if r.key == "stiffener")
    assert len(remedy.scheme.members) == 1 and len(remedy.scheme.parts) == 1
    weights = [z.figure("weight.net") for z in (remedy.made, made)]
    assert weights[0] is not None and weights[1] is not None and weights[0].value > weights[1].value


def test_asked_back_each_way_is_the_least_that_does() -> None:
    made = weak()
    assert margin(made, "deflection.pressure") < 1
    answers = ask_back(made, "deflection.pressure", "metric")
    assert {a.way for a in answers} == {"plies", "stiffener"}
    stiffener = next(a for a in answers if a.way == "stiffener")
    assert stiffener.scheme is not None and stiffener.margin >= 1
    assert margin(worked(made, stiffener.scheme), "deflection.pressure") == pytest.approx(stiffener.margin)
    way = next(w for w in ways_of(made) if w.key == "stiffener")
    height = stiffener.scheme.members[0].height.si
    less = [h for h in way.amounts if h < height]
    assert not less or margin(worked(made, way.make(less[-1])), "deflection.pressure") < 1


def test_what_is_not_enough_says_so_with_no_scheme() -> None:
    plies = next(a for a in ask_back(weak(), "strain", "metric") if a.way == "plies")
    assert (plies.scheme is None) == (plies.margin < 1)
    assert ("not enough" in plies.words) == (plies.scheme is None)


def test_washers_are_answered_by_plates() -> None:
    zone = JOB.zone("z2")
    engine = evolve(zone.proof.engine, washer=usual(0.03))  # type: ignore[type-var]  # it has one
    zone = evolve(zone, proof=evolve(zone.proof, engine=engine))
    made = plan(evolve(JOB, zones=(JOB.zones[0], zone, *JOB.zones[2:])), SHELF).zone("z2")
    answers = ask_back(made, "washer", "metric")
    assert {a.way for a in answers} == {"washers", "plates", "plate"}
    across = float(answers[0].words.split()[1])
    wider = evolve(zone, proof=evolve(zone.proof, engine=evolve(engine, washer=usual(across / 1000))))
    after = plan(evolve(JOB, zones=(JOB.zones[0], wider, *JOB.zones[2:])), SHELF).zone("z2")
    assert margin(after, "washer") == pytest.approx(1.0, abs=0.01)


def test_one_press_begins_a_scheme_and_keeps_the_old_one() -> None:
    made = weak()
    answer = next(a for a in ask_back(made, "deflection.pressure", "metric") if a.scheme is not None)
    assert answer.scheme is not None
    after = begin_scheme(made.zone, answer.scheme, answer.words).change(JOB).zone("z4")
    assert after.scheme.id == "s2" and after.scheme.name.startswith(answer.words[:10])
    assert [s.id for s in after.others] == ["s1"]


def test_edits_of_loads_engine_and_stiffeners() -> None:
    zone = JOB.zone("z4")
    job = add_member(zone, "hat").change(JOB)
    (member,) = job.zone("z4").scheme.members
    assert member.axis == "y" and member.place == pytest.approx(0.75)
    assert remove_member("z4", member.id).change(job).zone("z4").scheme.members == ()
    assert add_member(JOB.zone("z2"), "knee").change(JOB).zone("z2").scheme.members[-1].end == pytest.approx(0.72)
    assert stand_at("z1", (0.5, 0.2)).change(JOB).zone("z1").proof.loads.x == 0.5
    off = state_engine(JOB.zone("z2"), False).change(JOB)
    assert off.zone("z2").proof.engine is None
    assert state_engine(off.zone("z2"), True).change(off).zone("z2").proof.engine is not None


@pytest.mark.parametrize("zone", ["z1", "z2", "z3", "z4"])
@pytest.mark.parametrize("system", ["metric", "us"])
def test_every_table_of_prove_is_told_in_either_system(zone: str, system: str) -> None:
    made = plan(JOB, SHELF, system).zone(zone)  # type: ignore[arg-type]  # a system
    for name in ("margins", "scantlings"):
        table = zone_table(made, name, system)  # type: ignore[arg-type]  # a system
        assert table is not None and table.rows
        assert all(len(r.cells) == len(table.columns) for r in table.rows)
        words = " ".join(c for r in table.rows for c in r.cells if isinstance(c, str))
        if system == "us":
            assert " mm" not in words and "kPa" not in words
