"""Every rule at, just inside and just outside its own limits, through a whole plan with every table and drawing."""

from math import isfinite, nextafter

import pytest
from tests.bed import bed_job as demo_job
from tests.core.test_pages_of_any_job import tables_of

from ribpatch.core import scheme_edits
from ribpatch.core.diagnosis.zone import look_marks
from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.section_view import default_line, section_view
from ribpatch.core.drawing.survey_picture import survey_picture
from ribpatch.core.edits import set_core, set_rule, set_value
from ribpatch.core.errors import Fault, InvalidValue, ManyFaults
from ribpatch.core.figure import Figure
from ribpatch.core.job import Survey
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.units import Kind, Measure
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()


def rich_job():
    """Two small zones that between them use nearly every rule: a cored deck with few readings, a pitted solid hull."""
    job = demo_job()
    deck, hull = job.zone("z1"), job.zone("z4")
    few = deck.survey.readings[::9]
    deck = evolve(
        deck, survey=Survey(readings=few, references=tuple(r.id for r in few if r.id in deck.survey.references))
    )
    job = evolve(job, zones=(deck, hull))
    for edit in (
        scheme_edits.set_second("z4", True), scheme_edits.set_backing("z4", True), scheme_edits.set_tabbing("z4", True),
        scheme_edits.put_depth(hull, (0.7, 0.34), Measure(si=0.003)), set_core("z1", "foam-pvc-130"),
        set_value(("zones", "z1", "scheme", "resin", "later"), "polyester-iso"), set_value(("zones", "z1", "scheme", "core", "clamp"), "props"),
        scheme_edits.add_part(job.zone("z4"), "knee"),
    ):  # fmt: skip
        job = edit.change(job)
    return job


JOB = rich_job()


def whole(job):
    """Everything that is worked out of a job; every number finite."""
    made = plan(job, SHELF)
    for figure in made.figures:
        assert isfinite(figure.value) or figure.id.endswith("taper.available"), figure.id
    for zone in made.zones:
        for table in tables_of(zone, job):
            for row in table.rows:
                assert all(not isinstance(c, Figure) or isfinite(c.value) for c in row.cells)
        picture = survey_picture(zone.zone, SHELF)
        assert plan_view(zone.zone, zone.patch, picture, made.shelf, "rebuild", "us").shapes
        assert section_view(zone.zone, zone.patch, made.shelf, default_line(zone.zone), True, "metric").shapes
        look_marks(job, zone.zone, made.shelf)
    return made


def inside(rule):
    if rule.kind is Kind.COUNT:
        return rule.low + 1, rule.high - 1
    span = rule.high - rule.low
    return rule.low + 1e-6 * span, rule.high - 1e-6 * span


GROUPS = len(SHELF.rules) // 6


@pytest.mark.parametrize("end", ["low", "high"])
@pytest.mark.parametrize("group", range(GROUPS))
def test_a_plan_stands_with_rules_at_their_limits(group, end):
    """A few at a time, far apart in the list: of one method no more than one is at its limit."""
    job, few = JOB, SHELF.rules[group::GROUPS]
    for rule in few:
        job = set_rule(rule, getattr(rule, end)).change(job)
    made = whole(job)
    assert all(made.shelf.rule(rule.id) == getattr(rule, end) for rule in few)


@pytest.mark.parametrize("rule", SHELF.rules, ids=lambda r: r.id)
def test_a_rule_may_have_any_value_within_its_limits_and_none_outside(rule):
    for value in (rule.low, *inside(rule), rule.high):
        assert set_rule(rule, value).change(JOB).own.rules[0].value == value
    for value in (nextafter(rule.low, -1e30), nextafter(rule.high, 1e30), rule.low - 1, rule.high + 1):
        with pytest.raises(InvalidValue, match="outside"):
            set_rule(rule, value)
        raw = evolve(JOB, own=evolve(JOB.own, rules=(evolve(rule, value=value),)))
        with pytest.raises(Fault, match="own.rules.0"):
            plan(raw, SHELF)


def test_rules_of_a_file_are_checked_by_id_kind_and_whole_number():
    share = next(r for r in SHELF.rules if r.kind is Kind.PERCENT)
    counted = next(r for r in SHELF.rules if r.kind is Kind.COUNT and r.high - r.low > 1)
    strange = evolve(SHELF.rules[-1], id="no-such-rule")
    wrong = (evolve(share, kind=Kind.LENGTH), evolve(counted, value=counted.low + 0.5), strange)
    with pytest.raises(ManyFaults) as caught:
        plan(evolve(JOB, own=evolve(JOB.own, rules=wrong)), SHELF)
    said = [f.sentence for f in caught.value.faults]
    assert [f.where for f in caught.value.faults] == ["own.rules.0.kind", "own.rules.1.value", "own.rules.2.id"]
    assert "whole number" in said[1] and "no-such-rule" in said[2]
