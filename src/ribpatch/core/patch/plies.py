"""Outlines of the plies of a patch.

The taper surface reaches R h out from the cut line at height h over the bottom. Smallest first: ply i lies flat and
ends where its top meets the taper, at R h_i. Largest first: ply 1 covers the whole taper and ply i, on top of it, ends
where the space above runs out, at L - R h_(i-1). Stepped: ply i ends on its own step. The overlap is added to each.
Reaches are shares of the taper's length, so that a taper of several ratios has each ply end at the same height all
round.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.geometry import Floats, Ring, clean, clip_to, polygon_of
from ribpatch.core.memo import remembered
from ribpatch.core.patch.taper import Band, grown

if TYPE_CHECKING:
    from shapely.geometry import MultiPolygon

    from ribpatch.core.laminate.stack import Laid, StackUp
    from ribpatch.core.patch.cutline import CutLine


class PlyOutline(Struct, frozen=True, eq=False):
    """One ply cut to shape: reach past the cut line in m where the taper is as usual, share of the taper, region in
    m.
    """

    laid: Laid
    reach: float
    share: float
    region: MultiPolygon

    @property
    def size(self) -> tuple[float, float]:
        """Length and width of the box round the ply, m, along the zone's axes."""
        if self.region.is_empty:
            return 0.0, 0.0
        x0, y0, x1, y1 = self.region.bounds
        return x1 - x0, y1 - y0


def shares(tops: Floats, band: Band, order: str) -> Floats:
    """How far each ply reaches out in the taper, as shares of its length, shape (n,). ``tops`` in m, deepest first."""
    count = len(tops)
    if not count or band.thickness <= 0:
        return np.zeros(count)
    if band.stepped:
        steps = np.arange(1, count + 1) / count
        return steps if order == "smallest first" else steps[::-1]
    if order == "smallest first":
        return np.minimum(tops / band.thickness, 1.0)
    bottoms = np.concatenate([[0.0], tops[:-1]])
    return np.maximum(1.0 - bottoms / band.thickness, 0.0)


@remembered(64)
def ply_outlines(
    cut: CutLine, band: Band, stack: StackUp, order: str, overlap: float, outline: Ring
) -> tuple[PlyOutline, ...]:
    """Every ply's outline within the zone, in the order of laying; overlap in m."""
    if cut.region.is_empty:
        return ()
    zone = polygon_of(outline)
    return tuple(
        PlyOutline(
            laid,
            float(share) * band.length + overlap,
            float(share),
            clean(clip_to(grown(cut.region, band.lengths, float(share), overlap), zone)),
        )
        for laid, share in zip(stack.plies, shares(stack.tops, band, order), strict=True)
    )
