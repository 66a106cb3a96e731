"""A figure on screen: its value, and its working on a click or F2."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QPushButton, QWidget

if TYPE_CHECKING:
    from PySide6.QtGui import QKeyEvent

    from ribpatch.core.figure import Figure
    from ribpatch.core.units import System


class FigureButton(QPushButton):
    """Shows one figure; ``asked`` carries it when its working is wanted."""

    asked = Signal(object)

    def __init__(self, big: bool = False, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setText("–")  # not as it is made: that loads all that icons know
        self.setObjectName("big" if big else "figure")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._figure: Figure | None = None
        self.about = ""  # said before its name, where another figure of that name stands near
        self.clicked.connect(lambda: self._ask())

    @property
    def figure(self) -> Figure | None:
        """The figure shown."""
        return self._figure

    def show_figure(self, figure: Figure | None, system: System) -> None:
        """Show a figure, or a dash."""
        text = figure.shown(system) if figure else "–"
        same = text == self.text() and (figure and figure.name) == (self._figure and self._figure.name)
        self._figure = figure
        if same and self.isEnabled() == (figure is not None):
            return  # setting what is already there would lay the whole card out again
        self.setText(text)
        self.setEnabled(figure is not None)
        self.setToolTip(f"{figure.name}: show the working (click or F2)" if figure else "")
        self.setAccessibleName(f"{self.about}{figure.name} {self.text()}" if figure else f"{self.about}no figure")

    def _ask(self) -> None:
        if self._figure is not None:
            self.asked.emit(self._figure)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_F2:
            self._ask()
            return
        super().keyPressEvent(event)
