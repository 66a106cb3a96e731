"""Building a stack: one row a fabric with count and angle, deepest first."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QComboBox, QGridLayout, QPushButton, QSpinBox, QVBoxLayout, QWidget

from ribpatch.core.edits import Edit
from ribpatch.core.job import StackLine
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.record import evolve
from ribpatch.ui.session import Session
from ribpatch.ui.widgets.emptying import empty

ANGLES = (0.0, 45.0, 90.0, -45.0)


class StackEditor(QWidget):
    """Edits a stack of the zone worked on; ``make`` gives the edit for new lines under a name."""

    def __init__(
        self, session: Session, make: Callable[[str, tuple[StackLine, ...], str], Edit], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._session, self._make = session, make
        self._lines: tuple[StackLine, ...] | None = None
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

    def show_stack(self, lines: tuple[StackLine, ...], shelf: Shelf) -> None:
        """Show a stack; makes no edit."""
        self.add.setEnabled(self._session.zone is not None)
        if lines is self._lines and shelf is self._shelf:
            return
        same = self._lines is not None and shelf is self._shelf and len(lines) == len(self._lines)
        self._lines, self._shelf = lines, shelf
        if same:
            self._show_values()
            return
        empty(self._grid)
        for row in range(len(lines)):
            self._make_row(row, shelf)
        self._show_values()

    def _make_row(self, row: int, shelf: Shelf) -> None:
        count = QSpinBox()
        count.setRange(1, 60)
        count.setAccessibleName(f"count of fabric {row + 1}")
        count.setKeyboardTracking(False)
        count.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        count.setFixedWidth(44)
        count.setToolTip("Number of plies: type it, or use the up and down keys")
        fabric = QComboBox()
        fabric.setAccessibleName(f"fabric {row + 1}")
        fabric.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        fabric.setMinimumContentsLength(12)
        for item in shelf.fabrics:
            fabric.addItem(item.name, item.id)
        angle = QComboBox()
        angle.setFixedWidth(66)
        angle.setAccessibleName(f"angle of fabric {row + 1}")
        for value in ANGLES:
            angle.addItem(f"{value:g}°", value)
        up, out = QPushButton("↑"), QPushButton("×")
        for button, tip in ((up, "Move one place deeper"), (out, "Take this fabric out; undo brings it back")):
            button.setObjectName("plain")
            button.setFixedWidth(26)
            button.setToolTip(tip)
        count.valueChanged.connect(lambda value, r=row: self._change(r, count=value))
        fabric.activated.connect(lambda index, r=row, box=fabric: self._change(r, fabric=str(box.itemData(index))))
        angle.activated.connect(lambda index, r=row, box=angle: self._change(r, angle=float(box.itemData(index))))
        up.clicked.connect(lambda checked=False, r=row: self._deeper(r))
        out.clicked.connect(lambda checked=False, r=row: self._out(r))
        for column, widget in enumerate((count, fabric, angle, up, out)):
            self._grid.addWidget(widget, row, column)
        self._grid.setColumnStretch(1, 1)

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
            count, fabric, angle = self.row(index)
            blocked = count.blockSignals(True)
            count.setValue(line.count)
            count.blockSignals(blocked)
            fabric.setCurrentIndex(fabric.findData(line.fabric))
            fabric.setToolTip(fabric.currentText())
            if angle.findData(line.angle) < 0:
                angle.addItem(f"{line.angle:g}°", line.angle)
            angle.setCurrentIndex(angle.findData(line.angle))

    def _put(self, lines: tuple[StackLine, ...], name: str) -> None:
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
        new = evolve(lines[-1], count=1) if lines else StackLine(fabric=shelf.first_fabric)
        self._put((*lines, new), "add a ply")
