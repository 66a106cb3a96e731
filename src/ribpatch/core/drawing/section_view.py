"""The cut-through of a zone along a line: old skins, core, taper, new plies, bedding, backing, the pit of shallow
damage.

Along the line the drawing is true to scale; depth is exaggerated by a whole factor that the note states. The side
worked from is drawn on top. At a place the old skin's height over the taper follows from how far out in the taper it
lies, so a line that crosses the taper at a slant shows it longer, as a saw cut would.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely
from shapely.geometry import LineString

from ribpatch.core.drawing.profile import Levels, Profile
from ribpatch.core.drawing.section_words import section_words
from ribpatch.core.drawing.shapes import Area, Badge, Callout, Dimension, Drawing, Line, Shape
from ribpatch.core.geometry import Floats, Point, Ring, polygon_of
from ribpatch.core.laminate.stack import skin_thickness
from ribpatch.core.memo import remembered
from ribpatch.core.patch.access.sides import from_above
from ribpatch.core.series import distinct, runs
from ribpatch.core.units import Kind, System, shown

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import FaceMade, Patch

FACTORS = (1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50, 60, 80, 100)
DEPTH_SHARE = 0.17  # of the drawn length that the exaggerated depth may take
SAMPLES = 120
Box = tuple[float, float, float, float]
PAST_END = 0.05  # of the length, so that the handles of the line stand clear of the outline


def default_line(zone: Zone) -> tuple[Point, Point]:
    """A line across the middle of the zone along its length, a little past both ends."""
    x0, y0, x1, y1 = polygon_of(zone.outline).bounds
    y, past = (y0 + y1) / 2, PAST_END * (x1 - x0)
    return (x0 - past, y), (x1 + past, y)


def followed_line(line: tuple[Point, Point], old: Box, new: Box) -> tuple[Point, Point]:
    """A section line that lay in one box, x0 y0 x1 y1 in m, as it lies in another: it follows a changed outline."""

    def moved(p: Point) -> Point:
        x, y = (new[k] + (p[k] - old[k]) / max(old[k + 2] - old[k], 1e-9) * (new[k + 2] - new[k]) for k in (0, 1))
        return x, y

    return moved(line[0]), moved(line[1])


@remembered(24)
def section_view(
    zone: Zone, patch: Patch, shelf: Shelf, line: tuple[Point, Point], opened: bool, system: System
) -> Drawing:
    """The section along ``line``. ``opened`` shows cut, plies and new core; else the build-up as found."""
    profile = profile_of(zone, patch, line)
    levels = levels_of(zone, patch, shelf)
    length = float(profile.s[-1])
    below = patch.second.stack.thickness if opened and patch.second else 0.0
    backing = patch.backing.thickness if opened and patch.backing else 0.0
    depth = max(levels.top, levels.floor + patch.stack.thickness if opened else 0.0, 1e-4)
    height = depth + backing + 0.3 * below
    factor = max(f for f in FACTORS if f == 1 or f * height <= DEPTH_SHARE * length)
    opened = opened and bool((profile.cut > 0).any())
    shapes = _old(zone, profile, levels, patch, shelf, opened)
    if opened:
        shapes += _new(zone, profile, levels, patch, shelf)
    shapes += _damage(profile, levels, backing)
    shapes += section_words(zone, profile, levels, patch, shelf, opened, system)
    if opened:
        shapes += _taper_dimension(profile, levels, patch, system)
    on_top = "inside" if zone.scheme.access.side == "inside" else "outside"
    note = f"depth × {factor}" if factor > 1 else "true depth"
    bounds = (0.0, (-0.10 * height - backing) * factor, length, depth * 1.22 * factor)
    return Drawing(f"Cut-through A–A, {on_top} on top", note, bounds, tuple(_deep(s, factor) for s in shapes))


def profile_of(zone: Zone, patch: Patch, line: tuple[Point, Point]) -> Profile:
    """What lies along a line, with a sample on either side of every edge that it crosses."""
    track = LineString(line)
    outlines = [o.region for o in patch.outlines]
    behind = [o.region for o in patch.second.outlines] if patch.second else []
    backing = [patch.backing.region] if patch.backing else []
    second = [patch.second.band.outer] if patch.second else []
    regions: list[BaseGeometry] = [
        polygon_of(zone.outline),
        patch.cut.region,
        patch.face.opening.region,
        patch.band.outer,
        patch.extent.likely,
        *second,
        *outlines,
        *behind,
        *backing,
    ]
    s = _places(track, regions)
    points = shapely.line_interpolate_point(track, s)
    xy = shapely.get_coordinates(points)

    def inside(region: BaseGeometry) -> Floats:
        if region.is_empty:
            return np.zeros(s.size)
        return np.asarray(shapely.intersects_xy(region, xy[:, 0], xy[:, 1]), dtype=float)

    return Profile(
        s,
        inside(polygon_of(zone.outline).buffer(1e-9)),
        inside(patch.cut.region),
        inside(patch.face.opening.region),
        inside(patch.extent.likely),
        _shares(patch.face, xy),
        _shares(patch.second, xy) if patch.second else np.full(s.size, np.inf),
        patch.pit.at(xy) * inside(patch.pit.deeper(0.0)) if patch.pit else np.zeros(s.size),
        tuple(inside(r) for r in outlines),
        tuple(inside(r) for r in behind),
        inside(backing[0]) if backing else np.zeros(s.size),
    )


def _places(track: LineString, regions: list[BaseGeometry]) -> Floats:
    at = np.linspace(0.0, track.length, SAMPLES)
    marks: list[float] = []
    for region in regions:
        for point in shapely.get_coordinates(track.intersection(region.boundary)):
            d = float(track.project(shapely.points(point)))
            marks += [d - 1e-6, d + 1e-6]
    return distinct(np.clip(np.concatenate([at, marks]), 0.0, track.length)) if marks else at


def _shares(face: FaceMade, xy: Floats) -> Floats:
    if face.opening.region.is_empty:
        return np.full(len(xy), np.inf)
    return face.band.shares(xy)


def levels_of(zone: Zone, patch: Patch, shelf: Shelf) -> Levels:
    """Heights of the faces of a zone's build-up."""
    from ribpatch.core.laminate.comparison import new_core

    build, scheme = zone.build, zone.scheme
    other = zone.other_skin
    below = skin_thickness(other, shelf) if other else 0.0
    depth = build.core.thickness.si if build.core else 0.0
    second = patch.second.band.thickness if patch.second and other is None else 0.0
    floor, bedding = below + depth, 0.0
    if build.core and scheme.core.material and scheme.core.thickness and not scheme.access.part_depth:
        new = new_core(scheme, scheme.core.material, scheme.core.thickness.si, depth, from_above(zone), shelf)
        bedding = new.under.thickness
        floor = below + bedding + new.thickness + new.over.thickness
    underside = below + depth
    whole = skin_thickness(zone.rebuilt_skin, shelf) - second
    if patch.second and other is None:
        floor = second
    return Levels(below, underside, underside + second + whole, floor, bedding, underside + second)


