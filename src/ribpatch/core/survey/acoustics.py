"""From the sound of tapping to numbers: find the strikes in a recording and measure each.

Samples are floats with full scale at 1. A strike is measured by its dominant frequency (the highest peak of its
spectrum), spectral centroid (mean frequency weighted by power, the background's taken off), decay (time constant of
the amplitude, from the backward integrated energy) and contact (width of the first pulse). Source: [9], [10].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.errors import BadRecording
from ribpatch.core.numerals import fixed
from ribpatch.core.series import distinct, runs
from ribpatch.core.survey.strike_shape import Shape, shape_of

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats

LEAST_RATE, MOST_RATE = 8_000, 192_000  # Hz
LEAST_FREQUENCY, MOST_FREQUENCY = 80.0, 10_000.0  # Hz; below is handling noise, above the shed's hiss
FRAME = 0.001  # s, of the envelope
APART = 0.08  # s; what follows sooner is a bounce
WINDOW = 0.12  # s of a strike that is measured
LEAST_RATIO = 10.0  # dB of a strike over the background
FULL = 0.999  # of full scale
FLAT = 4  # like samples in a row at the very top: clipped before it was written
SILENT = 1e-4  # of full scale
LEVEL_TOPS, AS_HIGH = 10, 0.02  # crests in a row that are as high as each other: clipped, then filtered
LOUD = "Turn the recording level down until no strike reaches the top, and record again."


class Measured(Struct, frozen=True):
    """One strike: its start (s), dominant frequency and centroid (Hz), decay and contact (s), level over noise (dB),
    and the shape of its sound.
    """

    start: float
    frequency: float
    centroid: float
    decay: float
    contact: float
    over_noise: float
    shape: Shape


def mono(samples: Floats) -> Floats:
    """One channel of shape (n,) from (n,) or (n, channels): the loudest, since a mean can cancel."""
    wave = np.asarray(samples, dtype=float)
    if wave.ndim == 2:
        wave = wave[:, int(np.argmax((wave**2).sum(axis=0)))]
    return wave - wave.mean() if wave.size else wave


def strikes_in(samples: Floats, rate: float, where: str = "recording") -> tuple[Measured, ...]:
    """Every strike in a recording, measured; raises BadRecording with the reason where it cannot be trusted.

    ``samples`` is of shape (n,) or (n, channels), full scale 1; ``rate`` in Hz.
    """
    raw = np.asarray(samples, dtype=float)
    _refuse(raw, rate, where)
    wave = mono(raw)
    starts, floor = _starts(wave, rate)
    if not starts:
        raise BadRecording(
            where,
            reason="holds no strike that stands out of the noise",
            advice="Record nearer to the hammer, away from fans and radios.",
        )
    noise = _noise(wave, rate, starts)
    spans = _spans(starts, wave.size, rate)
    if any(_level_tops(wave[a:b]) for a, b in spans):
        raise BadRecording(
            where,
            reason="was clipped and filtered after that: crests follow each other that are all as high as the first",
            advice=LOUD,
        )
    found = tuple(_measured(wave, rate, a, b, noise, floor) for a, b in spans)
    loud = tuple(s for s in found if s.over_noise >= LEAST_RATIO)
    if not loud:
        raise BadRecording(
            where,
            reason=f"is too noisy: the strikes stand {fixed(max(s.over_noise for s in found), 0)} dB over the "
            f"background, {fixed(LEAST_RATIO, 0)} dB are needed",
            advice="Record nearer to the hammer, away from fans and radios.",
        )
    return loud


def _refuse(raw: Floats, rate: float, where: str) -> None:
    if not LEAST_RATE <= rate <= MOST_RATE:
        raise BadRecording(
            where,
            reason=f"has a sampling rate of {fixed(rate, 0)} Hz",
            advice=f"Record at {LEAST_RATE} to {MOST_RATE} Hz; 44100 or 48000 is usual.",
        )
    if raw.shape[0] < 0.03 * rate:
        raise BadRecording(where, reason="is shorter than 30 ms", advice="Record whole strikes with a little quiet.")
    if not np.isfinite(raw).all():
        raise BadRecording(where, reason="holds samples that are no numbers", advice="Export it again as PCM.")
    top = float(np.abs(raw - raw.mean(axis=0)).max())
    if top < SILENT:
        raise BadRecording(where, reason="is silent", advice="Check the microphone and its level.")
    if any(_flat_tops(channel) for channel in np.abs(np.atleast_2d(raw.T))):
        raise BadRecording(
            where,
            reason="is clipped: the loudest parts are cut off flat",
            advice=LOUD,
        )


def _flat_tops(size: Floats) -> bool:
    """Whether a channel lies flat at full scale, or at its own top: then it was clipped before it was written."""
    if any(b - a >= 2 for a, b in runs(size >= FULL)):
        return True
    top = float(size.max())
    if top < 0.05:
        return False
    levels = distinct(size)
    step = float(np.diff(levels).min()) if levels.size > 1 else top
    # A smooth crest leaves its top by one step of the file's own resolution; a clipped one falls off.
    for a, b in runs(size >= top * (1 - 1e-6)):
        if b - a >= FLAT and a > 0 and b < size.size:
            fall = top - max(size[a - 1], size[b])
            if fall > max(1.5 * step, 0.01 * top):
                return True
    return False


def _level_tops(part: Floats) -> bool:
    """Whether a strike begins with a row of crests of one height, where a ring fades from crest to crest."""
    size = np.abs(part)
    turns = np.flatnonzero(np.diff(np.signbit(part)))
    if turns.size < LEVEL_TOPS:
        return False
    crests = np.maximum.reduceat(size, np.concatenate([[0], turns + 1]))  # one a half swing, whatever noise rides on it
    crests = crests[crests > 0.2 * size.max()]
    return any(b - a >= LEVEL_TOPS for a, b in runs(crests > (1 - AS_HIGH) * size.max()))


def _starts(wave: Floats, rate: float) -> tuple[list[int], float]:
    """First samples of the strikes, and the background's power."""
    frame = max(1, round(FRAME * rate))
    count = wave.size // frame
    power = (wave[: count * frame].reshape(count, frame) ** 2).mean(axis=1)
    floor = float(np.quantile(power, 0.2)) + 1e-12
    level = max(floor * 10 ** (LEAST_RATIO / 10), float(power.max()) * 0.03)
    starts: list[int] = []
    last = -1e9
    for index in np.flatnonzero(power > level).tolist():
        if (index - last) * FRAME > APART / 2 and (not starts or (index - starts[-1]) * FRAME > APART):
            starts.append(index)
        last = index
    return [_onset(wave, s * frame, frame, floor) for s in starts], floor


