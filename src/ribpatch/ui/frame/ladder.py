"""The stage ladder: one rung a stage, with its state and the number of open warnings."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeySequence, QPainter, QPaintEvent, QPen, QShortcut
from PySide6.QtWidgets import QPushButton, QSizePolicy, QVBoxLayout, QWidget

from ribpatch.stages import STAGES, Stage, stage_state
from ribpatch.ui.scaling import factor, grown, painter_of, room_of, sized
from ribpatch.ui.theme import colours, font

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan

TIGHT = 44  # pixels of height below which a rung says its state beside its title
WIDE, CLOSE = 8, 2  # pixels between rungs
CLOSER = 1.2  # times the usual text from which they stand closer


class Rung(QPushButton):
    """One rung, painted between the two rails."""

    def __init__(self, stage: Stage, parent: QWidget) -> None:
        text, key = stage.title, stage.key
        super().__init__(parent)
        self.setText(text)  # not as it is made: that loads all that icons know
        self.stage = stage
        self.setObjectName("rung")
        self.setCheckable(True)
        self.setAutoExclusive(True)
        # The F-key beside the Alt letter that the text brings; setShortcut would take the letter away.
        QShortcut(QKeySequence(key), self).activated.connect(lambda: self.click())
        self.setToolTip(f"{text.replace('&', '')} ({key} or Alt+{text[text.index('&') + 1]})")
        self.state, self.warnings, self.grave = "to do", 0, 0
        self.theme = "light"
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)

    def sizeHint(self) -> QSize:
        return grown(QSize(96, 58))

    def minimumSizeHint(self) -> QSize:
        return grown(QSize(96, 25))

    def show_state(self, state: str, warnings: int, grave: int) -> None:
        """Show the state and warnings of the stage."""
        self.state, self.warnings, self.grave = state, warnings, grave
        words = f"{state}, {warnings} open warnings" if warnings else state
        self.setAccessibleDescription(words)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        c = colours(self.theme)
        painter = painter_of(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = room_of(self).adjusted(2, 3, -2, -3)
        painter.setPen(QPen(c["accent"] if self.hasFocus() or self.isChecked() else c["soft"], 2))
        painter.setBrush(c["accent"] if self.isChecked() else c["panel"])
        painter.drawRoundedRect(box, 6, 6)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(c["accent-ink" if self.isChecked() else "accent"], 2))
            painter.drawRoundedRect(box.adjusted(3, 3, -3, -3), 4, 4)
            painter.setBrush(c["accent"] if self.isChecked() else c["panel"])
        painter.setPen(c["accent-ink"] if self.isChecked() else c["ink"])
        painter.setFont(font(11, bold=self.isChecked()))
        if box.height() < TIGHT:
            self._paint_in_one(painter, box)
        else:
            self._paint_over_state(painter, box)

    def _paint_in_one(self, painter: QPainter, box: QRectF) -> None:
        """Where rungs stand close: the title, and beside it only how many warnings are open."""
        flags = Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextShowMnemonic
        painter.drawText(box.adjusted(7, 0, -4, 0), flags | Qt.AlignmentFlag.AlignLeft, self.text())
        painter.setFont(font(8.5, bold=True))
        painter.setPen(self._state_colour)
        words = f"⚠{self.warnings}" if self.warnings else "✓" if self.state == "done for now" else ""
        painter.drawText(box.adjusted(0, 0, -5, 0), flags | Qt.AlignmentFlag.AlignRight, words)

    def _paint_over_state(self, painter: QPainter, box: QRectF) -> None:
        flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextShowMnemonic
        painter.drawText(box.adjusted(0, 3, 0, -20), flags, self.text())
        painter.setFont(font(8.5))
        painter.setPen(self._state_colour)
        done = self.state == "done for now"
        words = "✓ done" if done else self.state
        if self.warnings:
            words = f"✓ done, ⚠ {self.warnings}" if done else f"⚠ {self.warnings} open"
        painter.drawText(box.adjusted(0, 25, 0, -2), Qt.AlignmentFlag.AlignCenter, words)

    @property
    def _state_colour(self) -> QColor:
        c = colours(self.theme)
        if self.isChecked():
            return c["accent-ink"]
        return c[("grave" if self.grave else "warn") if self.warnings else "soft"]


class Ladder(QWidget):
    """All rungs. ``picked`` carries the stage."""

    picked = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        sized(self, width=112)
        self._theme = "light"
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 6, 8, 6)
        layout.setSpacing(WIDE)
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

    def fit(self) -> None:
        """Stand closer where text is large."""
        layout = self.layout()
        if layout is not None:
            layout.setSpacing(WIDE if factor() < CLOSER else CLOSE)

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self._theme = theme
        for rung in self.rungs.values():
            rung.theme = theme
            rung.update()
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = painter_of(self)
        painter.setPen(QPen(colours(self._theme)["soft"], 3))
        bottom = max(r.geometry().bottom() for r in self.rungs.values()) / factor() + 14
        for x in (20, room_of(self).width() - 20):
            painter.drawLine(QPointF(x, 0), QPointF(x, bottom))
