"""Setting out at the boat: how far cut line, taper and plies lie from edges of the panel that stay. Lengths in m.

A distance is taken from the box of the outline: from its end that is named by the way it looks (aft, starboard, down),
to where a line begins and ends along that way. Every line is measured from the same two edges, so that no error of one
measure goes into the next.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.geometry import polygon_of
from ribpatch.core.zone_axes import facing_words

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.zone_plan import ZonePlan


_EDGES = {"to port": "port", "down": "bottom", "back": "its first end", "the other way": "its first side"}


class SetOut(Struct, frozen=True):
    """One line: its name, and along each way the distances of its begin and end from the fixed edge, m."""

    name: str
    along: tuple[float, float]
    up: tuple[float, float]


def fixed_edges(made: ZonePlan) -> tuple[str, str]:
    """What the two edges that all is measured from are called."""
    words = facing_words(made.zone.kind)
    return _EDGES.get(words["x-"], words["x-"]), _EDGES.get(words["y-"], words["y-"])


def set_out(made: ZonePlan) -> tuple[SetOut, ...]:
    """Cut line, outer line of the taper, then every ply of both faces; nothing where nothing is cut."""
    patch = made.patch
    if patch.cut.region.is_empty:
        return ()
    x0, y0, _, _ = polygon_of(made.zone.outline).bounds

    def one(name: str, region: BaseGeometry) -> SetOut:
        a, b, c, d = region.bounds
        return SetOut(name, (a - x0, c - x0), (b - y0, d - y0))

    rows = [one("cut line", patch.cut.region)]
    if not patch.band.outer.is_empty and patch.band.region.area > 0:
        rows.append(one("taper ends", patch.band.outer))
    rows += [one(f"ply {o.laid.number}", o.region) for o in patch.outlines if not o.region.is_empty]
    second = patch.second.outlines if patch.second is not None else ()
    rows += [one(f"other face {o.laid.number}", o.region) for o in second if not o.region.is_empty]
    return tuple(rows)
