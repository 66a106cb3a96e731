"""The reading under the cursor: what it says, when and by whom it was taken, a note, a photograph."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.dates import date_example, date_words, iso_date
from ribpatch.core.errors import Fault
from ribpatch.core.readings import Strike
from ribpatch.core.survey.entry import reading_words
from ribpatch.core.survey_edits import annotate_reading
from ribpatch.core.text import counted

if TYPE_CHECKING:
    from ribpatch.core.readings import Reading
    from ribpatch.ui.session import Session


def _shown(reading: Reading, fact: str) -> str:
    """A fact of a reading as its line shows it."""
    text = str(getattr(reading, fact))
    return date_words(text) if fact == "at" else text


class ReadingPanel(QWidget):
    """``photograph_wanted`` carries the id of the reading that one is to be tied to."""

    photograph_wanted = Signal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._reading: Reading | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.words = QLabel("")
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        grid = QGridLayout()
        self.lines: dict[str, QLineEdit] = {}
        for row, (fact, hint) in enumerate(
            (("note", "note"), ("who", "who, yard hand"), ("at", f"when, {date_example()} 09:30"))
        ):
            line = QLineEdit()
            line.setPlaceholderText(hint)
            line.setAccessibleName(f"{fact} of the reading")
            line.editingFinished.connect(lambda f=fact: self._typed(f))
            self.lines[fact] = line
            grid.addWidget(line, *((0, 0, 1, 2) if row == 0 else (1, row - 1, 1, 1)))
        column.addLayout(grid)
        self.attach = QPushButton("Tie a photograph to it…")
        self.attach.setToolTip("Add a photograph that belongs to this reading")
        self.attach.clicked.connect(lambda: self._reading is not None and self.photograph_wanted.emit(self._reading.id))
        column.addWidget(self.attach)

    def show_reading(self, reading: Reading | None) -> None:
        """Show a reading, or that there is none."""
        if reading is self._reading and reading is not None:
            return
        self._reading = reading
        self.words.setText(self._in_words(reading) if reading is not None else "No reading under the cursor.")
        for fact, line in self.lines.items():
            line.setText(_shown(reading, fact) if reading is not None else "")
            line.setEnabled(reading is not None)
        self.attach.setEnabled(reading is not None)

    def _in_words(self, reading: Reading) -> str:
        words = reading_words(reading, self._session.system)
        if isinstance(reading, Strike):
            from ribpatch.core.survey.heard import heard_words

            told = self._session.plan.zone(self._session.zone_id).heard
            words += f"; told as {heard_words(told.get(reading.id))}"
        if reading.photographs:
            words += f", {counted(len(reading.photographs), 'photograph', 'photographs')}"
        return words

    def _typed(self, fact: str) -> None:
        reading, text = self._reading, self.lines[fact].text().strip()
        text = iso_date(text) if fact == "at" else text
        if reading is None or text == getattr(reading, fact) or not self._session.zone_id:
            return
        try:
            self._session.try_apply(annotate_reading(self._session.zone_id, reading.id, **{fact: text}))
        except Fault as fault:
            self._session.told.emit(fault.sentence)
            self.lines[fact].setText(_shown(reading, fact))
