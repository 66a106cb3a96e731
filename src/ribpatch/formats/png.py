"""PNG pictures: a field of values, a page of a PDF."""

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


DOTS = 300.0  # an inch
POINTS = 72.0


def page_png(pdf: bytes, dots: float = DOTS) -> bytes:
    """The first page of a PDF as a PNG of so many dots an inch, said in the file."""
    import pypdfium2

    document = pypdfium2.PdfDocument(pdf)
    try:
        image = document[0].render(scale=dots / POINTS).to_pil()
    finally:
        document.close()
    stream = BytesIO()
    image.save(stream, "PNG", dpi=(dots, dots))
    return stream.getvalue()
