"""Fields: each edits one place of the job, says what was understood, and explains wrong input where it stands."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ribpatch.core.dates import date_example, date_words, iso_date
from ribpatch.core.edits import Edit, set_value
from ribpatch.core.errors import Fault, InvalidValue
from ribpatch.core.fields import Path, get_at, spec_of
from ribpatch.core.quantity import parse
from ribpatch.core.units import Kind, Measure, System, shown
from ribpatch.ui.typed import refuse
from ribpatch.ui.widgets.combo import Combo, show_items
from ribpatch.ui.widgets.spoken import announce

if TYPE_CHECKING:
    from PySide6.QtGui import QKeyEvent

    from ribpatch.ui.session import Session

LONGEST = 2000  # signs of the longest text that a line takes
PathOf = Callable[[], Path | None]


class QuantityEdit(QLineEdit):
    """A line that takes typed text; ``entered`` carries it on Enter or when the focus leaves a changed line."""

    entered = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shown = ""
        self.setMaxLength(LONGEST)
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.editingFinished.connect(lambda: self._commit())

    def show_text(self, text: str) -> None:
        """Show the stored value, unless the user is typing here."""
        if (self.hasFocus() and self.isModified()) or (text == self._shown == self.text()):
            return
        self._shown = text
        self.setText(text)
        self.setCursorPosition(0)
        self.setModified(False)

    def put_back(self) -> None:
        """Show the stored value again."""
        self.setText(self._shown)
        self.setModified(False)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._commit()
            return
        if event.key() == Qt.Key.Key_Escape and self.isModified():
            self.put_back()
            return
        super().keyPressEvent(event)

    def _commit(self) -> None:
        if self.isModified():
            self.setModified(False)
            self.entered.emit(self.text())


def read_value(text: str, kind: Kind | None, optional: bool, system: System, old: Any) -> Any:
    """What a field's text means: a Measure, a whole number, a plain number or text. Raises Fault."""
    clean = text.strip()
    if not clean and optional:
        return None
    if kind is None:
        return clean
    measure = parse(clean, kind, system).measure
    if kind is Kind.COUNT:
        if measure.si != round(measure.si):
            raise InvalidValue(reason=f"{clean} is no whole number")
        return round(measure.si)
    return measure.si if isinstance(old, float) else measure


def value_text(value: Any, kind: Kind | None, system: System) -> str:
    """A stored value as its field shows it."""
    if value is None:
        return ""
    if isinstance(value, Measure):
        return shown(value.si, kind or Kind.NUMBER, system)
    if isinstance(value, float):
        return shown(value, kind or Kind.NUMBER, system)
    return str(value)


