"""Every table, chart and drawing of Open and Rebuild can be made of any job that edits can lead to, with finite
numbers.
"""

from math import isfinite

from hypothesis import given, settings
from hypothesis import strategies as st
from tests import strategies
from tests.bed import bed_job as demo_job

from ribpatch.core.compare import compared_schemes, scheme_table
from ribpatch.core.drawing.cut_view import cut_view
from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.section_view import default_line, section_view
from ribpatch.core.errors import Fault
from ribpatch.core.figure import Figure
from ribpatch.core.laminate.comparison_figures import match_chart, match_table, stiffness_table, strength_table
from ribpatch.core.mixing import cup_chart, mixing_words
from ribpatch.core.patch.access.before import checklist, order_of
from ribpatch.core.patch.access.scores import side_scores
from ribpatch.core.patch.bonding.figures import bond_chart, school_table, tight_table
from ribpatch.core.patch.bonding.protocol import bond_plan, coupon_test, plan_table
from ribpatch.core.patch.coring.choice import core_choices, core_table
from ribpatch.core.patch.coring.table import work_table
from ribpatch.core.patch.coring.work import core_work
from ribpatch.core.patch.part_table import part_table
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve, evolve_in
from ribpatch.core.units import Measure
from ribpatch.formats.svg import svg_text

JOB, SHELF = demo_job(), strategies.SHELF


def tables_of(made, job):
    zone, patch = made.zone, made.patch
    yield plan_table(bond_plan(zone, patch, 1998, SHELF))
    yield part_table(made.parts, zone.id)
    yield tight_table(patch, made.joint, zone.id)
    yield scheme_table(compared_schemes(zone, job.air, job.boat, SHELF, "us"), zone.scheme.id)
    work = core_work(zone, patch, SHELF)
    if work is not None:
        yield work_table(work, zone.id, SHELF, "us")
    if made.joint is not None:
        yield school_table(made.joint, patch, zone.scheme, zone.outline, SHELF, zone.id)
    if made.comparison is not None:
        yield match_table(made.comparison, made.by_id, SHELF)
        yield strength_table(made.by_id)
        yield stiffness_table(made.comparison.skin.new, made.by_id, SHELF)
        yield core_table(core_choices(zone, patch, made.comparison, SHELF), zone, SHELF, zone.id)


@settings(max_examples=25)
@given(st.lists(strategies.any_edit, min_size=2, max_size=10))
def test_all_pages_of_any_job(edits):
    job = JOB
    for edit in edits:
        try:
            job = edit.change(job)
        except Fault:
            continue
    made = plan(job, SHELF).zone("z4")
    for table in tables_of(made, job):
        for row in table.rows:
            assert len(row.cells) == len(table.columns)
            for cell in row.cells:
                assert not isinstance(cell, Figure) or isfinite(cell.value), cell.id
    if made.joint is not None:
        assert bond_chart(made.joint, made.zone.scheme).curves
    if made.comparison is not None:
        assert match_chart(made.comparison.skin, SHELF).bars
    assert len(side_scores(made.zone, made.patch, SHELF)) == 3 and len(order_of(job, SHELF)) == len(job.zones)
    assert all(seen.item.text for seen in checklist(made.zone, made.patch, SHELF))
    assert bool(coupon_test(made.zone, SHELF)) == (made.zone.scheme.resin.later is not None)
    for depth in ("open", "rebuild"):
        drawing = plan_view(made.zone, made.patch, None, SHELF, depth, "metric")
        assert drawing.shapes
    cut = section_view(made.zone, made.patch, SHELF, default_line(made.zone), True, "metric")
    assert svg_text(cut, 10).endswith("</svg>\n")


@settings(max_examples=6, deadline=None)
@given(st.lists(strategies.any_edit, min_size=2, max_size=10), st.floats(-30, 60), st.sampled_from(SHELF.resins))
def test_what_order_says_of_any_job_in_any_shed(edits, temperature, resin):
    job = evolve(JOB, air=evolve(JOB.air, temperature=Measure(si=round(temperature, 2))))
    for edit in edits:
        try:
            job = edit.change(job)
        except Fault:
            continue
    zone = job.zone("z4")
    zone = evolve(zone, scheme=evolve_in(zone.scheme, "resin", main=resin.id, vessel="tray"))
    job = evolve(job, zones=tuple(zone if z.id == "z4" else z for z in job.zones))
    whole = plan(job, SHELF)
    made = whole.zone("z4")
    words = " ".join(mixing_words(made, "us"))
    assert not {"nan", "inf"} & set(words.split()) and bool(words) == bool(made.needs.cups.count)
    chart = cup_chart(made, "us")
    assert chart is None or all(isfinite(x) and isfinite(y) for c in chart.curves for x, y in c.points)
    assert svg_text(cut_view(whole.rolls, "us"), 50.0).endswith("</svg>\n")
    assert all(isfinite(f.value) for f in whole.totals if "trim" in f.id)
