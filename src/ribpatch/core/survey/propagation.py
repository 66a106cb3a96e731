"""Expectation propagation: where a Gaussian field is over zero, from readings that each say so with some chance.

A reading at a place is as likely as ``bad`` where the field is over zero and as ``sound`` where it is not; over the few
centimetres that a reading stands for the step is a normal ramp of variance ``RAMP``. Each reading's term is replaced by
the Gaussian that leaves the moments of the field at its place right, all at once and damped, until nothing moves. A
term that would widen the field (a reading against all others: likelier a wrong reading) is kept all but flat.
Everything is dimensionless; several fields of different covariance are worked out side by side. Source: [4], chapter 3.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.normal import normal_cdf

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats

RAMP = 0.05  # variance of the step, of a field of variance 1: a reading speaks for a hand's breadth, not for a point
ROUNDS, DAMPED, SETTLED = 14, 0.9, 0.1  # a chance is then within half a hundredth of the settled one
_FLAT, _NARROW = 1e-4, 1e-6  # least precision of a term; least variance
_ROOT = 0.3989422804014327  # of the normal density


class Fields(Struct, frozen=True, eq=False):
    """k Gaussian fields given n readings: weights of the covariances with the readings' places (k, n), what they take
    off the variance (k, n, n), mean and variance of each field at each place without the reading there (k, n), and the
    logarithm of the evidence for each field (k,).
    """

    weights: Floats
    taken: Floats
    others_mean: Floats
    others_variance: Floats
    evidence: Floats


def propagated(prior: Floats, mean: Floats, bad: Floats, sound: Floats) -> Fields:
    """The fields of ``prior`` covariance (k, n, n) and ``mean`` (n,) given readings of likelihoods ``bad`` and
    ``sound`` (n,), each over zero.
    """
    fields, count = prior.shape[:2]
    precision = np.full((fields, count), 1e-3)
    shift = np.zeros((fields, count))  # of each term: its precision times its mean, over the prior's mean
    for _ in range(ROUNDS):
        inverse, _, moments = _posterior(prior, precision, shift)
        cavity = _cavity(*moments, precision, shift)
        new_precision, new_shift = _terms(*cavity, mean, bad, sound)
        moved = float(np.abs(new_shift - shift).max(initial=0.0))
        precision += DAMPED * (new_precision - precision)
        shift += DAMPED * (new_shift - shift)
        if moved < SETTLED:
            break
    inverse, weights, moments = _posterior(prior, precision, shift)
    at, spread = _cavity(*moments, precision, shift)
    total, _, _ = matched(at + mean, spread, bad, sound)
    evidence = _evidence(prior, precision, shift, inverse, (at, spread)) + np.log(total).sum(axis=1)
    root = np.sqrt(precision)
    taken = root[:, :, None] * inverse * root[:, None, :]
    return Fields(weights, taken, mean + at, spread, evidence)


def _posterior(prior: Floats, precision: Floats, shift: Floats) -> tuple[Floats, Floats, tuple[Floats, Floats]]:
    """Inverse of I + S K S with S the root of the precisions; weights; mean over the prior's and variance at places."""
    root = np.sqrt(precision)
    inner = root[:, :, None] * prior * root[:, None, :]
    index = np.arange(prior.shape[1])
    inner[:, index, index] += 1.0
    inverse = np.linalg.inv(inner)
    pulled = np.einsum("kij,kj->ki", prior, shift)
    weights = shift - root * np.einsum("kij,kj->ki", inverse, root * pulled)
    mean = np.einsum("kij,kj->ki", prior, weights)
    variance = np.maximum((1 - inverse[:, index, index]) / precision, _NARROW)
    return np.asarray(inverse), np.asarray(weights), (np.asarray(mean), np.asarray(variance))


def _cavity(mean: Floats, variance: Floats, precision: Floats, shift: Floats) -> tuple[Floats, Floats]:
    """Mean (over the prior's) and variance at each place without the reading there."""
    left = np.maximum(1 / variance - precision, _NARROW)
    return (mean / variance - shift) / left, 1 / left


def matched(at: Floats, spread: Floats, bad: Floats, sound: Floats) -> tuple[Floats, Floats, Floats]:
    """Chance of a reading of likelihoods ``bad`` and ``sound`` where the field has mean ``at`` and variance ``spread``;
    mean and variance after it. Exact for the step with its ramp.
    """
    scale = np.sqrt(spread + RAMP)
    z = at / scale
    total = sound + (bad - sound) * normal_cdf(z)
    slope = (bad - sound) * _ROOT * np.exp(-0.5 * z * z) / (total * scale)
    narrower = slope * (z / scale + slope)
    return total, at + spread * slope, np.maximum(spread - spread * spread * narrower, _NARROW)


def _terms(at: Floats, spread: Floats, mean: Floats, bad: Floats, sound: Floats) -> tuple[Floats, Floats]:
    """The terms that leave the first two moments right: precision, and its product with the mean over the prior's."""
    _, moved, variance = matched(at + mean, spread, bad, sound)
    precision = np.maximum(1 / variance - 1 / spread, _FLAT)
    return precision, (moved - mean) * (precision + 1 / spread) - at / spread


def _evidence(
    prior: Floats, precision: Floats, shift: Floats, inverse: Floats, cavity: tuple[Floats, Floats]
) -> Floats:
    """Logarithm of the chance of the readings under each field, but for that of each reading alone; [4], equations
    3.65, 3.73 and 3.74.
    """
    at, spread = cavity
    _, log_inverse = np.linalg.slogdet(inverse)
    root = np.sqrt(precision)
    pulled = np.einsum("kij,kj->ki", prior, shift)
    kept = pulled - np.einsum("kij,kj->ki", prior, root * np.einsum("kij,kj->ki", inverse, root * pulled))
    own = 1 / spread
    rest = (shift**2 + 2 * shift * own * at - precision * own * at**2) / (precision + own)
    logs = 0.5 * np.log1p(precision * spread) + 0.5 * shift * kept - 0.5 * rest
    return np.asarray(logs.sum(axis=1) + 0.5 * log_inverse)
