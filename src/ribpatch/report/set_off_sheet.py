"""A sheet to set a shape off on: four printed marks at known distances, which a picture of it is read back by; and the
same marks to cut out, for paper or plywood of any size.
"""

from __future__ import annotations

from io import BytesIO
from typing import TYPE_CHECKING, Any

from reportlab.lib.colors import black, white
from reportlab.lib.pagesizes import A4, LETTER

from ribpatch.core.paper_sizes import PAPERS
from ribpatch.core.photo.sheet_marks import FOOT, marks_apart
from ribpatch.core.units import Kind, System, shown
from ribpatch.report.canvas import Canvas
from ribpatch.report.page import INK, fonts
from ribpatch.report.paint import BOLD, FONT
from ribpatch.report.sheet import MM, check_bar

if TYPE_CHECKING:
    from ribpatch.core.geometry import Point

RADII = (2.6, 5.6, 9.0)  # mm: the dot, the ring from and to
WIDER = 13.6  # mm: the ring of the first mark, to


def spacing(paper: str) -> tuple[float, float]:
    """Length and width in m between the marks of a sheet: whole centimetres."""
    return marks_apart(PAPERS[paper])


def set_off_pdf(name: str, paper: str, system: System) -> bytes:
    """The sheet on ``paper`` (of ``PAPERS``, no roll), and a sheet with the marks to cut out."""
    fonts()
    wide, high = (v * MM for v in PAPERS[paper])
    stream = BytesIO()
    canvas = Canvas(stream, pagesize=(wide, high), invariant=1, lang="en")
    canvas.setTitle(f"{name}: set-off sheet")
    along, up = spacing(paper)
    left, low = (wide - along * 1000 * MM) / 2, FOOT * MM
    for number, (x, y) in enumerate(((0, 0), (along, 0), (along, up), (0, up)), 1):
        _mark(canvas, (left + x * 1000 * MM, low + y * 1000 * MM), number)
    canvas.setFont(BOLD, 10)
    canvas.setFillColor(INK)
    canvas.drawString(left + 16 * MM, 20 * MM, name)
    canvas.setFont(FONT, 7.5)
    sizes = [shown(v, Kind.SIZE, system) for v in (along, up)]
    canvas.drawString(
        left + 16 * MM,
        15.5 * MM,
        f"Marks 1 to 2: {sizes[0]}, 2 to 3: {sizes[1]}. Draw the shape closed, with a dark pen, inside the marks.",
    )
    check_bar(canvas, left, 8 * MM)
    canvas.showPage()
    _cards(canvas, system)
    canvas.save()
    return stream.getvalue()


def _cards(canvas: Any, system: System) -> None:
    """The marks to cut out: four cards, and how to use them."""
    size = A4 if system == "metric" else LETTER
    canvas.setPageSize(size)
    canvas.setFillColor(INK)
    canvas.setFont(BOLD, 10)
    canvas.drawString(20 * MM, size[1] - 20 * MM, "Marks to cut out, for paper or plywood of any size")
    canvas.setFont(FONT, 8.5)
    for k, line in enumerate(LINES):
        canvas.drawString(20 * MM, size[1] - (27 + 5 * k) * MM, line)
    for number in range(1, 5):
        x, y = (45 + 55 * ((number - 1) % 2)) * MM, size[1] - (80 + 55 * ((number - 1) // 2)) * MM
        canvas.setDash([3, 3])
        canvas.setLineWidth(0.5)
        canvas.rect(x - 22 * MM, y - 22 * MM, 44 * MM, 44 * MM)
        canvas.setDash([])
        _mark(canvas, (x, y), number)
        canvas.setFont(FONT, 8)
        canvas.drawCentredString(x, y - 19 * MM, f"mark {number}")
    canvas.showPage()


LINES = (
    "Stick them down at the corners of a rectangle, in order round it against the clock, and measure its two sides",
    "between the dots. Draw the shape inside, closed, with a dark pen; take a picture with all four marks in it.",
)


def _mark(canvas: Any, at: Point, number: int) -> None:
    x, y = at
    for radius, colour in ((WIDER if number == 1 else RADII[2], black), (RADII[1], white), (RADII[0], black)):
        canvas.setFillColor(colour)
        canvas.circle(x, y, radius * MM, stroke=0, fill=1)
    canvas.setFillColor(INK)
