"""Emptying a layout whose widgets are made anew."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from PySide6.QtWidgets import QLayout


def clear_layout(layout: QLayout) -> None:
    """Take every widget out of a layout and the layouts in it; each is hidden at once and deleted when Qt is idle."""
    while layout.count():
        item = layout.takeAt(0)
        widget, inner = (item.widget(), item.layout()) if item else (None, None)
        if widget is not None:
            widget.hide()
            widget.deleteLater()
        elif inner is not None:
            clear_layout(inner)
            inner.deleteLater()