def _onset(wave: Floats, about: int, frame: int, floor: float) -> int:
    """The sample where the first pulse rises."""
    low = max(0, about - frame)
    part = np.abs(wave[low : about + 2 * frame])
    over = np.flatnonzero(part > max(4 * np.sqrt(floor), 0.15 * part.max()))
    return low + (int(over[0]) if over.size else 0)


def _spans(starts: list[int], size: int, rate: float) -> list[tuple[int, int]]:
    ends = [*[s - round(0.004 * rate) for s in starts[1:]], size]
    return [(a, min(b, a + round(WINDOW * rate), size)) for a, b in zip(starts, ends, strict=True)]


def _noise(wave: Floats, rate: float, starts: list[int]) -> Floats:
    """The quietest stretch between strikes, as long as it goes, for the background's spectrum."""
    gap = round(0.002 * rate)
    edges = [0, *[s + round(WINDOW * 1.5 * rate) for s in starts]]
    ends = [*[s - gap for s in starts], wave.size]
    parts = [wave[a:b] for a, b in zip(edges, ends, strict=True) if b - a > 256]
    return min(parts, key=lambda p: float((p**2).mean())) if parts else np.zeros(0)


def _measured(wave: Floats, rate: float, start: int, end: int, noise: Floats, floor: float) -> Measured:
    part = wave[start:end]
    frequency, centroid = _spectrum_of(part, rate, noise)
    head = part[: max(1, round(0.02 * rate))]
    ratio = 10 * np.log10(max(float((head**2).mean()), 1e-20) / (float((noise**2).mean()) if noise.size else floor))
    quiet = float((noise**2).mean()) if noise.size else 0.0
    decay, contact, shape = _decay(part, rate, quiet), _contact(part, rate), shape_of(part, rate, noise)
    return Measured(start / rate, frequency, centroid, decay, contact, float(ratio), shape)


