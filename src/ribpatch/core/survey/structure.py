"""Where damage starts and along what it runs: bare fastenings, edges, seams, frames and core joints of the zone.

Round them the chance of damage before anything is read is higher; nothing else is assumed of them.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct

from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats, Point
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf


class Start(Struct, frozen=True):
    """A place where damage starts: a point, a line or the corners of a box, m, and how much likelier it is there (in
    deviations of the field).
    """

    name: str
    corners: tuple[Point, ...]
    shift: float


Starts = tuple[Start, ...]
STATED = ("outline", "fittings", "edges", "seams")  # of a zone, what starts follow from


@remembered(64, zone=STATED)
def starts_of(zone: Zone, shelf: Shelf) -> Starts:
    """The starts that a zone states: fittings with fastenings that are not known to be sealed, edges likewise, and
    seams, frames and core joints.
    """
    shift = shelf.rule("start.shift")
    found: list[Start] = []
    for fitting in zone.fittings:
        if fitting.holes and not fitting.sealed:
            corners = tuple((float(x), float(y)) for x, y in shapely.get_coordinates(fitting.shape.envelope)[:-1])
            found.append(Start(fitting.name, corners, shift))
    for edge in zone.edges:
        if edge.side < len(zone.outline) and not edge.sealed:
            ends = (zone.outline[edge.side], zone.outline[(edge.side + 1) % len(zone.outline)])
            found.append(Start(edge.name, ends, shift))
    along = shelf.rule("start.seam")
    found += [Start(seam.name, seam.ends, along) for seam in zone.seams]
    return tuple(found)


def pull_of(starts: Starts, places: Floats, reach: float) -> Floats:
    """How much likelier damage is at places (n, 2) for the starts near them, in deviations of the field (n,)."""
    pull = np.zeros(len(places))
    for start in starts:
        pull = np.maximum(pull, start.shift * np.exp(-0.5 * _squared(start.corners, places) / reach**2))
    return pull


def _squared(corners: tuple[Point, ...], places: Floats) -> Floats:
    """Squared distance of places (n, 2) to a point, a line, or the box round more corners, m2 (n,)."""
    at = np.array(corners)
    if len(at) > 2:
        nearest = np.clip(places, at.min(axis=0), at.max(axis=0))
    else:
        way = at[-1] - at[0]
        share = np.clip((places - at[0]) @ way / max(float(way @ way), 1e-12), 0.0, 1.0)
        nearest = at[0] + share[:, None] * way
    return np.asarray(((places - nearest) ** 2).sum(axis=1))
