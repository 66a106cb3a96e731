"""Edits of schemes: sides and marks, margins and ratios by side, depths, faces, parts, the cut by hand, coupons,
schemes.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import shapely
from shapely.geometry import LineString, Polygon
from shapely.ops import split

from ribpatch.core import geometry
from ribpatch.core.edits import Edit, in_zone, next_id
from ribpatch.core.errors import BadOutline, InvalidValue, OutsideZone
from ribpatch.core.geometry import Point, Ring, polygon_of, polygons
from ribpatch.core.job import DepthPoint, Job, Tick, Zone
from ribpatch.core.laminate.ply import coupon_fibre_fraction
from ribpatch.core.record import built, evolve, evolve_in, read_as
from ribpatch.core.scheme import (
    AccessSide,
    Backing,
    Face,
    Facing,
    Laminate,
    MadePart,
    ResinFrom,
    Scheme,
    SideMargin,
    SideMark,
    Stack,
    StackLine,
    Stretch,
    Tabbing,
    unrolled,
)
from ribpatch.core.units import Measure

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.materials.records import Coupon
    from ribpatch.core.materials.shelf import Shelf


def in_scheme(name: str, zone: str, change: Callable[[Scheme], Scheme]) -> Edit:
    """An edit of the chosen scheme of one zone."""
    return in_zone(name, zone, lambda z: evolve(z, scheme=change(z.scheme)))


def in_laminate(name: str, zone: str, change: Callable[[Laminate], dict[str, object]]) -> Edit:
    """An edit of parts of the laminate of the chosen scheme of one zone."""
    return in_scheme(name, zone, lambda s: evolve_in(s, "laminate", **change(s.laminate)))


# ---- sides, cut, taper -------------------------------------------------------------------------------------------


def set_mark(zone: str, side: AccessSide, criterion: str, mark: int | None) -> Edit:
    """Mark a side under a criterion from 0 to 5, or (None) go back to the usual mark."""

    def change(scheme: Scheme) -> Scheme:
        kept = tuple(m for m in scheme.access.marks if (m.side, m.criterion) != (side, criterion))
        new = (built(SideMark, side=side, criterion=criterion, mark=mark),) if mark is not None else ()
        return evolve_in(scheme, "access", marks=(*kept, *new))

    return in_scheme("mark a side", zone, change)


def set_stretch(zone: str, facing: Facing, ratio: Measure | None) -> Edit:
    """Give the stretch of the cut line that faces one way a taper ratio of its own, or (None) the usual one again."""

    def change(scheme: Scheme) -> Scheme:
        kept = tuple(s for s in scheme.taper.stretches if s.facing != facing)
        new = (built(Stretch, facing=facing, ratio=ratio),) if ratio is not None else ()
        return evolve_in(scheme, "taper", stretches=(*kept, *new))

    return in_scheme("set taper on one side", zone, change)


def set_resin_from(zone: str, ply: int, resin: str | None) -> Edit:
    """Lay another resin from a ply on, or (None) go on there with the one before."""

    def change(scheme: Scheme) -> Scheme:
        kept = tuple(s for s in scheme.resin.sittings if s.ply != ply)
        new = (built(ResinFrom, ply=ply, resin=resin),) if resin is not None else ()
        return evolve_in(scheme, "resin", sittings=tuple(sorted((*kept, *new), key=lambda s: s.ply)))

    return in_scheme("change the resin from a ply on", zone, change)


def set_margin(zone: str, facing: Facing, margin: Measure | None) -> Edit:
    """Give one side of the cut a margin of its own, or (None) the rule's again."""

    def change(scheme: Scheme) -> Scheme:
        kept = tuple(s for s in scheme.cut.sides if s.facing != facing)
        new = (built(SideMargin, facing=facing, margin=margin),) if margin is not None else ()
        return evolve_in(scheme, "cut", sides=(*kept, *new))

    return in_scheme("set margin on one side", zone, change)


def merge_cut(zone: Zone, rings: tuple[Ring, ...]) -> Edit:
    """Make one cut of several, rings in m: the least straight-edged line round them, inside the zone."""
    if len(rings) < 2:
        raise InvalidValue("Cut line", reason="there is only one part; nothing to merge")
    whole = shapely.union_all([Polygon(r) for r in rings]).convex_hull.intersection(polygon_of(zone.outline))
    return _drawn(zone, "merge the cuts", tuple(_ring(p) for p in polygons(whole)))


def split_cut(zone: Zone, rings: tuple[Ring, ...], line: tuple[Point, Point], gap: float = 0.002) -> Edit:
    """Part the cut along a line, leaving ``gap`` m between the parts."""
    track = LineString(line)
    cut: list[Polygon] = []
    for ring in rings:
        cut += [p for p in shapely.get_parts(split(Polygon(ring), track)) if isinstance(p, Polygon)]
    if len(cut) == len(rings):
        raise BadOutline(
            "Cut line", reason="the section line does not cross it", advice="Drag A–A across it from side to side."
        )
    parts = [p for whole in cut for p in polygons(whole.difference(track.buffer(gap / 2, cap_style="flat")))]
    return _drawn(zone, "split the cut", tuple(_ring(p) for p in parts))


