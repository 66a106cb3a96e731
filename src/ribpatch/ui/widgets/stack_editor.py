"""Building a stack, deepest first: one row a fabric with count and angle or a sub-stack, and a line to type it all."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QLineEdit, QPushButton, QSpinBox, QVBoxLayout, QWidget

from ribpatch.core.errors import Fault
from ribpatch.core.laminate.stack_text import stack_from_text, text_of
from ribpatch.core.numerals import general
from ribpatch.core.record import evolve
from ribpatch.core.scheme import Repeat, Stack, StackLine, unrolled
from ribpatch.ui.scaling import sized
from ribpatch.ui.typed import enter_by_return, refuse
from ribpatch.ui.widgets.combo import Combo, Count
from ribpatch.ui.widgets.emptying import clear_layout

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.edits import Edit
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.ui.session import Session

ANGLES = (0.0, 45.0, 90.0, -45.0)


class StackEditor(QWidget):
    """Edits a stack of the zone worked on; ``make`` gives the edit for new lines under a name."""

    def __init__(
        self, session: Session, make: Callable[[str, Stack, str], Edit], of: str, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._of = f"{of}: "  # said before the name of each of its controls
        self._session, self._make = session, make
        self._lines: Stack | None = None
        self._shelf: Shelf | None = None
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(3)
        self._grid = QGridLayout()
        self._grid.setSpacing(3)
        layout.addLayout(self._grid)
        self.add = QPushButton("Add a ply")
        self.add.setToolTip("Add a ply on top of the stack")
        self.add.clicked.connect(lambda: self._add())
        layout.addWidget(self.add)
        self.typed = QLineEdit()
        self.typed.setAccessibleName(f"{self._of}the stack as text")
        self.add.setAccessibleName(f"{self._of}add a ply")
        self.typed.setPlaceholderText("2 x biax 45 600, 3 x (mat 300, 0/90 600)")
        self._how = (
            "Type the whole stack, deepest first, and press Enter. Brackets make a sub-stack that repeats; @ 45 turns "
            "a ply."
        )
        self.typed.setToolTip(self._how)
        enter_by_return(self.typed)
        self.typed.returnPressed.connect(lambda: self._typed())
        layout.addWidget(self.typed)
        self.note = QLabel("")
        self.note.setObjectName("grave")
        self.note.setWordWrap(True)
        self.note.hide()
        layout.addWidget(self.note)

    def _typed(self) -> None:
        try:
            lines = stack_from_text(self.typed.text(), self._session.plan.shelf)
        except Fault as fault:
            self.note.setText(f"⚠ {fault.sentence} The old stack is kept.")
            refuse(self.typed, fault.sentence)
            self.note.show()
            return
        self.note.hide()
        self.typed.setModified(False)
        self._put(lines, "type the stack")
        self._show_text(text_of(self._lines or ()))

    def _show_text(self, text: str) -> None:
        self.typed.setText(text)
        self.typed.setCursorPosition(0)
        self.typed.setToolTip(f"{text}\n{self._how}".strip())

    def show_stack(self, lines: Stack, shelf: Shelf) -> None:
        """Show a stack; makes no edit."""
        self.add.setEnabled(self._session.zone is not None)
        if lines is self._lines and shelf is self._shelf:
            return
        same = self._lines is not None and shelf is self._shelf and _shape(lines) == _shape(self._lines)
        self._lines, self._shelf = lines, shelf
        if not (self.typed.hasFocus() and self.typed.isModified()):
            self._show_text(text_of(lines))
            self.note.hide()
        if same:
            self._show_values()
            return
        clear_layout(self._grid)
        for row, line in enumerate(lines):
            self._make_row(row, line, shelf)
        self._show_values()

    def _make_row(self, row: int, line: StackLine | Repeat, shelf: Shelf) -> None:
        count = self._count(row, "times" if isinstance(line, Repeat) else "count")
        parts: tuple[QWidget, QWidget] = (
            (self._group(row), QLabel("")) if isinstance(line, Repeat) else self._fabric(row, shelf)
        )
        up, out = QPushButton("↑"), QPushButton("×")
        for button, tip in ((up, "Move one place deeper"), (out, "Take this out; undo brings it back")):
            button.setObjectName("plain")
            sized(button, width=26)
            button.setToolTip(tip)
            button.setAccessibleName(f"{self._of}ply line {row + 1}: {tip.lower().split(';')[0]}")
        up.clicked.connect(lambda checked=False, r=row: self._deeper(r))
        out.clicked.connect(lambda checked=False, r=row: self._out(r))
        for column, widget in enumerate((count, *parts, up, out)):
            self._grid.addWidget(widget, row, column)
        self._grid.setColumnStretch(1, 1)

    def _group(self, row: int) -> QPushButton:
        button = QPushButton("")
        button.setObjectName("plain")
        button.setAccessibleName(f"sub-stack {row + 1}")
        button.setToolTip(
            "A sub-stack that repeats. Press to write it out line by line; retype it in the line below to change it."
        )
        button.clicked.connect(lambda checked=False, r=row: self._write_out(r))
        return button

    def _count(self, row: int, what: str) -> QSpinBox:
        count = Count()
        count.setRange(1, 60)
        count.setAccessibleName(f"{self._of}count of fabric {row + 1}")
        count.setKeyboardTracking(False)
        count.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        sized(count, width=44)
        count.setToolTip("How many: type it, or use the up and down keys")
        count.valueChanged.connect(lambda value, r=row, w=what: self._change(r, **{w: value}))
        return count

    def _fabric(self, row: int, shelf: Shelf) -> tuple[QComboBox, QComboBox]:
        fabric = Combo()
        fabric.setAccessibleName(f"{self._of}fabric {row + 1}")
        fabric.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        fabric.setMinimumContentsLength(12)
        for item in shelf.fabrics:
            fabric.addItem(item.name, item.id)
        angle = Combo()
        sized(angle, width=66)
        angle.setAccessibleName(f"{self._of}angle of fabric {row + 1}")
        for value in ANGLES:
            angle.addItem(f"{general(value)}°", value)
        fabric.activated.connect(lambda index, r=row, box=fabric: self._change(r, fabric=str(box.itemData(index))))
        angle.activated.connect(lambda index, r=row, box=angle: self._change(r, angle=float(box.itemData(index))))
        return fabric, angle

    def _widget(self, row: int, column: int) -> QWidget:
        item = self._grid.itemAtPosition(row, column)
        widget = item.widget() if item else None
        assert widget is not None
        return widget

    def row(self, row: int) -> tuple[QSpinBox, QComboBox, QComboBox]:
        """Count, fabric and angle widgets of a row."""
        count, fabric, angle = (self._widget(row, column) for column in range(3))
        assert isinstance(count, QSpinBox) and isinstance(fabric, QComboBox) and isinstance(angle, QComboBox)
        return count, fabric, angle

    def _show_values(self) -> None:
        for index, line in enumerate(self._lines or ()):
            if isinstance(line, Repeat):
                self._show_group(index, line)
                continue
            count, fabric, angle = self.row(index)
            blocked = count.blockSignals(True)
            count.setValue(line.count)
            count.blockSignals(blocked)
            fabric.setCurrentIndex(fabric.findData(line.fabric))
            fabric.setToolTip(fabric.currentText())
            if angle.findData(line.angle) < 0:
                angle.addItem(f"{general(line.angle)}°", line.angle)
            angle.setCurrentIndex(angle.findData(line.angle))

    def _show_group(self, index: int, line: Repeat) -> None:
        count, group = self._widget(index, 0), self._widget(index, 1)
        assert isinstance(count, QSpinBox) and isinstance(group, QPushButton)
        blocked = count.blockSignals(True)
        count.setValue(line.times)
        count.blockSignals(blocked)
        group.setText(f"× ({text_of(line.lines)})")

    def _write_out(self, row: int) -> None:
        lines = self._lines or ()
        self._put((*lines[:row], *unrolled((lines[row],)), *lines[row + 1 :]), "write out a sub-stack")

    def _put(self, lines: Stack, name: str) -> None:
        zone = self._session.zone
        if zone is not None:
            self._session.apply(self._make(zone.id, lines, name))

    def _change(self, row: int, **what: object) -> None:
        lines = list(self._lines or ())
        lines[row] = evolve(lines[row], **what)
        self._put(tuple(lines), f"set {next(iter(what))} of fabric {row + 1}")

    def _deeper(self, row: int) -> None:
        lines = list(self._lines or ())
        if row > 0:
            lines[row - 1], lines[row] = lines[row], lines[row - 1]
            self._put(tuple(lines), "move a ply deeper")

    def _out(self, row: int) -> None:
        lines = self._lines or ()
        self._put((*lines[:row], *lines[row + 1 :]), "take a ply out")

    def _add(self) -> None:
        lines = self._lines or ()
        shelf = self._session.plan.shelf
        last = unrolled(lines)[-1] if lines else None
        new = evolve(last, count=1) if last else StackLine(fabric=shelf.first_fabric)
        self._put((*lines, new), "add a ply")


def _shape(lines: Stack) -> tuple[bool, ...]:
    """Which rows are sub-stacks: the rows are made anew where this changes."""
    return tuple(isinstance(line, Repeat) for line in lines)
