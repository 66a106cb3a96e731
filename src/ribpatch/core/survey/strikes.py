"""What a recorded tap says, compared with the reference strikes of its own panel.

A strike is described by natural logarithms over the middle of its references: dominant frequency, centroid, decay,
contact, and the shape of its sound. Two judges say how likely each state of the material is, and meet: a
softmax of these differences and their sizes, learned from simulated strikes of widely varied plates, supports, hammers,
rooms and recorders (``scripts/train_strikes.py``), and how far all of them are off together over how far the references
lie apart, which knows of no kind of plate and counts for more. They were held against a kind of simulated strike that
neither had learned from: on that the learned one was surer than it was right, so its odds are drawn in. Some of every
chance is kept back, what is far from all that was learned is told as unlike any, and what no state
has a clear chance of as not to be told. A recording is a hint. Source: [4], [9].
"""

from __future__ import annotations

from math import log
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.readings import Strike

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ribpatch.core.geometry import Floats
    from ribpatch.core.materials.records import StrikeClass
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.survey.acoustics import Measured

UNLIKE, UNTOLD = "unlike any", "cannot tell"
FOOLED = 0.06  # of every chance is spread over all states: what no simulation had
STATES = ("sound", "wet", "rotted", "disbonded")
# Spread of each feature over all that was learned from: dominant frequency, centroid, decay, contact; then six bands,
# three fades, early share, attack.
SPREADS = np.array([0.6, 0.3, 0.7, 0.45, 1.4, 1.1, 0.8, 1.3, 1.7, 1.7, 0.7, 0.7, 0.9, 0.5, 0.3])
# The same over sound places of one panel; where the references lie closer together, smaller differences tell.
ALIKE = np.array([0.4, 0.16, 0.25, 0.2, 0.6, 0.6, 0.6, 0.9, 0.8, 0.6, 0.28, 0.27, 0.7, 0.28, 0.15])
USUAL_WEIGHT, STEADIEST = 3.0, 0.15  # features that this counts for; the least share of it
# By how many features: log-odds of sound (one in four) where they are as far off as sound places are, and their slope
# over the logarithm of that distance.
NEARNESS = {15: (2.08, -6.06), 4: (-0.27, -2.37)}
LEAST_FAR = 0.05
DRAWN_IN = 0.7  # of the learned judge's log-odds are left
WEIGHT_FAR = 0.7  # of the judge that goes by distance, in the log-odds of sound
FEW = 4  # features of a strike that an earlier version measured
SURELY_BAD = 0.1  # chance of sound under which a strike is bad, whichever way
FURTHEST = 4.0  # spreads: what is further is no more telling


class Verdict(Struct, frozen=True):
    """A strike judged: verdict and its words, chances by verdict and by state, the chance that the verdict is right
    (0 to 1), and the differences from the references. A strike that is like none, or between two, has no verdict of the
    material.
    """

    id: str
    name: str
    by_verdict: dict[str, float]
    chances: tuple[float, ...]
    margin: float
    offset: tuple[float, ...]


def features_of(strike: Strike | Measured) -> Floats:
    """Natural logarithms of what was measured of a strike, (15,), or (4,) where an earlier version did."""
    shape = strike if isinstance(strike, Strike) else strike.shape
    tone = [strike.frequency, strike.centroid, strike.decay, strike.contact]
    return np.asarray(np.log([*tone, *shape.bands, *shape.fades, shape.early, shape.attack] if shape.bands else tone))


def _alike(strikes: Iterable[Strike | Measured]) -> Floats:
    """Features of some strikes (n, f): of those that have all of them, where there are any."""
    found = [features_of(s) for s in strikes]
    most = max(f.size for f in found)
    return np.array([f for f in found if f.size == most])


def middle(strikes: Iterable[Strike | Measured]) -> Floats:
    """The middle of some strikes, feature by feature: one that was struck badly does not shift it."""
    return np.asarray(np.median(_alike(strikes), axis=0))


def compared(own: Floats, references: Floats) -> tuple[Floats, Floats, float]:
    """A strike's features (f,) against those of its references (n, f): the differences from their middle, these over
    their spreads, and how far off all of them are over how far the references lie apart: about 1 for sound places.
    """
    count = min(own.size, references.shape[1])
    known = references[:, :count]
    base = np.median(known, axis=0)
    offset = own[:count] - base
    apart, free = float((((known - base) / ALIKE[:count]) ** 2).sum()), count * (len(known) - 1)
    steady = max(((USUAL_WEIGHT + apart) / (USUAL_WEIGHT + free)) ** 0.5, STEADIEST)
    far = float(((offset / ALIKE[:count]) ** 2).mean() ** 0.5) / steady
    return offset, offset / SPREADS[:count], max(far, LEAST_FAR)


