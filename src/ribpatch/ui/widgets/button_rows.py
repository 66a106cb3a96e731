"""A row of page buttons, or two rows where one has no room for them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ribpatch.ui.widgets.emptying import clear_layout

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtGui import QResizeEvent


class ButtonRows(QWidget):
    """Checkable buttons by their names, one of them down."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.buttons: dict[str, QPushButton] = {}
        self._group: QButtonGroup | None = None
        self._rows = (QHBoxLayout(), QHBoxLayout())
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        for row in self._rows:
            row.setContentsMargins(0, 0, 0, 0)
            row.setSpacing(4)
            column.addLayout(row)

    def set_names(self, names: tuple[str, ...], chosen: Callable[[str], object]) -> None:
        """Offer pages by name; ``chosen(name)`` is called where one is pressed."""
        for row in self._rows:
            clear_layout(row)
        self.buttons, self._group = {}, QButtonGroup(self)
        for name in names:
            button = QPushButton(name[0].upper() + name[1:])
            button.setObjectName("plain")
            button.setCheckable(True)
            button.setToolTip(f"{button.text()} (Ctrl+PgDown goes round)")
            button.clicked.connect(lambda checked=False, n=name: chosen(n))
            self._group.addButton(button)
            self.buttons[name] = button
        self._arrange()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._arrange()

    def _arrange(self) -> None:
        """One row as long as there is room, the rest below."""
        for row in self._rows:
            while row.count():
                row.takeAt(0)
        room, here = self.width(), self._rows[0]
        for button in self.buttons.values():
            room -= button.sizeHint().width() + here.spacing()
            here = here if room >= 0 else self._rows[1]
            here.addWidget(button)
        for row in self._rows:
            row.addStretch(1)
