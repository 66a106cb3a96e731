"""A photograph on paper. Only what the file holds is kept until it is drawn: a job may have hundreds."""

from __future__ import annotations

from io import BytesIO
from typing import Any

from reportlab.lib.utils import ImageReader
from reportlab.platypus import Flowable


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
        """Draw it, and let its pixels go."""
        canvas: Any = self.canv
        canvas.drawImage(ImageReader(BytesIO(self._data)), 0, 0, self.drawWidth, self.drawHeight)