def _bins(length: int) -> int:
    """Length of the transform of a strike: a power of two, padded so that a peak is finely sampled."""
    return 1 << (max(length, 2048) - 1).bit_length()


def spectrum(part: Floats, rate: float, size: int = 0) -> tuple[Floats, Floats]:
    """Frequencies (Hz) and power of a strike, each of shape (n,), in the band that counts; Hann's falling half as
    window, so that the strike's sharp start is kept."""
    count = size or _bins(part.size)
    fall = 0.5 * (1 + np.cos(np.pi * np.arange(part.size) / max(part.size, 1)))
    power = np.abs(np.fft.rfft(part * fall, count)) ** 2
    f = np.fft.rfftfreq(count, 1 / rate)
    band = (f >= LEAST_FREQUENCY) & (f <= min(MOST_FREQUENCY, 0.45 * rate))
    return np.asarray(f[band]), np.asarray(power[band])


def _spectrum_of(part: Floats, rate: float, noise: Floats) -> tuple[float, float]:
    f, power = spectrum(part, rate)
    if noise.size >= 256:
        power = np.maximum(power - _background(noise, part.size, rate, f), 0.0)
    if power.max() <= 0:
        f, power = spectrum(part, rate)
    peak = int(np.argmax(power))
    shift = 0.0
    if 0 < peak < power.size - 1 and power[peak - 1 : peak + 2].min() > 0:
        a, b, c = np.log(power[peak - 1 : peak + 2])
        shift = 0.5 * (a - c) / (a - 2 * b + c) if a - 2 * b + c < 0 else 0.0
    return float(f[peak] + shift * (f[1] - f[0])), float((f * power).sum() / power.sum())


def _background(noise: Floats, length: int, rate: float, f: Floats) -> Floats:
    """Mean power of the background in the strike's bins: averaged over pieces, smoothed over frequency."""
    size = min(length, noise.size)
    pieces = [noise[k : k + size] for k in range(0, noise.size - size + 1, max(1, size // 2))][:8]
    mean = np.mean([spectrum(p, rate, _bins(length))[1] for p in pieces], axis=0) * (length / size)
    wide = max(1, f.size // 40)
    return np.asarray(np.convolve(mean, np.ones(wide) / wide, mode="same"))


def _decay(part: Floats, rate: float, quiet: float) -> float:
    """Time constant of the amplitude, s: from -2 to -14 dB of the energy still to come, the background's taken off."""
    energy = np.cumsum((part**2 - quiet)[::-1])[::-1]
    energy = np.maximum(energy / max(float(energy[0]), 1e-20), 1e-9)
    below = 10 * np.log10(energy)
    first, last = int(np.argmax(below < -2)), int(np.argmax(below < -14))
    if last <= first:
        return part.size / rate / 3
    time = np.arange(first, last + 1) / rate
    slope = np.polyfit(time, below[first : last + 1], 1)[0] if last - first > 2 else -12 / ((last - first + 1) / rate)
    return float(min(max(20 / np.log(10) / max(-slope, 1e-3), 1e-4), 5.0))


def _contact(part: Floats, rate: float) -> float:
    """Width of the first pulse, s: one and a half times its width at half height, as of a half sine."""
    head = part[: max(8, round(0.006 * rate))]
    size = np.abs(head)
    first = int(np.argmax(size > 0.5 * size.max()))
    sign = np.sign(head[first]) or 1.0
    peak = first
    while peak + 1 < head.size and sign * head[peak + 1] >= sign * head[peak]:
        peak += 1
    half = 0.5 * sign * head[peak]
    left, right = peak, peak
    while left > 0 and sign * head[left - 1] > half:
        left -= 1
    while right + 1 < head.size and sign * head[right + 1] > half:
        right += 1
    return float(1.5 * (right - left + 1) / rate)
