"""What to see to before cutting: each item stays a warning until it is ticked with a note."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.errors import Fault
from ribpatch.core.patch.access.before import ChecklistItem, loads_of
from ribpatch.core.scheme_edits import tick
from ribpatch.ui.typed import enter_by_return, refuse
from ribpatch.ui.widgets.emptying import clear_layout

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.ui.session import Session


class BeforePanel(QWidget):
    """The items of the zone worked on, and the order of zones."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._shown: tuple[object, ...] = ()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(5)
        self.lines: dict[str, QLineEdit] = {}
        self.buttons: dict[str, QPushButton] = {}

    def show_plan(self, plan: Plan) -> None:
        """Show the zone worked on."""
        zone = self._session.zone
        rows = plan.zone(zone.id).checklist if zone else ()
        turns = plan.order
        words = (
            "Order of work: " + ", then ".join(t.zone.name for t in turns) + ". Finish and cosmetic work last of all."
            if len(turns) > 1
            else ""
        )
        key = (
            zone.id if zone else "",
            zone.fittings if zone else (),
            self._session.system,
            words,
            *((r.item.id, r.note) for r in rows),
        )
        if key == self._shown:
            return
        self._shown = key
        clear_layout(self._column)
        self.lines, self.buttons = {}, {}
        for row in rows:
            self._column.addWidget(self._row(zone.id if zone else "", row))
        if words or not rows:
            label = QLabel(words or "No cut yet.")
            label.setObjectName("soft")
            label.setWordWrap(True)
            label.setToolTip("\n".join(f"{t.number}. {t.zone.name}: {t.reason}" for t in turns))
            self._column.addWidget(label)

    def _row(self, zone: str, row: ChecklistItem) -> QWidget:
        box = QWidget()
        grid = QGridLayout(box)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(2)
        if row.item.group == "carries":
            here, system = self._session.zone, self._session.system
            loads = loads_of(here, system) if here is not None else ""
            words = QLabel(f"{row.item.text} {row.item.why} {loads}".rstrip())
            words.setObjectName("soft")
            words.setWordWrap(True)
            grid.addWidget(words, 0, 0, 1, 2)
            return box
        words = QLabel(f"{'⚠' if row.open else '✓'} {row.item.text}")
        words.setObjectName("warn" if row.open else "")
        words.setWordWrap(True)
        words.setToolTip(row.item.why)
        grid.addWidget(words, 0, 0)
        button = QPushButton("seen to" if row.open else "open again")
        button.setObjectName("plain")
        button.setAccessibleName(f"{button.text()}: {row.item.text}")
        self.buttons[row.item.id] = button
        if row.open:
            line = QLineEdit()
            line.setPlaceholderText("how, or why it does not apply")
            line.setAccessibleName(f"note for: {row.item.text}")
            enter_by_return(line)
            line.returnPressed.connect(lambda i=row.item.id: self._tick(zone, i))
            line.hide()
            self.lines[row.item.id] = line
            grid.addWidget(line, 1, 0, 1, 2)
            grid.addWidget(button, 0, 1)
            button.clicked.connect(lambda checked=False, i=row.item.id: self._pressed(zone, i))
        else:
            note = QLabel(row.note)
            note.setObjectName("soft")
            note.setWordWrap(True)
            grid.addWidget(note, 1, 0)
            button.clicked.connect(lambda checked=False, i=row.item.id: self._session.apply(tick(zone, i, None)))
            grid.addWidget(button, 0, 1)
        grid.setColumnStretch(0, 1)
        return box

    def _pressed(self, zone: str, item: str) -> None:
        """The first press asks for the note, the next one takes it."""
        line = self.lines[item]
        if line.isHidden():
            line.show()
            line.setFocus()
        else:
            self._tick(zone, item)

    def _tick(self, zone: str, item: str) -> None:
        try:
            edit = tick(zone, item, self.lines[item].text())
        except Fault as fault:
            self._session.told.emit(fault.sentence)
            refuse(self.lines[item], fault.sentence)
            return
        self._session.apply(edit)
