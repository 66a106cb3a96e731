"""From a job and a shelf to every figure, warning and shape. Pure, worked out when asked for, and remembered part by
part.

A zone whose document did not change (``is``) under the same air and shelf keeps its plan; within a zone the survey,
cut, taper and stack are each remembered by what they depend on. Faults are raised when the plan is made, never later.
What works a part out is loaded with the first one that is asked for.
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.errors import Fault
from ribpatch.core.materials.shelf import Shelf, merged
from ribpatch.core.memo import remembered
from ribpatch.core.numerals import region_is_plain
from ribpatch.core.totals import boat_figures, job_totals
from ribpatch.core.zone_plan import ZonePlan, named

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.diagnosis.zone import Place
    from ribpatch.core.figure import Figure
    from ribpatch.core.job import Boat, Job, Own, ShedAir, Zone
    from ribpatch.core.notice import Notice
    from ribpatch.core.patch.access.before import RepairOrder
    from ribpatch.core.supply.buying import Buy
    from ribpatch.core.supply.core_sheets import CoreSheets
    from ribpatch.core.supply.cutting import Roll
    from ribpatch.core.supply.floating import Change
    from ribpatch.core.supply.shopping import Item
    from ribpatch.core.units import System


JOB_KEYS = ("boat.", "air.", "job.", "cost.")


class Plan(Struct, frozen=True, eq=False, dict=True):
    """Everything that can be worked out for a job, each part when it is first asked for.

    ``system`` only chooses the units in the words of notices and items.
    """

    job: Job
    shelf: Shelf
    zones: tuple[ZonePlan, ...]
    system: System

    @cached_property
    def items(self) -> tuple[Item, ...]:
        """The shopping list."""
        from ribpatch.core.supply.shopping import summed, with_notes

        return with_notes(summed(z.items for z in self.zones), self.job.air.temperature.si, self.shelf, self.system)

    @cached_property
    def boat_figures(self) -> tuple[Figure, ...]:
        """Figures of the boat and the shed."""
        from ribpatch.core.leaning import boat_leaning

        return boat_leaning(boat_figures(self.job.boat, self.job.air, self.shelf), self.job.boat, self.job.air)

    @cached_property
    def totals(self) -> tuple[Figure, ...]:
        """Figures of the boat, the shed and the whole job."""
        from ribpatch.core.afloat import afloat_figures
        from ribpatch.core.hours import estimate_figures
        from ribpatch.core.leaning import job_leaning
        from ribpatch.core.supply.shopping import cost_figures

        costs = cost_figures(self.items, self.shelf, "")
        sums = (
            *job_totals((z.zone.name, z.by_id) for z in self.zones),
            *afloat_figures(self.job.boat, self.changes, self.shelf),
            *costs,
            *estimate_figures(self.zones, costs[-1], self.job.buying, self.shelf),
        )
        return (*self.boat_figures, *job_leaning(sums, self.job))

    @cached_property
    def changes(self) -> tuple[tuple[str, Change], ...]:
        """Where each zone's repair changes the boat's mass, by the zone's name."""
        from ribpatch.core.afloat import changes_of

        return changes_of(((z.zone, z.patch, z.by_id["weight.net"].value) for z in self.zones), self.job.boat)

    @cached_property
    def rolls(self) -> tuple[Roll, ...]:
        """What is cut off each roll for all zones, and how it lies."""
        return self._rolls(False)

    def rolls_told(self, told: Callable[[float], None]) -> tuple[Roll, ...]:
        """As ``rolls``, once they are there the same; ``told(share)`` is called as they are laid out, and what that
        raises gives them up.
        """
        if "rolls" not in self.__dict__:
            self.__dict__["rolls"] = self._rolls(False, told)
        return self.rolls

    @cached_property
    def first_rolls(self) -> tuple[Roll, ...]:
        """The rolls as a first layout, which is there at once."""
        return self._rolls(True)

    def _rolls(self, quick: bool, told: Callable[[float], None] | None = None) -> tuple[Roll, ...]:
        from ribpatch.core.supply.cutting import cloth_in_stock, rolls_of

        cuts = (c for z in self.zones for c in z.cuts)
        return rolls_of(cuts, cloth_in_stock(self.job, self.shelf), self.job.layouts, quick, told)

    def buys_with(self, rolls: tuple[Roll, ...]) -> tuple[Buy, ...]:
        """What is to be bought, where the cloth is laid out so."""
        from ribpatch.core.supply.buying import buys_of

        return buys_of(self.items, rolls, self.core_sheets, self.job, self.shelf)

    @cached_property
    def buys(self) -> tuple[Buy, ...]:
        """What is to be bought: needed, in stock, short, in packs."""
        return self.buys_with(self.rolls)

    @cached_property
    def core_sheets(self) -> tuple[CoreSheets, ...]:
        """What is sawn from each sheet of core for all zones, and how it lies."""
        from ribpatch.core.supply.core_sheets import sheets_of

        return sheets_of(((z.zone.name, z.core_pieces) for z in self.zones), self.job, self.shelf)

    def afloat_in(self, system: System) -> str:
        """How she floats after the repairs, in a sentence; nothing where her mass stays."""
        from ribpatch.core.afloat import told_afloat

        return told_afloat(self.job.boat, self.changes, self.shelf, system)

    @cached_property
    def job_notices(self) -> tuple[Notice, ...]:
        """Warnings of the boat, its shed, and of where its zones lie."""
        from ribpatch.core.checks import job_notices

        return job_notices(self.job, self.shelf, self.system)

    @cached_property
    def notices(self) -> tuple[Notice, ...]:
        """Every warning: the job's, then each zone's."""
        return (*self.job_notices, *(n for zone in self.zones for n in zone_notices_of(zone, self.system)))

    @cached_property
    def order(self) -> tuple[RepairOrder, ...]:
        """The zones in the order of repair."""
        from ribpatch.core.patch.access.before import order_of

        return order_of(self.job, self.shelf)

    def places_to_look(self, zone: Zone) -> tuple[Place, ...]:
        """Where else damage of a zone may have spread to."""
        from ribpatch.core.diagnosis.zone import places_to_look

        return places_to_look(self.job, zone, self.shelf)

    def notices_of(self, zone: str) -> tuple[Notice, ...]:
        """The warnings of the job as a whole and of one zone; the other zones are not worked out for it."""
        own = tuple(n for z in self.zones if z.zone.id == zone for n in zone_notices_of(z, self.system))
        return (*(n for n in self.job_notices if n.zone in ("", zone)), *own)

    @cached_property
    def figures(self) -> tuple[Figure, ...]:
        """Every figure but those of strength: the job's, then each zone's."""
        return (*self.totals, *(f for z in self.zones for f in z.figures))

    @property
    def all_figures(self) -> tuple[Figure, ...]:
        """Every figure, those of strength after the others of each zone."""
        return (*self.totals, *(f for z in self.zones for f in (*z.figures, *z.prove_figures)))

    @property
    def all_notices(self) -> tuple[Notice, ...]:
        """Every warning, those of strength too."""
        return (*self.notices, *(n for z in self.zones for n in self.prove_notices_of(z.zone.id)))

    def prove_notices_of(self, zone: str) -> tuple[Notice, ...]:
        """The warnings of a zone's strength, and of the load that it moves to a weaker neighbour."""
        from ribpatch.core.structure.notices import moved_load

        made = self.zone(zone)
        return (*made.prove_notices(self.system), *moved_load(made, self.zones, self.system))

    @cached_property
    def by_id(self) -> dict[str, Figure]:
        """Every figure by its id."""
        return {f.id: f for f in self.figures}

    def figure(self, identity: str) -> Figure | None:
        """The figure of an id; only as much is worked out as leads to it."""
        zone = next((z for z in self.zones if identity.startswith(f"{z.zone.id}.")), None)
        if zone is not None:
            return zone.figure(identity.removeprefix(f"{zone.zone.id}."))
        return named(self.boat_figures, identity) or named(self.totals, identity)

    def shown_in(self, zone: str, key: str) -> Figure | None:
        """The figure of a key as it is meant in a zone: the zone's own, else the job's."""
        made = next((z for z in self.zones if z.zone.id == zone), None)
        found = made.figure(key) if made is not None else None
        return found or (self.figure(key) if key.startswith(JOB_KEYS) else None)

    def zone(self, wanted: str) -> ZonePlan:
        """The plan of the zone of that id."""
        return next(z for z in self.zones if z.zone.id == wanted)


