"""Edits of what is stated of a zone's structure: loads, engine, stiffeners, flex readings."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.edits import Edit, in_zone, next_id
from ribpatch.core.errors import InvalidValue
from ribpatch.core.geometry import polygon_of
from ribpatch.core.proof import Engine, Flex, Well
from ribpatch.core.record import built, evolve, evolve_in
from ribpatch.core.said import Answer
from ribpatch.core.scheme import Member, MemberKind, Scheme, Timber
from ribpatch.core.units import Measure

if TYPE_CHECKING:
    from ribpatch.core.geometry import Point
    from ribpatch.core.job import Zone
    from ribpatch.core.structure.strength import ZoneStrength


def stand_at(zone: str, at: Point) -> Edit:
    """Put the standing load at a place of the zone, m."""
    return in_zone("move the load", zone, lambda z: evolve(z, proof=evolve_in(z.proof, "loads", x=at[0], y=at[1])))


def state_engine(zone: Zone, wanted: bool) -> Edit:
    """Hang an engine on the transom, with usual values to be mended, or take it off."""
    engine = built(Engine, power=Measure(si=40_000.0), mass=Measure(si=100.0)) if wanted else None
    name = "state the engine" if wanted else "take the engine off"
    return in_zone(name, zone.id, lambda z: evolve(z, proof=evolve(z.proof, engine=engine)))


def state_well(zone: Zone, wanted: bool) -> Edit:
    """Put a motor well or splash box before the transom, with usual values to be mended, or take it away."""
    x0, y0, x1, y1 = polygon_of(zone.outline).bounds
    wide, floor = Measure(si=round(0.4 * (x1 - x0), 4)), Measure(si=round(0.4 * (y1 - y0), 4))
    well = built(Well, width=wide, floor=floor) if wanted else None
    name = "state the well" if wanted else "take the well away"
    return in_zone(name, zone.id, lambda z: evolve(z, proof=evolve(z.proof, well=well)))


def state_timber(zone: Zone, wanted: bool) -> Edit:
    """Say what the beam on posts of the chosen scheme is made of, or leave it at how much it gives."""
    timber = built(Timber) if wanted else None
    name = "state the beam" if wanted else "leave the beam unstated"
    return in_zone(
        name, zone.id, lambda z: evolve(z, scheme=evolve(z.scheme, support=evolve(z.scheme.support, timber=timber)))
    )


def add_member(zone: Zone, kind: MemberKind) -> Edit:
    """A stiffener more in the chosen scheme: across the shorter side, in the middle; a knee from the foot up."""
    taken = [m.id for m in (*zone.scheme.members, *zone.proof.members)]
    identity = next_id("m", taken)
    x0, y0, x1, y1 = polygon_of(zone.outline).bounds
    axis = "y" if kind == "knee" or y1 - y0 <= x1 - x0 else "x"
    place = (x0 + x1) / 2 if axis == "y" else (y0 + y1) / 2
    stated: dict[str, object] = {"id": identity, "name": f"{kind} {identity[1:]}", "kind": kind, "axis": axis}
    if kind == "knee":
        stated |= {"height": Measure(si=0.2), "width": Measure(si=0.04), "start": y0, "end": round(y1 * 0.9, 4)}
    elif kind == "flat":
        stated |= {"width": Measure(si=0.02)}
    member = built(Member, place=round(place, 4), **stated)
    return in_zone(
        f"add {kind}",
        zone.id,
        lambda z: evolve(z, scheme=evolve(z.scheme, members=(*z.scheme.members, member))),
    )


def remove_member(zone: str, member: str) -> Edit:
    """Take a stiffener out of the scheme, with the made part that was added for it."""

    def change(scheme: Scheme) -> Scheme:
        return evolve(
            scheme,
            members=tuple(m for m in scheme.members if m.id != member),
            parts=tuple(p for p in scheme.parts if p.id != f"{member}p"),
        )

    return in_zone("delete stiffener", zone, lambda z: evolve(z, scheme=change(z.scheme)))


FINDING = "flexes"  # of Cause, that a measured flex answers


def flex_at(zone: Zone, at: Point, force: Measure, read: Measure) -> Flex:
    """A push and what the dial read at a place, m; raises Fault."""
    if read.si <= 0:
        raise InvalidValue("Read", reason="a reading of nothing says nothing; push harder or use a finer dial")
    identity = next_id("x", [f.id for f in zone.proof.flexes])
    return built(Flex, id=identity, x=at[0], y=at[1], force=force, read=read)


def add_flex(zone: Zone, flex: Flex, softer: bool | None) -> Edit:
    """Note a flex; whether it is softer than built is what Cause is told, where that can be told."""

    def change(z: Zone) -> Zone:
        z = evolve(z, proof=evolve(z.proof, flexes=(*z.proof.flexes, flex)))
        if softer is None:
            return z
        kept = tuple(a for a in z.diagnosis.answers if a.finding != FINDING)
        told = built(Answer, finding=FINDING, said="yes" if softer else "no")
        return evolve(z, diagnosis=evolve(z.diagnosis, answers=(*kept, told)))

    return in_zone("note a flex", zone.id, change)


def push_noted(strength: ZoneStrength, force: Measure, read: Measure) -> Edit:
    """Note a push at the place of the load and what a dial read there, with what it says. Raises Fault."""
    from ribpatch.core.structure.trial import explain

    assert strength.proved is not None
    panel, (x, y) = strength.proved.panel, strength.trial_place
    flex = flex_at(strength.zone, (round(x + panel.x0, 4), round(y + panel.y0, 4)), force, read)
    return add_flex(strength.zone, flex, explain(panel, flex, strength.shelf).softer)


def remove_flex(zone: str, flex: str) -> Edit:
    """Drop a flex reading; with the last one goes what it told Cause."""

    def change(z: Zone) -> Zone:
        left = tuple(f for f in z.proof.flexes if f.id != flex)
        z = evolve(z, proof=evolve(z.proof, flexes=left))
        if left:
            return z
        kept = tuple(a for a in z.diagnosis.answers if a.finding != FINDING)
        return evolve(z, diagnosis=evolve(z.diagnosis, answers=kept))

    return in_zone("delete flex reading", zone, change)


def begin_scheme(zone: Zone, scheme: Scheme, name: str) -> Edit:
    """Put another scheme beside the chosen one, and choose it."""
    identity = next_id("s", (s.id for s in zone.schemes))
    new = evolve(scheme, id=identity, name=name[:80])
    return in_zone(f"begin {name}", zone.id, lambda z: evolve(z, scheme=new, others=(*z.others, z.scheme)))
