"""The log: what was done, mixed, laid, read and tried, entry by entry. Entries are never changed: a correction is an
entry of its own that names the one that it stands for. Bond coupons are planned and read as sets.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ribpatch.core.materials.records import Id
from ribpatch.core.ranged import ranged
from ribpatch.core.readings import Short, Text
from ribpatch.core.record import Limits, Record
from ribpatch.core.timetable import Moment, StepId
from ribpatch.core.units import Kind, Measure

MOST_ENTRIES = 20_000
EntryId = Annotated[str, Limits(min_length=1, max_length=32, pattern=r"^e[0-9]+$")]
Mass = Annotated[Measure, ranged(0, 1000, Kind.MASS)]
NailState = Literal["tacky", "dents", "marks", "dusts"]
NAIL_WORDS: dict[NailState, str] = {
    "tacky": "tacky: it wets the glove or strings",
    "dents": "firm, a fingernail still dents it",
    "marks": "hard, a nail only marks it",
    "dusts": "scraped, it dusts",
}


class LogEntry(Record):
    """What every entry carries: when it was done, by whom (a role), of which step, a note, photographs of the step's
    zone, and which entry it corrects. ``void`` takes the corrected one back and puts nothing in its place.
    """

    id: EntryId
    at: Annotated[Moment, Limits(min_length=16)]
    who: Short = ""
    step: StepId | Literal[""] = ""
    note: Text = ""
    photographs: Annotated[tuple[Id, ...], Limits(max_length=100)] = ()
    corrects: EntryId | Literal[""] = ""
    void: bool = False


class Begun(LogEntry):
    """A step was begun."""

    kind: Literal["begun"] = "begun"
    people: Annotated[int, Limits(ge=1, le=12)] = 1


class Ended(LogEntry):
    """A step was ended."""

    kind: Literal["ended"] = "ended"
    people: Annotated[int, Limits(ge=1, le=12)] = 1


class Mixed(LogEntry):
    """A cup was mixed: masses of resin and hardener, in what, in how warm air, and after how long it was used up."""

    kind: Literal["mixed"] = "mixed"
    resin: Id
    mass: Mass
    hardener: Mass
    vessel: Literal["cup", "tray", "pan"] = "cup"
    temperature: Annotated[Measure, ranged(-20, 60, Kind.TEMPERATURE)] | None = None
    used_up: Annotated[Measure, ranged(0, 86_400, Kind.TIME)] | None = None


class Laid(LogEntry):
    """Plies were laid, from the first to the last of them, with a resin."""

    kind: Literal["laid"] = "laid"
    resin: Id
    first: Annotated[int, Limits(ge=1, le=500)] = 1
    last: Annotated[int, Limits(ge=1, le=500)] = 1


class Used(LogEntry):
    """Material was used: in m off the roll for cloth, m2 for what is bought by area, kg or pieces."""

    kind: Literal["used"] = "used"
    material: Id
    amount: Annotated[Measure, ranged(0, 1e5, Kind.NUMBER)]


class Measured(LogEntry):
    """A laminate's thickness was measured."""

    kind: Literal["measured"] = "measured"
    thickness: Annotated[Measure, ranged(1e-5, 0.5)]


class AirRead(LogEntry):
    """Temperature and humidity at the work."""

    kind: Literal["air"] = "air"
    temperature: Annotated[Measure, ranged(-30, 80, Kind.TEMPERATURE)]
    humidity: Annotated[Measure, ranged(0.02, 1, Kind.PERCENT)] | None = None


class NailTest(LogEntry):
    """A fingernail or a scraper on what was laid in a step."""

    kind: Literal["nail"] = "nail"
    state: NailState


class Said(LogEntry):
    """Something else: a deviation and why, a remark, a photograph by itself."""

    kind: Literal["said"] = "said"
    deviation: bool = False


Entry = Annotated[
    Begun | Ended | Mixed | Laid | Used | Measured | AirRead | NailTest | Said, Limits(discriminator="kind")
]
Mode = Literal["torn", "mixed", "clean"]
MODES: dict[Mode, str] = {"torn": "fibres torn", "mixed": "mixed", "clean": "clean"}


class CouponResult(Record):
    """One coupon: what it took to part it, and how it looked."""

    mode: Mode
    load: Annotated[Measure, ranged(0, 1e6, Kind.FORCE)] | None = None


class CouponRow(Record):
    """Like coupons: how the surface was made ready, how old it was, which resin on which, and their results."""

    id: Id
    preparation: Id
    words: Annotated[str, Limits(max_length=120)] = ""
    age: Annotated[Measure, ranged(0, 3.2e8, Kind.TIME)] | None = None
    under: Id | None = None
    over: Id | None = None
    results: Annotated[tuple[CouponResult, ...], Limits(max_length=60)] = ()


CouponKind = Literal["peel", "lap shear", "hammer", "chisel"]
COUPON_KINDS: dict[CouponKind, str] = {
    "peel": "peeled by hand or scale",
    "lap shear": "pulled in lap shear",
    "hammer": "hammered off through a block of wood",
    "chisel": "chiselled on the boat",
}


class CouponSet(Record):
    """A set of bond coupons: what is tried, row by row, so many of each."""

    id: Id
    name: Annotated[str, Limits(min_length=1, max_length=120)]
    kind: CouponKind = "peel"
    each: Annotated[int, Limits(ge=1, le=60)] = 5
    day: Moment = ""
    rows: Annotated[tuple[CouponRow, ...], Limits(max_length=24)] = ()

    def check(self) -> None:
        """Rows are told apart."""
        if len({r.id for r in self.rows}) != len(self.rows):
            raise ValueError("two rows of coupons carry the same id")


class Logbook(Record):
    """All that is logged of a job."""

    entries: Annotated[tuple[Entry, ...], Limits(max_length=MOST_ENTRIES)] = ()
    coupons: Annotated[tuple[CouponSet, ...], Limits(max_length=40)] = ()

    def check(self) -> None:
        """Entries and sets are told apart; a correction names an entry that stands before it."""
        seen: set[str] = set()
        for entry in self.entries:
            if entry.id in seen:
                raise ValueError("two entries of the log carry the same id")
            if entry.corrects and entry.corrects not in seen:
                raise ValueError(f"entry {entry.id} corrects {entry.corrects}, which does not stand before it")
            if entry.void and not entry.corrects:
                raise ValueError(f"entry {entry.id} takes something back and does not say what")
            seen.add(entry.id)
        if len({c.id for c in self.coupons}) != len(self.coupons):
            raise ValueError("two sets of coupons carry the same id")
