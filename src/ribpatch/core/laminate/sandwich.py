"""A cored panel: the two skins and the core by the same lamination theory, and what only a sandwich can suffer.

Transverse shear stiffness a width G d2 / c with d between the middles of the skins and c the core's thickness;
wrinkling of a skin in compression at 0.5 (Ef Ec Gc)^(1/3). SI. Valid for skins thin against the core. Source: [17].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.laminate.layup import Layup, core_sheet, joined

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Core

WRINKLE = 0.5
NO_BED = Layup(())


class Sandwich(Struct, frozen=True, eq=False):
    """Skins below and above a core of thickness c (m); ``stiff`` is the share of the core's stiffness that is left.

    ``under`` and ``over`` are the beds of putty, shim and all, between the core and each skin: thin, but far from the
    middle.
    """

    below: Layup
    core: Core
    c: float
    above: Layup
    stiff: float = 1.0
    under: Layup = NO_BED
    over: Layup = NO_BED

    @property
    def layup(self) -> Layup:
        """All of it as one laminate."""
        return joined(
            self.below, self.under, Layup((core_sheet(self.core, self.c, self.stiff),)), self.over, self.above
        )

    @property
    def d(self) -> float:
        """Distance between the middles of the skins, m."""
        beds = self.under.thickness + self.over.thickness
        return self.c + beds + (self.below.thickness + self.above.thickness) / 2

    @property
    def shear_stiffness(self) -> float:
        """Transverse shear stiffness a width, N/m."""
        return shear_stiffness(self.core.shear_modulus * self.stiff, self.d, self.c)

    @property
    def shear_strength(self) -> float:
        """Transverse shear force a width at which the core shears, N/m."""
        return self.core.shear_strength * self.d

    def wrinkling(self, skin: Layup) -> tuple[float, float]:
        """Stress in a skin at which it wrinkles, along and across, Pa."""
        along, across, _ = skin.plate.in_plane
        ec, gc = self.core.modulus_through * self.stiff, self.core.shear_modulus * self.stiff
        return wrinkling(float(along), ec, gc), wrinkling(float(across), ec, gc)


def shear_stiffness(modulus: float, d: float, c: float) -> float:
    """Transverse shear stiffness a width, N/m, of a core of shear modulus Pa; d and c in m. Source: [17]."""
    return modulus * d * d / c


def wrinkling(skin: float, core: float, shear: float) -> float:
    """Wrinkling stress of a skin, Pa, from the moduli of skin and core and the core's shear modulus, Pa. Source:
    [17].
    """
    return float(WRINKLE * (skin * core * shear) ** (1 / 3))
