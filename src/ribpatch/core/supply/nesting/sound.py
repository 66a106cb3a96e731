"""Whether a layout is sound: every piece on the roll, at a turn that it may be laid at, and none over another."""

from __future__ import annotations

from typing import TYPE_CHECKING

import shapely

from ribpatch.core.supply.nesting.shape import placed

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ribpatch.core.supply.nesting.shape import Lying, Shape

OVER = 1e-6  # m, and m2: rounding of places that were written down


def is_sound(shapes: Sequence[Shape], lying: Sequence[Lying], width: float) -> bool:
    """Whether a layout of pieces on a roll of a width, m, holds together."""
    if len(shapes) != len(lying):
        return False
    for shape, at in zip(shapes, lying, strict=True):
        corners = placed(shape, at)
        if corners.min() < -OVER or corners[:, 1].max() > width + OVER:
            return False
        if shape.turns is not None and not any(abs((at.turn - t + 180) % 360 - 180) < OVER for t in shape.turns):
            return False
    pieces = [shapely.Polygon(placed(s, p)) for s, p in zip(shapes, lying, strict=True)]
    tree = shapely.STRtree(pieces)
    near = {(int(min(a, b)), int(max(a, b))) for a, b in tree.query(pieces).T if a != b}
    return all(pieces[a].intersection(pieces[b]).area <= OVER for a, b in near)
