"""A line of words that gives way: what does not fit is left out at its end, and stands whole in its tooltip."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QSize, Qt
from PySide6.QtWidgets import QLabel, QSizePolicy, QWidget

if TYPE_CHECKING:
    from PySide6.QtGui import QResizeEvent


class Elided(QLabel):
    """Shows ``words`` in the room that there is."""

    def __init__(self, words: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.words = ""
        self.say(words)

    def say(self, words: str) -> None:
        """Show other words."""
        if words != self.words:
            self.words = words
            self.setToolTip(words)
            self.setAccessibleName(words)
            self._fit()

    def setText(self, words: str) -> None:
        self.say(words)

    def _fit(self) -> None:
        super().setText(self.fontMetrics().elidedText(self.words, Qt.TextElideMode.ElideRight, self.width()))

    def minimumSizeHint(self) -> QSize:
        return QSize(20, super().minimumSizeHint().height())

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()
