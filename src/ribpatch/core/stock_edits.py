"""Edits of what the shop has and how it buys: layouts of cloth, stock, packs, dates."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.edits import Edit
from ribpatch.core.record import evolve
from ribpatch.core.stock import KeptLayout
from ribpatch.core.supply.cutting import mark_of

if TYPE_CHECKING:
    from ribpatch.core.supply.cutting import Roll
    from ribpatch.core.supply.nesting.shape import Nested


def keep_layout(roll: Roll, made: Nested) -> Edit:
    """Keep a layout of the pieces of a roll, in place of any that was kept of that cloth."""
    kept = KeptLayout(
        fabric=roll.fabric.id,
        pieces=mark_of(roll.shapes, roll.cloth.width),
        lying=tuple((round(p.x, 7), round(p.y, 7), p.turn) for p in made.lying),
    )
    return Edit(
        f"keep a layout of {roll.fabric.name}",
        lambda job: evolve(job, layouts=(*(k for k in job.layouts if k.fabric != kept.fabric), kept)),
    )


def forget_layout(fabric: str, name: str) -> Edit:
    """Forget the layout that is kept of a cloth."""
    return Edit(
        f"forget the layout of {name}",
        lambda job: evolve(job, layouts=tuple(k for k in job.layouts if k.fabric != fabric)),
    )
