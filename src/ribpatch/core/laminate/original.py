"""What the old laminate was: its plies where they are known, else the custom of its time drawn to the measured
thickness.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.laminate.layup import Layup, layup_of, scaled
from ribpatch.core.laminate.stack import StackUp, skin_stack, skin_thickness, stack_up
from ribpatch.core.memo import remembered
from ribpatch.core.record import known
from ribpatch.core.scheme import StackLine

if TYPE_CHECKING:
    from ribpatch.core.job import Skin
    from ribpatch.core.materials.records import Era
    from ribpatch.core.materials.shelf import Shelf

_MOST = 80  # plies of a pattern; a quarter of a metre of thin mat would be more


@remembered(256)
def skin_layup(skin: Skin, year: int | None, shelf: Shelf) -> Layup:
    """The layers of an old skin, inside first, drawn out to its measured thickness where it has one."""
    if skin.plies:
        whole = layup_of(skin_stack(skin, shelf), shelf.resin(skin.resin), shelf)
    else:
        era = shelf.era(skin.era, year)
        whole = layup_of(_pattern(era, skin_thickness(skin, shelf), shelf), shelf.resin(era.resin), shelf)
    return scaled(whole, skin_thickness(skin, shelf))


def _pattern(era: Era, thickness: float, shelf: Shelf) -> StackUp:
    """An era's pattern over and over until it comes nearest to a thickness in m; at least one ply."""
    lines: list[StackLine] = []
    reached = 0.0
    while len(lines) < _MOST:
        line = known(StackLine, fabric=era.pattern[len(lines) % len(era.pattern)])
        one = stack_up((line,), era.resin, "hand", shelf).thickness
        if lines and reached + one / 2 > thickness:
            break
        lines.append(line)
        reached += one
    return stack_up(tuple(lines), era.resin, "hand", shelf)


def known_by(skin: Skin, year: int | None, shelf: Shelf) -> str:
    """How well the old laminate is known, in words."""
    if skin.plies and skin.fibre_fraction is not None:
        return "its plies as counted, with the fibre mass fraction of a burn-off"
    if skin.plies:
        return "its plies as counted or known" + (", drawn to the measured thickness" if skin.thickness else "")
    era = shelf.era(skin.era, year)
    return f"measured thickness only; plies as was usual, {era.name}: {era.reason}"
