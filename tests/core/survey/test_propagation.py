"""Expectation propagation against sums over a fine grid of the field itself: no Gaussian terms, no moments."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.normal import normal_cdf
from ribpatch.core.survey import propagation
from ribpatch.core.survey.propagation import RAMP, ROUGHLY, matched, propagated, terms_at

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


def surveyed(seed, fields=3):
    """A patch under a grid of readings, one in ten of them wrong: covariances, mean, likelihoods."""
    rng = np.random.default_rng(seed)
    count = int(rng.integers(5, 90))
    places = rng.random((count, 2)) * [2.0, 1.0]
    apart = np.hypot(*(places[:, None] - places[None]).transpose(2, 0, 1))
    prior = np.stack([(1 + 1.73 * apart / s) * np.exp(-1.73 * apart / s) + 0.25 for s in (0.1, 0.2, 0.4)[:fields]])
    bad = (np.hypot(places[:, 0] - 0.7, places[:, 1] - 0.5) < 0.35) ^ (rng.random(count) < 0.1)
    likely = rng.uniform(0.6, 0.95, count)
    return prior, np.full(count, -1.4), np.where(bad, likely, 1 - likely), np.where(bad, 1 - likely, likely)


@pytest.mark.parametrize("seed", [0, 7, 19, 42, 253465])
def test_rounds_mixed_with_those_before_end_where_plain_damped_ones_end(seed, monkeypatch):
    monkeypatch.setattr(propagation, "ROUNDS", 300)
    prior, mean, bad, sound = surveyed(seed)
    found = propagated(prior, mean, bad, sound, settled=1e-7)
    variance = np.diagonal(prior, axis1=1, axis2=2)
    precision, shift = np.zeros_like(variance), np.zeros_like(variance)
    for _ in range(500):
        root = np.sqrt(precision)
        inverse = np.linalg.inv(np.eye(len(mean)) + root[:, :, None] * prior * root[:, None, :])
        left = prior - prior @ (root[:, :, None] * inverse * root[:, None, :]) @ prior
        at, spread = np.einsum("kij,kj->ki", left, shift), np.diagonal(left, axis1=1, axis2=2)
        without = 1 / (1 / spread - precision)
        _, moved, narrow = matched(without * (at / spread - shift) + mean, without, bad, sound)
        new = np.maximum(1 / narrow - 1 / without, 1e-4)
        shift += 0.5 * ((moved - mean) * (new + 1 / without) - (at / spread - shift) - shift)
        precision += 0.5 * (new - precision)
    chance = normal_cdf(found.others_mean / np.sqrt(found.others_variance + RAMP))
    known = normal_cdf((without * (at / spread - shift) + mean) / np.sqrt(without + RAMP))
    assert np.abs(chance - known).max() < 1e-3


def test_terms_to_begin_with_change_the_way_and_not_the_end():
    prior, mean, bad, sound = surveyed(5)
    whole = propagated(prior, mean, bad, sound, settled=1e-6)
    some, others = np.arange(0, len(mean), 2), np.arange(1, len(mean), 2)
    half = propagated(prior[:, some[:, None], some], mean[some], bad[some], sound[some])
    at = np.zeros((len(prior), others.size))
    begun = half.terms.with_others(some, others, terms_at(at, at + 1.25, mean[others], bad[others], sound[others]))
    assert (begun.shift[:, some] == half.terms.shift).all() and begun.precision.shape == (3, len(mean))
    again = propagated(prior, mean, bad, sound, begun, settled=1e-6)
    assert again.others_mean == pytest.approx(whole.others_mean, abs=1e-3)
    assert again.evidence == pytest.approx(whole.evidence, abs=1e-3)
    roughly = propagated(prior, mean, bad, sound, settled=ROUGHLY)
    assert np.abs(roughly.others_mean - whole.others_mean).max() < 0.3
