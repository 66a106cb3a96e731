"""The plan: pure, remembered by part, and every figure able to explain itself."""

import pytest

from ribpatch.core.cautions import LIMITS, cautions_for
from ribpatch.core.edits import set_value
from ribpatch.core.fields import set_at
from ribpatch.core.figure import Origin
from ribpatch.core.plan import plan, zone_plan
from ribpatch.core.record import evolve
from ribpatch.core.units import Measure


def test_figures_have_stable_unique_ids_and_say_how_they_came_about(made):
    ids = [f.id for f in made.figures]
    assert len(set(ids)) == len(ids) and len(ids) > 200
    for figure in made.figures:
        assert figure.formula and figure.name
        for given in figure.inputs:
            assert given.shown() and (not given.figure or given.figure in made.by_id), (figure.id, given)


def test_a_plan_is_pure(job, shelf, made):
    again = plan(evolve(job, notes="same work"), shelf)
    assert [(f.id, f.value) for f in again.figures] == [(f.id, f.value) for f in made.figures]


def test_zones_that_did_not_change_are_not_worked_out_again(job, shelf):
    # What other tests left remembered has no part in this.
    job = set_at(job, ("zones", "z1", "survey", "confidence"), Measure(si=0.91))
    made = plan(job, shelf)
    changed = plan(set_at(job, ("zones", "z1", "scheme", "taper", "ratio"), Measure(si=20)), shelf)
    assert changed.zone("z3") is made.zone("z3") and changed.zone("z4") is made.zone("z4")
    assert changed.zone("z2") is made.zone("z2") and changed.zone("z1") is not made.zone("z1")
    assert changed.zone("z1").patch.extent is made.zone("z1").patch.extent, "the survey did not change"


def test_changing_the_taper_moves_what_follows_from_it_and_nothing_else(job, shelf, made):
    new = plan(set_value(("zones", "z1", "scheme", "taper", "ratio"), Measure(si=20)).change(job), shelf).by_id
    old = made.by_id
    for key in ("z1.taper.length", "z1.taper.area", "z1.cloth.area", "z1.resin.mixed", "z1.weight.off", "cost.total"):
        assert new[key].value > old[key].value, key
    for key in ("z1.extent.area", "z1.cut.area", "z1.stack.thickness", "z1.core.area", "z2.resin.mixed"):
        assert new[key].value == old[key].value, key


def test_heavier_cloth_makes_a_thicker_and_heavier_laminate(job, shelf, made):
    lines = tuple(evolve(line, fabric="biax-090-800") for line in job.zone("z1").scheme.laminate.plies)
    new = plan(set_at(job, ("zones", "z1", "scheme", "laminate", "plies"), lines), shelf).by_id
    for key in ("z1.stack.thickness", "z1.stack.weight", "z1.resin.plies", "z1.weight.on"):
        assert new[key].value > made.by_id[key].value


def test_job_totals_are_sums_over_zones(made):
    for key in ("resin.mixed", "weight.net", "cloth.area"):
        parts = sum(z.by_id[key].value for z in made.zones)
        assert made.by_id[f"job.{key}"].value == pytest.approx(parts)
    costs = sum(z.by_id["cost.total"].value for z in made.zones)
    assert made.by_id["cost.total"].value == pytest.approx(costs)


def test_origins_tell_measured_yours_and_default(made):
    inputs = {g.name: g.origin for g in made.by_id["z1.skin.thickness"].inputs}
    assert inputs["thickness"] is Origin.MEASURED
    assert made.by_id["z1.resin.prime"].inputs[1].origin is Origin.DEFAULT
    ratio = next(g for g in made.by_id["z1.taper.length"].inputs if g.name == "taper ratio")
    assert ratio.origin is Origin.YOURS and "12:1" in ratio.note


def test_an_own_rule_is_used_everywhere_and_told_as_yours(job, shelf, made):
    from ribpatch.core.edits import set_rule

    rule = next(r for r in shelf.rules if r.id == "prime.laminate")
    new = plan(set_rule(rule, 0.4).change(job), shelf).by_id["z1.resin.prime"]
    assert new.value == pytest.approx(2 * made.by_id["z1.resin.prime"].value)
    assert new.inputs[1].origin is Origin.YOURS


def test_an_item_without_a_price_is_told_and_counts_as_nothing(job, shelf):
    from ribpatch.core.edits import add_fabric, set_plies
    from ribpatch.core.materials.fabric_code import fabric_from_code
    from ribpatch.core.scheme import StackLine

    fabric = fabric_from_code("1708")
    changed = set_plies("z4", (StackLine(fabric=fabric.id, count=5),)).change(add_fabric(fabric).change(job))
    total = plan(changed, shelf).by_id["z4.cost.total"]
    assert "1708" in total.warnings[0]


def test_a_job_with_no_zones_has_a_plan(job, shelf):
    empty = plan(evolve(job, zones=()), shelf)
    assert empty.by_id["job.resin.mixed"].value == 0
    assert [n.id for n in empty.notices if n.about == "zones"] == ["no-zones"]


def test_cautions_follow_the_plan(job, shelf, made):
    words = " ".join(c.text for c in cautions_for(made))
    assert "Glass dust" in words and "sensitises" in words and "Support the hull" in words and "lead" in words
    assert "Styrene" not in words
    polyester = plan(set_at(job, ("zones", "z4", "scheme", "resin", "main"), "polyester-iso"), shelf)
    assert "Styrene" in " ".join(c.text for c in cautions_for(polyester))


def test_no_figure_or_text_gives_a_verdict(made):
    words = " ".join(
        [*(f.name + f.formula + f.valid for f in made.figures), *(n.text + n.clears for n in made.notices), LIMITS]
    ).lower()
    assert "approved" not in words and "is safe" not in words


def test_a_figure_asked_for_by_itself_is_the_one_of_the_whole_plan(job, shelf):
    for zone in job.zones[2:]:  # a run and a panel
        whole = zone_plan.function(zone, job.air, job.boat, shelf)
        for key, figure in whole.by_id.items():
            alone = zone_plan.function(zone, job.air, job.boat, shelf)
            assert alone.figure(key) == figure, key
            assert "by_id" not in alone.__dict__
        assert zone_plan.function(zone, job.air, job.boat, shelf).figure("taper.of-gold") is None


def test_a_figure_of_the_survey_works_out_nothing_else(job, shelf):
    zone = zone_plan.function(job.zones[0], job.air, job.boat, shelf)
    assert zone.figure("extent.run") is None and zone.figure("extent.area").value > 0
    assert not {"patch", "needs", "bench", "cause_figures"} & set(zone.__dict__)


def test_warnings_of_a_zone_are_those_of_the_whole_plan(made):
    for zone in made.zones:
        wanted = tuple(n for n in made.notices if n.zone in ("", zone.zone.id))
        assert set(made.notices_of(zone.zone.id)) == set(wanted)
