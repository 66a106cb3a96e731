"""A simulated hammer: the sound of one strike from a plate, core and defect model, for practice and for tests.

The hammer's half-sine push lasts pi sqrt(m / k), with k the hammer's own and the place's stiffness in series. The skin
on sound core is a plate on an elastic bed, k = 8 sqrt(D Ec / c); over a disbond of radius a it is a clamped round
plate, k = 16 pi D / a2, ringing at 10.21 sqrt(D / m) / (2 pi a2). The sandwich between supports rings at 36 sqrt(D / m)
/ (2 pi b2). Water adds mass and damping, rot takes the core's stiffness. Source: [11]. It is a simulation: real panels
differ.
"""

from __future__ import annotations

from math import pi, sqrt
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.readings import State

RATE = 48_000
QUIET, LENGTH = 0.12, 0.34  # s before the strike, s in all
MODES = (1.0, 1.62, 2.4, 3.3, 4.5)  # over the lowest: about those of a clamped plate
HAMMER = 0.06  # kg


class Panel(Struct, frozen=True):
    """What is struck. Thicknesses and span in m, E in Pa, densities in kg/m3, contact in N/m, damping as share."""

    skin: float = 0.004
    core: float = 0.018
    span: float = 0.35
    e_skin: float = 11e9
    e_core: float = 2.0e9
    density_skin: float = 1700.0
    density_core: float = 150.0
    contact: float = 5e6
    damping: float = 0.016

    @property
    def bending(self) -> float:
        """Bending stiffness of one skin, N m."""
        return self.e_skin * self.skin**3 / 12 / (1 - 0.3**2)


def any_panel(rng: np.random.Generator) -> Panel:
    """A panel as boats have them."""
    return Panel(
        skin=rng.uniform(0.003, 0.006),
        core=rng.uniform(0.012, 0.025),
        span=rng.uniform(0.28, 0.42),
        e_skin=rng.uniform(9e9, 14e9),
        e_core=10 ** rng.uniform(9.0, 9.5),
        density_core=rng.uniform(90, 190),
        contact=10 ** rng.uniform(6.6, 6.85),
        damping=rng.uniform(0.012, 0.02),
    )


class Response(Struct, frozen=True):
    """How a place answers: its stiffness (N/m), lowest frequency (Hz), damping, loudness of the ring."""

    stiffness: float
    frequency: float
    damping: float
    ring: float


def response(panel: Panel, state: State, rng: np.random.Generator) -> Response:
    """How a place in one state answers a strike."""
    bed = 8 * sqrt(panel.bending * panel.e_core / panel.core)
    skin_mass = panel.density_skin * panel.skin
    apart = panel.core + panel.skin
    stiff = panel.e_skin * panel.skin * apart**2 / 2
    mass = 2 * skin_mass + panel.density_core * panel.core
    rings = 36 / (2 * pi * panel.span**2)
    if state == "sound":
        return Response(bed, rings * sqrt(stiff / mass), panel.damping, 1.0)
    if state == "disbonded":
        radius = rng.uniform(0.06, 0.11)
        loose = 10.21 / (2 * pi * radius**2) * sqrt(panel.bending / skin_mass)
        return Response(16 * pi * panel.bending / radius**2, loose, rng.uniform(0.02, 0.035), 2.0)
    wet = rng.uniform(250, 450) * panel.core
    if state == "wet":
        return Response(
            bed * sqrt(rng.uniform(0.3, 0.6)), rings * sqrt(0.7 * stiff / (mass + wet)), rng.uniform(0.06, 0.10), 0.7
        )
    left = rng.uniform(0.02, 0.08)
    return Response(bed * sqrt(left), rings * sqrt(0.3 * stiff / (mass + 0.7 * wet)), rng.uniform(0.1, 0.16), 0.5)


def strike_wave(
    panel: Panel, state: State, rng: np.random.Generator, over_noise: float = 30.0, rate: int = RATE
) -> Floats:
    """Samples of one strike, shape (n,), full scale 1; ``over_noise`` in dB of the strike's first 20 ms over the
    noise.
    """
    place = response(panel, state, rng)
    k = 1 / (1 / panel.contact + 1 / place.stiffness)
    contact = pi * sqrt(HAMMER * rng.uniform(0.9, 1.1) / k)
    time = np.arange(round(LENGTH * rate)) / rate - QUIET
    after = np.maximum(time, 0.0)
    wave = np.where((time >= 0) & (time < contact), np.sin(pi * after / contact), 0.0) * 0.5
    for number, share in enumerate(MODES):
        f = place.frequency * share * rng.uniform(0.96, 1.04)
        if f > 0.45 * rate:
            continue
        push = _half_sine(f * contact)
        size = place.ring * push * rng.uniform(0.6, 1.0) / (1 + 0.35 * number)
        fade = np.exp(-2 * pi * f * place.damping * after)
        wave += np.where(time >= 0, size * fade * np.sin(2 * pi * f * after), 0.0)
    wave *= rng.uniform(0.5, 0.8) / np.abs(wave).max()
    head = wave[(time >= 0) & (time < 0.02)]
    noise = sqrt(float((head**2).mean())) * 10 ** (-over_noise / 20)
    return np.asarray(np.clip(wave + noise * rng.standard_normal(wave.size), -0.98, 0.98))


def _half_sine(cycles: float) -> float:
    """Size of a half-sine push's spectrum, 1 at 0 Hz; ``cycles`` is frequency times contact time."""
    x = 2 * cycles
    return pi / 4 if abs(1 - x**2) < 1e-9 else abs(np.cos(pi * cycles) / (1 - x**2))
