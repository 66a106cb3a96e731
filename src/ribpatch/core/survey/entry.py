"""Readings from what was typed, and back into words."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ribpatch.core.errors import InvalidValue
from ribpatch.core.numerals import fixed, general
from ribpatch.core.readings import GradedReading, MeteredReading, Plug, Push, Reading, Strike
from ribpatch.core.record import faults_of, reader
from ribpatch.core.units import Kind, System, shown

if TYPE_CHECKING:
    from ribpatch.core.geometry import Point
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.survey.acoustics import Measured

METERS = ("moisture", "pin", "infrared")


def made_reading(kind: str, shelf: Shelf, **facts: Any) -> Reading:
    """A checked reading of any kind from its facts; raises a Fault that names the fact that does not hold."""
    card = shelf.instrument(kind)
    if "grade" in facts and card.grades:
        facts["grade"] = shelf.grade(kind, str(facts["grade"]).strip().lower()).id
    if kind in METERS and card.high > card.low and not card.low <= float(facts["value"]) <= card.high:
        raise InvalidValue(
            card.name if kind != "moisture" else "moisture",
            reason=f"{general(float(facts['value']))} is outside the meter's scale of {general(card.low)} to "
            f"{general(card.high)}",
        )
    from pydantic import ValidationError

    try:
        made: Reading = reader(Reading).validate_python({"id": "new", "kind": kind, **facts})
    except ValidationError as error:
        fault = faults_of(error)[0]
        fact = fault.where.rsplit(".", 1)[-1]
        named = f"{fact}: " if fact and fact != kind else ""
        raise InvalidValue(
            card.name, reason=named + fault.sentence.removeprefix(f"{fault.where}: ").rstrip(".")
        ) from None
    return made


def strike_reading(measured: Measured, at: Point, recording: str, shelf: Shelf) -> Reading:
    """A measured strike as a reading at a place in m; ``recording`` is the member that it came from."""
    return made_reading(
        "strike",
        shelf,
        x=at[0],
        y=at[1],
        frequency=measured.frequency,
        centroid=measured.centroid,
        decay=measured.decay,
        contact=measured.contact,
        bands=measured.shape.bands,
        fades=measured.shape.fades,
        early=measured.shape.early,
        attack=measured.shape.attack,
        recording=recording,
        start=measured.start,
    )


def reading_words(reading: Reading, system: System = "metric") -> str:
    """A reading in words: ``tap dull``, ``moisture 34``."""
    if isinstance(reading, GradedReading):
        return f"{reading.kind} {reading.grade}"
    if isinstance(reading, MeteredReading):
        if reading.kind == "infrared":
            return f"infrared {shown(reading.value, Kind.TEMPERATURE, system)}"
        return f"{reading.kind} {general(reading.value)}" + (" %" if reading.kind == "pin" else "")
    if isinstance(reading, Push):
        return f"push {shown(reading.force, Kind.FORCE, system)}, {shown(reading.deflection, Kind.SIZE, system)}"
    if isinstance(reading, Plug):
        return f"plug {reading.water}, core {reading.core}, bond {reading.bond}"
    if isinstance(reading, Strike):
        return f"strike {fixed(reading.frequency, 0)} Hz, decay {fixed(reading.decay * 1000, 1)} ms"
    return f"test cut {', '.join(dict.fromkeys(reading.states))}"
