"""Turning the keys back to where they were."""

from __future__ import annotations

from typing import TYPE_CHECKING

from shiboken6 import isValid

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget


def give_back(before: QWidget | None) -> None:
    """Give the keys to a widget that had them, as far as it is still there."""
    if before is not None and isValid(before) and before.isVisible():
        before.setFocus()
