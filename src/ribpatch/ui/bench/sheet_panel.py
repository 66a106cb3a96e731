"""Core on its sheets: the drawing, and in words how each zone's core is made up."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from ribpatch.core.drawing.sheet_view import core_words, sheet_view, sheet_words
from ribpatch.ui.scaling import sized
from ribpatch.ui.widgets.canvas import Canvas

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.ui.session import Session


HEADING, SHEET, MOST_SHEETS = 40, 75, 4  # pixels of the heading and of a sheet, at least; sheets that need them


class SheetPanel(QWidget):
    """Every sheet of core for the whole job; drawn when it is looked at."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.canvas = Canvas("sheets of core with the pieces that are sawn from them")
        self.words = QLabel("")
        self.words.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.canvas, 1)
        layout.addWidget(self.words)

    def set_theme(self, theme: str) -> None:
        self.canvas.set_theme(theme)

    def show_plan(self, plan: Plan, system: System) -> None:
        """Show the sheets of a plan."""
        sheets = plan.core_sheets
        lines = [f"{sheet_words(s, system)}." for s in sheets]
        lines += [core_words(z.zone.name, z.core_pieces, system) for z in plan.zones if z.core_pieces is not None]
        self.words.setText("\n".join(lines) or "No core is renewed: choose one in Rebuild.")
        self.canvas.heading = "Core on sheets"
        count = sum(len(s.made.laid) for s in sheets)
        sized(self.canvas, least_height=HEADING + min(count, MOST_SHEETS) * SHEET)
        self.canvas.show_drawing(sheet_view(sheets, system) if sheets else None)
        self.canvas.refresh()
