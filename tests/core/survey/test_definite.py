"""Inverses by blocks, and the regions that readings vouch for, against closed forms and other ways to the same."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from ribpatch.core.survey.definite import definite_inverse
from ribpatch.core.survey.posterior import squared
from ribpatch.core.survey.sites import Sites
from ribpatch.core.survey.vouched import vouched_by, within


@settings(max_examples=40, deadline=None)
@given(st.integers(1, 150), st.integers(1, 3), st.integers(0, 10**6))
def test_the_inverse_by_blocks_times_the_matrix_is_one(count, fields, seed):
    rng = np.random.default_rng(seed)
    half = rng.normal(size=(fields, count, count)) * rng.choice([0.1, 1.0, 6.0])
    matrix = half @ half.swapaxes(-1, -2) + np.eye(count)
    made = definite_inverse(matrix)
    assert made.shape == matrix.shape
    np.testing.assert_allclose(made @ matrix, np.broadcast_to(np.eye(count), matrix.shape), atol=1e-8)
    np.testing.assert_allclose(made, made.swapaxes(-1, -2), atol=1e-10)


def test_the_inverse_of_a_chain_is_the_known_one():
    # The second-difference matrix plus the identity: its inverse is sinh((i + 1) t) sinh((n - j) t) / (sinh t
    # sinh((n + 1) t)) for i <= j, with 2 cosh t = 3.
    count = 75
    matrix = 3 * np.eye(count) - np.eye(count, k=1) - np.eye(count, k=-1)
    t = np.arccosh(1.5)
    i, j = np.indices((count, count))
    low, high = np.minimum(i, j), np.maximum(i, j)
    known = np.sinh((low + 1) * t) * np.sinh((count - high) * t) / (np.sinh(t) * np.sinh((count + 1) * t))
    np.testing.assert_allclose(definite_inverse(matrix), known, rtol=1e-9, atol=1e-15)


def test_only_the_lower_blocks_are_read():
    matrix = 5.0 * np.eye(40) + np.ones((40, 40))
    spoilt = matrix.copy()
    spoilt[:20, 20:] = 99.0
    np.testing.assert_array_equal(definite_inverse(spoilt), definite_inverse(matrix))


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 30), st.integers(1, 30), st.floats(-50, 50), st.integers(0, 10**6))
def test_squared_distances_are_those_of_the_differences(count, others, away, seed):
    rng = np.random.default_rng(seed)
    a, b = rng.random((count, 2)) * 3 + away, rng.random((others, 2)) * 3 + away
    plain = ((a[:, None] - b[None]) ** 2).sum(axis=2)
    np.testing.assert_allclose(squared(a, b), plain, atol=1e-10)
    assert np.all(squared(b, b) >= 0)


def test_one_reading_vouches_for_a_circle():
    made = within(np.array([[0.4, -2.0]]), 0.12)
    assert made.area == pytest.approx(np.pi * 0.12**2, rel=0.003)
    assert made.centroid.distance(shapely.Point(0.4, -2.0)) < 0.001
    box = np.array(made.bounds) - [0.4, -2.0, 0.4, -2.0]
    np.testing.assert_allclose(box, [-0.12, -0.12, 0.12, 0.12], atol=0.0015)


def test_two_readings_vouch_for_two_circles_less_what_they_share():
    reach, apart = 0.12, 0.15
    made = within(np.array([[0.0, 0.0], [apart, 0.0]]), reach)
    half = apart / 2
    lens = 2 * (reach**2 * np.arccos(half / reach) - half * np.sqrt(reach**2 - half**2))
    assert made.area == pytest.approx(2 * np.pi * reach**2 - lens, rel=0.006)
    assert len(shapely.get_parts(made)) == 1
    parts = shapely.get_parts(within(np.array([[0.0, 0.0], [0.3, 0.0]]), reach))
    assert len(parts) == 2


@settings(max_examples=25, deadline=None)
@given(st.integers(1, 120), st.floats(0.05, 0.4), st.integers(0, 10**6))
def test_what_is_vouched_for_is_the_union_of_circles(count, reach, seed):
    places = np.random.default_rng(seed).random((count, 2)) * [2.4, 1.2] + [10.0, -3.0]
    made = within(places, reach)
    known = shapely.union_all(shapely.buffer(shapely.points(places), reach, quad_segs=32))
    assert made.area == pytest.approx(known.area, rel=0.02)
    # The border lies where it should but where circles meet at a narrow angle: a gap narrower than a cell is filled.
    assert made.symmetric_difference(known).area < 0.025 * known.area
    assert known.buffer(0.25 * reach).contains(made)
    assert made.buffer(0.05 * reach).contains(known)


def test_readings_far_apart_are_joined_all_the_same():
    places = np.array([[0.0, 0.0], [400.0, 300.0]])
    assert within(places, 0.12).area == pytest.approx(2 * np.pi * 0.12**2, rel=0.01)


def test_where_readings_were_joined_a_place_vouches_for_its_cell_as_well(shelf):
    reach, size = shelf.rule("survey.vouches"), shelf.rule("place.size")
    one = np.array([[0.5, 0.5]])
    for width, radius in ((size, reach), (size + 0.1, reach + 0.05), (2 * reach, reach), (3 * reach, reach)):
        sites = Sites(one, np.zeros(1, int), np.ones(1), np.ones(1, int), width, one)
        assert vouched_by(sites, shelf).area == pytest.approx(np.pi * radius**2, rel=0.004), width
