"""A laminate as layers with stiffness and strain limits, whatever they are made of: plies, an old skin, a core.

Bottom up. A fabric is laid with the last layer of its list down (the mat of a combined fabric lies towards the old
laminate). SI: m, Pa, strains m/m.
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.laminate.elastic import Elastic, elastic_of
from ribpatch.core.laminate.plate import Plate, plate, reduced, turned
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.laminate.stack import StackUp
    from ribpatch.core.materials.records import Core, Layer, Putty, Resin
    from ribpatch.core.materials.shelf import Shelf

# Strain limits of a layer: tension and compression along 1, the same along 2, shear.
Limits = tuple[float, float, float, float, float]
BED_POISSON = 0.36  # as of the resin in it
NO_LIMIT: Limits = (1.0, 1.0, 1.0, 1.0, 1.0)


class Sheet(Struct, frozen=True):
    """One layer: its ply's number (0 for a core), what it is, thickness m, angle degrees, constants and strain
    limits.
    """

    ply: int
    name: str
    thickness: float
    angle: float
    elastic: Elastic
    limits: Limits
    core: bool = False


class Layup(Struct, frozen=True, eq=False, dict=True):
    """Layers from the bottom up."""

    sheets: tuple[Sheet, ...]

    @property
    def thickness(self) -> float:
        """Whole thickness in m."""
        return sum(sheet.thickness for sheet in self.sheets)

    @cached_property
    def thicknesses(self) -> Floats:
        """Thickness of each layer, m, shape (n,)."""
        return np.array([sheet.thickness for sheet in self.sheets])

    @cached_property
    def angles(self) -> Floats:
        """Angle of each layer, degrees, shape (n,)."""
        return np.array([sheet.angle for sheet in self.sheets])

    @cached_property
    def limits(self) -> Floats:
        """Strain limits, shape (n, 5)."""
        return np.array([sheet.limits for sheet in self.sheets])

    @cached_property
    def stiffness(self) -> Floats:
        """Stiffness of each layer in its own axes, Pa, shape (n, 3, 3)."""
        constants = np.array([(e.e1, e.e2, e.g12, e.nu12) for e in (sheet.elastic for sheet in self.sheets)])
        return reduced(*constants.T)

    @cached_property
    def plate(self) -> Plate:
        """Its A, B and D."""
        return plate(turned(self.stiffness, self.angles), self.thicknesses)


def limits_of(layer: Layer, shelf: Shelf) -> Limits:
    """The strain limits of a fabric's layer by its fibre."""
    f = shelf.fibre(layer.fibre)
    if layer.kind == "mat":
        return f.mat_tension, f.mat_compression, f.mat_tension, f.mat_compression, f.mat_shear
    return f.tension, f.compression, f.transverse, f.transverse_compression, f.shear


@remembered(256)
def layup_of(stack: StackUp, resin: Resin, shelf: Shelf) -> Layup:
    """The layers of a stack of plies."""
    sheets: list[Sheet] = []
    for laid in stack.plies:
        sheets.extend(ply_sheets(laid.number, laid.angle, laid.ply.layers, resin, shelf))
    return Layup(tuple(sheets))


def ply_sheets(
    number: int, angle: float, layers: tuple[tuple[Layer, float, float], ...], resin: Resin, shelf: Shelf
) -> list[Sheet]:
    """The layers of one ply laid at ``angle``; ``layers`` are (layer, fibre mass fraction, thickness m)."""
    return [
        Sheet(
            number,
            layer.kind,
            thickness,
            angle + layer.angle,
            elastic_of(layer, fraction, resin, shelf),
            limits_of(layer, shelf),
        )
        for layer, fraction, thickness in reversed(layers)
    ]


def core_sheet(core: Core, thickness: float, stiff: float = 1.0) -> Sheet:
    """A core as one thick layer; ``stiff`` is the share of its stiffness that is left."""
    e, g = core.modulus * stiff, (core.shear_in_plane or core.shear_modulus) * stiff
    return Sheet(0, core.name, thickness, 0.0, Elastic(e, e, g, 0.3), NO_LIMIT, True)


def bed_sheet(putty: Putty, thickness: float) -> Sheet:
    """A bed of cured putty as one layer; it carries its share and is not what fails first."""
    e = putty.modulus
    return Sheet(0, putty.name, thickness, 0.0, Elastic(e, e, e / (2 * (1 + BED_POISSON)), BED_POISSON), NO_LIMIT)


def scaled(layup: Layup, thickness: float) -> Layup:
    """The same layers drawn out to a whole thickness in m."""
    share = thickness / layup.thickness
    return Layup(
        tuple(Sheet(s.ply, s.name, s.thickness * share, s.angle, s.elastic, s.limits, s.core) for s in layup.sheets)
    )


def joined(*parts: Layup) -> Layup:
    """Layups on top of one another, bottom first."""
    return Layup(tuple(sheet for part in parts for sheet in part.sheets))
