"""The resins of the shelf with the times that work is planned by, at 25 degC and in this shed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.edits import Edit, put_own_resin
from ribpatch.core.errors import InvalidValue
from ribpatch.core.numerals import fixed
from ribpatch.core.quantity import parse
from ribpatch.core.record import evolve
from ribpatch.core.resin.cure import time_factor
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Resin
    from ribpatch.core.units import System


class Fact(Struct, frozen=True):
    """One number of a resin: its field, what it is called, its kind; ``cures`` where it goes with the warmth."""

    field: str
    name: str
    kind: Kind
    cures: bool = True


FACTS = (
    Fact("pot_life", "pot life", Kind.TIME),
    Fact("gel", "gel", Kind.HOURS),
    Fact("green_from", "green", Kind.HOURS),
    Fact("green_to", "to", Kind.HOURS),
    Fact("recoat", "recoat", Kind.HOURS),
    Fact("sandable", "sand", Kind.HOURS),
    Fact("unclamp", "unclamp", Kind.HOURS),
    Fact("service", "load", Kind.HOURS),
    Fact("least_temperature", "least", Kind.TEMPERATURE, False),
)


def fact_text(resin: Resin, fact: Fact, system: System) -> str:
    """A number of a resin at 25 degC as people read it; nothing where it is not known."""
    value = getattr(resin, fact.field)
    return "" if value is None else shown(value, fact.kind, system)


def in_shed(resin: Resin, temperature: float, system: System) -> str:
    """What a shed of ``temperature`` degC makes of the times of a resin, s at 25 degC, in a sentence or two."""
    here = shown(temperature, Kind.TEMPERATURE, system)
    if temperature < resin.least_temperature:
        least = shown(resin.least_temperature, Kind.TEMPERATURE, system)
        return f"{resin.name}: {here} is under its {least}; nothing is foretold. Warm the shed, or take another."
    factor = time_factor(temperature, resin.activation)
    words = [f"{resin.name} at {here}: all of it takes {fixed(factor, 2)} times as long as at 25 °C"]
    for name, value in (("gel after", resin.gel), ("sand from", resin.sandable)):
        if value is not None:
            words.append(f"{name} {shown(value * factor, Kind.HOURS, system)}")
    if resin.green_from is not None and resin.green_to is not None:
        span = [shown(v * factor, Kind.HOURS, system) for v in (resin.green_from, resin.green_to)]
        words.append(f"ply on ply without sanding from {span[0]} to {span[1]}")
    told = ", ".join(words) + "."
    if resin.blushes:
        told += " It blushes: wash with water before anything goes on its cured face."
    if resin.inhibited:
        told += " Air keeps its face tacky: wax in the last coat, or film over it, before it is sanded."
    return told


def set_fact(resin: Resin, fact: Fact, text: str, system: System) -> Edit:
    """Set a number of a resin for this job. Raises Fault where it cannot be."""
    if not text.strip():
        if fact.field in ("pot_life", "least_temperature"):
            raise InvalidValue(fact.name, reason="it must be known", advice="Type the data sheet's.")
        value = None
    else:
        value = parse(text, fact.kind, system).measure.si
    try:
        made = evolve(resin, **{fact.field: value, "reason": "set for this job"})
    except ValueError as error:
        from ribpatch.core.record import faults_of

        raise faults_of(error)[0] from None  # type: ignore[arg-type]
    return put_own_resin(made, f"set {fact.name} of {resin.name}")
