"""Tabbing in section: fillet, legs of each ply, the width that each is cut to. Metres, degrees.

Each ply laps ``stagger`` further than the one under it on both parts. The fillet of radius r in an angle a touches both
parts r cot(a/2) from the corner and is pi - a of a circle. Fillet volume a metre: r2 (cot(a/2) - (pi - a)/2), which is
r2 (1 - pi/4) at a right angle. Source: [21].
"""

from __future__ import annotations

from math import pi, radians, tan
from typing import TYPE_CHECKING

import shapely
from msgspec import Struct

from ribpatch.core.geometry import clean, polygons
from ribpatch.core.patch.plies import PlyOutline

if TYPE_CHECKING:
    from ribpatch.core.laminate.stack import StackUp
    from ribpatch.core.patch.cutline import CutLine
    from ribpatch.core.scheme import Tabbing


class TabPly(Struct, frozen=True):
    """One ply of tabbing: its number, its leg on each part from the fillet's edge, the width it is cut to, m."""

    number: int
    leg: float
    width: float


class TabSection(Struct, frozen=True):
    """A tabbed joint: plies, thickness, longest leg and the least it should be, fillet m3 a metre of joint."""

    plies: tuple[TabPly, ...]
    thickness: float
    leg: float
    least: float
    fillet: float

    @property
    def enough(self) -> bool:
        """Whether the longest leg is as long as the rule wants."""
        return self.leg >= self.least - 1e-9


def fillet_volume(radius: float, degrees: float) -> float:
    """Putty of a fillet a metre, m2 of section; radius in m, the angle between the parts in degrees. Source: [21]."""
    angle = radians(degrees)
    return radius**2 * (1 / tan(angle / 2) - (pi - angle) / 2)


def arc(radius: float, degrees: float) -> float:
    """Length of a ply round the fillet, m."""
    return radius * (pi - radians(degrees))


def tab_section(stack: StackUp, tabbing: Tabbing, times: float, least: float) -> TabSection:
    """The section of a stack of tabbing; the leg should be ``times`` its thickness and ``least`` m at least."""
    plies = []
    round_it = arc(tabbing.radius.si, tabbing.angle.si)
    for index, laid in enumerate(stack.plies):
        leg = tabbing.first.si + index * tabbing.stagger.si
        plies.append(TabPly(laid.number, leg, 2 * leg + round_it))
    longest = plies[-1].leg if plies else 0.0
    fillet = fillet_volume(tabbing.radius.si, tabbing.angle.si)
    return TabSection(tuple(plies), stack.thickness, longest, max(times * stack.thickness, least), fillet)


def tab_outlines(cut: CutLine, section: TabSection, stack: StackUp) -> tuple[PlyOutline, ...]:
    """Every ply of tabbing laid flat: as long as the cut runs along the joint, as wide as its section says."""
    made = []
    for ply, laid in zip(section.plies, stack.plies, strict=True):
        boxes = []
        for part in polygons(cut.region):
            x0, y0, x1, y1 = part.bounds
            middle = (y0 + y1) / 2
            boxes.append(shapely.box(x0, middle - ply.width / 2, x1, middle + ply.width / 2))
        made.append(PlyOutline(laid, ply.leg, 1.0, clean(shapely.union_all(boxes))))
    return tuple(made)
