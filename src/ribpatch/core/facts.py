"""What the boat, her shed and a zone are known by, and which of it is only assumed.

A quantity that nobody typed is assumed; what is no quantity (an outline, a kind of core, what stands on a panel) is
named in the zone's ``assumed`` until somebody states it.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.memo import remembered
from ribpatch.core.record import evolve
from ribpatch.core.units import Kind, Measure

if TYPE_CHECKING:
    from ribpatch.core.job import Boat, ShedAir, Zone

ALIKE = 1e-9  # m; corners nearer than this are the same


class Fact(Struct, frozen=True):
    """Something stated or assumed: its key, what it is called, where it is set in the job (empty: by an edit of its
    own), its value and kind where it is a quantity.
    """

    key: str
    name: str
    assumed: bool
    path: tuple[str, ...] = ()
    value: float | None = None
    kind: Kind | None = None


def _measured(key: str, name: str, path: tuple[str, ...], measure: Measure, kind: Kind = Kind.SIZE) -> Fact:
    return Fact(key, name, not measure.typed, path, measure.si, kind)


@remembered(16)
def boat_facts(boat: Boat) -> tuple[Fact, ...]:
    """The boat's proportions."""
    rows = (
        ("length", "length overall", Kind.LENGTH),
        ("waterline", "waterline length", Kind.LENGTH),
        ("beam", "beam", Kind.LENGTH),
        ("depth", "hull depth", Kind.LENGTH),
        ("displacement", "displacement", Kind.LOAD),
    )
    return tuple(_measured(f"boat.{k}", name, ("boat", k), getattr(boat, k), kind) for k, name, kind in rows)


@remembered(16)
def air_facts(air: ShedAir) -> tuple[Fact, ...]:
    """The shed's air."""
    return (
        _measured("air.temperature", "shed temperature", ("air", "temperature"), air.temperature, Kind.TEMPERATURE),
        _measured("air.humidity", "relative humidity", ("air", "humidity"), air.humidity, Kind.PERCENT),
    )


@remembered(256, zone=("id", "outline", "build", "place", "fittings", "edges", "depths", "assumed", "kind"))
def zone_facts(zone: Zone) -> tuple[Fact, ...]:
    """A zone's size, build-up, what stands on it and where it is, in the order in which they are measured."""
    x = [p[0] for p in zone.outline]
    y = [p[1] for p in zone.outline]
    run = zone.is_run
    found = [
        Fact("length", "length", "length" in zone.assumed, (), max(x) - min(x), Kind.SIZE),
        Fact("width", "height" if run else "width", "width" in zone.assumed, (), max(y) - min(y), Kind.SIZE),
    ]
    at = ("zones", zone.id, "build")
    build = zone.build
    skin = "outer skin" if build.inner is not None else "laminate"
    if build.outer.thickness is not None and not build.outer.plies:
        found.append(_measured("outer", skin, (*at, "outer", "thickness"), build.outer.thickness))
    if build.core is not None:
        found.append(Fact("core", "kind of core", "core" in zone.assumed, (*at, "core", "core")))
        found.append(_measured("core.thickness", "core", (*at, "core", "thickness"), build.core.thickness))
    elif "core" in zone.assumed:
        found.append(Fact("core", "no core", True, (*at, "core", "core")))
    if build.inner is not None and build.inner.thickness is not None and not build.inner.plies:
        found.append(_measured("inner", "inner skin", (*at, "inner", "thickness"), build.inner.thickness))
    if zone.fittings or zone.edges or "fittings" in zone.assumed:
        found.append(Fact("fittings", "what stands on it", "fittings" in zone.assumed))
    for point in zone.depths:
        path = ("zones", zone.id, "depths", point.id, "depth")
        found.append(_measured("depth", "depth of the damage", path, point.depth))
    place = ("zones", zone.id, "place")
    found.append(_measured("station", "from the stern", (*place, "station"), zone.place.station, Kind.LENGTH))
    found.append(_measured("height", "height", (*place, "height"), zone.place.height, Kind.LENGTH))
    return tuple(found)


def restated(old: Zone, new: Zone) -> Zone:
    """A changed zone without the marks of what the change has stated: an outline drawn is no longer assumed."""
    if not new.assumed or new.assumed is not old.assumed:
        return new
    gone: set[str] = set()
    if new.outline is not old.outline and new.outline != old.outline:
        gone |= _sized(old, new)
    if new.build.core is not old.build.core and _core(new) != _core(old):
        gone.add("core")
    if (new.fittings, new.edges) != (old.fittings, old.edges):
        gone.add("fittings")
    return evolve(new, assumed=tuple(a for a in new.assumed if a not in gone)) if gone else new


def _core(zone: Zone) -> str:
    return zone.build.core.core if zone.build.core is not None else ""


def _sized(old: Zone, new: Zone) -> set[str]:
    """Which of length and width a new outline states: the one that differs; both where the shape differs."""
    if len(old.outline) != len(new.outline):
        return {"length", "width"}
    found: set[str] = set()
    for axis, name in ((0, "length"), (1, "width")):
        before, after = ([p[axis] for p in z.outline] for z in (old, new))
        size, wide = max(before) - min(before), max(after) - min(after)
        scale = wide / size
        moved = max(abs((b - min(after)) - (a - min(before)) * scale) for a, b in zip(before, after, strict=True))
        if moved > ALIKE:
            return {"length", "width"}
        if abs(wide - size) > ALIKE:
            found.add(name)
    return found
