"""From a job and a shelf to every figure, warning and shape. Pure, and remembered part by part.

A zone whose document did not change (``is``) under the same air and shelf is not worked out again; within a zone the
survey, cut, taper and stack are each remembered by what they depend on.
"""

from __future__ import annotations

from functools import cached_property

from msgspec import Struct

from ribpatch.core.checks import job_notices, zone_notices
from ribpatch.core.diagnosis.zone import cause_figures
from ribpatch.core.errors import Fault
from ribpatch.core.figure import Figure, FigureBook, stated
from ribpatch.core.job import Boat, Job, Own, ShedAir, Zone
from ribpatch.core.laminate.bench import Bench, bench_of, new_core, whole_bench
from ribpatch.core.laminate.bench_figures import bench_figures
from ribpatch.core.laminate.figures import stack_figures
from ribpatch.core.laminate.stack import skin_thickness
from ribpatch.core.materials.shelf import Shelf, merged
from ribpatch.core.memo import remembered
from ribpatch.core.notice import Notice
from ribpatch.core.patch.bond_figures import Joint, bond_figures, joint_of
from ribpatch.core.patch.figures import opening_figures
from ribpatch.core.patch.made_parts import PartMade, part_made
from ribpatch.core.patch.repair import Patch, patch_of
from ribpatch.core.patch.sides import from_above
from ribpatch.core.references import own_faults, raise_all, reference_faults, zone_faults
from ribpatch.core.resin.air import dew_point
from ribpatch.core.supply.figures import needs_figures
from ribpatch.core.supply.needs import Needs, needs_of
from ribpatch.core.supply.shopping import Item, cost_figures, items_of, summed, with_notes
from ribpatch.core.survey.figures import survey_figures
from ribpatch.core.units import Kind, System


class ZonePlan(Struct, frozen=True, eq=False, dict=True):
    """Everything worked out for one zone."""

    zone: Zone
    patch: Patch
    needs: Needs
    items: tuple[Item, ...]
    figures: tuple[Figure, ...]
    bench: Bench | None
    joint: Joint | None
    parts: tuple[PartMade, ...]

    @cached_property
    def by_id(self) -> dict[str, Figure]:
        """Figures by their id without the zone's prefix."""
        return {f.id.removeprefix(f"{self.zone.id}."): f for f in self.figures}


class Plan(Struct, frozen=True, eq=False, dict=True):
    """Everything worked out for a job."""

    job: Job
    shelf: Shelf
    zones: tuple[ZonePlan, ...]
    items: tuple[Item, ...]
    totals: tuple[Figure, ...]
    notices: tuple[Notice, ...]

    @property
    def figures(self) -> tuple[Figure, ...]:
        """Every figure: the job's, then each zone's."""
        return (*self.totals, *(f for z in self.zones for f in z.figures))

    @cached_property
    def by_id(self) -> dict[str, Figure]:
        """Every figure by its id."""
        return {f.id: f for f in self.figures}

    def zone(self, wanted: str) -> ZonePlan:
        """The plan of the zone of that id."""
        return next(z for z in self.zones if z.zone.id == wanted)


@remembered(8)
def job_shelf(shelf: Shelf, own: Own) -> Shelf:
    """The shelf with the job's own materials, rules and prices over it."""
    return merged(
        shelf, fabrics=own.fabrics, resins=own.resins, rules=own.rules, prices=own.prices, coupons=own.coupons
    )


@remembered(8)
def checked_shelf(shipped: Shelf, own: Own) -> Shelf:
    """The job's shelf, once its own materials and rules are found to hold together; raises Fault."""
    shelf = job_shelf(shipped, own)
    raise_all(own_faults(own, shipped, shelf))
    return shelf


def _checked(job: Job, shipped: Shelf) -> Shelf:
    """The job's shelf; where anything that the job names is missing, all of it is raised at once."""
    try:
        shelf = checked_shelf(shipped, job.own)
        for n, zone in enumerate(job.zones):
            zone_checked(zone, shelf, n)
    except Fault:
        raise_all(reference_faults(job, shipped, job_shelf(shipped, job.own)))
        raise
    return shelf


@remembered(1024)
def zone_checked(zone: Zone, shelf: Shelf, number: int) -> bool:
    """True where all that a zone names is there; raises Fault."""
    raise_all(zone_faults(zone, shelf, f"zones.{number}"))
    return True


@remembered(1024)
def zone_plan(zone: Zone, air: ShedAir, year: int | None, shelf: Shelf) -> ZonePlan:
    """Everything worked out for one zone."""
    skin = zone.rebuilt_skin
    patch = patch_of(zone, shelf)
    stack = patch.stack
    scheme = zone.scheme
    parts = tuple(part_made(p, scheme.resin, scheme.process, shelf) for p in scheme.parts)
    needs = needs_of(zone, patch, parts, air.temperature.si, shelf)
    items = items_of(needs)
    read = survey_figures(zone, shelf, zone.id)
    bad = next(f for f in read if f.id == f"{zone.id}.extent.area")
    opened = opening_figures(zone, skin, patch, bad, shelf, zone.id)
    bench = zone_bench(zone, patch, year, shelf)
    joint = joint_of(bench.skin, patch, zone.scheme, shelf) if bench else None
    replaced = {f"{zone.id}.{key}": n for n, key in enumerate(("skin.thickness", "face.thickness", "pit.deepest"))}
    old = max((f for f in opened if f.id in replaced), key=lambda f: replaced[f.id])
    figures = (
        *read,
        *cause_figures(zone, shelf, zone.id),
        *opened,
        *stack_figures(zone.scheme, stack, old, shelf, zone.id),
        *(bench_figures(bench, stack, shelf, zone.id) if bench else ()),
        *(bond_figures(joint, zone.scheme, shelf, zone.id) if joint else ()),
        *needs_figures(zone, patch, needs, air, shelf, zone.id),
        *cost_figures(items, shelf, zone.id),
    )
    return ZonePlan(zone, patch, needs, items, figures, bench, joint, parts)


