"""One drawing on one sheet of paper at a usual scale, that scale and a check bar printed beneath."""

from __future__ import annotations

from io import BytesIO
from typing import TYPE_CHECKING, Any

from reportlab.lib.pagesizes import A4, LETTER, landscape

from ribpatch.core.drawing.scale import scale_for
from ribpatch.report.canvas import Canvas
from ribpatch.report.page import INK, MARGIN, Paper, fonts
from ribpatch.report.paint import FONT, SIZE, DrawingPaint

if TYPE_CHECKING:
    from ribpatch.core.drawing.shapes import Drawing

MM = 72 / 25.4  # points
BAR = 100.0  # mm of paper


def sheet_scale(drawing: Drawing, paper: Paper) -> int:
    """The N of 1:N at which a drawing with its words fits a sheet laid on its side."""
    width, height = landscape(A4 if paper == "A4" else LETTER)
    x0, y0, x1, y1 = drawing.bounds
    words = sum(max(26.0, 14 + drawing.longest_callout(side) * 3.9) for side in ("left", "right"))
    return scale_for(x1 - x0, y1 - y0, (width - 2 * MARGIN - words) / MM, (height - 2 * MARGIN - 70) / MM)


def sheet_pdf(drawing: Drawing, title: str, paper: Paper) -> bytes:
    """The drawing as a PDF of one page, true to its printed scale."""
    fonts()
    size = landscape(A4 if paper == "A4" else LETTER)
    scale = sheet_scale(drawing, paper)
    stream = BytesIO()
    canvas = Canvas(stream, pagesize=size, invariant=1)
    canvas.setTitle(title)
    left = max(26.0, 14 + drawing.longest_callout("left") * 3.9)
    factor = 1000 / scale * MM
    x0, y0, _, _ = drawing.bounds
    DrawingPaint(canvas, factor, MARGIN + left - x0 * factor, MARGIN + 56 - y0 * factor, size).paint(drawing)
    canvas.setFillColor(INK)
    canvas.setStrokeColor(INK)
    canvas.setFont(FONT, 9)
    canvas.drawString(MARGIN, size[1] - MARGIN, title)
    canvas.setFont(FONT, SIZE + 1)
    canvas.drawString(MARGIN, MARGIN - 8, f"{drawing.title}. {drawing.note}. 1 : {scale}")
    check_bar(canvas, size[0] - MARGIN - BAR * MM, MARGIN - 8)
    canvas.showPage()
    canvas.save()
    return stream.getvalue()


def check_bar(canvas: Any, x: float, y: float) -> None:
    """A bar of exactly 100 mm of paper, to be measured before the print is trusted."""
    canvas.setDash([])
    canvas.setLineWidth(0.6)
    canvas.line(x, y, x + BAR * MM, y)
    for k in range(11):
        canvas.line(x + k * 10 * MM, y, x + k * 10 * MM, y + (4 if k % 5 == 0 else 2.5))
    canvas.setFont(FONT, SIZE)
    canvas.drawString(x, y + 6, "0")
    canvas.drawRightString(x + BAR * MM, y + 6, "100 mm: measure it; print at 100 %, not fitted to the page")
