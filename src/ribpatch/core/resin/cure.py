"""Cure as it makes heat: how fast, and what a mixed mass that loses heat to the air comes to. Temperatures in degC.

d(a)/dt = k(T) (seed + a) (1 - a)^order, k(T) = rate exp[(Ea/R)(1/298.15 - 1/T)], a from 0 to 1: autocatalytic, as
amines and radicals cure. One temperature all through: m c dT/dt = m H da/dt - G (T - T_air). It is followed over the
cure instead of time, so that a runaway takes no shorter steps; the loss is exact within a step. Source: [27].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.materials.records import Resin

GAS = 8.314462618  # J/(mol K)
ZERO = 273.15  # K at 0 degC
REFERENCE = 298.15  # K, at which rates are stated
STEPS = 60  # to a tenth of a percent of time
LAST = 0.97  # of the cure that is followed


class Kinetics(Struct, frozen=True):
    """How a mix cures: rate at 25 degC (1/s), activation energy (J/mol), heat (J/kg) and heat capacity (J/(kg K)) of
    the mix, seed and order of the law.
    """

    rate: float
    activation: float
    heat: float
    capacity: float
    seed: float
    order: float


class Course(Struct, frozen=True, eq=False):
    """The course of some masses: cured (n,), time s and temperature degC of each, shape (n, k)."""

    cured: Floats
    time: Floats
    temperature: Floats

    @property
    def peak(self) -> Floats:
        """The hottest that each comes to, degC, (k,)."""
        return np.asarray(self.temperature.max(axis=0))

    def time_to(self, temperature: float) -> Floats:
        """When each is first as hot as that, s, (k,); without end where it never is."""
        over = self.temperature >= temperature
        at, column = np.argmax(over, axis=0), np.arange(over.shape[1])
        before = np.maximum(at - 1, 0)
        low, high = self.temperature[before, column], self.temperature[at, column]
        share = np.clip((temperature - low) / np.where(high > low, high - low, 1.0), 0.0, 1.0)
        found = self.time[before, column] + share * (self.time[at, column] - self.time[before, column])
        return np.where(over.any(axis=0), np.where(over[0], 0.0, found), np.inf)

    def time_cured(self, cured: float) -> Floats:
        """When each is cured that far, s, (k,)."""
        return np.array([np.interp(cured, self.cured, t) for t in self.time.T])


def kinetics_of(resin: Resin, rate: float) -> Kinetics:
    """A resin's kinetics at a rate."""
    return Kinetics(rate, resin.activation, resin.heat, resin.heat_capacity, resin.seed, resin.order)


def time_factor(temperature: float, activation: float) -> float:
    """How many times longer cure takes at ``temperature`` degC than at 25 degC; activation energy in J/mol."""
    return float(np.exp(activation / GAS * (1 / (temperature + ZERO) - 1 / REFERENCE)))


def speed(k: Kinetics, cured: Floats | float, kelvin: Floats, rate: Floats | float | None = None) -> Floats:
    """Speed of cure, 1/s; ``rate`` in place of the stated one."""
    faster = np.exp(k.activation / GAS * (1 / REFERENCE - 1 / kelvin))
    return np.asarray((k.rate if rate is None else rate) * faster * (k.seed + cured) * (1 - cured) ** k.order)


def course(
    k: Kinetics,
    loss: Floats,
    start: float,
    air: float,
    rates: Floats | None = None,
    steps: int = STEPS,
) -> Course:
    """The course of masses that begin at ``start`` degC in air of ``air`` degC; ``loss`` (k,) is what each loses to it,
    W/(K kg). ``rates`` (k,) go before the stated rate.
    """
    loss = np.asarray(loss, dtype=float)
    fade = loss / k.capacity  # 1/s
    rise = k.heat / k.capacity  # K
    outside = air + ZERO
    now, time = np.full(loss.shape, start + ZERO), np.zeros(loss.shape)
    cured = np.linspace(0.0, 1.0, steps + 1) ** 2 * LAST
    times, temperatures = [time], [now]
    for a, b in zip(cured[:-1].tolist(), cured[1:].tolist(), strict=True):
        middle = now
        for _ in range(2):  # the middle of the step, from itself
            half = 0.5 * (b - a) / speed(k, 0.75 * a + 0.25 * b, 0.5 * (now + middle), rates)
            middle = _after(now, half, fade, rise * 0.5 * (b - a), outside)
        taken = (b - a) / speed(k, 0.5 * (a + b), middle, rates)
        now, time = _after(now, taken, fade, rise * (b - a), outside), time + taken
        times.append(time)
        temperatures.append(now)
    return Course(cured, np.array(times), np.array(temperatures) - ZERO)


def _after(now: Floats, taken: Floats, fade: Floats, rise: float, outside: float) -> Floats:
    """Temperature after a stretch of time in which the cure would lift it by ``rise``, evenly, K."""
    lost = fade * taken
    left = np.exp(-lost)
    even = np.where(lost > 1e-8, -np.expm1(-lost) / np.where(lost > 1e-8, lost, 1.0), 1.0)
    return np.asarray(outside + (now - outside) * left + rise * even)
