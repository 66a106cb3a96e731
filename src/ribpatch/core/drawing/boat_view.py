"""The boat from above, drawn from her own length and beam, with each zone at its true place."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely
from shapely.geometry import Polygon

from ribpatch.core.drawing.shapes import Area, Drawing, Line, Shape, Text
from ribpatch.core.geometry import Floats, Ring, polygon_of, rings_of
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.job import Boat, Zone

TRANSOM_SHARE, FULLEST = 0.86, 0.42


def half_breadth(boat: Boat, station: Floats) -> Floats:
    """Half breadth of the drawn hull in m at stations (m from the stern): a plain launch form, not a survey."""
    u = np.clip(station / boat.length.si, 0, 1)
    aft = TRANSOM_SHARE + (1 - TRANSOM_SHARE) * np.sin(np.pi / 2 * np.minimum(u / FULLEST, 1))
    fore = 1 - np.clip((u - FULLEST) / (1 - FULLEST), 0, 1) ** 2.4
    return np.asarray(boat.beam.si / 2 * np.where(u <= FULLEST, aft, fore))


def stringer_off(boat: Boat, station: Floats) -> Floats:
    """How far off the centreline a stringer is drawn at stations (m from the stern), m."""
    return np.minimum(half_breadth(boat, station) * 0.7, 0.22 * boat.beam.si)


def hull_ring(boat: Boat) -> Ring:
    """The hull's outline from above, stern at x = 0, port positive."""
    x = np.linspace(0, boat.length.si, 60)
    y = half_breadth(boat, x)
    port = [(float(a), float(b)) for a, b in zip(x, y, strict=True)]
    starboard = [(a, -b) for a, b in reversed(port[:-1])]
    return (*port, *starboard)


@remembered(256)
def zone_patch(boat: Boat, zone: Zone) -> BaseGeometry:
    """Where a zone lies on the boat seen from above, m."""
    x0, y0, x1, y1 = polygon_of(zone.outline).bounds
    station = zone.place.station.si
    sign = {"port": 1, "centre": 0, "starboard": -1}[zone.place.side]
    beam = boat.beam.si
    if zone.is_run and (len(zone.path) > 1 or zone.kind == "joint run"):
        return _run_patch(boat, zone, x1 - x0)
    if zone.kind == "transom":
        width = min(x1 - x0, beam * TRANSOM_SHARE)
        return shapely.box(station, -width / 2, station + 0.035 * boat.length.si, width / 2)
    if zone.is_walked_on:
        moved = shapely.transform(
            polygon_of(zone.outline), lambda p: p - [x0, (y0 + y1) / 2] + [station, sign * beam / 4]
        )
        return moved.intersection(Polygon(hull_ring(boat)))
    if zone.is_across:  # a bulkhead or a frame
        reach = min((x1 - x0) / 2, float(half_breadth(boat, np.array(station))))
        aside = sign * beam / 4
        stands = shapely.box(station, aside - reach, station + 0.015 * boat.length.si, aside + reach)
        return stands.intersection(Polygon(hull_ring(boat)))
    if zone.kind == "keel":
        return shapely.box(station, -0.03 * beam, station + x1 - x0, 0.03 * beam)
    stations = np.linspace(station, station + x1 - x0, 24)
    if zone.kind == "hull panel":
        outer = half_breadth(boat, stations) * (sign or 1)
        inner = outer - (sign or 1) * 0.07 * beam
    else:
        middle = stringer_off(boat, stations) * sign
        outer, inner = middle + 0.025 * beam, middle - 0.025 * beam
    ring = [*zip(stations, outer, strict=True), *reversed(list(zip(stations, inner, strict=True)))]
    return Polygon(ring).buffer(0)


def _run_patch(boat: Boat, zone: Zone, length: float) -> BaseGeometry:
    """A run along its path on the boat, which may bend; a joint without one follows the sheer."""
    path = zone.path
    if len(path) < 2:
        sign = {"port": 1, "centre": 1, "starboard": -1}[zone.place.side]
        stations = zone.place.station.si + np.linspace(0, length, 40)
        path = tuple(zip(stations.tolist(), (sign * half_breadth(boat, stations)).tolist(), strict=True))
    return shapely.LineString(path).buffer(0.016 * boat.beam.si, cap_style="flat")


@remembered(16)
def boat_view(
    boat: Boat, zones: tuple[Zone, ...], here: str, hatches: tuple[str, ...], look: tuple[str, ...] = ()
) -> Drawing:
    """The strip: hull, centreline, zones numbered; ``here`` is the zone worked on, ``hatches`` a pattern for each
    zone's state, ``look`` a mark for each zone where the damage may have spread.
    """
    length, beam = boat.length.si, boat.beam.si
    shapes: list[Shape] = [Area((hull_ring(boat),), "boat", "", "boat"), Line(((0, 0), (length, 0)), "centreline")]
    for number, (zone, hatch) in enumerate(zip(zones, hatches, strict=True), 1):
        patch = zone_patch(boat, zone)
        for rings in rings_of(patch):
            shapes.append(Area(rings, "zone-here" if zone.id == here else "zone-patch", hatch, zone.id))
        centre = patch.centroid if not patch.is_empty else shapely.Point(zone.place.station.si, 0)
        mark = f" {look[number - 1]}" if look and look[number - 1] else ""
        role = "zone-here" if zone.id == here else "zone-patch"
        shapes.append(Text((centre.x, centre.y), f"{number} {zone.name}{mark}", role))
    return Drawing(boat.name, "from above", (0, -beam / 2, length, beam / 2), tuple(shapes))
