"""Photographs into the job: turned upright, scaled down, stripped of everything but the picture.

A phone writes who, when and where into a picture. None of that is kept: the pixels are copied into a new JPEG.
"""

from __future__ import annotations

import warnings
from io import BytesIO
from pathlib import Path
from typing import TYPE_CHECKING

from ribpatch.core.errors import BadPhotograph
from ribpatch.formats.whole_file import read_whole

if TYPE_CHECKING:
    import PIL.Image

MOST_BYTES = 200 * 2**20
MOST_PIXELS = 178  # million; Pillow refuses more as a bomb
QUALITY = 86
_ADVICE = "Save it as JPEG or PNG and try again."


def read_file(path: Path) -> bytes:
    """The bytes of a photograph; raises BadPhotograph where it cannot be read or is too large."""
    return read_whole(path, MOST_BYTES, BadPhotograph, "Save it smaller.")


def kept_picture(raw: bytes, side: int, where: str) -> bytes:
    """A photograph as it is kept: JPEG, upright, at most ``side`` pixels long, no metadata. Raises BadPhotograph."""
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # Pillow warns at half the number that it refuses
            with Image.open(BytesIO(raw)) as opened:
                opened.draft("RGB", (side, side))  # a large JPEG is decoded at a part of its size
                upright = ImageOps.exif_transpose(opened)
                upright.thumbnail((side, side), Image.Resampling.LANCZOS)
                picture = _on_white(upright)
    except Image.DecompressionBombError:
        raise BadPhotograph(
            where, reason=f"has more than {MOST_PIXELS} million pixels", advice="Save it smaller."
        ) from None
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, EOFError) as error:
        reason = "is no picture" if isinstance(error, UnidentifiedImageError) else f"cannot be decoded ({error})"
        raise BadPhotograph(where, reason=reason, advice=_ADVICE) from None
    bare = Image.new("RGB", picture.size)
    bare.paste(picture)
    stream = BytesIO()
    bare.save(stream, "JPEG", quality=QUALITY, optimize=True)
    return stream.getvalue()


def _on_white(picture: PIL.Image.Image) -> PIL.Image.Image:
    """The picture without transparency."""
    from PIL import Image

    if picture.mode in ("RGBA", "LA", "P"):
        clear = picture.convert("RGBA")
        white = Image.new("RGBA", clear.size, "white")
        return Image.alpha_composite(white, clear).convert("RGB")
    return picture.convert("RGB")
