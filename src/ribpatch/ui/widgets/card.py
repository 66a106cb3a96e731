"""A decision card: heading, its main figure, what it holds, and the warnings that it caused."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QLayout, QVBoxLayout, QWidget

from ribpatch.ui.widgets.figure_button import FigureButton

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.figure import Figure
    from ribpatch.core.notice import Notice
    from ribpatch.core.units import System


class Card(QFrame):
    """One decision. ``asked`` carries a figure whose working is wanted."""

    asked = Signal(object)

    def __init__(self, title: str, about: tuple[str, ...] = (), main: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("card")
        self.about = about
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(12, 8, 12, 9)
        self._layout.setSpacing(5)
        top = QHBoxLayout()
        self.heading = QLabel(title)
        self.heading.setObjectName("heading")
        top.addWidget(self.heading)
        top.addStretch(1)
        self._figures: dict[str, FigureButton] = {}
        if main:
            top.addWidget(self._button(main, big=True))
        self._layout.addLayout(top)
        self._notices = QVBoxLayout()
        self._notices.setSpacing(3)
        self._layout.addLayout(self._notices)
        self._shown: tuple[Notice, ...] = ()
        self._labels: list[QLabel] = []  # used again: making widgets takes longer than filling them

    def _button(self, key: str, big: bool) -> FigureButton:
        button = FigureButton(big)
        button.asked.connect(self.asked)
        self._figures[key] = button
        return button

    def add(self, item: QWidget | QLayout) -> None:
        """Add a widget or layout above the warnings."""
        place = self._layout.indexOf(self._notices)
        if isinstance(item, QWidget):
            self._layout.insertWidget(place, item)
        else:
            self._layout.insertLayout(place, item)

    def add_text(self, text: str) -> QLabel:
        """Add a soft line of explanation."""
        label = QLabel(text)
        label.setObjectName("soft")
        label.setWordWrap(True)
        self.add(label)
        return label

    def push_up(self) -> None:
        """Keep everything at the top of a card that is taller than what it holds."""
        self._layout.addStretch(1)

    def add_figure(self, label: str, key: str) -> None:
        """Add a labelled figure."""
        row = QHBoxLayout()
        words = QLabel(label)
        row.addWidget(words)
        row.addStretch(1)
        row.addWidget(self._button(key, big=False))
        self.add(row)

    def show_figures(self, figure: Callable[[str], Figure | None], system: System) -> None:
        """Show the figures of this card; ``figure`` gives the one of a key."""
        for key, button in self._figures.items():
            button.show_figure(figure(key), system)

    def show_notices(self, notices: tuple[Notice, ...]) -> None:
        """Show the warnings of this card."""
        mine = tuple(n for n in notices if n.about in self.about)
        if mine == self._shown:
            return
        self._shown = mine
        while len(self._labels) < len(mine):
            self._labels.append(self._new_label())
        for label, notice in zip(self._labels, mine, strict=False):
            name = "grave" if notice.grave else "warn"
            if label.objectName() != name:
                label.setObjectName(name)
                label.style().polish(label)
            label.setText(f"⚠ {notice.text} {notice.clears}")
        for number, label in enumerate(self._labels):
            label.setVisible(number < len(mine))

    def _new_label(self) -> QLabel:
        label = QLabel()
        # Plain text: laying out rich text takes several times as long, and a name in it may hold any sign.
        label.setTextFormat(Qt.TextFormat.PlainText)
        label.setWordWrap(True)
        self._notices.addWidget(label)
        return label
