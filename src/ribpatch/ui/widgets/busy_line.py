"""What runs beside the window, how far it is, and the button that stops it."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget


class BusyLine(QWidget):
    """Hidden while nothing runs."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.words = QLabel("")
        self.words.setObjectName("soft")
        self.stop = QPushButton("Stop")
        self.stop.setToolTip("Call off what is running; nothing of it is used")
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 0, 12, 2)
        row.addWidget(self.words, 1)
        row.addWidget(self.stop)

    def show_busy(self, text: str, can_stop: bool) -> None:
        """Show what runs; nothing for an empty text."""
        self.words.setText(f"{text}…" if text else "")
        self.stop.setVisible(can_stop)
        self.setVisible(bool(text))
