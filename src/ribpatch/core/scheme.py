"""One way of doing a repair, as chosen: side, cut, taper, plies, core, bonds, made parts. SI; nothing derived.

A facing is the way that a stretch of the cut line looks, in the zone's own axes.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from ribpatch.core.materials.records import Id, Process
from ribpatch.core.ranged import ranged
from ribpatch.core.readings import Coordinate, Text
from ribpatch.core.record import Checked, Limits, Record, known
from ribpatch.core.units import Kind, Measure, usual

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ribpatch.core import geometry

MOST_PLIES = 60  # of one line of a stack
Facing = Literal["x-", "x+", "y-", "y+"]
FACINGS: tuple[Facing, ...] = ("x-", "x+", "y-", "y+")
AccessSide = Literal["outside", "inside", "above"]
ACCESS_SIDES: tuple[AccessSide, ...] = ("outside", "inside", "above")


def _ring(ring: geometry.Ring) -> geometry.Ring:
    from ribpatch.core import geometry

    fault = geometry.ring_fault(ring)
    if fault:
        raise ValueError(f"{fault[0]}. {fault[1]}")
    return ring


Ring = Annotated[tuple[tuple[Coordinate, Coordinate], ...], Limits(max_length=2000, fail_fast=True), Checked(_ring)]
Rings = Annotated[tuple[Ring, ...], Limits(max_length=400)]


Thickness = Annotated[Measure, ranged(0.0002, 0.25)]
SCHOOLS = (8.0, 12.0, 20.0)  # taper ratios that are taught: lightly loaded or thick, usual, thin or highly loaded
Ratio = Annotated[Measure, ranged(1, 100, Kind.RATIO)]
Size = Annotated[Measure, ranged(0.001, 20)]


class StackLine(Record):
    """One or more like plies: the angle is from the zone's x axis, degrees."""

    fabric: Id
    count: Annotated[int, Limits(ge=1, le=MOST_PLIES)] = 1
    angle: Annotated[float, Limits(ge=-90, le=90)] = 0.0


class Repeat(Record):
    """A sub-stack laid several times over."""

    times: Annotated[int, Limits(ge=1, le=MOST_PLIES)] = 2
    lines: Annotated[tuple[StackLine, ...], Limits(min_length=1, max_length=60)]


Stack = Annotated[tuple[StackLine | Repeat, ...], Limits(max_length=60, fail_fast=True)]


def unrolled(stack: Iterable[StackLine | Repeat]) -> tuple[StackLine, ...]:
    """The lines of a stack with its sub-stacks written out, deepest first."""
    lines: list[StackLine] = []
    for item in stack:
        lines.extend(item.lines * item.times if isinstance(item, Repeat) else (item,))
    return tuple(lines)


def fabrics_in(stack: Iterable[StackLine | Repeat]) -> tuple[str, ...]:
    """The fabrics of a stack, each once."""
    return tuple(dict.fromkeys(line.fabric for line in unrolled(stack)))


class SideMark(Record):
    """The user's own mark, 0 to 5, of a side under one criterion."""

    side: AccessSide
    criterion: Id
    mark: Annotated[int, Limits(ge=0, le=5)]


class SideMargin(Record):
    """How far to cut past the damage on the stretch that faces one way."""

    facing: Facing
    margin: Annotated[Measure, ranged(0, 2)]


class Cut(Record):
    """How the cut line follows from the extent, or the line that the user drew instead; whether the skin is kept."""

    rule: Literal["margin", "as far again"] = "margin"
    margin: Annotated[Measure, ranged(0, 2)] = usual(0.05)
    sides: Annotated[tuple[SideMargin, ...], Limits(max_length=4)] = ()
    shape: Literal["squared", "free"] = "squared"
    radius: Annotated[Measure, ranged(0, 1)] = usual(0.05)
    drawn: Rings | None = None
    saved: bool = False
    piece: Annotated[Measure, ranged(0.1, 3)] = usual(0.6)

    def check(self) -> None:
        """One margin a side."""
        if len({s.facing for s in self.sides}) != len(self.sides):
            raise ValueError("a side has two margins")


class Stretch(Record):
    """A ratio of its own on the stretch of the cut line that faces one way."""

    facing: Facing
    ratio: Ratio


