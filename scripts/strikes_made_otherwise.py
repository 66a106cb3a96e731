"""Strikes made another way than the program's own hammer: for training on one kind of sound and testing on another.

A hammer's mass on a tip that stiffens as it is pressed strikes a place with its own stiffness and mass, and through it
the modes of a rectangular plate or of a loose patch; all of it is stepped through time. What the modes radiate runs
through a room (reflections and a tail), a microphone (its band, hum, an offset) and whatever the recorder keeps of it.
Plates, skins, cores, supports, hammers, rooms and rates vary widely. None of it shares code with ``hammer``.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import pi, sqrt

import numpy as np

STATES = ("sound", "wet", "rotted", "disbonded")
STEP = 1 / 192_000
CONTACT_END, LENGTH, QUIET = 0.012, 0.3, 0.1


@dataclass
class Plate:
    skin: float
    core: float
    sides: tuple[float, float]
    e_skin: float
    e_core: float
    g_core: float
    rho_skin: float
    rho_core: float
    loss: float
    hold: float  # of the supports: 1 hinged to 2.2 clamped, on the lowest frequency


@dataclass
class Session:
    """One person with one hammer in one room with one recorder."""

    mass: float
    tip: float
    rate: int
    room: float
    tail: float
    low: float
    high: float
    hum: float
    offset: float
    noise: float


def any_plate(rng):
    return Plate(
        skin=rng.uniform(0.002, 0.008),
        core=rng.uniform(0.008, 0.032),
        sides=(rng.uniform(0.25, 0.8), rng.uniform(0.25, 0.8)),
        e_skin=rng.uniform(7e9, 20e9),
        e_core=10 ** rng.uniform(7.6, 9.5),
        g_core=10 ** rng.uniform(7.1, 8.3),
        rho_skin=rng.uniform(1450, 1850),
        rho_core=rng.uniform(60, 550),
        loss=rng.uniform(0.008, 0.04),
        hold=rng.uniform(1.0, 2.2),
    )


def any_session(rng):
    return Session(
        mass=10 ** rng.uniform(-1.7, -0.7),
        tip=10 ** rng.uniform(7.2, 9.2),
        rate=int(rng.choice([16_000, 22_050, 32_000, 44_100, 48_000])),
        room=rng.uniform(0.0, 0.35),
        tail=rng.uniform(0.02, 0.15),
        low=rng.uniform(30, 180),
        high=rng.uniform(5_000, 16_000),
        hum=10 ** rng.uniform(-3.5, -1.8),
        offset=rng.uniform(-0.03, 0.03),
        noise=10 ** rng.uniform(-2.6, -1.3),
    )


def modes_of(plate, state, rng):
    """Local stiffness (N/m), mass (kg), damping; and frequencies, losses, masses of the modes that the place drives."""
    d_skin = plate.e_skin * plate.skin**3 / 10.92
    bed = plate.e_core / plate.core
    skin_mass = plate.rho_skin * plate.skin
    if state == "disbonded":
        a = rng.uniform(0.045, 0.14)
        b = a * rng.uniform(1.0, 2.0)
        aspect = (1 + (2 / 3) * (a / b) ** 2 + (a / b) ** 4) ** 0.5
        low = 3.56 * aspect / (2 * a) ** 2 * sqrt(d_skin / skin_mass)
        low = sqrt(low**2 + rng.uniform(0, 1) * 1.4e5 / (4 * pi**2 * rng.uniform(0.002, 0.02) * skin_mass))
        ratios = np.array([1, 1.7, 2.3, 2.9, 3.6, 4.4]) * rng.uniform(0.95, 1.05, 6)
        mass = 0.25 * pi * a * b * skin_mass * np.array([1, 1.6, 1.6, 2, 2, 2])
        loss = plate.loss * rng.uniform(1.0, 2.5) * np.ones(6)
        return 30 * d_skin / (a * b), 0.1 * pi * a * b * skin_mass, 0.05, low * ratios, loss, mass
    soft = {"sound": 1.0, "wet": rng.uniform(0.4, 0.9), "rotted": 10 ** rng.uniform(-1.9, -0.9)}[state]
    bed *= soft
    wet = {"sound": 0.0, "wet": rng.uniform(120, 420), "rotted": rng.uniform(60, 350)}[state] * plate.core
    loss = plate.loss + {"sound": 0.0, "wet": rng.uniform(0.03, 0.09), "rotted": rng.uniform(0.07, 0.2)}[state]
    reach = (4 * d_skin / bed) ** 0.25
    stiff = 8 * sqrt(d_skin * bed)
    local_mass = pi * reach**2 * skin_mass * 0.3
    apart = plate.core + plate.skin
    d_all = plate.e_skin * plate.skin * apart**2 / 2
    mass_all = 2 * skin_mass + plate.rho_core * plate.core + wet
    found = []
    for m in range(1, 5):
        for n in range(1, 5):
            k2 = (m * pi / plate.sides[0]) ** 2 + (n * pi / plate.sides[1]) ** 2
            shear = plate.g_core * (soft**0.7) * apart**2 / plate.core
            bend = d_all * k2**2 / (1 + d_all * k2 / shear) + 2 * d_skin * k2**2
            shape = np.sin(m * pi * rng.uniform(0.2, 0.8)) * np.sin(n * pi * rng.uniform(0.2, 0.8))
            found.append((sqrt(bend / mass_all) / (2 * pi) * plate.hold, shape))
    found.sort()
    f = np.array([v for v, _ in found[:10]])
    shape = np.array([s for _, s in found[:10]])
    whole = mass_all * plate.sides[0] * plate.sides[1] / 4
    return stiff, local_mass, loss * 2, f, np.full(10, loss), whole / np.maximum(shape**2, 0.02)


def strike(plate, session, state, rng):
    """Samples of one strike at the session's rate, full scale 1."""
    stiff, local_mass, local_loss, f, loss, mass = modes_of(plate, state, rng)
    w = 2 * pi * f
    hammer_v, hammer_x = -rng.uniform(0.6, 1.6), 0.0
    local_x = local_v = 0.0
    x, v = np.zeros(f.size), np.zeros(f.size)
    steps = round(CONTACT_END / STEP)
    heard = np.zeros(steps)
    radiate = np.minimum(f / 900, 1.0) ** 0.7
    local_mass = max(local_mass, stiff * (3 * STEP) ** 2)  # so that the steps follow it
    local_w = sqrt(stiff / local_mass)
    touching = True
    for k in range(steps):
        if touching:
            press = local_x + x.sum() - hammer_x
            force = session.tip * max(press, 0.0) ** 1.5
            hammer_v += force / session.mass * STEP
            hammer_x += hammer_v * STEP
            touching = hammer_v < 0 or press > 0
        else:
            force = 0.0
        local_v += (-force / local_mass - local_w**2 * local_x - local_loss * local_w * local_v) * STEP
        local_x += local_v * STEP
        v += (-force / mass - w**2 * x - loss * w * v) * STEP
        x += v * STEP
        heard[k] = (radiate * v).sum() + 0.3 * local_v
    time = np.arange(round(LENGTH / STEP) - steps) * STEP
    fade = np.exp(-0.5 * loss * w * time[:, None])
    rest = (fade * (v * np.cos(w * time[:, None]) - x * w * np.sin(w * time[:, None])) * radiate).sum(axis=1)
    return _recorded(np.concatenate([heard, rest]), session, rng)