def _stretches(mask: Floats) -> list[tuple[int, int]]:
    """First and last index of every run of two places or more."""
    return [(a, b - 1) for a, b in runs(mask) if b - a > 1]


def _strip(s: Floats, bottom: Floats, top: Floats, mask: Floats, role: str, material: str) -> list[Shape]:
    """Filled strips between two heights wherever ``mask`` holds and the strip has thickness."""
    shapes: list[Shape] = []
    for a, b in _stretches(mask * (top > bottom + 1e-9)):
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


def taper_height(share: Floats, face: FaceMade) -> Floats:
    """Height of the old skin left over the taper's foot at shares of the taper, m."""
    band = face.band
    out = np.clip(share, 0, 1)
    if band.stepped and face.stack.plies:
        count = len(face.stack.plies)
        out = np.where(out >= 1, 1.0, np.floor(out * count + 1e-9) / count)
    return np.asarray(band.thickness * out)


def _old(zone: Zone, p: Profile, levels: Levels, patch: Patch, shelf: Shelf, opened: bool) -> list[Shape]:
    flat = np.ones_like(p.s)
    bottom, top = _old_faces(p, levels, patch, opened)
    renewed = opened and patch.through and zone.scheme.core.material and zone.scheme.core.thickness
    behind = p.zone * (p.cut <= 0) if opened and patch.second and zone.other_skin else p.zone
    shapes = _strip(
        p.s, _behind_bottom(p, levels, patch, opened), levels.core * flat, behind, "old-skin", "old laminate"
    )
    if zone.build.core:
        material = shelf.core(zone.build.core.core).faces
        # What is rotten inside the cut comes out whether or not a new core is chosen yet.
        gone = p.cut * (1.0 if renewed else p.bad) if opened and patch.through else 0.0 * p.cut
        mask = p.zone * (gone <= 0)
        shapes += _strip(p.s, levels.core * flat, levels.skin * flat, mask, "old-core", material)
    out = p.zone * (p.open <= 0) if opened and patch.through else p.zone
    if patch.saved is not None and opened:
        inside = p.zone * p.cut * (p.open <= 0)
        shapes += _strip(p.s, levels.floor * flat, levels.floor + top - levels.skin, inside, "old-skin", "old laminate")
        out = out * (p.cut <= 0)
    return shapes + _strip(p.s, bottom, top, out, "old-skin", "old laminate")


def _old_faces(p: Profile, levels: Levels, patch: Patch, opened: bool) -> tuple[Floats, Floats]:
    """Lower and upper face of the old skin that is worked on."""
    flat = np.ones_like(p.s)
    if not opened:
        return levels.skin * flat, levels.top * flat
    if patch.part_depth:
        return levels.skin * flat, levels.top - p.pit
    top = levels.middle + taper_height(p.share, patch.face) if patch.outlines else levels.top * flat
    bottom = levels.skin * flat
    if patch.second and levels.middle > levels.skin:
        bottom = levels.middle - taper_height(p.second, patch.second)
    return bottom, top


