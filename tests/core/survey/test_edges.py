"""Where the bad area reaches the zone's sides: lengths and places by hand."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import union_all
from shapely.geometry import Point, Polygon, box

from ribpatch.core.job import Edge
from ribpatch.core.survey.edges import runs_on

OUTLINE = ((0.0, 0.0), (2.0, 0.0), (2.0, 1.0), (0.0, 1.0))
EDGES = (Edge(side=0, name="hatch side"), Edge(side=2, name="gunwale"))


def test_damage_in_the_middle_reaches_no_side():
    assert runs_on(box(0.5, 0.3, 1.0, 0.7), OUTLINE, EDGES) == ()
    assert runs_on(Polygon(), OUTLINE, EDGES) == ()


def test_the_length_and_the_middle_of_what_is_reached():
    (side,) = runs_on(box(0.4, 0.0, 1.0, 0.3), OUTLINE, EDGES)
    assert (side.side, side.name) == (0, "hatch side")
    assert side.length == pytest.approx(0.6, abs=0.003) and side.at == pytest.approx((0.7, 0.0), abs=0.002)


def test_a_corner_reaches_two_sides_the_longer_first_and_unnamed_sides_have_numbers():
    found = runs_on(box(1.2, 0.5, 2.0, 1.0), OUTLINE, EDGES)
    assert [(r.side, r.name) for r in found] == [(2, "gunwale"), (1, "side 2")]
    assert [r.length for r in found] == pytest.approx([0.8, 0.5], abs=0.003)


def test_two_stretches_of_one_side_count_together_and_the_longer_is_pointed_at():
    region = union_all([box(0.1, 0.0, 0.3, 0.2), box(1.0, 0.0, 1.6, 0.2)])
    (side,) = runs_on(region, OUTLINE, ())
    assert side.length == pytest.approx(0.8, abs=0.006) and side.at[0] == pytest.approx(1.3, abs=0.002)


def test_within_a_millimetre_counts_as_reached_and_beyond_does_not():
    (side,) = runs_on(Point(0.5, 0.1).buffer(0.0999, quad_segs=200), OUTLINE, ())
    assert side.length == pytest.approx(2 * (0.1009**2 - 0.1**2) ** 0.5, rel=0.02)
    assert runs_on(Point(0.5, 0.1).buffer(0.0985), OUTLINE, ()) == ()


@given(st.floats(0.1, 1.9), st.floats(0.1, 0.9), st.floats(0.05, 2.5))
def test_no_side_is_reached_over_more_than_its_length(x, y, radius):
    region = Point(x, y).buffer(radius).intersection(Polygon(OUTLINE))
    found = runs_on(region, OUTLINE, EDGES)
    assert all(0 < r.length <= (2.0, 1.0, 2.0, 1.0)[r.side] + 0.005 for r in found)
    assert [r.length for r in found] == sorted((r.length for r in found), reverse=True)
    if radius > max(x, 2 - x, y, 1 - y) * 1.5 + 1:
        assert len(found) == 4
