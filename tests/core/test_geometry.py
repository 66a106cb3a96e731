"""Rings, offsets and rounding against closed forms and an independent area."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import MultiPolygon, Polygon

from ribpatch.core import geometry
from ribpatch.core.errors import BadOutline

SQUARE = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))


@pytest.mark.parametrize(
    ("ring", "reason"),
    [
        (((0, 0), (1, 1)), "three"), (((0, 0), (1, 1), (1, 0), (0, 1)), "crosses"), (((0, 0), (1, 0), (2, 0)), "itself|no area"),
        (((0, 0), (0, 0), (0, 0)), "three"), (((0, 0), (0.001, 0), (0.001, 0.001)), "no area"),
    ],
)  # fmt: skip
def test_bad_rings_say_why(ring, reason):
    with pytest.raises(BadOutline, match=reason):
        geometry.check_ring(ring)


def test_offset_of_a_square_follows_steiners_formula():
    d = 0.1
    grown = geometry.offset(Polygon(SQUARE), d)
    assert grown.area == pytest.approx(1 + 4 * d + math.pi * d * d, rel=1e-4)


@given(st.lists(st.tuples(st.floats(0.2, 2), st.floats(0, 1)), min_size=3, max_size=12))
def test_areas_agree_with_the_shoelace_formula(spokes):
    angles = np.cumsum([0.1 + w for _, w in spokes])
    angles = angles / angles[-1] * 2 * math.pi * 0.999
    ring = tuple((float(r * math.cos(a)), float(r * math.sin(a))) for (r, _), a in zip(spokes, angles, strict=True))
    if geometry.ring_fault(ring):
        return
    x, y = np.array(ring).T
    shoelace = abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2
    assert geometry.polygon_of(ring).area == pytest.approx(shoelace, rel=1e-9)


def test_rounding_takes_four_corners_of_a_square():
    r = 0.2
    assert geometry.rounded(Polygon(SQUARE), r).area == pytest.approx(1 - (4 - math.pi) * r * r, rel=1e-3)


def test_rounding_fills_inward_corners():
    ell = Polygon([(0, 0), (2, 0), (2, 1), (1, 1), (1, 2), (0, 2)])
    smooth = geometry.rounded(ell, 0.1)
    assert shapely.contains_xy(smooth, 1.01, 1.01)


def test_rounding_a_part_too_narrow_keeps_it():
    strip = shapely.box(0, 0, 1, 0.05)
    assert geometry.rounded(strip, 0.3).area > 0.9 * strip.area


def test_clean_drops_crumbs_and_lines():
    region = shapely.GeometryCollection(
        [shapely.box(0, 0, 1, 1), shapely.box(5, 5, 5.001, 5.001), shapely.LineString([(0, 0), (3, 3)])]
    )
    assert len(geometry.clean(region).geoms) == 1


def test_along_stands_for_the_whole_length():
    points, lengths = geometry.along(MultiPolygon([Polygon(SQUARE)]), 0.03)
    assert lengths.sum() == pytest.approx(4)
    assert lengths.max() <= 0.03
    assert len(points) == len(lengths)


def test_rings_of_keeps_holes():
    ring = Polygon(SQUARE, [[(0.4, 0.4), (0.6, 0.4), (0.6, 0.6), (0.4, 0.6)]])
    assert len(geometry.rings_of(ring)[0]) == 2


def test_a_shape_to_begin_with_lies_about_the_middle_and_in_the_zone():
    (ring,) = geometry.middle_box(((0.0, 0.0), (4.0, 0.0), (4.0, 2.0), (0.0, 2.0)))
    assert sorted(ring) == [(1.5, 0.75), (1.5, 1.25), (2.5, 0.75), (2.5, 1.25)]
    (ring,) = geometry.middle_box(((1.0, 2.0), (3.0, 2.0), (3.0, 6.0), (1.0, 6.0)))
    assert sorted(ring) == [(1.75, 3.5), (1.75, 4.5), (2.25, 3.5), (2.25, 4.5)], "wherever the outline lies"
    cut_out = ((0.0, 0.0), (4.0, 0.0), (4.0, 2.0), (3.5, 2.0), (3.5, 0.5), (0.5, 0.5), (0.5, 2.0), (0.0, 2.0))
    rings = geometry.middle_box(cut_out)
    whole = geometry.polygon_of(cut_out)
    assert rings and all(whole.buffer(1e-9).contains(Polygon(r)) and Polygon(r).area > 0.01 for r in rings)


@given(st.integers(3, 12), st.floats(0.2, 20.0))
def test_the_shape_to_begin_with_is_a_sixteenth_of_its_box_where_the_outline_is_round(corners, size):
    turns = [2 * math.pi * k / (4 * corners) for k in range(4 * corners)]
    (ring,) = geometry.middle_box(tuple((size * math.cos(t), size * math.sin(t)) for t in turns))
    x0, y0, x1, y1 = Polygon(ring).bounds
    assert (x1 - x0, y1 - y0) == pytest.approx((size / 2, size / 2)) and (x0 + x1, y0 + y1) == pytest.approx(
        (0, 0), abs=1e-9
    )
