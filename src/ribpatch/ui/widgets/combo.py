"""Lists and counts that the wheel cannot change: it scrolls the column that they stand in. And filling a list
quietly.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QSize, Qt
from PySide6.QtGui import QHelpEvent
from PySide6.QtWidgets import QComboBox, QSlider, QSpinBox, QStyle, QStyleOptionComboBox, QToolTip

from ribpatch.ui.scaling import px

if TYPE_CHECKING:
    from collections.abc import Sequence

    from PySide6.QtGui import QWheelEvent


FEW = 6  # letters that a list shows at the least
INSIDE = 2  # pixels between the field and its words
BESIDE = 34  # pixels of it beside the letters


class Combo(QComboBox):
    """A list to pick from: by its opened list and the keys, never by a wheel that passes over it. What does not fit of
    the words chosen stands whole in its tooltip.
    """

    def minimumSizeHint(self) -> QSize:
        """As narrow as its least contents: a long name in the list does not widen the column, whatever the look."""
        hint = super().minimumSizeHint()
        least = self.fontMetrics().averageCharWidth() * max(self.minimumContentsLength(), FEW) + px(BESIDE)
        return QSize(min(hint.width(), least), hint.height())

    def wheelEvent(self, event: QWheelEvent) -> None:
        event.ignore()  # what is opened scrolls by itself

    def initStyleOption(self, option: QStyleOptionComboBox) -> None:
        super().initStyleOption(option)
        option.currentText = self._fitting(option)

    def _fitting(self, option: QStyleOptionComboBox) -> str:
        """The words of what is chosen, as many of them as there is room for."""
        field = self.style().subControlRect(
            QStyle.ComplexControl.CC_ComboBox, option, QStyle.SubControl.SC_ComboBoxEditField, self
        )
        return self.fontMetrics().elidedText(self.currentText(), Qt.TextElideMode.ElideRight, field.width() - INSIDE)

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            option = QStyleOptionComboBox()
            self.initStyleOption(option)
            words, tip = self.currentText(), self.toolTip()
            if option.currentText != words and not tip.startswith(words):
                QToolTip.showText(event.globalPos(), f"{words}\n{tip}".strip(), self)
                return True
        return super().event(event)


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