def _ring(polygon: Polygon) -> Ring:
    return tuple((round(float(x), 4), round(float(y), 4)) for x, y in list(polygon.exterior.coords)[:-1])


def _drawn(zone: Zone, name: str, rings: tuple[Ring, ...]) -> Edit:
    for ring in rings:
        geometry.check_ring(ring, "the cut line")
    return in_scheme(name, zone.id, lambda s: evolve_in(s, "cut", drawn=rings))


# ---- depth, before cutting ---------------------------------------------------------------------------------------


def put_depth(zone: Zone, at: Point, depth: Measure, near: float = 0.0) -> Edit:
    """Note how deep the damage is at a place; a depth noted within ``near`` m of it is replaced."""
    if not polygon_of(zone.outline).buffer(1e-6).contains(shapely.Point(at)):
        raise OutsideZone(zone.name, what="the place")
    kept = tuple(d for d in zone.depths if (d.x - at[0]) ** 2 + (d.y - at[1]) ** 2 > near**2)
    point = built(
        DepthPoint, id=next_id("d", (d.id for d in zone.depths)), x=round(at[0], 4), y=round(at[1], 4), depth=depth
    )
    return in_zone("note a depth", zone.id, lambda z: evolve(z, depths=(*kept, point)))


def remove_depth(zone: str, depth: str) -> Edit:
    """Forget a depth."""
    return in_zone("delete a depth", zone, lambda z: evolve(z, depths=tuple(d for d in z.depths if d.id != depth)))


def tick(zone: str, item: str, note: str | None) -> Edit:
    """Tick something to see to before cutting, with how it was done; None opens it again."""
    if note is not None and len(note.strip()) < 3:
        raise InvalidValue("Note", reason="say in a few words how it was seen to, or why it does not apply")

    def change(z: Zone) -> Zone:
        kept = tuple(t for t in z.ticks if t.item != item)
        return evolve(z, ticks=(*kept, built(Tick, item=item, note=note.strip())) if note is not None else kept)

    return in_zone("tick before cutting" if note is not None else "open again", zone, change)


# ---- faces, backing, tabbing, parts ------------------------------------------------------------------------------


def set_second(zone: str, on: bool) -> Edit:
    """Repair the other face as well, or not. A solid laminate's plies are shared out; a sandwich gets the same stack
    twice.
    """

    def change(z: Zone) -> Zone:
        scheme, lines = z.scheme, unrolled(z.scheme.laminate.plies)
        if not on:
            second = scheme.laminate.second
            shared = second.plies if second and z.other_skin is None else ()
            plies = (*scheme.laminate.plies, *shared)
            return evolve(z, scheme=evolve_in(scheme, "laminate", second=None, plies=plies))
        if z.other_skin is not None:
            second = Face(taper=scheme.taper, plies=scheme.laminate.plies)
            return evolve(z, scheme=evolve_in(scheme, "laminate", second=second))
        single = [evolve(line, count=1) for line in lines for _ in range(line.count)]
        half = len(single) - len(single) // 2
        second = Face(taper=scheme.taper, plies=_counted(single[half:]))
        return evolve(z, scheme=evolve_in(scheme, "laminate", plies=_counted(single[:half]), second=second))

    return in_zone("repair both faces" if on else "repair one face", zone, change)


def _counted(plies: list[StackLine]) -> Stack:
    """Single plies as lines with counts."""
    lines: list[StackLine] = []
    for ply in plies:
        if lines and (lines[-1].fabric, lines[-1].angle) == (ply.fabric, ply.angle):
            lines[-1] = evolve(lines[-1], count=lines[-1].count + 1)
        else:
            lines.append(ply)
    return tuple(lines)


def set_second_plies(zone: str, lines: Stack, name: str = "change plies of the other face") -> Edit:
    """Replace the stack of the other face."""
    return in_scheme(
        name, zone, lambda s: evolve_in(s, "laminate", second=evolve(s.laminate.second or Face(), plies=lines))
    )


def set_backing(zone: str, on: bool) -> Edit:
    """Bond backing strips under the hole first, or not."""
    new = Backing() if on else None
    return in_laminate("use backing strips" if on else "no backing strips", zone, lambda old: {"backing": new})


def set_backing_plies(zone: str, lines: Stack, name: str = "change plies of the backing") -> Edit:
    """Replace the stack of the backing strips."""
    return in_scheme(
        name, zone, lambda s: evolve_in(s, "laminate", backing=evolve(s.laminate.backing or Backing(), plies=lines))
    )


