"""Wrapped words that a scroll area holds by themselves."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QLabel, QWidget

if TYPE_CHECKING:
    from PySide6.QtGui import QShowEvent


class Words(QLabel):
    """Words that were written while they were out of sight ask for their room when they come into it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWordWrap(True)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.updateGeometry()  # Qt passes on nothing of what is asked while hidden in a scroll area
