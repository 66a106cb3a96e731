"""Every value that a person can set: its place in the job, its name, its kind and what it is for.

A place is a dotted path; ``*`` stands for the id of a zone, fitting or the like. The window builds its fields, and
edits and messages take their names, from this table only.
"""

from __future__ import annotations

from typing import Any

from msgspec import Struct

from ribpatch.core.errors import Fault, ManyFaults, UnknownItem
from ribpatch.core.job import Job
from ribpatch.core.record import Record, evolve
from ribpatch.core.units import Kind

Path = tuple[str, ...]


class FieldSpec(Struct, frozen=True):
    """One settable value. ``kind`` None is text or a choice."""

    name: str
    kind: Kind | None = None
    help: str = ""
    optional: bool = False
    empty: str = "not measured"
    hint: str = ""  # what an empty line stands for
    dated: bool = False  # a day, typed and shown in the order of the region


_Z, _S = "zones.*.", "zones.*.scheme."
_P = _Z + "proof."
_PROOF: dict[str, FieldSpec] = {
    **{_P + f"span.{side}": FieldSpec(f"Edge, {side}", optional=True) for side in ("left", "right", "bottom", "top")},
    _P + "span.length": FieldSpec(
        "Span along", Kind.SIZE, "Between the supports, along the zone.", optional=True, empty="as the outline"
    ),
    _P + "span.width": FieldSpec("Span across", Kind.SIZE, "", optional=True, empty="as the outline"),
    _P + "span.outline": FieldSpec("Outline as"),
    _P + "loads.person": FieldSpec("One person", Kind.FORCE, "Standing on both feet, 100 mm square."),
    _P + "loads.jump": FieldSpec("Landing", Kind.RATIO, "How many times the standing load a landing is."),
    _P + "loads.pressure": FieldSpec(
        "Pressure", Kind.PRESSURE, "Even, from outside.", optional=True, empty="by the rule"
    ),
    _P + "loads.lever": FieldSpec("Line over the panel", Kind.SIZE, "How high over the panel a fitting is pulled."),
    _P + "loads.lift": FieldSpec("Line rises by", Kind.ANGLE),
    _P + "loads.limit": FieldSpec(
        "Deflection: span over", Kind.RATIO, "Under a person or the pressure.", optional=True, empty="by the rule"
    ),
    _P + "left": FieldSpec(
        "Stiffness left", Kind.PERCENT, "Of the core where it is bad.", optional=True, empty="by the damage"
    ),
    _P + "engine.power": FieldSpec("Rated power", Kind.POWER),
    _P + "engine.mass": FieldSpec("Engine mass", Kind.MASS),
    _P + "engine.overhang": FieldSpec("Overhang", Kind.SIZE, "From the clamp to the engine's centre of mass."),
    _P + "engine.setback": FieldSpec("Setback bracket", Kind.SIZE, "How far it holds the engine off the transom."),
    _P + "engine.bracket_mass": FieldSpec("Bracket's mass", Kind.MASS),
    _P + "engine.bracket_raise": FieldSpec(
        "Engine raised by",
        Kind.SIZE,
        "How far the clamp sits over the middle of the bracket's plate; less than 0: lower.",
    ),
    _P + "well.width": FieldSpec("Well, between its sides", Kind.SIZE),
    _P + "well.length": FieldSpec(
        "Well, forward", Kind.SIZE, "From the transom to the bulkhead or deck that it ends at."
    ),
    _P + "well.floor": FieldSpec("Well's floor", Kind.SIZE, "Over the transom's lowest edge."),
    _P + "well.wall": FieldSpec("Well's thickness", Kind.SIZE, "Laminate of its floor and sides."),
    _P + "well.leg": FieldSpec("Well's tabbing", Kind.SIZE, "Leg on each face."),
    _P + "well.x": FieldSpec("Well's middle", Kind.SIZE, "", optional=True, empty="in the middle"),
    _P + "engine.thrust_below": FieldSpec("Thrust line below the clamp", Kind.SIZE),
    _P + "engine.trim": FieldSpec("Trim angle", Kind.ANGLE),
    _P + "engine.thrust": FieldSpec("Thrust", Kind.FORCE, "", optional=True, empty="from the power"),
    _P + "engine.height": FieldSpec(
        "Clamp's middle", Kind.SIZE, "Over the transom's lowest edge.", optional=True, empty="at its top"
    ),
    _P + "engine.clamp_width": FieldSpec("Clamp width", Kind.SIZE),
    _P + "engine.clamp_height": FieldSpec("Clamp height", Kind.SIZE),
    _P + "engine.bolt": FieldSpec("Bolt", Kind.SIZE),
    _P + "engine.bolts": FieldSpec("Bolts", Kind.COUNT),
    _P + "engine.washer": FieldSpec("Washer", Kind.SIZE),
    _P + "run.span": FieldSpec("Span", Kind.SIZE, "Between supports.", optional=True, empty="the whole run"),
    _P + "run.first": FieldSpec("First end"),
    _P + "run.last": FieldSpec("Last end"),
    _P + "run.spacing": FieldSpec("Spacing", Kind.SIZE, "From one to the next."),
    _P + "run.plating": FieldSpec("Plating", Kind.SIZE, "Of the hull it stands on.", optional=True),
    _P + "run.height": FieldSpec("Height", Kind.SIZE, "", optional=True, empty="as the zone"),
    _P + "run.crown": FieldSpec("Crown", Kind.SIZE, "", optional=True, empty="core and walls"),
    _P + "run.flange": FieldSpec("Flange", Kind.SIZE, "Each side, on the plating."),
    _P + "run.mass": FieldSpec("Mass on it", Kind.MASS, "", optional=True, empty="none"),
    _P + "run.factor": FieldSpec("Pounding", Kind.RATIO, "How many times its weight a mass counts in a seaway."),
    _P + "run.counted": FieldSpec("The core"),
    _P + "run.limber": FieldSpec("Limber hole", Kind.SIZE, "Height of the hole at the foot."),
    _P + "run.prop": FieldSpec("Post under it at", Kind.SIZE, "From its first end.", optional=True, empty="none"),
    _P + "run.kind": FieldSpec("Shape"),
    _S + "support.post": FieldSpec(
        "Beam on posts at", Kind.SIZE, "Across the run, bolted to what stands; from its first end.", True, "none"
    ),
    _S + "support.gives": FieldSpec("Posts give", Kind.SIZE, "Under 1,000 N on them; none where they stand firm."),
    _S + "support.timber.span": FieldSpec("Beam, between posts", Kind.SIZE),
    _S + "support.timber.width": FieldSpec("Beam's width", Kind.SIZE),
    _S + "support.timber.height": FieldSpec("Beam's height", Kind.SIZE),
    _S + "support.sister": FieldSpec(
        "Sister strip", Kind.SIZE, "A strip of the run's laminate beside it, this thick.", True, "none"
    ),
    _P + "run.notch": FieldSpec("Notch in the crown", Kind.SIZE, "How deep.", optional=True, empty="none"),
    _P + "run.notch_at": FieldSpec("Notch at", Kind.SIZE, "From its first end.", optional=True, empty="the middle"),
    _P + "run.scarfed": FieldSpec("Splice", Kind.RATIO, "Taper of a scarfed splice.", optional=True, empty="none"),
    _P + "trial.force": FieldSpec("Test load", Kind.FORCE),
    _P + "trial.kind": FieldSpec("Test"),
    _P + "trial.pad": FieldSpec("On a square of", Kind.SIZE),
    _P + "trial.before": FieldSpec("Read before", Kind.SIZE, "", optional=True, empty="not read"),
    _P + "trial.after": FieldSpec("Read after", Kind.SIZE, "", optional=True, empty="not read"),
    _P + "trial.heard": FieldSpec("Noise"),
    _P + "flexes.*.force": FieldSpec("Push", Kind.FORCE),
    _P + "flexes.*.read": FieldSpec("Read", Kind.SIZE),
    **{
        place + name: spec
        for place in (_P + "members.*.", _S + "members.*.")
        for name, spec in {
            "name": FieldSpec("Stiffener"),
            "kind": FieldSpec("Shape"),
            "axis": FieldSpec("Runs"),
            "place": FieldSpec("At", Kind.SIZE),
            "start": FieldSpec("From", Kind.SIZE, optional=True, empty="the edge"),
            "end": FieldSpec("To", Kind.SIZE, optional=True, empty="the edge"),
            "height": FieldSpec("Height", Kind.SIZE),
            "width": FieldSpec("Crown or thickness", Kind.SIZE),
            "wall": FieldSpec("Wall", Kind.SIZE),
            "flange": FieldSpec("Flange", Kind.SIZE),
            "counted": FieldSpec("Filling"),
            "footed": FieldSpec("Foot of a knee"),
        }.items()
    },
}
FIELDS: dict[str, FieldSpec] = {
    "boat.name": FieldSpec("Boat", None, "The boat's name on every sheet."),
    "boat.length": FieldSpec("Length overall", Kind.LENGTH, "From stem to stern without fittings."),
    "boat.waterline": FieldSpec("Waterline length", Kind.LENGTH),
    "boat.beam": FieldSpec("Beam", Kind.LENGTH, "Widest outside breadth of the hull."),
    "boat.depth": FieldSpec("Hull depth", Kind.LENGTH, "From the sheer to the bottom of the hull amidships."),
    "boat.displacement": FieldSpec("Displacement", Kind.LOAD, "The boat's weight as used."),
    "boat.year": FieldSpec("Year built", Kind.COUNT, optional=True, empty="not known"),
    "boat.category": FieldSpec("Design category", None, "A ocean, B offshore, C inshore, D sheltered.", optional=True),
    "boat.use": FieldSpec("Use", None, "What she does: it decides loads and hours."),
    "air.temperature": FieldSpec("Shed temperature", Kind.TEMPERATURE, "Decides working time and cups."),
    "air.humidity": FieldSpec("Relative humidity", Kind.PERCENT),
    "air.surface": FieldSpec("Laminate surface", Kind.TEMPERATURE, "Measured on the part itself.", optional=True),
    "buying.wanted": FieldSpec("Material wanted on", None, "A day: lead times count back from it.", dated=True),
    "timetable.start": FieldSpec("Begin on", None, "A day; today if it is empty.", dated=True),
    "timetable.ordered": FieldSpec(
        "Ordered on", None, "A day: what is short comes its lead time later; taken as there if it is empty.", dated=True
    ),
    "timetable.weeks": FieldSpec("Weeks looked at", Kind.COUNT),
    "timetable.shed_from": FieldSpec("Shed free from", None, "A day; from the beginning if it is empty.", dated=True),
    "timetable.shed_until": FieldSpec("Shed free until", None, "The last day; without end if it is empty.", dated=True),
    "timetable.outdoors": FieldSpec("She lies"),
    "buying.currency": FieldSpec(
        "Currency", None, "The sign that prices are shown with.", hint="as your region has it"
    ),
    "buying.hour": FieldSpec("An hour of work", Kind.MONEY, "What it is charged at.", True, "not charged"),
    "buying.spread": FieldSpec("Estimate off by", Kind.PERCENT, "Either way.", True, "by the rule"),
    "notes": FieldSpec("Notes"),
    _Z + "name": FieldSpec("Zone"),
    _Z + "kind": FieldSpec("Kind"),
    _Z + "place.station": FieldSpec("From the stern", Kind.LENGTH, "To the zone's after edge."),
    _Z + "place.side": FieldSpec("Side"),
    _Z + "place.height": FieldSpec("Height", Kind.LENGTH, "Over the bottom of the hull."),
    _Z + "outline": FieldSpec("Outline"),
    _Z + "falls": FieldSpec("Water runs"),
    _Z + "path": FieldSpec("Path on the boat"),
    _Z + "build.outer.thickness": FieldSpec("Outer skin", Kind.SIZE, "Measured at a hole or cut edge.", optional=True),
    _Z + "build.core.thickness": FieldSpec("Core", Kind.SIZE),
    _Z + "build.core.core": FieldSpec("Core kind"),
    _Z + "build.inner.thickness": FieldSpec("Inner skin", Kind.SIZE, optional=True),
    _Z + "fittings.*.name": FieldSpec("Fitting"),
    _Z + "fittings.*.x": FieldSpec("Fitting x", Kind.SIZE),
    _Z + "fittings.*.y": FieldSpec("Fitting y", Kind.SIZE),
    _Z + "fittings.*.width": FieldSpec("Fitting width or diameter", Kind.SIZE),
    _Z + "fittings.*.height": FieldSpec("Fitting height (0 where round)", Kind.SIZE),
    _Z + "fittings.*.holes": FieldSpec("Fastener holes", Kind.COUNT),
    _Z + "fittings.*.hole": FieldSpec("Hole diameter", Kind.SIZE, optional=True),
    _Z + "fittings.*.sealed": FieldSpec("Sealed"),
    _Z + "fittings.*.slope": FieldSpec(
        "Angle between the faces it bears on", Kind.ANGLE, optional=True, empty="parallel"
    ),
    _Z + "fittings.*.opening": FieldSpec("Bolted on, or a hole"),
    _Z + "fittings.*.pull": FieldSpec(
        "Pull on its bolts", Kind.FORCE, "All bolts together, as it works.", optional=True, empty="not known"
    ),
    _Z + "depths.*.depth": FieldSpec("Depth", Kind.SIZE, "How deep the laminate is bad here, from the side worked on."),
    _S + "pads.*.name": FieldSpec("Reinforcement"),
    _S + "pads.*.x": FieldSpec("Along", Kind.SIZE),
    _S + "pads.*.y": FieldSpec("Across", Kind.SIZE),
    _S + "pads.*.width": FieldSpec("Width", Kind.SIZE, "Or the diameter of a round one."),
    _S + "pads.*.height": FieldSpec("Height", Kind.SIZE, "0 for a round one."),
    _S + "pads.*.step": FieldSpec("Each ply less by", Kind.SIZE),
    _S + "parts.*.name": FieldSpec("Part"),
    _S + "parts.*.length": FieldSpec("Length", Kind.SIZE),
    _S + "parts.*.width": FieldSpec("Width or first leg", Kind.SIZE),
    _S + "parts.*.depth": FieldSpec("Depth or second leg", Kind.SIZE),
    _S + "parts.*.radius": FieldSpec("Inner radius", Kind.SIZE),
    _S + "parts.*.count": FieldSpec("How many", Kind.COUNT),
    _S + "parts.*.former": FieldSpec("Laid on"),
    _S + "parts.*.fixing": FieldSpec("Bonded in with"),
    _Z + "survey.confidence": FieldSpec(
        "Confidence", Kind.PERCENT, "How sure you want to be that no bad place lies outside the extent."
    ),
    _Z + "survey.pitch": FieldSpec("Grid", Kind.SIZE, "Distance between places on the keyboard grid."),
    _Z + "survey.drawn": FieldSpec("Extent"),
    _S + "access.side": FieldSpec("Side to open from"),
    _S + "cut.rule": FieldSpec("Cut back"),
    _S + "cut.margin": FieldSpec("Margin", Kind.SIZE, "Width of sound material to cut past the bad area."),
    _S + "cut.shape": FieldSpec("Shape"),
    _S + "cut.radius": FieldSpec("Corner radius", Kind.SIZE, "A sharp corner raises the stress there."),
    _S + "cut.drawn": FieldSpec("Cut line"),
    _S + "taper.ratio": FieldSpec("Taper ratio", Kind.RATIO, "Length of the taper over the thickness it tapers."),
    _S + "taper.form": FieldSpec("Taper"),
    _S + "bond.factor": FieldSpec(
        "Factor wanted", Kind.RATIO, "How many times over the bond should carry the laminate's design stress."
    ),
    _S + "bond.preparation": FieldSpec("Preparation"),
    _S + "laying.between": FieldSpec("Between plies"),
    _S + "laminate.crown": FieldSpec("Crown", Kind.SIZE, "How far the new laminate may stand proud before fairing."),
    _S + "access.part_depth": FieldSpec("Depth of the damage"),
    _S + "laying.overhead": FieldSpec("Laid overhead"),
    _S + "core.scored": FieldSpec("Core sheet"),
    _S + "core.clamp": FieldSpec("Clamping"),
    _S + "cut.saved": FieldSpec("The skin"),
    _S + "cut.piece": FieldSpec(
        "Longest piece", Kind.SIZE, "Pieces of saved skin are no longer than this and light enough for one person."
    ),
    _Z + "finish.way": FieldSpec("Faired"),
    _Z + "finish.pinholes": FieldSpec("Pinholes", Kind.COUNT, "How many are to be opened and filled."),
    _Z + "finish.system": FieldSpec("Finish", optional=True),
    _S + "resin.later": FieldSpec("Resin put on later", optional=True),
    _S + "resin.bedding": FieldSpec("Resin of beds and putty", optional=True),
    _S + "name": FieldSpec("Scheme"),
    _S + "note": FieldSpec("Note"),
    _S + "laminate.second.taper.ratio": FieldSpec("Taper ratio, other face", Kind.RATIO),
    _S + "laminate.second.share": FieldSpec(
        "Share of the thickness", Kind.PERCENT, "How much of a solid laminate is tapered from the other face."
    ),
    _S + "laminate.backing.width": FieldSpec("Lap under the skin", Kind.SIZE),
    _S + "laminate.tabbing.angle": FieldSpec("Angle between the parts", Kind.ANGLE),
    _S + "laminate.tabbing.radius": FieldSpec("Fillet radius", Kind.SIZE),
    _S + "laminate.tabbing.first": FieldSpec(
        "First leg", Kind.SIZE, "From the fillet's edge to the edge of the first ply."
    ),
    _S + "laminate.tabbing.stagger": FieldSpec(
        "Stagger", Kind.SIZE, "How much further each ply laps than the one under it."
    ),
    _S + "laminate.order": FieldSpec("Order of plies"),
    _S + "laminate.overlap": FieldSpec("Overlap past the taper", Kind.SIZE),
    _S + "laminate.plies": FieldSpec("Plies"),
    **_PROOF,
    _S + "resin.main": FieldSpec("Resin"),
    _S + "resin.vessel": FieldSpec("Worked from"),
    _S + "resin.warmed": FieldSpec(
        "Cans at", Kind.TEMPERATURE, "Where a warm box or a cool place keeps them.", optional=True, empty="as the shed"
    ),
    _S + "laying.process": FieldSpec("Process"),
    _S + "core.material": FieldSpec("New core", optional=True),
    _S + "core.thickness": FieldSpec("New core thickness", Kind.SIZE, optional=True),
    _S + "core.bedding": FieldSpec("Bedding", Kind.SIZE, "Putty between old skin and new core."),
    _S + "resin.putty": FieldSpec("Putty"),
    _S + "laying.peel_ply": FieldSpec("Peel ply"),
    _S + "laminate.target": FieldSpec(
        "Thickness to reach",
        Kind.SIZE,
        "The old skin's where this is left empty.",
        optional=True,
        empty="as the old skin",
    ),
}


