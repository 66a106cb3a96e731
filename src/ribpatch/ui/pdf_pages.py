"""Pages of a PDF as pictures: on the screen, and on a printer at their true size."""

from __future__ import annotations

from typing import TYPE_CHECKING

import pypdfium2
from PySide6.QtCore import QMarginsF, QRectF, QSizeF
from PySide6.QtGui import QImage, QPageLayout, QPageSize, QPainter

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable

    from PySide6.QtPrintSupport import QPrinter

POINTS = 72.0
FINE = 300.0  # dots an inch that a page is printed with, at most
BAND = 6_000_000  # pixels at a time: a page of A0 is far larger


class PdfPages:
    """The pages of a PDF by number, from 0. Close it when it is no longer wanted."""

    def __init__(self, data: bytes) -> None:
        self._document = pypdfium2.PdfDocument(data)
        self._said: dict[int, str] = {}
        self.sizes: tuple[tuple[float, float], ...] = tuple(
            (float(w), float(h)) for w, h in (self._document.get_page_size(n) for n in range(len(self._document)))
        )

    def close(self) -> None:
        """Let the document go."""
        self._document.close()

    def picture(self, page: int, scale: float) -> QImage:
        """A page at ``scale`` pixels a point."""
        return self._band(page, scale, 0.0, self.sizes[page][1])

    def words(self, page: int) -> str:
        """What is written on a page, as one line."""
        if page not in self._said:
            loaded = self._document[page]
            text = loaded.get_textpage()
            self._said[page] = " ".join(str(text.get_text_bounded()).split())
            text.close()
            loaded.close()
        return self._said[page]

    def _band(self, page: int, scale: float, top: float, bottom: float) -> QImage:
        """The part of a page between two heights from its upper edge, points."""
        high = self.sizes[page][1]
        loaded = self._document[page]
        drawn = loaded.render(scale=scale, crop=(0, high - bottom, 0, top), rev_byteorder=True, prefer_bgrx=True)
        image = QImage(bytes(drawn.buffer), drawn.width, drawn.height, drawn.stride, QImage.Format.Format_RGBX8888)
        made = image.copy()
        loaded.close()
        return made

    def print_on(
        self, printer: QPrinter, pages: Iterable[int], go_on: Callable[[int], bool] = lambda _done: True
    ) -> int:
        """Print pages at their true size, each on paper of its own size; how many were. ``go_on`` may stop it."""
        painter, printed = QPainter(), 0
        try:
            for page in pages:
                if not go_on(printed):
                    break
                _lay_out(printer, self.sizes[page])
                begun = printer.newPage() if painter.isActive() else painter.begin(printer)
                if not begun:
                    break
                self._paint(painter, printer.resolution(), page)
                printed += 1
        finally:
            painter.end()
        return printed

    def _paint(self, painter: QPainter, dots: float, page: int) -> None:
        wide, high = self.sizes[page]
        scale = min(dots, FINE) / POINTS
        step = max(BAND / (wide * scale) / scale, 10.0)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        top = 0.0
        while top < high:
            bottom = min(top + step, high)
            image = self._band(page, scale, top, bottom)
            of = dots / POINTS
            painter.drawImage(QRectF(0, top * of, image.width() / scale * of, image.height() / scale * of), image)
            top = bottom


def _lay_out(printer: QPrinter, size: tuple[float, float]) -> None:
    """Give the printer a page's own size and no margins: nothing is fitted, a template prints true."""
    wide, high = size
    lies = wide > high
    paper = QPageSize(QSizeF(min(size), max(size)), QPageSize.Unit.Point, "", QPageSize.SizeMatchPolicy.FuzzyMatch)
    way = QPageLayout.Orientation.Landscape if lies else QPageLayout.Orientation.Portrait
    printer.setFullPage(True)
    printer.setPageLayout(QPageLayout(paper, way, QMarginsF(0, 0, 0, 0), QPageLayout.Unit.Point))


def pages_of(text: str, count: int) -> list[int]:
    """Page numbers from 0 of text like ``1-3, 7``; all where it is empty. Raises ValueError."""
    if not text.strip():
        return list(range(count))
    found: list[int] = []
    for part in text.replace("–", "-").split(","):
        first, _, last = part.strip().partition("-")
        numbers = range(int(first), int(last or first) + 1)
        if not numbers or numbers[0] < 1 or numbers[-1] > count:
            raise ValueError(part.strip())
        found += [n - 1 for n in numbers]
    return found
