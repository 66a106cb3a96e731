"""Local reinforcement: extra plies over an area of their own, under a winch, a cleat, a strut. Metres.

Each ply reaches less far than the one under it by the step, so that the pad runs out in stairs; it is laid on the main
face after its plies, and clipped to the zone.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.geometry import clean, clip_to, footprint, offset, polygon_of
from ribpatch.core.laminate.stack import StackUp, stack_up
from ribpatch.core.memo import remembered
from ribpatch.core.patch.plies import PlyOutline

if TYPE_CHECKING:
    from ribpatch.core.geometry import Ring
    from ribpatch.core.materials.records import Process
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.scheme import Pad


class PadMade(Struct, frozen=True, eq=False):
    """One pad: its stack and the outline of every ply, the largest first."""

    pad: Pad
    stack: StackUp
    outlines: tuple[PlyOutline, ...]

    @property
    def thickness(self) -> float:
        """Over its middle, m."""
        return float(self.stack.tops[-1]) if self.stack.plies else 0.0

    @property
    def area(self) -> float:
        """Of the largest ply, m2."""
        return max((o.region.area for o in self.outlines), default=0.0)

    @property
    def weight(self) -> float:
        """Of its plies, kg."""
        return sum(o.region.area * o.laid.ply.weight for o in self.outlines)


@remembered(32)
def pads_of(pads: tuple[Pad, ...], resin: str, process: Process, outline: Ring, shelf: Shelf) -> tuple[PadMade, ...]:
    """The pads of a scheme; a ply that the steps leave nothing of is left out."""
    zone = polygon_of(outline)
    made = []
    for pad in pads:
        stack = stack_up(pad.plies, resin, process, shelf)
        whole = footprint(pad.x, pad.y, pad.width.si, pad.height.si)
        rows = ((laid, clean(clip_to(offset(whole, -n * pad.step.si), zone))) for n, laid in enumerate(stack.plies))
        outlines = tuple(
            PlyOutline(laid, -n * pad.step.si, 1.0, r) for n, (laid, r) in enumerate(rows) if not r.is_empty
        )
        made.append(PadMade(pad, stack, outlines))
    return tuple(made)
