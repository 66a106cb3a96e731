from math import atan2, cos, degrees, hypot, pi, radians, sin

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon

from ribpatch.core.errors import BadOutline
from ribpatch.core.tracing import Trace, arc


def test_lengths_and_turns_make_the_shape_that_they_say():
    trace = Trace().put((0.1, 0.2))
    for length, turn in ((0.8, None), (0.5, None), (0.8, 90.0)):
        trace = trace.put(trace.on(length, turn))
    assert trace.closed() == ((0.1, 0.2), (0.9, 0.2), (0.9, 0.7), (0.1, 0.7))
    assert trace.side_to((0.1, 0.2)) == pytest.approx((0.5, 90.0))


@given(st.integers(3, 12), st.floats(0.05, 3), st.floats(-180, 180))
def test_equal_sides_and_turns_close_to_a_regular_polygon(sides, length, first):
    trace = Trace().put((1.0, -2.0))
    for k in range(sides - 1):
        trace = trace.put(trace.on(length, first if k == 0 else 360 / sides))
    end = trace.on(length, 360 / sides)
    assert hypot(end[0] - 1.0, end[1] + 2.0) < 2e-4
    assert Polygon(trace.closed()).area == pytest.approx(
        sides * length**2 / (4 * sin(pi / sides) / cos(pi / sides)), rel=2e-3
    )


@given(st.floats(0.05, 5), st.floats(0.02, 1), st.sampled_from([1, -1]), st.floats(-pi, pi))
def test_an_arc_stands_on_its_circle_and_rises_as_it_was_told(chord, share, side, way):
    a, b = (0.3, -0.4), (0.3 + chord * cos(way), -0.4 + chord * sin(way))
    rise = side * share * chord / 2
    points = [a, *arc(a, b, rise)]
    assert points[-1] == b
    left = (-sin(way), cos(way))
    heights = [(x - a[0]) * left[0] + (y - a[1]) * left[1] for x, y in points]
    radius = (chord**2 / 4 + rise**2) / (2 * abs(rise))
    middle = (
        (a[0] + b[0]) / 2 + (rise - side * radius) * left[0],
        (a[1] + b[1]) / 2 + (rise - side * radius) * left[1],
    )
    if abs(rise) >= 1e-4:
        assert all(hypot(x - middle[0], y - middle[1]) == pytest.approx(radius, rel=1e-6) for x, y in points)
        step = hypot(points[1][0] - a[0], points[1][1] - a[1])
        assert radius - (radius**2 - step**2 / 4) ** 0.5 < 6e-4 or len(points) == 91
        assert max(heights, key=abs) == pytest.approx(rise, abs=6e-4 if len(points) < 91 else 2e-3)


def test_half_a_circle_encloses_its_area_and_turns_by_180_degrees():
    trace = Trace().put((0.0, 0.0)).put((1.0, 0.0)).put((0.0, 0.0), rise=-0.5)
    # To the right of the way from (1, 0) back to (0, 0) is up.
    assert Polygon(trace.closed()).area == pytest.approx(pi / 8, rel=2e-3)
    assert trace.heading % 360 == pytest.approx(270)


def test_after_an_arc_straight_on_is_along_its_end():
    trace = Trace().put((0.0, 0.0)).put((1.0, 1.0), rise=-(1 - cos(pi / 4)))  # a quarter of a circle of radius 1
    assert trace.heading == pytest.approx(90)
    assert trace.on(0.5, 0.0) == pytest.approx((1.0, 1.5))


def test_the_closing_side_may_be_an_arc():
    trace = Trace().put((0, 0)).put((1, 0)).put((1, 0.5)).put((0, 0.5))
    assert Polygon(trace.closed(rise=-0.1)).area > 0.5 > Polygon(trace.closed(rise=0.1)).area


def test_what_is_no_shape_is_told_and_the_last_corner_can_be_taken_back():
    trace = Trace().put((0, 0)).put((1, 0)).put((1, 0))
    assert trace.corners == ((0, 0), (1, 0))
    with pytest.raises(BadOutline, match="at least three"):
        trace.closed()
    with pytest.raises(BadOutline, match="half the distance"):
        trace.put((1, 1), rise=0.6)
    with pytest.raises(BadOutline, match="first corner"):
        Trace().on(1.0)
    bow = trace.put((0, 1)).put((1, 1))
    with pytest.raises(BadOutline, match="crosses"):
        bow.closed()
    assert bow.back().back() == trace and Trace().back() == Trace()


def test_a_turn_is_told_between_half_turns():
    trace = Trace().put((0, 0)).put((1, 0))
    assert trace.side_to((1 + cos(radians(-170)), sin(radians(-170))))[1] == pytest.approx(-170)
    assert degrees(atan2(1, 1)) == pytest.approx(trace.side_to((2, 1))[1])
    assert Trace().side_to((3, 3)) == (0.0, 0.0)


def test_no_corner_of_a_closed_shape_stands_twice_however_it_is_closed():
    open_one = Trace().put((0, 0)).put((1, 0)).put((1, 0.5)).put((0, 0.5))
    brought_back = open_one.put((0, 0.00003))
    for ring in (open_one.closed(), open_one.closed(rise=-0.1), open_one.closed(rise=0.1), brought_back.closed()):
        assert len(set(ring)) == len(ring) and ring[0] == (0, 0)
    assert len(brought_back.closed()) == 4
    arc_only = Trace().put((0, 0)).put((1, 0), rise=-0.3)
    ring = arc_only.closed(rise=-0.3)  # two arcs make a lens
    assert Polygon(ring).area > 0.4 and len(set(ring)) == len(ring)
