"""Which figures lean on what is only assumed: by group, everything that a figure of it may be worked out from.

A group names more rather than less: a figure is never told as known that would change with an assumed value.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from ribpatch.core.facts import air_facts, boat_facts, zone_facts

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ribpatch.core.facts import Fact
    from ribpatch.core.figure import Figure
    from ribpatch.core.job import Boat, Job, ShedAir, Zone

_OUTLINE = ("length", "width")
_SKINS = ("outer", "inner")
_BUILD = (*_SKINS, "core", "core.thickness")
_CUT = (*_OUTLINE, *_BUILD, "fittings", "depth")
_AIR = ("air.temperature", "air.humidity")
_BOAT = ("boat.length", "boat.waterline", "boat.beam", "boat.depth", "boat.displacement")
# What the figures of each group of a zone may depend on.
GROUP_FACTS: dict[str, tuple[str, ...]] = {
    "survey_figures": (*_OUTLINE, "fittings"),
    "kind_figures": (*_OUTLINE, "fittings"),
    "cause_figures": _CUT,
    "opening_figures": _CUT,
    "stack_figures": _CUT,
    "comparison_figures": _CUT,
    "bond_figures": _CUT,
    "prove_figures": (*_CUT, "station", "height", *_BOAT),
    "supply_figures": (*_CUT, *_AIR),
}


def assumed_in(zone: Zone, air: ShedAir, boat: Boat) -> tuple[Fact, ...]:
    """Everything assumed that a zone's figures may lean on."""
    return tuple(f for f in (*zone_facts(zone), *air_facts(air), *boat_facts(boat)) if f.assumed)


def leaning(figures: tuple[Figure, ...], group: str, assumed: tuple[Fact, ...]) -> tuple[Figure, ...]:
    """The figures of a zone's group, each with the names of the assumed facts that it may lean on."""
    wanted = GROUP_FACTS[group]
    names = tuple(f.name for f in assumed if f.key in wanted)
    return tuple(replace(f, leans=names) for f in figures) if names and figures else figures


def boat_leaning(figures: Iterable[Figure], boat: Boat, air: ShedAir) -> tuple[Figure, ...]:
    """Figures of the boat and her shed: each leans on the fact of its own name, what follows from air on the air."""
    assumed = {f.key: f.name for f in (*boat_facts(boat), *air_facts(air)) if f.assumed}
    if not assumed:
        return tuple(figures)
    air_names = tuple(name for key, name in assumed.items() if key.startswith("air."))
    found = []
    for figure in figures:
        own = (assumed[figure.id],) if figure.id in assumed else ()
        names = own or (air_names if figure.id.startswith("air.") and figure.id not in _AIR else ())
        found.append(replace(figure, leans=names) if names else figure)
    return tuple(found)


def job_leaning(figures: tuple[Figure, ...], job: Job) -> tuple[Figure, ...]:
    """Sums over the zones: each leans on whatever is assumed of the boat, her shed or any zone."""
    facts = (*boat_facts(job.boat), *air_facts(job.air), *(f for z in job.zones for f in zone_facts(z)))
    names = tuple(dict.fromkeys(f.name for f in facts if f.assumed))
    return tuple(replace(f, leans=names) for f in figures) if names else figures
