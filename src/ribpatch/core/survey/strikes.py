"""What a recorded tap says, compared with the reference strikes of its own panel.

Each class of strike is a normal spread of the four logarithms (dominant frequency, centroid, decay, contact) over the
reference's mean; the verdict is the one of highest posterior chance with equal priors, and its margin is that chance
less the next one's. The classes' means come from simulated strikes: see ``hammer``. Source: [4], [9].
"""

from __future__ import annotations

from math import nan
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.readings import Strike
    from ribpatch.core.survey.acoustics import Measured

DamageScores = tuple[float, float, float, float]  # damage score, then wet, rotted, disbonded; nan says nothing
NOTHING: DamageScores = (nan, nan, nan, nan)


class Verdict(Struct, frozen=True):
    """A strike judged: verdict and its words, chances by verdict and by class, margin over the next verdict, and the
    four differences.
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
    base = np.mean([_logs(r) for r in references], axis=0)
    offset = _logs(strike) - base
    means = np.array([c.offset for c in shelf.strikes])
    # The mean of few references is itself unsure.
    spread = np.array([c.scatter for c in shelf.strikes]) * np.sqrt(1 + 1 / len(references))
    fit = -0.5 * (((offset - means) / spread) ** 2).sum(axis=1) - np.log(spread).sum(axis=1)
    chance = np.exp(fit - fit.max())
    chance /= chance.sum()
    by_verdict: dict[str, float] = {}
    for kind, share in zip(shelf.strikes, chance.tolist(), strict=True):
        by_verdict[kind.verdict] = by_verdict.get(kind.verdict, 0.0) + share
    ranked = sorted(by_verdict.items(), key=lambda row: -row[1])
    best = next(c for c in shelf.strikes if c.verdict == ranked[0][0])
    margin = ranked[0][1] - ranked[1][1] if len(ranked) > 1 else 1.0
    return Verdict(best.verdict, best.name, by_verdict, tuple(chance.tolist()), margin, tuple(offset.tolist()))


def strike_says(strike: Strike, references: tuple[Strike, ...], shelf: Shelf) -> DamageScores:
    """Damage score and kinds of a strike: its classes' words weighed by their chances; nothing without references."""
    verdict = verdict_of(strike, references, shelf)
    if verdict is None:
        return NOTHING
    weight = np.array(verdict.chances)
    table = np.array([[nan if v is None else v for v in c.says] for c in shelf.strikes])
    known = ~np.isnan(table)
    share = np.where(known, weight[:, None], 0).sum(axis=0)
    total = (np.where(known, table, 0.0) * weight[:, None]).sum(axis=0)
    # A kind that the likely classes say nothing about stays unsaid.
    score, wet, rotted, disbonded = (
        float(t / s) if s > 0.3 else nan for t, s in zip(total.tolist(), share.tolist(), strict=True)
    )
    return score, wet, rotted, disbonded
