"""Readings of a survey, one record for each way of looking at a place. Only what was seen or measured is kept.

Places are in metres in the zone's own plane. What a reading means for the damage is worked out in ``survey.score``
from the instruments' data; nothing of that is kept here.
"""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Annotated, Literal

from ribpatch.core.materials.records import Id
from ribpatch.core.record import Checked, Limits, Record
from ribpatch.core.set_straight import Straight

if TYPE_CHECKING:
    from ribpatch.core.geometry import Point

Coordinate = Annotated[float, Limits(ge=-100, le=100)]
Spot = tuple[Coordinate, Coordinate]
Short = Annotated[str, Limits(max_length=120)]
Text = Annotated[str, Limits(max_length=2000)]
State = Literal["sound", "wet", "rotted", "disbonded"]
Water = Literal["dry", "damp", "wet"]
Core = Literal["firm", "soft", "gone", "none"]
Bond = Literal["whole", "torn", "clean"]


def _moment(text: str) -> str:
    """A date, or a date and time, as ISO 8601; empty where it was not noted."""
    if text:
        try:
            datetime.fromisoformat(text)
        except ValueError:
            raise ValueError(f"“{text}” is no date; write it like 2026-05-14 or 2026-05-14 09:30") from None
    return text


_DATE = {"pattern": r"^(\d{4}-\d{2}-\d{2}([ T]\d{2}:\d{2}.*)?)?$"}
Moment = Annotated[str, Limits(max_length=40, json_schema_extra=_DATE), Checked(_moment)]
MemberName = Annotated[str, Limits(min_length=1, max_length=120, pattern=r"^[a-z0-9][a-z0-9._-]*$")]


class Taken(Record):
    """What every reading carries: its place, and when, by whom (a role), in which session, with what note."""

    id: Id
    x: Coordinate
    y: Coordinate
    session: Id | Literal[""] = ""
    at: Moment = ""
    who: Short = ""
    note: Text = ""
    photographs: Annotated[tuple[Id, ...], Limits(max_length=100)] = ()


class GradedReading(Taken):
    """A reading in one of its instrument's words."""

    grade: Id


class Tap(GradedReading):
    """A tap by ear."""

    kind: Literal["tap"] = "tap"


class Graded(GradedReading):
    """Soap under low pressure, a pull on a screw, a weep, a smell: each in its own words."""

    kind: Literal["soap", "screw", "weep", "smell"]


class MeteredReading(Taken):
    """A reading in one number."""

    value: float


class Moisture(MeteredReading):
    """A capacitance moisture reading on the meter's own relative scale, 0 to 100."""

    kind: Literal["moisture"] = "moisture"
    value: Annotated[float, Limits(ge=0, le=100)]


class Pin(MeteredReading):
    """Moisture of wood between two pins, per cent of its dry mass."""

    kind: Literal["pin"] = "pin"
    value: Annotated[float, Limits(ge=0, le=200)]


class Infrared(MeteredReading):
    """Surface temperature of a spot in degC, read while the boat cools in the evening."""

    kind: Literal["infrared"] = "infrared"
    value: Annotated[float, Limits(ge=-40, le=120)]


class Push(Taken):
    """A push on the panel: force in N, deflection in m."""

    kind: Literal["push"] = "push"
    force: Annotated[float, Limits(gt=0, le=20_000)]
    deflection: Annotated[float, Limits(gt=0, le=0.5)]


BandShare = Annotated[float, Limits(gt=0, le=1)]
FadeTime = Annotated[float, Limits(gt=0, le=10)]


class Strike(Taken):
    """A recorded tap as measured: frequencies in Hz, times in s, the shape of its sound (nothing where an earlier
    version measured it), and the recording that it came from.
    """

    kind: Literal["strike"] = "strike"
    frequency: Annotated[float, Limits(gt=0, le=96_000)]
    centroid: Annotated[float, Limits(gt=0, le=96_000)]
    decay: Annotated[float, Limits(gt=0, le=10)]
    contact: Annotated[float, Limits(gt=0, le=1)]
    bands: tuple[BandShare, ...] = ()
    fades: tuple[FadeTime, ...] = ()
    early: Annotated[float, Limits(ge=0, le=1)] = 0.0
    attack: Annotated[float, Limits(ge=0, le=96_000)] = 0.0
    recording: MemberName | Literal[""] = ""
    start: Annotated[float, Limits(ge=0, le=36_000)] = 0.0  # s into the recording

    def check(self) -> None:
        """The shape of the sound is there whole or not at all."""
        parts = (len(self.bands), len(self.fades), self.early > 0, self.attack > 0)
        if parts not in ((6, 3, True, True), (0, 0, False, False)):
            raise ValueError("the shape of a strike is six bands, three fades, the early share and the attack, or none")


class Plug(Taken):
    """A plug drilled out and looked at. ``bond`` torn means that core or laminate broke before the bond did."""

    kind: Literal["plug"] = "plug"
    water: Water
    core: Core
    bond: Bond
    layers: Text = ""


class TestCut(Taken):
    """A cut that was opened: a line through points, and what was seen along each stretch of it."""

    __test__ = False  # the name is the trade's; it is no test of ours
    kind: Literal["cut"] = "cut"
    points: Annotated[tuple[Spot, ...], Limits(min_length=2, max_length=500)]
    states: Annotated[tuple[State, ...], Limits(min_length=1, max_length=499)]

    def check(self) -> None:
        """One state for each stretch between two points."""
        if len(self.states) != len(self.points) - 1:
            raise ValueError(
                f"a test cut of {len(self.points)} points needs {len(self.points) - 1} states, not {len(self.states)}"
            )


class Sketch(GradedReading):
    """Cracks or blisters sketched as a line or patch, with their type as grade."""

    kind: Literal["sketch"] = "sketch"
    points: Annotated[tuple[Spot, ...], Limits(min_length=1, max_length=500)]


Reading = Annotated[
    Tap | Graded | Moisture | Pin | Infrared | Push | Strike | Plug | TestCut | Sketch, Limits(discriminator="kind")
]


class SurveySession(Record):
    """One going over of a zone: when, by whom (a role), under what conditions."""

    id: Id
    date: Moment = ""
    who: Short = ""
    note: Text = ""


class Photograph(Record):
    """A photograph kept in the job file under ``photographs/``, pinned to a place where x and y are given; set straight
    where it is known how its places lie in the zone.
    """

    id: Id
    member: MemberName
    caption: Short = ""
    x: Coordinate | None = None
    y: Coordinate | None = None
    session: Id | Literal[""] = ""
    straight: Straight | None = None


def line_of(reading: Taken) -> tuple[Point, ...]:
    """The points of a reading that is a line; its place alone otherwise."""
    return reading.points if isinstance(reading, TestCut | Sketch) else ((reading.x, reading.y),)