def _behind_bottom(p: Profile, levels: Levels, patch: Patch, opened: bool) -> Floats:
    """Underside of the other skin: tapered where it is repaired as well."""
    if not opened or patch.second is None or levels.core <= 0:
        return np.zeros_like(p.s)
    return levels.core - taper_height(p.second, patch.second)


def _new(zone: Zone, p: Profile, levels: Levels, patch: Patch, shelf: Shelf) -> list[Shape]:
    flat = np.ones_like(p.s)
    cut = p.zone * p.cut
    shapes: list[Shape] = []
    if patch.through and zone.build.core and zone.scheme.core.material and zone.scheme.core.thickness:
        bed = levels.core + levels.bedding
        shapes += _strip(p.s, levels.core * flat, bed * flat, cut, "putty", "putty")
        shapes += _strip(
            p.s, bed * flat, levels.floor * flat, cut, "new-core", shelf.core(zone.scheme.core.material).faces
        )
    if patch.backing is not None:
        under = -patch.backing.thickness
        shapes += _strip(p.s, under * flat, 0 * flat, p.zone * p.backed, "new-skin", "stitched")
    if patch.part_depth:
        deepest = patch.pit.deepest if patch.pit else 0.0
        return shapes + _plies(p, patch.face, p.covered, levels.top - p.pit, levels.top - deepest * flat, 1.0)
    surface = np.where(p.open > 0, levels.floor, levels.middle + taper_height(p.share, patch.face))
    foot = np.where(p.open > 0, levels.floor, levels.middle)
    shapes += _plies(p, patch.face, p.covered, surface, foot, 1.0)
    if patch.second is not None:
        foot = np.full(p.s.size, levels.core if levels.core > 0 else levels.middle)
        surface = foot - np.where(p.cut > 0, 0.0, taper_height(p.second, patch.second))
        shapes += _plies(p, patch.second, p.covered_second, surface, foot, -1.0)
    return shapes


def _plies(
    p: Profile, face: FaceMade, covered: tuple[Floats, ...], surface: Floats, foot: Floats, up: float
) -> list[Shape]:
    """The plies of a face on one another, each with its number; ``up`` is 1 for the upper face and -1 for the lower."""
    shapes: list[Shape] = []
    smallest = [o.laid.number for o in face.outlines] == sorted(o.laid.number for o in face.outlines)
    flat_fill = smallest and face.outlines and face.outlines[0].share <= face.outlines[-1].share
    laid_height = 0.0
    for outline, mask in zip(face.outlines, covered, strict=True):
        ply = outline.laid.ply
        laid_height += ply.thickness
        laid = surface + up * ply.thickness
        if flat_fill:
            level = foot + up * laid_height
            share = p.share if up > 0 else p.second
            flush = np.maximum(surface, level) if up > 0 else np.minimum(surface, level)
            laid = np.where(share <= outline.share + 1e-9, flush, laid)
        here = p.zone * mask
        after = np.where(here > 0, laid, surface)
        low, high = (surface, after) if up > 0 else (after, surface)
        shapes += _strip(p.s, low, high, here, "new-skin", ply.fabric.layers[0].kind)
        shapes += _numbers(p, here, (low + high) / 2, outline.laid.number, ply.thickness)
        surface = after
    return shapes


def _numbers(p: Profile, here: Floats, middle: Floats, number: int, room: float) -> list[Shape]:
    """The ply's number at both ends of its first run, stepped inwards so that neighbours do not collide."""
    stretches = _stretches(here)
    if not stretches:
        return []
    a, b = stretches[0][0], stretches[-1][1]
    start, end = float(p.s[a]), float(p.s[b])
    at = start + (end - start) * (0.5 + 0.1 * ((number - 1) % 9 - 4))
    height = float(np.interp(at, p.s, middle))
    return [Badge((at, height), str(number), "ply-number", room)]


def _damage(p: Profile, levels: Levels, backing: float) -> list[Shape]:
    z = -0.05 * levels.top - backing
    return [Line(((float(p.s[a]), z), (float(p.s[b]), z)), "damage") for a, b in _stretches(p.bad)]


def _taper_dimension(p: Profile, levels: Levels, patch: Patch, system: System) -> list[Shape]:
    """The taper's length where the line leaves the cut, on the first sides that have room for it."""
    z = max(levels.top, levels.floor + patch.stack.thickness) * 1.12
    shapes: list[Shape] = []
    beside = (p.open <= 0) if patch.saved is None else (p.cut <= 0)
    for a, b in _stretches(p.zone * beside * (p.share < 1)):
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
    if isinstance(shape, Badge):
        return Badge(deep(shape.at), shape.text, shape.role, shape.clearance * factor)
    return shape
