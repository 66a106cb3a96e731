"""Areas that quantities go by: what is covered and faired, what is bonded to, what reaches past the patch. m2."""

from __future__ import annotations

from typing import TYPE_CHECKING

import shapely

from ribpatch.core.patch.access.sides import from_above

if TYPE_CHECKING:
    from shapely.geometry import MultiPolygon

    from ribpatch.core.job import Zone
    from ribpatch.core.patch.repair import Patch


def covered_area(patch: Patch) -> float:
    """Area covered by cut and taper on every face that is laminated, m2."""
    if patch.pit is not None:
        return patch.pit.deeper(0.0).area if patch.outlines else 0.0
    faces = (patch.face, patch.second) if patch.second else (patch.face,)
    return float(sum(f.band.outer.area for f in faces if f.outlines))


def bonded_area(zone: Zone, patch: Patch, core: bool) -> float:
    """What the prime coat covers beside the core's own faces, m2: old laminate and new core under the first plies, the
    backing's laps, both parts of a tabbed joint under its widest ply, saved skin underneath, and each skin that the new
    core is bedded to.
    """
    if patch.pit is not None:
        return float(patch.pit.deeper(0.0).area)
    laps = (patch.backing.lap_area if patch.backing else 0.0) + padded_area(patch)
    saved = sum(p.region.area for p in patch.saved.pieces) if patch.saved else 0.0
    skins = (2 if from_above(zone) else 1) * patch.cut.region.area if core else 0.0
    floor = patch.face.opening.region.area if core and patch.outlines else 0.0
    faces = (patch.face, patch.second) if patch.second else (patch.face,)
    if zone.scheme.laminate.tabbing is not None:
        plies = sum(max((o.region.area for o in f.outlines), default=0.0) for f in faces)
        return float(max(plies, floor)) + saved + skins + laps
    return float(sum(f.band.region.area for f in faces if f.outlines)) + floor + laps + saved + skins


def padded_area(patch: Patch) -> float:
    """Old surface under local reinforcement, m2: what reaches past the plies of the patch."""
    if not any(p.outlines for p in patch.pads):
        return 0.0
    under = shapely.union_all([o.region for o in patch.outlines])
    pads = shapely.union_all([o.region for p in patch.pads for o in p.outlines])
    return float(pads.difference(under).area)


def faired_region(patch: Patch) -> MultiPolygon:
    """What is faired on the main face: cut and taper, or the pit."""
    if patch.pit is not None:
        return patch.pit.deeper(0.0)
    return patch.face.band.outer
