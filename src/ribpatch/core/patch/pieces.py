"""A skin saved to be bonded back: the cut divided into pieces that can be lifted, numbered, each with its weight. m,
kg.
"""

from __future__ import annotations

from math import ceil
from typing import TYPE_CHECKING

import shapely
from msgspec import Struct

from ribpatch.core.geometry import clean, polygons
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from shapely.geometry import MultiPolygon, Polygon

LEAST_SHARE = 0.15  # of a usual piece; smaller ones stay with their neighbour
MOST_PIECES = 400


class Piece(Struct, frozen=True, eq=False):
    """One piece of skin: its number from 1, its outline in m, its weight in kg."""

    number: int
    region: Polygon
    weight: float


class SavedSkin(Struct, frozen=True, eq=False):
    """The pieces, and the slits that the saw leaves round and between them."""

    pieces: tuple[Piece, ...]
    slits: MultiPolygon


@remembered(128)
def saved_skin(region: MultiPolygon, largest: float, weight: float, most: float, kerf: float) -> SavedSkin:
    """Divide ``region`` into pieces no longer than ``largest`` m and no heavier than ``most`` kg; kg/m2 and saw cut in
    m.
    """
    side = largest
    while True:
        pieces = _divided(region, side)
        heaviest = max((p.area for p in pieces), default=0.0) * weight
        if heaviest <= most or len(pieces) >= MOST_PIECES:
            break
        side *= 0.9
    cut = [inner for p in pieces for inner in polygons(p.buffer(-kerf / 2, join_style="mitre"))]
    cut.sort(key=lambda p: (round(p.centroid.y, 2), round(p.centroid.x, 2)))
    made = tuple(Piece(n, p, p.area * weight) for n, p in enumerate(cut, 1))
    return SavedSkin(made, clean(region.difference(shapely.union_all(cut))))


def _divided(region: MultiPolygon, side: float) -> list[Polygon]:
    parts: list[Polygon] = []
    for whole in polygons(region):
        x0, y0, x1, y1 = whole.bounds
        across, up = max(1, ceil((x1 - x0) / side - 1e-9)), max(1, ceil((y1 - y0) / side - 1e-9))
        w, h = (x1 - x0) / across, (y1 - y0) / up
        cells = [
            shapely.box(x0 + i * w, y0 + j * h, x0 + (i + 1) * w, y0 + (j + 1) * h)
            for j in range(up)
            for i in range(across)
        ]
        found = [p for cell in cells for p in polygons(whole.intersection(cell))]
        parts += _joined(found, LEAST_SHARE * w * h)
    return parts


def _joined(parts: list[Polygon], least: float) -> list[Polygon]:
    """Crumbs joined to the neighbour that they share most of their edge with."""
    kept = [p for p in parts if p.area >= least]
    for crumb in (p for p in parts if p.area < least):
        shared = [crumb.intersection(p).length for p in kept]
        if not kept or max(shared) <= 0:
            kept.append(crumb)
            continue
        at = shared.index(max(shared))
        joined = polygons(kept[at].union(crumb))
        kept[at] = joined[0]
    return kept
