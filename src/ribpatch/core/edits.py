"""Edits: one named pure function from job to job for each thing a user means to do.

Each returns an Edit; the session applies it and puts one step on the undo stack. An edit that does not hold raises a
Fault and changes nothing.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from msgspec import Struct

from ribpatch.core import geometry
from ribpatch.core.errors import BadOutline, ImpossibleMix, InvalidValue, OutOfRange, OutsideZone
from ribpatch.core.facts import restated
from ribpatch.core.fields import Path, set_at, spec_of
from ribpatch.core.job import BuildUp, CoreLayer, Edge, Fitting, Job, Seam, Skin, StageId, Zone
from ribpatch.core.laminate.stack import plies_for, stack_up
from ribpatch.core.quantity import parse
from ribpatch.core.record import evolve, evolve_in
from ribpatch.core.references import rule_fault
from ribpatch.core.scheme import MOST_PLIES, Repeat, Stack
from ribpatch.core.text import lines_of, parts_of
from ribpatch.core.units import Kind, Measure, System, shown, usual

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable

    from ribpatch.core.facts import Fact
    from ribpatch.core.geometry import Point, Ring
    from ribpatch.core.materials.records import Fabric, Price, Resin, Rule
    from ribpatch.core.materials.shelf import Shelf


LEAST_SIZE, MOST_SIZE = 0.02, 60.0  # m, of an outline
# What is put where none was stated: a small launch's hand-laid skin of two or three plies, half an inch of core.
USUAL_OUTER, USUAL_CORE = usual(0.003), usual(0.012)


class Edit(Struct, frozen=True):
    """A named step."""

    name: str
    change: Callable[[Job], Job]


def next_id(prefix: str, taken: Iterable[str]) -> str:
    """The next free id like ``r12``: stable under undo, since it follows from the job alone."""
    return f"{prefix}{max((number_in(t, prefix) for t in taken), default=0) + 1}"


def number_in(identity: str, prefix: str) -> int:
    """The number of an id like ``r12``; 0 where it is of another make."""
    number = identity[len(prefix) :]
    return int(number) if identity.startswith(prefix) and number.isdigit() else 0


def set_value(path: Path, value: object) -> Edit:
    """Set any field of the table in ``fields``."""

    def change(job: Job) -> Job:
        made = set_at(job, path, value)
        if path[-2:] == ("access", "side"):
            made = set_at(made, (*path[:-1], "chosen"), True)
        if path[0] != "zones":
            return made
        before = {z.id: z for z in job.zones}
        return evolve(made, zones=tuple(z if before[z.id] is z else restated(before[z.id], z) for z in made.zones))

    return Edit(f"set {spec_of(path).name.lower()}", change)


def in_zone(name: str, zone: str, change: Callable[[Zone], Zone]) -> Edit:
    """An edit of one zone, for other modules of edits."""

    def apply(job: Job) -> Job:
        return evolve(job, zones=tuple(restated(z, change(z)) if z.id == zone else z for z in job.zones))

    return Edit(name, apply)


# ---- zones -----------------------------------------------------------------------------------------------------


def add_zone(zone: Zone) -> Edit:
    """Add a zone at the end."""
    return Edit(f"add zone {zone.name}", lambda job: evolve(job, zones=(*job.zones, zone)))


def remove_zone(zone: str) -> Edit:
    """Remove a zone with all its readings; undo brings it back."""
    return Edit("delete zone", lambda job: evolve(job, zones=tuple(z for z in job.zones if z.id != zone)))


def set_done(zone: Zone, stage: StageId, done: bool) -> Edit:
    """Say that a stage of a zone is done for now, or open again."""
    kept = tuple(s for s in zone.done if s != stage)
    change = (*kept, stage) if done else kept
    return in_zone(f"{stage} {'done for now' if done else 'open again'}", zone.id, lambda z: evolve(z, done=change))


def set_outline(zone: str, ring: Ring) -> Edit:
    """Replace a zone's outline."""
    geometry.check_ring(ring, "Outline")
    return in_zone("change outline", zone, lambda z: evolve(z, outline=ring))


