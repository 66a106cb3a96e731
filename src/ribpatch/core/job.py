"""The job: only what people stated or measured. Nothing derived is kept here.

SI throughout (m, kg, degC, shares 0..1); a Measure keeps the typed text beside its SI value. Outlines and places in a
zone are in metres in the zone's own plane: x along the zone (forward, or across a transom), y to port or up.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from ribpatch.core.finishing import Finish
from ribpatch.core.logged import Logbook
from ribpatch.core.materials.records import Coupon, Fabric, Id, Preparation, Price, Resin, Rule
from ribpatch.core.proof import Proof
from ribpatch.core.ranged import ranged
from ribpatch.core.readings import Coordinate, Photograph, Reading, State, Strike, SurveySession, Text
from ribpatch.core.record import Limits, Record, known
from ribpatch.core.said import Diagnosis
from ribpatch.core.scheme import Ring, Rings, Scheme, Stack, Thickness
from ribpatch.core.stock import MOST_STOCK, Buying, KeptLayout, StockItem
from ribpatch.core.timetable import Timetable
from ribpatch.core.units import Kind, Measure, usual

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

FORMAT: Literal["ribpatch-job"] = "ribpatch-job"
VERSION: Literal[13] = 13

MOST_READINGS = 250_000  # of a job; what opens in a few seconds
MOST_ZONES = 400
MOST_OWN = 1000  # materials, rules or prices of one kind

ZoneKind = Literal[
    "deck panel",
    "sole",
    "hull panel",
    "keel",
    "transom",
    "bulkhead",
    "stringer run",
    "frame",
    "tabbing run",
    "joint run",
    "fastener run",
]
TABBED: tuple[ZoneKind, ...] = ("tabbing run", "joint run")
RUNS: tuple[ZoneKind, ...] = ("stringer run", "frame", "tabbing run", "joint run", "fastener run")
BEAMS: tuple[ZoneKind, ...] = ("stringer run", "frame")  # runs that bend as beams on the bottom
FLAT: tuple[ZoneKind, ...] = ("deck panel", "sole")  # what is walked on
SHELL: tuple[ZoneKind, ...] = ("hull panel", "keel")  # what the water presses
ACROSS: tuple[ZoneKind, ...] = ("transom", "bulkhead", "frame")  # what stands across the boat
Assumed = Literal["length", "width", "core", "fittings"]  # of a zone: size of its outline, kind of core, what is on it
StageId = Literal["boat", "find", "cause", "open", "rebuild", "prove", "order", "days", "log"]
Fall = Literal["", "x-", "x+", "y-", "y+"]
BoatSide = Literal["port", "centre", "starboard"]


class Boat(Record):
    """The boat as a whole."""

    name: Annotated[str, Limits(min_length=1, max_length=120)]
    length: Annotated[Measure, ranged(1.5, 60, Kind.LENGTH)]
    waterline: Annotated[Measure, ranged(1.0, 60, Kind.LENGTH)]
    beam: Annotated[Measure, ranged(0.4, 20, Kind.LENGTH)]
    depth: Annotated[Measure, ranged(0.2, 12, Kind.LENGTH)]
    displacement: Annotated[Measure, ranged(30, 500_000, Kind.LOAD)]
    year: Annotated[int, Limits(ge=1930, le=2100)] | None = None
    category: Literal["A", "B", "C", "D"] | None = None
    use: Text = ""
    kind: Annotated[str, Limits(max_length=40)] = ""  # what kind of craft, as it was begun with

    def check(self) -> None:
        """The waterline cannot be longer than the boat."""
        if self.waterline.si > self.length.si * 1.02:
            raise ValueError("the waterline length is more than the length overall; one of the two is mistyped")


class ShedAir(Record):
    """The air where the work is done."""

    temperature: Annotated[Measure, ranged(-30, 60, Kind.TEMPERATURE)]
    humidity: Annotated[Measure, ranged(0.02, 1, Kind.PERCENT)]
    surface: Annotated[Measure, ranged(-30, 80, Kind.TEMPERATURE)] | None = None


class Place(Record):
    """Where a zone sits: its aft or lower edge's distance from the stern, its side, its height over the keel line."""

    station: Annotated[Measure, ranged(-1, 60, Kind.LENGTH)]
    side: BoatSide = "centre"
    height: Annotated[Measure, ranged(-5, 20, Kind.LENGTH)]