def set_tabbing(zone: str, on: bool) -> Edit:
    """Lay the plies as tabbing in a corner, or flat."""
    return in_scheme(
        "lay as tabbing" if on else "lay flat",
        zone,
        lambda s: evolve_in(s, "laminate", tabbing=Tabbing() if on else None),
    )


def add_part(zone: Zone, kind: str = "angle") -> Edit:
    """Add a made part of usual size and four plies of the scheme's first fabric."""
    lines = zone.scheme.laminate.plies[:1] or (StackLine(fabric="biax-45-600"),)
    first = lines[0] if isinstance(lines[0], StackLine) else lines[0].lines[0]
    part = made_part(zone.scheme, kind, first.fabric, 4, first.angle)
    return in_scheme(f"add {kind}", zone.id, lambda s: evolve(s, parts=(*s.parts, part)))


def made_part(scheme: Scheme, kind: str, fabric: str, plies: int, angle: float = 0.0) -> MadePart:
    """Another made part for a scheme, of usual size."""
    identity = next_id("p", (p.id for p in scheme.parts))
    sizes = {
        "angle": (0.6, 0.08, 0.08),
        "knee": (0.25, 0.25, 0.06),
        "backing plate": (0.25, 0.15, 0.01),
        "end cap": (0.2, 0.1, 0.05),
    }
    length, width, depth = sizes[kind]
    return read_as(
        MadePart,
        {
            "id": identity,
            "name": f"{kind} {identity[1:]}",
            "kind": kind,
            "length": Measure(si=length),
            "width": Measure(si=width),
            "depth": Measure(si=depth),
            "plies": (StackLine(fabric=fabric, count=plies, angle=angle),),
            "former": "flat bench" if kind == "backing plate" else "plug",
        },
    )


def remove_part(zone: str, part: str) -> Edit:
    """Take a made part out."""
    return in_scheme("delete part", zone, lambda s: evolve(s, parts=tuple(p for p in s.parts if p.id != part)))


def set_part_plies(zone: str, part: str, lines: Stack, name: str = "change plies of a part") -> Edit:
    """Replace the stack of a made part."""
    return in_scheme(
        name, zone, lambda s: evolve(s, parts=tuple(evolve(p, plies=lines) if p.id == part else p for p in s.parts))
    )


# ---- schemes -----------------------------------------------------------------------------------------------------


def add_scheme(zone: Zone) -> Edit:
    """Begin another scheme as a copy of the chosen one, and choose it; the old one stays beside it."""
    identity = next_id("s", (s.id for s in zone.schemes))
    new = evolve(zone.scheme, id=identity, name=f"Scheme {identity[1:]}")
    return in_zone("begin another scheme", zone.id, lambda z: evolve(z, scheme=new, others=(*z.others, z.scheme)))


def choose_scheme(zone: Zone, wanted: str) -> Edit:
    """Choose another scheme."""
    scheme = next((s for s in zone.schemes if s.id == wanted), None)
    if scheme is None:
        raise InvalidValue("Scheme", reason="it is not there any more")
    others = tuple(s for s in zone.schemes if s.id != wanted)
    return in_zone(f"choose {scheme.name}", zone.id, lambda z: evolve(z, scheme=scheme, others=others))


def remove_scheme(zone: Zone, unwanted: str) -> Edit:
    """Drop a scheme; the chosen one gives way to the first of the others. The last one stays."""
    kept = tuple(s for s in zone.schemes if s.id != unwanted)
    if not kept:
        raise InvalidValue("Scheme", reason="it is the only one; begin another before this one goes")
    chosen = zone.scheme if zone.scheme.id != unwanted else kept[0]
    others = tuple(s for s in kept if s.id != chosen.id)
    return in_zone("delete scheme", zone.id, lambda z: evolve(z, scheme=chosen, others=others))


# ---- coupons -----------------------------------------------------------------------------------------------------


def add_coupon(job: Job, coupon: Coupon, shelf: Shelf) -> Edit:
    """Use a coupon's fibre mass fraction for its fabric and process from now on; refuses an impossible one with the
    reason.
    """
    coupon_fibre_fraction(shelf.fabric(coupon.fabric), coupon, shelf)
    made = evolve(coupon, id=next_id("c", (c.id for c in job.own.coupons)))
    kept = tuple(c for c in job.own.coupons if (c.fabric, c.process) != (made.fabric, made.process))
    return Edit("use a coupon", lambda j: evolve(j, own=evolve(j.own, coupons=(*kept, made))))


def remove_coupon(coupon: str) -> Edit:
    """Go back to the usual fibre mass fraction."""

    def change(job: Job) -> Job:
        return evolve(job, own=evolve(job.own, coupons=tuple(c for c in job.own.coupons if c.id != coupon)))

    return Edit("delete a coupon", change)
