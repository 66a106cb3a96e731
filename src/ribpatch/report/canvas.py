"""The canvas of every paper: it leaves out of each text what no font can print."""

from __future__ import annotations

from typing import Any

from reportlab.pdfgen import canvas

from ribpatch.core.text import printable


class Canvas(canvas.Canvas):  # type: ignore[misc]  # reportlab carries no types
    """A canvas that takes any text."""

    def drawString(self, x: float, y: float, text: str, *more: Any, **named: Any) -> None:
        """Draw a text from its left end."""
        super().drawString(x, y, printable(text), *more, **named)

    def drawCentredString(self, x: float, y: float, text: str, *more: Any, **named: Any) -> None:
        """Draw a text about its middle."""
        super().drawCentredString(x, y, printable(text), *more, **named)

    def drawRightString(self, x: float, y: float, text: str, *more: Any, **named: Any) -> None:
        """Draw a text up to its right end."""
        super().drawRightString(x, y, printable(text), *more, **named)

    def setTitle(self, title: str) -> None:
        """Set the document's title."""
        super().setTitle(printable(title))
