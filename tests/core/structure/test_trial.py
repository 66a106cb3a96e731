"""Readings to expect, measured flex and the verdict of a load test, on panels whose truth is known."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.bed import bed_job as demo_job

from ribpatch.core.plan import plan
from ribpatch.core.proof import Flex, Trial
from ribpatch.core.proof_edits import add_flex, flex_at, remove_flex
from ribpatch.core.structure.laminates import bad_laminate
from ribpatch.core.structure.panel_records import PlateLoad, SoftZone
from ribpatch.core.structure.panel_solver import solve_panel
from ribpatch.core.structure.trial import Expected, explain, judge, reading_at
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

SHELF, JOB = shipped_shelf(), demo_job()
STRENGTH = plan(JOB, SHELF).zone("z1").strength


def panel():  # type: ignore[no-untyped-def]  # a ZonePanel
    found = STRENGTH.proved
    assert found is not None
    return found.panel


@settings(max_examples=6, deadline=None)
@given(st.sampled_from([0.03, 0.08, 0.15, 0.3, 0.6]))
def test_a_made_up_loss_is_found_again(share: float) -> None:
    """Another panel is given that share of core stiffness; its reading is explained by it, read finely."""
    here = panel()
    soft = bad_laminate(here.laminate, here.bad, share, 1, SHELF).stiffness
    base = here.panel("before", SHELF)
    at = here.bad_areas[0].centre
    pad = (at[0] - 0.05, at[1] - 0.05, at[0] + 0.05, at[1] + 0.05)
    load = PlateLoad(type(here.bad_areas[0])(*pad), 900.0)
    zones = (*(SoftZone(b, soft) for b in here.bad_areas), *base.zones)
    other = type(base)(base.a, base.b, base.edges, base.stiffness, zones, base.stiffeners)
    read = float(solve_panel(other, ((load,),), 5).field.at(np.array(at[0]), np.array(at[1]))["w"])
    flex = Flex(id="x1", x=at[0] + here.x0, y=at[1] + here.y0, force=Measure(si=900.0), read=Measure(si=read))
    told = explain(here, flex, SHELF)
    assert told.share == pytest.approx(share, rel=0.12)
    assert told.low <= told.share <= told.high


def test_words_of_a_reading_by_where_it_lies() -> None:
    here = panel()
    x, y = here.bad_areas[0].centre
    whole = reading_at(here, "before", (x, y), 900.0, 0.1, SHELF)

    def told(read: float) -> str:
        flex = Flex(id="x1", x=x + here.x0, y=y + here.y0, force=Measure(si=900.0), read=Measure(si=read))
        return explain(here, flex, SHELF).words

    assert "as stiff as it was built" in told(whole.value)
    assert "stiffer than it was built" in told(whole.low * 0.9)
    assert "stiffness left" in told(whole.high * 1.05) or "softer than any" in told(whole.high * 1.05)
    assert "softer than any loss" in told(whole.high * 50)
    assert "does not agree" in told(whole.high * 50)


def test_a_band_holds_the_value_and_is_wider_where_it_is_damaged() -> None:
    made = STRENGTH.expected
    for expected in made.values():
        assert expected.low < expected.value < expected.high
    assert made["damaged"].value > made["before"].value
    relative = {s: (e.high - e.low) / e.value for s, e in made.items()}
    assert relative["damaged"] > relative["before"] > relative["repaired"]


@pytest.mark.parametrize(
    ("after", "before", "heard", "verdict"),
    [
        (0.0010, None, False, "as expected"),
        (0.00131, None, False, "look again"),
        (0.0027, None, False, "stop"),
        (0.0006, None, False, "look again"),
        (0.0010, None, True, "stop"),
        (None, 0.0020, False, "as expected"),
        (None, 0.0050, False, "look again"),
    ],
)
def test_the_verdict_of_a_reading(after: float | None, before: float | None, heard: bool, verdict: str) -> None:
    trial = Trial(
        after=Measure(si=after) if after else None, before=Measure(si=before) if before else None, heard=heard
    )
    said = judge(trial, Expected(0.002, 0.0012, 0.003), Expected(0.001, 0.0007, 0.0013))
    assert said is not None and said[0] == verdict and said[1]


def test_nothing_is_judged_before_it_is_read() -> None:
    assert judge(Trial(), Expected(1, 0.5, 2), Expected(1, 0.5, 2)) is None
    assert judge(Trial(after=Measure(si=0.001)), None, None) is None


def test_a_flex_tells_cause_and_takes_it_back_with_the_last_one() -> None:
    zone = JOB.zone("z4")
    flex = flex_at(zone, (0.5, 0.3), Measure(si=400.0), Measure(si=0.004))
    told = add_flex(zone, flex, True).change(JOB).zone("z4")
    assert [(a.finding, a.said) for a in told.diagnosis.answers] == [("flexes", "yes")]
    assert plan(add_flex(zone, flex, True).change(JOB), SHELF).zone("z4").said[-1].finding
    quiet = add_flex(zone, flex, None).change(JOB).zone("z4")
    assert quiet.proof.flexes and not quiet.diagnosis.answers
    job = add_flex(zone, flex, False).change(JOB)
    assert job.zone("z4").diagnosis.answers[0].said == "no"
    assert remove_flex("z4", flex.id).change(job).zone("z4") == zone
