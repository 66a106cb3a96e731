"""New job: a name, what she is, and what is wrong first. All else is proposed from it and may be typed over, as
spoken, each line saying what it understood.
"""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.begin import begun_job
from ribpatch.core.errors import Fault, ManyFaults
from ribpatch.core.fields import FIELDS, get_at
from ribpatch.core.quantity import parse
from ribpatch.core.units import Kind, System, shown
from ribpatch.library.beginnings import crafts
from ribpatch.ui.scaling import sized
from ribpatch.ui.widgets.card import Card
from ribpatch.ui.widgets.entry import read_value
from ribpatch.ui.widgets.pick_list import PickList
from ribpatch.ui.zone_pick import ZonePick

if TYPE_CHECKING:
    from PySide6.QtGui import QKeyEvent

    from ribpatch.core.edits import Edit
    from ribpatch.core.job import Job, Zone
    from ribpatch.core.materials.shelf import Shelf

LINES = {
    "boat.name": "her name",
    "boat.length": "",
    "boat.beam": "",
    "boat.depth": "",
    "boat.waterline": "",
    "boat.displacement": "",
    "boat.year": "not known",
    "boat.use": "what she does",
    "air.temperature": "",
    "air.humidity": "",
}
OPTIONAL = ("boat.year", "boat.use")


