"""A section of several materials bent about its own axis: transformed section, shear flow. SI; heights z count upwards.

Plane sections stay plane, all parts are fully bonded. Parts are rectangles, or leaning ones (their horizontal width and
their height count). Valid below buckling and for spans of several times the height. Source: [25].
"""

from __future__ import annotations

from functools import cached_property
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.series import distinct
from ribpatch.core.structure.panel_records import refusal

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats


class SectionPart(Struct, frozen=True):
    """A part ``width`` m wide (all like parts together) and ``height`` m high, from ``bottom`` m up, of E and G in Pa.

    A part without G carries no shear.
    """

    name: str
    width: float
    height: float
    bottom: float
    E: float
    G: float = 0.0

    @property
    def top(self) -> float:
        """Its upper edge, m."""
        return self.bottom + self.height

    @property
    def area(self) -> float:
        """m2."""
        return self.width * self.height

    @property
    def middle(self) -> float:
        """Height of its middle, m."""
        return self.bottom + self.height / 2


class Section(Struct, frozen=True, eq=False, dict=True):
    """Parts that bend as one."""

    parts: tuple[SectionPart, ...]

    def check(self) -> None:
        """Refuse what is no section. Raises BadStructure."""
        if not self.parts:
            raise refusal("a section without parts", "give at least one part")
        for p in self.parts:
            if not (np.isfinite([p.width, p.height, p.bottom, p.E, p.G]).all() and p.width > 0 and p.height > 0):
                raise refusal(f"the part “{p.name}” has no size", "give width and height above 0 m")
            if p.E <= 0 or p.G < 0:
                raise refusal(f"the part “{p.name}” has no stiffness", "give E above 0 Pa, and G of 0 Pa or more")

    @property
    def top(self) -> float:
        """The crown, m."""
        return max(p.top for p in self.parts)

    @property
    def bottom(self) -> float:
        """The foot, m."""
        return min(p.bottom for p in self.parts)

    @cached_property
    def EA(self) -> float:
        """Stiffness in stretching, N."""
        return sum(p.E * p.area for p in self.parts)

    @cached_property
    def neutral(self) -> float:
        """Height of the neutral axis, m: sum of E A z over sum of E A."""
        return sum(p.E * p.area * p.middle for p in self.parts) / self.EA

    @cached_property
    def EI(self) -> float:
        """Bending stiffness about the neutral axis, N m2: sum of E (b h3 / 12 + A d2)."""
        n = self.neutral
        return sum(p.E * (p.width * p.height**3 / 12 + p.area * (p.middle - n) ** 2) for p in self.parts)

    def modulus_at(self, crown: bool) -> float:
        """Section modulus at crown or foot, m3, of the material that lies there: EI / (E z)."""
        level = self.top if crown else self.bottom
        there = [p for p in self.parts if abs((p.top if crown else p.bottom) - level) < 1e-12]
        return self.EI / (max(p.E for p in there) * abs(level - self.neutral))

    def strain(self, moment: float, level: float) -> float:
        """Strain at a height under a moment (N m) that stretches what lies below the neutral axis."""
        return -moment * (level - self.neutral) / self.EI

    def stresses(self, moment: float) -> tuple[tuple[str, float, float], ...]:
        """Stress at foot and head of every part, Pa, tension positive, under a moment in N m."""
        return tuple(
            (p.name, p.E * self.strain(moment, p.bottom), p.E * self.strain(moment, p.top)) for p in self.parts
        )

    def first_moment(self, level: float) -> float:
        """Sum of E A z above a height, about the neutral axis, N m."""
        total = 0.0
        for p in self.parts:
            low = min(max(level, p.bottom), p.top)
            total += p.E * p.width * (p.top - low) * ((p.top + low) / 2 - self.neutral)
        return total

    def shear_flow(self, shear: float, level: float) -> float:
        """Shear flow through a cut at a height, N/m, under a shear force in N: V S / EI."""
        return shear * self.first_moment(level) / self.EI

    def shear_stress(self, shear: float, level: float) -> float:
        """Shear stress in the stiffest of the parts that carry shear at a height, Pa; 0 where none does."""
        there = [p for p in self.parts if p.bottom - 1e-12 <= level <= p.top + 1e-12 and p.G > 0]
        carried = sum(p.G * p.width for p in there)
        return self.shear_flow(shear, level) * max(p.G for p in there) / carried if carried else 0.0

    @cached_property
    def web_levels(self) -> Floats:
        """Heights where the shear stress may be greatest: the neutral axis, foot and head of every part, m."""
        levels = [v for p in self.parts for v in (p.bottom + 1e-9, p.top - 1e-9)]
        return np.array([self.neutral, *levels])

    def greatest_shear(self, shear: float) -> float:
        """The greatest shear stress in the section, Pa."""
        return max(abs(self.shear_stress(shear, float(z))) for z in self.web_levels)

    @cached_property
    def GA(self) -> float:
        """Stiffness in shear, N: what stores the energy of the shear flow, 1 / GA = integral of S2 / (EI2 sum of G b).

        Heights where no part carries shear are left out; infinite where none does anywhere.
        """
        levels = distinct(np.array([v for p in self.parts for v in (p.bottom, p.top)] + [self.neutral]))
        z, weight = np.polynomial.legendre.leggauss(6)
        flex = 0.0
        for low, high in pairwise(levels):
            stiff = sum(p.G * p.width for p in self.parts if p.bottom <= (low + high) / 2 <= p.top)
            if stiff <= 0:
                continue
            at = low + (high - low) * (z + 1) / 2
            moments = np.array([self.first_moment(float(v)) for v in at])
            flex += float((weight / 2 * (high - low)) @ moments**2) / (self.EI**2 * stiff)
        return 1 / flex if flex > 0 else float("inf")


def plating(width: float, thickness: float, E: float, G: float = 0.0) -> SectionPart:
    """The strip of panel that works with a stiffener, its upper face at height 0."""
    return SectionPart("plating", width, thickness, -thickness, E, G)


def effective_width(thickness: float, foot: float, spacing: float | None, each_side: float = 20.0) -> float:
    """Width of plating that works with a stiffener ``foot`` m wide, m: ``each_side`` t beyond it, or the spacing."""
    width = foot + 2 * each_side * thickness
    return width if spacing is None else min(width, spacing)
