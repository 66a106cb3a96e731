"""The seams, frames and core joints of a zone: a list, and a line to add one by its two ends."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ribpatch.core import edits
from ribpatch.core.errors import Fault
from ribpatch.core.job import Seam
from ribpatch.core.quantity import parse
from ribpatch.core.record import built
from ribpatch.core.units import Kind, place_words, shown
from ribpatch.ui.typed import wait_for
from ribpatch.ui.widgets.rows import Rows

if TYPE_CHECKING:
    from ribpatch.core.geometry import Point
    from ribpatch.core.job import Zone
    from ribpatch.ui.session import Session

ENDS = ("Click one end of the line; Esc leaves it.", "Click its other end.")
LINES = ("seam, frame, core joint…", "from x", "y", "to x", "y")


class SeamPanel(QWidget):
    """What a zone states of lines along which damage runs. ``trace_wanted`` carries words and who takes two places."""

    trace_wanted = Signal(object, object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.rows = Rows(("name", "from", "to"))
        self.lines = [QLineEdit() for _ in LINES]
        self.add = QPushButton("Add")
        self.add.setToolTip("Add this line to the zone: damage is likelier along it, and is named after it")
        self.add.setAccessibleName("add the seam")
        self.add.clicked.connect(lambda: self._add())
        self.note = QLabel("")
        self.note.setWordWrap(True)
        self.note.setObjectName("warn")
        self.note.hide()
        grid = QGridLayout()
        for number, (edit, hint) in enumerate(zip(self.lines, LINES, strict=True)):
            edit.setPlaceholderText(hint)
            edit.setAccessibleName(f"seam {'to ' if number == len(LINES) - 1 else ''}{hint}")
            wait_for(edit, "Add")
            grid.addWidget(edit, min(number, 1), max(number - 1, 0), 1, 1 if number else 4)
        self.trace = QPushButton("Trace")
        self.trace.setObjectName("plain")
        self.trace.setAccessibleName("trace the seam")
        self.trace.setToolTip("Fill in its two ends by two clicks on the plan")
        self.trace.clicked.connect(lambda: self.trace_wanted.emit(ENDS, self._traced))
        grid.addWidget(self.trace, 2, 0, 1, 2)
        grid.addWidget(self.add, 2, 2, 1, 2)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.rows)
        column.addLayout(grid)
        column.addWidget(self.note)

    def show_zone(self, zone: Zone) -> None:
        """Show the seams of a zone."""
        system = self._session.system
        self.rows.show_rows(
            [(s.name, *(place_words(end, system) for end in s.ends)) for s in zone.seams],
            lambda i: self._session.apply(edits.remove_seam(zone.id, zone.seams[i].id)),
        )

    def _traced(self, a: Point, b: Point) -> None:
        """Fill in the ends of a line from two places of the plan."""
        for edit, value in zip(self.lines[1:], (*a, *b), strict=True):
            edit.setText(shown(value, Kind.SIZE, self._session.system))
            edit.setModified(True)
        self.lines[0].setFocus()

    def _add(self) -> None:
        zone = self._session.zone
        if zone is None:
            return
        name, *places = (edit.text().strip() for edit in self.lines)
        try:
            x, y, to_x, to_y = (parse(text, Kind.SIZE, self._session.system).measure.si for text in places)
            identity = edits.next_id("l", (s.id for s in zone.seams))
            seam = built(Seam, id=identity, name=name or "seam", x=x, y=y, to_x=to_x, to_y=to_y)
            self._session.try_apply(edits.add_seam(zone.id, seam))
        except Fault as fault:
            self.note.setText(f"⚠ {fault.sentence}")
            self.note.show()
            return
        self.note.hide()
        for edit in self.lines:
            edit.clear()
