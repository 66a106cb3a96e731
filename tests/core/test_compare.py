"""Schemes weighed: hours from areas over rates, sittings and sandings, each against its own sum."""

import pytest
from tests.schemes import rescheme

from ribpatch.core.compare import compared_schemes, scheme_table
from ribpatch.core.record import evolve
from ribpatch.core.scheme import StackLine
from ribpatch.core.supply.areas import covered_area
from ribpatch.library.demo import demo_job
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
    assert inputs["fairing"] == pytest.approx(covered_area(patch) / 0.6 * 3600)
    assert inputs["laminating"] == pytest.approx(sum(o.region.area for o in patch.all_outlines) / 2.5 * 3600)
    assert inputs["core"] == pytest.approx(patch.cut.region.area / 0.5 * 3600) and inputs["stripping out"] == 3 * 3600
    hours = sum(inputs[n] for n in ("fairing", "laminating", "core", "stripping out", "grinding"))
    assert row.figures["hours"].value == pytest.approx(hours) and 5 < hours / 3600 < 20


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