def set_size(zone: str, axis: int, size: Measure) -> Edit:
    """Stretch a zone's outline to a measured length (axis 0) or width (1), m; what is assumed to stand on it goes with
    it. The size counts as stated even where it is the one that was assumed.
    """
    if not LEAST_SIZE <= size.si <= MOST_SIZE:
        limits = shown(LEAST_SIZE, Kind.SIZE), shown(MOST_SIZE, Kind.LENGTH)
        raise OutOfRange(("Length", "Width")[axis], value=shown(size.si, Kind.SIZE), low=limits[0], high=limits[1])

    def change(z: Zone) -> Zone:
        x0, y0, x1, y1 = geometry.polygon_of(z.outline).bounds
        low, high = ((x0, x1), (y0, y1))[axis]
        scale = size.si / (high - low)

        def moved(at: float) -> float:
            return low + (at - low) * scale

        ring = tuple((moved(x), y) if axis == 0 else (x, moved(y)) for x, y in z.outline)
        fittings = z.fittings
        if "fittings" in z.assumed:
            name = ("x", "y")[axis]
            fittings = tuple(evolve(f, **{name: moved(getattr(f, name))}) for f in fittings)
        kept = tuple(a for a in z.assumed if a != ("length", "width")[axis])
        return evolve(z, outline=ring, fittings=fittings, assumed=kept)

    return in_zone(("measure the length", "measure the width")[axis], zone, change)


def take_as_assumed(fact: Fact, zone: str, system: System) -> Edit:
    """State that something assumed is so: it was looked at, and found right."""
    name = f"{fact.name} is so"
    if fact.value is not None and fact.kind is not None and fact.path:
        return Edit(
            name, set_value(fact.path, Measure(si=fact.value, typed=shown(fact.value, fact.kind, system))).change
        )
    return in_zone(name, zone, lambda z: evolve(z, assumed=tuple(a for a in z.assumed if a != fact.key)))


def take_all_as_assumed(facts: Iterable[Fact], zone: str, system: System) -> Edit:
    """State that everything assumed is so, as one step."""
    steps = tuple(take_as_assumed(fact, zone, system) for fact in facts if fact.assumed)

    def change(job: Job) -> Job:
        for step in steps:
            job = step.change(job)
        return job

    return Edit("all the rest is so", change)


def set_build_core(zone: str, core: str | None, thickness: Measure | None) -> Edit:
    """Set or remove the original core. Without one the panel is solid laminate, with no inner skin."""

    def change(z: Zone) -> Zone:
        layer = CoreLayer(core=core, thickness=thickness or USUAL_CORE) if core else None
        inner = z.build.inner
        if layer and inner is None:
            inner = Skin(thickness=z.build.outer.thickness or USUAL_OUTER)
        return evolve(z, build=BuildUp(outer=z.build.outer, core=layer, inner=inner if layer else None))

    return in_zone("change original core", zone, change)


def set_skin_plies(zone: str, lines: Stack, name: str = "change plies of the old skin") -> Edit:
    """Say what plies the original outer skin is made of; a measured thickness stays beside them and goes first."""
    return in_zone(name, zone, lambda z: evolve(z, build=evolve(z.build, outer=with_plies(z.build.outer, lines))))


def in_skin(zone: Zone, name: str, **changes: object) -> Edit:
    """Change what is known of the old skin that is rebuilt: its era, counted plies, a burn-off."""
    which = "inner" if zone.rebuilt_skin is zone.build.inner else "outer"

    def change(z: Zone) -> Zone:
        skin, rest = getattr(z.build, which), dict(changes)
        if "plies" in rest:
            skin = with_plies(skin, rest.pop("plies"))
        return evolve(z, build=evolve(z.build, **{which: evolve(skin, **rest)}))

    return in_zone(name, zone.id, change)


def with_plies(skin: Skin, lines: object) -> Skin:
    """The skin with its plies counted: they take the place of a thickness that was only a default; without plies one is
    needed. Era and burn-off stay."""
    measured = skin.thickness if skin.thickness is not None and skin.thickness.typed else None
    thickness = measured if lines else measured or skin.thickness or Measure(si=0.003)
    return evolve(skin, thickness=thickness, plies=lines)


