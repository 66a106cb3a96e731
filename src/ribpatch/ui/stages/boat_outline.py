"""The outline of a zone: drawn, traced on a photograph, read from a file, or typed in one of several ways."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import (
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ribpatch.core import edits
from ribpatch.core.errors import Fault
from ribpatch.core.geometry import check_ring
from ribpatch.core.numerals import fixed, without_zeros
from ribpatch.core.quantity import parse
from ribpatch.core.taping import adjusted, mirrored, offsets_from_text, spans_from_text, taped_words
from ribpatch.core.text import lines_of
from ribpatch.core.units import FRACTIONS, Kind, shown, to_shown
from ribpatch.ui.scaling import sized
from ribpatch.ui.typed import wait_for
from ribpatch.ui.widgets.combo import Combo
from ribpatch.ui.widgets.soft import soft_label

if TYPE_CHECKING:
    from ribpatch.core.geometry import Point, Ring
    from ribpatch.core.job import Zone
    from ribpatch.ui.session import Session

# How an outline is typed: its name, and what a line looks like.
WAYS = {
    "corners": ("corners, x y", "one corner a line: x y"),
    "tapes": ("two tapes from two pins", "1400\nA 612 845\nB 980 720\nA B 510"),
    "offsets": ("offsets from a baseline", "0 310\n250 -40 355\n500 290"),
}
# What can be asked of the window: action, button, tip.
ASKED = (
    ("draw_shape", "Draw it", "Side by side on the plan: clicks, or typed lengths, turns and rises (Ctrl+Shift+L)"),
    ("straighten", "On a photograph…", "Set a photograph straight, lay it under the plan, trace on it (Ctrl+Shift+G)"),
    ("outline_file", "From a file…", "SVG or DXF; or a picture of a set-off sheet (Ctrl+Shift+E)"),
    ("set_off_sheet", "Set-off sheet…", "A sheet to draw the shape on at the boat, which reads back from a picture"),
)


class OutlinePanel(QWidget):
    """``asked`` are buttons for what the window does, with the action of each."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self._soft(
            column, "Drag the corners on the plan; double-click a side to add one, Delete removes the one touched."
        )
        self._asked(column)
        self._sized(column)
        self._typed(column)
        self.outline_note = self._soft(column, "")

    def _soft(self, column: QVBoxLayout, text: str) -> QLabel:
        label = soft_label(text)
        column.addWidget(label)
        return label

    def _asked(self, column: QVBoxLayout) -> None:
        grid = QGridLayout()
        self.asked: list[tuple[QPushButton, str]] = []
        for number, (action, text, tip) in enumerate(ASKED):
            button = QPushButton(text)
            button.setToolTip(tip)
            grid.addWidget(button, number // 2, number % 2)
            self.asked.append((button, action))
        column.addLayout(grid)

    def _sized(self, column: QVBoxLayout) -> None:
        row = QHBoxLayout()
        self.width_edit, self.height_edit = QLineEdit(), QLineEdit()
        self.width_edit.setAccessibleName("length of a rectangle")
        self.height_edit.setAccessibleName("width of a rectangle")
        self.width_edit.setPlaceholderText("length")
        self.height_edit.setPlaceholderText("width")
        self.rectangle = QPushButton("Make a rectangle")
        self.rectangle.setToolTip("Replace the outline by a rectangle of this length and width")
        for edit in (self.width_edit, self.height_edit):
            wait_for(edit, self.rectangle.text())
        self.rectangle.clicked.connect(lambda: self._rectangle())
        for widget in (self.width_edit, self.height_edit, self.rectangle):
            row.addWidget(widget)
        column.addLayout(row)

    def _typed(self, column: QVBoxLayout) -> None:
        self.outline_how = Combo()
        self.outline_how.setAccessibleName("how the outline is typed")
        for name, _ in WAYS.values():
            self.outline_how.addItem(name)
        self.outline_how.currentIndexChanged.connect(lambda _index: self._outline_way())
        self.half = QCheckBox("half, mirrored")
        self.half.setToolTip("Only the lower half was measured; its highest corners stand on the middle line")
        ways = QHBoxLayout()
        ways.addWidget(self.outline_how, 1)
        ways.addWidget(self.half)
        column.addLayout(ways)
        self.corners = QPlainTextEdit()
        self.corners.setPlaceholderText(WAYS["corners"][1])
        self.corners.setAccessibleName("corners of the outline")
        sized(self.corners, height=96)
        self.corners.setTabChangesFocus(True)
        column.addWidget(self.corners)
        self.use_corners = QPushButton("Use these corners")
        self.use_corners.setToolTip("Take the outline from the typed or pasted corners")
        wait_for(self.corners, self.use_corners.text())
        self.use_corners.clicked.connect(lambda: self._use_corners())
        column.addWidget(self.use_corners)

    def show_zone(self, zone: Zone) -> None:
        """Show the corners of a zone where they are what is typed."""
        if not self.corners.hasFocus() and self._way() == "corners":
            self.corners.setPlainText(self.corners_text(zone.outline))

    def _rectangle(self) -> None:
        zone = self._session.zone
        if zone is None:
            return
        try:
            width, height = (
                parse(e.text(), Kind.SIZE, self._session.system).measure.si for e in (self.width_edit, self.height_edit)
            )
            self._session.try_apply(
                edits.set_outline(zone.id, ((0.0, 0.0), (width, 0.0), (width, height), (0.0, height)))
            )
            self.outline_note.setText("")
            for edit in (self.width_edit, self.height_edit):
                edit.setModified(False)
        except Fault as fault:
            self.outline_note.setText(f"⚠ {fault.sentence} The old outline is kept.")

    def _use_corners(self) -> None:
        zone = self._session.zone
        if zone is None:
            return
        try:
            ring, words = self._typed_ring(self.corners.toPlainText())
            self._session.try_apply(edits.set_outline(zone.id, mirrored(ring) if self.half.isChecked() else ring))
            self.corners.document().setModified(False)
            self.outline_note.setText(words)
        except Fault as fault:
            self.outline_note.setText(f"⚠ {fault.sentence} The old outline is kept.")

    def _way(self) -> str:
        return tuple(WAYS)[max(self.outline_how.currentIndex(), 0)]

    def _outline_way(self) -> None:
        """Another way to type the outline: its example, and the corners only where they are what is typed."""
        self.corners.setPlaceholderText(WAYS[self._way()][1])
        self.corners.clear()
        self.corners.document().setModified(False)
        self.outline_note.setText("")
        zone = self._session.zone
        if zone is not None and self._way() == "corners":
            self.corners.setPlainText(self.corners_text(zone.outline))

    def _typed_ring(self, text: str) -> tuple[Ring, str]:
        """The outline as typed, and what is said of it."""
        system = self._session.system
        if self._way() == "tapes":
            taped = adjusted(*spans_from_text(text, system))
            check_ring(taped.ring)
            return taped.ring, taped_words(taped, system)
        if self._way() == "offsets":
            return offsets_from_text(text, system), ""
        return self._as_they_were(edits.outline_from_text(text, system), text), ""

    def corners_text(self, ring: Ring) -> str:
        """The corners as the text box shows them."""
        return "\n".join(self._corner_text(point) for point in ring)

    def _corner_text(self, point: Point) -> str:
        system = self._session.system
        if system in FRACTIONS:  # as they are spoken; a size may hold a space
            return ", ".join(shown(v, Kind.SIZE, system) for v in point)
        places = 1 if system == "metric" else 3
        return " ".join(without_zeros(fixed(to_shown(v, Kind.SIZE, system), places, grouped=False)) for v in point)

    def _as_they_were(self, ring: Ring, text: str) -> Ring:
        """The ring with the corners whose lines were left alone as they were: what is shown of them is rounded."""
        zone = self._session.zone
        known = {self._corner_text(p): p for p in zone.outline} if zone is not None else {}
        lines = [line.strip() for line in lines_of(text)]
        return tuple(known.get(line, point) for line, point in zip(lines, ring, strict=False))
