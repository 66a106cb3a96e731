"""Expectation propagation: where a Gaussian field is over zero, from readings that each say so with some chance.

A reading at a place is as likely as ``bad`` where the field is over zero and as ``sound`` where it is not; over the few
centimetres that a reading stands for the step is a normal ramp of variance ``RAMP``. Each reading's term is replaced by
the Gaussian that leaves the moments of the field at its place right, all at once, damped and mixed with the rounds
before, until nothing moves. A term that would widen the field (a reading against all others: likelier a wrong reading)
is kept all but flat.
Everything is dimensionless; several fields of different covariance are worked out side by side. Source: [4], chapter 3.
"""

from __future__ import annotations

from collections import deque
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.normal import normal_cdf
from ribpatch.core.survey.definite import definite_inverse

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from ribpatch.core.geometry import Floats

    _Round = tuple[Floats, Floats]  # terms, and by how much a step would move them, (k, 2 n) each

RAMP = 0.05  # variance of the step, of a field of variance 1: a reading speaks for a hand's breadth, not for a point
ROUNDS, DAMPED = 13, 0.9
SETTLED = 0.08  # a chance is then within a hundredth of the settled one, nearly everywhere
ROUGHLY = 0.3  # and within three hundredths: enough to choose by
_FLAT, _NARROW = 1e-4, 1e-6  # least precision of a term; least variance
_LOOKED_BACK, _RIDGE = 2, 1e-8  # rounds that the next one learns from; keeps what they show apart
_SHRINKS = 0.8  # times the step before: how much smaller a step must be to learn from
_ROOT = 0.3989422804014327  # of the normal density


class Terms(Struct, frozen=True, eq=False):
    """What the readings at n places come down to in k fields: precision of each, and its product with the mean over
    the prior's, (k, n).
    """

    precision: Floats
    shift: Floats

    def with_others(self, some: NDArray[np.intp], others: NDArray[np.intp], theirs: Terms) -> Terms:
        """These terms at ``some`` places and ``theirs`` at the ``others``."""
        count = some.size + others.size
        precision, shift = np.empty((len(self.shift), count)), np.empty((len(self.shift), count))
        precision[:, some], shift[:, some] = self.precision, self.shift
        precision[:, others], shift[:, others] = theirs.precision, theirs.shift
        return Terms(precision, shift)


class Fields(Struct, frozen=True, eq=False):
    """k Gaussian fields given n readings: weights of the covariances with the readings' places (k, n), what they take
    off the variance (k, n, n), mean and variance of each field at each place without the reading there (k, n), the
    logarithm of the evidence for each field (k,), and the terms that it settled on.
    """

    weights: Floats
    taken: Floats
    others_mean: Floats
    others_variance: Floats
    evidence: Floats
    terms: Terms

    def only(self, kept: NDArray[np.intp]) -> Fields:
        """Some of the fields."""
        terms = Terms(self.terms.precision[kept], self.terms.shift[kept])
        moments = (self.others_mean[kept], self.others_variance[kept], self.evidence[kept])
        return Fields(self.weights[kept], self.taken[kept], *moments, terms)


def propagated(
    prior: Floats, mean: Floats, bad: Floats, sound: Floats, near: Terms | None = None, settled: float = SETTLED
) -> Fields:
    """The fields of ``prior`` covariance (k, n, n) and ``mean`` (n,) given readings of likelihoods ``bad`` and
    ``sound`` (n,) for each field or for all, each over zero. ``near``: terms of much the same readings, to begin with;
    without them the terms of each reading alone are the beginning. ``settled``: how little the shifts move in the end.
    """
    if near is None:
        variance = np.diagonal(prior, axis1=1, axis2=2)
        precision, shift = _terms(np.zeros_like(variance), variance, mean, bad, sound)
    else:
        precision, shift = (np.broadcast_to(t, prior.shape[:2]).copy() for t in (near.precision, near.shift))
    tried: deque[_Round] = deque(maxlen=_LOOKED_BACK + 1)
    for last in range(ROUNDS, -1, -1):
        inverse, weights, moments = _posterior(prior, precision, shift)
        new_precision, new_shift = _terms(*_cavity(*moments, precision, shift), mean, bad, sound)
        if not last or float(np.abs(new_shift - shift).max(initial=0.0)) < settled:
            break
        terms = np.concatenate([precision, shift], axis=1)
        tried.append((terms, np.concatenate([new_precision, new_shift], axis=1) - terms))
        precision, shift = np.split(_next(tried), 2, axis=1)
        precision = np.maximum(precision, _FLAT)
    at, spread = _cavity(*moments, precision, shift)
    total, _, _ = matched(at + mean, spread, bad, sound)
    evidence = _evidence(prior, precision, shift, inverse, (at, spread)) + np.log(total).sum(axis=1)
    root = np.sqrt(precision)
    taken = root[:, :, None] * inverse * root[:, None, :]
    return Fields(weights, taken, mean + at, spread, evidence, Terms(precision, shift))


