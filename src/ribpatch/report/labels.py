"""Labels to print and stick on: one for each piece of cloth and of core, numbered as in the cut plan."""

from __future__ import annotations

from io import BytesIO
from typing import TYPE_CHECKING

from msgspec import Struct
from reportlab.lib.pagesizes import A4, LETTER

from ribpatch.core.drawing.cut_view import cut_rows
from ribpatch.core.drawing.sheet_view import sheet_rows
from ribpatch.core.text import printable
from ribpatch.report.canvas import Canvas
from ribpatch.report.glyphs import width
from ribpatch.report.page import Paper, fonts
from ribpatch.report.paint import BOLD, FONT
from ribpatch.report.sheet import MM

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System

ACROSS, DOWN = 3, 8
SIZES = {"A4": (70.0, 37.0), "Letter": (70.0, 34.0)}  # mm; eight rows on the sheet
PAD = 4.0  # mm
LEADING = 14.0  # points
BESIDE_NUMBER = 2  # lines that leave room for it


class Label(Struct, frozen=True):
    """What stands on a label: number, what it is cut from, whose and which, its size."""

    number: str
    cloth: str
    mark: str
    size: str


def labels_of(plan: Plan, system: System) -> tuple[Label, ...]:
    """Every piece of cloth, then of core (C1, C2 and so on)."""
    made = [Label(r[0], r[1], r[2], f"{r[3]} × {r[4]}") for r in cut_rows(plan.rolls, system)]
    made += [Label(f"C{r[0]}", r[1], r[2], f"{r[3]} × {r[4]}") for r in sheet_rows(plan.core_sheets, system)]
    return tuple(made)


def label_pdf(plan: Plan, system: System, paper: Paper) -> bytes:
    """Labels three across and eight down; the same job gives the same bytes."""
    fonts()
    size = A4 if paper == "A4" else LETTER
    wide, high = (v * MM for v in SIZES[paper])
    stream = BytesIO()
    canvas = Canvas(stream, pagesize=size, invariant=1)
    canvas.setTitle(f"{plan.job.boat.name}: labels")
    left, top = (size[0] - ACROSS * wide) / 2, size[1] - (size[1] - DOWN * high) / 2
    for n, label in enumerate(labels_of(plan, system)):
        place = n % (ACROSS * DOWN)
        if n and place == 0:
            canvas.showPage()
        x, y = left + place % ACROSS * wide, top - (place // ACROSS + 1) * high
        _label(canvas, label, plan.job.boat.name, (x, y, wide, high))
    canvas.save()
    return stream.getvalue()


def _label(canvas: Canvas, label: Label, boat: str, box: tuple[float, float, float, float]) -> None:
    x, y, wide, high = box
    pad = PAD * MM
    canvas.setLineWidth(0.3)
    canvas.rect(x, y, wide, high)
    room = wide - 2 * pad
    canvas.setFont(BOLD, 20)
    canvas.drawRightString(x + wide - pad, y + high - pad - 15, label.number)
    zone, _, which = label.mark.partition(", ")
    lines = (
        (zone, BOLD, 9.0),
        (which, BOLD, 9.0),
        (label.cloth, FONT, 8.0),
        (label.size, FONT, 8.0),
        (boat, FONT, 7.0),
    )
    for line, (text, font, points) in enumerate(lines):
        short = room - (32 if line < BESIDE_NUMBER else 0)
        canvas.setFont(font, points)
        canvas.drawString(x + pad, y + high - pad - 10 - line * LEADING, fitted(printable(text), font, points, short))


def fitted(text: str, font: str, points: float, room: float) -> str:
    """As much of a text as there is room for, points."""
    if width(text, font, points) <= room:
        return text
    while text and width(f"{text}…", font, points) > room:
        text = text[:-1]
    return f"{text}…"
