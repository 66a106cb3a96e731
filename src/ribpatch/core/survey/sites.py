"""The readings of a survey brought together by place: what those of one place say together.

Readings a few centimetres apart are of one place. Of one instrument there, a second reading says less than the first:
what fooled the first fools the second as well. Where there are more places than the algebra takes, those of a cell
count as one.
"""

from __future__ import annotations

from math import sqrt
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.series import grouped

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.geometry import Floats
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.survey.score import Scores

MOST_SITES = 192  # distinct places that enter the algebra
_MOST_WIDER = 40.0  # times the usual place: cells grow no wider for the sake of keeping what was seen apart
_ALIKE_IN_CELL = 0.1  # places of one cell: how much of what is said of one is said of the next


class Sites(Struct, frozen=True, eq=False):
    """The m places of n readings: where (m, 2) in m; of which place each reading is and how much it counts there (n,);
    how many readings a place has (m,); how wide a place is, m; and where was read before cells were joined (k, 2).
    """

    at: Floats
    site: NDArray[np.intp]
    weight: Floats
    readings: NDArray[np.intp]
    width: float
    spots: Floats

    def together(self, logs: Floats) -> Floats:
        """What the readings of each place say together, shape (m, k), from logarithms of shape (n, k)."""
        weighed = logs * self.weight[:, None]
        return np.stack([np.bincount(self.site, column, len(self.at)) for column in weighed.T], axis=1)


def sites_of(scores: Scores, shelf: Shelf) -> Sites:
    """The places of the scored readings; the same in whatever order they were entered."""
    x, y, width = scores.x, scores.y, shelf.rule("place.size")
    fine = _cells(x, y, width)
    _, spot = grouped(fine)
    # Of one instrument at one place each reading counts as much less as there are others.
    kinds = {name: n for n, name in enumerate(sorted({g[0] for g in scores.groups}))}
    kind = np.array([kinds[g[0]] for g in scores.groups], dtype=np.int64)[scores.group]
    alike = shelf.rule("place.alike")
    weight = 1 / (1 + alike * (_counts(spot * len(kinds) + kind) - 1))
    site = spot
    if spot.max(initial=0) >= MOST_SITES:
        # What was seen keeps its own places; of the rest those of a cell count as one.
        seen, least = scores.rank > 0, width
        if site.max() >= 4 * MOST_SITES:  # what follows would take many steps
            width = max(width, 0.7 * sqrt(float(np.ptp(x) * np.ptp(y)) / MOST_SITES))
        while site.max() >= MOST_SITES:
            width *= 1.15
            keep = seen if width < _MOST_WIDER * least else np.zeros_like(seen)
            _, site = grouped(np.where(keep, fine + 2**62, _cells(x, y, width)))
        spots = np.bincount(site[_first(spot)], minlength=site.max() + 1)
        weight = weight / (1 + _ALIKE_IN_CELL * (spots[site] - 1))
    return Sites(_middles(x, y, site), site, weight, np.bincount(site), width, _middles(x, y, spot))


def _middles(x: Floats, y: Floats, group: NDArray[np.intp]) -> Floats:
    """Mean place of each group, (m, 2)."""
    count = np.bincount(group)
    return np.column_stack([np.bincount(group, v) / count for v in (x, y)])


def _cells(x: Floats, y: Floats, cell: float) -> NDArray[np.int64]:
    """One whole number a reading: sorting rows takes ten times as long."""
    column, row = (np.floor(v / cell).astype(np.int64) + 2**20 for v in (x, y))
    return np.asarray(column * 2**21 + row)


def _counts(keys: NDArray[np.intp]) -> NDArray[np.intp]:
    """How often each key is there."""
    _, group = grouped(keys.astype(np.int64))
    return np.asarray(np.bincount(group)[group])


def _first(group: NDArray[np.intp]) -> NDArray[np.intp]:
    """One member of each group."""
    first = np.zeros(group.max() + 1, dtype=np.intp)
    first[group] = np.arange(group.size)
    return first
