"""Sides along which convex outlines are joined, told from their sides and angles alone."""

from math import cos, pi, sin

import pytest

from ribpatch.core.supply.nesting.joining import _fitting, _whole


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
