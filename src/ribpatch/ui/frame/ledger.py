"""The ledger: live totals of the job or the zone, each with the difference the last change made."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFont, QFontMetricsF
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QWidget

from ribpatch.core.dates import day_words, short_day
from ribpatch.core.units import Kind, System, display_unit, number_text, to_shown
from ribpatch.ui.scaling import factor, grown, painter_of, px, room_of, sized
from ribpatch.ui.session import Change
from ribpatch.ui.theme import colours, font

if TYPE_CHECKING:
    from PySide6.QtGui import QKeyEvent, QPaintEvent, QResizeEvent

    from ribpatch.core.figure import Figure
    from ribpatch.core.plan import Plan

ENTRIES = (
    ("cloth.area", "cloth"),
    ("resin.mixed", "resin"),
    ("cup.all", "cups"),
    ("core.area", "core"),
    ("weight.off", "weight off"),
    ("weight.on", "weight on"),
    ("weight.net", "net weight"),
    ("cost.total", "cost"),
)

SCOPES = ("this zone", "whole job")
SCOPE_TIP = "Totals of this zone or of the whole job (Ctrl+L)"
VALUE_SIZES = (12, 10.5, 9, 8)  # points: the largest that fits
NAME_SIZE = 8.5
EDGES = 14.0  # pixels beside a total's words
LEFT_OUT = ("weight.off", "weight.on", "core.area", "cup.all")  # where there is no room for all, in this order


def difference_text(new: Figure, old: Figure | None, system: System) -> str:
    """The signed difference that a change made, or nothing where it is too small to show."""
    if old is None:
        return ""
    step = to_shown(new.value, new.kind, system) - to_shown(old.value, old.kind, system)
    if abs(step) < 0.5 * 10 ** -display_unit(new.kind, system).decimals:
        return ""
    text = number_text(new.value - old.value, new.kind if new.kind is not Kind.TEMPERATURE else Kind.NUMBER, system)
    return text if text.startswith("−") else f"+{text}"


class Total(QPushButton):
    """One total; a click or F2 asks for its working."""

    def __init__(self, name: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.name = name
        self.figure: Figure | None = None
        self.value, self.difference = "–", ""
        self.waiting = False
        self.theme = "light"
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return grown(QSize(120, 50))

    def minimumSizeHint(self) -> QSize:
        return grown(QSize(44, 50))

    def least(self) -> float:
        """The width below which its words would be cut off, pixels."""
        words = ((font(NAME_SIZE), self.name), (font(VALUE_SIZES[-1], bold=True), self.value))
        return (max(QFontMetricsF(made).horizontalAdvance(text) for made, text in words) + EDGES) * factor()

    def show_figure(self, figure: Figure | None, old: Figure | None, system: System, keep: bool) -> None:
        """Show a total; ``keep`` leaves the difference that stands."""
        self.figure, self.waiting = figure, False
        self.value = figure.shown(system) if figure else "–"
        if not keep:
            self.difference = difference_text(figure, old, system) if figure else ""
        self.setToolTip(f"{self.name}: what it is made of (click or F2)")
        self.setAccessibleName(f"{self.name} {self.value} {self.difference}".strip())
        self.update()

    def show_text(self, value: str, words: str, tip: str) -> None:
        """Show what is no figure."""
        self.value, self.difference, self.waiting = value, words, False
        self.setToolTip(tip)
        self.setAccessibleName(f"{self.name} {value} {words}".strip())
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        c = colours(self.theme)
        painter = painter_of(self)
        painter.fillRect(room_of(self), c["ledger"])
        painter.setFont(font(NAME_SIZE))
        painter.setPen(c["ledger-soft"])
        painter.drawText(QRectF(8, 3, room_of(self).width() - 10, 16), Qt.AlignmentFlag.AlignVCenter, self.name)
        painter.setPen(c["ledger-soft" if self.waiting else "ledger-ink"])
        box = QRectF(8, 20, room_of(self).width() - 10, 24)
        painter.setFont(self._fitted(box.width()))
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, self.value)
        left = painter.fontMetrics().horizontalAdvance(self.value) + 8
        painter.setFont(font(9))
        painter.setPen(c["change"])
        words = "…" if self.waiting else self.difference
        if painter.fontMetrics().horizontalAdvance(words) > box.width() - left:
            words = ""  # half a number is none
        painter.drawText(box.adjusted(left, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, words)
        if self.hasFocus():
            painter.drawRect(room_of(self).adjusted(1, 1, -2, -2))

    def _fitted(self, room: float) -> QFont:
        """The value's font, smaller where the value is too long for its room: it is never cut off."""
        for size in VALUE_SIZES:
            made = font(size, bold=True)
            if QFontMetricsF(made).horizontalAdvance(self.value) <= room:
                break
        return made


