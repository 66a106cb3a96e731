"""Readings from what was typed, and back into words."""

from __future__ import annotations

from typing import Any

from pydantic import TypeAdapter, ValidationError

from ribpatch.core.errors import InvalidValue
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.readings import (
    GradedReading,
    MeteredReading,
    Plug,
    Push,
    Reading,
    Sketch,
    Strike,
    Taken,
    TestCut,
)
from ribpatch.core.record import faults_of

METERS = ("moisture", "pin", "infrared")
_READING: TypeAdapter[Reading] = TypeAdapter(Reading)


def made_reading(kind: str, shelf: Shelf, **facts: Any) -> Reading:
    """A checked reading of any kind from its facts; raises a Fault that names the fact that does not hold."""
    card = shelf.instrument(kind)
    if "grade" in facts and card.grades:
        facts["grade"] = shelf.grade(kind, str(facts["grade"]).strip().lower()).id
    if kind in METERS and card.high > card.low and not card.low <= float(facts["value"]) <= card.high:
        raise InvalidValue(
            card.name if kind != "moisture" else "moisture",
            reason=f"{float(facts['value']):g} is outside the meter's scale of {card.low:g} to {card.high:g}",
        )
    try:
        return _READING.validate_python({"id": "new", "kind": kind, **facts})
    except ValidationError as error:
        fault = faults_of(error)[0]
        fact = fault.where.rsplit(".", 1)[-1]
        named = f"{fact}: " if fact and fact != kind else ""
        raise InvalidValue(
            card.name, reason=named + fault.sentence.removeprefix(f"{fault.where}: ").rstrip(".")
        ) from None


def new_reading(kind: str, x: float, y: float, value: str | float, shelf: Shelf) -> Reading:
    """A reading of one word or one number. Raises Fault."""
    name = "value" if kind in METERS else "grade"
    return made_reading(kind, shelf, x=x, y=y, **{name: float(value) if name == "value" else value})


def reading_words(reading: Taken) -> str:
    """A reading in words: ``tap dull``, ``moisture 34``."""
    kind = str(getattr(reading, "kind", ""))
    if isinstance(reading, Sketch | GradedReading):
        return f"{kind} {reading.grade}"
    if isinstance(reading, MeteredReading):
        unit = {"pin": " %", "infrared": " °C"}.get(kind, "")
        return f"{kind} {reading.value:g}{unit}"
    if isinstance(reading, Push):
        return f"push {reading.force:g} N, {reading.deflection * 1000:.2g} mm"
    if isinstance(reading, Plug):
        return f"plug {reading.water}, core {reading.core}, bond {reading.bond}"
    if isinstance(reading, Strike):
        return f"strike {reading.frequency:.0f} Hz, decay {reading.decay * 1000:.1f} ms"
    if isinstance(reading, TestCut):
        return f"test cut {', '.join(dict.fromkeys(reading.states))}"
    return kind
