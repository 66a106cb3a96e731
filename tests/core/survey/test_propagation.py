"""Expectation propagation against sums over a fine grid of the field itself: no Gaussian terms, no moments."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.survey.propagation import RAMP, matched, propagated

AXIS = np.linspace(-9, 9, 1201)


def phi(z):
    return 0.5 * np.vectorize(math.erfc)(-z / math.sqrt(2))


def term(f, bad, sound):
    return sound + (bad - sound) * phi(f / math.sqrt(RAMP))


@given(st.floats(-2, 2), st.floats(0.05, 2), st.floats(0.01, 1), st.floats(0.01, 1))
def test_one_reading_leaves_the_moments_of_the_sum(mean, variance, bad, sound):
    f = mean + AXIS * math.sqrt(variance)
    weight = np.exp(-0.5 * AXIS**2)
    weight = weight / weight.sum() * term(f, bad, sound)
    total = weight.sum()
    at = (f * weight).sum() / total
    chance, moved, spread = matched(np.array([mean]), np.array([variance]), np.array([bad]), np.array([sound]))
    assert chance[0] == pytest.approx(total, rel=2e-4)
    assert moved[0] == pytest.approx(at, abs=2e-3)
    assert spread[0] == pytest.approx(((f - at) ** 2 * weight).sum() / total, rel=5e-3, abs=1e-4)


def summed(prior, mean, likes):
    """Means and variances of the field at two places, and the evidence, by a sum over a grid of both."""
    a, b = np.meshgrid(AXIS[::4], AXIS[::4], indexing="ij")
    inverse = np.linalg.inv(prior)
    density = np.exp(-0.5 * (inverse[0, 0] * a**2 + 2 * inverse[0, 1] * a * b + inverse[1, 1] * b**2))
    density /= density.sum()
    joint = density * term(a + mean, *likes[0]) * term(b + mean, *likes[1])
    total = joint.sum()
    means = [(joint * f).sum() / total + mean for f in (a, b)]
    spreads = [(joint * (f + mean - m) ** 2).sum() / total for f, m in zip((a, b), means, strict=True)]
    return means, spreads, math.log(total)


@pytest.mark.parametrize("apart", [0.05, 0.5, 0.9])
@pytest.mark.parametrize("likes", [((0.7, 0.1), (0.7, 0.1)), ((0.05, 0.9), (0.8, 0.2)), ((0.9, 0.02), (0.04, 0.9))])
def test_two_readings_agree_with_the_sum_over_both_places(apart, likes):
    prior, mean = np.array([[1.25, apart], [apart, 1.25]]), -0.8
    bad, sound = (np.array(v) for v in zip(*likes, strict=True))
    found = propagated(prior[None], np.full(2, mean), bad, sound)
    means, spreads, evidence = summed(prior, mean, likes)
    assert mean + prior @ found.weights[0] == pytest.approx(means, abs=0.05)
    left = np.diag(prior - prior @ found.taken[0] @ prior)
    # A reading against what is expected widens the field in truth; here it never does.
    assert (left < np.array(spreads) + 0.1).all() and (left > np.array(spreads) - 0.3).all()
    assert found.evidence[0] == pytest.approx(evidence, abs=0.02)


def test_what_the_others_say_leaves_the_place_itself_out():
    prior = np.array([[1.25, 0.0], [0.0, 1.25]])
    found = propagated(prior[None], np.full(2, -0.8), np.array([0.9, 0.1]), np.array([0.1, 0.9]))
    assert found.others_mean[0] == pytest.approx([-0.8, -0.8], abs=1e-6)
    assert found.others_variance[0] == pytest.approx([1.25, 1.25], abs=1e-6)


def test_readings_that_say_nothing_leave_the_prior_and_fields_do_not_mix():
    rng = np.random.default_rng(3)
    places = rng.random((30, 2))
    apart = np.hypot(*(places[:, None] - places[None]).transpose(2, 0, 1))
    fields = np.stack([np.exp(-apart / length) for length in (0.1, 0.4)])
    mean = np.full(30, -0.9)
    quiet = propagated(fields, mean, np.full(30, 0.4), np.full(30, 0.4))
    assert quiet.evidence == pytest.approx([30 * math.log(0.4)] * 2, abs=1e-4)
    assert np.abs(quiet.weights).max() < 1e-3
    bad, sound = rng.uniform(0.05, 0.95, 30), rng.uniform(0.05, 0.95, 30)
    both = propagated(fields, mean, bad, sound)
    alone = propagated(fields[1:], mean, bad, sound)
    assert both.evidence[1] == pytest.approx(alone.evidence[0], abs=0.02)
    assert np.isfinite(both.taken).all()