def _next(tried: Sequence[_Round]) -> Floats:
    """The terms to try next, (k, 2 n): a damped step from the last ones, but for what the rounds before show of how
    steps change along the way (Anderson's mixing, for each field by itself, and only where steps shrink: on the way
    from one state to another it would lead astray).
    """
    terms, step = tried[-1]
    if len(tried) == 1:
        return terms + DAMPED * step
    moved = np.stack([terms - before for before, _ in tuple(tried)[:-1]], axis=2)
    turned = np.stack([step - before for _, before in tuple(tried)[:-1]], axis=2)
    square = turned.swapaxes(1, 2) @ turned
    index = np.arange(square.shape[1])
    square[:, index, index] *= 1 + _RIDGE
    square[:, index, index] += _RIDGE**2
    share = np.linalg.solve(square, turned.swapaxes(1, 2) @ step[:, :, None])
    sizes = np.stack([np.abs(made).max(axis=1) for _, made in tried])
    share[(sizes[1:] > _SHRINKS * sizes[:-1]).any(axis=0)] = 0.0
    return np.asarray(terms + DAMPED * step - ((moved + DAMPED * turned) @ share)[:, :, 0])


def _posterior(prior: Floats, precision: Floats, shift: Floats) -> tuple[Floats, Floats, tuple[Floats, Floats]]:
    """Inverse of I + S K S with S the root of the precisions; weights; mean over the prior's and variance at places."""
    root = np.sqrt(precision)
    inverse = definite_inverse(_inner(prior, root))
    weights = shift - root * _times(inverse, root * _times(prior, shift))
    variance = np.maximum((1 - np.diagonal(inverse, axis1=1, axis2=2)) / precision, _NARROW)
    return inverse, weights, (_times(prior, weights), variance)


def _inner(prior: Floats, root: Floats) -> Floats:
    """I + S K S with ``root`` the diagonal of S, (k, n, n)."""
    made = root[:, :, None] * prior
    made *= root[:, None, :]
    index = np.arange(prior.shape[1])
    made[:, index, index] += 1.0
    return made


def _times(matrix: Floats, vector: Floats) -> Floats:
    """Products of matrices (k, n, n) with vectors (k, n)."""
    return np.asarray((matrix @ vector[:, :, None])[:, :, 0])


def _cavity(mean: Floats, variance: Floats, precision: Floats, shift: Floats) -> tuple[Floats, Floats]:
    """Mean (over the prior's) and variance at each place without the reading there."""
    left = np.maximum(1 / variance - precision, _NARROW)
    return (mean / variance - shift) / left, 1 / left


def matched(at: Floats, spread: Floats, bad: Floats | float, sound: Floats | float) -> tuple[Floats, Floats, Floats]:
    """Chance of a reading of likelihoods ``bad`` and ``sound`` where the field has mean ``at`` and variance ``spread``;
    mean and variance after it. Exact for the step with its ramp.
    """
    scale = np.sqrt(spread + RAMP)
    z = at / scale
    total = sound + (bad - sound) * normal_cdf(z)
    slope = (bad - sound) * _ROOT * np.exp(-0.5 * z * z) / (total * scale)
    narrower = slope * (z / scale + slope)
    return total, at + spread * slope, np.maximum(spread - spread * spread * narrower, _NARROW)


def terms_at(at: Floats, spread: Floats, mean: Floats, bad: Floats, sound: Floats) -> Terms:
    """The terms of readings where the fields have means ``at`` (over the prior's) and variances ``spread``, (k, n)."""
    return Terms(*_terms(at, spread, mean, bad, sound))


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
    root = np.sqrt(precision)
    factor = np.linalg.cholesky(_inner(prior, root))
    log_root = np.log(np.diagonal(factor, axis1=1, axis2=2)).sum(axis=1)
    pulled = _times(prior, shift)
    kept = pulled - _times(prior, root * _times(inverse, root * pulled))
    own = 1 / spread
    rest = (shift**2 + 2 * shift * own * at - precision * own * at**2) / (precision + own)
    logs = 0.5 * np.log1p(precision * spread) + 0.5 * shift * kept - 0.5 * rest
    return np.asarray(logs.sum(axis=1) - log_root)
