"""Which way each stretch of a cut line looks: aft or forward, down or up in the zone's own axes.

A side of the line belongs to the axis that its outward normal is nearest to. Holes look into themselves. Metres.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct
from shapely.geometry import LineString, MultiLineString
from shapely.geometry.polygon import orient

from ribpatch.core.geometry import Floats, polygons
from ribpatch.core.memo import remembered
from ribpatch.core.scheme import FACINGS, Facing

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry


class CutEdges(Struct, frozen=True, eq=False):
    """The boundary of a region sorted by the way that it looks; empty lines where nothing looks that way."""

    lines: dict[Facing, MultiLineString]

    def distances(self, points: Floats) -> Floats:
        """Distance of places (n, 2) to the stretches of each facing, m, shape (4, n); infinite where there is none."""
        places = shapely.points(points)
        return np.array(
            [
                shapely.distance(places, line) if not line.is_empty else np.full(len(points), np.inf)
                for line in self.lines.values()
            ]
        )


@remembered(128)
def cut_edges(region: BaseGeometry) -> CutEdges:
    """The sides of a region's boundary, outer and holes."""
    found: dict[Facing, list[Floats]] = {facing: [] for facing in FACINGS}
    for polygon in polygons(region):
        whole = orient(polygon, 1.0)
        for ring in (whole.exterior, *whole.interiors):
            points = np.asarray(ring.coords)[:, :2]
            step = np.diff(points, axis=0)
            normal = np.stack([step[:, 1], -step[:, 0]], axis=1)
            flat = np.abs(normal[:, 0]) >= np.abs(normal[:, 1])
            which = np.where(flat, np.where(normal[:, 0] < 0, 0, 1), np.where(normal[:, 1] < 0, 2, 3))
            pairs = np.stack([points[:-1], points[1:]], axis=1)
            for index, facing in enumerate(FACINGS):
                found[facing].extend(pairs[which == index])
    return CutEdges({facing: _merged(pairs) for facing, pairs in found.items()})


def _merged(pairs: list[Floats]) -> MultiLineString:
    """Sides joined end to end into as few lines as they make."""
    merged = shapely.line_merge(MultiLineString(list(pairs)))
    return MultiLineString([part for part in shapely.get_parts(merged) if isinstance(part, LineString)])
