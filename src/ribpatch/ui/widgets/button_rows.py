"""A row of page buttons, or several rows where one has no room for them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QButtonGroup, QPushButton, QWidget

from ribpatch.ui.widgets.emptying import clear_layout
from ribpatch.ui.widgets.flow import FlowRow

if TYPE_CHECKING:
    from collections.abc import Callable


class ButtonRows(FlowRow):
    """Checkable buttons by their names, one of them down."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.buttons: dict[str, QPushButton] = {}
        self._group: QButtonGroup | None = None

    def set_names(self, names: tuple[str, ...], chosen: Callable[[str], object]) -> None:
        """Offer pages by name; ``chosen(name)`` is called where one is pressed."""
        clear_layout(self.flow)
        if self._group is not None:
            self._group.deleteLater()
        self.buttons, self._group = {}, QButtonGroup(self)
        for name in names:
            button = QPushButton(name[0].upper() + name[1:])
            button.setObjectName("plain")
            button.setCheckable(True)
            button.setToolTip(f"{button.text()} (Ctrl+PgDown goes round)")
            button.clicked.connect(lambda checked=False, n=name: chosen(n))
            self._group.addButton(button)
            self.buttons[name] = button
            self.flow.addWidget(button)
        self.keep_height()
