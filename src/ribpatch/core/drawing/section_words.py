"""The words beside a cut-through: what each layer is and how thick."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.drawing.shapes import Callout, Shape
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, System, shown

if TYPE_CHECKING:
    from ribpatch.core.drawing.profile import Levels, Profile
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch


def section_words(
    zone: Zone, p: Profile, levels: Levels, patch: Patch, shelf: Shelf, opened: bool, system: System
) -> list[Shape]:
    """Old layers on the left, new ones on the right."""
    inside = np.flatnonzero(p.zone)
    if not inside.size:
        return []
    left = float(p.s[inside[0]])
    rows = _old_words(zone, left, levels, shelf, system)
    cut = np.flatnonzero(p.zone * p.cut) if opened else inside[:0]
    if cut.size:
        rows += _new_words(zone, float(p.s[cut[-1]]), levels, patch, shelf, system)
    bad = np.flatnonzero(p.bad)
    if bad.size:
        rows.append(Callout((float(p.s[bad[-1]]), -0.05 * levels.top), "bad, as read", "right"))
    hole = np.flatnonzero(p.zone * p.cut * p.bad) if opened and patch.through and zone.build.core else inside[:0]
    if hole.size and not (zone.scheme.core.material and zone.scheme.core.thickness):
        middle = float(p.s[hole[hole.size // 2]])
        rows.append(Callout((middle, (levels.core + levels.skin) / 2), "bad core out; no new one chosen", "right"))
    return rows


def _old_words(zone: Zone, left: float, levels: Levels, shelf: Shelf, system: System) -> list[Shape]:
    build = zone.build
    size = shown(levels.top - levels.skin, Kind.SIZE, system)
    rows: list[Shape] = [Callout((left, (levels.skin + levels.top) / 2), f"old skin {size}", "left")]
    if build.core:
        words = f"{shelf.core(build.core.core).code} core {shown(build.core.thickness.si, Kind.SIZE, system)}"
        rows.append(Callout((left, (levels.core + levels.skin) / 2), words, "left"))
    if levels.core:
        rows.append(Callout((left, levels.core / 2), f"old skin {shown(levels.core, Kind.SIZE, system)}", "left"))
    return rows


def _new_words(zone: Zone, edge: float, levels: Levels, patch: Patch, shelf: Shelf, system: System) -> list[Shape]:
    build, scheme = zone.build, zone.scheme
    rows: list[Shape] = []
    if patch.outlines:
        words = f"{counted(len(patch.stack.plies), 'ply', 'plies')} {shown(patch.stack.thickness, Kind.SIZE, system)}"
        height = levels.floor + patch.stack.thickness * 0.7 if patch.pit is None else levels.top
        rows.append(Callout((edge, height), words, "right"))
    if patch.second is not None and patch.second.outlines:
        stack = patch.second.stack
        words = f"other face {counted(len(stack.plies), 'ply', 'plies')} {shown(stack.thickness, Kind.SIZE, system)}"
        foot = levels.core if levels.core > 0 else levels.middle
        rows.append(Callout((edge, foot - stack.thickness / 2), words, "right"))
    if patch.through and build.core and scheme.core.material and scheme.core.thickness:
        core = shelf.core(scheme.core.material)
        words = f"new {core.code} {shown(scheme.core.thickness.si, Kind.SIZE, system)}"
        rows.append(Callout((edge, (levels.core + levels.floor) / 2), words, "right"))
        if levels.bedding:
            shim = "bedding and shim" if levels.bedding > scheme.core.bedding.si + 1e-9 else "bedding"
            bed = f"{shim} {shown(levels.bedding, Kind.SIZE, system)}"
            rows.append(Callout((edge, levels.core + levels.bedding / 2), bed, "right"))
    if patch.backing is not None:
        words = f"backing {shown(patch.backing.thickness, Kind.SIZE, system)}"
        rows.append(Callout((edge, -patch.backing.thickness / 2), words, "right"))
    return rows
