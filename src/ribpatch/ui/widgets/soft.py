"""Soft words: a line of explanation beside what it explains."""

from __future__ import annotations

from PySide6.QtWidgets import QLabel


def soft_label(text: str = "", wraps: bool = True) -> QLabel:
    """A label in small soft letters."""
    label = QLabel(text)
    label.setObjectName("soft")
    label.setWordWrap(wraps)
    return label
