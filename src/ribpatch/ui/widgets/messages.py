"""The message bar over the bench: one plain sentence, never a box in the way."""

from __future__ import annotations

from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QWidget

from ribpatch.ui.widgets.spoken import announce


class MessageBar(QFrame):
    """Shows one sentence until it is put away or replaced."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("message")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(10, 4, 6, 4)
        self.label = QLabel()
        self.label.setWordWrap(True)
        close = QPushButton("Close")
        close.setObjectName("plain")
        close.setAccessibleName("close the message")
        close.clicked.connect(lambda: self.hide())
        layout.addWidget(self.label, 1)
        layout.addWidget(close)
        self.hide()

    def tell(self, text: str) -> None:
        """Show a sentence."""
        self.label.setText(text)
        self.setVisible(bool(text))
        announce(self, text)
