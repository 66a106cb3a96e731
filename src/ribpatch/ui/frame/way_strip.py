"""The way strip: what is still missing for a first plan, in one line, and a press that goes there."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from ribpatch.ui.scaling import painter_of, room_of, sized
from ribpatch.ui.theme import colours
from ribpatch.ui.widgets.elided import Elided

if TYPE_CHECKING:
    from PySide6.QtGui import QPaintEvent

    from ribpatch.core.plan import Plan
    from ribpatch.core.way import WayStep

BUTTONS = {
    "zone": "What is wrong?",
    "measure": "Measure",
    "read": "Read",
    "cause": "Cause",
    "draft": "Draft the repair",
    "clear": "See the warning",
    "paper": "Work pack",
}


class WayStrip(QWidget):
    """``wanted`` carries the WayStep to go to."""

    wanted = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        sized(self, height=30)
        self._theme = "light"
        self._step: WayStep | None = None
        self.steps, self.words, self.go = QLabel(), Elided(), QPushButton()
        self.steps.setObjectName("soft")
        self.go.setObjectName("way")
        self.go.clicked.connect(lambda: self._step and self.wanted.emit(self._step))
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 2, 14, 2)
        row.setSpacing(12)
        row.addWidget(self.steps)
        row.addWidget(self.words, 1)
        row.addWidget(self.go)

    def show_plan(self, plan: Plan, zone: str) -> None:
        """Show the way of the zone worked on."""
        from ribpatch.core.way import next_step, way_of  # no part of the first picture

        steps = way_of(plan, zone)
        self._step = step = next_step(steps)
        self.steps.setText("   ".join(f"{'✓' if s.done else '·'} {s.name}" for s in steps[:-1]) or "first plan")
        self.words.say(step.missing)
        self.go.setText(BUTTONS[step.key])
        self.go.setToolTip(f"{step.missing} (Ctrl+Enter)")
        self.go.setAccessibleName(f"{BUTTONS[step.key]}: {step.missing}")

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self._theme = theme
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = painter_of(self)
        painter.fillRect(room_of(self), colours(self._theme)["rail"])
        painter.end()
