"""Photographs on paper: the file's own bytes, each picture once, and no pixels kept from page to page."""

import gc
import tracemalloc
from io import BytesIO

import numpy as np
import pypdfium2
import pytest
from PIL import Image

from ribpatch.report.page import MARGIN, TOP, built, fonts
from ribpatch.report.photograph import PhotographFlowable

SIDE = (800, 600)  # points across, up


def picture(seed: int, kind: str = "JPEG", mode: str = "RGB") -> bytes:
    pixels = np.random.default_rng(seed).integers(60, 200, (6, 8, 3), dtype=np.uint8)
    stream = BytesIO()
    Image.fromarray(pixels).resize(SIDE).convert(mode).save(stream, kind)
    return stream.getvalue()


def paper(*pictures: bytes) -> bytes:
    fonts()
    return built([PhotographFlowable(p, 400.0, 200.0) for p in pictures], "pictures", "foot", "A4")


def test_a_picture_keeps_its_shape_in_the_room_it_has():
    for room, drawn in (((400, 200), (200 * 4 / 3, 200)), ((100, 200), (100, 75))):
        assert PhotographFlowable(picture(1), *room).wrap() == pytest.approx(drawn)


def test_the_bytes_of_a_jpeg_go_into_the_paper_as_they_are_and_the_same_ones_once():
    first, second = picture(1), picture(2)
    assert first != second
    made = paper(first, second, first)
    assert [made.count(p) for p in (first, second)] == [1, 1]


@pytest.mark.parametrize(
    ("kind", "mode"), [("JPEG", "RGB"), ("JPEG", "L"), ("JPEG", "CMYK"), ("PNG", "RGB"), ("PNG", "LA"), ("PNG", "P")]
)
def test_a_picture_of_any_kind_is_printed_in_its_own_colours(kind, mode):
    """The page as another program draws it against the picture as its own reader has it."""
    raw = picture(3, kind, mode)
    with pypdfium2.PdfDocument(paper(raw)) as document:
        page = document[0].render(scale=3).to_pil().convert("RGB")
    left, top = 3 * round(MARGIN + 6), 3 * round(TOP + 6)  # the frame's own padding
    wanted = Image.open(BytesIO(raw)).convert("RGB")
    printed, wanted = (
        np.asarray(p.reduce(20), dtype=float)[1:-1, 1:-1]
        for p in (page.crop((left, top, left + 800, top + 600)), wanted)
    )
    assert np.abs(printed - wanted).mean() < (16 if mode == "CMYK" else 3)  # inks have no one way into light


def test_no_pixels_are_kept_while_a_paper_is_made():
    """Though nothing is collected: forty photographs take less than the pixels of two."""
    photographs = [picture(n) for n in range(40)]
    paper(photographs[0])
    gc.collect()
    gc.disable()
    try:
        tracemalloc.start()
        paper(*photographs)
        peak = tracemalloc.get_traced_memory()[1]
    finally:
        tracemalloc.stop()
        gc.enable()
    assert peak - 2 * sum(map(len, photographs)) < 2 * 3 * SIDE[0] * SIDE[1]
