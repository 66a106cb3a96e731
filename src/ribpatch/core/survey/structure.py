"""Where damage starts and along what it runs: bare fastenings, fittings, and edges that the zone states.

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
    """A place where damage starts: a point, a line or the corners of an outline, m, and how much likelier it is there
    (in deviations of the field).
    """

    name: str
    corners: tuple[Point, ...]
    shift: float


Starts = tuple[Start, ...]


@remembered(64, zone=("outline", "fittings", "edges"))
def starts_of(zone: Zone, shelf: Shelf) -> Starts:
    """The starts that a zone states: fittings with fastenings that are not known to be sealed, edges likewise."""
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
    return tuple(found)


def pull_of(starts: Starts, places: Floats, reach: float) -> Floats:
    """How much likelier damage is at places (n, 2) for the starts near them, in deviations of the field (n,)."""
    pull = np.zeros(len(places))
    if not starts or not len(places):
        return pull
    points = shapely.points(places)
    for start in starts:
        shape = _shape(start.corners)
        apart = np.asarray(shapely.distance(shape, points))
        pull = np.maximum(pull, start.shift * np.exp(-0.5 * (apart / reach) ** 2))
    return pull


def _shape(corners: tuple[Point, ...]) -> shapely.Geometry:
    if len(corners) > 2:
        return shapely.Polygon(corners)
    return shapely.LineString(corners) if len(corners) == 2 else shapely.Point(corners[0])
