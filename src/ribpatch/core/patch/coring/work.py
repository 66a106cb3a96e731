"""The work on a core: gaps, kerfs, bleed holes, clamping, fasteners overdrilled and filled, sloped bearing pads. SI."""

from __future__ import annotations

from math import ceil, pi, radians, sqrt, tan
from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.geometry import polygons
from ribpatch.core.laminate.stack import skin_thickness
from ribpatch.core.patch.coring.pieces import layers_of
from ribpatch.core.zone_axes import AXES

if TYPE_CHECKING:
    from ribpatch.core.job import Fitting, Zone
    from ribpatch.core.materials.records import Core
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch

GRAVITY = 9.80665


class Clamping(Struct, frozen=True):
    """How a core is pressed into its bed: how many of what, and their pitch in m."""

    how: str
    count: int
    pitch: float
    pressure: float
    enough: bool = True


class Fastening(Struct, frozen=True):
    """One fitting's holes in the core: to drill, depth, putty in all holes m3, redrill, chamfer m; a sloped pad's putty
    m3.
    """

    fitting: Fitting
    drill: float
    depth: float
    putty: float
    redrill: float
    chamfer: float
    pad: float
    insert: str


class CoreWork(Struct, frozen=True, eq=False):
    """All work on the new core of one zone: areas m2, lengths m, volumes m3."""

    core: Core
    area: float
    layers: int  # of sheet
    sheet: float  # m
    planed: float  # m, off the layers together
    edge: float
    sealed: float
    kerfs: float
    bleeds: int
    poured: float  # kg, where the core is cast
    liquid: float  # depth of what is poured, m; 0 where nothing is
    lifts: int
    head: float  # Pa at the foot of one lift
    clamping: Clamping
    fastenings: tuple[Fastening, ...]


def core_work(zone: Zone, patch: Patch, shelf: Shelf) -> CoreWork | None:
    """What the new core of a zone takes; None where no core is renewed."""
    scheme, area = zone.scheme, patch.cut.region.area
    if not (scheme.core.material and scheme.core.thickness and area and zone.build.core) or scheme.access.part_depth:
        return None
    core, depth = shelf.core(scheme.core.material), scheme.core.thickness.si
    edge = float(patch.cut.region.length)
    liquid = liquid_depth(zone, patch, depth) if core.poured else 0.0
    lift = min(shelf.rule("pour.lift"), liquid)
    closed = core.faces in ("open cells", "dense") and not core.poured
    layers, sheet = layers_of(core, depth)
    return CoreWork(
        core,
        area,
        layers,
        sheet,
        max(layers * sheet - depth, 0.0),
        edge,
        2 * area + edge * depth,
        area * depth * shelf.rule("kerf.share") if scheme.core.scored and not core.poured else 0.0,
        ceil(area / shelf.rule("bleed.pitch") ** 2) if closed and not scheme.core.scored else 0,
        pour_mass(area * depth, core.density, shelf.rule("pour.pack")) if core.poured else 0.0,
        liquid,
        ceil(liquid / lift - 1e-9) if lift else 0,
        core.density * GRAVITY * lift,
        clamping_of(scheme.core.clamp, area, shelf),
        tuple(
            _fastening(f, zone, core, shelf)
            for f in zone.fittings
            if f.holes and f.hole is not None and _in_reach(f, patch)
        ),
    )


def liquid_depth(zone: Zone, patch: Patch, thickness: float) -> float:
    """How deep a pour stands, m: the height of the highest cavity where the zone stands upright, else the core's
    thickness.
    """
    if AXES[zone.kind][1] != "up":
        return thickness
    return max((p.bounds[3] - p.bounds[1] for p in polygons(patch.cut.region)), default=0.0)


def clamping_of(how: str, area: float, shelf: Shelf) -> Clamping:
    """Number and pitch of screws, weights or props that give the contact pressure over ``area`` m2."""
    wanted = shelf.rule("clamp.pressure")
    if how == "vacuum":
        pressure = shelf.rule("clamp.vacuum")
        return Clamping(how, 1, 0.0, pressure, pressure >= wanted)
    each = {
        "screws": shelf.rule("clamp.screw"),
        "weights": shelf.rule("clamp.weight") * GRAVITY,
        "props": shelf.rule("clamp.prop"),
    }[how]
    count = max(1, ceil(wanted * area / each - 1e-9))
    return Clamping(how, count, sqrt(area / count), wanted)


def _in_reach(fitting: Fitting, patch: Patch) -> bool:
    return bool(fitting.shape.intersects(patch.cut.region))


def _fastening(f: Fitting, zone: Zone, core: Core, shelf: Shelf) -> Fastening:
    assert f.hole is not None
    drill = f.hole.si * (shelf.rule("hole.oversize") if core.annulus else 1.0)
    depth = max(build_thickness(zone, shelf) - shelf.rule("hole.leave"), 0.0)
    putty = f.holes * pi / 4 * drill**2 * depth if core.annulus else 0.0
    pad = wedge_volume(f.width.si, f.height.si or f.width.si, f.slope.si) if f.slope is not None else 0.0
    return Fastening(f, drill, depth, putty, f.hole.si, shelf.rule("hole.chamfer"), pad, _insert(f, core, shelf))


def build_thickness(zone: Zone, shelf: Shelf) -> float:
    """Whole thickness of the original build-up in m."""
    build = zone.build
    inner = skin_thickness(build.inner, shelf) if build.inner else 0.0
    return skin_thickness(build.outer, shelf) + inner + (build.core.thickness.si if build.core else 0.0)


def _insert(f: Fitting, core: Core, shelf: Shelf) -> str:
    """Whether the core under a fitting needs a solid insert: where its pull would crush the core."""
    if f.pull is None:
        return "state its pull to tell" if core.annulus else "no"
    return "solid insert" if crushing(f.pull.si, f.shape.area, core, shelf) > 1 else "no"


def crushing(pull: float, area: float, core: Core, shelf: Shelf) -> float:
    """Pressure of a fitting under its tightened bolts over what a core may carry: over 1 it needs a solid insert.

    Pull in N, footprint in m2; the core may carry a share (rule ``insert.share``) of its compressive strength.
    """
    pressure = pull * shelf.rule("bolt.preload") / max(area, 1e-6)
    return pressure / (shelf.rule("insert.share") * core.compressive_strength)


def wedge_volume(length: float, width: float, degrees: float) -> float:
    """Putty of a sloped pad that makes two faces parallel, m3: half of length x (length tan angle) x width; m,
    degrees.
    """
    return length * length * tan(radians(degrees)) * width / 2


def pour_mass(volume: float, density: float, over_pack: float = 1.0) -> float:
    """Mass of a foam or filled resin poured into a cavity, kg: volume m3 x cured density kg/m3 x over-pack."""
    return volume * density * over_pack
