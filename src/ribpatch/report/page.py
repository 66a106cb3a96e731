"""What every paper has in common: fonts, styles, paragraphs, tables, the frame of the page and its foot."""

from __future__ import annotations

from io import BytesIO
from itertools import count
from typing import TYPE_CHECKING, Any, Literal, TypeVar
from xml.sax.saxutils import escape

from reportlab import rl_config
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase.pdfmetrics import registerFont, registerFontFamily
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import CondPageBreak, Paragraph, SimpleDocTemplate, Table, TableStyle

from ribpatch import resources
from ribpatch.core.drawing.palette import LIGHT
from ribpatch.core.figure import Figure
from ribpatch.core.text import printable
from ribpatch.report.canvas import numbered
from ribpatch.report.glyphs import marked_up
from ribpatch.report.paint import BOLD, FONT

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Sequence

    from ribpatch.core.table import Table as CoreTable
    from ribpatch.core.units import System

    Told = Callable[[float], None]  # how far a paper has come, 0 to 1; it raises where the paper is called off


MARGIN, TOP, BOTTOM = 42.0, 44.0, 46.0
LED = 46.0  # points that a heading wants below its top: itself and a few lines
Paper = Literal["A4", "Letter"]
Z = TypeVar("Z")
INK = HexColor(LIGHT["ink"])
BODY = ParagraphStyle("body", fontName=FONT, fontSize=8.5, leading=11.5, textColor=INK)
SMALL = ParagraphStyle("small", parent=BODY, fontSize=7, leading=9.2, textColor=HexColor(LIGHT["soft"]))
HEAD = ParagraphStyle("head", parent=BODY, fontName=BOLD, fontSize=15, leading=19, spaceAfter=4)
SUB = ParagraphStyle("sub", parent=BODY, fontName=BOLD, fontSize=10, leading=13, spaceBefore=7, spaceAfter=3)
WARN = ParagraphStyle("warn", parent=BODY, textColor=HexColor(LIGHT["warn"]))


# Binary streams, not text: a quarter smaller, and a photograph takes no second to be spelled out.
rl_config.useA85 = 0


def fonts() -> None:
    """Register the shipped fonts."""
    registerFont(TTFont(FONT, BytesIO(resources.data("fonts/B612-Regular.ttf"))))
    registerFont(TTFont(BOLD, BytesIO(resources.data("fonts/B612-Bold.ttf"))))
    registerFontFamily(FONT, normal=FONT, bold=BOLD, italic=FONT, boldItalic=BOLD)


def escaped(text: str) -> str:
    """Plain text as reportlab's own markup."""
    return marked_up(escape(printable(text)), FONT)


def paragraph(text: str, style: ParagraphStyle = BODY) -> Paragraph:
    """Plain text as a paragraph."""
    return Paragraph(escaped(text), style)


def table(rows: list[list[str]], widths: list[float], numbers: tuple[int, ...] = ()) -> Table:
    """Rows under a heading row; the columns in ``numbers`` stand to the right."""
    body = [
        [paragraph(cell, BODY if i else SMALL) if j not in numbers else printable(cell) for j, cell in enumerate(row)]
        for i, row in enumerate(rows)
    ]
    table = Table(body, colWidths=widths, repeatRows=1, splitInRow=1)
    style: list[Any] = [
        ("FONT", (0, 0), (-1, -1), FONT, 8.5),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("TEXTCOLOR", (0, 0), (-1, -1), INK),
        ("LINEBELOW", (0, 0), (-1, 0), 0.8, INK),
        ("LINEBELOW", (0, 1), (-1, -1), 0.25, HexColor(LIGHT["edge"])),
        ("TOPPADDING", (0, 0), (-1, -1), 2),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
    ]
    style += [("ALIGN", (j, 0), (j, -1), "RIGHT") for j in numbers]
    table.setStyle(TableStyle(style))
    return table


def page_width(paper: Paper) -> float:
    """Width between the margins, points."""
    return float((A4 if paper == "A4" else LETTER)[0]) - 2 * MARGIN - 12  # the frame's own padding


def unheard(_share: float) -> None:
    """Nobody waits to be told how far a paper has come."""


