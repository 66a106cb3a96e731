"""Recordings and photographs from outside: every usual form comes in, everything else is told."""

import struct
from io import BytesIO

import numpy as np
import pytest
import soundfile
from PIL import Image

from ribpatch.core.errors import BadPhotograph, BadRecording
from ribpatch.core.survey.acoustics import strikes_in
from ribpatch.formats import photographs, recordings


def ring(frequency, decay, rate=48_000, noise=1e-4):
    """A decaying sine of known frequency and time constant that starts after 0.1 s."""
    t = np.arange(round(0.4 * rate)) / rate - 0.1
    wave = np.where(t >= 0, 0.5 * np.exp(-np.maximum(t, 0) / decay) * np.sin(2 * np.pi * frequency * t), 0.0)
    return wave + noise * np.random.default_rng(1).standard_normal(t.size)


@pytest.mark.parametrize("kind", ["PCM_U8", "PCM_16", "PCM_24", "PCM_32", "FLOAT", "DOUBLE"])
@pytest.mark.parametrize("channels", [1, 2])
@pytest.mark.parametrize("rate", [16_000, 44_100, 96_000])
def test_usual_waves_are_read_alike(kind, channels, rate):
    wave = ring(900, 0.012, rate=rate, noise=2e-3)
    stream = BytesIO()
    soundfile.write(stream, np.column_stack([wave] * channels), rate, format="WAV", subtype=kind)
    samples, found = recordings.read_wave(stream.getvalue(), "taps.wav")
    assert found == rate and samples.shape == (wave.size, channels)
    assert np.allclose(samples[:, 0], wave, atol=0.01)
    assert strikes_in(samples, rate)[0].frequency == pytest.approx(900, rel=0.03)


def test_own_waves_come_back():
    wave = ring(700, 0.01)
    samples, rate = recordings.read_wave(recordings.wave_bytes(wave, 48_000), "own.wav")
    assert rate == 48_000 and np.allclose(samples[:, 0], wave, atol=1e-4)


@pytest.mark.parametrize(
    ("raw", "reason"),
    [
        (b"", "no WAV"), (b"not a sound at all", "no WAV"), (b"RIFF\x24\x00\x00\x00WAVEjunkjunkjunk", "cannot be decoded"),
        (b"RIFF" + struct.pack("<I", 36) + b"WAVEfmt " + struct.pack("<IHHIIHH", 16, 1, 1, 8000, 16000, 2, 16) + b"data\0\0\0\0", "no sound"),
    ],
)  # fmt: skip
def test_what_is_no_wave_is_told(raw, reason):
    with pytest.raises(BadRecording, match=reason):
        recordings.read_wave(raw, "taps.wav")


def test_missing_files_are_told(tmp_path):
    with pytest.raises(BadRecording, match="cannot be read"):
        recordings.read_file(tmp_path / "none.wav")
    with pytest.raises(BadPhotograph, match="cannot be read"):
        photographs.read_file(tmp_path / "none.jpg")


def jpeg(size=(800, 600), orientation=1, mode="RGB"):
    picture = Image.new(mode, size, "white")
    picture.paste("red" if mode == "RGB" else 0, (0, 0, size[0] // 2, size[1] // 2))
    exif = Image.Exif()
    exif[0x0112] = orientation
    exif[0x010F] = "Some Maker"
    exif[0x013B] = "Some Person"
    exif.get_ifd(0x8825)[2] = (54.0, 3.0, 1.0)
    stream = BytesIO()
    picture.save(stream, "JPEG", exif=exif, comment=b"taken by somebody")
    return stream.getvalue()


def test_a_photograph_is_scaled_upright_and_bare():
    raw = jpeg(orientation=6)  # the camera was held on its side
    assert b"Some Person" in raw
    kept = photographs.kept_picture(raw, 400, "deck.jpg")
    with Image.open(BytesIO(kept)) as picture:
        assert picture.size == (300, 400) and picture.format == "JPEG"
        assert not picture.getexif() and "comment" not in picture.info
        red, white = picture.getpixel((280, 20)), picture.getpixel((20, 380))
    assert red[0] > 200 and red[1] < 80 and min(white) > 200, "the corner came along in the turn"
    assert b"Some" not in kept and b"somebody" not in kept


def test_small_pictures_are_not_blown_up_and_clear_ones_lie_on_white():
    assert Image.open(BytesIO(photographs.kept_picture(jpeg((50, 40)), 400, "s.jpg"))).size == (50, 40)
    stream = BytesIO()
    Image.new("RGBA", (20, 20), (0, 0, 0, 0)).save(stream, "PNG")
    assert min(Image.open(BytesIO(photographs.kept_picture(stream.getvalue(), 400, "c.png"))).getpixel((5, 5))) > 250


def test_a_photograph_of_sixty_million_pixels_comes_in():
    stream = BytesIO()
    Image.new("RGB", (9000, 6700), "grey").save(stream, "JPEG", quality=40)
    kept = Image.open(BytesIO(photographs.kept_picture(stream.getvalue(), 1600, "huge.jpg")))
    assert max(kept.size) == 1600


@pytest.mark.parametrize(
    ("raw", "reason"), [(b"", "no picture"), (b"GIF of nothing", "no picture"), (jpeg()[:900], "cannot be decoded")]
)
def test_what_is_no_picture_is_told(raw, reason):
    with pytest.raises(BadPhotograph, match=reason):
        photographs.kept_picture(raw, 400, "x.jpg")


def test_absurd_sizes_are_refused_before_they_are_decoded():
    header = BytesIO()
    Image.new("1", (20_000, 20_000)).save(header, "PNG")
    with pytest.raises(BadPhotograph, match="million pixels"):
        photographs.kept_picture(header.getvalue(), 400, "x.png")
