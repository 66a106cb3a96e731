"""The stage ladder: one rung a stage, with its state and the number of open warnings."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeySequence, QPainter, QPaintEvent, QPen, QShortcut
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from ribpatch.stages import STAGES, Stage, stage_state
from ribpatch.ui.theme import colours, font

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan

FEW = 6  # rungs that leave room between them


class Rung(QPushButton):
    """One rung, painted between the two rails."""

    def __init__(self, stage: Stage, parent: QWidget) -> None:
        text, key = stage.title, stage.key
        super().__init__(text, parent)
        self.stage = stage
        self.setCheckable(True)
        self.setAutoExclusive(True)
        # The F-key beside the Alt letter that the text brings; setShortcut would take the letter away.
        QShortcut(QKeySequence(key), self).activated.connect(lambda: self.click())
        self.setToolTip(f"{text.replace('&', '')} ({key} or Alt+{text[text.index('&') + 1]})")
        self.state, self.warnings, self.grave = "to do", 0, 0
        self.theme = "light"

    def sizeHint(self) -> QSize:
        return QSize(96, 58)

    def show_state(self, state: str, warnings: int, grave: int) -> None:
        """Show the state and warnings of the stage."""
        self.state, self.warnings, self.grave = state, warnings, grave
        words = f"{state}, {warnings} open warnings" if warnings else state
        self.setAccessibleDescription(words)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        c = colours(self.theme)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(2, 3, -2, -3)
        painter.setPen(QPen(c["accent"] if self.hasFocus() or self.isChecked() else c["soft"], 2))
        painter.setBrush(c["accent"] if self.isChecked() else c["panel"])
        painter.drawRoundedRect(box, 6, 6)
        ink = c["accent-ink"] if self.isChecked() else c["ink"]
        painter.setPen(ink)
        painter.setFont(font(11, bold=self.isChecked()))
        flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextShowMnemonic
        painter.drawText(box.adjusted(0, 3, 0, -20), flags, self.text())
        painter.setFont(font(8.5))
        below = box.adjusted(0, 25, 0, -2)
        if self.warnings:
            painter.setPen(c["accent-ink"] if self.isChecked() else c["grave" if self.grave else "warn"])
            done = "✓ done, " if self.state == "done for now" else ""
            words = f"{done}⚠ {self.warnings}" if done else f"⚠ {self.warnings} open"
            painter.drawText(below, Qt.AlignmentFlag.AlignCenter, words)
        else:
            painter.setPen(ink if self.isChecked() else c["soft"])
            painter.drawText(
                below, Qt.AlignmentFlag.AlignCenter, "✓ done" if self.state == "done for now" else self.state
            )


class Ladder(QWidget):
    """All rungs. ``picked`` carries the stage."""

    picked = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(112)
        self._theme = "light"
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 6, 8, 6)
        layout.setSpacing(26 if len(STAGES) <= FEW else 8)
        self.rungs = {stage.id: Rung(stage, self) for stage in STAGES}
        for stage, rung in self.rungs.items():
            layout.addWidget(rung)
            rung.clicked.connect(lambda checked=False, s=stage: self.picked.emit(s))
        layout.addStretch(1)

    def show_plan(self, plan: Plan, zone_id: str, stage: str) -> None:
        """Show every rung's state."""
        for name, rung in self.rungs.items():
            rung.show_state(*stage_state(rung.stage, plan, zone_id))
            rung.setChecked(name == stage)

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self._theme = theme
        for rung in self.rungs.values():
            rung.theme = theme
            rung.update()
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setPen(QPen(colours(self._theme)["soft"], 3))
        bottom = max(r.geometry().bottom() for r in self.rungs.values()) + 14
        for x in (20, self.width() - 20):
            painter.drawLine(x, 0, x, bottom)
