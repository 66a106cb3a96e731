"""What the readings make of a zone: the chance of damage and of each kind at any place, and the doubt that is left.

Metres; the Gaussian field is dimensionless and of variance 1, beside the panel's own level. Source: [4], chapter 3.
"""

from __future__ import annotations

from math import exp, sqrt
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.normal import normal_cdf
from ribpatch.core.survey.structure import Starts, pull_of

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.survey.sites import Sites

BLOCK = 512  # places worked out at a time: thousands of them times hundreds of sites would not fit the cache
LEVEL = 0.5  # deviation of the panel's own level of damage, over the field's 1
USUAL_KINDS = np.array([0.5, 0.25, 0.25])  # wet, rotted, disbonded, where nothing tells them apart
FAR = 30.0  # logarithm of odds that are as good as certain


class Part(Struct, frozen=True, eq=False):
    """The field at one length: its scales (m), its weight, the weights of the sites (n,) and what they take off the
    variance (n, n).
    """

    scales: tuple[float, float]
    weight: float
    weights: Floats
    taken: Floats

    def at(self, places: Floats, sites: Floats) -> tuple[Floats, Floats]:
        """Mean over the prior's and variance of the field at places (m, 2)."""
        # Single precision: a chance to a hundred-thousandth, in half the time.
        cross = covariance(places.astype(np.float32), sites.astype(np.float32), self.scales)
        # Single-precision products read the spare lanes of a register: they raise "invalid" now and then over
        # figures that are all finite.
        with np.errstate(invalid="ignore"):
            taken = np.einsum("ij,ij->i", cross @ self.taken.astype(np.float32), cross)
            over = cross @ self.weights.astype(np.float32)
        return over.astype(float), np.maximum(1 + LEVEL**2 - taken.astype(float), 1e-6)


class Posterior(Struct, frozen=True, eq=False):
    """What the readings make of a zone: places and their chances of each kind if damaged (n, 3), the parts of the
    field, its mean before anything is read, the chance that there is any damage, what damage starts from and its reach,
    and the listeners' and meters' own errors as they were found.
    """

    sites: Sites
    kinds: Floats
    parts: tuple[Part, ...]
    mean: float
    any_damage: float
    starts: Starts
    reach: float
    kind_reach: float
    others: Floats  # chance of damage at each place without what was read there (n,)
    here: Floats  # and with it (n,)
    drift: dict[str, float]  # by meter, in rises over the reference
    seen_at: Floats  # where plugs and cuts were, (s, 2)
    seen_chance: Floats  # of damage there, with all that was read (s,)
    seen_reach: float

    @property
    def length(self) -> float:
        """Length over which damage is alike, m: the lengths' mean by weight, of the root of both scales."""
        return sum(p.weight * sqrt(p.scales[0] * p.scales[1]) for p in self.parts)

    def at(self, places: Floats) -> tuple[Floats, Floats]:
        """Log-odds of damage, and doubt from 0 to 1 (as if unread), at places of shape (m, 2)."""
        chance, variance = np.zeros(len(places)), np.zeros(len(places))
        for start in range(0, len(places), BLOCK):
            block = slice(start, start + BLOCK)
            mean = self.mean + pull_of(self.starts, places[block], self.reach)
            for part in self.parts:
                over, left = part.at(places[block], self.sites.at)
                chance[block] += part.weight * normal_cdf((mean + over) / np.sqrt(left))
                variance[block] += part.weight * left
        chance = np.clip(self._as_seen(places, self.any_damage * chance), exp(-FAR), 1 - 1e-12)
        return np.log(chance / (1 - chance)), np.sqrt(np.minimum(variance, 1.0))

    def _as_seen(self, places: Floats, chance: Floats) -> Floats:
        """The chance with what plugs and cuts showed at their own places: that outranks what lies round them."""
        if len(self.seen_at):
            near = np.exp(-0.5 * squared(places, self.seen_at) / self.seen_reach**2)
            best = near.argmax(axis=1)
            share = near[np.arange(len(places)), best]
            chance = chance + share * (self.seen_chance[best] - chance)
        return chance

    def chance_at(self, places: Floats) -> Floats:
        """Chance of damage at places of shape (m, 2)."""
        return np.asarray(1 / (1 + np.exp(-self.at(places)[0])))

    def kinds_at(self, places: Floats) -> Floats:
        """Chances of wet, rotted and disbonded where there is damage, at places of shape (m, 2)."""
        return shares_of(places, self.sites.at, self.kinds, self.kind_reach)


def bad_and_sound(kinds: Floats, logs: Floats) -> tuple[Floats, Floats]:
    """Likelihoods of damage, its kinds mixed as ``kinds`` (.., 3), and of sound material from log-likelihoods by state
    (.., 4), each (..) and over the greatest of the four.
    """
    told = np.exp(logs - logs.max(axis=-1, keepdims=True))
    return (kinds * told[..., 1:]).sum(axis=-1), told[..., 0]


def squared(places: Floats, others: Floats) -> Floats:
    """Squared distances (n, m) between places (n, 2) and (m, 2), m2."""
    # (p - o)2 as p2 - 2 p o + o2 is one product of matrices; from a middle, so that little cancels.
    middle = others.mean(axis=0) if len(others) else np.zeros(2)
    p, o = places - middle, others - middle
    ones = np.ones((len(p), 1)), np.ones((len(o), 1))
    left = np.concatenate([p, (p * p).sum(axis=1, keepdims=True), ones[0]], axis=1)
    right = np.concatenate([-2 * o, ones[1], (o * o).sum(axis=1, keepdims=True)], axis=1)
    made = left @ right.T
    return np.asarray(np.maximum(made, 0.0, out=made))


def nearest(places: Floats, others: Floats) -> Floats:
    """Distance of places (n, 2) from the nearest of others (m, 2), m, shape (n,)."""
    return np.asarray(np.sqrt(squared(places, others).min(axis=1)))


def shares_of(places: Floats, at: Floats, found: Floats, reach: float) -> Floats:
    """Shares of each kind among the damage found (n, 3) round places (m, 2), drawn to the usual ones."""
    total = np.exp(-0.5 * squared(places, at) / reach**2) @ found + USUAL_KINDS
    return np.asarray(total / total.sum(axis=1, keepdims=True))


def covariance(places: Floats, others: Floats, scales: tuple[float, float]) -> Floats:
    """Covariance (n, m) of the field between places (n, 2) and (m, 2): Matern 3/2 on the scales, and the level's."""
    (sx, sy), root = scales, sqrt(3.0)
    p, o = (at * np.array([root / sx, root / sy], at.dtype) for at in (places, others))
    # In two arrays: making them takes as long as filling them. Not np.hypot, which takes five times as long.
    apart, made = p[:, None, 0] - o[None, :, 0], p[:, None, 1] - o[None, :, 1]
    apart *= apart
    made *= made
    apart += made
    np.sqrt(apart, out=apart)
    np.negative(apart, out=made)
    np.exp(made, out=made)
    apart += 1
    made *= apart
    made += LEVEL**2
    return np.asarray(made)
