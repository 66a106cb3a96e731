"""What is typed for an entry of the log, field by field: which fields a kind has, and what they mean."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from msgspec import Struct

from ribpatch.core.errors import InvalidValue
from ribpatch.core.quantity import parse
from ribpatch.core.units import Kind, Measure, shown

if TYPE_CHECKING:
    from ribpatch.core.logged import LogEntry
    from ribpatch.core.units import System


class LineSpec(Struct, frozen=True):
    """One line of an entry's form: its key, words, hint, kind of quantity (None: text), and whether it may be empty."""

    key: str
    words: str
    hint: str
    kind: Kind | None = None
    optional: bool = False


KIND_NAMES = {
    "begun": "Begin",
    "ended": "End",
    "mixed": "Cup",
    "laid": "Plies",
    "air": "Air",
    "nail": "Nail",
    "measured": "Thickness",
    "used": "Used up",
    "said": "Remark",
}
LINES: dict[str, tuple[LineSpec, ...]] = {
    "begun": (LineSpec("people", "people", "1", Kind.COUNT, True),),
    "ended": (LineSpec("people", "people", "1", Kind.COUNT, True),),
    "mixed": (
        LineSpec("mass", "resin", "400 g", Kind.MASS),
        LineSpec("hardener", "hardener", "69 g", Kind.MASS),
        LineSpec("temperature", "at", "18 c", Kind.TEMPERATURE, True),
        LineSpec("used_up", "used up in", "20 min", Kind.TIME, True),
    ),
    "laid": (
        LineSpec("first", "from ply", "1", Kind.COUNT, True),
        LineSpec("last", "to ply", "3", Kind.COUNT, True),
    ),
    "air": (
        LineSpec("temperature", "temperature", "18 c", Kind.TEMPERATURE),
        LineSpec("humidity", "humidity", "55 %", Kind.PERCENT, True),
    ),
    "nail": (),
    "measured": (LineSpec("thickness", "thickness", "4.2 mm", Kind.SIZE),),
    "used": (LineSpec("amount", "how much", "3.2", Kind.NUMBER),),
    "said": (LineSpec("photographs", "photographs", "p1 p2, of the step's zone", None, True),),
}
PICKED = {  # what is chosen, not typed: of which kinds of entry, and under which key
    "resin": (("mixed", "laid"), "resin"),
    "worked from": (("mixed",), "vessel"),
    "nail": (("nail",), "state"),
    "material": (("used",), "material"),
}
NEEDS_STEP = ("begun", "ended", "laid", "nail")


def stated_of(kind: str, texts: dict[str, str], system: System) -> dict[str, Any]:
    """What the lines of an entry mean; raises Fault that names the line."""
    made: dict[str, Any] = {}
    for line in LINES[kind]:
        text = texts.get(line.key, "").strip()
        if not text and line.optional:
            made[line.key] = {Kind.COUNT: 1, None: ()}.get(line.kind)  # said, so that a correction can empty a line
            continue
        if not text:
            raise InvalidValue(line.words, reason=f"nothing is typed; write it like {line.hint}")
        if line.kind is None:
            made[line.key] = tuple(text.replace(",", " ").split())
            continue
        measure = parse(text, line.kind, system).measure
        made[line.key] = _whole(line, measure, text) if line.kind is Kind.COUNT else measure
    if kind == "laid":
        made["last"] = made["last"] if texts.get("last", "").strip() else made["first"]
        if made["last"] < made["first"]:
            raise InvalidValue("to ply", reason=f"ply {made['last']} lies before ply {made['first']}")
    return made


def texts_of(entry: LogEntry, system: System) -> dict[str, str]:
    """What would be typed for an entry, by the keys of its lines: as it was typed, or in the units shown."""
    made = {}
    for line in LINES[str(entry.kind)]:  # type: ignore[attr-defined]  # every kind of entry carries it
        value = getattr(entry, line.key)
        if value is None:
            made[line.key] = ""
        elif isinstance(value, Measure):
            made[line.key] = value.typed or shown(value.si, line.kind or Kind.NUMBER, system)
        else:
            made[line.key] = " ".join(value) if isinstance(value, tuple) else str(value)
    return made


def _whole(line: LineSpec, measure: Measure, text: str) -> int:
    if measure.si != round(measure.si):
        raise InvalidValue(line.words, reason=f"“{text}” is no whole number")
    return round(measure.si)
