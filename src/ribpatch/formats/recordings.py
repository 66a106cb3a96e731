"""Recordings of taps as WAV: any usual rate, 8 to 32 bit whole numbers or floats, one or more channels."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path

import numpy as np

from ribpatch.core.errors import BadRecording
from ribpatch.core.geometry import Floats
from ribpatch.formats.whole_file import read_whole

MOST_BYTES = 64 * 2**20
_ADVICE = "Record or export it as WAV (PCM)."


def read_file(path: Path) -> bytes:
    """The bytes of a recording; raises BadRecording where it cannot be read or is too large."""
    return read_whole(path, MOST_BYTES, BadRecording, "Cut it to the taps that count.")


def read_wave(raw: bytes, where: str) -> tuple[Floats, int]:
    """Samples of shape (n, channels), full scale 1, and the rate in Hz; raises BadRecording with the reason."""
    if raw[:4] not in (b"RIFF", b"RF64", b"RIFX") or raw[8:12] != b"WAVE":
        raise BadRecording(where, reason="is no WAV recording", advice=_ADVICE)
    import soundfile  # loaded when the first recording is opened

    try:
        samples, rate = soundfile.read(BytesIO(raw), dtype="float64", always_2d=True)
    except (soundfile.LibsndfileError, RuntimeError, ValueError, OSError) as error:
        raise BadRecording(where, reason=f"cannot be decoded ({error})", advice=_ADVICE) from None
    if samples.shape[0] == 0:
        raise BadRecording(where, reason="holds no sound", advice="Record again.")
    return np.asarray(samples, dtype=np.float64), int(rate)


def wave_bytes(samples: Floats, rate: int) -> bytes:
    """Samples of shape (n,) as the bytes of a 16-bit WAV."""
    import soundfile

    stream = BytesIO()
    soundfile.write(stream, samples, rate, format="WAV", subtype="PCM_16")
    return stream.getvalue()