class Ledger(QWidget):
    """All totals. ``asked`` carries a figure, ``days_wanted`` asks for the plan of the days."""

    asked = Signal(object)
    days_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        sized(self, height=52)
        self.setAutoFillBackground(True)
        self._theme = "light"
        self._whole = False
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        self.scope = QPushButton("zone")
        self.scope.setObjectName("plain")
        self.scope.setToolTip(SCOPE_TIP)
        self.scope.setShortcut("Ctrl+L")
        layout.addSpacing(8)
        layout.addWidget(self.scope)
        self.totals = {key: Total(name, self) for key, name in ENTRIES}
        for total in self.totals.values():
            layout.addWidget(total, 1)
            total.clicked.connect(lambda checked=False, t=total: self._ask(t))
        self.finish = Total("finish", self)
        self.finish.clicked.connect(lambda: self.days_wanted.emit())
        layout.addWidget(self.finish, 1)
        self._planned: tuple[object, ...] = ()  # what the schedule was kept for
        self.scope.clicked.connect(lambda: self._flip())
        self._last: tuple[Plan, str, System] | None = None

    def fit(self) -> None:
        """Give the button the room that its words want at the size of text as it is."""
        words = max(self.scope.fontMetrics().horizontalAdvance(t) for t in SCOPES)
        self.scope.setMinimumWidth(max(words + px(24), px(84)))
        self._leave_out()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._leave_out()

    def _leave_out(self) -> None:
        """Show as many totals as are not cut off; what is left out is named beside the button."""
        needs = {key: total.least() for key, total in (*self.totals.items(), ("finish", self.finish))}
        room = self.width() - self.scope.minimumWidth() - px(16)
        for key in LEFT_OUT:
            if len(needs) * max(needs.values()) > room:
                needs.pop(key)
        for key, total in self.totals.items():
            total.setVisible(key in needs)
        gone = ", ".join(total.name for key, total in self.totals.items() if key not in needs)
        self.scope.setToolTip(SCOPE_TIP + (f". No room here for {gone}: see Order" if gone else ""))

    def _ask(self, total: Total) -> None:
        if total.figure is not None:
            self.asked.emit(total.figure)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        focus = self.focusWidget()
        if event.key() == Qt.Key.Key_F2 and isinstance(focus, Total):
            self._ask(focus)
            return
        super().keyPressEvent(event)

    def _flip(self) -> None:
        self._whole = not self._whole
        if self._last is not None:
            plan, zone, system = self._last
            self.show_change(Change(plan, plan), zone, system, keep=False)

    def _find(self, plan: Plan | None, zone: str, key: str) -> Figure | None:
        if plan is None:
            return None
        if self._whole or not zone:
            return plan.figure(f"job.{key}") or plan.figure(key)
        return plan.figure(f"{zone}.{key}")

    def wait(self) -> None:
        """Show that the totals are being worked out anew."""
        for total in self.totals.values():
            total.waiting = True
            total.update()

    def show_change(self, change: Change, zone: str, system: System, keep: bool = False) -> None:
        """Show the totals and what changed; ``keep`` leaves the differences (on a mere change of view)."""
        self._last = (change.new, zone, system)
        self.scope.setText(SCOPES[self._whole])
        for key, total in self.totals.items():
            total.show_figure(self._find(change.new, zone, key), self._find(change.old, zone, key), system, keep)
        self._show_finish(change.new)
        self._leave_out()

    def _show_finish(self, plan: Plan) -> None:
        """The day on which all is done by the schedule that is kept; nothing is worked out for it. Where the work was
        changed since, it is marked as near it only.
        """
        job = plan.job
        kept, needs = job.timetable.kept, (job.zones, job.air, job.own)
        if kept is None:
            self._planned = ()
            self.finish.show_text("–", "", "Search a plan in Days: its finish stands here")
            return
        if not self._planned or self._planned[0] is not kept:
            self._planned = (kept, *needs)
        same = all(a is b for a, b in zip(self._planned[1:], needs, strict=True))
        day = day_words(max((s.end for s in kept.steps), default=kept.bound))
        span = f"{short_day(kept.soonest)} to {short_day(kept.latest)}" if kept.soonest else ""
        tip = "Done by the plan kept in Days; nine in ten between the days beside it"
        self.finish.show_text(day if same else f"~{day}", span, tip if same else f"{tip}. The work has changed since.")

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self._theme = theme
        for total in (*self.totals.values(), self.finish):
            total.theme = theme
            total.update()
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter_of(self).fillRect(room_of(self), colours(self._theme)["ledger"])
