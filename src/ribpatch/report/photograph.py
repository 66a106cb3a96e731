"""A photograph on paper. Only what the file holds is kept, its pixels never: a job may have hundreds."""

from __future__ import annotations

from io import BytesIO
from typing import Any

from reportlab.lib.utils import ImageReader
from reportlab.platypus import Flowable


class _Jpeg(ImageReader):  # type: ignore[misc]  # reportlab carries no types
    """A JPEG that goes into the paper as it is. Its pixels are asked for only to tell one picture from another, and
    what the file holds tells as much: spelled out they were ten to thirty times as large, and kept to the last page.
    """

    def getRGBData(self) -> bytes:
        """What the file holds."""
        self._dataA = None
        held: bytes = self.fp.getvalue()
        return held


def _reader(data: bytes) -> ImageReader:
    return (_Jpeg if data.startswith(b"\xff\xd8\xff") else ImageReader)(BytesIO(data))


class PhotographFlowable(Flowable):  # type: ignore[misc]  # reportlab carries no types
    """A picture as large as its room lets it be; the bytes of a JPEG go into the paper as they are."""

    def __init__(self, data: bytes, wide: float, high: float) -> None:
        super().__init__()
        self._data = data
        across, up = ImageReader(BytesIO(data)).getSize()
        scale = min(wide / across, high / up)
        self.drawWidth, self.drawHeight = across * scale, up * scale

    def wrap(self, *_room: float) -> tuple[float, float]:
        """Its size, points."""
        return self.drawWidth, self.drawHeight

    def draw(self) -> None:
        """Draw it."""
        canvas: Any = self.canv
        canvas.drawImage(_reader(self._data), 0, 0, self.drawWidth, self.drawHeight)
