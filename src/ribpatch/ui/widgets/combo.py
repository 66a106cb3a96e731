"""Lists and counts that the wheel cannot change: it scrolls the column that they stand in. And filling a list
quietly.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QComboBox, QSlider, QSpinBox

from ribpatch.ui.scaling import px

if TYPE_CHECKING:
    from collections.abc import Sequence

    from PySide6.QtGui import QWheelEvent


FEW = 6  # letters that a list shows at the least
BESIDE = 34  # pixels of it beside the letters


class Combo(QComboBox):
    """A list to pick from: by its opened list and the keys, never by a wheel that passes over it."""

    def minimumSizeHint(self) -> QSize:
        """As narrow as its least contents: a long name in the list does not widen the column, whatever the look."""
        hint = super().minimumSizeHint()
        least = self.fontMetrics().averageCharWidth() * max(self.minimumContentsLength(), FEW) + px(BESIDE)
        return QSize(min(hint.width(), least), hint.height())

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