def verdict_of(
    strike: Strike | Measured | Floats, references: tuple[Strike | Measured, ...], shelf: Shelf
) -> Verdict | None:
    """A strike, or the middle of several at one place, judged against its references; None without any."""
    if not references:
        return None
    own = strike if isinstance(strike, np.ndarray) else features_of(strike)
    offset, over, far = compared(own, _alike(references))
    kinds = _kinds(shelf)
    chance = _chances(over, far, kinds)
    by_verdict: dict[str, float] = {}
    for kind, share in zip(kinds, chance.tolist(), strict=True):
        by_verdict[kind.verdict] = by_verdict.get(kind.verdict, 0.0) + share
    ranked = sorted(by_verdict.items(), key=lambda row: -row[1])
    told, margin = ranked[0]
    name = next(c.name for c in kinds if c.verdict == told)
    if float((over**2).mean()) > shelf.rule("strike.unlike"):
        told, name, margin = UNLIKE, "unlike any strike known: take it again", 0.0
    elif margin < shelf.rule("strike.tell"):
        two = f"{ranked[0][0]} or {ranked[1][0]}"
        told, name = UNTOLD, f"bad: {two}" if chance[0] < SURELY_BAD else f"cannot tell: {two}"
    return Verdict(told, name, by_verdict, tuple(chance.tolist()), margin, tuple(offset.tolist()))


def terms_of(over: Floats) -> Floats:
    """What the softmax weighs, from features over their spreads (.., f): one, features, and their sizes (.., 2f+1)."""
    near = np.clip(over, -FURTHEST, FURTHEST)
    return np.concatenate([np.ones((*near.shape[:-1], 1)), near, np.abs(near)], axis=-1)


def met(chance: Floats, far: Floats, features: int) -> Floats:
    """Chances of each state (.., 4) by the softmax; that of sound moved, in log-odds, towards what ``far`` (..)
    says.
    """
    at_one, slope = NEARNESS[features]
    sound = np.clip(chance[..., 0], 1e-9, 1 - 1e-9)
    odds = (1 - WEIGHT_FAR) * np.log(sound / (1 - sound)) + WEIGHT_FAR * (at_one + slope * np.log(far))
    now = 1 / (1 + np.exp(-odds))
    return np.concatenate([now[..., None], chance[..., 1:] * ((1 - now) / (1 - sound))[..., None]], axis=-1)


def _kinds(shelf: Shelf) -> list[StrikeClass]:
    """How each state sounds, in the order of ``STATES``."""
    return sorted(shelf.strikes, key=lambda kind: STATES.index(kind.id))


def _chances(over: Floats, far: float, kinds: list[StrikeClass]) -> Floats:
    """Chance of each state before which all were alike, (4,)."""
    weights = np.array([c.few if over.size == FEW else c.weights for c in kinds])
    fit = DRAWN_IN * (weights @ terms_of(over))
    chance = np.exp(fit - fit.max())
    chance = met(chance / chance.sum(), np.asarray(far), over.size)
    return np.asarray((1 - FOOLED) * chance + FOOLED / len(chance))


def strike_says(
    strike: Strike | Floats, references: tuple[Strike, ...], shelf: Shelf
) -> tuple[float, tuple[float, float, float, float]] | None:
    """Damage score of a strike, and how likely it is by state, as logarithms; None without references."""
    verdict = verdict_of(strike, references, shelf)
    if verdict is None or verdict.id == UNLIKE:
        return None
    score = sum(kind.score * chance for kind, chance in zip(_kinds(shelf), verdict.chances, strict=True))
    sound, wet, rotted, disbonded = (log(max(chance, 1e-6)) for chance in verdict.chances)
    return score, (sound, wet, rotted, disbonded)


def by_place(strikes: Iterable[Strike], size: float) -> dict[str, tuple[float, ...]]:
    """By id, the middle of the features of the strikes at one place (cells of ``size`` m); only where there are
    several.
    """
    cells: dict[tuple[int, int], list[Strike]] = {}
    for strike in strikes:
        cells.setdefault((int(strike.x // size), int(strike.y // size)), []).append(strike)
    found: dict[str, tuple[float, ...]] = {}
    for several in cells.values():
        if len(several) > 1:
            shared = tuple(middle(several).tolist())
            found.update((s.id, shared) for s in several)
    return found
