"""What the likely causes ask of the repair: each remedy with how it stands, to plan or to overrule with a reason."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.errors import Fault
from ribpatch.core.survey_edits import How, settle
from ribpatch.ui.typed import wait_for
from ribpatch.ui.widgets.emptying import clear_layout

if TYPE_CHECKING:
    from ribpatch.core.diagnosis.zone import Asked
    from ribpatch.core.plan import Plan
    from ribpatch.ui.session import Session

STANDING = {"open": "open", "answered": "answered by the scheme", "planned": "planned", "overruled": "overruled"}


class AskedPanel(QWidget):
    """The remedies of one stage."""

    def __init__(self, session: Session, stage: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._stage = session, stage
        self._shown: tuple[object, ...] = ()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(6)
        self.lines: dict[str, QLineEdit] = {}
        self.buttons: dict[tuple[str, How | None], QPushButton] = {}

    def show_plan(self, plan: Plan) -> None:
        """Show the remedies asked of the zone worked on."""
        zone = self._session.zone
        rows = plan.zone(zone.id).asked if zone else ()
        mine = tuple(a for a in rows if a.remedy.stage == self._stage)
        key = (zone.id if zone else "", *((a.remedy.id, a.standing, a.reason) for a in mine))
        if key == self._shown:
            return
        self._shown = key
        clear_layout(self._column)
        self.lines, self.buttons = {}, {}
        for asked in mine:
            self._column.addWidget(self._row(zone.id if zone else "", asked))
        if not mine:
            none = QLabel("Nothing: no cause is likely enough yet, or none asks for anything here. See Cause.")
            none.setObjectName("soft")
            none.setWordWrap(True)
            self._column.addWidget(none)

    def _row(self, zone: str, asked: Asked) -> QWidget:
        box = QWidget()
        grid = QGridLayout(box)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(2)
        sign = "⚠ " if asked.standing == "open" else "✓ " if asked.standing != "overruled" else "– "
        words = QLabel(f"{sign}{asked.remedy.text} ({asked.cause.name}, {asked.chance:.0%})")
        words.setWordWrap(True)
        words.setObjectName("warn" if asked.standing == "open" else "")
        grid.addWidget(words, 0, 0, 1, 3)
        if asked.standing in ("planned", "overruled"):
            said = QLabel(f"{STANDING[asked.standing]}: {asked.reason}")
            said.setObjectName("soft")
            said.setWordWrap(True)
            grid.addWidget(said, 1, 0, 1, 2)
            grid.addWidget(self._button(zone, asked, None, "open again", "Take this answer back"), 1, 2)
            return box
        if asked.standing == "answered":
            said = QLabel(STANDING["answered"])
            said.setObjectName("soft")
            grid.addWidget(said, 1, 0, 1, 3)
            return box
        line = QLineEdit()
        line.setPlaceholderText("how it does it, or why not")
        line.setAccessibleName(f"answer to: {asked.remedy.text}")
        self.lines[asked.remedy.id] = line
        wait_for(line, "plan” or “overrule")
        grid.addWidget(line, 1, 0)
        grid.addWidget(self._button(zone, asked, "planned", "plan", "The scheme does it, in these words"), 1, 1)
        grid.addWidget(self._button(zone, asked, "overruled", "overrule", "It is not needed, for this reason"), 1, 2)
        return box

    def _button(self, zone: str, asked: Asked, how: How | None, text: str, tip: str) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("plain")
        button.setToolTip(tip)
        button.setAccessibleName(f"{text}: {asked.remedy.text}")
        button.clicked.connect(lambda: self._settle(zone, asked.remedy.id, how))
        self.buttons[asked.remedy.id, how] = button
        return button

    def _settle(self, zone: str, remedy: str, how: How | None) -> None:
        line = self.lines.get(remedy)
        try:
            edit = settle(zone, remedy, how, line.text() if line else "")
        except Fault as fault:
            self._session.told.emit(fault.sentence)
            return
        self._session.apply(edit)
