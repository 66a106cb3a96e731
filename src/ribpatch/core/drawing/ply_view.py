"""The outlines of all plies as a drawing of lines, each ply on a layer of its own number."""

from __future__ import annotations

from typing import TYPE_CHECKING

import shapely

from ribpatch.core.drawing.shapes import Drawing, Line, Shape, Text
from ribpatch.core.geometry import rings_of

if TYPE_CHECKING:
    from ribpatch.core.patch.plies import PlyOutline


def ply_view(outlines: tuple[PlyOutline, ...], title: str) -> Drawing:
    """Every ply's rings, closed, with its number and cloth; a layer is named ``ply 3``. Metres."""
    shapes: list[Shape] = []
    for outline in outlines:
        layer = f"ply {outline.laid.number}"
        for rings in rings_of(outline.region):
            shapes += [Line(ring, layer, closed=True) for ring in rings]
        x, y = outline.region.bounds[0], outline.region.bounds[3]
        shapes.append(Text((x, y), f"{outline.laid.number} {outline.laid.ply.fabric.name}", layer))
    box = shapely.union_all([o.region for o in outlines]).bounds if outlines else (0.0, 0.0, 0.1, 0.1)
    return Drawing(title, "a layer for each ply", box, tuple(shapes))
