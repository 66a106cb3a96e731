"""The start page: new job, open, recent jobs with their boats, demo and practice, and what a crash left behind."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Signal, SignalInstance
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ribpatch.core.dates import moment_words
from ribpatch.ui.scaling import sized
from ribpatch.ui.start_pictures import BoatCard, WhatItDoes
from ribpatch.ui.widgets.card import Card
from ribpatch.ui.widgets.emptying import clear_layout

if TYPE_CHECKING:
    from collections.abc import Sequence
    from pathlib import Path

    from ribpatch.jobfile.recovery import Found

MOST_FOUND = 3
GUIDE = (
    "New job: say what she is and what is wrong. Everything else is proposed, and marked assumed until you measure it.",
    "Find: tap on a grid. Arrows move, R F D M C enter a word, a number and Enter the meter. Or draw what is bad.",
    "Draft the repair (Ctrl+Shift+D): side, cut, taper, core and plies with the reason of each; change what you like.",
    "The strip over the plan says what is still missing; Ctrl+Enter goes there. Ctrl+P prints the work pack.",
)


class StartPage(QWidget):
    """What can be opened. Signals carry a path or a Found; ``guide_away``: the guidance was put away."""

    new_wanted = Signal()
    open_wanted = Signal()
    demo_wanted = Signal()
    practice_wanted = Signal()
    path_wanted = Signal(object)
    recover_wanted = Signal(object)
    discard_wanted = Signal(object)
    guide_away = Signal()

    def __init__(self, theme: str = "light", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        scroll = QScrollArea(self)
        self._body = QWidget()
        scroll.setWidget(self._body)
        outer = QHBoxLayout(self._body)
        scroll.setWidgetResizable(True)
        scroll.setObjectName("reads")
        scroll.setAccessibleName("start page")
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(scroll)
        column = QVBoxLayout()
        column.setSpacing(10)
        outer.addStretch(1)
        outer.addLayout(column, 6)
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
        column.addWidget(self._begin_card())
        self.guide = self._guide_card()
        column.addWidget(self.guide)
        self.recent_card = Card("Recent jobs", parent=self._body)
        self.recent = QVBoxLayout()
        self.recent_card.add(self.recent)
        column.addWidget(self.recent_card)
        column.addStretch(2)

    def _begin_card(self) -> Card:
        begin = Card("Begin", parent=self._body)
        row = QHBoxLayout()
        self.new = self._button("New job", "Say what she is and what is wrong (Ctrl+N)", self.new_wanted)
        self.open = self._button("Open a job…", "Open a .ribpatch file (Ctrl+O)", self.open_wanted)
        self.demo = self._button("Demo job", "A lake launch with four zones, to try things on", self.demo_wanted)
        self.practice = self._button(
            "Practice panel", "A panel with hidden damage to survey (Ctrl+Shift+R)", self.practice_wanted
        )
        for button in (self.new, self.open, self.demo, self.practice):
            row.addWidget(button)
        begin.add(row)
        return begin

    def _guide_card(self) -> Card:
        card = Card("The way from a soft spot to a plan on paper", parent=self._body)
        self.picture = WhatItDoes(self._theme)
        card.add(self.picture)
        for number, words in enumerate(GUIDE, 1):
            card.add_text(f"{number}.  {words}")
        row = QHBoxLayout()
        away = QPushButton("Put this away")
        away.setObjectName("plain")
        away.setToolTip("Do not show it again; F1 has it all")
        away.clicked.connect(lambda: self._put_away())
        row.addStretch(1)
        row.addWidget(away)
        card.add(row)
        self.away = away
        return card

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self._theme = theme
        self.picture.set_theme(theme)

    def _put_away(self) -> None:
        self.guide.hide()
        self.guide_away.emit()

    def _button(self, text: str, tip: str, signal: SignalInstance) -> QPushButton:
        button = QPushButton(text)
        button.setToolTip(tip)
        sized(button, least_height=44)
        button.clicked.connect(lambda: signal.emit())
        return button

    def show_lists(
        self, recent: Sequence[tuple[Path, dict[str, Any]]], found: Sequence[Found], guided: bool = True
    ) -> None:
        """Show recent jobs, each with what was kept of it, recovery copies, and the guidance or not."""
        self.guide.setVisible(guided)
        clear_layout(self.recent)
        for path, card in recent:
            self.recent.addWidget(self._recent_row(path, card))
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

    def _recent_row(self, path: Path, card: dict[str, Any]) -> QWidget:
        name = str(card.get("name") or path.stem)
        words = f"{card['words']}   " if card.get("words") else ""
        button = QPushButton()
        button.setObjectName("plain")
        sized(button, least_height=54 if card else 30)
        button.setToolTip(f"Open {path}")
        button.setAccessibleName(f"open {name}, {words}{path}")
        button.clicked.connect(lambda: self.path_wanted.emit(path))
        row = QHBoxLayout(button)
        row.setContentsMargins(8, 2, 8, 2)
        if card:
            row.addWidget(BoatCard(card, self._theme))
        column = QVBoxLayout()
        column.setSpacing(0)
        column.addWidget(QLabel(name))
        place = QLabel(f"{words}{path.name}   {path.parent}")
        place.setObjectName("soft")
        column.addWidget(place)
        row.addLayout(column, 1)
        return button

    def _found_card(self, item: Found) -> QWidget:
        when = moment_words(datetime.fromtimestamp(item.when).isoformat())
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
