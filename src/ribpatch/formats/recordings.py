"""Recordings of taps as WAV: any usual rate, 8 to 32 bit whole numbers or floats, one or more channels."""

from __future__ import annotations

from io import BytesIO
from typing import TYPE_CHECKING, Literal

import numpy as np

from ribpatch.core.errors import BadRecording
from ribpatch.core.numerals import fixed
from ribpatch.formats.whole_file import read_whole

if TYPE_CHECKING:
    from pathlib import Path

    from ribpatch.core.geometry import Floats

MOST_BYTES = 64 * 2**20
MOST_SECONDS, MOST_SAMPLES = 1200, 24_000_000  # 24 million samples are eight minutes of mono at 48 kHz, 190 MB decoded
MOST_CHANNELS, LEAST_RATE, MOST_RATE = 8, 4000, 384_000
STREAMED = 0xFFFF_FF00  # bytes of samples, as announced by what did not know how long it would record
_CUT = "Cut it to the taps that count."
_ADVICE = "Record or export it as WAV (PCM)."


def read_file(path: Path) -> bytes:
    """The bytes of a recording; raises BadRecording where it cannot be read or is too large."""
    return read_whole(path, MOST_BYTES, BadRecording, _CUT)


def read_wave(raw: bytes, where: str) -> tuple[Floats, int]:
    """Samples of shape (n, channels), full scale 1, and the rate in Hz; raises BadRecording with the reason."""
    if raw[:4] not in (b"RIFF", b"RF64", b"RIFX") or raw[8:12] != b"WAVE":
        raise BadRecording(where, reason="is no WAV recording", advice=_ADVICE)
    import soundfile  # loaded when the first recording is opened

    try:
        _check_whole(raw, where)
        with soundfile.SoundFile(BytesIO(raw)) as sound:
            _check_length(sound.frames, sound.channels, sound.samplerate, where)
            _check_coding(sound.subtype, where)
            samples, rate = sound.read(dtype="float64", always_2d=True), sound.samplerate
    except MemoryError:
        raise BadRecording(where, reason="needs more memory than there is", advice=_CUT) from None
    except (soundfile.LibsndfileError, RuntimeError, ValueError, OSError) as error:
        reason = (
            "cannot be decoded: it is damaged" if "<" in str(error) else f"cannot be decoded ({str(error).rstrip('.')})"
        )
        raise BadRecording(where, reason=reason, advice=_ADVICE) from None
    if samples.shape[0] == 0:
        raise BadRecording(where, reason="holds no sound", advice="Record again.")
    return np.asarray(samples, dtype=np.float64), int(rate)


def _check_whole(raw: bytes, where: str) -> None:
    """Refuse a file that ends before its header says: it was cut off in copying, or the recorder lost its power."""
    order: Literal["little", "big"] = "big" if raw[:4] == b"RIFX" else "little"
    at = 12
    while at + 8 <= len(raw):
        size = int.from_bytes(raw[at + 4 : at + 8], order)
        if raw[at : at + 4] == b"data":
            here = len(raw) - at - 8
            if here < size < STREAMED:
                raise BadRecording(
                    where,
                    reason=f"was cut off: {here / size:.0%} of the samples that it announces are there",
                    advice="Copy it again from the recorder, or save it anew in a sound editor.",
                )
            return
        at += 8 + size + size % 2


def _check_coding(subtype: str, where: str) -> None:
    """Refuse codings that bend the loudness of samples or leave sound out: decay and spectrum are not those heard."""
    if not subtype.startswith(("PCM_", "FLOAT", "DOUBLE")):
        name = {"ALAW": "A-law", "ULAW": "u-law"}.get(subtype, subtype.replace("_", " "))
        raise BadRecording(
            where,
            reason=f"is coded as {name}, which changes the sound: how fast a tap fades cannot be measured in it",
            advice="Record anew as WAV (PCM); making PCM of this file brings nothing back.",
        )


def _check_length(frames: int, channels: int, rate: int, where: str) -> None:
    """Refuse by its header what would take too much memory or time."""
    if not 1 <= channels <= MOST_CHANNELS or not LEAST_RATE <= rate <= MOST_RATE:
        raise BadRecording(
            where, reason=f"has {channels} channels at {rate} Hz, which no recorder writes", advice=_ADVICE
        )
    if frames / rate > MOST_SECONDS or frames * channels > MOST_SAMPLES:
        minutes = f"{fixed(frames / rate / 60, 0)} minutes in {channels} channel{'s' if channels > 1 else ''}"
        raise BadRecording(
            where,
            reason=f"lasts {minutes}; {MOST_SECONDS // 60} minutes and {MOST_SAMPLES // 1_000_000} million samples are "
            "the most",
            advice=_CUT,
        )


def wave_bytes(samples: Floats, rate: int) -> bytes:
    """Samples of shape (n,) as the bytes of a 16-bit WAV."""
    import soundfile

    stream = BytesIO()
    soundfile.write(stream, samples, rate, format="WAV", subtype="PCM_16")
    return stream.getvalue()
