"""A field of values as a PNG picture."""

from __future__ import annotations

from io import BytesIO
from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.drawing.palette import ramp_colours

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats


def png_of(values: Floats, ramp: str = "damage") -> bytes:
    """A PNG of values of shape (ny, nx), top row first, each cell six pixels so that viewers do not blur it away."""
    from PIL import Image

    colours = ramp_colours(values[::-1], "light", ramp)
    stream = BytesIO()
    image = Image.fromarray(np.ascontiguousarray(colours))
    image.resize((image.width * 6, image.height * 6), Image.Resampling.BICUBIC).save(stream, "PNG")
    return stream.getvalue()
