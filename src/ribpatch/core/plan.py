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
from ribpatch.core.totals import boat_figures, job_totals
from ribpatch.core.zone_proof import ZoneProof

if TYPE_CHECKING:
    from ribpatch.core.diagnosis.zone import Place
    from ribpatch.core.figure import Figure
    from ribpatch.core.job import Boat, Job, Own, ShedAir, Zone
    from ribpatch.core.notice import Notice
    from ribpatch.core.patch.access.before import RepairOrder
    from ribpatch.core.patch.bonding.figures import Joint
    from ribpatch.core.patch.coring.choice import CoreChoice
    from ribpatch.core.patch.made_parts import PartMade
    from ribpatch.core.supply.cutting import Roll
    from ribpatch.core.supply.floating import Change
    from ribpatch.core.supply.needs import Needs
    from ribpatch.core.supply.shopping import Item
    from ribpatch.core.units import System


# The figures of a zone, in the order in which they are printed.
GROUPS = (
    "survey_figures",
    "kind_figures",
    "cause_figures",
    "opening_figures",
    "stack_figures",
    "comparison_figures",
    "bond_figures",
    "supply_figures",
)


# Ids, and first words of ids, that stand in some groups only.
GROUPS_OF: dict[str, tuple[str, ...]] = {
    word: groups
    for groups, words in (
        (("survey_figures",), ("survey", "zone", "extent")),
        (("kind_figures",), ("extent.wet", "extent.rotted", "extent.disbonded")),
        (("cause_figures",), ("cause",)),
        (("opening_figures",), ("cut", "taper", "skin")),
        (("stack_figures",), ("stack",)),
        (("comparison_figures",), ("lam", "match", "old", "panel")),
        (("bond_figures",), ("bond",)),
        (("prove_figures",), ("prove",)),
        (("supply_figures",), ("cloth", "cost", "cup", "mix", "weight")),
    )
    for word in words
}


class ZonePlan(ZoneProof, frozen=True, eq=False, dict=True):
    """Everything that can be worked out for one zone, each part when it is first asked for."""

    @property
    def has_patch(self) -> bool:
        """Whether the geometry was worked out already."""
        return "patch" in self.__dict__

    @cached_property
    def parts(self) -> tuple[PartMade, ...]:
        """The made parts."""
        from ribpatch.core.patch.made_parts import part_made

        scheme = self.zone.scheme
        return tuple(part_made(p, scheme.resin.main, scheme.laying.process, self.shelf) for p in scheme.parts)

    @cached_property
    def needs(self) -> Needs:
        """What the repair uses."""
        from ribpatch.core.supply.needs import needs_of

        return needs_of(self.zone, self.patch, self.parts, self.air.temperature.si, self.shelf)

    @cached_property
    def items(self) -> tuple[Item, ...]:
        """What is to be bought for it."""
        from ribpatch.core.supply.shopping import items_of

        return items_of(self.needs)

    @cached_property
    def core_choices(self) -> tuple[CoreChoice, ...]:
        """Every core of the shelf, as it would do here."""
        from ribpatch.core.patch.coring.choice import core_choices

        return core_choices(self.zone, self.patch, self.comparison, self.shelf) if self.comparison else ()

    @cached_property
    def joint(self) -> Joint | None:
        """The bond along the scarf; None where there is none."""
        from ribpatch.core.patch.bonding.figures import joint_of

        return joint_of(self.comparison.skin, self.patch, self.zone.scheme, self.shelf) if self.comparison else None

    @cached_property
    def survey_figures(self) -> tuple[Figure, ...]:
        """Figures of the survey."""
        from ribpatch.core.survey.figures import survey_figures

        return survey_figures(self.zone, self.shelf, self.zone.id)

    @cached_property
    def kind_figures(self) -> tuple[Figure, ...]:
        """The area of each kind of damage; none where nothing was read."""
        from ribpatch.core.survey.figures import kind_figures

        return kind_figures(self.zone, self.shelf, self.zone.id)

    @cached_property
    def cause_figures(self) -> tuple[Figure, ...]:
        """The chance of every cause."""
        from ribpatch.core.diagnosis.zone import cause_figures

        return cause_figures(self.zone, self.shelf, self.zone.id)

    @cached_property
    def opening_figures(self) -> tuple[Figure, ...]:
        """Figures of cut and taper."""
        from ribpatch.core.patch.figures import opening_figures

        bad = _named(self.survey_figures, f"{self.zone.id}.extent.area")
        assert bad is not None, "every survey has a bad area, if only of nothing"
        return opening_figures(self.zone, self.zone.rebuilt_skin, self.patch, bad, self.shelf, self.zone.id)

    @cached_property
    def stack_figures(self) -> tuple[Figure, ...]:
        """Figures of the stack."""
        from ribpatch.core.laminate.figures import stack_figures

        zone, shelf = self.zone, self.shelf
        replaced = {f"{zone.id}.{key}": n for n, key in enumerate(("skin.thickness", "face.thickness", "pit.deepest"))}
        old = max((f for f in self.opening_figures if f.id in replaced), key=lambda f: replaced[f.id])
        return stack_figures(zone.scheme, self.patch.stack, old, shelf, zone.id)

    @cached_property
    def comparison_figures(self) -> tuple[Figure, ...]:
        """Figures of the new laminate beside the old one."""
        from ribpatch.core.laminate.comparison_figures import comparison_figures

        return (
            comparison_figures(self.comparison, self.patch.stack, self.shelf, self.zone.id) if self.comparison else ()
        )

    @cached_property
    def bond_figures(self) -> tuple[Figure, ...]:
        """Figures of the bond along the scarf."""
        from ribpatch.core.patch.bonding.figures import bond_figures

        return bond_figures(self.joint, self.zone.scheme, self.shelf, self.zone.id) if self.joint else ()

    @cached_property
    def supply_figures(self) -> tuple[Figure, ...]:
        """Figures of what is used, weighs and costs."""
        from ribpatch.core.supply.figures import needs_figures
        from ribpatch.core.supply.shopping import cost_figures

        return (
            *needs_figures(self.zone, self.patch, self.needs, self.air, self.shelf, self.zone.id),
            *cost_figures(self.items, self.shelf, self.zone.id),
        )

    @cached_property
    def figures(self) -> tuple[Figure, ...]:
        """Every figure of the zone but those of its strength, which are worked out where they are looked at."""
        return tuple(figure for group in GROUPS for figure in getattr(self, group))

    def figure(self, key: str) -> Figure | None:
        """The figure of an id without the zone's prefix; only as much is worked out as leads to it."""
        wanted = f"{self.zone.id}.{key}"
        if "by_id" in self.__dict__ and not key.startswith("prove."):
            return self.by_id.get(key)
        groups = GROUPS_OF.get(key) or GROUPS_OF.get(key.partition(".")[0], GROUPS)
        return next((found for group in groups if (found := _named(getattr(self, group), wanted)) is not None), None)

    @cached_property
    def by_id(self) -> dict[str, Figure]:
        """Figures by their id without the zone's prefix."""
        return {f.id.removeprefix(f"{self.zone.id}."): f for f in self.figures}


