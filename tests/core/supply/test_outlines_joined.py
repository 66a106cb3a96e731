"""Sides along which convex outlines are joined, told from their sides and angles alone."""

from math import cos, pi, sin

import numpy as np
import pytest
import shapely

from ribpatch.core.supply.nesting.joining import _fitting, _whole, wholes_of
from ribpatch.core.supply.nesting.shape import Shape, turned


def regular(corners, side=1.0):
    radius = side / 2 / sin(pi / corners)
    return tuple((radius * cos(2 * pi * k / corners), radius * sin(2 * pi * k / corners)) for k in range(corners))


def test_sides_and_angles_of_a_rectangle_and_of_regular_outlines():
    made = _whole(((0.0, 0.0), (2.0, 0.0), (2.0, 1.0), (0.0, 1.0)), (0.0,), ())
    assert made.sides == (2, 1j, -2, -1j) and made.angles == pytest.approx((pi / 2,) * 4)
    for corners in (3, 5, 6):
        whole = _whole(regular(corners), (0.0,), ())
        assert [abs(s) for s in whole.sides] == pytest.approx([1.0] * corners)
        assert whole.angles == pytest.approx((pi * (corners - 2) / corners,) * corners)


@pytest.mark.parametrize(
    ("corners", "turn", "pairs"), [(3, 180.0, 3), (4, 0.0, 4), (4, 180.0, 4), (5, 180.0, 0), (6, 0.0, 0), (3, 90.0, 0)]
)
def test_outlines_lie_on_each_other_along_sides_that_leave_no_hollow(corners, turn, pairs):
    """Two triangles make a rhomb, two squares a box; two pentagons and two hexagons leave a hollow at each end."""
    whole = _whole(regular(corners), (0.0, 180.0), ())
    found = list(_fitting(whole, whole, 1.0, turn))
    assert len(found) == pairs and all(abs(whole.sides[n] + whole.sides[m] * (-1 if turn else 1)) < 1e-9 for n, m in found)  # fmt: skip


def test_only_sides_of_the_size_asked_for_are_looked_at():
    whole = _whole(((0.0, 0.0), (2.0, 0.0), (2.0, 1.0), (0.0, 1.0)), (0.0,), ())
    assert list(_fitting(whole, whole, 1.0, 0.0)) == [(1, 3), (3, 1)]
    assert list(_fitting(whole, whole, 2.0, 0.0)) == [(0, 2), (2, 0)] and not list(_fitting(whole, whole, 1.5, 0.0))


def test_a_square_lies_beside_the_upright_side_of_one_that_leans():
    square = _whole(((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)), (0.0,), ())
    leaning = _whole(((0.0, 0.0), (1.5, 0.0), (1.0, 1.0), (0.0, 1.0)), (0.0,), ())
    assert (1, 3) in list(_fitting(square, leaning, 1.0, 0.0))


HALF, OTHER = ((0.0, 0.0), (2.0, 0.0), (0.0, 1.0)), ((2.0, 0.0), (2.0, 1.0), (0.0, 1.0))


@pytest.mark.parametrize(
    ("first", "second", "kept"),
    [((0.0, 180.0), (0.0, 180.0), (0.0, 180.0)), ((0.0, 90.0), (0.0,), (0.0,)), ((0.0, 90.0, 180.0), (0.0, 180.0), (0.0, 180.0))],
)  # fmt: skip
def test_halves_of_a_box_are_joined_and_keep_the_turns_that_both_may_take(first, second, kept):
    (whole,) = wholes_of([Shape(HALF, first), Shape(OTHER, second)], 1.2 if 90.0 not in first else 2.5)
    assert whole.turns == kept and sorted(n for n, _ in whole.parts) == [0, 1]
    assert shapely.Polygon(whole.ring).area == pytest.approx(2.0) and len(whole.ring) == 4


def test_the_same_triangle_twice_is_joined_by_turning_one():
    (whole,) = wholes_of([Shape(HALF, (0.0, 180.0))] * 2, 3.0)
    (_, one), (_, other) = whole.parts
    assert (one.turn - other.turn) % 360.0 == 180.0 and whole.turns == (0.0, 180.0)
    laid = [shapely.Polygon(turned(HALF, p.turn) + np.array((p.x, p.y))) for p in (one, other)]
    assert laid[0].intersection(laid[1]).area == pytest.approx(0.0, abs=1e-9)
    assert shapely.union_all(laid).symmetric_difference(shapely.Polygon(whole.ring)).area == pytest.approx(0.0, abs=1e-9)  # fmt: skip


def test_what_may_be_turned_in_no_way_that_fits_stays_apart():
    assert len(wholes_of([Shape(HALF, (0.0,)), Shape(HALF, (0.0,))], 3.0)) == 2


def test_only_the_corners_at_the_ends_of_the_side_count():
    """The far corners of the one that widens are blunt; its upright side is not."""
    square = _whole(((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)), (0.0,), ())
    widening = _whole(((0.0, 0.0), (1.0, 0.0), (1.5, 1.0), (0.0, 1.0)), (0.0,), ())
    assert (1, 3) in list(_fitting(square, widening, 1.0, 0.0)) and (3, 1) in list(_fitting(widening, square, 1.0, 0.0))