class Taper(Record):
    """The bevel ground (or stepped) into sound skin around the cut."""

    ratio: Ratio = usual(12)
    form: Literal["ground", "stepped"] = "ground"
    stretches: Annotated[tuple[Stretch, ...], Limits(max_length=4)] = ()

    def check(self) -> None:
        """One ratio a stretch."""
        if len({s.facing for s in self.stretches}) != len(self.stretches):
            raise ValueError("a stretch of the cut line has two ratios")

    def ratio_at(self, facing: Facing) -> float:
        """The ratio on the stretch that faces one way."""
        return next((s.ratio.si for s in self.stretches if s.facing == facing), self.ratio.si)


class Face(Record):
    """The other face, repaired as well: its taper and plies. On a solid laminate it takes a share of the thickness."""

    taper: Taper = known(Taper)
    plies: Stack = ()
    share: Annotated[Measure, ranged(0.1, 0.9, Kind.PERCENT)] = usual(0.5)


class Backing(Record):
    """Backing strips for a hole that can be reached from one side only: made beforehand, bonded underneath first."""

    plies: Stack = (known(StackLine, fabric="biax-45-450", count=2),)
    width: Annotated[Measure, ranged(0.01, 0.5)] = usual(0.05)


class Tabbing(Record):
    """The section of a tabbed joint: angle between the parts, fillet radius, first leg, stagger of each wider ply."""

    angle: Annotated[Measure, ranged(20, 160, Kind.ANGLE)] = usual(90)
    radius: Annotated[Measure, ranged(0.002, 0.2)] = usual(0.012)
    first: Annotated[Measure, ranged(0.01, 0.5)] = usual(0.05)
    stagger: Annotated[Measure, ranged(0.0, 0.1)] = usual(0.015)


class MadePart(Record):
    """A part laminated on a plug or a flat bench and bonded in."""

    id: Id
    name: Annotated[str, Limits(min_length=1, max_length=80)]
    kind: Literal["angle", "knee", "backing plate", "end cap"]
    length: Size
    width: Size
    depth: Size = usual(0.05)
    radius: Annotated[Measure, ranged(0.0, 0.3)] = usual(0.01)
    count: Annotated[int, Limits(ge=1, le=100)] = 1
    plies: Stack = ()
    former: Literal["plug", "flat bench"] = "plug"
    fixing: Literal["putty", "adhesive"] = "putty"


class Pad(Record):
    """Extra plies over an area of their own: a box about a place, or a round where there is no height; each ply reaches
    less far than the one under it by the step. It is laid on the main face after its plies.
    """

    id: Id
    name: Annotated[str, Limits(min_length=1, max_length=80)]
    x: Coordinate
    y: Coordinate
    width: Size = usual(0.3)
    height: Annotated[Measure, ranged(0, 20)] = usual(0.3)
    step: Annotated[Measure, ranged(0, 0.2)] = usual(0.02)
    plies: Stack = ()


MemberKind = Literal["hat", "box", "angle", "flat", "I", "knee"]


class Member(Record):
    """A stiffener of the panel: its shape and size, the way it runs and where, in the zone's own axes.

    ``height`` stands off the panel; ``width`` is the crown of a hat, box or I, the thickness of a flat or a knee, the
    free leg of an angle. A knee is as high as stated where it begins and runs out to nothing. What fills it is counted
    only where that is stated.
    """

    id: Id
    name: Annotated[str, Limits(min_length=1, max_length=80)]
    kind: MemberKind = "hat"
    axis: Literal["x", "y"] = "x"
    place: Coordinate
    start: Coordinate | None = None
    end: Coordinate | None = None
    height: Size = usual(0.06)
    width: Size = usual(0.06)
    wall: Thickness = usual(0.004)
    flange: Annotated[Measure, ranged(0, 0.5)] = usual(0.05)
    filling: Id | None = None
    counted: bool = False
    footed: bool = True  # a knee's foot stands on a stringer and does not turn

    def check(self) -> None:
        """It runs from its start to its end."""
        if self.start is not None and self.end is not None and self.end <= self.start:
            raise ValueError("a stiffener ends before it starts")


class Access(Record):
    """Where the damage is got at from, how the sides were marked, and how deep it goes."""

    side: AccessSide = "outside"
    chosen: bool = False  # by someone, and not by a draft
    marks: Annotated[tuple[SideMark, ...], Limits(max_length=200)] = ()
    part_depth: bool = False


class Bond(Record):
    """What the new laminate is bonded to and how much more than its design stress the bond should carry."""

    factor: Annotated[Measure, ranged(1, 20, Kind.RATIO)] = usual(2)
    preparation: Id = "ground"


