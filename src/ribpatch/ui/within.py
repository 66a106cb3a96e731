"""What lies in a widget.

``findChildren`` would do, but ties what Qt itself made inside of others, as the line of a spin box, to the widget that
was asked, and keeps it there when it is long gone.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QWidget

if TYPE_CHECKING:
    from collections.abc import Iterator


def within(room: QWidget, shown: bool = False) -> Iterator[QWidget]:
    """Every widget in another, each before what lies in it; with ``shown`` only what is not hidden in it."""
    waiting = _in(room, shown)
    while waiting:
        widget = waiting.pop()
        yield widget
        waiting += _in(widget, shown)


def _in(room: QWidget, shown: bool) -> list[QWidget]:
    """What lies in a widget without anything between, the last first."""
    inner = [child for child in room.children() if isinstance(child, QWidget) and not (shown and child.isHidden())]
    return inner[::-1]
