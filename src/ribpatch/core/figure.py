"""A number that can explain itself: the only way a computed value reaches a person.

A Figure holds its value in SI with its kind, the formula in words, what went in and where each came from, the
source and the limits. The window, the report and the command line read Figures and nothing else.
"""

from __future__ import annotations

from enum import StrEnum

from msgspec import Struct
from msgspec.structs import replace

from ribpatch.core.units import Kind, Measure, System, shown, shown_beside

LEANS = "≈ "  # before a figure that leans on what is only assumed


class Origin(StrEnum):
    """Where a value came from."""

    MEASURED = "measured"
    YOURS = "yours"
    DEFAULT = "default"
    ASSUMED = "assumed"
    WORKED = "worked out"


class Given(Struct, frozen=True):
    """One value that went into a figure. ``figure`` is the id of the figure it came from, if it was worked out."""

    name: str
    value: float | str
    kind: Kind | None = None
    origin: Origin = Origin.DEFAULT
    figure: str = ""
    note: str = ""

    def shown(self, system: System = "metric") -> str:
        """The value as people read it."""
        if isinstance(self.value, str) or self.kind is None:
            return str(self.value)
        return shown(self.value, self.kind, system)


class Figure(Struct, frozen=True):
    """A value with its working. ``value`` is SI (degC for temperatures, 0..1 for shares)."""

    id: str
    name: str
    value: float
    kind: Kind
    formula: str
    inputs: tuple[Given, ...] = ()
    source: str = ""
    valid: str = ""
    warnings: tuple[str, ...] = ()
    limit: float | None = None  # that it is held against: it is never shown rounded to it
    leans: tuple[str, ...] = ()  # names of what is only assumed so far, and may change it

    def shown(self, system: System = "metric") -> str:
        """The value as people read it; ``≈`` before one that leans on what is assumed and is there at all."""
        mark = LEANS if self.leans and self.value else ""
        if self.limit is not None:
            return mark + shown_beside(self.value, self.limit, self.kind, system)
        return mark + shown(self.value, self.kind, system)

    @property
    def leans_on(self) -> str:
        """What is assumed under it, in words; empty where nothing is."""
        return f"leans on what is assumed: {', '.join(self.leans)}" if self.leans else ""

    def given(self, note: str = "") -> Given:
        """This figure as an input of another."""
        return Given(self.name, self.value, self.kind, Origin.WORKED, self.id, note)


def fact(name: str, measure: Measure, kind: Kind, measured: bool = False) -> Given:
    """A Measure that tells of the boat or a part of it as an input: assumed until somebody types it."""
    given = stated(name, measure, kind, measured)
    return given if measure.typed else replace(given, origin=Origin.ASSUMED)


def stated(name: str, measure: Measure, kind: Kind, measured: bool = False) -> Given:
    """A Measure of the job as an input: yours or measured where it was typed, a default where not."""
    origin = (Origin.MEASURED if measured else Origin.YOURS) if measure.typed else Origin.DEFAULT
    return Given(name, measure.si, kind, origin, note=f"typed “{measure.typed}”" if measure.typed else "")


class FigureBook:
    """Figures of one part of a plan as they are worked out, under one prefix of ids."""

    def __init__(self, prefix: str) -> None:
        self._prefix = prefix
        self._figures: list[Figure] = []

    def add(
        self,
        key: str,
        name: str,
        value: float,
        kind: Kind,
        formula: str,
        inputs: tuple[Given, ...] = (),
        limit: float | None = None,
        **more: str,
    ) -> Figure:
        """Add one figure and hand it back. ``limit`` is what it is held against; ``more`` takes source, valid and
        warning.
        """
        warning = more.pop("warning", "")
        figure = Figure(
            f"{self._prefix}.{key}" if self._prefix else key,
            name,
            float(value),
            kind,
            formula,
            inputs,
            more.get("source", ""),
            more.get("valid", ""),
            (warning,) if warning else (),
            limit,
        )
        self._figures.append(figure)
        return figure

    @property
    def figures(self) -> tuple[Figure, ...]:
        """All figures so far, in order."""
        return tuple(self._figures)