def telling(zones: Sequence[Z], told: Told, until: float, since: float = 0.0) -> Iterator[Z]:
    """The zones one by one; before each it is told how far the work is, from the share ``since`` to ``until``."""
    for number, zone in enumerate(zones):
        told(since + (until - since) * number / len(zones))
        yield zone


class _Document(SimpleDocTemplate):  # type: ignore[misc]  # reportlab carries no types
    """A document whose headings are its bookmarks. ``drawn`` is called for every part of it that is on its page."""

    drawn: Callable[[], None]

    def afterFlowable(self, flowable: Any) -> None:
        """Bookmark a heading, parts of it one level below."""
        self.drawn()
        style = getattr(flowable, "style", None)
        if style is not HEAD and style is not SUB:
            return
        text, level = flowable.getPlainText(), 0 if style is HEAD else 1
        if level and not self._begun:
            return  # a part before the first heading has nothing to stand under
        self._begun = True
        key = f"mark{self.seq.nextf('marks')}"
        self.canv.bookmarkPage(key)
        self.canv.addOutlineEntry(text, key, level, closed=level == 0)

    _begun = False


def _led(story: list[Any]) -> list[Any]:
    """The story with a new page before a heading that would stand alone at the foot of one. A heading is not tied to
    what follows it, since a long table would then go to the next page whole.
    """
    found: list[Any] = []
    for flowable in story:
        style = getattr(flowable, "style", None)
        if style is HEAD or style is SUB:
            found.append(CondPageBreak(LED))
        found.append(flowable)
    return found


def page_height(paper: Paper) -> float:
    """Height between the margins, points."""
    return float((A4 if paper == "A4" else LETTER)[1]) - TOP - BOTTOM - 12  # the frame's own padding


def built(story: list[Any], title: str, foot: str, paper: Paper, told: Told = unheard, composed: float = 0.0) -> bytes:
    """A paper as PDF bytes, with bookmarks and numbered pages; the same story gives the same bytes. ``composed`` is the
    share of the work that was done before.
    """
    stream, parts = BytesIO(), len(story)
    size = A4 if paper == "A4" else LETTER
    document = _Document(
        stream,
        pagesize=size,
        leftMargin=MARGIN,
        rightMargin=MARGIN,
        topMargin=TOP,
        bottomMargin=BOTTOM,
        title=title,
        author="Rib Patch",
        lang="en",
        invariant=1,
    )

    def footer(canvas: Any, page: int, pages: int) -> None:
        canvas.setFont(FONT, 7)
        canvas.setFillColor(HexColor(LIGHT["soft"]))
        canvas.drawString(MARGIN, 28, foot)
        canvas.drawRightString(size[0] - MARGIN, 28, f"page {page} of {pages}")

    done = count(1)
    document.drawn = lambda: told(composed + (1 - composed) * min(next(done) / parts, 1.0))
    document.build(_led(story), canvasmaker=numbered(footer))
    return stream.getvalue()


def figure_table(figures: list[Figure], system: System, width: float) -> Table:
    """Figures with their working in words."""
    rows = [["figure", "value", "how"]] + [
        [f.name, f.shown(system), f.formula + (f". {' '.join(f.warnings)}" if f.warnings else "")] for f in figures
    ]
    return table(rows, [width * 0.30, width * 0.17, width * 0.53], (1,))


def titled_table(
    title: str, made: CoreTable | None, shares: tuple[float, ...], system: System, width: float
) -> list[Any]:
    """A core table on paper: numbers to the right, warnings marked."""
    if made is None or not made.rows:
        return []
    rows = [list(made.columns)]
    for row in made.rows:
        cells = [c.shown(system) if isinstance(c, Figure) else c for c in row.cells]
        rows.append(
            [
                f"⚠ {cells[0]}" if row.mark == "warn" else f"● {cells[0]}" if row.mark == "chosen" else cells[0],
                *cells[1:],
            ]
        )
    numbers = tuple(c for c in range(len(made.columns)) if any(isinstance(r.cells[c], Figure) for r in made.rows))
    drawn: Table = table(rows, [width * s for s in shares], numbers)
    return [paragraph(title, SUB), drawn, *([paragraph(made.note, SMALL)] if made.note else [])]