class Field(QWidget):
    """A labelled line bound to a place in the job."""

    def __init__(self, session: Session, path_of: PathOf, label: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._path_of = session, path_of
        self.edit = QuantityEdit()
        self.note = QLabel()
        self.note.setObjectName("soft")
        self.note.setWordWrap(True)
        self.note.hide()
        self._label = QLabel(label)
        self._fixed_label = bool(label)
        self._shown_path: Path | None = None
        self._said, self._tip = ("", False), ""
        layout = QGridLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setVerticalSpacing(1)
        layout.addWidget(self._label, 0, 0)
        layout.addWidget(self.edit, 0, 1)
        layout.addWidget(self.note, 1, 0, 1, 2)
        layout.setColumnStretch(0, 3)
        layout.setColumnStretch(1, 2)
        self._grid = layout
        self.edit.entered.connect(self._entered)

    def show_job(self) -> None:
        """Show the stored value."""
        path = self._path_of()
        self.setEnabled(path is not None)
        if path is None:
            self._shown_path = None
            self.edit.show_text("")
            return
        spec = spec_of(path)
        text = value_text(get_at(self._session.job, path), spec.kind, self._session.system)
        text = date_words(text) if spec.dated else text
        if path == self._shown_path:
            self._show(text, spec.kind)
            return
        self._shown_path = path
        if not self._fixed_label:
            self._label.setText(spec.name)
        self.edit.setAccessibleName(self._label.text())
        self._tip = spec.help or spec.name
        self._tip += f" Write it as {date_example()}." if spec.dated else ""
        self.edit.setPlaceholderText(spec.hint or (spec.empty if spec.optional else ""))
        if spec.kind is None:
            self.edit.setAlignment(Qt.AlignmentFlag.AlignLeft)
            self._grid.setColumnStretch(1, 6)  # words want more room than numbers
        self._show(text, spec.kind)

    def _show(self, text: str, kind: Kind | None) -> None:
        self.edit.show_text(text)
        self.edit.setToolTip(f"{text}\n{self._tip}" if text and kind is None else self._tip)

    def _entered(self, text: str) -> None:
        path = self._path_of()
        if path is None:
            return
        spec = spec_of(path)
        old = get_at(self._session.job, path)
        try:
            value = read_value(
                iso_date(text) if spec.dated else text, spec.kind, spec.optional, self._session.system, old
            )
            self._session.try_apply(set_value(path, value))
        except Fault as fault:
            self._say(fault.sentence + " The old value is kept.", wrong=True)
            refuse(self.edit, f"{self._label.text()}: {fault.sentence}")
            self.edit.setText(text)
            return
        understood = ""
        if isinstance(value, Measure) and spec.kind is not None:
            understood = f"understood as {shown(value.si, spec.kind, self._session.system)}"
        self._say(understood, wrong=False)
        self.show_job()

    def _say(self, text: str, wrong: bool) -> None:
        if (text, wrong) == self._said:
            return
        self._said = (text, wrong)
        self.note.setObjectName("grave" if wrong else "soft")
        self.note.style().polish(self.note)
        self.note.setText(text)
        self.note.setVisible(bool(text))
        announce(self.edit, text)

    def forget(self) -> None:
        """Drop what was last understood (on leaving the zone)."""
        self._say("", wrong=False)
        self.edit.setModified(False)


class Choice(QWidget):
    """A labelled row of buttons for a few choices of a field."""

    def __init__(
        self,
        session: Session,
        path_of: PathOf,
        choices: tuple[tuple[str, object], ...],
        label: str = "",
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._session, self._path_of, self._choices = session, path_of, choices
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        if label:
            heading = QLabel(label)
            layout.addWidget(heading)
        row = QHBoxLayout()
        row.setSpacing(4)
        layout.addLayout(row)
        self._group = QButtonGroup(self)
        for index, (text, _) in enumerate(choices):
            button = QPushButton(text)
            button.setObjectName("plain")
            button.setCheckable(True)
            button.setAccessibleName(f"{label} {text}".strip())
            self._group.addButton(button, index)
            row.addWidget(button, 1)
        self._group.idClicked.connect(self._picked)

    def button(self, text: str) -> QPushButton:
        """The button of a choice."""
        index = next(i for i, (t, _) in enumerate(self._choices) if t == text)
        found = self._group.button(index)
        assert isinstance(found, QPushButton)
        return found

    def show_job(self) -> None:
        """Show the stored choice; none where the value is the user's own."""
        path = self._path_of()
        self.setEnabled(path is not None)
        value = get_at(self._session.job, path) if path else None
        self._group.setExclusive(False)
        for index, (_, choice) in enumerate(self._choices):
            same = choice == value or (
                isinstance(value, Measure) and isinstance(choice, Measure) and abs(value.si - choice.si) < 1e-9
            )
            self._group.button(index).setChecked(bool(same))
        self._group.setExclusive(True)

    def _picked(self, index: int) -> None:
        path = self._path_of()
        if path is not None:
            self._session.apply(set_value(path, self._choices[index][1]))
        self.show_job()


class Pick(QWidget):
    """A labelled list of materials. ``make(id)`` gives the edit for the one picked."""

    def __init__(
        self,
        session: Session,
        label: str,
        make: Callable[[str], Edit],
        parent: QWidget | None = None,
        name: str = "",
    ) -> None:
        super().__init__(parent)
        self._session, self._make = session, make
        self.box = Combo()
        self.box.setAccessibleName(name or label)
        self.box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.box.setMinimumContentsLength(16)
        self._row = layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        if label:
            layout.addWidget(QLabel(label))
        layout.addWidget(self.box, 1)
        self.box.activated.connect(self._picked)

    def label_stretch(self, label: int, box: int) -> None:
        """Share the room between label and list, so that several stand under one another."""
        self._row.setStretch(0, label)
        self._row.setStretch(1, box)

    def show_items(self, items: tuple[tuple[str, str], ...], chosen: str) -> None:
        """Show (id, name) pairs and the chosen id."""
        show_items(self.box, items)
        self.box.setCurrentIndex(next((i for i, (identity, _) in enumerate(items) if identity == chosen), -1))
        self.box.setToolTip(self.box.currentText())

    def _picked(self, index: int) -> None:
        self._session.apply(self._make(str(self.box.itemData(index))))
