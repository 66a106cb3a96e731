"""One material for another through the whole job: everywhere, nothing else, and what it changes."""

from __future__ import annotations

import pytest
from tests.bed import bed_job as demo_job

from ribpatch.core.errors import Fault
from ribpatch.core.figure import Figure
from ribpatch.core.plan import plan
from ribpatch.core.record import as_json, evolve, evolve_in
from ribpatch.core.scheme import Repeat, StackLine
from ribpatch.core.scheme_edits import set_backing, set_resin_from, set_second
from ribpatch.core.swap import kind_of, others_for, swap, swap_table
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
JOB = demo_job()


def with_everything():
    """The demo with a second face, backing, a sub-stack and several resins."""
    job = set_backing("z4", True).change(set_second("z1", True).change(JOB))
    job = set_resin_from("z1", 2, "epoxy-5-1-fast").change(job)
    zone = job.zone("z2")
    plies = (
        Repeat(times=2, lines=(StackLine(fabric="biax-45-600"), StackLine(fabric="mat-300"))),
        *zone.scheme.laminate.plies,
    )
    scheme = evolve_in(zone.scheme, "laminate", plies=plies)
    return evolve(job, zones=tuple(evolve(z, scheme=scheme) if z is zone else z for z in job.zones))


@pytest.mark.parametrize(
    ("old", "new"),
    [
        ("biax-45-600", "biax-45-800"),
        ("biax-45-450", "mat-450"),
        ("epoxy-5-1-slow", "epoxy-2-1-slow"),
        ("epoxy-5-1-fast", "epoxy-1-1"),
        ("foam-pvc-130", "foam-pet-110"),
    ],
)
def test_a_swap_is_made_everywhere_and_changes_nothing_else(old: str, new: str) -> None:
    """Against the text of the job with every mention of the id replaced."""
    job = with_everything()
    before, after = (as_json(j).decode() for j in (job, swap(old, new, SHELF).change(job)))
    assert f'"{old}"' in before
    assert after == before.replace(f'"{old}"', f'"{new}"'), "nothing of her own build is of it here"


def test_zones_that_have_none_of_it_stay_the_same() -> None:
    after = swap("foam-pvc-130", "foam-pet-110", SHELF).change(JOB)
    assert after.zone("z4") is JOB.zone("z4") and after.zone("z1") is not JOB.zone("z1")
    assert all(a is b for a, b in zip(swap("mat-225", "mat-300", SHELF).change(JOB).zones, JOB.zones, strict=True))


def test_what_is_offered_is_of_its_kind() -> None:
    assert (
        kind_of("mat-300", SHELF) == "fabric"
        and kind_of("peel-ply", SHELF) is None
        and others_for("peel-ply", SHELF) == ()
    )
    offered = dict(others_for("epoxy-1-1", SHELF))
    assert set(offered) == {r.id for r in SHELF.resins} - {"epoxy-1-1"}
    assert swap("epoxy-1-1", "vinylester", SHELF).name == "take vinylester instead of 1:1 epoxy"


def test_the_table_holds_what_both_plans_say() -> None:
    made = plan(JOB, SHELF)
    table = swap_table(made, "biax-45-600", "biax-45-800", SHELF)
    after = plan(swap("biax-45-600", "biax-45-800", SHELF).change(JOB), SHELF)
    rows = {r.key: r for r in table.rows}
    thick = rows["Foredeck.stack.thickness"].cells
    assert isinstance(thick[1], Figure) and thick[1].value == made.zone("z1").figure("stack.thickness").value
    assert thick[2].value == after.zone("z1").figure("stack.thickness").value > thick[1].value and thick[3].startswith(
        "+"
    )
    assert rows[".cost.total"].cells[2].value == after.figure("cost.total").value
    assert swap_table(made, "mat-225", "mat-300", SHELF).rows == ()


def test_warnings_that_come_and_go_are_told() -> None:
    made = plan(JOB, SHELF)
    table = swap_table(made, "epoxy-5-1-slow", "polyester-iso", SHELF)
    new = [r for r in table.rows if r.mark == "warn"]
    told = {n.text for n in plan(swap("epoxy-5-1-slow", "polyester-iso", SHELF).change(JOB), SHELF).notices} - {
        n.text for n in made.notices
    }
    assert {str(r.cells[0]).partition(": ")[2] for r in new} == told
    back = swap_table(
        plan(swap("epoxy-5-1-slow", "polyester-iso", SHELF).change(JOB), SHELF),
        "polyester-iso",
        "epoxy-5-1-slow",
        SHELF,
    )
    assert sum(r.cells[2] == "gone" for r in back.rows) == len(new)
    with pytest.raises(Fault):
        swap_table(made, "epoxy-5-1-slow", "nothing", SHELF)
