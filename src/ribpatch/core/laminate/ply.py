"""One ply of a fabric in resin: cured thickness, resin content, weight.

Thickness t = w [1/rho_f + (1 - psi) / (psi rho_r)] / (1 - v) per layer, summed over a fabric's layers, with dry areal
weight w (kg/m2), fibre mass fraction psi, densities rho (kg/m3), void share v. Source: [2].
Valid for 0.1 < psi < 0.8.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.errors import ImpossibleCoupon
from ribpatch.core.numerals import fixed

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Coupon, Fabric, Layer, Process
    from ribpatch.core.materials.shelf import Shelf

LEAST_FIBRE_FRACTION, MOST_FIBRE_FRACTION = 0.1, 0.8


class Ply(Struct, frozen=True):
    """One cured ply: thickness in m, dry fibre and resin in kg/m2; each layer with its fibre mass fraction and
    thickness.
    """

    fabric: Fabric
    thickness: float
    fibre: float
    resin: float
    layers: tuple[tuple[Layer, float, float], ...]

    @property
    def weight(self) -> float:
        """Cured weight in kg/m2."""
        return self.fibre + self.resin

    @property
    def fibre_fraction(self) -> float:
        """Fibre mass fraction of the whole ply."""
        return self.fibre / self.weight


def cured_thickness(
    weight: float, fraction: float, fibre_density: float, resin_density: float, voids: float = 0.0
) -> float:
    """Cured thickness in m of dry weight ``weight`` (kg/m2) at fibre mass fraction ``psi``; densities in kg/m3.

    Raises ValueError outside 0.1 < psi < 0.8 or 0 <= voids < 1. Source: [2].
    """
    if not LEAST_FIBRE_FRACTION < fraction < MOST_FIBRE_FRACTION:
        raise ValueError(
            f"a fibre mass fraction of {fixed(fraction, 2)} is outside {LEAST_FIBRE_FRACTION} to {MOST_FIBRE_FRACTION}"
        )
    if not 0 <= voids < 1:
        raise ValueError(f"a void share of {fixed(voids, 2)} is outside 0 to 1")
    return weight * (1 / fibre_density + (1 - fraction) / (fraction * resin_density)) / (1 - voids)


def resin_in(weight: float, fraction: float) -> float:
    """Resin in kg/m2 held by dry weight ``weight`` (kg/m2) at fibre mass fraction ``psi``."""
    return weight * (1 - fraction) / fraction


def layer_fibre_fraction(layer: Layer, process: Process, shelf: Shelf) -> float:
    """The usual fibre mass fraction of a layer's kind and process."""
    return shelf.rule(f"psi.{process}.{layer.kind}")


def fibre_fractions(fabric: Fabric, process: Process, shelf: Shelf) -> tuple[float, ...]:
    """The fibre mass fraction of each layer: as a coupon of this fabric and process measured it, else the usual one.

    A coupon scales the resin of all layers alike, so that a mat backing stays the wetter part.
    """
    usual = tuple(layer_fibre_fraction(layer, process, shelf) for layer in fabric.layers)
    coupon = shelf.coupon(fabric.id, process)
    if coupon is None:
        return usual
    share = resin_share(fabric, usual, coupon, shelf)
    return tuple(fraction / (fraction + (1 - fraction) * share) for fraction in usual)


def resin_share(fabric: Fabric, usual: tuple[float, ...], coupon: Coupon, shelf: Shelf) -> float:
    """Resin that a coupon holds over what it would at the usual fibre mass fractions; negative where it is too thin."""
    density, voids = shelf.resin(coupon.resin).density, shelf.rule("voids")
    fibre = sum(layer.weight / shelf.fibre(layer.fibre).density for layer in fabric.layers)
    resin = sum(
        resin_in(layer.weight, fraction) / density for layer, fraction in zip(fabric.layers, usual, strict=True)
    )
    return (coupon.thickness / coupon.plies * (1 - voids) - fibre) / resin


def coupon_fibre_fraction(fabric: Fabric, coupon: Coupon, shelf: Shelf) -> float:
    """The whole fibre mass fraction that a coupon shows; raises ImpossibleCoupon outside 0.1 to 0.8."""
    usual = tuple(layer_fibre_fraction(layer, coupon.process, shelf) for layer in fabric.layers)
    share = resin_share(fabric, usual, coupon, shelf)
    resin = share * sum(resin_in(layer.weight, fraction) for layer, fraction in zip(fabric.layers, usual, strict=True))
    fraction = fabric.weight / (fabric.weight + resin) if resin > -fabric.weight else float("inf")
    if not LEAST_FIBRE_FRACTION < fraction < MOST_FIBRE_FRACTION:
        one = f"{fixed(coupon.thickness / coupon.plies * 1000, 2)} mm a ply"
        why = (
            "thinner than its fibres alone allow"
            if fraction >= MOST_FIBRE_FRACTION
            else "nearly all of it would be resin"
        )
        raise ImpossibleCoupon("Coupon", fabric=fabric.name, one=one, why=why)
    return fraction


def ply_of(fabric: Fabric, resin_density: float, process: Process, shelf: Shelf) -> Ply:
    """The cured ply of a fabric; resin density in kg/m3."""
    return ply_at(fabric, fibre_fractions(fabric, process, shelf), resin_density, shelf)


def ply_at(fabric: Fabric, fractions: tuple[float, ...], resin_density: float, shelf: Shelf) -> Ply:
    """The cured ply of a fabric whose layers have the fibre mass fractions ``psis``."""
    layers, resin = [], 0.0
    for layer, fraction in zip(fabric.layers, fractions, strict=True):
        density = shelf.fibre(layer.fibre).density
        layers.append(
            (layer, fraction, cured_thickness(layer.weight, fraction, density, resin_density, shelf.rule("voids")))
        )
        resin += resin_in(layer.weight, fraction)
    return Ply(fabric, sum(t for *_, t in layers), fabric.weight, resin, tuple(layers))
