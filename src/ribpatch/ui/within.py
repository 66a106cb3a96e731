"""What lies in a widget.

``findChildren`` would do, but ties what Qt itself made inside of others, as the line of a spin box, to the widget that
was asked, and keeps it there when it is long gone.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QWidget

if TYPE_CHECKING:
    from collections.abc import Iterator


def within(room: QWidget) -> Iterator[QWidget]:
    """Every widget in another, each before what lies in it."""
    for child in room.children():
        if isinstance(child, QWidget):
            yield child
            yield from within(child)


def shown_in(room: QWidget) -> Iterator[QWidget]:
    """What lies in a widget with nothing between, but what is hidden there or a window of its own."""
    for child in room.children():
        if isinstance(child, QWidget) and not child.isHidden() and not child.isWindow():
            yield child
