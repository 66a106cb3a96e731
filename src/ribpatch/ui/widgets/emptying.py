"""Emptying a layout whose widgets are made anew."""

from __future__ import annotations

from PySide6.QtWidgets import QLayout, QWidget


def clear_layout(layout: QLayout) -> None:
    """Take every widget out of a layout and the layouts in it; each is hidden at once and deleted when Qt is idle.

    A widget is taken out by name, so that Qt deletes its place: the one that ``takeAt`` hands out belongs to nobody
    and stays for ever.
    """
    for inner in layout.children():
        if isinstance(inner, QLayout):
            clear_layout(inner)
    room = layout.parentWidget()
    for widget in room.children() if room is not None else ():
        if isinstance(widget, QWidget) and layout.indexOf(widget) >= 0:
            layout.removeWidget(widget)
            widget.hide()
            widget.deleteLater()
    while layout.count():  # layouts, and what only keeps a distance
        item = layout.takeAt(0)
        taken = item.layout() if item else None
        if taken is not None:
            taken.deleteLater()