def zone_bench(zone: Zone, patch: Patch, year: int | None, shelf: Shelf) -> Bench | None:
    """The laminate bench of a zone; None where no plies are chosen yet."""
    scheme, build, skin = zone.scheme, zone.build, zone.rebuilt_skin
    target = scheme.target.si if scheme.target else None
    left = max(skin_thickness(skin, shelf) - patch.pit.deepest, 0.0) if patch.pit else 0.0
    second = patch.second.stack if patch.second and zone.other_skin is None else None
    match = bench_of(patch.stack, scheme.resin, skin, target, left, second, year, shelf)
    if match is None:
        return None
    new = None
    if scheme.core and scheme.core_thickness and build.core and not scheme.part_depth:
        new = new_core(scheme, scheme.core, scheme.core_thickness.si, build.core.thickness.si, from_above(zone), shelf)
    return whole_bench(match, skin, zone.other_skin, build.core, new, year, shelf)


@remembered(4)
def plan(job: Job, shipped: Shelf, system: System = "metric") -> Plan:
    """Everything worked out for a job. ``system`` only chooses the units in the words of warnings."""
    shelf = _checked(job, shipped)
    zones = tuple(zone_plan(zone, job.air, job.boat.year, shelf) for zone in job.zones)
    items = with_notes(summed(z.items for z in zones), shelf, system)
    totals = (*boat_figures(job.boat, job.air, shelf), *_totals(zones), *cost_figures(items, shelf, ""))
    notices = list(job_notices(job, shelf, system))
    for z in zones:
        notices.extend(zone_notices_of(z, job.air, job.boat.year, shelf, system))
    return Plan(job, shelf, zones, items, totals, tuple(notices))


@remembered(1024)
def zone_notices_of(made: ZonePlan, air: ShedAir, year: int | None, shelf: Shelf, system: System) -> tuple[Notice, ...]:
    """All warnings of a zone as worked out."""
    return zone_notices(made.zone, made.patch, made.needs, made.bench, made.joint, air, year, shelf, system)


def boat_figures(boat: Boat, air: ShedAir, shelf: Shelf) -> tuple[Figure, ...]:
    """Figures of the boat and the shed."""
    book = FigureBook("")
    for key, name, measure, kind in (
        ("boat.length", "length overall", boat.length, Kind.LENGTH),
        ("boat.waterline", "waterline length", boat.waterline, Kind.LENGTH),
        ("boat.beam", "beam", boat.beam, Kind.LENGTH),
        ("boat.depth", "hull depth", boat.depth, Kind.LENGTH),
        ("boat.displacement", "displacement", boat.displacement, Kind.LOAD),
    ):
        book.add(key, name, measure.si, kind, "as stated", (stated(name, measure, kind),))
    temperature = stated("shed temperature", air.temperature, Kind.TEMPERATURE, measured=True)
    humidity = stated("relative humidity", air.humidity, Kind.PERCENT, measured=True)
    book.add("air.temperature", "shed temperature", air.temperature.si, Kind.TEMPERATURE, "as measured", (temperature,))
    book.add("air.humidity", "relative humidity", air.humidity.si, Kind.PERCENT, "as measured", (humidity,))
    dew = book.add(
        "air.dew",
        "dew point",
        dew_point(air.temperature.si, air.humidity.si),
        Kind.TEMPERATURE,
        "Magnus formula over water",
        (temperature, humidity),
        source="[5]",
        valid="−45 to 60 °C",
    )
    if air.surface is not None:
        surface = stated("laminate surface", air.surface, Kind.TEMPERATURE, measured=True)
        book.add(
            "air.margin",
            "laminate over dew point",
            air.surface.si - dew.value,
            Kind.DIFFERENCE,
            "laminate surface − dew point; at least the margin is wanted",
            (surface, dew.given(), shelf.given("dew.margin")),
            limit=shelf.rule("dew.margin"),
        )
    return book.figures


_SUMMED = (
    ("cloth.area", "cloth"),
    ("resin.mixed", "resin to mix"),
    ("cup.count", "cups"),
    ("putty.total", "putty"),
    ("core.area", "core to buy"),
    ("weight.off", "weight off"),
    ("weight.on", "weight on"),
    ("weight.net", "net weight"),
    ("cut.area", "cut"),
)


def _totals(zones: tuple[ZonePlan, ...]) -> tuple[Figure, ...]:
    book = FigureBook("job")
    for key, name in _SUMMED:
        parts = [(z, z.by_id[key]) for z in zones if key in z.by_id]
        kind = (
            parts[0][1].kind
            if parts
            else {"cup.count": Kind.COUNT}.get(key, Kind.AREA if key.endswith("area") else Kind.MASS)
        )
        inputs = tuple(f.given(z.zone.name) for z, f in parts)
        book.add(key, name, sum(f.value for _, f in parts), kind, "sum over the zones", inputs)
    return book.figures
