"""A tabbed corner in section: the two parts, the fillet, and the plies round it, each lapping further than the one
under it.

Drawn at true proportions with the thickness of the plies exaggerated by a whole factor, which the note states.
"""

from __future__ import annotations

from math import cos, pi, radians, sin, tan
from typing import TYPE_CHECKING

from ribpatch.core.drawing.shapes import Area, Badge, Callout, Dimension, Drawing, Shape
from ribpatch.core.memo import remembered
from ribpatch.core.patch.tabbing import tab_section
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, System, shown

if TYPE_CHECKING:
    from ribpatch.core.geometry import Point
    from ribpatch.core.laminate.stack import StackUp
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.scheme import Tabbing

PART, EXAGGERATED, STEPS = 0.012, 3, 12  # m of the parts drawn; times the plies' thickness; chords of the fillet


@remembered(32)
def tab_view(stack: StackUp, tabbing: Tabbing, shelf: Shelf, system: System) -> Drawing:
    """The corner with one part lying and the other standing at the joint's angle."""
    section = tab_section(stack, tabbing, shelf.rule("tab.times"), shelf.rule("tab.least"))
    angle, radius = tabbing.angle.si, tabbing.radius.si
    reach = radius / tan(radians(angle) / 2)
    arm = reach + section.leg * 1.15 + 0.02
    shapes: list[Shape] = [*_parts(angle, arm), _fillet(angle, radius)]
    below = 0.0
    for ply, laid in zip(section.plies, stack.plies, strict=True):
        above = below + laid.ply.thickness * EXAGGERATED
        inner, outer = (_line(angle, radius, reach + ply.leg, off) for off in (below, above))
        shapes.append(Area(((*inner, *reversed(outer)),), "new-skin", laid.ply.fabric.layers[0].kind))
        shapes.append(
            Badge((reach + ply.leg - 0.006, (below + above) / 2), str(ply.number), "ply-number", above - below)
        )
        below = above
    if section.plies:
        dimension = ((reach, -PART * 1.4), (reach + section.leg, -PART * 1.4))
        shapes.append(Dimension(*dimension, shown(section.leg, Kind.SIZE, system)))
        count = f"{counted(len(section.plies), 'ply', 'plies')} {shown(section.thickness, Kind.SIZE, system)}"
        shapes.append(Callout((reach + section.leg * 0.5, below), count, "right"))
    shapes.append(Callout((reach * 0.4, reach * 0.3), f"fillet r {shown(radius, Kind.SIZE, system)}", "left"))
    top = _along(angle, arm, 0.0)
    bounds = (min(0.0, top[0]) - PART, -PART * 2, arm, max(top[1], 0.02))
    title = f"Tabbing in section, {shown(angle, Kind.ANGLE, system)}"
    return Drawing(title, f"plies × {EXAGGERATED} thick", bounds, tuple(shapes))


def _along(angle: float, far: float, off: float) -> Point:
    """A place ``far`` along the standing part and ``off`` from its face."""
    a = radians(angle)
    return far * cos(a) + off * sin(a), far * sin(a) - off * cos(a)


def _parts(angle: float, arm: float) -> list[Shape]:
    lying = ((0.0, 0.0), (arm, 0.0), (arm, -PART), (-PART, -PART))
    standing = (
        _along(angle, 0.0, 0.0),
        _along(angle, arm, 0.0),
        _along(angle, arm, -PART),
        _along(angle, 0.0, -PART),
    )
    return [Area((ring,), "old-skin", "old laminate") for ring in (lying, standing)]


def _arc(angle: float, radius: float, off: float) -> list[Point]:
    """The face of the fillet moved ``off`` towards its centre, from the lying part to the standing one."""
    reach = radius / tan(radians(angle) / 2)
    turn = pi - radians(angle)
    r = max(radius - off, radius * 0.05)
    turns = (-pi / 2 - turn * k / STEPS for k in range(STEPS + 1))
    return [(reach + r * cos(a), radius + r * sin(a)) for a in turns]


def _fillet(angle: float, radius: float) -> Area:
    return Area((((0.0, 0.0), *_arc(angle, radius, 0.0)),), "putty", "putty")


def _line(angle: float, radius: float, far: float, off: float) -> tuple[Point, ...]:
    """One face of a ply: along the lying part, round the fillet, up the standing part."""
    return ((far, off), *_arc(angle, radius, off), _along(angle, far, off))
