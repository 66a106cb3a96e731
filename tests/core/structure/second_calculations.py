"""Panels worked out another way than the program does: Navier's series, Kirchhoff plates on polynomials, sines."""

from __future__ import annotations

import numpy as np
from numpy.polynomial import Polynomial, legendre

from ribpatch.core.geometry import Floats
from ribpatch.core.structure.panel_records import Edges, Stiffness


def plain(E: float = 1e10, t: float = 0.01, nu: float = 0.3) -> Stiffness:
    """An isotropic plate."""
    D = E * t**3 / 12 / (1 - nu**2)
    return Stiffness(
        D * np.array([[1, nu, 0], [nu, 1, 0], [0, 0, (1 - nu) / 2]]), np.eye(2) * 5 / 6 * E / 2 / (1 + nu) * t
    )


def foam_sandwich() -> Stiffness:
    """Thin orthotropic skins on a soft core: shear is no detail."""
    return Stiffness(np.array([[9e3, 1.5e3, 0], [1.5e3, 5e3, 0], [0, 0, 2e3]]), np.diag([5e5, 8e5]))


def navier(
    s: Stiffness, a: float, b: float, box: tuple[float, float, float, float], at: tuple[float, float], terms: int = 300
) -> tuple[float, float, float]:
    """w, Mx, My at a place of a simply supported shear deformable plate under 1 N on a box: a double sine series."""
    m, n = (k.ravel().astype(float) for k in np.meshgrid(np.arange(1, terms + 1), np.arange(1, terms + 1)))
    al, be = m * np.pi / a, n * np.pi / b
    x0, y0, x1, y1 = box
    u, v = (x0 + x1) / 2, (y0 + y1) / 2
    q = 4 / (a * b) * np.sin(al * u) * np.sin(be * v)
    q *= np.sinc(m * (x1 - x0) / 2 / a) * np.sinc(n * (y1 - y0) / 2 / b)
    (D11, D12, _), (_, D22, _), (_, _, D66) = s.D
    (Sx, _), (_, Sy) = s.S
    K = np.zeros((len(m), 3, 3))
    K[:, 0, 0] = Sx * al**2 + Sy * be**2
    K[:, 0, 1] = K[:, 1, 0] = Sx * al
    K[:, 0, 2] = K[:, 2, 0] = Sy * be
    K[:, 1, 1] = D11 * al**2 + D66 * be**2 + Sx
    K[:, 1, 2] = K[:, 2, 1] = (D12 + D66) * al * be
    K[:, 2, 2] = D66 * al**2 + D22 * be**2 + Sy
    W, X, Y = np.linalg.solve(K, np.stack([q, 0 * q, 0 * q], -1)[..., None])[..., 0].T
    shape = np.sin(al * at[0]) * np.sin(be * at[1])
    kx, ky = -al * X * shape, -be * Y * shape
    return float((W * shape).sum()), float((D11 * kx + D12 * ky).sum()), float((D12 * kx + D22 * ky).sum())


def kirchhoff(
    edges: Edges, s: Stiffness, a: float, b: float, at: tuple[float, float], terms: int = 14
) -> tuple[float, float, float]:
    """w, Mx, My under 1 Pa of a plate without shear, on polynomials that fulfil the edges by a factor (Ritz)."""
    power = {"F": 0, "S": 1, "C": 2}
    left, right, bottom, top = (power[e] for e in edges.all)
    z, weight = legendre.leggauss(2 * terms)

    def line(low: int, high: int, length: float, where: float) -> tuple[list[Floats], list[Floats]]:
        factor = Polynomial([0, 1]) ** low * Polynomial([1, -1]) ** high
        base = [factor * Polynomial(legendre.leg2poly([0] * k + [1]))(Polynomial([-1, 2])) for k in range(terms)]
        t = (z + 1) / 2
        inside = [np.array([p.deriv(d)(t) if d else p(t) for p in base]) / length**d for d in range(3)]
        there = [
            np.array([p.deriv(d)(where / length) if d else p(where / length) for p in base]) / length**d
            for d in range(3)
        ]
        return inside, there

    X, x = line(left, right, a, at[0])
    Y, y = line(bottom, top, b, at[1])
    w = weight / 2

    def pair(P: list[Floats], i: int, j: int, length: float) -> Floats:
        return np.asarray((P[i] * w) @ P[j].T * length)

    def kron(i: int, j: int, k: int, m: int) -> Floats:
        return np.kron(pair(X, i, k, a), pair(Y, j, m, b))

    (D11, D12, _), (_, D22, _), (_, _, D66) = s.D
    K = D11 * kron(2, 0, 2, 0) + D22 * kron(0, 2, 0, 2) + 4 * D66 * kron(1, 1, 1, 1)
    K += D12 * (kron(2, 0, 0, 2) + kron(0, 2, 2, 0))
    c = np.linalg.lstsq(K, np.kron(X[0] @ w * a, Y[0] @ w * b), rcond=1e-14)[0]
    kx, ky = -c @ np.kron(x[2], y[0]), -c @ np.kron(x[0], y[2])
    return float(c @ np.kron(x[0], y[0])), float(D11 * kx + D12 * ky), float(D12 * kx + D22 * ky)


def stiffened_sines(s: Stiffness, a: float, b: float, beams: list[tuple[float, float]], terms: int = 60) -> float:
    """Middle deflection under 1 Pa of a supported plate without shear and members along x at (y, EI): sine Ritz."""
    m = np.arange(1, terms, 2)
    n = np.arange(1, 2 * terms)
    (D11, D12, _), (_, D22, _), (_, _, D66) = s.D
    middle = 0.0
    for k in m:
        al, be = k * np.pi / a, n * np.pi / b
        K = np.diag(a * b / 4 * (D11 * al**4 + 2 * (D12 + 2 * D66) * (al * be) ** 2 + D22 * be**4))
        for y, EI in beams:
            line = np.sin(be * y)
            K += EI * al**4 * a / 2 * np.outer(line, line)
        load = 2 * a / (k * np.pi) * (1 - np.cos(n * np.pi)) * b / (n * np.pi)
        middle += float(np.linalg.solve(K, load) @ np.sin(n * np.pi / 2)) * np.sin(k * np.pi / 2)
    return middle
