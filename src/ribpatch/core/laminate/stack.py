"""A stack of plies, deepest first: thickness, weight, plies needed for a thickness. Source: [2]."""

from __future__ import annotations

from math import ceil
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from ribpatch.core.laminate.ply import Ply, ply_at, ply_of
from ribpatch.core.memo import remembered
from ribpatch.core.scheme import Stack, unrolled

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.job import Skin
    from ribpatch.core.materials.records import Process
    from ribpatch.core.materials.shelf import Shelf

MICRON = 1e-6


class Laid(Struct, frozen=True):
    """One ply of a stack in its place: its number from 1, its angle in degrees."""

    number: int
    ply: Ply
    angle: float


class StackUp(Struct, frozen=True, eq=False):
    """All plies of a stack, deepest first."""

    plies: tuple[Laid, ...]

    @property
    def thickness(self) -> float:
        """Cured thickness in m."""
        return sum(laid.ply.thickness for laid in self.plies)

    @property
    def weight(self) -> float:
        """Cured weight in kg/m2."""
        return sum(laid.ply.weight for laid in self.plies)

    @property
    def tops(self) -> Floats:
        """Height of each ply's top over the underside of the stack, m, shape (n,)."""
        return np.cumsum([laid.ply.thickness for laid in self.plies])


@remembered(256)
def stack_up(lines: Stack, resin: str, process: Process, shelf: Shelf) -> StackUp:
    """The plies of a stack, counted out one by one; raises UnknownItem for a fabric or resin that is not there."""
    density = shelf.resin(resin).density
    laid: list[Laid] = []
    for line in unrolled(lines):
        ply = ply_of(shelf.fabric(line.fabric), density, process, shelf)
        first = len(laid) + 1
        laid.extend(Laid(first + i, ply, line.angle) for i in range(line.count))
    return StackUp(tuple(laid))


def skin_stack(skin: Skin, shelf: Shelf) -> StackUp:
    """The plies of an original skin laid by hand, at the fibre mass fraction of a burn-off where there is one."""
    stack = stack_up(skin.plies, skin.resin, "hand", shelf)
    if skin.fibre_fraction is None:
        return stack
    density, fraction = shelf.resin(skin.resin).density, skin.fibre_fraction.si
    burnt = (
        replace(laid, ply=ply_at(laid.ply.fabric, (fraction,) * len(laid.ply.layers), density, shelf))
        for laid in stack.plies
    )
    return StackUp(tuple(burnt))


def skin_thickness(skin: Skin, shelf: Shelf) -> float:
    """Thickness of an original skin in m: as measured, else from its plies."""
    if skin.thickness is not None:
        return skin.thickness.si
    return skin_stack(skin, shelf).thickness


def skin_weight(skin: Skin, shelf: Shelf) -> float:
    """Weight of an original skin in kg/m2: from its plies, else thickness times the usual density."""
    if skin.plies:
        stack = skin_stack(skin, shelf)
        scale = skin.thickness.si / stack.thickness if skin.thickness is not None else 1.0
        return stack.weight * scale
    return skin_thickness(skin, shelf) * shelf.rule("old.skin.density")


def plies_for(thickness: float, ply_thickness: float) -> int:
    """Plies needed to reach ``thickness`` (both m): never fewer than reach it (a micron short counts as reached)."""
    if ply_thickness <= 0:
        raise ValueError("a ply needs a thickness above zero")
    return max(0, ceil((thickness - MICRON) / ply_thickness))
