"""Figures of the laminate bench by sums of our own: what a bad core keeps, rows of suggestions, sizes of a zone."""

import pytest
from tests.bed import bed_job as demo_job
from tests.strategies import SHELF

from ribpatch.core.facts import zone_facts
from ribpatch.core.laminate.search import search
from ribpatch.core.laminate.suggest import Wanted, question_of, stack_key, table_of, usable
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve

JOB = demo_job()


def test_a_core_gone_bad_keeps_what_its_range_leaves():
    made = plan(JOB, SHELF).zone("z1")
    core = SHELF.core("balsa-150")
    before = made.comparison.old_sandwich
    d = before.c + (before.below.thickness + before.above.thickness) / 2
    for key, lost in zip(("least", "most"), core.wet_loss, strict=True):
        wanted = core.shear_modulus * (1 - lost) * d**2 / before.c
        assert made.figure(f"panel.wet.{key}").value == pytest.approx(wanted, rel=1e-6)


def test_a_zone_is_as_long_and_wide_as_its_corners_say():
    zone = JOB.zone("z4")
    moved = evolve(zone, outline=tuple((x + 3.0, y - 7.0) for x, y in zone.outline))
    for one in (zone, moved):
        facts = {f.key: f.value for f in zone_facts(one)}
        assert facts["length"] == pytest.approx(1.5) and facts["width"] == pytest.approx(0.72)


def test_suggestions_are_told_as_they_were_found():
    zone = JOB.zone("z4")
    fit = usable(SHELF, "epoxy-5-1-slow", False, "hand")
    names = tuple(f.id for f in fit)[:4]
    aim = 0.007
    question = question_of(zone, aim, 1998, SHELF, Wanted(names, 9, 2, False))
    rule = SHELF.rule
    assert question.old.thickness == pytest.approx(aim)
    assert question.limits.thin == pytest.approx(aim)
    assert question.limits.thick == pytest.approx(aim * rule("hard.surplus") + zone.scheme.laminate.crown.si)
    found = search(question.cloths, question.old, question.limits)[:5]
    assert found
    table = table_of(found, question.limits, SHELF, "z4", stack_key(found[0].lines))
    assert [r.mark for r in table.rows] == ["chosen", *[""] * (len(found) - 1)]
    assert [r.key for r in table.rows] == [str(n) for n in range(len(found))]
    for row, f in zip(table.rows, found, strict=True):
        values = [c.value for c in row.cells[1:]]
        assert values == pytest.approx([f.plies, f.thickness, f.weight, f.price, min(f.stretch), min(f.bend), f.pull])
        assert sum(line.count for line in f.lines) == f.plies
    heavy = usable(SHELF, "epoxy-5-1-slow", True, "hand")
    assert {f.id for f in heavy} < {f.id for f in fit}
