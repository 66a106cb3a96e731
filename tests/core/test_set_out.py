"""Setting out: distances from two edges that stay, against a patch measured by hand."""

from itertools import pairwise

import pytest
from tests.core.test_begin import begun

from ribpatch.core.edits import draw_cut, draw_extent, set_outline, set_value
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.scheme import Laminate, Scheme, StackLine
from ribpatch.core.set_out import fixed_edges, set_out
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
BOX = ((0.3, 0.2), (0.7, 0.2), (0.7, 0.5), (0.3, 0.5))


def panel(origin=(0.0, 0.0), skin=0.004, ratio=12.0):
    """A solid panel 1.4 x 0.9 m, cut 0.4 x 0.3 m, 0.3 and 0.2 m from its aft and lower edges."""
    a, b = origin
    job = begun("work-launch", ("flexing-panel",))
    job = set_outline("z1", ((a, b), (a + 1.4, b), (a + 1.4, b + 0.9), (a, b + 0.9))).change(job)
    ring = tuple((a + x, b + y) for x, y in BOX)
    job = draw_cut("z1", (ring,)).change(draw_extent("z1", (ring,)).change(job))
    job = set_value(("zones", "z1", "build", "outer", "thickness"), Measure(si=skin, typed="x")).change(job)
    scheme = job.zones[0].scheme
    plies = Laminate(plies=(StackLine(fabric="biax-45-600", count=4),))
    scheme = Scheme(**{**vars(scheme), "laminate": plies})
    scheme = evolve(scheme, taper=evolve(scheme.taper, ratio=Measure(si=ratio)))
    job = evolve(job, zones=(evolve(job.zones[0], scheme=scheme),))
    return plan(job, SHELF).zone("z1")


@pytest.mark.parametrize("origin", [(0.0, 0.0), (3.0, -2.0)])
def test_lines_are_measured_from_the_same_edges_wherever_the_outline_lies(origin):
    made = panel(origin)
    rows = {r.name: r for r in set_out(made)}
    assert rows["cut line"].along == pytest.approx((0.3, 0.7)) and rows["cut line"].up == pytest.approx((0.2, 0.5))
    reach = 12 * 0.004  # taper length R t on every side
    assert rows["taper ends"].along == pytest.approx((0.3 - reach, 0.7 + reach), abs=1e-6)
    assert rows["taper ends"].up == pytest.approx((0.2 - reach, 0.5 + reach), abs=1e-6)
    assert fixed_edges(made) == ("aft", "bottom")


def test_plies_step_evenly_from_the_cut_to_the_end_of_the_taper():
    made = panel()
    rows = set_out(made)
    lefts = [r.along[0] for r in rows if r.name.startswith("ply")]
    steps = [a - b for a, b in pairwise(lefts)]
    assert len(lefts) == 4 and lefts == sorted(lefts, reverse=True)
    assert all(s == pytest.approx(steps[0], rel=1e-6) for s in steps)
    # Each ply lies on the taper where its own top comes: four of them are a little thinner than the skin.
    assert lefts[-1] == pytest.approx(0.3 - 12 * made.patch.stack.thickness, abs=1e-6)


def test_nothing_cut_is_nothing_to_set_out():
    assert set_out(plan(begun(), SHELF).zone("z1")) == ()
