"""The warnings of a stage in one place: one at a time on a line, and a press goes to the card of the next."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QWidget

from ribpatch.ui.widgets.elided import Elided

if TYPE_CHECKING:
    from ribpatch.core.notice import Notice


class WarningLine(QFrame):
    """``wanted`` carries the notice to go to."""

    wanted = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("message")
        self._notices: tuple[Notice, ...] = ()
        self._at = -1
        self.words = Elided()
        self.words.setObjectName("warn")
        self.go = QPushButton("show")
        self.go.setObjectName("plain")
        self.go.setToolTip("Go to this warning, then to the next one")
        self.go.clicked.connect(lambda: self._next())
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 2, 4, 2)
        row.addWidget(self.words, 1)
        row.addWidget(self.go)
        self.hide()

    def show_notices(self, notices: tuple[Notice, ...]) -> None:
        """Show how many there are, and the gravest."""
        ordered = tuple(sorted(notices, key=lambda n: not n.grave))
        if ordered != self._notices:
            self._notices, self._at = ordered, -1
            self._say()
        self.setVisible(bool(ordered))

    def _say(self) -> None:
        if not self._notices:
            return
        here = max(self._at, 0)
        many = f"{here + 1} of {len(self._notices)}" if self._at >= 0 else f"{len(self._notices)} open"
        self.words.say(f"⚠ {many}: {self._notices[here].text}")
        self.go.setText("show" if self._at < 0 else "next")

    def _next(self) -> None:
        if self._notices:
            self._at = (self._at + 1) % len(self._notices)
            self._say()
            self.wanted.emit(self._notices[self._at])
