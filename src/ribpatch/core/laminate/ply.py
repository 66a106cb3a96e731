"""One ply of a fabric in resin: cured thickness, resin content, weight.

Thickness t = w [1/rho_f + (1 - psi) / (psi rho_r)] / (1 - v) per layer, summed over a fabric's layers, with dry areal
weight w (kg/m2), fibre mass fraction psi, densities rho (kg/m3), void share v. Source: [2].
Valid for 0.1 < psi < 0.8.
"""

from __future__ import annotations

from dataclasses import dataclass

from ribpatch.core.materials.records import Fabric, Layer, Process
from ribpatch.core.materials.shelf import Shelf

LEAST_PSI, MOST_PSI = 0.1, 0.8


@dataclass(frozen=True, slots=True)
class Ply:
    """One cured ply: thickness in m, dry fibre and resin in kg/m2."""

    fabric: Fabric
    thickness: float
    fibre: float
    resin: float

    @property
    def weight(self) -> float:
        """Cured weight in kg/m2."""
        return self.fibre + self.resin

    @property
    def fibre_fraction(self) -> float:
        """Fibre mass fraction of the whole ply."""
        return self.fibre / self.weight


def cured_thickness(weight: float, psi: float, fibre_density: float, resin_density: float, voids: float = 0.0) -> float:
    """Cured thickness in m of dry weight ``weight`` (kg/m2) at fibre mass fraction ``psi``; densities in kg/m3.

    Raises ValueError outside 0.1 < psi < 0.8 or 0 <= voids < 1. Source: [2].
    """
    if not LEAST_PSI < psi < MOST_PSI:
        raise ValueError(f"a fibre mass fraction of {psi:.2f} is outside {LEAST_PSI} to {MOST_PSI}")
    if not 0 <= voids < 1:
        raise ValueError(f"a void share of {voids:.2f} is outside 0 to 1")
    return weight * (1 / fibre_density + (1 - psi) / (psi * resin_density)) / (1 - voids)


def resin_in(weight: float, psi: float) -> float:
    """Resin in kg/m2 held by dry weight ``weight`` (kg/m2) at fibre mass fraction ``psi``."""
    return weight * (1 - psi) / psi


def layer_psi(layer: Layer, process: Process, shelf: Shelf) -> float:
    """The fibre mass fraction in use for a layer's kind and process."""
    return shelf.rule(f"psi.{process}.{layer.kind}")


def ply_of(fabric: Fabric, resin_density: float, process: Process, shelf: Shelf) -> Ply:
    """The cured ply of a fabric; resin density in kg/m3."""
    thickness = resin = 0.0
    for layer in fabric.layers:
        psi = layer_psi(layer, process, shelf)
        density = shelf.fibre(layer.fibre).density
        thickness += cured_thickness(layer.weight, psi, density, resin_density, shelf.rule("voids"))
        resin += resin_in(layer.weight, psi)
    return Ply(fabric, thickness, fabric.weight, resin)
