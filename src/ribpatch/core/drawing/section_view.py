"""The cut-through of a zone along a line: old skins, core, taper, new plies, bedding.

Along the line the drawing is true to scale; depth is exaggerated by a whole factor that the note states. The skin
being rebuilt is drawn on top. At a place the old skin's height over the taper follows from its true distance to the cut
line, so a line that crosses the taper at a slant shows it longer, as a saw cut would.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import LineString
from shapely.geometry.base import BaseGeometry

from ribpatch.core.drawing.shapes import Area, Callout, Dimension, Drawing, Line, Shape
from ribpatch.core.geometry import Floats, Point, Ring, polygon_of
from ribpatch.core.job import Zone
from ribpatch.core.laminate.stack import skin_thickness
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.memo import remembered
from ribpatch.core.patch.sides import rebuilt_skin
from ribpatch.core.supply.needs import Patch
from ribpatch.core.units import Kind, System, shown

FACTORS = (1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50, 60, 80, 100)
DEPTH_SHARE = 0.17  # of the drawn length that the exaggerated depth may take
SAMPLES = 120
PAST_END = 0.05  # of the length, so that the handles of the line stand clear of the outline


@dataclass(frozen=True, eq=False)
class _Profile:
    """Along the line: s (n,), inside zone, distance to the cut (n,), 0 in it; depths in m times the factor."""

    s: Floats
    zone: Floats
    away: Floats
    bad: Floats


@dataclass(frozen=True, slots=True)
class _Levels:
    """Heights of the faces in m over the underside, true depth: inner skin, core, then the skin being rebuilt."""

    core: float
    skin: float
    top: float
    floor: float  # of the new plies in the cut
    bedding: float


def default_line(zone: Zone) -> tuple[Point, Point]:
    """A line across the middle of the zone along its length, a little past both ends."""
    x0, y0, x1, y1 = polygon_of(zone.outline).bounds
    y, past = (y0 + y1) / 2, PAST_END * (x1 - x0)
    return (x0 - past, y), (x1 + past, y)


@remembered(64)
def section_view(
    zone: Zone, patch: Patch, shelf: Shelf, line: tuple[Point, Point], opened: bool, system: System
) -> Drawing:
    """The section along ``line``. ``opened`` shows cut, plies and new core; else the build-up as found."""
    profile = _profile(zone, patch, line)
    levels = _levels(zone, patch, shelf)
    length = float(profile.s[-1])
    height = max(levels.top, levels.floor + patch.stack.thickness if opened else 0.0, 1e-4)
    factor = max(f for f in FACTORS if f == 1 or f * height <= DEPTH_SHARE * length)
    opened = opened and bool((profile.away <= 0).any())
    shapes = _old(zone, profile, levels, patch, shelf, opened)
    if opened:
        shapes += _new(zone, profile, levels, patch, shelf)
    shapes += _damage(profile, levels)
    shapes += _callouts(zone, profile, levels, patch, shelf, opened, system)
    if opened:
        shapes += _taper_dimension(profile, levels, patch, system)
    note = f"depth × {factor}" if factor > 1 else "true depth"
    bounds = (0.0, -0.10 * height * factor, length, height * 1.22 * factor)
    return Drawing("Cut-through A–A", note, bounds, tuple(_deep(s, factor) for s in shapes))


def _profile(zone: Zone, patch: Patch, line: tuple[Point, Point]) -> _Profile:
    track = LineString(line)
    at = np.linspace(0.0, track.length, SAMPLES)
    marks: list[float] = []
    regions: list[BaseGeometry] = [polygon_of(zone.outline), patch.cut.region, patch.band.outer, patch.extent.likely]
    regions += [o.region for o in patch.outlines]
    for region in regions:
        hits = track.intersection(region.boundary)
        for point in shapely.get_coordinates(hits):
            d = float(track.project(shapely.points(point)))
            marks += [d - 1e-6, d + 1e-6]
    s = np.unique(np.clip(np.concatenate([at, marks]), 0.0, track.length)) if marks else at
    points = shapely.line_interpolate_point(track, s)
    xy = shapely.get_coordinates(points)
    inside = shapely.contains_xy(polygon_of(zone.outline).buffer(1e-9), xy[:, 0], xy[:, 1])
    away = shapely.distance(points, patch.cut.region) if not patch.cut.region.is_empty else np.full(s.size, np.inf)
    bad = shapely.contains_xy(patch.extent.likely, xy[:, 0], xy[:, 1])
    return _Profile(s, inside.astype(float), np.asarray(away, dtype=float), bad.astype(float))


def _levels(zone: Zone, patch: Patch, shelf: Shelf) -> _Levels:
    build, scheme = zone.build, zone.scheme
    top_skin = rebuilt_skin(zone)
    other = build.inner if top_skin is build.outer else build.outer
    below = skin_thickness(other, shelf) if other else 0.0
    depth = build.core.thickness.si if build.core else 0.0
    floor, bedding = below + depth, 0.0
    if build.core and scheme.core and scheme.core_thickness:
        bedding = scheme.bedding.si
        floor = below + bedding + scheme.core_thickness.si
    return _Levels(below, below + depth, below + depth + patch.band.thickness, floor, bedding)


def _runs(mask: Floats) -> list[tuple[int, int]]:
    """First and last index of each run of true."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], (mask > 0).astype(int), [0]])))
    return [(int(a), int(b) - 1) for a, b in zip(edges[::2], edges[1::2], strict=True) if b - a > 1]


