"""What a job and a zone begin with: proportions of a kind of craft, and a part of her true to its kind.

Every value is a proposal without typed text, so that it counts as assumed until somebody states or measures it. They
are rounded to sizes that are read off a tape in the units of the user. SI.
Source: [26] for the basic shell; proportions are judgements, each with its reason in the data.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, TypeVar

from ribpatch.core.begin_shapes import outline_of
from ribpatch.core.edits import next_id
from ribpatch.core.errors import Fault, ManyFaults
from ribpatch.core.geometry import polygon_of
from ribpatch.core.job import (
    Boat,
    BuildUp,
    CoreLayer,
    DepthPoint,
    Edge,
    Fitting,
    Job,
    Place,
    ShedAir,
    Skin,
    Survey,
    Zone,
)
from ribpatch.core.record import Record, built
from ribpatch.core.structure.pressure import size_of
from ribpatch.core.structure.scantlings import basic_shell
from ribpatch.core.units import INCH, POUND, Measure

if TYPE_CHECKING:
    from ribpatch.core.begin_records import Craft, Trouble, TroubleFitting
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.units import System

BOAT_PARTS = ("length", "waterline", "beam", "depth", "displacement")
AIR = {"temperature": Measure(si=18.0), "humidity": Measure(si=0.6)}  # of a shed, until it is measured
R = TypeVar("R", bound=Record)
LEAST_SKIN = 0.0015  # m; thinner is not laid by hand
PITCHES = {"metric": (0.05, 0.1, 0.15, 0.2), "us": (2 * INCH, 4 * INCH, 6 * INCH, 8 * INCH)}
ALONG = 12  # readings along the zone that a first grid is about as fine as
_STEPS = {  # of a length of the boat, of a part, of a thickness (m), of a mass (kg)
    "metric": (0.05, 0.01, 0.0005, 10.0),
    "us": (INCH, INCH / 2, INCH / 32, 25 * POUND),
}


def _round(system: System) -> str:
    return "metric" if system == "metric" else "us"


def _steps(system: System) -> tuple[float, float, float, float]:
    return _STEPS[_round(system)]


def rounded(value: float, step: float) -> Measure:
    """The nearest multiple of a step (both SI), at least one, as an assumed value."""
    return Measure(si=max(round(value / step), 1) * step)


def proposed_boat(craft: Craft, length: float | None, system: System) -> dict[str, Measure]:
    """Length, waterline, beam, hull depth (m) and displacement (kg) of a craft; of a given length where it is known."""
    step, _, _, heavy = _steps(system)
    loa = craft.length if length is None else length
    a, b = craft.beam
    beam = a * loa**b
    depth = craft.depth * beam
    return {
        "length": rounded(loa, step) if length is None else Measure(si=loa),
        "waterline": rounded(min(craft.waterline * loa, loa), step),
        "beam": rounded(beam, step),
        "depth": rounded(depth, step),
        "displacement": rounded(craft.fullness * loa * beam * depth, heavy),
    }


def begun_zone(job: Job, trouble: Trouble, outboard: bool, shelf: Shelf, system: System) -> Zone:
    """A zone for something that is wrong: outline, build-up and fittings usual for such a part of this boat."""
    boat, (coarse, part, _, _) = job.boat, _steps(system)
    station = round(trouble.station * boat.length.si / coarse) * coarse
    ring = outline_of(trouble, boat, station, outboard)
    outline = tuple((round(x / part) * part, round(y / part) * part) for x, y in ring)
    x0, y0, x1, y1 = polygon_of(outline).bounds
    fittings = tuple(
        _fitting(n, f, (x0, y0, x1, y1)) for n, f in enumerate(trouble.fittings, 1) if outboard or not f.outboard
    )
    sides, build = len(outline), _build(trouble, boat, shelf, _steps(system)[2])
    return built(
        Zone,
        id=next_id("z", (z.id for z in job.zones)),
        name=_name(trouble, job),
        kind=trouble.kind,
        place=Place(
            station=Measure(si=station), side=trouble.side, height=rounded(trouble.height * boat.depth.si, coarse)
        ),
        outline=outline,
        build=build,
        fittings=fittings,
        edges=tuple(Edge(side=e.side, name=e.name) for e in trouble.edges if e.side < sides),
        survey=Survey(pitch=Measure(si=_pitch(max(x1 - x0, y1 - y0), system))),
        depths=_depths(trouble, build, (x0, y0, x1, y1), _steps(system)[2]),
        wrong=trouble.id,
        assumed=("length", "width", "core", "fittings"),
    )


def _name(trouble: Trouble, job: Job) -> str:
    """The trouble's name, numbered where the job has it already."""
    taken = {z.name for z in job.zones}
    return next(n for n in (trouble.name, *(f"{trouble.name} {k}" for k in range(2, 1000))) if n not in taken)


