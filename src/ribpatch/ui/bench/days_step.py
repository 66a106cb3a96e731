"""The step looked at: when and why, and what may be changed of it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QGridLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.dates import date_example, date_words, iso_date
from ribpatch.core.day_words import step_words
from ribpatch.core.errors import Fault, InvalidValue
from ribpatch.core.quantity import parse
from ribpatch.core.timetable import root_of
from ribpatch.core.timetable_edits import add_step, as_usual, change_step, remove_step
from ribpatch.core.units import Kind, Measure, shown
from ribpatch.ui.typed import refuse
from ribpatch.ui.widgets.combo import Combo, show_items
from ribpatch.ui.widgets.flow import FlowRow

if TYPE_CHECKING:
    from ribpatch.core.calendar.problem import Schedule
    from ribpatch.core.days import Days
    from ribpatch.ui.session import Session

NO_ONE = "whoever may"
# Row, column and columns of each line.
PLACES = ((0, 0, 1), (0, 1, 1), (0, 2, 1), (0, 3, 1), (1, 0, 3), (1, 3, 2))


class StepPanel(QWidget):
    """Fields of one step. Enter in a field changes it."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._days: Days | None = None
        self.step = ""
        self.words = QLabel("Choose a step: its hours, people, place in time and reason stand here.")
        self.words.setWordWrap(True)
        self.hours, self.people, self.at, self.parts, self.skip, self.name = (QLineEdit() for _ in range(6))
        self.who = Combo()
        self.who.setAccessibleName("who does it")
        self.who.setMinimumContentsLength(12)
        self.who.activated.connect(lambda n: self._who(str(self.who.itemData(n) or "")))
        grid = QGridLayout()
        grid.setContentsMargins(0, 0, 0, 0)
        for n, (edit, words, hint, tip, then) in enumerate(
            (
                (self.hours, "hours of work", "", "All people together", self._hours),
                (self.people, "people", "", "At once", self._people),
                (self.at, "put at", "where it fits", f"As {date_example()} 14:30; empty: where it fits", self._at),
                (self.parts, "in parts", "1", "1: in one", self._parts),
                (self.name, "called", "", "Another name for it", self._name),
                (self.skip, "skip, because", "", "A reason skips it", self._skip),
            )
        ):
            edit.setAccessibleName(words)
            edit.setPlaceholderText(hint)
            edit.setToolTip(tip)
            edit.editingFinished.connect(lambda e=edit, f=then: self._typed(e, f))
            row, column, span = PLACES[n]
            grid.addWidget(self._label(words), 2 * row, column, 1, span)
            grid.addWidget(edit, 2 * row + 1, column, 1, span)
        grid.addWidget(self._label("who"), 0, 4)
        grid.addWidget(self.who, 1, 4)
        for column, stretch in ((0, 2), (1, 1), (2, 4), (3, 1), (4, 3)):
            grid.setColumnStretch(column, stretch)
        grid.setVerticalSpacing(2)
        buttons = FlowRow()
        self.join = self._button("Join to the one before", "Done together with the step that it follows", self._join)
        self.usual = self._button("As usual", "Forget what was changed of it", self._usual)
        self.add = self._button("Add a step after it", "A step of your own, between this one and the next", self._add)
        self.remove = self._button("Take it away", "A step that you added", self._remove)
        for button in (self.join, self.usual, self.add, self.remove):
            buttons.flow.addWidget(button)
        self.fields = QWidget()
        inner = QVBoxLayout(self.fields)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(4)
        inner.addLayout(grid)
        inner.addWidget(buttons)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addWidget(self.words)
        layout.addWidget(self.fields)
        self.fields.setEnabled(False)

    def _label(self, words: str) -> QLabel:
        made = QLabel(words)
        made.setObjectName("soft")
        return made

    def _button(self, text: str, tip: str, then: object) -> QPushButton:
        made = QPushButton(text)
        made.setToolTip(tip)
        made.clicked.connect(lambda: then())  # type: ignore[operator]  # a method of this panel
        return made

    def show_step(self, days: Days, schedule: Schedule | None, step: str) -> None:
        """Show a step; none where it is gone."""
        self._days = days
        row = days.by_id.get(step)
        self.step = step if row is not None else ""
        self.fields.setEnabled(row is not None)
        if row is None:
            self.words.setText("Choose a step: its hours, people, place in time and reason stand here.")
            return
        if schedule is not None and step in schedule.by_id:
            self.words.setText(step_words(days, schedule, step, self._session.system).replace("\n", " · "))
        else:
            self.words.setText(row.name)
        change, whole = days.table.change_of(step), days.table.change_of(self._root)
        system = self._session.system
        texts = (
            (self.hours, shown(row.hours if row.people else row.waits, Kind.HOURS, system)),
            (self.people, str(row.people)),
            (self.at, date_words(change.at) if change else ""),
            (self.parts, str(whole.parts) if whole else "1"),
            (self.name, change.name if change else ""),
            (self.skip, ""),
        )
        for edit, text in texts:
            if not (edit.hasFocus() and edit.isModified()):
                edit.setText(text)
                edit.setModified(False)
        self.people.setEnabled(row.people > 0)
        own = any(s.id == self._root for s in days.table.added)
        self.remove.setVisible(own)
        self.usual.setEnabled(change is not None)
        show_items(self.who, (("", NO_ONE), *((p.id, p.name) for p in days.people)))
        self.who.setCurrentIndex(max(self.who.findData(change.who[0] if change and change.who else ""), 0))

    @property
    def _root(self) -> str:
        """The step that a part belongs to."""
        return root_of(self.step)

    def _typed(self, edit: QLineEdit, then: object) -> None:
        if not self.step or not edit.isModified():
            return
        edit.setModified(False)
        try:
            then(edit.text().strip())  # type: ignore[operator]  # a method of this panel
        except Fault as fault:
            refuse(edit, fault.sentence)
            self._session.told.emit(f"{fault.sentence} The old value is kept.")

    def _change(self, step: str = "", **changes: object) -> None:
        assert self._days is not None
        name = self._days.by_id[self.step].name
        self._session.try_apply(change_step(self._session.job, step or self.step, name, **changes))

    def _hours(self, text: str) -> None:
        assert self._days is not None
        made = parse(text, Kind.HOURS, self._session.system).measure if text else None
        change = self._days.table.change_of(self._root)
        if made is not None and change is not None and change.parts > 1:  # the whole takes that of every part
            made = Measure(si=made.si * change.parts)
        self._change(self._root, hours=made)

    def _people(self, text: str) -> None:
        self._change(people=_count(text, "people", 6) if text else None)

    def _at(self, text: str) -> None:
        self._change(at=iso_date(text).replace(" ", "T", 1))

    def _parts(self, text: str) -> None:
        self._change(self._root, parts=_count(text or "1", "parts", 8))

    def _name(self, text: str) -> None:
        self._change(name=text)

    def _skip(self, text: str) -> None:
        if text:
            self._change(skipped=text)

    def _who(self, person: str) -> None:
        if self.step:
            self._change(who=(person,) if person else ())

    def _join(self) -> None:
        if self.step:
            self._change(joined=True)

    def _usual(self) -> None:
        if self.step and self._days is not None:
            self._session.apply(as_usual(self._session.job, self.step, self._days.by_id[self.step].name))

    def _add(self) -> None:
        if not self.step or self._days is None:
            return
        days = self._days
        row = days.by_id[self.step]
        before = tuple(w.after for w in days.waits if w.before == self.step)
        edit = add_step(
            self._session.job, name="step of your own", zone=row.zone or None, after=(self._root,), before=before
        )
        self._session.try_apply(edit)

    def _remove(self) -> None:
        if self.step:
            self._session.try_apply(remove_step(self._session.job, self._root))


def _count(text: str, what: str, most: int) -> int:
    if not text.isdigit() or not 1 <= int(text) <= most:
        raise InvalidValue(what, reason=f"“{text}” is no number from 1 to {most}")
    return int(text)
