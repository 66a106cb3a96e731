"""Cloth to cut for each part of a ply: a box round it in the fabric's own direction, in strips where it is wider than
the roll.

Strips overlap; a trim is added all round; the waste share covers what falls between the boxes. Whole-roll nesting is
not attempted here, so the length off the roll is the area over the roll's width. Fabrics that may be turned by 90
degrees are laid the way that takes less cloth. Source: [3].
"""

from __future__ import annotations

from math import ceil
from typing import TYPE_CHECKING

import shapely.affinity
from msgspec import Struct

from ribpatch.core.geometry import polygons

if TYPE_CHECKING:
    from shapely.geometry import Polygon

    from ribpatch.core.materials.records import Fabric
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.plies import PlyOutline


class Piece(Struct, frozen=True):
    """The cloth for one part of a ply: length along the roll and width across it in m, strips, area with overlaps in
    m2.
    """

    ply: int
    length: float
    width: float
    strips: int
    area: float


class Cloth(Struct, frozen=True):
    """All pieces of one fabric: net ply area, area to buy (with overlaps and waste), length off the roll."""

    fabric: Fabric
    pieces: tuple[Piece, ...]
    net: float
    area: float

    @property
    def roll_length(self) -> float:
        """Length off the roll in m."""
        return self.area / self.fabric.roll_width


def pieces_for(outline: PlyOutline, overlap: float, trim: float) -> tuple[Piece, ...]:
    """The cloth for one ply, a piece for each of its parts, in m."""
    return tuple(_piece(part, outline, overlap, trim) for part in polygons(outline.region))


def _piece(part: Polygon, outline: PlyOutline, overlap: float, trim: float) -> Piece:
    fabric = outline.laid.ply.fabric
    turned = shapely.affinity.rotate(part, -outline.laid.angle, origin=(0, 0))
    x0, y0, x1, y1 = turned.bounds
    long, wide = x1 - x0 + 2 * trim, y1 - y0 + 2 * trim
    ways = [(long, wide), (wide, long)] if fabric.turn == 90 else [(long, wide)]
    options = []
    for length, width in ways:
        strips = strips_across(width, fabric.roll_width, overlap)
        area = length * (width + (strips - 1) * overlap)
        options.append(Piece(outline.laid.number, length, width, strips, area))
    return min(options, key=lambda piece: (piece.area, -piece.length))


def strips_across(width: float, roll: float, overlap: float) -> int:
    """Strips of a roll needed to cover ``width`` with ``overlap`` between neighbours (all m)."""
    if width <= roll + 1e-9:
        return 1
    return max(2, ceil((width - overlap) / (roll - overlap) - 1e-9))


def cloth_for(outlines: tuple[PlyOutline, ...], shelf: Shelf, blanks: tuple[PlyOutline, ...] = ()) -> tuple[Cloth, ...]:
    """The cloth of a patch, one entry a fabric, in the order first used; ``blanks`` have their trim in their shape."""
    overlap, trim, waste = (shelf.rule(r) for r in ("strip.overlap", "cloth.trim", "cloth.waste"))
    grouped: dict[str, list[tuple[PlyOutline, float]]] = {}
    for outline, around in (*((o, trim) for o in outlines), *((o, 0.0) for o in blanks)):
        if not outline.region.is_empty:
            grouped.setdefault(outline.laid.ply.fabric.id, []).append((outline, around))
    made = []
    for group in grouped.values():
        pieces = tuple(piece for outline, around in group for piece in pieces_for(outline, overlap, around))
        area = sum(piece.area for piece in pieces) * (1 + waste)
        made.append(Cloth(group[0][0].laid.ply.fabric, pieces, sum(o.region.area for o, _ in group), area))
    return tuple(made)