class NewJobPage(QWidget):
    """A form; ``made`` carries the new Job."""

    made = Signal(object)
    cancelled = Signal()

    def __init__(self, shelf: Shelf, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.system: System = "metric"
        self.edits: dict[str, QLineEdit] = {}
        self.notes: dict[str, QLabel] = {}
        self._crafts = {c.id: c for c in crafts()}
        title = QLabel("New job")
        title.setObjectName("title")
        self.craft = PickList("what she is", ((c.id, c.name.capitalize(), c.said) for c in crafts()))
        sized(self.craft, least_width=170)
        sized(self.craft, most_width=264)
        self.pick = ZonePick(shelf)
        self.begin = QPushButton("Begin")
        self.begin.setToolTip("Make the job with its first zone; whatever is not typed counts as assumed (Ctrl+Enter)")
        cancel = QPushButton("Back")
        cancel.setObjectName("plain")
        self.note = QLabel("")
        self.note.setObjectName("grave")
        self.note.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 8, 18, 10)
        column.addWidget(title)
        middle = QHBoxLayout()
        middle.setSpacing(10)
        column.addLayout(middle, 1)
        middle.addLayout(self._left(), 2)
        wrong = Card("What is wrong first?")
        wrong.add(self.pick)
        middle.addWidget(wrong, 3)
        row = QHBoxLayout()
        row.addWidget(self.begin)
        row.addWidget(cancel)
        row.addWidget(self.note, 1)
        column.addLayout(row)
        self.begin.clicked.connect(lambda: self._begin())
        cancel.clicked.connect(lambda: self.cancelled.emit())
        self.craft.picked.connect(lambda _id: self._propose())
        self.pick.taken.connect(lambda: self._begin())
        order = [
            self.edits["boat.name"],
            self.craft,
            *list(self.edits.values())[1:],
            self.pick.list,
            self.begin,
            cancel,
        ]
        for before, after in pairwise(order):
            QWidget.setTabOrder(before, after)

    def _left(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(10)
        kind = Card("What she is")
        name = QGridLayout()
        self._line(name, 0, "boat.name", label=False)
        kind.add(name)
        kind.add(self.craft)
        row.addWidget(kind)
        sizes = Card("Her size and the shed")
        sized(sizes, width=280)
        grid = QGridLayout()
        grid.setVerticalSpacing(2)
        for n, key in enumerate(list(LINES)[1:]):
            self._line(grid, n, key)
        sizes.add(grid)
        words = sizes.add_text(
            "What is left empty is taken as usual for such a craft and marked assumed. Type it when it is measured: "
            "here, or later in Boat."
        )
        words.setAlignment(Qt.AlignmentFlag.AlignTop)
        sizes.push_up()
        row.addWidget(sizes)
        return row

    def _line(self, grid: QGridLayout, row: int, key: str, label: bool = True) -> None:
        spec = FIELDS[key]
        edit, note = QLineEdit(), QLabel()
        edit.setPlaceholderText(LINES[key])
        edit.setAccessibleName(spec.name)
        edit.setToolTip(spec.help or spec.name)
        note.setObjectName("soft")
        note.setWordWrap(True)
        note.hide()
        if label:
            grid.addWidget(QLabel(spec.name), 2 * row, 0)
        grid.addWidget(edit, 2 * row, 1)
        grid.addWidget(note, 2 * row + 1, 0, 1, 2)
        edit.editingFinished.connect(lambda k=key: self._understand(k))
        self.edits[key], self.notes[key] = edit, note

    def begin_anew(self, system: System) -> None:
        """Show the form; what was typed and not used yet is still there."""
        self.system = system
        self.note.clear()
        self._propose()
        self.edits["boat.name"].setFocus()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                self._begin()
            else:
                self.focusNextChild()
            return
        if event.key() == Qt.Key.Key_Escape:
            self.cancelled.emit()
            return
        super().keyPressEvent(event)

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self.pick.set_theme(theme)

    # ---- what is typed, and what is proposed ----

    def _propose(self) -> None:
        """Show what is assumed in every line that is empty, and the boat with the part."""
        craft = self._crafts[self.craft.chosen]
        try:
            job = begun_job(craft, self._stated(), self.system)
        except Fault:  # a line is mistyped, as is said beside it
            self.pick.show_job(None, self.system)
            return
        for key, edit in self.edits.items():
            kind = FIELDS[key].kind
            if kind in (None, Kind.COUNT) or key in OPTIONAL:
                continue
            assert kind is not None
            value = get_at(job, tuple(key.split(".")))
            edit.setPlaceholderText(f"assumed {shown(value.si, kind, self.system)}")
        self.edits["boat.name"].setToolTip(f"Her name; left empty she is called {job.boat.name}")
        self.pick.show_job(job, self.system)

    def _say(self, key: str, text: str, wrong: bool = False) -> None:
        note = self.notes[key]
        note.setObjectName("grave" if wrong else "soft")
        note.style().polish(note)
        note.setText(text)
        note.setVisible(bool(text))

    def _understand(self, key: str) -> None:
        kind, text = FIELDS[key].kind, self.edits[key].text().strip()
        self._propose()
        if kind in (None, Kind.COUNT) or not text:
            self._say(key, "")
            return
        assert kind is not None
        try:
            self._say(key, f"understood as {shown(parse(text, kind, self.system).measure.si, kind, self.system)}")
        except Fault as fault:
            self._say(key, fault.sentence, wrong=True)

    def _stated(self) -> dict[str, dict[str, Any]]:
        """What is typed, by group and field; raises ManyFaults with every line that cannot be read."""
        values: dict[str, dict[str, Any]] = {"boat": {}, "air": {}}
        faults: list[Fault] = []
        for key, edit in self.edits.items():
            spec, text = FIELDS[key], edit.text().strip()
            group, name = key.split(".")
            if not text:
                continue
            try:
                values[group][name] = read_value(text, spec.kind, False, self.system, None)
            except Fault as fault:
                fault.where = key
                faults.append(fault)
        if faults:
            raise ManyFaults(tuple(faults))
        return values

    def _begin(self) -> None:
        if not self.isVisible():
            return  # the job is made already
        for key in self.edits:
            self._say(key, "")
        try:
            job = begun_job(self._crafts[self.craft.chosen], self._stated(), self.system)
            job = self._with_zone(job)
        except ManyFaults as many:
            self._tell(many.faults)
            return
        except Fault as fault:
            self._tell((fault,))
            return
        for key, edit in self.edits.items():
            edit.clear()
            self._say(key, "")
        self.made.emit(job)

    def _with_zone(self, job: Job) -> Job:
        from ribpatch.core.edits import add_zone

        zone: Zone = self.pick.zone(job)
        edit: Edit = add_zone(zone)
        return edit.change(job)

    def _tell(self, faults: tuple[Fault, ...]) -> None:
        """Say each fault beside its line, or below where it belongs to no single line."""
        rest: list[str] = []
        for fault in faults:
            said = fault.sentence.removeprefix(f"{fault.where}: ")
            if fault.where in self.notes:
                self._say(fault.where, said, wrong=True)
            else:
                rest.append(said)
        lines = len(faults) - len(rest)
        above = f"{lines} line{'s' if lines > 1 else ''} above must be mended first." if lines else ""
        self.note.setText(" ".join([*rest, above]).strip())
