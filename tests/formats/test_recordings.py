"""Recordings and photographs from outside: every usual form comes in, everything else is told."""

import struct
import subprocess
import sys
from io import BytesIO
from pathlib import Path

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


@pytest.mark.parametrize("kind", ["ALAW", "ULAW", "IMA_ADPCM"])
def test_codings_that_change_the_sound_are_told(kind):
    stream = BytesIO()
    soundfile.write(stream, ring(900, 0.012, rate=16_000), 16_000, format="WAV", subtype=kind)
    with pytest.raises(BadRecording, match="which changes the sound"):
        recordings.read_wave(stream.getvalue(), "phone.wav")


@pytest.mark.parametrize("kept", [0.2, 0.6, 0.97])
def test_a_file_that_was_cut_off_is_told_and_one_that_was_streamed_is_read(kept):
    raw = recordings.wave_bytes(ring(900, 0.012), 48_000)
    with pytest.raises(BadRecording, match=rf"cut off: {kept:.0%} of the samples"):
        recordings.read_wave(raw[: 44 + round(kept * (len(raw) - 44)) // 2 * 2], "taps.wav")
    streamed = raw[:40] + b"\xff\xff\xff\xff" + raw[44:]
    assert len(recordings.read_wave(streamed, "taps.wav")[0]) == (len(raw) - 44) // 2
    assert len(recordings.read_wave(raw + b"LIST\x04\0\0\0abcd", "taps.wav")[0]) == (len(raw) - 44) // 2


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


def picture(kind, size=(60, 40), mode="RGB", **more):
    stream = BytesIO()
    Image.new(mode, size, 128 if mode == "L" else (128,) * len(mode)).save(stream, kind, **more)
    return stream.getvalue()


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "TIFF", "WEBP"])
@pytest.mark.parametrize("mode", ["RGB", "L"])
def test_pictures_of_the_usual_kinds_are_kept_as_jpeg(kind, mode):
    kept = Image.open(BytesIO(photographs.kept_picture(picture(kind, mode=mode), 400, "p")))
    assert kept.format == "JPEG" and kept.size == (60, 40) and abs(kept.convert("L").getpixel((20, 20)) - 128) < 4


def test_a_picture_of_a_phone_in_heif_is_kept():
    raw = (Path(__file__).parents[1] / "data" / "small.heic").read_bytes()
    kept = Image.open(BytesIO(photographs.kept_picture(raw, 400, "p.heic")))
    assert kept.size == (64, 48)
    assert kept.getpixel((30, 40))[0] > 150 > 80 > kept.getpixel((30, 4))[0], "red below, blue above"


@pytest.mark.parametrize(
    "raw",
    [b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n%%EndComments\n{} loop\n", b"%PDF-1.4\n", picture("GIF"), picture("BMP"), b"GIF89a", b"",
     b"\0\0\0\x18ftypheic" + b"\0" * 40],
)  # fmt: skip
def test_nothing_else_is_opened_whatever_its_name_and_no_program_is_run(raw, monkeypatch):
    import subprocess

    monkeypatch.setattr(subprocess, "Popen", lambda *a, **k: pytest.fail("a program was started"))
    with pytest.raises(BadPhotograph) as caught:
        photographs.kept_picture(raw, 400, "deck.jpg")
    assert "BytesIO" not in caught.value.sentence and "deck.jpg" in caught.value.sentence
    assert not photographs.is_picture(raw)


def test_a_picture_of_sixteen_bits_is_brought_to_eight():
    deep = Image.fromarray(np.linspace(0, 60_000, 64 * 48, dtype=np.uint16).reshape(48, 64))
    stream = BytesIO()
    deep.save(stream, "PNG")
    kept = Image.open(BytesIO(photographs.kept_picture(stream.getvalue(), 400, "x.png"))).convert("L")
    assert kept.getpixel((1, 1)) < 10 < 245 < kept.getpixel((62, 46))


def test_a_large_picture_is_scaled_with_little_memory(tmp_path):
    """60 million pixels, with and without transparency, in a process of their own."""
    code = (
        "import sys; from ribpatch.formats.photographs import kept_picture, pixels_of\n"
        "kept_picture(open(sys.argv[1], 'rb').read(), 1600, 'x')\n"
        "print(next(line for line in open('/proc/self/status') if line.startswith('VmHWM')).split()[1])"
    )
    for mode in ("RGB", "RGBA"):
        path = tmp_path / f"{mode}.png"
        Image.new(mode, (10_000, 6000)).save(path, compress_level=1)
        run = subprocess.run([sys.executable, "-c", code, str(path)], capture_output=True, text=True, check=True)
        assert int(run.stdout) < 310_000, "kilobytes; when the collector runs moves the peak by some 15 MB"


@pytest.mark.parametrize(
    ("kind", "more"), [("WEBP", {}), ("PNG", {}), ("JPEG", {"progressive": True, "subsampling": 0})]
)
def test_more_pixels_than_can_be_held_are_refused_by_the_header(kind, more, monkeypatch):
    monkeypatch.setattr(photographs, "MOST_MEMORY", 20_000)
    monkeypatch.setattr("PIL.ImageFile.ImageFile.load", lambda self: pytest.fail("it was decoded"))
    with pytest.raises(BadPhotograph, match="million pixels, more than"):
        photographs.kept_picture(picture(kind, (200, 200), **more), 400, "big")


def wave_header(frames, channels=1, rate=48_000):
    size = frames * channels
    return (b"RIFF" + struct.pack("<I", 36 + size) + b"WAVEfmt " + struct.pack("<IHHIIHH", 16, 1, channels, rate, rate * channels, channels, 8)
            + b"data" + struct.pack("<I", size) + bytes(size))  # fmt: skip


def test_recordings_are_limited_by_their_decoded_size_and_time():
    with pytest.raises(BadRecording, match="minutes"):
        recordings.read_wave(wave_header(5000 * 1201, rate=5000), "long.wav")
    with pytest.raises(BadRecording, match="million samples"):
        recordings.read_wave(wave_header(13_000_000, channels=2, rate=192_000), "wide.wav")
    with pytest.raises(BadRecording, match="no recorder"):
        recordings.read_wave(wave_header(10, channels=30), "many.wav")
    assert recordings.read_wave(wave_header(48_000), "short.wav")[0].shape == (48_000, 1)


@pytest.mark.parametrize(
    "raw", [b"", b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n", b"GIF89a" + bytes(40), b"\xff\xd8\xff"]
)
def test_the_pixels_of_a_member_are_read_of_kept_kinds_only(raw):
    with pytest.raises(BadPhotograph, match="no picture of a kind that is kept"):
        photographs.pixels_of(raw, "photograph")


def test_a_member_that_unfolds_to_hundreds_of_million_pixels_is_not_decoded():
    stream = BytesIO()
    Image.new("1", (40_000, 20_000)).save(stream, "PNG")
    with pytest.raises(BadPhotograph):
        photographs.pixels_of(stream.getvalue(), "photograph")
    stream = BytesIO()
    Image.new("RGB", (3, 2), (9, 8, 7)).save(stream, "PNG")
    assert photographs.pixels_of(stream.getvalue(), "").tolist() == [[[9, 8, 7]] * 3] * 2