def add_fitting(zone: str, fitting: Fitting) -> Edit:
    """Add a fitting to a zone."""
    return in_zone(f"add {fitting.name}", zone, lambda z: evolve(z, fittings=(*z.fittings, fitting)))


def remove_fitting(zone: str, fitting: str) -> Edit:
    """Remove a fitting."""
    return in_zone(
        "delete fitting", zone, lambda z: evolve(z, fittings=tuple(f for f in z.fittings if f.id != fitting))
    )


def add_seam(zone: str, seam: Seam) -> Edit:
    """Add a seam, frame or core joint to a zone."""
    return in_zone(f"add {seam.name}", zone, lambda z: evolve(z, seams=(*z.seams, seam)))


def remove_seam(zone: str, seam: str) -> Edit:
    """Remove a seam."""
    return in_zone("delete seam", zone, lambda z: evolve(z, seams=tuple(s for s in z.seams if s.id != seam)))


def set_edge(zone: str, edge: Edge) -> Edit:
    """Name what lies along a side of the outline."""

    def change(z: Zone) -> Zone:
        kept = tuple(e for e in z.edges if e.side != edge.side)
        return evolve(z, edges=tuple(sorted((*kept, edge), key=lambda e: e.side)))

    return in_zone(f"name edge {edge.name}", zone, change)


def remove_edge(zone: str, side: int) -> Edit:
    """Forget what lies along a side of the outline."""
    return in_zone("delete edge", zone, lambda z: evolve(z, edges=tuple(e for e in z.edges if e.side != side)))


# ---- outlines drawn by hand ------------------------------------------------------------------------------------


def draw_extent(zone: str, rings: tuple[Ring, ...] | None) -> Edit:
    """Draw the extent by hand, rings in m, or (None) go back to the readings."""
    name = "draw the extent" if rings is not None else "take the extent from the readings"

    def change(z: Zone) -> Zone:
        _check_drawn(z, rings, "the extent")
        return evolve(z, survey=evolve(z.survey, drawn=rings))

    return in_zone(name, zone, change)


def draw_cut(zone: str, rings: tuple[Ring, ...] | None) -> Edit:
    """Draw the cut line by hand, rings in m, or (None) go back to the rule."""
    name = "draw the cut line" if rings is not None else "take the cut line from the rule"

    def change(z: Zone) -> Zone:
        _check_drawn(z, rings, "the cut line")
        return evolve(z, scheme=evolve_in(z.scheme, "cut", drawn=rings))

    return in_zone(name, zone, change)


def _check_drawn(zone: Zone, rings: tuple[Ring, ...] | None, what: str) -> None:
    for ring in rings or ():
        geometry.check_ring(ring, what)
        if not geometry.polygon_of(zone.outline).intersects(geometry.polygon_of(ring)):
            raise OutsideZone(zone.name, what=what)


# ---- scheme ----------------------------------------------------------------------------------------------------


def set_plies(zone: str, lines: Stack, name: str = "change plies") -> Edit:
    """Replace the stack."""
    return in_zone(name, zone, lambda z: evolve(z, scheme=evolve_in(z.scheme, "laminate", plies=lines)))


def fill_to_thickness(zone: Zone, wanted: float, shelf: Shelf) -> Edit:
    """Count out the last fabric of the stack so that it reaches ``wanted`` m with the fewest plies."""
    lines, scheme = zone.scheme.laminate.plies, zone.scheme
    if not lines:
        raise InvalidValue("Plies", reason="add a ply first; its fabric is then counted up to the thickness")
    last = lines[-1]
    counted = "times" if isinstance(last, Repeat) else "count"
    below = stack_up(lines[:-1], scheme.resin.main, scheme.laying.process, shelf).thickness
    one = stack_up((evolve(last, **{counted: 1}),), scheme.resin.main, scheme.laying.process, shelf).thickness
    count = min(MOST_PLIES, max(1, plies_for(wanted - below, one)))
    return set_plies(zone.id, (*lines[:-1], evolve(last, **{counted: count})), "fill to thickness")