_LISTS = ("zones", "fittings", "parts", "pads", "depths", "members", "flexes")


def spec_of(path: Path) -> FieldSpec:
    """The field at a path."""
    pattern = ".".join("*" if i and path[i - 1] in _LISTS else part for i, part in enumerate(path))
    return FIELDS[pattern]


def get_at(record: Any, path: Path) -> Any:
    """The value at a path; an id steps into a tuple of records. None where a part on the way is absent."""
    for part in path:
        if record is None:
            return None
        record = _item(record, part) if isinstance(record, tuple) else getattr(record, part)
    return record


def _item(items: tuple[Any, ...], wanted: str) -> Any:
    for item in items:
        if item.id == wanted:
            return item
    raise UnknownItem(what="item", name=wanted, near="It may have been deleted.")


def set_at(job: Job, path: Path, value: object) -> Job:
    """The job with the value at a path replaced, checked; a Fault names the field as people know it."""
    try:
        changed = _replaced(job, path, value)
    except ManyFaults as fault:
        raise _named(fault.faults[0], path) from None
    except Fault as fault:
        raise _named(fault, path) from None
    assert isinstance(changed, Job)
    return changed


def _named(fault: Fault, path: Path) -> Fault:
    fault.where = spec_of(path).name
    return fault


def _replaced(record: Any, path: Path, value: object) -> Any:
    head, rest = path[0], path[1:]
    if isinstance(record, tuple):
        old = _item(record, head)
        new = _replaced(old, rest, value)
        return tuple(new if item is old else item for item in record)
    assert isinstance(record, Record)
    new = _replaced(getattr(record, head), rest, value) if rest else value
    return evolve(record, **{head: new})
