"""What is wet now and what comes next, and an entry made in one press."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import (
    QApplication,
    QGridLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ribpatch.core.cure_now import curing_now
from ribpatch.core.dates import date_example, date_words, iso_date
from ribpatch.core.errors import Fault
from ribpatch.core.log_checks import raised
from ribpatch.core.log_edits import correct, log_entry
from ribpatch.core.log_tables import clock_table, soon, step_name
from ribpatch.core.log_typed import KIND_NAMES, LINES, NEEDS_STEP, PICKED, stated_of, texts_of
from ribpatch.core.logged import NAIL_WORDS
from ribpatch.core.resin.vessel import VESSELS
from ribpatch.ui.bench.days_plan import now
from ribpatch.ui.scaling import sized
from ribpatch.ui.typed import refuse
from ribpatch.ui.widgets.button_rows import ButtonRows
from ribpatch.ui.widgets.combo import Combo, show_items
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.days import Days
    from ribpatch.core.logged import LogEntry
    from ribpatch.ui.session import Session

LOOK_MS = 20_000  # between looks at the clock
MOST_LINES = 4


class NowPanel(QWidget):
    """The cure clock over the form of an entry."""

    reminded = Signal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._days: Days | None = None
        self._kind = "begun"
        self._corrected: LogEntry | None = None
        self._told: set[tuple[str, str, str]] = set()
        self.now: Callable[[], str] = now
        self.clock = TableView("what cures now")
        self.raised = QLabel("")
        self.raised.setObjectName("warn")
        self.raised.setWordWrap(True)
        names = {name: kind for kind, name in KIND_NAMES.items()}
        self._rows = ButtonRows()
        self._rows.set_names(tuple(names), lambda name: self.choose(names[name]))
        self.kinds = {kind: self._rows.buttons[name] for kind, name in KIND_NAMES.items()}
        for button in self.kinds.values():
            sized(button, least_height=34)
            button.setToolTip("Take this form")
        self.step, self.resin, self.vessel, self.nail, self.material = (Combo() for _ in range(5))
        for box, name in (
            (self.step, "step"),
            (self.resin, "resin"),
            (self.vessel, "worked from"),
            (self.nail, "what the nail says"),
            (self.material, "material"),
        ):
            box.setAccessibleName(name)
        for state, words in NAIL_WORDS.items():
            self.nail.addItem(words, state)
        for vessel, words in VESSELS.items():
            self.vessel.addItem(words, vessel)
        self.lines = [QLineEdit() for _ in range(MOST_LINES)]
        self.labels = [QLabel("") for _ in range(MOST_LINES)]
        self.at, self.who, self.note = QLineEdit(), QLineEdit(), QLineEdit()
        for edit, name, hint in (
            (self.at, "when", "now"),
            (self.who, "who", "yard hand"),
            (self.note, "note", ""),
        ):
            edit.setAccessibleName(name)
            edit.setPlaceholderText(hint)
        self.note.setToolTip("What was otherwise, and why")
        self.at.setToolTip(f"Empty: now; or {date_example()} 14:30")
        self.log = QPushButton("Log it")
        sized(self.log, least_height=36)
        self.log.setToolTip("Add the entry (Enter in any of its lines)")
        self.log.clicked.connect(lambda: self._log())
        for edit in (*self.lines, self.at, self.who, self.note):
            edit.returnPressed.connect(lambda: self._log())
        grid = QGridLayout()
        self._boxes = dict(zip(PICKED, (self.resin, self.vessel, self.nail, self.material), strict=True))
        self._box_labels = {name: self._label(name) for name in self._boxes}
        grid.addWidget(self._label("step"), 0, 0)
        grid.addWidget(self.step, 1, 0)
        for column, (name, box) in enumerate(self._boxes.items(), 1):
            grid.addWidget(self._box_labels[name], 0, column)
            grid.addWidget(box, 1, column)
        below = QGridLayout()
        for column, (line_label, edit) in enumerate(zip(self.labels, self.lines, strict=True)):
            line_label.setObjectName("soft")
            below.addWidget(line_label, 0, column)
            below.addWidget(edit, 1, column)
        last = QGridLayout()
        for column, (words, edit) in enumerate((("when", self.at), ("who", self.who), ("note", self.note))):
            last.addWidget(self._label(words), 0, column)
            last.addWidget(edit, 1, column)
            last.setColumnStretch(column, (2, 2, 5)[column])
        last.addWidget(self.log, 1, 3)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.clock, 1)
        layout.addWidget(self._rows)
        layout.addLayout(grid)
        layout.addLayout(below)
        layout.addLayout(last)
        layout.addWidget(self.raised)
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK_MS)
        self._timer.timeout.connect(lambda: self.look())
        self.choose("begun")

    def _label(self, words: str) -> QLabel:
        made = QLabel(words)
        made.setObjectName("soft")
        return made

    def set_theme(self, theme: str) -> None:
        self.clock.set_theme(theme)

    # ---- showing ----

    def show_days(self, days: Days, next_step: str) -> None:
        """Show the clock, and offer the steps, the next one chosen where none was."""
        self._days = days
        chosen = str(self.step.currentData() or "")
        items = [("", "none"), *((r.id, step_name(r.id, days)) for r in days.rows)]
        if show_items(self.step, items):
            self.step.setCurrentIndex(max(self.step.findData(chosen or next_step), 0))
        resins = tuple((r.id, r.name) for r in days.shelf.resins)
        laid = next((r.lays for r in days.rows if r.lays and r.lays != "coat"), "")
        if show_items(self.resin, resins):
            self.resin.setCurrentIndex(max(self.resin.findData(laid), 0))
        show_items(self.material, tuple((i.id, i.name) for i in self._session.plan.items))
        self._timer.start()
        self.look()

    def look(self) -> None:
        """Look at the clock, and remind of what is near."""
        if self._days is None or not self._session.is_open:
            return
        here = self.now()
        things = curing_now(self._session.job, self._days, here)
        self.clock.show_table(clock_table(things, self._days, here), self._session.system)
        for key, words in soon(things, self._days, here):
            if key not in self._told:
                self._told.add(key)
                self._session.told.emit(words)
                self.reminded.emit(words)
                QApplication.alert(self.window())

    # ---- entering ----

    def choose(self, kind: str) -> None:
        """Take the form of a kind of entry."""
        self._kind = kind
        self.kinds[kind].setChecked(True)
        for name, (kinds, _) in PICKED.items():
            self._boxes[name].setVisible(kind in kinds)
            self._box_labels[name].setVisible(kind in kinds)
        for n, (label, edit) in enumerate(zip(self.labels, self.lines, strict=True)):
            line = LINES[kind][n] if n < len(LINES[kind]) else None
            label.setVisible(line is not None)
            edit.setVisible(line is not None)
            if line is not None:
                label.setText(line.words)
                edit.setAccessibleName(line.words)
                edit.setPlaceholderText(line.hint)
                edit.clear()
        self._corrected = None
        self.log.setText("Log it")

    def correct(self, entry: LogEntry) -> None:
        """Take an entry into the form, to enter what stands for it."""
        kind = str(entry.kind)  # type: ignore[attr-defined]  # every kind of entry carries it
        self.choose(kind)
        self._corrected = entry
        self.log.setText(f"Log what stands for {entry.id}")
        self.step.setCurrentIndex(max(self.step.findData(entry.step), 0))
        self.at.setText(date_words(entry.at))
        self.who.setText(entry.who)
        self.note.setText(entry.note)
        for name, (_, key) in PICKED.items():
            self._boxes[name].setCurrentIndex(max(self._boxes[name].findData(getattr(entry, key, "")), 0))
        for text, edit in zip(texts_of(entry, self._session.system).values(), self.lines, strict=False):
            edit.setText(text)

    def _log(self) -> None:
        try:
            self._enter()
        except Fault as fault:
            refuse(self.lines[0], fault.sentence)
            self.raised.setText(f"⚠ {fault.sentence} Nothing was logged.")

    def _enter(self) -> None:
        session, kind = self._session, self._kind
        texts = {line.key: edit.text() for line, edit in zip(LINES[kind], self.lines, strict=False)}
        stated = stated_of(kind, texts, session.system)
        step = str(self.step.currentData() or "")
        if kind in NEEDS_STEP and not step:
            from ribpatch.core.errors import InvalidValue

            raise InvalidValue("step", reason="choose the step that it belongs to")
        stated |= {"step": step, "who": self.who.text().strip(), "note": self.note.text().strip()}
        stated["at"] = (iso_date(self.at.text()) or self.now()).replace(" ", "T", 1)
        for name, (kinds, key) in PICKED.items():
            if kind in kinds:
                stated[key] = str(self._boxes[name].currentData() or "")
        if kind == "said":
            stated["deviation"] = bool(stated["note"])
        edit = (
            correct(session.job, self._corrected, **stated)
            if self._corrected
            else log_entry(session.job, kind, **stated)
        )
        session.try_apply(edit)
        self._after()

    def _after(self) -> None:
        """What the entry raises, and an empty form."""
        entry, days = self._session.job.log.entries[-1], self._days
        words = raised(entry, self._session.job, days, self._session.system) if days is not None else ()
        self.raised.setText("\n".join(f"⚠ {w}" for w in words) or f"{entry.id} is logged.")
        kind = self._kind
        self.note.clear()
        self.at.clear()
        self.choose(kind)
