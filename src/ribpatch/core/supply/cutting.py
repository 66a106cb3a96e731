"""What is cut off each roll for the whole job, and how it lies there: every strip of every ply by itself. Metres.

Pieces are the boxes round the parts of a ply, with their trim; what is wider than the roll is cut in strips of one
width that overlap, and strips keep their way. Other pieces are turned where the fabric lets them. What is between the
boxes is waste that shapes of their own could save.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.memo import Known
from ribpatch.core.supply.packing import Packed, Rect, pack

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ribpatch.core.materials.records import Fabric
    from ribpatch.core.supply.cloth import Cloth


_KNOWN: Known[tuple[tuple[Rect, ...], float], Packed] = Known(64)


class Cut(Struct, frozen=True):
    """One strip to cut: whose, which ply, which strip of how many; along the roll and across it, m; if it may turn."""

    zone: str
    ply: int
    strip: int
    of: int
    long: float
    wide: float
    turns: bool

    @property
    def name(self) -> str:
        """What is written on it."""
        part = f" {self.strip}/{self.of}" if self.of > 1 else ""
        return f"{self.zone}, ply {self.ply}{part}"


class Roll(Struct, frozen=True, eq=False):
    """All that is cut off the rolls of one fabric, and how it lies."""

    fabric: Fabric
    cuts: tuple[Cut, ...]
    packed: Packed

    @property
    def used(self) -> float:
        """Share of the length cut off that is pieces."""
        area = sum(c.long * c.wide for c in self.cuts)
        return area / (self.packed.length * self.fabric.roll_width) if self.packed.length > 0 else 0.0


def cuts_of(zone: str, cloth: Cloth, overlap: float) -> tuple[Cut, ...]:
    """The strips of one fabric of a zone."""
    made = []
    for piece in cloth.pieces:
        wide = (piece.width + (piece.strips - 1) * overlap) / piece.strips
        turns = cloth.fabric.turn == 90 and piece.strips == 1
        for strip in range(1, piece.strips + 1):
            made.append(Cut(zone, piece.ply, strip, piece.strips, piece.length, wide, turns))
    return tuple(made)


def rolls_of(zones: Iterable[tuple[str, tuple[Cloth, ...]]], overlap: float) -> tuple[Roll, ...]:
    """Every fabric of a job with its pieces laid out, in the order first used."""
    grouped: dict[str, tuple[Fabric, list[Cut]]] = {}
    for zone, cloths in zones:
        for cloth in cloths:
            grouped.setdefault(cloth.fabric.id, (cloth.fabric, []))[1].extend(cuts_of(zone, cloth, overlap))
    return tuple(_roll(fabric, tuple(cuts)) for fabric, cuts in grouped.values())


def _roll(fabric: Fabric, cuts: tuple[Cut, ...]) -> Roll:
    rects, width = tuple(Rect(c.long, c.wide, c.turns) for c in cuts), fabric.roll_width
    return Roll(fabric, cuts, _KNOWN.of((rects, width), lambda: pack(rects, width)))
