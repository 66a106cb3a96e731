"""Edits of local reinforcement: put under a fitting or at a place, taken out, its plies changed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.edits import next_id
from ribpatch.core.geometry import polygon_of
from ribpatch.core.record import evolve
from ribpatch.core.scheme import Pad, StackLine
from ribpatch.core.scheme_edits import in_scheme
from ribpatch.core.units import Measure

if TYPE_CHECKING:
    from ribpatch.core.edits import Edit
    from ribpatch.core.job import Fitting, Zone
    from ribpatch.core.scheme import Stack

PAST = 0.08  # m that a pad reaches past a fitting, each way
USUAL_PLIES = 3


def add_pad(zone: Zone, fitting: Fitting | None = None) -> Edit:
    """Add extra plies under a fitting, as large as it and what carries its load away; or in the zone's middle."""
    identity = next_id("l", (p.id for p in zone.scheme.pads))
    lines = zone.scheme.laminate.plies[:1] or (StackLine(fabric="biax-45-600"),)
    first = lines[0] if isinstance(lines[0], StackLine) else lines[0].lines[0]
    if fitting is not None:
        round_one = fitting.height.si == 0
        width, height = fitting.width.si + 2 * PAST, 0.0 if round_one else fitting.height.si + 2 * PAST
        pad = Pad(
            id=identity,
            name=f"under {fitting.name}"[:80],
            x=fitting.x,
            y=fitting.y,
            width=Measure(si=min(width, 20.0)),
            height=Measure(si=min(height, 20.0)),
            plies=(evolve(first, count=USUAL_PLIES),),
        )
    else:
        middle = polygon_of(zone.outline).representative_point()
        pad = Pad(
            id=identity,
            name=f"reinforcement {identity[1:]}",
            x=round(middle.x, 3),
            y=round(middle.y, 3),
            plies=(evolve(first, count=USUAL_PLIES),),
        )
    return in_scheme(f"reinforce {pad.name}", zone.id, lambda s: evolve(s, pads=(*s.pads, pad)))


def remove_pad(zone: str, pad: str) -> Edit:
    """Take a local reinforcement out."""
    return in_scheme("delete a reinforcement", zone, lambda s: evolve(s, pads=tuple(p for p in s.pads if p.id != pad)))


def set_pad_plies(zone: str, pad: str, lines: Stack, name: str = "change plies of a reinforcement") -> Edit:
    """Replace the stack of a local reinforcement."""
    return in_scheme(
        name, zone, lambda s: evolve(s, pads=tuple(evolve(p, plies=lines) if p.id == pad else p for p in s.pads))
    )
