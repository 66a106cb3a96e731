"""Cloth to cut for each ply: a box round the ply in the fabric's own direction, in strips where it is wider than the roll.

Strips overlap; a trim is added all round; the waste share covers what falls between the boxes. Whole-roll nesting is not
attempted here, so the length off the roll is the area over the roll's width. Fabrics that may be turned by 90 degrees are
laid the way that takes less cloth. Source: [3].
"""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

import shapely.affinity

from ribpatch.core.materials.records import Fabric
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.patch.plies import PlyOutline


@dataclass(frozen=True, slots=True)
class Piece:
    """The cloth for one ply: length along the roll and width across it in m, strips, area with overlaps in m2."""

    ply: int
    length: float
    width: float
    strips: int
    area: float


@dataclass(frozen=True, slots=True)
class Cloth:
    """All pieces of one fabric: net ply area, area to buy (with overlaps and waste), length off the roll."""

    fabric: Fabric
    pieces: tuple[Piece, ...]
    net: float
    area: float

    @property
    def roll_length(self) -> float:
        """Length off the roll in m."""
        return self.area / self.fabric.roll_width


def piece_for(outline: PlyOutline, overlap: float, trim: float) -> Piece:
    """The cloth for one ply, in m."""
    fabric = outline.laid.ply.fabric
    turned = shapely.affinity.rotate(outline.region, -outline.laid.angle, origin=(0, 0))
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


def cloth_for(outlines: tuple[PlyOutline, ...], shelf: Shelf) -> tuple[Cloth, ...]:
    """The cloth of a patch, one entry a fabric, in the order first used."""
    overlap, trim, waste = (shelf.rule(r) for r in ("strip.overlap", "cloth.trim", "cloth.waste"))
    grouped: dict[str, list[PlyOutline]] = {}
    for outline in outlines:
        if outline.region.is_empty:
            continue
        grouped.setdefault(outline.laid.ply.fabric.id, []).append(outline)
    made = []
    for group in grouped.values():
        pieces = tuple(piece_for(outline, overlap, trim) for outline in group)
        area = sum(piece.area for piece in pieces) * (1 + waste)
        made.append(Cloth(group[0].laid.ply.fabric, pieces, sum(o.region.area for o in group), area))
    return tuple(made)
