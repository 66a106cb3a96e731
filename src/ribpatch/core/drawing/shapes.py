"""Drawings as plain shapes with meaning. Coordinates in m of the thing drawn; y up.

A shape says what it is (its role and material), never how it looks: the window and the PDF each paint the same
description with the looks of ``palette`` and ``hatch``.
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, Literal

from msgspec import Struct

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats, Point, Ring


class Area(Struct, frozen=True):
    """A filled region: outer ring and holes. ``material`` chooses the hatch. ``key`` names what a click on it means."""

    rings: tuple[Ring, ...]
    role: str
    material: str = ""
    key: str = ""


class Line(Struct, frozen=True):
    """A line through points, closed or open."""

    points: Ring
    role: str
    closed: bool = False
    key: str = ""


class Spot(Struct, frozen=True):
    """A reading: its instrument's shape filled from the bottom by its score, 0 to 1. A tag carries its letter code."""

    at: Point
    shape: Literal["circle", "square", "tag"]
    level: float
    reference: bool
    key: str
    code: str = ""


class Badge(Struct, frozen=True):
    """A number in a round mark at a place: where to test next, where a photograph is pinned, which ply or piece this
    is.

    ``room`` is the height in m that it must fit into; 0 is as much as it needs.
    """

    at: Point
    text: str
    role: str
    clearance: float = 0.0


class Text(Struct, frozen=True):
    """Words at a place, moved a little by the painter where they would collide."""

    at: Point
    text: str
    role: str


class Callout(Struct, frozen=True):
    """Words in the margin with a thin line to a place; the painter spreads those of one side."""

    at: Point
    text: str
    side: Literal["left", "right"]
    role: str = ""


class Dimension(Struct, frozen=True):
    """A dimension between two places, its text beside it; ``above`` says which side of the line it stands on."""

    start: Point
    end: Point
    text: str
    role: str = "dimension"


class Raster(Struct, frozen=True, eq=False):
    """Values 0 to 1 on a regular grid: (ny, nx) from the lower left corner ``low`` to ``high``, cut to ``clip``."""

    low: Point
    high: Point
    values: Floats
    clip: tuple[Ring, ...]
    role: str
    words: tuple[str, str] = ("", "")  # what the two ends of its ramp mean


Shape = Area | Badge | Line | Spot | Text | Callout | Dimension | Raster


class Drawing(Struct, frozen=True, eq=False, dict=True):
    """Shapes in painting order and the box (x0, y0, x1, y1) that they live in, in m."""

    title: str
    note: str
    bounds: tuple[float, float, float, float]
    shapes: tuple[Shape, ...]
    gap: float = 0.0  # share of the width kept free between the box and its callouts, for handles

    @cached_property
    def callouts(self) -> tuple[Callout, ...]:
        """The callouts among the shapes."""
        return tuple(s for s in self.shapes if isinstance(s, Callout))

    def longest_callout(self, side: str) -> int:
        """Characters of the longest callout of a side, for the painter to keep that margin free."""
        return max((len(s.text) for s in self.callouts if s.side == side), default=0)
