"""A decision card: heading, its main figure, what it holds, and the warnings that it caused.

A card that folds shows one line when it is folded: its heading, what is chosen in it, and how many warnings stand in
it.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QLayout, QPushButton, QVBoxLayout, QWidget

from ribpatch.ui.widgets.elided import Elided
from ribpatch.ui.widgets.figure_button import FigureButton
from ribpatch.ui.widgets.soft import soft_label

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.figure import Figure
    from ribpatch.core.notice import Notice
    from ribpatch.core.units import System

OPEN, FOLDED = "−", "+"


class Card(QFrame):
    """One decision. ``asked`` carries a figure whose working is wanted, ``turned`` whether it was folded."""

    asked = Signal(object)
    turned = Signal(bool)

    def __init__(
        self,
        title: str,
        about: tuple[str, ...] = (),
        main: str = "",
        parent: QWidget | None = None,
        folds: bool = False,
    ) -> None:
        super().__init__(parent)
        self.setObjectName("card")
        self.title, self.about, self.folds = title, about, folds
        self.setAccessibleName(title)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(12, 8, 12, 9)
        whole.setSpacing(5)
        self._whole = whole
        top = QHBoxLayout()
        top.setSpacing(6)
        self.heading: QPushButton | QLabel = self._fold_button(title) if folds else QLabel(title)
        if not folds:
            self.heading.setObjectName("heading")
        top.addWidget(self.heading)
        self.said = Elided()
        self.said.setObjectName("soft")
        self.said.hide()
        self.count = QLabel()
        self.count.setObjectName("warn")
        self.count.hide()
        top.addWidget(self.said, 1)
        top.addStretch(0 if folds else 1)
        top.addWidget(self.count)
        self._figures: dict[str, FigureButton] = {}
        if main:
            top.addWidget(self._button(main, big=True))
        whole.addLayout(top)
        self.body = QWidget()
        self._layout = QVBoxLayout(self.body)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(5)
        self._notices = QVBoxLayout()
        self._notices.setSpacing(3)
        self._layout.addLayout(self._notices)
        whole.addWidget(self.body)
        self._shown: tuple[Notice, ...] = ()
        self._labels: list[QLabel] = []  # used again: making widgets takes longer than filling them
        self.folded = False

    def _fold_button(self, title: str) -> QPushButton:
        button = QPushButton(f"{OPEN} {title}")
        button.setObjectName("fold")
        button.setToolTip(f"{title}: fold or unfold")
        button.setAccessibleName(f"{title}, unfolded")
        button.clicked.connect(lambda: self.fold(not self.folded))
        return button

    def fold(self, folded: bool) -> None:
        """Show one line only, or all of it."""
        if not self.folds or folded == self.folded:
            return
        self.folded = folded
        self.body.setVisible(not folded)
        self._whole.setContentsMargins(12, 4 if folded else 8, 12, 4 if folded else 9)
        self.heading.setText(f"{FOLDED if folded else OPEN} {self.title}")
        self.heading.setAccessibleName(f"{self.title}, {'folded' if folded else 'unfolded'}")
        self._show_line()
        self.turned.emit(folded)

    def say(self, words: str) -> None:
        """What is chosen here, for when it is folded."""
        self.said.say(words)
        self._show_line()

    def _show_line(self) -> None:
        self.said.setVisible(self.folded and bool(self.said.words))
        self.count.setVisible(self.folded and bool(self._shown))

    def _button(self, key: str, big: bool) -> FigureButton:
        button = FigureButton(big)
        button.asked.connect(self.asked)
        button.about = f"{self.title}: "
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
        label = soft_label(text)
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

    @property
    def notices(self) -> tuple[Notice, ...]:
        """The warnings that stand in it."""
        return self._shown

    def show_notices(self, notices: tuple[Notice, ...]) -> None:
        """Show the warnings of this card."""
        mine = tuple(n for n in notices if n.about in self.about)
        if mine == self._shown:
            return
        self._shown = mine
        while len(self._labels) < len(mine):
            self._labels.append(self._new_label())
        for label, notice in zip(self._labels, mine, strict=False):
            _named(label, "grave" if notice.grave else "warn")
            label.setText(f"⚠ {notice.text} {notice.clears}")
        for number, label in enumerate(self._labels):
            label.setVisible(number < len(mine))
        _named(self.count, "grave" if any(n.grave for n in mine) else "warn")
        self.count.setText(f"⚠ {len(mine)}")
        self._show_line()

    def _new_label(self) -> QLabel:
        label = QLabel()
        # Plain text: laying out rich text takes several times as long, and a name in it may hold any sign.
        label.setTextFormat(Qt.TextFormat.PlainText)
        label.setWordWrap(True)
        self._notices.addWidget(label)
        return label


def _named(label: QLabel, name: str) -> None:
    """Give a label another look."""
    if label.objectName() != name:
        label.setObjectName(name)
        label.style().polish(label)
