"""A short list with a delete button a row."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QGridLayout, QLabel, QPushButton, QWidget

from ribpatch.ui.scaling import sized
from ribpatch.ui.widgets.emptying import clear_layout

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence


class Rows(QWidget):
    """Rows of text under small headings."""

    def __init__(self, headings: tuple[str, ...], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._headings = headings
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setVerticalSpacing(2)

    def show_rows(self, rows: Sequence[tuple[str, ...]], delete: Callable[[int], object]) -> None:
        """Show rows; ``delete(index)`` is called where a row is to go."""
        clear_layout(self._grid)
        if not rows:
            none = QLabel("none yet")
            none.setObjectName("soft")
            self._grid.addWidget(none, 0, 0)
            return
        for column, heading in enumerate(self._headings):
            label = QLabel(heading)
            label.setObjectName("soft")
            self._grid.addWidget(label, 0, column)
        for index, row in enumerate(rows):
            for column, text in enumerate(row):
                label = QLabel(text)
                label.setWordWrap(column <= 1)
                self._grid.addWidget(label, index + 1, column)
            button = QPushButton("×")
            button.setObjectName("plain")
            sized(button, width=28)
            button.setToolTip(f"Delete {row[0]}; undo brings it back")
            button.setAccessibleName(f"delete {row[0]}")
            button.clicked.connect(lambda checked=False, i=index: delete(i))
            self._grid.addWidget(button, index + 1, len(self._headings))

    def delete_button(self, index: int) -> QPushButton:
        """The delete button of a row."""
        item = self._grid.itemAtPosition(index + 1, len(self._headings))
        widget = item.widget() if item else None
        assert isinstance(widget, QPushButton)
        return widget
