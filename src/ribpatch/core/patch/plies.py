"""Outlines of the plies of a patch.

The taper surface reaches R h out from the cut line at height h over the bottom. Smallest first: ply i lies flat and
ends where its top meets the taper, at R h_i. Largest first: ply 1 covers the whole taper and ply i, on top of it, ends
where the space above runs out, at L - R h_(i-1). Stepped: ply i ends on its own step. The overlap is added to each.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from shapely.geometry import MultiPolygon

from ribpatch.core.geometry import Floats, Ring, clean, offset, polygon_of, within
from ribpatch.core.laminate.stack import Laid, StackUp
from ribpatch.core.memo import remembered
from ribpatch.core.patch.cutline import CutLine
from ribpatch.core.patch.taper import Band


@dataclass(frozen=True, eq=False)
class PlyOutline:
    """One ply cut to shape: reach past the cut line in m, region in m."""

    laid: Laid
    reach: float
    region: MultiPolygon

    @property
    def size(self) -> tuple[float, float]:
        """Length and width of the box round the ply, m, along the zone's axes."""
        if self.region.is_empty:
            return 0.0, 0.0
        x0, y0, x1, y1 = self.region.bounds
        return x1 - x0, y1 - y0


def reaches(tops: Floats, band: Band, order: str) -> Floats:
    """How far each ply reaches past the cut line, m, shape (n,), without overlap. ``tops`` in m, deepest first."""
    count = len(tops)
    if not count:
        return np.empty(0)
    if band.stepped:
        steps = band.length * np.arange(1, count + 1) / count
        return steps if order == "smallest first" else steps[::-1]
    slope = band.length / band.thickness
    if order == "smallest first":
        return np.minimum(slope * tops, band.length)
    bottoms = np.concatenate([[0.0], tops[:-1]])
    return np.maximum(band.length - slope * bottoms, 0.0)


@remembered(256)
def ply_outlines(
    cut: CutLine, band: Band, stack: StackUp, order: str, overlap: float, outline: Ring
) -> tuple[PlyOutline, ...]:
    """Every ply's outline within the zone, in the order of laying; overlap in m."""
    if cut.region.is_empty:
        return ()
    zone = polygon_of(outline)
    out = reaches(stack.tops, band, order) + overlap
    return tuple(
        PlyOutline(laid, float(reach), clean(within(offset(cut.region, float(reach)), zone)))
        for laid, reach in zip(stack.plies, out, strict=True)
    )
