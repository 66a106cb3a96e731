"""New job: the boat and her shed, typed as spoken, each line saying what it understood."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.errors import Fault, ManyFaults
from ribpatch.core.fields import FIELDS
from ribpatch.core.job import Boat, Job, ShedAir
from ribpatch.core.quantity import parse
from ribpatch.core.record import faults_of
from ribpatch.core.units import Kind, System, shown
from ribpatch.ui.widgets.card import Card
from ribpatch.ui.widgets.entry import read_value

HINTS = {
    "boat.name": "her name",
    "boat.length": "9.6 m or 31'6\"",
    "boat.waterline": "8.7 m",
    "boat.beam": "2.9 m",
    "boat.depth": "1.3 m",
    "boat.displacement": "3400 kg or 7500 lb",
    "boat.year": "may stay empty",
    "boat.use": "what she does",
    "air.temperature": "16 c or 61 f",
    "air.humidity": "65 %",
    "air.surface": "may stay empty",
}
REQUIRED = tuple(key for key in HINTS if key not in ("boat.year", "boat.use", "air.surface"))


class NewJobPage(QWidget):
    """A form; ``made`` carries the new Job."""

    made = Signal(object)
    cancelled = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.system: System = "metric"
        self.edits: dict[str, QLineEdit] = {}
        self.notes: dict[str, QLabel] = {}
        outer = QHBoxLayout(self)
        outer.addStretch(1)
        column = QVBoxLayout()
        outer.addLayout(column, 3)
        outer.addStretch(1)
        title = QLabel("New job")
        title.setObjectName("title")
        column.addStretch(1)
        column.addWidget(title)
        for heading, prefix in (("Boat", "boat."), ("Shed air", "air.")):
            card = Card(heading)
            grid = QGridLayout()
            for row, key in enumerate(k for k in HINTS if k.startswith(prefix)):
                self._line(grid, row, key)
            card.add(grid)
            column.addWidget(card)
        row_layout = QHBoxLayout()
        self.begin = QPushButton("Begin")
        self.begin.setToolTip("Make the job and add its first zone")
        self.begin.clicked.connect(lambda: self._begin())
        cancel = QPushButton("Back")
        cancel.setObjectName("plain")
        cancel.clicked.connect(lambda: self.cancelled.emit())
        row_layout.addWidget(self.begin)
        row_layout.addWidget(cancel)
        row_layout.addStretch(1)
        column.addLayout(row_layout)
        self.note = QLabel("")
        self.note.setObjectName("grave")
        self.note.setWordWrap(True)
        column.addWidget(self.note)
        column.addStretch(2)
        for before, after in pairwise([*self.edits.values(), self.begin]):
            QWidget.setTabOrder(before, after)

    def _line(self, grid: QGridLayout, row: int, key: str) -> None:
        spec = FIELDS[key]
        edit, note = QLineEdit(), QLabel()
        edit.setPlaceholderText(HINTS[key])
        edit.setAccessibleName(spec.name)
        edit.setToolTip(spec.help or spec.name)
        note.setObjectName("soft")
        note.setMinimumWidth(330)
        note.setWordWrap(True)
        grid.addWidget(QLabel(spec.name), row, 0)
        grid.addWidget(edit, row, 1)
        grid.addWidget(note, row, 2)
        edit.editingFinished.connect(lambda k=key: self._understand(k))
        edit.returnPressed.connect(lambda: self._begin() if self._complete() else None)
        self.edits[key], self.notes[key] = edit, note

    def begin_anew(self, system: System) -> None:
        """Show the form; what was typed and not used yet is still there."""
        self.system = system
        self.note.clear()
        self.edits["boat.name"].setFocus()

    def _clear(self) -> None:
        for key, edit in self.edits.items():
            edit.clear()
            self.notes[key].clear()

    def _complete(self) -> bool:
        return all(self.edits[key].text().strip() for key in REQUIRED)

    def _say(self, key: str, text: str, wrong: bool = False) -> None:
        note = self.notes[key]
        note.setObjectName("grave" if wrong else "soft")
        note.style().polish(note)
        note.setText(text)

    def _understand(self, key: str) -> None:
        kind, text = FIELDS[key].kind, self.edits[key].text().strip()
        if kind in (None, Kind.COUNT) or not text:
            self._say(key, "")
            return
        assert kind is not None
        try:
            self._say(key, f"understood as {shown(parse(text, kind, self.system).measure.si, kind, self.system)}")
        except Fault as fault:
            self._say(key, fault.sentence, wrong=True)

    def _value(self, key: str) -> Any:
        spec = FIELDS[key]
        optional = key not in REQUIRED
        text = self.edits[key].text()
        if not text.strip() and not optional:
            raise Fault(spec.name, reason="is not given yet.")
        if key == "boat.use":
            return text.strip()
        return read_value(text, spec.kind, optional, self.system, None)

    def _begin(self) -> None:
        values: dict[str, dict[str, Any]] = {"boat": {}, "air": {}}
        wrong = 0
        for key in HINTS:
            group, name = key.split(".")
            try:
                values[group][name] = self._value(key)
            except Fault as fault:
                self._say(key, fault.sentence, wrong=True)
                wrong += 1
        if wrong:
            self.note.setText(f"{wrong} line{'s' if wrong > 1 else ''} above must be mended first.")
            return
        try:
            job = Job(boat=_made(Boat, "boat", values["boat"]), air=_made(ShedAir, "air", values["air"]))
        except ManyFaults as many:
            self._tell(many.faults)
            return
        self._clear()
        self.made.emit(job)

    def _tell(self, faults: tuple[Fault, ...]) -> None:
        """Say each fault beside its line, or below where it belongs to no single line."""
        rest: list[str] = []
        for fault in faults:
            said = fault.sentence.removeprefix(f"{fault.where}: ")
            if fault.where in self.notes:
                self._say(fault.where, said, wrong=True)
            else:
                rest.append(said)
        self.note.setText(" ".join(rest) or "Mend the lines above first.")


def _made(model: type[Any], group: str, values: dict[str, Any]) -> Any:
    from pydantic import ValidationError

    try:
        return model(**values)
    except ValidationError as error:
        raise ManyFaults(faults_of(error, group)) from None
