"""Elastic constants of one cured layer from its fibre and resin. Pa, shares 0..1.

Along the fibres and Poisson's ratio by the rule of mixtures; across them and in shear by Halpin and Tsai with xi = 2
and xi = 1; a random mat as 3/8 E1 + 5/8 E2 with G = E1/8 + E2/4. Woven layers are straight layers with a stated loss to
crimp. Valid for 0.1 < psi < 0.8 and small strains. Source: [2], [15].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Fibre, Layer, Resin
    from ribpatch.core.materials.shelf import Shelf


class Elastic(Struct, frozen=True):
    """Engineering constants of a layer in its own axes, Pa; 1 is along the fibres."""

    e1: float
    e2: float
    g12: float
    nu12: float


def fibre_volume(fraction: float, fibre_density: float, resin_density: float, voids: float = 0.0) -> float:
    """Fibre volume fraction from the fibre mass fraction ``psi``; densities in kg/m3, void share of the volume."""
    fibre, resin = fraction / fibre_density, (1 - fraction) / resin_density
    return fibre / (fibre + resin) * (1 - voids)


def halpin_tsai(fibre: float, resin: float, volume: float, xi: float) -> float:
    """A modulus across the fibres, Pa, from those of fibre and resin; Halpin and Tsai's interpolation. Source: [15]."""
    eta = (fibre / resin - 1) / (fibre / resin + xi)
    return resin * (1 + xi * eta * volume) / (1 - eta * volume)


def straight(fibre: Fibre, resin: Resin, volume: float) -> Elastic:
    """A unidirectional layer at fibre volume fraction ``volume``."""
    return Elastic(
        e1=fibre.modulus * volume + resin.modulus * (1 - volume),
        e2=halpin_tsai(fibre.modulus_across, resin.modulus, volume, 2.0),
        g12=halpin_tsai(fibre.shear_modulus, resin.shear_modulus, volume, 1.0),
        nu12=fibre.poisson * volume + resin.poisson * (1 - volume),
    )


def random_mat(one: Elastic) -> Elastic:
    """A random mat of the same fibre content as the straight layer ``one``: alike in all directions. Source: [15]."""
    e = 3 / 8 * one.e1 + 5 / 8 * one.e2
    g = one.e1 / 8 + one.e2 / 4
    return Elastic(e, e, g, e / (2 * g) - 1)


def elastic_of(layer: Layer, fraction: float, resin: Resin, shelf: Shelf) -> Elastic:
    """The constants of a fabric's layer at fibre mass fraction ``psi``."""
    fibre = shelf.fibre(layer.fibre)
    one = straight(fibre, resin, fibre_volume(fraction, fibre.density, resin.density, shelf.rule("voids")))
    if layer.kind == "mat":
        return random_mat(one)
    crimp = {"woven": "crimp.woven", "light": "crimp.light"}.get(layer.kind)
    return Elastic(one.e1 * shelf.rule(crimp), one.e2, one.g12, one.nu12) if crimp else one
