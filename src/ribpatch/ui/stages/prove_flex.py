"""Measured flex: a push, what the dial read, and what that says of the stiffness left."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QPushButton, QWidget

from ribpatch.core import proof_edits
from ribpatch.core.errors import Fault
from ribpatch.core.numerals import in_words
from ribpatch.core.quantity import parse
from ribpatch.core.units import Kind, shown
from ribpatch.ui.typed import refuse, wait_for
from ribpatch.ui.widgets.rows import Rows

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.ui.session import Session


class FlexPanel(QWidget):
    """Readings with what they say, over two fields for the next; it stands where the test load stands."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.rows = Rows(("push and reading", "says"))
        self.force, self.read = QLineEdit(), QLineEdit()
        self.force.setPlaceholderText("push, like 200 N")
        self.read.setPlaceholderText(in_words("dial, like 1.2 mm"))
        self.force.setAccessibleName("push")
        self.read.setAccessibleName("dial reading")
        self.add = QPushButton("Note this flex")
        self.add.setToolTip("A push at the place of the load, and what the dial read there")
        self.add.clicked.connect(lambda: self._add())
        for edit in (self.force, self.read):
            wait_for(edit, self.add.text())
            edit.returnPressed.connect(lambda: self._add())
        self.note = QLabel("")
        self.note.setWordWrap(True)
        self.note.setObjectName("soft")
        layout = QGridLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.rows, 0, 0, 1, 2)
        layout.addWidget(self.force, 1, 0)
        layout.addWidget(self.read, 1, 1)
        layout.addWidget(self.add, 2, 0, 1, 2)
        layout.addWidget(self.note, 3, 0, 1, 2)

    def _add(self) -> None:
        zone = self._session.zone
        if zone is None:
            return
        system = self._session.system
        strength = self._session.plan.zone(zone.id).strength
        if strength.fault or strength.proved is None:
            self.note.setText("⚠ Nothing can be expected of it yet; see the warnings above.")
            return
        try:
            force = parse(self.force.text(), Kind.FORCE, system).measure
            read = parse(self.read.text(), Kind.SIZE, system).measure
            self._session.try_apply(proof_edits.push_noted(strength, force, read))
        except Fault as fault:
            self.note.setText(f"⚠ {fault.sentence}")
            refuse(self.read, fault.sentence)
            return
        self.note.setText("")
        self.force.clear()
        self.read.clear()

    def show_plan(self, plan: Plan) -> None:
        """Show the readings of the zone worked on."""
        zone = self._session.zone
        if zone is None:
            return
        told = plan.zone(zone.id).strength.explained
        system = self._session.system
        rows = []
        for flex in zone.proof.flexes:
            pushed = f"{shown(flex.force.si, Kind.FORCE, system)}, {shown(flex.read.si, Kind.SIZE, system)}"
            rows.append((pushed, told[flex.id].words if flex.id in told else "–"))
        self.rows.show_rows(
            rows, lambda n: self._session.apply(proof_edits.remove_flex(zone.id, zone.proof.flexes[n].id))
        )