class Laminate(Record):
    """The plies that replace the old skin, in the order and to the thickness wanted; what is laid behind them."""

    plies: Stack = ()
    order: Literal["smallest first", "largest first"] = "smallest first"
    overlap: Annotated[Measure, ranged(0, 0.5)] = usual(0.0)
    crown: Annotated[Measure, ranged(0, 0.02)] = usual(0.0)
    target: Thickness | None = None
    second: Face | None = None
    backing: Backing | None = None
    tabbing: Tabbing | None = None


class Laying(Record):
    """How the plies are laid."""

    process: Process = "hand"
    between: Literal["green", "cured"] = "green"
    peel_ply: bool = True
    overhead: bool = False


class ResinFrom(Record):
    """Another resin from a ply on."""

    ply: Annotated[int, Limits(ge=2, le=MOST_PLIES)]
    resin: Id


class ResinChoice(Record):
    """The resin laid with, others from some ply on, that of beds and putty where it is another, the one put on later
    (fairing and coats), the filler of structural putty; what it is worked from, and how warm the cans are where that is
    not the shed's warmth.
    """

    main: Id = "epoxy-5-1-slow"
    sittings: Annotated[tuple[ResinFrom, ...], Limits(max_length=8)] = ()
    bedding: Id | None = None
    later: Id | None = None
    putty: Id = "silica"
    vessel: Literal["cup", "tray", "pan"] = "cup"
    warmed: Annotated[Measure, ranged(0, 50, Kind.TEMPERATURE)] | None = None

    def check(self) -> None:
        """One change a ply, in order."""
        plies = [s.ply for s in self.sittings]
        if plies != sorted(set(plies)):
            raise ValueError("changes of the resin go from ply to ply, one a ply; put them in order")

    def of_ply(self, number: int) -> str:
        """The resin of a ply."""
        return next((s.resin for s in reversed(self.sittings) if s.ply <= number), self.main)


class CoreChoice(Record):
    """The core put in (None keeps the old one), the bed under it, and what presses it there."""

    material: Id | None = None
    thickness: Thickness | None = None
    bedding: Annotated[Measure, ranged(0, 0.02)] = usual(0.0015)
    scored: bool = False
    clamp: Literal["screws", "weights", "props", "vacuum"] = "screws"


class Timber(Record):
    """A beam of timber that lies across a run: between its posts, its width and its height."""

    span: Size = usual(0.8)
    width: Size = usual(0.045)
    height: Size = usual(0.095)


class Support(Record):
    """What a scheme has carry a run beside the run itself: a beam on posts across it, and how much its posts give under
    a thousand newtons; a strip of the run's laminate beside it, as thick as stated.
    """

    post: Coordinate | None = None
    gives: Annotated[Measure, ranged(0, 0.1)] = usual(0.0)
    timber: Timber | None = None
    sister: Annotated[Measure, ranged(0.001, 0.2)] | None = None

    @property
    def stated(self) -> bool:
        """Whether there is any."""
        return self.post is not None or self.sister is not None


class Reason(Record):
    """Why a draft chose what it did: the choice, what was chosen in words, and the reason."""

    choice: Id
    chosen: Annotated[str, Limits(max_length=200)]
    why: Annotated[str, Limits(max_length=400)]


class Scheme(Record):
    """One way of doing the repair, grouped as it is decided."""

    id: Id = "s1"
    name: Annotated[str, Limits(min_length=1, max_length=80)] = "Scheme 1"
    access: Access = known(Access)
    cut: Cut = known(Cut)
    taper: Taper = known(Taper)
    bond: Bond = known(Bond)
    laminate: Laminate = known(Laminate)
    laying: Laying = known(Laying)
    resin: ResinChoice = known(ResinChoice)
    core: CoreChoice = known(CoreChoice)
    parts: Annotated[tuple[MadePart, ...], Limits(max_length=60)] = ()
    members: Annotated[tuple[Member, ...], Limits(max_length=12)] = ()  # stiffeners that it adds
    pads: Annotated[tuple[Pad, ...], Limits(max_length=20)] = ()  # local reinforcement
    support: Support = known(Support)
    note: Text = ""
    reasons: Annotated[tuple[Reason, ...], Limits(max_length=30)] = ()  # of the draft that it began as

    def check(self) -> None:
        """Made parts and stiffeners are told apart by id."""
        if len({p.id for p in self.pads}) != len(self.pads):
            raise ValueError("two local reinforcements carry the same id")
        if len({m.id for m in self.members}) != len(self.members):
            raise ValueError("two stiffeners carry the same id")
        if len({p.id for p in self.parts}) != len(self.parts):
            raise ValueError("two made parts carry the same id")
