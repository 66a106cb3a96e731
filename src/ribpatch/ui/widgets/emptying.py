"""Emptying a layout whose widgets are made anew."""

from __future__ import annotations

from PySide6.QtWidgets import QLayout


def empty(layout: QLayout) -> None:
    """Take every widget out of a layout; each is hidden at once and deleted when Qt is idle."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()
