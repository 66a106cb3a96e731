"""A widget that is painted whole in a theme's colours."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget


class Themed(QWidget):
    """Has a name for those who listen, and repaints when its theme changes."""

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.theme = "light"
        self.setAccessibleName(name)

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self.theme = theme
        self.update()
