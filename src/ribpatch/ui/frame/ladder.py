"""The stage ladder: one rung a stage, with its state and the number of open warnings."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeySequence, QPainter, QPaintEvent, QPen, QShortcut
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from ribpatch.core.diagnosis.zone import said_in
from ribpatch.core.plan import Plan
from ribpatch.ui.theme import colours, font

RUNGS = (
    ("boat", "&Boat", "F5"), ("find", "&Find", "F6"), ("cause", "&Cause", "F7"), ("open", "&Open", "F8"), ("rebuild", "&Rebuild", "F9"),
    ("order", "Or&der", "F10"),
)  # fmt: skip


def rung_state(stage: str, plan: Plan, zone_id: str) -> tuple[str, int, int]:
    """A rung's state in a word, its open warnings and how many of them are grave, for the zone worked on."""
    mine = [n for n in plan.notices if n.stage == stage and n.zone in ("", zone_id)]
    zone = next((z for z in plan.zones if z.zone.id == zone_id), None)
    done = {
        "boat": bool(plan.job.zones),
        "find": zone is not None and not zone.patch.extent.likely.is_empty,
        "cause": zone is not None and bool(said_in(zone.zone, plan.shelf)),
        "open": zone is not None and not zone.patch.cut.region.is_empty,
        "rebuild": zone is not None and bool(zone.patch.outlines),
        "order": zone is not None and bool(zone.items),
    }[stage]
    return ("begun" if done else "to do"), len(mine), sum(n.grave for n in mine)


class Rung(QPushButton):
    """One rung, painted between the two rails."""

    def __init__(self, stage: str, text: str, key: str, parent: QWidget) -> None:
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
        words = f"{warnings} open warnings" if warnings else state
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
            painter.drawText(below, Qt.AlignmentFlag.AlignCenter, f"⚠ {self.warnings} open")
        else:
            painter.setPen(ink if self.isChecked() else c["soft"])
            painter.drawText(below, Qt.AlignmentFlag.AlignCenter, self.state)


class Ladder(QWidget):
    """All rungs. ``picked`` carries the stage."""

    picked = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(112)
        self._theme = "light"
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 6, 8, 6)
        layout.setSpacing(26)
        self.rungs = {stage: Rung(stage, text, key, self) for stage, text, key in RUNGS}
        for stage, rung in self.rungs.items():
            layout.addWidget(rung)
            rung.clicked.connect(lambda checked=False, s=stage: self.picked.emit(s))
        layout.addStretch(1)

    def show_plan(self, plan: Plan, zone_id: str, stage: str) -> None:
        """Show every rung's state."""
        for name, rung in self.rungs.items():
            rung.show_state(*rung_state(name, plan, zone_id))
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
