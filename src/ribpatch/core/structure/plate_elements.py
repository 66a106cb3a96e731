"""The pieces of a panel: a first-order shear deformable plate on tensor products of hierarchic polynomials.

Fields: deflection w (m) along the load, rotations tx, ty; curvatures k = (tx,x  ty,y  tx,y + ty,x) in 1/m, shear
strains g = (w,x + tx  w,y + ty); moments M = D k in N m/m, shear forces Q = S g in N/m. Each field is a polynomial of
one degree on every piece and continuous across. Degree 5: 3 and below locks where the panel is thin. Source: [22],
[23].
"""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np
from numpy.polynomial import legendre

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats

DEGREE = 5
FIELDS = 3  # w, tx, ty
# component of the strains (kx ky kxy | gx gy), field, derivatives of it in x and y
TERMS = (
    (0, 1, 1, 0),
    (1, 2, 0, 1),
    (2, 1, 0, 1),
    (2, 2, 1, 0),
    (3, 0, 1, 0),
    (3, 1, 0, 0),
    (4, 0, 0, 1),
    (4, 2, 0, 0),
)


@lru_cache(maxsize=8)
def _coefficients(degree: int) -> Floats:
    """The modes as Legendre series on -1..1, shape (degree + 1, degree + 1): two ends, then those that vanish there."""
    rows = np.zeros((degree + 1, degree + 1))
    rows[0, :2] = 0.5, -0.5
    rows[1, :2] = 0.5, 0.5
    for n in range(2, degree + 1):
        norm = 1 / np.sqrt(2 * (2 * n - 1))
        rows[n, n], rows[n, n - 2] = norm, -norm
    return rows


@lru_cache(maxsize=8)
def _in_powers(degree: int) -> tuple[Floats, Floats]:
    """The modes and their slopes on -1..1, by powers (degree + 1 of them) and mode: nothing is lost at low degrees."""
    values, slopes = np.zeros((degree + 1, degree + 1)), np.zeros((degree + 1, degree + 1))
    for n, series in enumerate(_coefficients(degree)):
        powers = legendre.leg2poly(series)
        values[: len(powers), n] = powers
        slopes[: len(powers) - 1, n] = powers[1:] * np.arange(1, len(powers))
    return values, slopes


def modes(t: Floats, degree: int = DEGREE) -> tuple[Floats, Floats]:
    """Values and slopes of the modes at ``t`` in 0..1 of a piece of length 1; shape (t, degree + 1) each."""
    values, slopes = _in_powers(degree)
    z = 2 * np.asarray(t, float) - 1
    powers = np.ones((*z.shape, degree + 1))
    powers[..., 1:] = z[..., None]
    np.multiply.accumulate(powers, axis=-1, out=powers)
    return powers @ values, powers @ (2 * slopes)


@lru_cache(maxsize=8)
def gauss(count: int) -> tuple[Floats, Floats]:
    """Gauss-Legendre places in 0..1 and weights whose sum is 1, (count,) each: exact to degree 2 count - 1."""
    z, weight = legendre.leggauss(count)
    return (z + 1) / 2, weight / 2


@lru_cache(maxsize=8)
def products(degree: int = DEGREE) -> Floats:
    """Integrals over 0..1 of mode i derived a times, by mode j derived b times, shape (2, 2, n, n)."""
    at, weight = gauss(degree + 1)
    both = np.stack(modes(at, degree))
    return np.asarray(np.einsum("aqi,bqj,q->abij", both, both, weight))


@lru_cache(maxsize=64)
def _both_ways(ax: int, bx: int, ay: int, by: int, degree: int) -> Floats:
    """Integrals over a piece of all modes by all modes, with their derivatives in x and y, shape (n2, n2)."""
    line = products(degree)
    return np.asarray(np.kron(line[ax, bx], line[ay, by]))


def stiffness_of(strains: Floats, hx: Floats, hy: Floats, degree: int = DEGREE) -> Floats:
    """Stiffness of pieces of hx by hy m, ``strains`` (e, 5, 5) of D over S; shape (e, 3 n2, 3 n2), n2 = (degree + 1)2.

    Unknowns by field, then mode in x, then mode in y.
    """
    n2 = (degree + 1) ** 2
    made = np.zeros((len(hx), FIELDS, n2, FIELDS, n2))
    for c, f, ax, ay in TERMS:
        for d, g, bx, by in TERMS:
            if (c < 3) != (d < 3) or f > g:
                continue
            scale = strains[:, c, d] * hx ** (1 - ax - bx) * hy ** (1 - ay - by)
            if scale.any():
                made[:, f, :, g, :] += scale[:, None, None] * _both_ways(ax, bx, ay, by, degree)
    for f in range(FIELDS):
        for g in range(f):
            made[:, f, :, g, :] = np.swapaxes(made[:, g, :, f, :], 1, 2)
    return made.reshape(len(hx), FIELDS * n2, FIELDS * n2)
