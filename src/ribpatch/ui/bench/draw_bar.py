"""The line under the plan while a shape is drawn: length, turn and rise of the next side, and what else can be done."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QWidget

from ribpatch.core.errors import Fault
from ribpatch.core.quantity import parse
from ribpatch.core.units import Kind
from ribpatch.ui.scaling import sized

if TYPE_CHECKING:
    from PySide6.QtGui import QKeyEvent

    from ribpatch.ui.bench.draw_tool import DrawTool


class DrawBar(QWidget):
    """Types sides into a draw tool. ``left`` is told when the keys should go back to the plan."""

    left = Signal()

    def __init__(self, tool: DrawTool, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._tool = tool
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(5)
        self.length, self.turn, self.rise = (self._line(row, *words) for words in LINES)
        self.put = self._button(row, "Put", "Draw this side (Enter)", self._put)
        self.back = self._button(row, "Back", "Take the last corner back (Backspace on the plan)", tool.take_back)
        self.closing = self._button(
            row, "Close", "Close the shape; its last side is an arc where a rise is typed", self._close
        )
        self.leaving = self._button(row, "Leave", "Drop what is drawn (Esc)", tool.leave)
        row.addStretch(1)

    def _line(self, row: QHBoxLayout, name: str, tip: str) -> QLineEdit:
        edit = QLineEdit()
        edit.setPlaceholderText(name.lower())
        edit.setAccessibleName(f"{name} of the next side")
        edit.setToolTip(tip)
        sized(edit, least_width=56, most_width=130)
        edit.returnPressed.connect(lambda: self._put())
        row.addWidget(edit, 1)
        return edit

    def _button(self, row: QHBoxLayout, text: str, tip: str, do: object) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("plain")
        button.setToolTip(tip)
        button.clicked.connect(lambda _checked=False: do())  # type: ignore[operator]  # a method of ours
        row.addWidget(button)
        return button

    def begin(self) -> None:
        """A new shape: nothing is typed."""
        for edit in (self.length, self.turn, self.rise):
            edit.clear()
        self.show_tool()

    def show_tool(self) -> None:
        """Show what can be done now, and the turn that is meant where none is typed."""
        corners = self._tool.trace.corners
        self.turn.setPlaceholderText("turn: 90° left" if len(corners) > 1 else "turn: 0°, along x")
        for edit in (self.length, self.turn):
            edit.setEnabled(bool(corners))
        self.put.setEnabled(bool(corners))
        self.back.setEnabled(bool(corners))
        self.closing.setEnabled(len(corners) > 2)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self._tool.leave()
            self.left.emit()
            return
        super().keyPressEvent(event)

    def _value(self, edit: QLineEdit, kind: Kind) -> float | None:
        text = edit.text().strip()
        return parse(text, kind, self._tool.system).measure.si if text else None

    def _put(self) -> None:
        try:
            length = self._value(self.length, Kind.SIZE)
            turn, rise = self._value(self.turn, Kind.ANGLE), self._value(self.rise, Kind.SIZE) or 0.0
        except Fault as fault:
            self._tool.tell(fault.sentence)
            return
        if length is None:  # the corner is shown on the plan: only its arc is typed
            said = self._tool.put(self._tool.at, rise) if self._tool.at is not None else "Type a length."
        else:
            said = self._tool.go(length, turn, rise)
        if said:
            self._tool.tell(said)
            return
        self.begin()
        self.length.setFocus()

    def _close(self) -> None:
        try:
            rise = self._value(self.rise, Kind.SIZE) or 0.0
        except Fault as fault:
            self._tool.tell(fault.sentence)
            return
        if not self._tool.close(rise):
            self.left.emit()


LINES = (
    ("Length", "Length of the next side, as 600 or 2'3; Enter draws it. Empty: to the cross on the plan"),
    ("Turn", "Degrees from straight on, to the left; minus to the right. The first side is counted from x"),
    ("Rise", "For an arc: how far its middle stands off the straight line, to the left; minus to the right"),
)
