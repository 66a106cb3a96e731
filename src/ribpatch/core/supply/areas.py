"""Areas that quantities go by: what is covered and faired, what is bonded to, what reaches past the patch. m2."""

from __future__ import annotations

from typing import TYPE_CHECKING

import shapely

from ribpatch.core.geometry import clean
from ribpatch.core.memo import remembered
from ribpatch.core.patch.access.sides import from_above

if TYPE_CHECKING:
    from shapely.geometry import MultiPolygon

    from ribpatch.core.job import Zone
    from ribpatch.core.patch.repair import FaceMade, Patch

LEAST = 1e-9  # m2


def covered_area(patch: Patch) -> float:
    """Area under plies and taper on every face that is laminated, m2: the taper ends at its band, a ply that overlaps
    further at its own edge.
    """
    if patch.pit is not None:
        return patch.pit.deeper(0.0).area if patch.outlines else 0.0
    faces = (patch.face, patch.second) if patch.second else (patch.face,)
    return float(sum(covered_region(f).area for f in faces if f.outlines))


@remembered(64)
def covered_region(face: FaceMade) -> MultiPolygon:
    """Cut, taper and what the plies reach past it on one face."""
    outer = face.band.outer
    past = [o.region for o in face.outlines if o.region.area > outer.area + LEAST or not outer.covers(o.region)]
    return clean(shapely.union_all([outer, *past])) if past else outer


def bedded_area(zone: Zone, patch: Patch, core: bool) -> float:
    """What is primed before the core is bedded, beside the core's own faces, m2: each skin that it is bedded to."""
    if patch.pit is not None or not core:
        return 0.0
    return float((2 if from_above(zone) else 1) * patch.cut.region.area)


def plied_area(zone: Zone, patch: Patch, core: bool) -> float:
    """What is primed before the first plies, m2: old laminate and new core under them, the backing's laps, both parts
    of a tabbed joint under its widest ply, saved skin underneath.
    """
    if patch.pit is not None:
        return float(patch.pit.deeper(0.0).area)
    laps = (patch.backing.lap_area if patch.backing else 0.0) + padded_area(patch)
    saved = sum(p.region.area for p in patch.saved.pieces) if patch.saved else 0.0
    floor = patch.face.opening.region.area if core and patch.outlines else 0.0
    faces = [f for f in ((patch.face, patch.second) if patch.second else (patch.face,)) if f.outlines]
    if zone.scheme.laminate.tabbing is not None:
        plies = sum(max(o.region.area for o in f.outlines) for f in faces)
        return float(max(plies, floor)) + saved + laps
    old = sum(covered_region(f).difference(f.opening.region).area for f in faces)
    return float(old) + floor + laps + saved


def bonded_area(zone: Zone, patch: Patch, core: bool) -> float:
    """All that the prime coats cover beside the core's own faces, m2."""
    return bedded_area(zone, patch, core) + plied_area(zone, patch, core)


def padded_area(patch: Patch) -> float:
    """Old surface under local reinforcement, m2: what reaches past the plies of the patch."""
    if not any(p.outlines for p in patch.pads):
        return 0.0
    under = shapely.union_all([o.region for o in patch.outlines])
    pads = shapely.union_all([o.region for p in patch.pads for o in p.outlines])
    return float(pads.difference(under).area)


def faired_region(patch: Patch) -> MultiPolygon:
    """What is faired on the main face: cut, taper and what the plies reach past it, or the pit."""
    if patch.pit is not None:
        return patch.pit.deeper(0.0)
    return covered_region(patch.face)
