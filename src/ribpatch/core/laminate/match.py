"""The new laminate against the old one or a target: stiffness, strength, weight, thickness, along and across."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.laminate.strength import Failure, failures
from ribpatch.core.memo import remembered
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.laminate.layup import Layup
    from ribpatch.core.materials.shelf import Shelf


class PropertyComparison(Struct, frozen=True):
    """One property of the new laminate held against the old one's; SI."""

    key: str
    name: str
    kind: Kind
    new: float
    old: float

    @property
    def ratio(self) -> float:
        """New over old."""
        return self.new / self.old if self.old else float("inf")


class Match(Struct, frozen=True, eq=False):
    """New laminate and old one, with their failures and every comparison."""

    new: Layup
    old: Layup
    new_fails: tuple[Failure, ...]
    old_fails: tuple[Failure, ...]
    held: tuple[PropertyComparison, ...]

    def ratio(self, key: str) -> float:
        """New over old of one property."""
        return next(h.ratio for h in self.held if h.key == key)

    def least(self, key: str) -> float:
        """New over old, the least of the properties whose key begins so: bending with either face stretched."""
        return min(h.ratio for h in self.held if h.key.startswith(key))


STRENGTHS = {
    "tension along": "tension.along",
    "tension across": "tension.across",
    "compression along": "compression.along",
    "compression across": "compression.across",
    "shear": "shear",
    "bending along, top stretched": "bending.along",
    "bending across, top stretched": "bending.across",
    "bending along, bottom stretched": "bending.along.bottom",
    "bending across, bottom stretched": "bending.across.bottom",
}


@remembered(128)
def match_of(new: Layup, old: Layup, new_weight: float, old_weight: float) -> Match:
    """Hold a new laminate against an old one; weights in kg/m2."""
    a, b = new.plate, old.plate
    held = [
        PropertyComparison(
            "stiff.along", "stretching stiffness along", Kind.MEMBRANE, float(a.A[0, 0]), float(b.A[0, 0])
        ),
        PropertyComparison(
            "stiff.across", "stretching stiffness across", Kind.MEMBRANE, float(a.A[1, 1]), float(b.A[1, 1])
        ),
        PropertyComparison("stiff.shear", "stiffness in shear", Kind.MEMBRANE, float(a.A[2, 2]), float(b.A[2, 2])),
        PropertyComparison(
            "bend.along", "bending stiffness along", Kind.BENDING, float(a.bending[0]), float(b.bending[0])
        ),
        PropertyComparison(
            "bend.across", "bending stiffness across", Kind.BENDING, float(a.bending[1]), float(b.bending[1])
        ),
    ]
    mine, theirs = failures(new), failures(old)
    for ours, before in zip(mine, theirs, strict=True):
        if key := STRENGTHS.get(ours.load):
            kind = Kind.MOMENT if key.startswith("bending") else Kind.TENSION
            held.append(
                PropertyComparison(f"strong.{key}", f"strength in {ours.load}", kind, ours.breaks, before.breaks)
            )
    held.append(PropertyComparison("weight", "weight", Kind.AREAL, new_weight, old_weight))
    held.append(PropertyComparison("thickness", "thickness", Kind.SIZE, new.thickness, old.thickness))
    return Match(new, old, mine, theirs, tuple(held))


class Flag(Struct, frozen=True):
    """Something about a laminate in a repairer's words, with its measure."""

    key: str
    words: str


def flags_of(layup: Layup, shelf: Shelf) -> tuple[Flag, ...]:
    """What the coupling terms mean: will pull, skews, weak one way; limits are the rules ``laminate.*``."""
    couple, skew, weak = (shelf.rule(f"laminate.{name}") for name in ("couple", "skew", "weak"))
    p = layup.plate
    found = []
    pull = float(abs(p.B).max() * 2 / (p.A.diagonal().max() * p.thickness))
    if pull > couple:
        found.append(
            Flag("unsymmetric", f"will pull: it is not alike above and below its middle (B is {pull:.0%} of A × t ÷ 2)")
        )
    turn = float(max(abs(p.A[0, 2]), abs(p.A[1, 2])) / p.A.diagonal()[:2].max())
    if turn > skew:
        found.append(Flag("unbalanced", f"skews: a straight pull also shears it (A16 is {turn:.0%} of A11)"))
    along, across = float(p.A[0, 0]), float(p.A[1, 1])
    if across < weak * along:
        found.append(Flag("weak-across", f"weak across: {across / along:.0%} as stiff across as along"))
    elif along < weak * across:
        found.append(Flag("weak-along", f"weak along: {along / across:.0%} as stiff along as across"))
    return tuple(found)
