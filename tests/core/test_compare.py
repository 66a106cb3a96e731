"""Schemes weighed: hours from areas over rates, sittings and sandings, each against its own sum."""

import pytest
from tests.bed import bed_job as demo_job
from tests.schemes import rescheme

from ribpatch.core.compare import compared_schemes, scheme_table
from ribpatch.core.hours import hours_of
from ribpatch.core.record import evolve
from ribpatch.core.scheme import StackLine
from ribpatch.core.supply.areas import bonded_area, covered_area
from ribpatch.library.shelf import shipped_shelf

SHELF, JOB = shipped_shelf(), demo_job()


def one(zone, **changes):
    wanted = JOB.zone(zone)
    changed = evolve(wanted, scheme=rescheme(wanted.scheme, **changes), others=())
    (row,) = compared_schemes(changed, JOB.air, JOB.boat, SHELF, "metric")
    return row


def test_hours_are_areas_over_rates():
    row = one("z1")
    patch, inputs = row.made.patch, {g.name: g.value for g in row.figures["hours"].inputs}
    covered, bonded = covered_area(patch), bonded_area(row.made.zone, patch, True)
    # Areas over rates, with what each step is set up and cleaned up for: peel ply off, putty, sanding.
    assert inputs["fairing"] == pytest.approx((covered / 0.6 + 0.1 + 0.08 * covered + 0.4 + 0.4) * 3600)
    # Two sittings, and two prime coats: under the core, and under the plies once it is fast.
    laid = sum(o.region.area for o in patch.all_outlines)
    assert inputs["laminating"] == pytest.approx((laid / 2.5 + 2 * 0.6 + 0.15 * bonded + 2 * 0.15) * 3600)
    core = patch.cut.region.area
    assert inputs["core"] == pytest.approx((core / 0.5 + 0.65) * 3600) and inputs["stripping out"] == 3 * 3600
    assert inputs["cutting open"] == pytest.approx((0.35 * patch.cut.region.length + 1.0) * 3600)
    names = [name for name, _ in hours_of(row.made)]
    assert row.figures["hours"].value == pytest.approx(sum(inputs[n] for n in names))
    assert row.figures["hours"].value == pytest.approx(sum(r.hours for r in row.made.steps.rows))


@pytest.mark.parametrize(
    ("between", "plies", "sandings"), [("green", 9, 1), ("cured", 9, 3), ("cured", 4, 1), ("cured", 5, 2)]
)
def test_a_sanding_for_each_sitting_after_the_first_that_cured_and_one_before_fairing(between, plies, sandings):
    row = one("z4", between=between, plies=(StackLine(fabric="biax-45-450", count=plies),))
    assert row.figures["sittings"].value == -(-plies // 4) and row.figures["sandings"].value == sandings


def test_what_could_go_wrong_is_said_grave_ones_first_then_counted_then_nothing(job, shelf):
    from msgspec.structs import replace

    from ribpatch.core.notice import Notice

    zone = job.zones[0]
    first, *others = compared_schemes(zone, job.air, job.boat, shelf, "metric")
    grave = Notice("a", "open", "cut", "It leaks.", "Mend it.", True)
    lesser = Notice("b", "open", "cut", "It is dear.", "Pay.", False)
    for notices, words in (
        ((), "nothing known"),
        ((lesser, lesser), "2 lesser warnings"),
        ((lesser, grave), "It leaks."),
        ((grave,) * 4, "It leaks.; It leaks. and 2 more"),
    ):
        table = scheme_table((replace(first, open_notices=notices), *others), zone.scheme.id)
        assert table.rows[0].cells[-1] == words
