"""The start page: new job, open, recent jobs, the demo job, and what a crash left behind."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal, SignalInstance
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ribpatch.ui.widgets.card import Card
from ribpatch.ui.widgets.emptying import clear_layout

if TYPE_CHECKING:
    from collections.abc import Sequence
    from pathlib import Path

    from ribpatch.jobfile.recovery import Found

MOST_FOUND = 3


class StartPage(QWidget):
    """What can be opened. Signals carry a path or a Found."""

    new_wanted = Signal()
    open_wanted = Signal()
    demo_wanted = Signal()
    path_wanted = Signal(object)
    recover_wanted = Signal(object)
    discard_wanted = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        outer = QHBoxLayout(self)
        column = QVBoxLayout()
        column.setSpacing(10)
        outer.addStretch(1)
        outer.addLayout(column, 2)
        outer.addStretch(1)
        title = QLabel("Rib Patch")
        title.setObjectName("title")
        words = QLabel("From readings on a boat to cut line, plies, quantities and a work pack.")
        words.setObjectName("soft")
        column.addStretch(1)
        column.addWidget(title)
        column.addWidget(words)
        self.recovery = QVBoxLayout()
        column.addLayout(self.recovery)
        begin = Card("Begin")
        row = QHBoxLayout()
        self.new = self._button("New job", "Describe a boat and begin (Ctrl+N)", self.new_wanted)
        self.open = self._button("Open a job…", "Open a .ribpatch file (Ctrl+O)", self.open_wanted)
        self.demo = self._button("Demo job", "A lake launch with four zones, to try things on", self.demo_wanted)
        for button in (self.new, self.open, self.demo):
            row.addWidget(button)
        begin.add(row)
        column.addWidget(begin)
        self.recent_card = Card("Recent jobs")
        self.recent = QVBoxLayout()
        self.recent_card.add(self.recent)
        column.addWidget(self.recent_card)
        column.addStretch(2)

    def _button(self, text: str, tip: str, signal: SignalInstance) -> QPushButton:
        button = QPushButton(text)
        button.setToolTip(tip)
        button.setMinimumHeight(44)
        button.clicked.connect(lambda: signal.emit())
        return button

    def show_lists(self, recent: Sequence[Path], found: Sequence[Found]) -> None:
        """Show recent jobs and recovery copies."""
        clear_layout(self.recent)
        for path in recent:
            button = QPushButton(f"{path.stem}   {path.parent}")
            button.setObjectName("plain")
            button.setStyleSheet("text-align: left;")
            button.setToolTip(f"Open {path}")
            button.clicked.connect(lambda checked=False, p=path: self.path_wanted.emit(p))
            self.recent.addWidget(button)
        if not recent:
            label = QLabel("None yet. Jobs that you save or open are listed here.")
            label.setObjectName("soft")
            self.recent.addWidget(label)
        clear_layout(self.recovery)
        for item in found[:MOST_FOUND]:
            self.recovery.addWidget(self._found_card(item))

        if len(found) > MOST_FOUND:
            more = QLabel(f"and {len(found) - MOST_FOUND} older, shown when these are dealt with")
            more.setObjectName("soft")
            self.recovery.addWidget(more)

    def _found_card(self, item: Found) -> QWidget:
        when = datetime.fromtimestamp(item.when).strftime("%d %b %H:%M")
        card = Card("Recovered work")
        label = QLabel(f"⚠ {item.name}: Rib Patch ended without closing; work up to {when} was kept. {item.saves_to}")
        label.setWordWrap(True)
        card.add(label)
        row = QHBoxLayout()
        recover = QPushButton("Recover it")
        recover.setObjectName("plain")
        recover.setToolTip("Open the recovered work; the file itself is not changed until you save")
        recover.clicked.connect(lambda: self.recover_wanted.emit(item))
        discard = QPushButton("Throw it away")
        discard.setObjectName("plain")
        discard.setToolTip("Delete the recovery copy")
        discard.clicked.connect(lambda: self.discard_wanted.emit(item))
        row.addWidget(recover)
        row.addWidget(discard)
        row.addStretch(1)
        card.add(row)
        recover.setAccessibleName(f"recover {item.name}")
        return card
