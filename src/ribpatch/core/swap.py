"""One material swapped for another through the whole job, and what that changes: before anything is decided."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from ribpatch.core.edits import Edit
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve, evolve_in
from ribpatch.core.scheme import Repeat, StackLine
from ribpatch.core.table import Row, Table
from ribpatch.core.units import shown

if TYPE_CHECKING:
    from ribpatch.core.figure import Figure
    from ribpatch.core.job import Job
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.plan import Plan
    from ribpatch.core.scheme import Scheme, Stack
    from ribpatch.core.units import System

Swapped = Literal["fabric", "resin", "core"]
OF_JOB = (("cost.total", "cost of materials"),)
OF_ZONE = (
    ("stack.thickness", "new laminate"),
    ("resin.mixed", "resin to mix"),
    ("cup.all", "cups"),
    ("cup.working", "working time of a cup"),
    ("cup.peak", "hottest if a cup is left"),
    ("weight.on", "weight on"),
    ("bond.used", "bond used"),
)
SAME = 1e-9  # share by which a figure is another one


def kind_of(material: str, shelf: Shelf) -> Swapped | None:
    """What a material of the shopping list is swapped as; None where it is not laid."""
    groups: tuple[tuple[Swapped, tuple[object, ...]], ...] = (
        ("fabric", shelf.fabrics),
        ("resin", shelf.resins),
        ("core", shelf.cores),
    )
    return next((kind for kind, items in groups if any(getattr(i, "id", "") == material for i in items)), None)


def others_for(material: str, shelf: Shelf) -> tuple[tuple[str, str], ...]:
    """What may be taken instead: id and name of all else of its kind."""
    kind = kind_of(material, shelf)
    names = {
        "fabric": [(f.id, f.name) for f in shelf.fabrics],
        "resin": [(r.id, r.name) for r in shelf.resins],
        "core": [(c.id, c.name) for c in shelf.cores],
    }
    return tuple(row for row in names.get(kind or "", []) if row[0] != material)


def swap(material: str, new: str, shelf: Shelf) -> Edit:
    """Take another material instead, in every scheme of every zone. Cores keep their thickness, stacks their count."""
    kind = kind_of(material, shelf)
    names = {**dict(others_for(material, shelf)), **dict(others_for(new, shelf))}

    def change(job: Job) -> Job:
        zones = []
        for zone in job.zones:
            scheme = _scheme(zone.scheme, kind, material, new)
            others = tuple(_scheme(s, kind, material, new) for s in zone.others)
            same = scheme is zone.scheme and all(a is b for a, b in zip(others, zone.others, strict=True))
            zones.append(zone if same else evolve(zone, scheme=scheme, others=others))
        return evolve(job, zones=tuple(zones))

    return Edit(f"take {names.get(new, new)} instead of {names.get(material, material)}", change)


def _scheme(scheme: Scheme, kind: Swapped | None, old: str, new: str) -> Scheme:
    if kind == "core" and scheme.core.material == old:
        return evolve_in(scheme, "core", material=new)
    if kind == "resin":
        choice = scheme.resin
        changes = {
            "main": new if choice.main == old else choice.main,
            "bedding": new if choice.bedding == old else choice.bedding,
            "later": new if choice.later == old else choice.later,
            "sittings": tuple(evolve(s, resin=new) if s.resin == old else s for s in choice.sittings),
        }
        known = {name: getattr(choice, name) for name in changes}
        return scheme if changes == known else evolve_in(scheme, "resin", **changes)
    return _stacks(scheme, old, new) if kind == "fabric" else scheme


def _stacks(scheme: Scheme, old: str, new: str) -> Scheme:
    """Every stack of a scheme with one fabric for another."""
    laminate, changes = scheme.laminate, {}
    plies = _stack(laminate.plies, old, new)
    if plies is not laminate.plies:
        changes["plies"] = plies
    for name in ("second", "backing"):
        part = getattr(laminate, name)
        if part is not None and (made := _stack(part.plies, old, new)) is not part.plies:
            changes[name] = evolve(part, plies=made)
    parts = tuple(p if (made := _stack(p.plies, old, new)) is p.plies else evolve(p, plies=made) for p in scheme.parts)
    if changes:
        scheme = evolve_in(scheme, "laminate", **changes)
    pads = tuple(p if (made := _stack(p.plies, old, new)) is p.plies else evolve(p, plies=made) for p in scheme.pads)
    if any(a is not b for a, b in zip(pads, scheme.pads, strict=True)):
        scheme = evolve(scheme, pads=pads)
    return scheme if all(a is b for a, b in zip(parts, scheme.parts, strict=True)) else evolve(scheme, parts=parts)


def _stack(stack: Stack, old: str, new: str) -> Stack:
    made = tuple(
        evolve(item, lines=tuple(_line(x, old, new) for x in item.lines))
        if isinstance(item, Repeat) and any(x.fabric == old for x in item.lines)
        else _line(item, old, new)
        for item in stack
    )
    return stack if all(a is b for a, b in zip(made, stack, strict=True)) else made


def _line(item: StackLine | Repeat, old: str, new: str) -> StackLine | Repeat:
    return evolve(item, fabric=new) if isinstance(item, StackLine) and item.fabric == old else item


def swap_table(before: Plan, material: str, new: str, shipped: Shelf) -> Table:
    """What a swap changes: figures before and after, and warnings that come or go. Raises Fault."""
    system = before.system
    after = plan(swap(material, new, before.shelf).change(before.job), shipped, system)
    rows = []
    for key, name in OF_JOB:
        rows += _row("", key, name, before.figure(key), after.figure(key), system)
    for old, now in zip(before.zones, after.zones, strict=True):
        for key, name in OF_ZONE:
            rows += _row(old.zone.name, key, name, old.figure(key), now.figure(key), system)
    told_before = {(n.zone, n.text) for n in before.notices}
    told_after = {(n.zone, n.text) for n in after.notices}
    names = {z.zone.id: z.zone.name for z in after.zones}
    for zone, text in sorted(told_after - told_before):
        rows.append(Row(f"new.{zone}.{text[:20]}", (f"{names.get(zone, 'job')}: {text}", "", "new", ""), "warn"))
    for zone, text in sorted(told_before - told_after):
        rows.append(Row(f"gone.{zone}.{text[:20]}", (f"{names.get(zone, 'job')}: {text}", "open", "gone", "")))
    return Table(("what changes", "now", "then", "difference"), tuple(rows), empty="It changes nothing.")


def _row(zone: str, key: str, name: str, old: Figure | None, new: Figure | None, system: System) -> list[Row]:
    if old is None or new is None:
        return []
    a, b = float(old.value), float(new.value)
    if abs(a - b) <= SAME * max(abs(a), abs(b), SAME):
        return []
    words = f"{zone}: {name}" if zone else name
    more = shown(abs(b - a), old.kind, system)
    return [Row(f"{zone}.{key}", (words, old, new, f"{'+' if b > a else '−'}{more}"))]
