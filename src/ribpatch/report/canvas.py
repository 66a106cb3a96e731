"""The canvas of every paper: it leaves out of each text what no font can print, and knows how many pages there are."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen import canvas

from ribpatch.core.text import printable
from ribpatch.report.glyphs import runs, width

if TYPE_CHECKING:
    from collections.abc import Callable


class Canvas(canvas.Canvas):  # type: ignore[misc]  # reportlab carries no types
    """A canvas that takes any text."""

    def drawString(self, x: float, y: float, text: str, *more: Any, **named: Any) -> None:
        """Draw a text from its left end."""
        font, size = self._fontname, self._fontsize
        pieces = runs(printable(text), font)
        for name, part in pieces:
            if name != self._fontname:
                self.setFont(name, size)
            super().drawString(x, y, part, *more, **named)
            x += stringWidth(part, name, size)
        if self._fontname != font:
            self.setFont(font, size)

    def drawCentredString(self, x: float, y: float, text: str, *more: Any, **named: Any) -> None:
        """Draw a text about its middle."""
        self.drawString(x - self._wide(text) / 2, y, text, *more, **named)

    def drawRightString(self, x: float, y: float, text: str, *more: Any, **named: Any) -> None:
        """Draw a text up to its right end."""
        self.drawString(x - self._wide(text), y, text, *more, **named)

    def _wide(self, text: str) -> float:
        return width(printable(text), self._fontname, self._fontsize)

    def setTitle(self, title: str) -> None:
        """Set the document's title."""
        super().setTitle(printable(title))


def numbered(foot: Callable[[Any, int, int], None]) -> type[Canvas]:
    """A canvas that calls ``foot(canvas, page, pages)`` on every page once all of them are known."""

    class Numbered(Canvas):
        def __init__(self, *given: Any, **named: Any) -> None:
            super().__init__(*given, **named)
            self._kept: list[dict[str, Any]] = []

        def showPage(self) -> None:
            self._kept.append(dict(self.__dict__))
            self._startPage()

        def save(self) -> None:
            for page in self._kept:
                self.__dict__.update(page)
                foot(self, self._pageNumber, len(self._kept))
                super().showPage()
            super().save()

    return Numbered
