"""Stiffeners as sections on the plating that works with them, and as members of a panel. SI. Source: [25]."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.structure.panel_records import PlateStiffener
from ribpatch.core.structure.section import Section, SectionPart, effective_width

if TYPE_CHECKING:
    from ribpatch.core.laminate.layup import Layup
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.scheme import Member
    from ribpatch.core.structure.laminates import PanelLaminate

KNEE_STEPS = 3  # a knee runs out in so many steps
_LEAST_HEIGHT = 0.02  # of a knee's, at its thin end


def moduli(layup: Layup, axis: str) -> tuple[float, float]:
    """Modulus along an axis and in shear of a laminate, Pa."""
    along, across, shear = (float(v) for v in layup.plate.in_plane)
    return (along if axis == "x" else across), shear


def plating_parts(laminate: PanelLaminate, axis: str, width: float) -> tuple[SectionPart, ...]:
    """The strip of panel under a stiffener, its near face at height 0."""
    sandwich = laminate.sandwich
    if sandwich is None:
        E, G = moduli(laminate.layup, axis)
        return (SectionPart("plating", width, laminate.thickness, -laminate.thickness, E, G),)
    rows, top = [], 0.0
    for name, layup in (("near skin", sandwich.below), ("far skin", sandwich.above)):
        E, G = moduli(layup, axis)
        rows.append(SectionPart(name, width, layup.thickness, top - layup.thickness, E, G))
        top -= layup.thickness + sandwich.c + sandwich.under.thickness + sandwich.over.thickness
    core = sandwich.core
    low = -sandwich.below.thickness - sandwich.under.thickness - sandwich.c
    rows.insert(
        1,
        SectionPart("core", width, sandwich.c, low, core.modulus * sandwich.stiff, core.shear_modulus * sandwich.stiff),
    )
    return tuple(rows)


def member_parts(member: Member, wall: Layup, shelf: Shelf, height: float | None = None) -> tuple[SectionPart, ...]:
    """The parts of a stiffener that stands on height 0; ``wall`` is the laminate of its walls. Counted is what is laid:
    its walls, and what fills it where that is stated and counted.
    """
    E, G = moduli(wall, "x")
    h, b, t, f = height or member.height.si, member.width.si, member.wall.si, member.flange.si
    t = min(t, h / 2, b / 2)
    parts: list[SectionPart] = []
    if member.kind in ("flat", "knee"):
        parts.append(SectionPart("web", 2 * t, h, 0.0, E, G))  # its two skins; one sheet where they meet
    elif member.kind in ("hat", "box"):
        parts.append(SectionPart("webs", 2 * t, h - t, 0.0, E, G))
        parts.append(SectionPart("crown", b, t, h - t, E, 0.0))
    else:  # an angle or an I
        parts.append(SectionPart("web", t, h - t, 0.0, E, G))
        parts.append(SectionPart("crown", b, t, h - t, E, 0.0))
    if f > 0 and member.kind != "box":
        legs = 1 if member.kind == "angle" else 2
        parts.append(SectionPart("flanges", legs * f, t, 0.0, E, 0.0))
    if member.filling and member.counted and b > 2 * t:
        core = shelf.core(member.filling)
        top = h if member.kind in ("flat", "knee") else h - t
        parts.append(SectionPart("filling", b - 2 * t, top, 0.0, core.modulus, core.shear_modulus))
    return tuple(parts)


def member_section(
    member: Member, laminate: PanelLaminate, wall: Layup, spacing: float, shelf: Shelf, height: float | None = None
) -> Section:
    """The stiffener with the plating that works along."""
    foot = 2 * member.flange.si + member.width.si
    width = effective_width(laminate.skins, foot, spacing, shelf.rule("prove.plating"))
    return Section((*plating_parts(laminate, member.axis, width), *member_parts(member, wall, shelf, height)))


def added_bending(
    member: Member, laminate: PanelLaminate, wall: Layup, spacing: float, shelf: Shelf, height: float | None = None
) -> float:
    """Bending stiffness that a stiffener adds to the panel, N m2: of the whole section, less the plating's own."""
    whole = member_section(member, laminate, wall, spacing, shelf, height)
    foot = 2 * member.flange.si + member.width.si
    width = effective_width(laminate.skins, foot, spacing, shelf.rule("prove.plating"))
    return max(whole.EI - Section(plating_parts(laminate, member.axis, width)).EI, 0.0)


def plate_stiffeners(
    member: Member, laminate: PanelLaminate, wall: Layup, box: tuple[float, float, float, float], shelf: Shelf
) -> tuple[PlateStiffener, ...]:
    """A stiffener as members of the panel that lies in ``box`` (zone axes, m); a knee in steps, each lower."""
    x0, y0, x1, y1 = box
    along, low, across, foot = (x1 - x0, x0, y1 - y0, y0) if member.axis == "x" else (y1 - y0, y0, x1 - x0, x0)
    start = max(member.start - low, 0.0) if member.start is not None else 0.0
    end = min(member.end - low, along) if member.end is not None else along
    place = member.place - foot
    if not (0 <= place <= across and start < end):
        return ()
    if member.kind != "knee":
        EI = added_bending(member, laminate, wall, across, shelf)
        return (PlateStiffener(member.axis, place, EI, start, end),)
    step = (end - start) / KNEE_STEPS
    made = []
    for n in range(KNEE_STEPS):
        height = member.height.si * max(1 - (n + 0.5) / KNEE_STEPS, _LEAST_HEIGHT)
        EI = added_bending(member, laminate, wall, across, shelf, height)
        footed = n == 0 and member.footed
        made.append(PlateStiffener(member.axis, place, EI, start + n * step, start + (n + 1) * step, footed))
    return tuple(made)
