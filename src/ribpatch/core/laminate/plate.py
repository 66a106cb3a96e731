"""Classical lamination theory, vectorised over any number of laminates. SI: Pa, m, N/m, N, N m; angles in degrees.

Layers are listed from the bottom up; heights count from the middle. Arrays may carry leading axes: (..., n) for n
layers. Source: [15], [16].
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats


class Plate(Struct, frozen=True, eq=False, dict=True):
    """Stiffness of a laminate: A (..., 3, 3) N/m, B N, D N m about the middle, thickness (...) m."""

    A: Floats
    B: Floats
    D: Floats
    thickness: Floats

    @cached_property
    def compliance(self) -> Floats:
        """The inverse of [[A, B], [B, D]], shape (..., 6, 6)."""
        upper = np.concatenate([self.A, self.B], axis=-1)
        lower = np.concatenate([self.B, self.D], axis=-1)
        return np.asarray(np.linalg.inv(np.concatenate([upper, lower], axis=-2)))

    @property
    def in_plane(self) -> Floats:
        """Effective moduli along x and y and in shear, Pa, shape (..., 3), free to curl."""
        diagonal = np.diagonal(self.compliance, axis1=-2, axis2=-1)[..., :3]
        return np.asarray(1 / (self.thickness[..., None] * diagonal))

    @property
    def flexural(self) -> Floats:
        """Effective bending moduli along x and y, Pa, shape (..., 2): of a plain plate of the same thickness."""
        diagonal = np.diagonal(self.compliance, axis1=-2, axis2=-1)[..., 3:5]
        return np.asarray(12 / (self.thickness[..., None] ** 3 * diagonal))

    @property
    def neutral(self) -> Floats:
        """Height of the neutral axes over the middle when bent along x and y, m, shape (..., 2): B / A."""
        a, b = (np.diagonal(m, axis1=-2, axis2=-1)[..., :2] for m in (self.A, self.B))
        return np.asarray(b / a)

    @property
    def bending(self) -> Floats:
        """Bending stiffness a width about the neutral axes, N m, shape (..., 2): D - B2 / A along x and along y."""
        a, b, d = (np.diagonal(m, axis1=-2, axis2=-1)[..., :2] for m in (self.A, self.B, self.D))
        return np.asarray(d - b**2 / a)


def reduced(e1: Floats, e2: Floats, g12: Floats, nu12: Floats) -> Floats:
    """Plane-stress stiffness Q in the layer's axes, Pa, shape (..., 3, 3). Source: [15] eq. 2.61 (Jones)."""
    nu21 = nu12 * e2 / e1
    over = 1 - nu12 * nu21
    q = np.zeros((*np.shape(e1), 3, 3))
    q[..., 0, 0], q[..., 1, 1], q[..., 2, 2] = e1 / over, e2 / over, g12
    q[..., 0, 1] = q[..., 1, 0] = nu12 * e2 / over
    return q


def strain_turn(angle: Floats) -> Floats:
    """Takes engineering strains (x, y, xy) to the axes of a layer at ``angle`` degrees; shape (..., 3, 3)."""
    c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
    rows = [[c * c, s * s, c * s], [s * s, c * c, -c * s], [-2 * c * s, 2 * c * s, c * c - s * s]]
    return np.moveaxis(np.array(rows), (0, 1), (-2, -1))


def turned(q: Floats, angle: Floats) -> Floats:
    """Q of layers laid at ``angle`` degrees, in the laminate's axes, shape (..., 3, 3): T' Q T."""
    turn = strain_turn(angle)
    return np.asarray(np.swapaxes(turn, -1, -2) @ q @ turn)


def heights(thickness: Floats) -> Floats:
    """Heights of the faces of the layers over the middle, m, shape (..., n + 1)."""
    first = np.zeros((*thickness.shape[:-1], 1))
    faces = np.concatenate([first, np.cumsum(thickness, axis=-1)], axis=-1)
    return np.asarray(faces - faces[..., -1:] / 2)


def plate(q: Floats, thickness: Floats) -> Plate:
    """The plate of layers with turned stiffness ``q`` (..., n, 3, 3) and thickness (..., n), bottom up."""
    z = heights(thickness)
    lower, upper = z[..., :-1], z[..., 1:]
    moments = [(upper**k - lower**k) / k for k in (1, 2, 3)]
    A, B, D = (np.einsum("...n,...nij->...ij", m, q) for m in moments)
    return Plate(A, B, D, np.asarray(thickness.sum(axis=-1)))
