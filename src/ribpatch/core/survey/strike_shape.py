"""The shape of a strike's sound beyond its dominant tone: what survives another hammer, room, rate and microphone.

Shares of the energy by band, how long each part of the spectrum takes to fade, how much of it lies in the first
milliseconds, and the mean frequency of the attack. Each is compared with the same of sound strikes on the same panel,
recorded alike. Source: [9].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.geometry import Floats

BANDS = ((80.0, 250.0), (250.0, 500.0), (500.0, 1000.0), (1000.0, 2000.0), (2000.0, 4000.0), (4000.0, 7200.0))  # Hz
FADING = ((80.0, 600.0), (600.0, 2000.0), (2000.0, 7200.0))  # Hz
LEAST_SHARE = 1e-4  # of the energy: what is less lies in the noise
HEARD, EARLY, ATTACK = 0.06, 0.004, 0.005  # s of a strike: that bands are taken of; that is early; of the attack
FADED = 0.1  # of the energy is still to come when a band has faded


class Shape(Struct, frozen=True):
    """Shares of the energy by band (6), time until each of three parts has faded (s), share of the energy that is
    early, and mean frequency of the attack (Hz).
    """

    bands: tuple[float, ...]
    fades: tuple[float, ...]
    early: float
    attack: float


def shape_of(part: Floats, rate: float, noise: Floats) -> Shape:
    """The shape of a strike, samples of shape (n,) from its start; ``noise``: samples (m,) of the background."""
    heard = part[: max(8, round(HEARD * rate))]
    energy = np.maximum(_by_band(heard, rate) - _background(noise, heard.size, rate), 0.0)
    total = max(float(energy.sum()), 1e-30)
    bands = np.maximum(energy / total, LEAST_SHARE)
    whole = max(float((part**2).sum()), 1e-30)
    early = float((part[: max(1, round(EARLY * rate))] ** 2).sum()) / whole
    return Shape(tuple(bands.tolist()), _fades(part, rate), min(max(early, LEAST_SHARE), 1.0), _attack(part, rate))


def _transform(part: Floats, rate: float) -> tuple[Floats, NDArray[np.complex128]]:
    count = 1 << (max(part.size, 4096) - 1).bit_length()
    return np.asarray(np.fft.rfftfreq(count, 1 / rate)), np.fft.rfft(part, count).astype(np.complex128)


def _by_band(part: Floats, rate: float) -> Floats:
    """Energy in each band, (6,), under the falling half of Hann's window, which keeps the sharp start."""
    fall = 0.5 * (1 + np.cos(np.pi * np.arange(part.size) / max(part.size, 1)))
    f, sound = _transform(part * fall, rate)
    power = np.abs(sound) ** 2
    return np.array([power[(f >= low) & (f < high)].sum() for low, high in BANDS])


def _background(noise: Floats, size: int, rate: float) -> Floats:
    """Energy of the background in as long a piece, (6,)."""
    piece = noise[:size]
    return _by_band(piece, rate) * (size / piece.size) if piece.size >= 256 else np.zeros(len(BANDS))


def _fades(part: Floats, rate: float) -> tuple[float, ...]:
    """Time until a tenth of the energy of each part of the spectrum is still to come, s, (3)."""
    f, sound = _transform(part, rate)
    found = []
    for low, high in FADING:
        kept = np.where((f >= low) & (f < high), sound, 0.0)
        energy = np.cumsum((np.fft.irfft(kept)[: part.size] ** 2)[::-1])[::-1]
        found.append((int(np.argmax(energy < FADED * energy[0])) + 1) / rate if energy[0] > 0 else part.size / rate)
    return tuple(found)


def _attack(part: Floats, rate: float) -> float:
    """Mean frequency of the first milliseconds, Hz."""
    f, sound = _transform(part[: max(8, round(ATTACK * rate))], rate)
    band = (f >= BANDS[0][0]) & (f < BANDS[-1][1])
    power = np.abs(sound[band]) ** 2
    return float((f[band] * power).sum() / max(float(power.sum()), 1e-30))
