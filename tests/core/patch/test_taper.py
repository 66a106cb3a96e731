"""The taper against closed forms, and the ratio that really fits."""

import math

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import MultiPolygon, Point

from ribpatch.core.geometry import clean
from ribpatch.core.job import Fitting
from ribpatch.core.laminate.stack import stack_up
from ribpatch.core.patch.cutline import CutLine
from ribpatch.core.patch.plies import ply_outlines, shares
from ribpatch.core.patch.taper import band_of, taper_length
from ribpatch.core.scheme import StackLine, Taper
from ribpatch.core.units import Measure

ZONE = ((0.0, 0.0), (3.0, 0.0), (3.0, 2.0), (0.0, 2.0))


def line(region) -> CutLine:
    region = clean(region)
    return CutLine(region, region, False, 0.0, 0.0, False, 0.0)


def disc_line(r=0.3, x=1.5, y=1.0) -> CutLine:
    return line(Point(x, y).buffer(r, quad_segs=64))


def band(cut, ratio=12.0, t=0.004, form="ground", plies=5, fittings=()):
    return band_of(cut, Taper(ratio=Measure(si=ratio), form=form), t, plies, 0.012, ZONE, fittings)


def fitting(x, y, w, h=0.0, name="cleat"):
    return Fitting(id="f1", name=name, x=x, y=y, width=Measure(si=w), height=Measure(si=h))


@pytest.mark.parametrize("ratio", [8, 12, 20, 33])
def test_band_round_a_disc(ratio):
    made = band(disc_line(), ratio)
    length = ratio * 0.004
    assert made.length == pytest.approx(length)
    assert made.region.area == pytest.approx(math.pi * ((0.3 + length) ** 2 - 0.09), rel=3e-3)


def test_ground_volume_round_a_disc():
    """The integral of 2 pi (r + d) t (1 - d/L) over the taper is pi t (r L + L2/3)."""
    r, length, t = 0.3, 0.08, 0.004
    assert band(disc_line(r), 20, t).ground_volume == pytest.approx(
        math.pi * t * (r * length + length**2 / 3), rel=3e-3
    )


@given(st.floats(2, 60), st.floats(0.1, 10))
def test_the_band_only_grows_with_the_ratio(ratio, more):
    assert band(disc_line(), ratio + more).region.area >= band(disc_line(), ratio).region.area - 1e-9


def test_a_stepped_taper_gives_each_ply_its_shortest_step():
    assert taper_length(8, 0.004, "stepped", 5, 0.012) == pytest.approx(0.060)
    assert taper_length(20, 0.004, "stepped", 5, 0.012) == pytest.approx(0.080)
    assert taper_length(8, 0.004, "ground", 5, 0.012) == pytest.approx(0.032)


def test_the_ratio_available_is_the_room_over_the_thickness():
    made = band(line(shapely.box(0.02, 0.5, 1, 1.5)), 12, 0.004)
    assert made.least_ratio == pytest.approx(0.02 / 0.004, rel=1e-3)
    assert made.tight[0].against == "the zone's edge"
    assert made.tight[0].length == pytest.approx(1.0, abs=0.1)


def test_a_fitting_in_the_way_is_named_with_the_ratio_that_fits():
    made = band(line(shapely.box(1, 0.5, 2, 1.5)), 12, 0.004, fittings=(fitting(2.05, 1.0, 0.04),))
    assert [t.against for t in made.tight] == ["cleat"]
    assert made.least_ratio == pytest.approx(0.03 / 0.004, rel=0.02)


def test_a_fitting_within_the_cut_comes_out_and_is_no_obstacle():
    made = band(disc_line(), fittings=(fitting(1.5, 1.0, 0.1, 0.1),))
    assert made.removed == ("cleat",) and not made.tight


def test_a_cut_through_a_fitting_leaves_no_taper_there():
    made = band(line(shapely.box(1, 0.5, 2, 1.5)), fittings=(fitting(2.0, 1.0, 0.1, 0.1),))
    assert made.tight[0].ratio == pytest.approx(0, abs=0.1)


