"""Photographs into the job: turned upright, scaled down, stripped of everything but the picture.

A phone writes who, when and where into a picture. None of that is kept: the pixels are copied into a new JPEG. Only
JPEG, PNG, TIFF, WebP and HEIF are opened, by what the file holds and not by its name: other kinds, PostScript among
them, would hand the file to programs outside. The size in the header is looked at before anything is decoded.
"""

from __future__ import annotations

import warnings
from io import BytesIO
from typing import TYPE_CHECKING

from ribpatch.core.errors import BadPhotograph
from ribpatch.core.numerals import fixed
from ribpatch.formats.whole_file import read_whole

if TYPE_CHECKING:
    from pathlib import Path

    import numpy as np
    import PIL.Image
    from numpy.typing import NDArray

MOST_BYTES = 100 * 2**20
MOST_MEMORY = 270_000_000  # bytes that a picture may take while it is decoded
FORMATS = ("JPEG", "PNG", "TIFF", "WEBP")
HEIF = "HEIF"
# Bytes a pixel while decoding, as measured: the picture itself at four, and what each reader needs beside it. A usual
# JPEG is decoded at a part of its size.
_BYTES = {"JPEG": 2.0, "PNG": 4.4, "TIFF": 4.4, "WEBP": 15.5, "HEIF": 7.2}
_DEEP_BYTES = 13.0  # 16 or 32 bits a pixel
SEEN_THROUGH = ("RGBA", "LA", "PA", "P", "RGBa", "La")  # modes that may be transparent
INDEXED = ("P", "PA", "1")
QUALITY = 86
_ADVICE = "Save it as JPEG or PNG and try again."


def read_file(path: Path) -> bytes:
    """The bytes of a photograph; raises BadPhotograph where it cannot be read or is too large."""
    return read_whole(path, MOST_BYTES, BadPhotograph, "Save it smaller.")


def kept_picture(raw: bytes, side: int, where: str) -> bytes:
    """A photograph as it is kept: JPEG, upright, at most ``side`` pixels long, no metadata. Raises BadPhotograph."""
    from PIL import Image, UnidentifiedImageError

    formats = (*FORMATS, HEIF) if _know_heif(raw) else FORMATS
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # the size is checked here
            with Image.open(BytesIO(raw), formats=formats) as opened:
                _check_size(opened, where)
                bare = _upright(opened, side)
    except Image.DecompressionBombError:
        raise BadPhotograph(where, reason="has hundreds of million pixels", advice="Save it smaller.") from None
    except UnidentifiedImageError:
        raise BadPhotograph(where, reason="is no picture of a kind that can be read", advice=_ADVICE) from None
    except MemoryError:
        raise BadPhotograph(where, reason="needs more memory than there is", advice="Save it smaller.") from None
    except (OSError, ValueError, SyntaxError, EOFError, RuntimeError, TypeError, KeyError, IndexError) as error:
        raise BadPhotograph(where, reason=f"cannot be decoded ({_plain(error)})", advice=_ADVICE) from None
    stream = BytesIO()
    bare.save(stream, "JPEG", quality=QUALITY, optimize=True)
    return stream.getvalue()


def pixels_of(raw: bytes, where: str) -> NDArray[np.uint8]:
    """The pixels (height, width, 3) of a kept photograph: of the kinds that we keep only, its size looked at before it
    is decoded, since a job file may come from anybody. Raises BadPhotograph.
    """
    import numpy as np
    from PIL import Image

    if not is_picture(raw):
        raise BadPhotograph(where, reason="is no picture of a kind that is kept, or damaged", advice="Add it again.")
    with Image.open(BytesIO(raw), formats=FORMATS) as opened:
        return np.asarray(opened.convert("RGB"))


def is_picture(raw: bytes) -> bool:
    """Whether bytes from a job file are a picture of a kind that we keep, whole and of a reasonable size."""
    from PIL import Image

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(BytesIO(raw), formats=FORMATS) as opened:
                _check_size(opened, "")
                opened.load()
    except (
        BadPhotograph,
        Image.DecompressionBombError,
        OSError,
        ValueError,
        SyntaxError,
        EOFError,
        MemoryError,
        RuntimeError,
        TypeError,
    ):
        return False
    return True


