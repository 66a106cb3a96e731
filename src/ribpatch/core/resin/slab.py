"""A thick lay-up on what lies under it: heat made by cure, led through the thickness, lost at both faces. SI, degC.

c rho dT/dt = d/dx (k dT/dx) + rho w H da/dt in the lay-up, w the share of resin by mass; no heat is made in the base.
The upper face loses to the air, the far side of the base too. Finite volumes; heat is led by the trapezoid and the
second backward difference (second order, and nothing rings), with the cure of the middle of the step; steps begin short
and grow, no cell cures in one by more than a fiftieth, nor warms by more than 2 K of its own heat. Source: [27], [28].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.resin.cure import LAST, ZERO, speed

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.resin.cure import Kinetics

CELLS = 24  # of the lay-up
LEAST_CELLS = 8  # of a layer of the base
FIRST_STEP, MOST_STEP, LEAST_STEP, GROWTH = 0.5, 300.0, 1e-3, 1.25  # s
TRAPEZOID = 2 - 2**0.5  # of a step, before the backward difference
CURES, WARMS = 0.02, 2.0  # most that a step cures, and warms by, K
MOST_TIME = 4 * 86_400.0  # s; what has not cured by then is told as it stands


class Material(Struct, frozen=True):
    """What leads heat: conductivity W/(m K), density kg/m3, heat capacity J/(kg K)."""

    conductivity: float
    density: float
    capacity: float


class Layer(Struct, frozen=True):
    """A layer of the base, m, from the lay-up down."""

    thickness: float
    material: Material


class Slab(Struct, frozen=True):
    """A lay-up: thickness m, its material, share of resin by mass, the base under it (none: a face like the upper one),
    loss of both outer faces W/(m2 K).
    """

    thickness: float
    material: Material
    resin_share: float
    base: tuple[Layer, ...]
    loss: float
    loss_below: float


class SlabCourse(Struct, frozen=True, eq=False):
    """What a slab comes to: time s and, of each, the hottest cell of the lay-up, degC, and the least cured share."""

    time: Floats
    hottest: Floats
    cured: Floats

    @property
    def peak(self) -> float:
        """The hottest anywhere at any time, degC."""
        return float(self.hottest.max())

    def time_to(self, temperature: float) -> float:
        """When the hottest cell is first that hot, s; without end where it never is."""
        over = self.hottest >= temperature
        if not over.any():
            return float("inf")
        n = int(np.argmax(over))
        return float(np.interp(temperature, self.hottest[max(n - 1, 0) : n + 1], self.time[max(n - 1, 0) : n + 1]))


def slab_course(
    slab: Slab, k: Kinetics, start: float, air: float, cells: int = CELLS, last: float = LAST - 1e-3
) -> SlabCourse:
    """The course of a slab laid at ``start`` degC, its base as warm as the air, until all of it has cured as far as
    ``last``.
    """
    width, lead, store, laid = _cells(slab, cells)
    between = _between(width, lead)
    outer = np.zeros(len(width))
    outer[0] = 1 / (1 / slab.loss_below + width[0] / 2 / lead[0])
    outer[-1] += 1 / (1 / slab.loss + width[-1] / 2 / lead[-1])
    made = slab.material.density * slab.resin_share * k.heat * width[laid]  # J/m2 a whole cure
    now = np.full(len(width), air + ZERO)
    now[laid] = start + ZERO
    cured, time, step = np.zeros(cells), 0.0, FIRST_STEP / GROWTH
    lead_on = _Led(between, outer, store, air + ZERO)
    rows = [(0.0, start, 0.0)]
    while float(cured.min()) < last and time < MOST_TIME:
        pace = speed(k, cured, now[laid])
        lift = float((pace * made / store[laid]).max())
        most = min(MOST_STEP, GROWTH * step, CURES / float(pace.max()), WARMS / max(lift, 1e-12))
        step = max(most, LEAST_STEP)
        half = lead_on.backward(now, _heat(pace * made, laid, now), step / 2)
        pace = speed(k, np.minimum(cured + pace * step / 2, 1.0), half[laid])
        pace = np.minimum(pace, (1 - cured) / step)
        cured, now = cured + pace * step, lead_on.after(now, _heat(pace * made, laid, now), step)
        time += step
        rows.append((time, float(now[laid].max()) - ZERO, float(cured.min())))
    times, hottest, least = np.array(rows).T
    return SlabCourse(times, hottest, least)


def _cells(slab: Slab, cells: int) -> tuple[Floats, Floats, Floats, slice]:
    """Widths m, conductivities, heat stores J/(m2 K), bottom first, and which cells are the lay-up."""
    rows = [(slab.thickness / cells, slab.material)] * cells
    under: list[tuple[float, Material]] = []
    for layer in slab.base:
        count = max(LEAST_CELLS, round(LEAST_CELLS * layer.thickness / max(slab.thickness, 1e-4)) // 2)
        count = min(count, 60)
        under += [(layer.thickness / count, layer.material)] * count
    under.reverse()
    every = [*under, *rows]
    width = np.array([w for w, _ in every])
    lead = np.array([m.conductivity for _, m in every])
    store = np.array([w * m.density * m.capacity for w, m in every])
    return width, lead, store, slice(len(under), len(every))


def _between(width: Floats, lead: Floats) -> Floats:
    """What neighbours hand on to each other, W/(m2 K)."""
    half = width / 2 / lead
    return np.asarray(1 / (half[:-1] + half[1:]))


def _heat(made: Floats, laid: slice, like: Floats) -> Floats:
    """Heat made in every cell, W/m2."""
    found = np.zeros_like(like)
    found[laid] = made
    return found


class _Led(Struct, frozen=True, eq=False):
    """How cells lead heat: to each other, and the outer ones to the air, W/(m2 K); what each stores, J/(m2 K)."""

    between: Floats
    outer: Floats
    store: Floats
    outside: float

    @property
    def diagonal(self) -> Floats:
        """All that a cell hands on for a degree."""
        return np.asarray(np.concatenate([[0.0], self.between]) + np.concatenate([self.between, [0.0]]) + self.outer)

    def flow(self, now: Floats) -> Floats:
        """Heat that flows into every cell, W/m2."""
        made = self.outer * self.outside - self.diagonal * now
        made[1:] += self.between * now[:-1]
        made[:-1] += self.between * now[1:]
        return made

    def backward(self, now: Floats, heat: Floats, step: float) -> Floats:
        """Temperatures after a step by what flows at its end."""
        return now + _tridiagonal(-self.between, self.store / step + self.diagonal, self.flow(now) + heat)

    def after(self, now: Floats, heat: Floats, step: float) -> Floats:
        """Temperatures after a step: the trapezoid for its first part, then the second backward difference."""
        g, c = TRAPEZOID, self.store / (TRAPEZOID * step)
        first = now + _tridiagonal(-self.between / 2, c + self.diagonal / 2, self.flow(now) + heat)
        share = 1 / (g * (2 - g))
        known = share * first - share * (1 - g) ** 2 * now
        weight = self.store * (2 - g) / ((1 - g) * step)
        return known + _tridiagonal(-self.between, weight + self.diagonal, self.flow(known) + heat)


def _tridiagonal(off: Floats, middle: Floats, right: Floats) -> Floats:
    """Solve a symmetric tridiagonal system."""
    d, r, o = middle.tolist(), right.tolist(), off.tolist()
    for n in range(1, len(d)):
        share = o[n - 1] / d[n - 1]
        d[n] -= share * o[n - 1]
        r[n] -= share * r[n - 1]
    r[-1] /= d[-1]
    for n in range(len(d) - 2, -1, -1):
        r[n] = (r[n] - o[n] * r[n + 1]) / d[n]
    return np.array(r)
