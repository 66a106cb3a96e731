"""A third kind of simulated strike: two skins on a grid, held together by the core, stepped through time by differences.

Each skin is a thin plate (fourth differences), the core springs between them and mass shared out to both; a loose place
has no springs, a wet one softer and heavier ones, a rotted one hardly any, both with losses. A rubber- or steel-faced
hammer pushes for as long as it touches. What is heard is the acceleration of the skin round the strike. It shares no
code and no closed form with the other two.
"""

from __future__ import annotations

from math import pi, sqrt

import numpy as np

CELL, SIDE = 0.02, 30
RATE = 48_000


def bent(w, out):
    """Fourth differences of a plate with hinged edges."""
    edge = np.pad(w, 1)
    lap = edge[:-2, 1:-1] + edge[2:, 1:-1] + edge[1:-1, :-2] + edge[1:-1, 2:] - 4 * w
    edge = np.pad(lap, 1)
    out[:] = (edge[:-2, 1:-1] + edge[2:, 1:-1] + edge[1:-1, :-2] + edge[1:-1, 2:] - 4 * lap) / CELL**4
    return out


class GridPanel:
    def __init__(self, rng):
        self.skins = rng.uniform(0.003, 0.006), rng.uniform(0.002, 0.005)
        self.e, self.rho = rng.uniform(9e9, 15e9), rng.uniform(1500, 1800)
        self.core, self.core_e, self.core_rho = (
            rng.uniform(0.01, 0.025),
            10 ** rng.uniform(7.8, 8.8),
            rng.uniform(80, 250),
        )
        self.loss = rng.uniform(40, 160)
        self.hammer, self.tip = rng.uniform(0.02, 0.12), 10 ** rng.uniform(5.8, 6.6)
        self.noise = 10 ** rng.uniform(-2.5, -1.6)

    def strike(self, state, rng):
        y, x = np.mgrid[:SIDE, :SIDE]
        row, column = rng.integers(8, SIDE - 8, 2)
        away = np.hypot(y - row, x - column) * CELL
        springs, mass = (
            np.full((SIDE, SIDE), self.core_e / self.core),
            np.full((SIDE, SIDE), self.core_rho * self.core / 2),
        )
        loss = np.full((SIDE, SIDE), self.loss)
        here = away < rng.uniform(0.06, 0.15)
        if state == "disbonded":
            springs[here] = 0.0
        elif state == "wet":
            springs[here] *= rng.uniform(0.4, 0.8)
            mass[here] += rng.uniform(120, 400) * self.core / 2
            loss[here] += rng.uniform(250, 700)
        elif state == "rotted":
            springs[here] *= 10 ** rng.uniform(-2, -1)
            mass[here] += rng.uniform(50, 250) * self.core / 2
            loss[here] += rng.uniform(400, 1200)
        return self._stepped(springs, mass, loss, (int(row), int(column)), rng)

    def _stepped(self, springs, core_mass, loss, at, rng):
        d = [self.e * t**3 / 10.92 for t in self.skins]
        m = [self.rho * t + core_mass for t in self.skins]
        stiffest = max(
            64 * d[k] / CELL**4 / float(m[k].min()) + 2 * float(springs.max()) / float(m[k].min()) for k in (0, 1)
        )
        every = max(2, int(np.ceil(sqrt(stiffest) / 1.7 / RATE)))
        step = 1 / (RATE * every)
        w = [np.zeros((SIDE, SIDE)) for _ in range(2)]
        v = [np.zeros((SIDE, SIDE)) for _ in range(2)]
        force4 = np.zeros((SIDE, SIDE))
        hammer_x, hammer_v = 0.0, rng.uniform(0.5, 1.5)
        heard, touching = np.zeros(round(0.16 * RATE)), True
        for k in range(heard.size * every):
            pull = springs * (w[0] - w[1])
            push = 0.0
            if touching:
                press = hammer_x - w[0][at]
                push = self.tip * max(press, 0.0)
                hammer_v -= push / self.hammer * step
                hammer_x += hammer_v * step
                touching = press > 0 or hammer_v > 0
            before = v[0][at]
            for skin, sign in ((0, -1.0), (1, 1.0)):
                a = (-d[skin] * bent(w[skin], force4) + sign * pull) / m[skin] - loss * v[skin]
                if skin == 0:
                    a[at] += push / (CELL**2 * m[0][at])
                v[skin] += a * step
            for skin in (0, 1):
                w[skin] += v[skin] * step
            heard[k // every] += (v[0][at] - before) / step / every
        quiet = np.zeros(round(0.1 * RATE))
        wave = np.concatenate([quiet, heard])
        wave = np.convolve(wave, np.hanning(6) / np.hanning(6).sum(), mode="same")
        time = np.arange(wave.size) / RATE
        wave *= rng.uniform(0.3, 0.7) / np.abs(wave).max()
        return wave + self.noise * 0.1 * rng.standard_normal(wave.size) + 0.002 * np.sin(2 * pi * 50 * time), RATE
