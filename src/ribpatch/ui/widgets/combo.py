"""Lists and counts that the wheel cannot change: it scrolls the column that they stand in. And filling a list
quietly.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QComboBox, QSlider, QSpinBox

if TYPE_CHECKING:
    from collections.abc import Sequence

    from PySide6.QtGui import QWheelEvent


class Combo(QComboBox):
    """A list to pick from: by its opened list and the keys, never by a wheel that passes over it."""

    def wheelEvent(self, event: QWheelEvent) -> None:
        event.ignore()  # what is opened scrolls by itself


class Count(QSpinBox):
    """A whole number, typed or stepped by the keys and buttons, never by a wheel that passes over it."""

    def wheelEvent(self, event: QWheelEvent) -> None:
        event.ignore()


class Slide(QSlider):
    """A slider, dragged or stepped by the keys, never by a wheel that passes over it."""

    def wheelEvent(self, event: QWheelEvent) -> None:
        event.ignore()


def show_items(box: QComboBox, items: Sequence[tuple[object, str]]) -> bool:
    """Show (data, text) pairs; whether they are other ones than before."""
    if [(box.itemData(i), box.itemText(i)) for i in range(box.count())] == list(items):
        return False
    box.clear()
    for data, text in items:
        box.addItem(text, data)
    return True
