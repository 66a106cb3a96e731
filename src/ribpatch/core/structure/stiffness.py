"""What the panel solver needs of a laminate: bending about its own neutral axes, and transverse shear. SI.

A sandwich carries transverse shear in its core, G d2 / c; a solid laminate by the energy of the parabolic shear of its
layers (5/6 G t where they are alike). Source: [15], [17].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.laminate.plate import heights

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.geometry import Floats
    from ribpatch.core.laminate.plate import Plate


def bending_about_neutral(plate: Plate) -> Floats:
    """D - B A^-1 B, N m, shape (3, 3): bending with the middle free to stretch."""
    return np.asarray(plate.D - plate.B @ np.linalg.solve(plate.A, plate.B))


def _along_x_and_y(g13: Floats, g23: Floats, angles: Floats) -> tuple[Floats, Floats, Floats]:
    """Transverse shear moduli of turned layers: xz, yz and their coupling, Pa, each (n,)."""
    c, s = np.cos(np.radians(angles)), np.sin(np.radians(angles))
    return g13 * c**2 + g23 * s**2, g13 * s**2 + g23 * c**2, (g13 - g23) * c * s


def layered_shear(thickness: Floats, angles: Floats, g13: Floats, g23: Floats) -> Floats:
    """Transverse shear stiffness of a solid laminate, N/m, shape (2, 2): layers (n,) of thickness m and moduli Pa.

    The shear stress is taken as a parabola over the whole thickness, and its energy summed: S = t2 / (integral of f2 /
    G), f = 1.5 (1 - (2 z / t)2).
    """
    z, t = heights(thickness), float(thickness.sum())
    u = 2 * z / t

    def part(v: Floats) -> Floats:  # integral of (1 - v2)2
        return np.asarray(v - 2 * v**3 / 3 + v**5 / 5)

    weight = 2.25 * t / 2 * (part(u[1:]) - part(u[:-1]))
    xz, yz, both = _along_x_and_y(g13, g23, angles)
    layers = np.linalg.inv(np.stack([np.stack([xz, both], -1), np.stack([both, yz], -1)], -2))
    return np.asarray(t**2 * np.linalg.inv(np.einsum("n,nij->ij", weight, layers)))


def sandwich_shear(thickness: Floats, angles: Floats, g13: Floats, g23: Floats, cores: NDArray[np.bool_]) -> Floats:
    """Transverse shear stiffness of a sandwich, N/m, shape (2, 2): G d2 / c, layers (n,), ``cores`` marks the core.

    d runs between the middles of what lies on either side; several core layers yield one after the other.
    """
    at = np.flatnonzero(cores)
    below, above = float(thickness[: at[0]].sum()), float(thickness[at[-1] + 1 :].sum())
    whole = thickness[at[0] : at[-1] + 1]
    d = float(whole.sum()) + (below + above) / 2
    xz, yz, both = (v[at] for v in _along_x_and_y(g13, g23, angles))
    layers = np.linalg.inv(np.stack([np.stack([xz, both], -1), np.stack([both, yz], -1)], -2))
    return np.asarray(d**2 * np.linalg.inv(np.einsum("n,nij->ij", thickness[at], layers)))