def _build(trouble: Trouble, boat: Boat, shelf: Shelf, step: float) -> BuildUp:
    basic = basic_shell(size_of(boat))

    def skin(share: float) -> Skin:
        return Skin(thickness=rounded(max(share * basic, LEAST_SKIN), step))

    if not trouble.core:
        return BuildUp(outer=skin(trouble.outer))
    wanted = max(trouble.core_share * basic, trouble.core_least)
    sheets = shelf.core(trouble.core).thicknesses
    layers = max(1, round(wanted / max(sheets))) if sheets else 1
    thick = layers * min(sheets, key=lambda t: abs(t - wanted / layers)) if sheets else wanted
    core = CoreLayer(core=trouble.core, thickness=Measure(si=thick))
    return BuildUp(outer=skin(trouble.outer), core=core, inner=skin(trouble.inner))


def _depths(
    trouble: Trouble, build: BuildUp, box: tuple[float, float, float, float], step: float
) -> tuple[DepthPoint, ...]:
    """How deep the damage is taken to go, in the middle; none where it goes through."""
    if not trouble.depth or build.outer.thickness is None:
        return ()
    x0, y0, x1, y1 = box
    depth = rounded(trouble.depth * build.outer.thickness.si, step)
    return (DepthPoint(id="d1", x=round((x0 + x1) / 2, 4), y=round((y0 + y1) / 2, 4), depth=depth),)


def _fitting(number: int, fitting: TroubleFitting, box: tuple[float, float, float, float]) -> Fitting:
    x0, y0, x1, y1 = box
    return Fitting(
        id=f"f{number}",
        name=fitting.name,
        x=round(x0 + fitting.x * (x1 - x0), 3),
        y=round(y0 + fitting.y * (y1 - y0), 3),
        width=Measure(si=min(fitting.width, 0.8 * (x1 - x0))),
        height=Measure(si=min(fitting.height, 0.8 * (y1 - y0))),
        holes=fitting.holes,
        hole=Measure(si=fitting.hole) if fitting.holes else None,
    )


def _pitch(length: float, system: System) -> float:
    """A round pitch for the grid of readings, about a dozen along the zone, m."""
    return min(PITCHES[_round(system)], key=lambda p: abs(p - length / ALONG))


def begun_job(craft: Craft, stated: dict[str, dict[str, Any]], system: System) -> Job:
    """A job of a craft: what was stated of ``boat`` and ``air`` by field, and proposals for the rest. Raises Fault."""
    boat, air = dict(stated.get("boat", {})), dict(stated.get("air", {}))
    length = boat.get("length")
    parts = {**proposed_boat(craft, length.si if length is not None else None, system), **boat}
    name = parts.pop("name", "") or craft.name.capitalize()
    made = _part(Boat, "boat", {**parts, "name": name, "kind": craft.id})
    return Job(boat=made, air=_part(ShedAir, "air", {**AIR, **air}))


def _part(model: type[R], group: str, values: dict[str, Any]) -> R:
    """A part of a job; faults name their place in it."""
    try:
        return built(model, **values)
    except ManyFaults as many:
        for fault in many.faults:
            fault.where = f"{group}.{fault.where}" if fault.where else group
        raise
    except Fault as fault:
        fault.where = f"{group}.{fault.where}" if fault.where else group
        raise