class Fitting(Record):
    """Something fastened in the zone: a round one has height 0 and its diameter as width."""

    id: Id
    name: Annotated[str, Limits(min_length=1, max_length=80)]
    x: Coordinate
    y: Coordinate
    width: Annotated[Measure, ranged(0.002, 20)]
    height: Annotated[Measure, ranged(0, 20)]
    sealed: bool | None = None
    holes: Annotated[int, Limits(ge=0, le=200)] = 0
    hole: Annotated[Measure, ranged(0.001, 0.2)] | None = None
    slope: Annotated[Measure, ranged(0, 45, Kind.ANGLE)] | None = None  # between the faces it bears on
    pull: Annotated[Measure, ranged(0, 500_000, Kind.FORCE)] | None = None  # on all its bolts together
    opening: bool = False  # a hole in the panel, as a hatch is: its sides are free

    @property
    def shape(self) -> BaseGeometry:
        """Its footprint in m."""
        from ribpatch.core import geometry

        return geometry.footprint(self.x, self.y, self.width.si, self.height.si)


class Edge(Record):
    """What lies along one side of the outline (side n runs from corner n to the next)."""

    side: Annotated[int, Limits(ge=0, le=1999)]
    name: Annotated[str, Limits(min_length=1, max_length=80)]
    sealed: bool | None = None


