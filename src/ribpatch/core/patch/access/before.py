"""Before cutting: what a zone carries, what to see to first, and in which order zones are repaired."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.units import Kind, System, shown

if TYPE_CHECKING:
    from ribpatch.core.job import Job, Zone
    from ribpatch.core.materials.repair_records import BeforeItem
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch


class ChecklistItem(Struct, frozen=True):
    """One thing to see to, and the note with which it was ticked (empty while it is open)."""

    item: BeforeItem
    note: str

    @property
    def open(self) -> bool:
        """Whether it is still to be seen to; what a zone carries is only said."""
        return self.item.group != "carries" and not self.note


def checklist(zone: Zone, patch: Patch, shelf: Shelf) -> tuple[ChecklistItem, ...]:
    """What belongs to this zone before its cut; nothing where nothing is cut."""
    if patch.cut.region.is_empty:
        return ()
    notes = {tick.item: tick.note for tick in zone.ticks}
    facts = {"always"} | ({"fitting in cut"} if patch.band.removed else set())
    return tuple(
        ChecklistItem(item, notes.get(item.id, ""))
        for item in shelf.before
        if zone.kind in item.kinds and item.when in facts
    )


def loads_of(zone: Zone, system: System) -> str:
    """What pulls on the fittings of this zone, as stated; empty where nothing is."""
    pulls = [f"{f.name} {shown(f.pull.si, Kind.FORCE, system)}" for f in zone.fittings if f.pull is not None]
    return f"Stated loads: {', '.join(pulls)}." if pulls else ""


class RepairOrder(Struct, frozen=True):
    """A zone's turn in the order of work, with the reason."""

    zone: Zone
    number: int
    reason: str


def order_of(job: Job, shelf: Shelf) -> tuple[RepairOrder, ...]:
    """Zones in the order of repair: what carries comes before what it carries, cosmetic work last."""
    ranks = {r.kind: r for r in shelf.zone_order}
    last = max((r.rank for r in shelf.zone_order), default=0) + 1
    zones = sorted(job.zones, key=lambda z: ranks[z.kind].rank if z.kind in ranks else last)
    return tuple(RepairOrder(z, n, ranks[z.kind].reason if z.kind in ranks else "") for n, z in enumerate(zones, 1))
