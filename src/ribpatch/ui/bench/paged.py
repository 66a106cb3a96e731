"""A bench of several pages under a row of their names; Ctrl+PgDown goes round in them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QStackedWidget, QVBoxLayout, QWidget

from ribpatch.ui.widgets.button_rows import ButtonRows
from ribpatch.ui.widgets.scrolled import Scrolled

if TYPE_CHECKING:
    from PySide6.QtWidgets import QPushButton


class PagedBench(QWidget):
    """``asked`` carries the id of a figure."""

    asked = Signal(object)
    page_wanted = Signal()  # another page was asked for, from wherever

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.pages = QStackedWidget()
        self._names: tuple[str, ...] = ()
        self._bar = ButtonRows()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.addWidget(self._bar)
        self._column.addWidget(self.pages, 1)

    def set_pages(self, names: tuple[str, ...], pages: tuple[QWidget, ...]) -> None:
        """Take the pages, and turn to the first."""
        self._names = names
        self._bar.set_names(names, lambda name: self.show_page(names.index(name)))
        for page in pages:
            room = Scrolled(self.pages)
            room.hold(page)
            self.pages.addWidget(room)
        self.show_page(0)

    def button(self, name: str) -> QPushButton:
        """The button of a page."""
        return self._bar.buttons[name]

    @property
    def below(self) -> PagedBench:
        """What Ctrl+PgDown goes round in."""
        return self

    def next_page(self) -> None:
        """Turn to the page after this one, round and round."""
        self.show_page((self.pages.currentIndex() + 1) % len(self._names))
        self.page_wanted.emit()

    def show_page(self, number: int) -> None:
        """Turn to a page."""
        self._bar.buttons[self._names[number]].setChecked(True)
        self.pages.setCurrentIndex(number)
        self.turned(number)

    def turned(self, number: int) -> None:
        """Called where a page was turned to; most fill their pages with each plan."""