class Seam(Record):
    """A straight line in the zone along which damage runs: a seam of the build, a frame behind, a joint of the core."""

    id: Id
    name: Annotated[str, Limits(min_length=1, max_length=80)]
    x: Coordinate
    y: Coordinate
    to_x: Coordinate
    to_y: Coordinate

    @property
    def ends(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Where it begins and ends, m."""
        return (self.x, self.y), (self.to_x, self.to_y)


class Skin(Record):
    """An original skin: a measured thickness, or its plies (inside first) with their resin.

    Where only the thickness is known the plies follow the custom of an era: the boat's, or the one named here. The
    fibre fraction, by mass, is measured by burning off a piece.
    """

    thickness: Thickness | None = None
    plies: Stack = ()
    resin: Id = "polyester-ortho"
    era: Id | None = None
    fibre_fraction: Annotated[Measure, ranged(0.15, 0.75, Kind.PERCENT)] | None = None

    def check(self) -> None:
        """One of the two must be known."""
        if self.thickness is None and not self.plies:
            raise ValueError("give the skin's thickness or its plies")


class CoreLayer(Record):
    """An original core."""

    core: Id
    thickness: Thickness


class BuildUp(Record):
    """The original build-up, outer skin to inner skin. A solid laminate has only an outer skin."""

    outer: Skin
    core: CoreLayer | None = None
    inner: Skin | None = None


class Survey(Record):
    """Everything read in a zone, in which sessions, and how sure the extent must be."""

    readings: Annotated[tuple[Reading, ...], Limits(max_length=MOST_READINGS)] = ()
    references: Annotated[tuple[Id, ...], Limits(max_length=MOST_READINGS, fail_fast=True)] = ()
    sessions: Annotated[tuple[SurveySession, ...], Limits(max_length=400)] = ()
    photographs: Annotated[tuple[Photograph, ...], Limits(max_length=2000)] = ()
    confidence: Annotated[Measure, ranged(0.5, 0.99, Kind.PERCENT)] = usual(0.9)
    pitch: Annotated[Measure, ranged(0.01, 2)] = usual(0.1)
    drawn: Rings | None = None

    @property
    def one_place(self) -> float:
        """Readings nearer to each other than this, m, are of one place."""
        return 0.3 * self.pitch.si

    def check(self) -> None:
        """Readings, sessions and photographs are told apart by id, and what is referred to is there."""
        ids = {reading.id for reading in self.readings}
        if len(ids) != len(self.readings):
            raise ValueError("two readings carry the same id")
        if not ids.issuperset(self.references):
            raise ValueError("a sound reference names a reading that is not there")
        sessions, pictures = {s.id for s in self.sessions}, {p.id for p in self.photographs}
        if len(sessions) != len(self.sessions) or len(pictures) != len(self.photographs):
            raise ValueError("two sessions or two photographs carry the same id")
        if not sessions.issuperset({r.session for r in self.readings} - {""}):
            raise ValueError("a reading names a session that is not there")
        if not pictures.issuperset(p for r in self.readings for p in r.photographs):
            raise ValueError("a reading names a photograph that is not there")


class HiddenPatch(Record):
    """One patch of the hidden truth of a practice panel."""

    state: State
    ring: Ring


class Practice(Record):
    """A practice panel: its hidden truth by seed, or as drawn, the plugs allowed, and whether it was revealed."""

    seed: Annotated[int, Limits(ge=0, le=2**31)] = 0
    drawn: Annotated[tuple[HiddenPatch, ...], Limits(max_length=100)] = ()
    plugs: Annotated[int, Limits(ge=0, le=100)] = 3
    revealed: bool = False


class DepthPoint(Record):
    """How deep the laminate is bad at a place, measured from the side worked on, m."""

    id: Id
    x: Coordinate
    y: Coordinate
    depth: Annotated[Measure, ranged(0, 0.25)]


class Tick(Record):
    """Something to see to before cutting, seen to, with a note of how."""

    item: Id
    note: Annotated[str, Limits(min_length=3, max_length=400)]


class Zone(Record):
    """One place on the boat that is surveyed and repaired."""

    id: Id
    name: Annotated[str, Limits(min_length=1, max_length=80)]
    kind: ZoneKind
    place: Place
    outline: Ring
    build: BuildUp
    edges: Annotated[tuple[Edge, ...], Limits(max_length=2000)] = ()
    fittings: Annotated[tuple[Fitting, ...], Limits(max_length=400)] = ()
    seams: Annotated[tuple[Seam, ...], Limits(max_length=200)] = ()
    path: Annotated[tuple[tuple[Coordinate, Coordinate], ...], Limits(max_length=200)] = ()  # a run's, on the boat, m
    falls: Fall = ""  # the way that water runs in the zone's plane; empty is as usual for its kind
    survey: Survey = known(Survey)
    diagnosis: Diagnosis = known(Diagnosis)
    practice: Practice | None = None
    depths: Annotated[tuple[DepthPoint, ...], Limits(max_length=2000)] = ()
    ticks: Annotated[tuple[Tick, ...], Limits(max_length=400)] = ()
    proof: Proof = known(Proof)
    finish: Finish = known(Finish)
    scheme: Scheme = known(Scheme)  # the chosen one
    others: Annotated[tuple[Scheme, ...], Limits(max_length=12)] = ()
    wrong: Annotated[str, Limits(max_length=40)] = ""  # what is wrong with it, as it was begun with
    assumed: Annotated[tuple[Assumed, ...], Limits(max_length=4)] = ()  # what nobody has stated or measured yet
    done: Annotated[tuple[StageId, ...], Limits(max_length=9)] = ()  # stages that are done for now

    @property
    def schemes(self) -> tuple[Scheme, ...]:
        """All schemes in the order of their ids, the chosen one among them."""
        return tuple(sorted((self.scheme, *self.others), key=lambda s: (len(s.id), s.id)))

    @property
    def rebuilt_skin(self) -> Skin:
        """The skin that the chosen scheme rebuilds; on a solid laminate there is only one."""
        return (
            self.build.inner
            if self.scheme.access.side == "inside" and self.build.inner is not None
            else self.build.outer
        )

    @property
    def other_skin(self) -> Skin | None:
        """The skin behind the core, or None on a solid laminate."""
        return self.build.outer if self.rebuilt_skin is self.build.inner else self.build.inner

    @property
    def is_run(self) -> bool:
        """Whether the zone is a line along which only the distance matters."""
        return self.kind in RUNS

    @property
    def is_tabbed(self) -> bool:
        """Whether the zone is plies over a corner that tie two parts."""
        return self.kind in TABBED

    @property
    def is_beam(self) -> bool:
        """Whether the zone is a run that bends as a beam on the bottom."""
        return self.kind in BEAMS

    @property
    def is_walked_on(self) -> bool:
        """Whether the zone lies flat and people stand on it."""
        return self.kind in FLAT

    @property
    def is_shell(self) -> bool:
        """Whether the water presses on the zone from outside."""
        return self.kind in SHELL

    @property
    def is_across(self) -> bool:
        """Whether the zone stands across the boat, at one station."""
        return self.kind in ACROSS

    def check(self) -> None:
        """Fittings, seams, schemes, depths and ticks are told apart by id."""
        if len({f.id for f in self.fittings}) != len(self.fittings):
            raise ValueError("two fittings carry the same id")
        if len({s.id for s in self.seams}) != len(self.seams):
            raise ValueError("two seams carry the same id")
        if len({s.id for s in self.schemes}) != len(self.schemes):
            raise ValueError("two schemes carry the same id")
        if len({d.id for d in self.depths}) != len(self.depths):
            raise ValueError("two depths carry the same id")
        if len({t.item for t in self.ticks}) != len(self.ticks):
            raise ValueError("something is ticked twice")
        if len({e.side for e in self.edges}) != len(self.edges):
            raise ValueError("two edges lie along the same side of the outline")


class Own(Record):
    """The user's own materials, rules and prices for this job."""

    fabrics: Annotated[tuple[Fabric, ...], Limits(max_length=MOST_OWN)] = ()
    resins: Annotated[tuple[Resin, ...], Limits(max_length=MOST_OWN)] = ()
    rules: Annotated[tuple[Rule, ...], Limits(max_length=MOST_OWN)] = ()
    prices: Annotated[tuple[Price, ...], Limits(max_length=MOST_OWN)] = ()
    coupons: Annotated[tuple[Coupon, ...], Limits(max_length=400)] = ()
    preparations: Annotated[tuple[Preparation, ...], Limits(max_length=100)] = ()

    def check(self) -> None:
        """Own materials, rules, prices, coupons and preparations are told apart by id."""
        for name in ("fabrics", "resins", "rules", "prices", "coupons", "preparations"):
            ids = [item.id for item in getattr(self, name)]
            if len(set(ids)) != len(ids):
                twice = next(i for i in ids if ids.count(i) > 1)
                raise ValueError(f"two of your own {name} carry the same id, {twice}")


class Job(Record):
    """One boat's repair."""

    format: Literal["ribpatch-job"] = FORMAT
    version: Literal[13] = VERSION
    boat: Boat
    air: ShedAir
    zones: Annotated[tuple[Zone, ...], Limits(max_length=MOST_ZONES)] = ()
    own: Own = known(Own)
    stock: Annotated[tuple[StockItem, ...], Limits(max_length=MOST_STOCK)] = ()
    buying: Buying = known(Buying)
    layouts: Annotated[tuple[KeptLayout, ...], Limits(max_length=200)] = ()
    timetable: Timetable = known(Timetable)
    log: Logbook = known(Logbook)
    notes: Text = ""

    def check(self) -> None:
        """Zones are told apart by id, and so is what is in stock."""
        if len({s.id for s in self.stock}) != len(self.stock):
            raise ValueError("two things in stock carry the same id")
        if len({z.id for z in self.zones}) != len(self.zones):
            raise ValueError("two zones carry the same id")
        if sum(len(z.survey.readings) for z in self.zones) > MOST_READINGS:
            raise ValueError(f"the job holds more than {MOST_READINGS} readings; split it")

    def zone(self, wanted: str) -> Zone:
        """The zone of that id."""
        return next(z for z in self.zones if z.id == wanted)


def member_name(job: Job, member: str) -> str:
    """A photograph or recording as people know it, by its name in the job file."""
    for zone in job.zones:
        for number, photograph in enumerate(zone.survey.photographs, 1):
            if member == f"photographs/{photograph.member}":
                said = f" “{photograph.caption}”" if photograph.caption else ""
                return f"photograph {number}{said} of {zone.name}"
        if any(isinstance(r, Strike) and member == f"recordings/{r.recording}" for r in zone.survey.readings):
            return f"a recording of {zone.name}"
    return "a photograph or recording that the job no longer shows"


def members_of(job: Job) -> frozenset[str]:
    """The photographs and recordings that a job refers to, by their names in the job file."""
    surveys = [zone.survey for zone in job.zones]
    pictures = {f"photographs/{p.member}" for s in surveys for p in s.photographs}
    sounds = {f"recordings/{r.recording}" for s in surveys for r in s.readings if isinstance(r, Strike) and r.recording}
    return frozenset(pictures | sounds)
