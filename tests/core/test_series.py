"""Medians, distinct values, groups and runs, against NumPy's own."""

import itertools

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.normal import NODES, normal_cdf
from ribpatch.core.series import distinct, grouped, median, runs

numbers = st.lists(st.floats(-1e6, 1e6), min_size=1, max_size=40).map(np.array)
keys = st.lists(st.integers(-5, 5), min_size=1, max_size=40).map(lambda v: np.array(v, dtype=np.int64))


@given(numbers)
def test_the_middle_is_numpys(values):
    assert median(values) == np.median(values)


def test_the_middle_of_an_even_count_is_between_the_middle_two():
    assert median(np.array([9.0, 1.0, 4.0, 2.0])) == 3.0 and median(np.array([5.0])) == 5.0


@given(numbers)
def test_distinct_values_are_numpys(values):
    assert distinct(np.concatenate([values, values])).tolist() == np.unique(values).tolist()


@given(keys)
def test_groups_are_numpys(some):
    _, first, group = np.unique(some, return_index=True, return_inverse=True)
    found = grouped(some)
    assert found[0].tolist() == first.tolist() and found[1].tolist() == group.tolist()


@given(st.lists(st.booleans(), max_size=30))
def test_runs_cover_what_holds_and_nothing_else(mask):
    found = runs(np.array(mask, dtype=bool))
    assert [k for a, b in found for k in range(a, b)] == [k for k, held in enumerate(mask) if held]
    assert all(b < c for (_, b), (c, _) in itertools.pairwise(found)), "two runs never touch"


def test_the_normal_distribution_and_its_nodes():
    assert np.allclose(normal_cdf(np.array([-1.959964, 0.0, 1.0, 2.326348])), [0.025, 0.5, 0.8413447, 0.99], atol=2e-7)
    for power, moment in ((0, 1), (1, 0), (2, 1), (3, 0), (4, 3), (5, 0)):  # three nodes are exact to the fifth power
        assert abs(sum(w * x**power for x, w in NODES) - moment) < 1e-12