def _strip(s: Floats, bottom: Floats, top: Floats, mask: Floats, role: str, material: str) -> list[Shape]:
    """Filled strips between two heights wherever ``mask`` holds and the strip has thickness."""
    shapes: list[Shape] = []
    for a, b in _runs(mask * (top > bottom + 1e-9)):
        along = s[a : b + 1].tolist()
        upper = zip(along, top[a : b + 1].tolist(), strict=True)
        lower = zip(reversed(along), reversed(bottom[a : b + 1].tolist()), strict=True)
        shapes.append(Area((_straightened((*upper, *lower)),), role, material))
    return shapes


def _straightened(ring: Ring) -> Ring:
    """The ring without the points that lie on a straight line between their neighbours."""
    points = np.array(ring)
    before, after = np.roll(points, 1, axis=0), np.roll(points, -1, axis=0)
    cross = (points[:, 0] - before[:, 0]) * (after[:, 1] - points[:, 1]) - (points[:, 1] - before[:, 1]) * (
        after[:, 0] - points[:, 0]
    )
    kept = points[np.abs(cross) > 1e-12]
    return tuple(map(tuple, kept.tolist())) if len(kept) >= 3 else ring


def _taper_height(away: Floats, patch: Patch) -> Floats:
    """Height of the old skin left over its underside at a distance from the cut, m."""
    band = patch.band
    if band.length <= 0:
        return np.full(away.shape, band.thickness)
    share = np.clip(away / band.length, 0, 1)
    if band.stepped and patch.stack.plies:
        count = len(patch.stack.plies)
        share = np.where(share >= 1, 1.0, np.floor(share * count + 1e-9) / count)
    return np.asarray(band.thickness * share)


def _old(zone: Zone, p: _Profile, levels: _Levels, patch: Patch, shelf: Shelf, opened: bool) -> list[Shape]:
    flat = np.ones_like(p.s)
    out = p.zone * (p.away > 0) if opened else p.zone
    height = _taper_height(p.away, patch) if opened and patch.outlines else patch.band.thickness * flat
    core_stays = not (opened and zone.scheme.core and zone.scheme.core_thickness)
    shapes = _strip(p.s, 0 * flat, levels.core * flat, p.zone, "old-skin", "old laminate")
    if zone.build.core:
        material = shelf.core(zone.build.core.core).faces
        mask = p.zone if core_stays else out
        shapes += _strip(p.s, levels.core * flat, levels.skin * flat, mask, "old-core", material)
    return shapes + _strip(p.s, levels.skin * flat, levels.skin + height, out, "old-skin", "old laminate")