def set_core(zone: str, core: str | None) -> Edit:
    """Choose the new core; its thickness starts as the old core's less the bedding."""

    def change(z: Zone) -> Zone:
        thickness = z.scheme.core.thickness
        if core and thickness is None:
            old = z.build.core.thickness.si if z.build.core else USUAL_CORE.si
            thickness = Measure(si=max(old - z.scheme.core.bedding.si, 0.001))
        return evolve(z, scheme=evolve_in(z.scheme, "core", material=core, thickness=thickness))

    return in_zone("choose new core" if core else "keep the old core", zone, change)


# ---- own materials, rules, prices ------------------------------------------------------------------------------


def _put(items: tuple[Any, ...], item: Any) -> tuple[Any, ...]:
    kept = tuple(item if i.id == item.id else i for i in items)
    return kept if item in kept else (*kept, item)


def add_fabric(fabric: Fabric) -> Edit:
    """Put a fabric on this job's shelf."""
    return Edit(
        f"add fabric {fabric.code}", lambda job: evolve(job, own=evolve(job.own, fabrics=_put(job.own.fabrics, fabric)))
    )


def set_mix(resin: Resin, resin_parts: float, hardener_parts: float) -> Edit:
    """Set a resin's mix by mass for this job; the mix by volume follows from the densities."""
    if not (resin_parts > 0 and hardener_parts > 0):
        raise ImpossibleMix(
            "Mix by mass", resin=resin.name, resin_parts=f"{resin_parts:g}", hardener_parts=f"{hardener_parts:g}"
        )
    volume = (resin_parts / hardener_parts) * resin.hardener_density / resin.resin_density
    own = evolve(
        resin, mass_parts=(resin_parts, hardener_parts), volume_parts=(volume, 1.0), reason="mix set for this job"
    )
    return Edit("set mix", lambda job: evolve(job, own=evolve(job.own, resins=_put(job.own.resins, own))))


def put_own_resin(resin: Resin, name: str) -> Edit:
    """Put a resin of the user's own over the one of its id, for this job."""
    return Edit(name, lambda job: evolve(job, own=evolve(job.own, resins=_put(job.own.resins, resin))))


def set_price(price: Price) -> Edit:
    """Set a price for this job."""
    return Edit(
        f"set price of {price.name}", lambda job: evolve(job, own=evolve(job.own, prices=_put(job.own.prices, price)))
    )


def set_rule(rule: Rule, value: float) -> Edit:
    """Set a rule for this job, SI, within its limits."""
    reason = rule_fault(rule, value)
    if reason:
        raise InvalidValue(rule.name, reason=reason)
    own = evolve(rule, value=value, reason="set for this job")
    return Edit(f"set {rule.name}", lambda job: evolve(job, own=evolve(job.own, rules=_put(job.own.rules, own))))


def outline_from_text(text: str, system: System = "metric") -> Ring:
    """Corners from typed or pasted text: two numbers a line or a pair, in mm (or inches) unless a unit is given. Raises
    Fault.
    """
    ring: list[tuple[float, float]] = []
    for number, line in enumerate(lines_of(text), 1):
        words = parts_of(line)
        if len(words) != 2:
            raise BadOutline(
                f"corner {number}",
                reason=f"“{line.strip()}” is not two numbers",
                advice="Write x and y, like 250 120; with a comma between where a size holds a space.",
            )
        x, y = (parse(word, Kind.SIZE, system).measure.si for word in words)
        ring.append((x, y))
    if len(ring) > 1 and ring[0] == ring[-1]:
        ring.pop()
    geometry.check_ring(tuple(ring))
    return tuple(ring)


def path_from_text(text: str, system: System = "metric") -> tuple[Point, ...]:
    """Points of a run on the boat from typed text: two lengths a line. Empty text is no path. Raises Fault."""
    points: list[Point] = []
    for number, line in enumerate(lines_of(text), 1):
        parts = parts_of(line)
        if len(parts) != 2:
            raise BadOutline(
                f"point {number}",
                reason=f"“{line.strip()}” is not two lengths",
                advice="Write the distance from the stern and to port, like 7.2 m, 0.9 m.",
            )
        x, y = (parse(part, Kind.LENGTH, system).measure.si for part in parts)
        points.append((x, y))
    if len(points) == 1:
        raise BadOutline(
            "path", reason="a path needs two points or more", advice="Add the other end, or leave it empty."
        )
    return tuple(points)
