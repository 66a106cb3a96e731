"""What a mix weighs: resin with hardener, mixed resin with a filler. SI.

Volumes of liquids add up; a filler takes the place of its solid volume only, its own air goes out. Valid for mixes
without air stirred in: a whipped putty is lighter. Source: conservation of mass.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from collections.abc import Sequence


def mixed_density(masses: Sequence[float], densities: Sequence[float]) -> float:
    """Density of parts mixed by mass, kg/m3: sum of m over sum of m / rho; parts in kg, densities in kg/m3."""
    return sum(masses) / sum(m / d for m, d in zip(masses, densities, strict=True))


def volume_parts(masses: Sequence[float], densities: Sequence[float]) -> tuple[float, ...]:
    """Parts by volume of parts by mass (kg, densities in kg/m3), the last as 1."""
    volumes = [m / d for m, d in zip(masses, densities, strict=True)]
    return tuple(v / volumes[-1] for v in volumes)


class Filled(Struct, frozen=True):
    """A filled resin: density kg/m3, share of resin by mass, volume over that of the resin."""

    density: float
    resin_share: float
    volume: float


def filled(resin: float, volumes: float, bulk: float, true: float) -> Filled:
    """Resin of a density with ``volumes`` of filler, as poured, per volume of resin; its densities as poured (``bulk``)
    and as a solid (``true``), kg/m3.
    """
    filler = volumes * bulk
    volume = 1 + filler / true
    return Filled((resin + filler) / volume, resin / (resin + filler), volume)