def _recorded(wave, session, rng):
    size = wave.size
    spectrum = np.fft.rfft(wave, 2 * size)
    f = np.fft.rfftfreq(2 * size, STEP)
    room = np.zeros(size)
    room[0] = 1.0
    for _ in range(6):
        room[rng.integers(200, 6000)] += session.room * rng.uniform(-1, 1)
    late = np.arange(size) * STEP
    room += session.room * 0.02 * rng.standard_normal(size) * np.exp(-late / session.tail) * (late > 0.004)
    band = 1 / (1 + (session.low / np.maximum(f, 1)) ** 4) ** 0.5 / (1 + (f / session.high) ** 6) ** 0.5
    wave = np.fft.irfft(spectrum * np.fft.rfft(room, 2 * size) * band)[:size]
    at = np.arange(0, size * STEP - STEP, 1 / session.rate)
    wave = np.interp(at, np.arange(size) * STEP, wave)
    wave *= rng.uniform(0.3, 0.8) / np.abs(wave).max()
    before = np.zeros(round(QUIET * session.rate))
    whole = np.concatenate([before, wave])
    time = np.arange(whole.size) / session.rate
    whole += session.noise * 0.1 * rng.standard_normal(whole.size)
    return whole + session.hum * np.sin(2 * pi * 50 * time + rng.uniform(0, 6)) + session.offset
