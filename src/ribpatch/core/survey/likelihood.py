"""How likely a reading is where the material is sound, wet, rotted or disbonded.

Each instrument's card says it: a table of its words, or the spread of its level over the sound reference for each
state, with a share of readings that are plainly wrong (metal behind, a slip of the pen) and could be anything. So a dry
meter is no evidence against a dry disbond, and no single reading is beyond doubt. Likelihoods are told as natural
logarithms; nan level or word -1 where a reading has none.
"""

from __future__ import annotations

from math import exp, log, nan, pi, sqrt
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.materials.records import InstrumentCard
    from ribpatch.core.materials.shelf import Shelf

STATES = ("sound", "wet", "rotted", "disbonded")
Logs = tuple[float, float, float, float]
SILENT: Logs = (0.0, 0.0, 0.0, 0.0)
LEVELS = (-1.0, 2.4)  # levels further out are no more telling than these
_ANYTHING = 1 / (LEVELS[1] - LEVELS[0])
_LEAST = 1e-4  # no word is impossible

# How a listener may hear a panel: words moved by a step up or down, that share of the time, and a share of plain slips;
# with the weight that each kind of listener has before anything is known of them. After trials of ours in which two
# people tapped one panel: they differ by a word one time in four, and one of five hears everything a word duller.
LISTENERS = (
    (0, 0.0, 0.10, 0.46),
    (1, 0.25, 0.08, 0.18),
    (-1, 0.25, 0.08, 0.18),
    (1, 0.6, 0.08, 0.09),
    (0, 0.0, 0.4, 0.05),
    (2, 0.8, 0.08, 0.04),
)
STRANGE = 5  # number of the last one, to whom sound material sounds dull


class Spread(Struct, frozen=True):
    """Level of an instrument over its sound reference, in rises: mean and deviation by state, share of wrong ones."""

    means: Logs
    deviations: Logs
    wrong: float

    @property
    def like_sound(self) -> list[int]:
        """Numbers of the states in which it reads as on sound material."""
        return [k for k in range(4) if (self.means[k], self.deviations[k]) == (self.means[0], self.deviations[0])]


@remembered(8)
def words_of(shelf: Shelf) -> dict[tuple[str, str], Logs]:
    """Log-likelihoods of every word of every graded instrument."""
    return {
        (card.id, g.id): SILENT if g.says is None else _logs(g.says) for card in shelf.instruments for g in card.grades
    }


def _logs(says: tuple[float, float, float, float]) -> Logs:
    sound, wet, rotted, disbonded = (log(max(v, _LEAST)) for v in says)
    return sound, wet, rotted, disbonded


@remembered(8)
def spreads_of(shelf: Shelf) -> dict[str, Spread]:
    """The spread of every metered instrument."""
    return {card.id: _spread(card) for card in shelf.instruments if card.levels}


def _spread(card: InstrumentCard) -> Spread:
    sound = next(level for level in card.levels if level.state == "sound")
    told = [next((level for level in card.levels if level.state == state), sound) for state in STATES]
    means = (told[0].mean, told[1].mean, told[2].mean, told[3].mean)
    return Spread(means, (told[0].scatter, told[1].scatter, told[2].scatter, told[3].scatter), card.wrong)


def level_logs(level: float, spread: Spread) -> Logs:
    """Log-likelihoods of one level."""
    at = min(max(level, LEVELS[0]), LEVELS[1])
    sound, wet, rotted, disbonded = (
        log((1 - spread.wrong) * exp(-0.5 * ((at - m) / s) ** 2) / (s * sqrt(2 * pi)) + spread.wrong * _ANYTHING)
        for m, s in zip(spread.means, spread.deviations, strict=True)
    )
    return sound, wet, rotted, disbonded


def levels_logs(levels: Floats, spread: Spread) -> Floats:
    """Log-likelihoods (n, 4) of levels (n,)."""
    at = np.clip(levels, *LEVELS)[:, None]
    mean, deviation = np.array(spread.means), np.array(spread.deviations)
    density = np.exp(-0.5 * ((at - mean) / deviation) ** 2) / (deviation * sqrt(2 * pi))
    return np.asarray(np.log((1 - spread.wrong) * density + spread.wrong * _ANYTHING))


@remembered(8)
def listeners_of(shelf: Shelf) -> tuple[Floats, Floats]:
    """Tables of the words of a tap, (listeners, words, 4), for each kind of listener, and the listeners' weights."""
    words = [g for g in shelf.instrument("tap").grades if g.says is not None]
    careful = np.array([g.says for g in words])
    careful = careful / careful.sum(axis=0)
    count = len(words)
    tables = []
    for step, share, slips, _ in LISTENERS:
        moved = np.zeros_like(careful)
        for k in range(count):
            moved[min(max(k + step, 0), count - 1)] += share * careful[k]
        tables.append((1 - slips) * (moved + (1 - share) * careful) + slips / count)
    return np.array(tables), np.array([weight for *_, weight in LISTENERS])


def kind_levels(logs: Floats) -> Floats:
    """Of each kind of damage, its chance against sound at even odds from one reading alone, (n, 3) from (n, 4); nan
    where the reading tells the two no better than three to two.
    """
    gap = np.clip(logs[:, 1:] - logs[:, :1], -30.0, 30.0)
    return np.asarray(np.where(np.abs(gap) > log(1.5), 1 / (1 + np.exp(-gap)), nan))