def _know_heif(raw: bytes) -> bool:
    """Have HEIF read, where the file may be one; its library is loaded for that only."""
    if raw[4:8] != b"ftyp":
        return False
    import pi_heif

    pi_heif.register_heif_opener(thumbnails=False)
    return True


def _check_size(opened: PIL.Image.Image, where: str) -> None:
    """Refuse what would take too much memory, by its header."""
    width, height = opened.size
    kind, each = opened.format or "PNG", _BYTES.get(opened.format or "", 15.5)
    if opened.mode.startswith(("I", "F")):
        each = _DEEP_BYTES
    elif kind == "JPEG" and opened.info.get("progressive"):
        each = 1.0 + 2 * _samples(opened)  # all coefficients are held at once
    most = MOST_MEMORY / each
    if width * height > most:
        raise BadPhotograph(
            where,
            reason=f"has {fixed(width * height / 1e6, 0)} million pixels, more than the {fixed(most / 1e6, 0)} million "
            f"that a {kind} like it may have",
            advice="Save it smaller.",
        )


def _samples(opened: PIL.Image.Image) -> float:
    """Samples a pixel of a JPEG: three where colour is as fine as brightness, less where it is coarser."""
    layers = getattr(opened, "layer", [])
    shares = [h * v for _, h, v, _ in layers]
    return sum(shares) / max(shares) if shares else 3.0


def _upright(opened: PIL.Image.Image, side: int) -> PIL.Image.Image:
    """The picture scaled first and turned afterwards, so that the large one is held once only."""
    from PIL import Image

    opened.draft("RGB", (side, side))  # a large JPEG is decoded at a part of its size
    picture = _on_white(_coarser(_eight_bits(opened), max(opened.size) * 2 // (3 * side)))
    picture.thumbnail((side, side), Image.Resampling.LANCZOS)
    picture = _turned(picture, opened)
    bare = Image.new("RGB", picture.size)
    bare.paste(picture)
    return bare


def _coarser(picture: PIL.Image.Image, by: int) -> PIL.Image.Image:
    """The picture on white at a whole part of its size, strip by strip: one with transparency or a palette is copied
    for it several times over.
    """
    from PIL import Image

    by = max(by, 1)
    if by == 1 and picture.mode not in SEEN_THROUGH:
        return picture
    width, height = picture.size
    small = Image.new("RGB", (-(-width // by), -(-height // by)))
    rows = 64 * by
    for top in range(0, height, rows):
        strip = picture.crop((0, top, width, min(top + rows, height)))
        if picture.mode in INDEXED:  # its values are no brightness that could be averaged
            strip = _on_white(strip)
        small.paste(_on_white(strip.reduce(by) if by > 1 else strip), (0, top // by))
    return small


def _turned(picture: PIL.Image.Image, opened: PIL.Image.Image) -> PIL.Image.Image:
    """``picture`` turned as the metadata of ``opened`` say."""
    from PIL import Image

    turns = {
        2: "FLIP_LEFT_RIGHT",
        3: "ROTATE_180",
        4: "FLIP_TOP_BOTTOM",
        5: "TRANSPOSE",
        6: "ROTATE_270",
        7: "TRANSVERSE",
        8: "ROTATE_90",
    }
    turn = turns.get(opened.getexif().get(0x0112, 1))
    return picture.transpose(Image.Transpose[turn]) if turn else picture


def _eight_bits(opened: PIL.Image.Image) -> PIL.Image.Image:
    """A picture of 16 or 32 bits a pixel brought to 8 by its own range; any other as it is."""
    if not opened.mode.startswith(("I", "F")):
        return opened
    deep = opened.convert("F")
    low, high = (float(v) for v in deep.getextrema())  # type: ignore[arg-type]  # one band has numbers
    scale = 255 / (high - low) if high > low else 1.0
    return deep.point(lambda v: v * scale - low * scale).convert("L")  # Pillow reads a scale and an offset off this


def _plain(error: Exception) -> str:
    """The reason without what only a programmer could use."""
    text = " ".join(str(error).split())
    return "the file is damaged" if not text or "<" in text or len(text) > 120 else text


def _on_white(picture: PIL.Image.Image) -> PIL.Image.Image:
    """The picture without transparency."""
    from PIL import Image

    if picture.mode in SEEN_THROUGH:
        clear = picture.convert("RGBA")
        white = Image.new("RGBA", clear.size, "white")
        return Image.alpha_composite(white, clear).convert("RGB")
    return picture.convert("RGB")
