"""What is stated of a zone's structure: how it is held and loaded, what stiffens it, what was pressed and read.

SI: m, N, kg, W, degrees; places in the zone's own axes. What is left empty is assumed by the zone's kind, and said so.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ribpatch.core.materials.records import Id
from ribpatch.core.ranged import ranged
from ribpatch.core.readings import Coordinate, Text
from ribpatch.core.record import Limits, Record, known
from ribpatch.core.scheme import Member, Size
from ribpatch.core.units import Kind, Measure, usual

EdgeHold = Literal["free", "supported", "clamped"]
TrialKind = Literal["stand", "jump", "hang", "jack", "bags", "push"]
Force = Annotated[Measure, ranged(1, 1_000_000, Kind.FORCE)]
Deflection = Annotated[Measure, ranged(0, 0.5)]


class Span(Record):
    """The panel between its supports: how each side is held (None is as usual for the kind), and its size.

    ``length`` and ``width`` go before the outline; an outline that is no rectangle is enclosed in one, or holds one.
    """

    left: EdgeHold | None = None
    right: EdgeHold | None = None
    bottom: EdgeHold | None = None
    top: EdgeHold | None = None
    length: Size | None = None
    width: Size | None = None
    outline: Literal["enclosed", "inscribed"] = "enclosed"


class Loads(Record):
    """What acts on the panel: a person, a landing from a jump, the pull on its fittings, pressure."""

    x: Coordinate | None = None
    y: Coordinate | None = None
    person: Force = usual(1000)
    jump: Annotated[Measure, ranged(1, 20, Kind.RATIO)] = usual(3)
    pressure: Annotated[Measure, ranged(0, 1_000_000, Kind.PRESSURE)] | None = None
    lever: Annotated[Measure, ranged(0, 5)] = usual(0.1)
    lift: Annotated[Measure, ranged(0, 90, Kind.ANGLE)] = usual(30)
    limit: Annotated[Measure, ranged(10, 2000, Kind.RATIO)] | None = None


class Engine(Record):
    """An engine on the transom, its bracket and its bolts. The clamp's height counts from the zone's lowest edge.

    With a setback bracket the clamp's width, height and bolts are those of the bracket's plate on the transom;
    ``bracket_raise`` says how far over the plate's middle the engine's clamp sits on the bracket.
    """

    power: Annotated[Measure, ranged(100, 2_000_000, Kind.POWER)]
    mass: Annotated[Measure, ranged(1, 3000, Kind.MASS)]
    overhang: Annotated[Measure, ranged(0, 3)] = usual(0.25)
    setback: Annotated[Measure, ranged(0, 3)] = usual(0.0)
    bracket_mass: Annotated[Measure, ranged(0, 500, Kind.MASS)] = usual(0)
    bracket_raise: Annotated[Measure, ranged(-1, 1)] = usual(0)
    thrust_below: Annotated[Measure, ranged(0, 3)] = usual(0.65)
    trim: Annotated[Measure, ranged(-20, 80, Kind.ANGLE)] = usual(0)
    thrust: Force | None = None
    x: Coordinate | None = None
    height: Annotated[Measure, ranged(0, 5)] | None = None
    clamp_width: Size = usual(0.33)
    clamp_height: Size = usual(0.21)
    bolts: Annotated[int, Limits(ge=2, le=24)] = 4
    bolt: Annotated[Measure, ranged(0.004, 0.05)] = usual(0.0125)
    washer: Annotated[Measure, ranged(0.006, 0.4)] = usual(0.038)


class Well(Record):
    """A motor well or splash box forward of the transom: a floor and two sides that run to what holds their ends.

    ``floor`` counts from the zone's lowest edge; the sides stand from there to the top. ``x`` is its middle.
    """

    width: Size = usual(0.9)
    length: Size = usual(0.5)
    floor: Annotated[Measure, ranged(0, 5)] = usual(0.3)
    wall: Annotated[Measure, ranged(0.001, 0.1)] = usual(0.005)
    leg: Size = usual(0.05)
    x: Coordinate | None = None


class Flex(Record):
    """A push and what a dial read, at a place of the zone."""

    id: Id
    x: Coordinate
    y: Coordinate
    force: Force
    read: Deflection
    pad: Size = usual(0.1)
    note: Text = ""


class Trial(Record):
    """A load test: which, with what, where; what was read before and after the repair."""

    kind: TrialKind = "stand"
    force: Force = usual(1000)
    x: Coordinate | None = None
    y: Coordinate | None = None
    pad: Size = usual(0.1)
    before: Deflection | None = None
    after: Deflection | None = None
    heard: bool = False


class RunLoad(Record):
    """A stringer, frame or beam: its section, its span and what it carries. Ends as a beam's."""

    kind: Literal["hat", "box", "angle", "flat", "I"] = "hat"
    span: Size | None = None
    first: Literal["supported", "clamped"] = "supported"
    last: Literal["supported", "clamped"] = "supported"
    spacing: Size = usual(0.5)
    plating: Annotated[Measure, ranged(0.001, 0.2)] | None = None
    height: Size | None = None
    crown: Size | None = None
    flange: Annotated[Measure, ranged(0, 0.5)] = usual(0.06)
    mass: Annotated[Measure, ranged(0, 20_000, Kind.MASS)] | None = None
    factor: Annotated[Measure, ranged(1, 20, Kind.RATIO)] = usual(3)
    counted: bool = False
    limber: Annotated[Measure, ranged(0.0, 0.3)] = usual(0)
    scarfed: Annotated[Measure, ranged(1, 100, Kind.RATIO)] | None = None
    prop: Coordinate | None = None
    notch: Annotated[Measure, ranged(0.001, 0.5)] | None = None
    notch_at: Coordinate | None = None


class Proof(Record):
    """All that is stated of how a zone is held, loaded and tested."""

    span: Span = known(Span)
    loads: Loads = known(Loads)
    engine: Engine | None = None
    well: Well | None = None
    run: RunLoad = known(RunLoad)
    members: Annotated[tuple[Member, ...], Limits(max_length=12)] = ()  # stiffeners that are there
    left: Annotated[Measure, ranged(0.01, 1, Kind.PERCENT)] | None = None
    flexes: Annotated[tuple[Flex, ...], Limits(max_length=60)] = ()
    trial: Trial = known(Trial)

    def check(self) -> None:
        """Stiffeners and readings are told apart by id."""
        if len({m.id for m in self.members}) != len(self.members):
            raise ValueError("two stiffeners carry the same id")
        if len({f.id for f in self.flexes}) != len(self.flexes):
            raise ValueError("two flex readings carry the same id")