def _new(zone: Zone, p: _Profile, levels: _Levels, patch: Patch, shelf: Shelf) -> list[Shape]:
    flat = np.ones_like(p.s)
    cut = p.zone * (p.away <= 0)
    shapes: list[Shape] = []
    if zone.build.core and zone.scheme.core and zone.scheme.core_thickness:
        bed = levels.core + levels.bedding
        shapes += _strip(p.s, levels.core * flat, bed * flat, cut, "putty", "putty")
        shapes += _strip(p.s, bed * flat, levels.floor * flat, cut, "new-core", shelf.core(zone.scheme.core).faces)
    surface = np.where(p.away <= 0, levels.floor, levels.skin + _taper_height(p.away, patch))
    smallest, overlap = zone.scheme.order == "smallest first", zone.scheme.overlap.si
    for outline, top in zip(patch.outlines, patch.stack.tops, strict=True):
        ply = outline.laid.ply
        level = np.where(p.away <= 0, levels.floor, levels.skin) + top
        laid = surface + ply.thickness
        if smallest:
            flat_top = np.maximum(surface, level)
            laid = np.where(p.away <= outline.reach - overlap + 1e-9, flat_top, laid)
        covered = p.zone * (p.away <= outline.reach + 1e-9)
        after = np.where(covered > 0, laid, surface)
        shapes += _strip(p.s, surface, after, covered, "new-skin", ply.fabric.layers[0].kind)
        surface = after
    return shapes


def _damage(p: _Profile, levels: _Levels) -> list[Shape]:
    z = -0.05 * levels.top
    return [Line(((float(p.s[a]), z), (float(p.s[b]), z)), "damage") for a, b in _runs(p.bad)]


def _callouts(
    zone: Zone, p: _Profile, levels: _Levels, patch: Patch, shelf: Shelf, opened: bool, system: System
) -> list[Shape]:
    inside_zone = np.flatnonzero(p.zone)
    if not inside_zone.size:
        return []
    left = float(p.s[inside_zone[0]])
    build, scheme = zone.build, zone.scheme

    def size(value: float) -> str:
        return shown(value, Kind.SIZE, system)

    rows: list[Shape] = [
        Callout((left, (levels.skin + levels.top) / 2), f"old skin {size(patch.band.thickness)}", "left")
    ]
    if build.core:
        core = shelf.core(build.core.core)
        rows.append(
            Callout(
                (left, (levels.core + levels.skin) / 2), f"{core.code} core {size(build.core.thickness.si)}", "left"
            )
        )
    if levels.core:
        rows.append(Callout((left, levels.core / 2), f"old skin {size(levels.core)}", "left"))
    inside = _runs(p.zone * (p.away <= 0)) if opened else []
    if inside:
        edge = float(p.s[inside[-1][1]])
        if patch.stack.plies:
            words = f"{len(patch.stack.plies)} plies {size(patch.stack.thickness)}"
            rows.append(Callout((edge, levels.floor + patch.stack.thickness * 0.7), words, "right"))
        if build.core and scheme.core and scheme.core_thickness:
            core = shelf.core(scheme.core)
            rows.append(
                Callout(
                    (edge, (levels.core + levels.floor) / 2),
                    f"new {core.code} {size(scheme.core_thickness.si)}",
                    "right",
                )
            )
            rows.append(Callout((edge, levels.core + levels.bedding / 2), f"bedding {size(levels.bedding)}", "right"))
    runs = _runs(p.bad)
    if runs:
        rows.append(Callout((float(p.s[runs[-1][1]]), -0.05 * levels.top), "bad, as read", "right"))
    return rows


def _taper_dimension(p: _Profile, levels: _Levels, patch: Patch, system: System) -> list[Shape]:
    """The taper's length where the line leaves the cut, on the first side that has room for it."""
    z = max(levels.top, levels.floor + patch.stack.thickness) * 1.12
    shapes: list[Shape] = []
    for a, b in _runs(p.zone * (p.away > 0) * (p.away < patch.band.length)):
        start, end = float(p.s[a]), float(p.s[b])
        if end - start > 1e-3:
            shapes.append(Dimension((start, z), (end, z), shown(end - start, Kind.SIZE, system), "taper"))
    return shapes[:2]


def _deep(shape: Shape, factor: int) -> Shape:
    """The shape with its heights multiplied."""

    def deep(point: Point) -> Point:
        return point[0], point[1] * factor

    if isinstance(shape, Area):
        return Area(tuple(tuple(map(deep, ring)) for ring in shape.rings), shape.role, shape.material, shape.key)
    if isinstance(shape, Line):
        return Line(tuple(map(deep, shape.points)), shape.role, shape.closed, shape.key)
    if isinstance(shape, Callout):
        return Callout(deep(shape.at), shape.text, shape.side, shape.role)
    if isinstance(shape, Dimension):
        return Dimension(deep(shape.start), deep(shape.end), shape.text, shape.role)
    return shape