JOB_KEYS = ("boat.", "air.", "job.", "cost.")


def _named(figures: tuple[Figure, ...], identity: str) -> Figure | None:
    return next((f for f in figures if f.id == identity), None)


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

        return with_notes(summed(z.items for z in self.zones), self.shelf, self.system)

    @cached_property
    def boat_figures(self) -> tuple[Figure, ...]:
        """Figures of the boat and the shed."""
        return boat_figures(self.job.boat, self.job.air, self.shelf)

    @cached_property
    def totals(self) -> tuple[Figure, ...]:
        """Figures of the boat, the shed and the whole job."""
        from ribpatch.core.afloat import afloat_figures
        from ribpatch.core.supply.shopping import cost_figures

        return (
            *self.boat_figures,
            *job_totals((z.zone.name, z.by_id) for z in self.zones),
            *afloat_figures(self.job.boat, self.changes, self.shelf),
            *cost_figures(self.items, self.shelf, ""),
        )

    @cached_property
    def changes(self) -> tuple[tuple[str, Change], ...]:
        """Where each zone's repair changes the boat's mass, by the zone's name."""
        from ribpatch.core.afloat import changes_of

        return changes_of(((z.zone, z.patch, z.by_id["weight.net"].value) for z in self.zones), self.job.boat)

    @cached_property
    def rolls(self) -> tuple[Roll, ...]:
        """What is cut off each roll for all zones, and how it lies."""
        from ribpatch.core.supply.cutting import rolls_of

        return rolls_of(((z.zone.name, z.needs.cloth) for z in self.zones), self.shelf.rule("strip.overlap"))

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
        return _named(self.boat_figures, identity) or _named(self.totals, identity)

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
        shelf, fabrics=own.fabrics, resins=own.resins, rules=own.rules, prices=own.prices, coupons=own.coupons
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


@remembered(LEAST_KEPT)
def zone_notices_of(made: ZonePlan, system: System) -> tuple[Notice, ...]:
    """All warnings of a zone as worked out."""
    from ribpatch.core.checks import zone_notices

    return zone_notices(made, system)