LEAST_KEPT, SPARE = 64, 24  # plans of zones that are kept; of a job with many zones, those that undo may bring back


@remembered(8)
def job_shelf(shelf: Shelf, own: Own) -> Shelf:
    """The shelf with the job's own materials, rules and prices over it."""
    return merged(
        shelf,
        fabrics=own.fabrics,
        resins=own.resins,
        rules=own.rules,
        prices=own.prices,
        coupons=own.coupons,
        preparations=own.preparations,
    )


@remembered(8)
def checked_shelf(shipped: Shelf, own: Own) -> Shelf:
    """The job's shelf, once its own materials and rules are found to hold together; raises Fault."""
    from ribpatch.core.references import own_faults, raise_all

    shelf = job_shelf(shipped, own)
    raise_all(own_faults(own, shipped, shelf))
    return shelf


def _checked(job: Job, shipped: Shelf) -> Shelf:
    """The job's shelf; where anything that the job names is missing, all of it is raised at once."""
    from ribpatch.core.references import raise_all, reference_faults

    try:
        shelf = checked_shelf(shipped, job.own)
        for n, zone in enumerate(job.zones):
            zone_checked(zone, shelf, n)
    except Fault:
        raise_all(reference_faults(job, shipped, job_shelf(shipped, job.own)))
        raise
    return shelf


@remembered(LEAST_KEPT)
def zone_checked(zone: Zone, shelf: Shelf, number: int) -> bool:
    """True where all that a zone names is there; raises Fault."""
    from ribpatch.core.references import raise_all, zone_faults

    raise_all(zone_faults(zone, shelf, f"zones.{number}"))
    return True


@remembered(LEAST_KEPT)
def zone_plan(zone: Zone, air: ShedAir, boat: Boat, shelf: Shelf) -> ZonePlan:
    """The plan of one zone; the same while the zone, the air, the boat and the shelf are."""
    return ZonePlan(zone, air, boat, shelf)


@remembered(4)
def plan(job: Job, shipped: Shelf, system: System = "metric") -> Plan:
    """The plan of a job; raises Fault where the job names what is not there. ``system`` only chooses the units in
    words.
    """
    for memo in (zone_checked, zone_plan, zone_notices_of):
        memo.keep = max(
            LEAST_KEPT, len(job.zones) + SPARE
        )  # fewer than the job has zones, and none would be found again
    shelf = _checked(job, shipped)
    zones = tuple(zone_plan(zone, job.air, job.boat, shelf) for zone in job.zones)
    return Plan(job, shelf, zones, system)


def reworded(made: Plan) -> Plan:
    """The same plan, for a thread that writes as files do: neither it nor the window keeps the other's words."""
    return made if region_is_plain() else plan(made.job, made.shelf, made.system)


@remembered(LEAST_KEPT)
def zone_notices_of(made: ZonePlan, system: System) -> tuple[Notice, ...]:
    """All warnings of a zone as worked out."""
    from ribpatch.core.checks import zone_notices

    return zone_notices(made, system)
