"""Where a small test cut tells most: across the side of the cut line that the readings leave most in doubt. Source:
[4].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.geometry import Floats, Point, along
from ribpatch.core.memo import remembered
from ribpatch.core.patch.facing import cut_edges
from ribpatch.core.scheme import FACINGS, Facing
from ribpatch.core.survey.field import posterior_of
from ribpatch.core.survey.structure import starts_of

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.cutline import CutLine

STEP, LENGTH = 0.12, 0.10  # m: between places on the line; of the cut across it


class ProvingCut(Struct, frozen=True):
    """Where to cut: from sound ground inwards across the line, the side it is on, the chance of damage just outside."""

    start: Point
    end: Point
    facing: Facing
    chance: float


@remembered(64)
def proving_cut(zone: Zone, cut: CutLine, shelf: Shelf) -> ProvingCut | None:
    """The place on the side with most doubt; None where there is no cut or nothing was read.

    Doubt of a place is the smaller of the chance of damage there and one less it; a side counts with its mean doubt.
    """
    made = posterior_of(zone.survey, zone.outline, shelf, starts_of(zone, shelf))
    points, _ = along(cut.region, STEP)
    if made is None or not len(points):
        return None
    chance = made.chance_at(points)
    doubt = np.minimum(chance, 1 - chance)
    looks = cut_edges(cut.region).distances(points).argmin(axis=0)
    sides = [float(doubt[looks == k].mean()) if (looks == k).any() else -1.0 for k in range(4)]
    side = int(np.argmax(sides))
    at = int(np.where(looks == side, doubt, -1.0).argmax())
    return _across(points[at], FACINGS[side], float(chance[at]))


def _across(at: Floats, facing: Facing, chance: float) -> ProvingCut:
    step = {"x-": (-1.0, 0.0), "x+": (1.0, 0.0), "y-": (0.0, -1.0), "y+": (0.0, 1.0)}[facing]
    out = (float(at[0]) + step[0] * LENGTH * 0.7, float(at[1]) + step[1] * LENGTH * 0.7)
    back = (float(at[0]) - step[0] * LENGTH * 0.3, float(at[1]) - step[1] * LENGTH * 0.3)
    return ProvingCut(out, back, facing, chance)
