"""Charts as plain data: curves or bars over named axes. Numbers are as shown; nothing is said of colours or pixels."""

from __future__ import annotations

from msgspec import Struct


class Curve(Struct, frozen=True):
    """A line through points; its role chooses its look: ``main``, ``second`` or ``limit``."""

    name: str
    points: tuple[tuple[float, float], ...]
    role: str = "main"


class Mark(Struct, frozen=True):
    """An upright mark at a place of the x axis with its words; the chosen one is drawn stronger."""

    x: float
    text: str
    chosen: bool = False


class Bars(Struct, frozen=True):
    """Bars of one name, one value a category."""

    name: str
    values: tuple[float, ...]
    role: str = "main"


class Chart(Struct, frozen=True, eq=False):
    """Curves over x and y, or bars over categories; ``limits`` are level lines with their words."""

    x_name: str
    y_name: str
    curves: tuple[Curve, ...] = ()
    marks: tuple[Mark, ...] = ()
    categories: tuple[str, ...] = ()
    bars: tuple[Bars, ...] = ()
    limits: tuple[tuple[float, str], ...] = ()
    top: float | None = None
    note: str = ""
    share: bool = True  # y is a share, told in percent