def test_plenty_of_room_is_not_marked():
    made = band(disc_line(), 20)
    assert made.tight == () and made.least_ratio == pytest.approx(0.7 / 0.004, rel=1e-2)


def test_no_cut_no_band():
    made = band(line(MultiPolygon()))
    assert made.region.is_empty and made.ground_volume == 0 and made.tight == ()


@pytest.fixture
def stack(shelf):
    return stack_up((StackLine(fabric="biax-45-600", count=4),), "epoxy-5-1-slow", "hand", shelf)


@pytest.mark.parametrize("form", ["ground", "stepped"])
def test_both_orders_use_the_same_sizes_for_a_stack_as_thick_as_the_skin(stack, form):
    made = band(disc_line(), 12, stack.thickness, form, 4)
    up, down = (shares(stack.tops, made, f"{size} first") * made.length for size in ("smallest", "largest"))
    assert list(up) == pytest.approx(sorted(up)) and list(down) == pytest.approx(sorted(up, reverse=True))
    assert up[-1] == pytest.approx(made.length)


def test_plies_of_equal_thickness_step_out_by_equal_reaches(stack):
    made = band(disc_line(), 12, stack.thickness, "ground", 4)
    assert list(shares(stack.tops, made, "smallest first") * made.length) == pytest.approx(
        [made.length * k / 4 for k in (1, 2, 3, 4)]
    )


@given(st.floats(0.001, 0.01), st.sampled_from(["smallest first", "largest first"]), st.floats(0, 0.05))
def test_no_ply_reaches_past_taper_and_overlap(thickness, order, overlap):
    from ribpatch.library.shelf import shipped_shelf

    stack = stack_up((StackLine(fabric="biax-45-600", count=6),), "epoxy-5-1-slow", "hand", shipped_shelf())
    cut = disc_line()
    made = band(cut, 12, thickness, "ground", 6)
    for outline in ply_outlines(cut, made, stack, order, overlap, ZONE):
        assert -1e-9 <= outline.reach <= made.length + overlap + 1e-9
        assert outline.region.area == pytest.approx(math.pi * (0.3 + outline.reach) ** 2, rel=5e-3)


def test_plies_stay_inside_the_zone(stack):
    cut = line(shapely.box(0, 0, 1, 1))
    made = band(cut, 20, stack.thickness, "ground", 4)
    for outline in ply_outlines(cut, made, stack, "smallest first", 0.02, ZONE):
        assert shapely.box(0, 0, 3, 2).buffer(1e-9).covers(outline.region)


@pytest.mark.parametrize(("x", "t", "ratio"), [(0.1, 0.004, 20), (0.07, 0.006, 16), (0.3, 0.009, 20)])
def test_a_band_that_meets_the_edge_is_ground_as_a_sum_of_thin_slices_says(x, t, ratio):
    """Where the edge cuts the band off, its area has a kink: against slices of our own, much finer."""
    cut = shapely.box(x - 0.05, 0.8, x + 0.05, 1.0)
    length, whole = ratio * t, shapely.Polygon(ZONE)
    areas = [
        cut.buffer(length * (n + 0.5) / 2000, quad_segs=16).intersection(whole).area - cut.area for n in range(2000)
    ]
    made = band(line(cut), ratio, t)
    assert made.ground_volume == pytest.approx(t * sum(areas) / 2000, rel=1e-3)


@pytest.mark.parametrize("plies", [1, 2, 3, 7])
def test_a_stepped_taper_is_ground_in_steps_whose_middles_lie_on_the_line(plies):
    """Round a disc: n rings, each as deep as the line is in its middle, t (1 - (k - 1/2) / n)."""
    r, t, ratio = 0.1, 0.006, 20
    made = band(disc_line(r), ratio, t, "stepped", plies)
    length = max(ratio * t, plies * 0.012)
    edges = [r + length * k / plies for k in range(plies + 1)]
    wanted = sum(math.pi * (edges[k + 1] ** 2 - edges[k] ** 2) * t * (1 - (k + 0.5) / plies) for k in range(plies))
    assert made.ground_volume == pytest.approx(wanted, rel=3e-3)
