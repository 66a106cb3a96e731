"""What a recorded tap says, compared with the reference strikes of its own panel.

Each class of strike is a normal spread of the four logarithms (dominant frequency, centroid, decay, contact) over the
middle of the references; the verdict is the one of highest posterior chance with equal priors, and its margin is that
chance less the next one's. The classes' means come from simulated strikes (see ``hammer``): of strikes made another way
about six in ten were told right, so a share of every chance is kept back, what is far from every class is told as
unlike any, and what lies between two as not to be told. A recording is a hint. Source: [4], [9].
"""

from __future__ import annotations

from math import log
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.readings import Strike
    from ribpatch.core.survey.acoustics import Measured

UNLIKE, UNTOLD = "unlike any", "cannot tell"
FOOLED = 0.2  # of the chance of every class is spread over all: another hammer, a frame behind, a knock
_STATE = {"sound": 0, "dull-wet": 1, "dull-rotted": 2}  # of the classes; the rest are disbonds


class Verdict(Struct, frozen=True):
    """A strike judged: verdict and its words, chances by verdict and by class, how sure it is over the next verdict,
    and the four differences. A strike that is like none of the classes, or between two, has no verdict of the material.
    """

    id: str
    name: str
    by_verdict: dict[str, float]
    chances: tuple[float, ...]
    margin: float
    offset: tuple[float, ...]


def _logs(strike: Strike | Measured) -> Floats:
    return np.log([strike.frequency, strike.centroid, strike.decay, strike.contact])


def verdict_of(strike: Strike | Measured, references: tuple[Strike | Measured, ...], shelf: Shelf) -> Verdict | None:
    """A strike judged against its references; None without any."""
    if not references:
        return None
    # The middle one, so that a reference that was struck badly does not shift the rest.
    base = np.median([_logs(r) for r in references], axis=0)
    offset = _logs(strike) - base
    means = np.array([c.offset for c in shelf.strikes])
    # The middle of few references is itself unsure.
    spread = np.array([c.scatter for c in shelf.strikes]) * np.sqrt(1 + 1.5 / len(references))
    apart = (((offset - means) / spread) ** 2).sum(axis=1)
    fit = -0.5 * apart - np.log(spread).sum(axis=1)
    chance = np.exp(fit - fit.max())
    # Another hammer, a frame behind, a knock: some of every chance goes to the rest.
    chance = (1 - FOOLED) * chance / chance.sum() + FOOLED / len(chance)
    by_verdict: dict[str, float] = {}
    for kind, share in zip(shelf.strikes, chance.tolist(), strict=True):
        by_verdict[kind.verdict] = by_verdict.get(kind.verdict, 0.0) + share
    ranked = sorted(by_verdict.items(), key=lambda row: -row[1])
    best = next(c for c in shelf.strikes if c.verdict == ranked[0][0])
    margin = ranked[0][1] - ranked[1][1] if len(ranked) > 1 else 1.0
    told, name = best.verdict, best.name
    if float(apart.min()) > shelf.rule("strike.unlike"):
        told, name, margin = UNLIKE, "unlike any strike known: take it again", 0.0
    elif ranked[0][1] < shelf.rule("strike.tell"):
        told, name = UNTOLD, f"cannot tell: {ranked[0][0]} or {ranked[1][0]}"
    return Verdict(told, name, by_verdict, tuple(chance.tolist()), margin, tuple(offset.tolist()))


def strike_says(
    strike: Strike, references: tuple[Strike, ...], shelf: Shelf
) -> tuple[float, tuple[float, float, float, float]] | None:
    """Damage score of a strike, and how likely it is by state, as logarithms; None without references."""
    verdict = verdict_of(strike, references, shelf)
    if verdict is None or verdict.id == UNLIKE:
        return None
    score, by_state, classes = 0.0, [0.0] * 4, [0] * 4
    for kind, chance in zip(shelf.strikes, verdict.chances, strict=True):
        state = _STATE.get(kind.id, 3)
        score += chance * (kind.score)
        by_state[state] += chance
        classes[state] += 1
    # Every class had the same chance before; a state with more classes had more of it.
    sound, wet, rotted, disbonded = (log(max(c / max(n, 1), 1e-6)) for c, n in zip(by_state, classes, strict=True))
    return score, (sound, wet, rotted, disbonded)
