"""Emptying a layout whose widgets are made anew."""

from __future__ import annotations

from PySide6.QtWidgets import QLayout, QWidget


def clear_layout(layout: QLayout) -> None:
    """Take every widget out of a layout and the layouts in it; each is hidden at once and deleted when Qt is idle.

    Qt lets go of a widget's place in it only where it takes the widget out itself: what ``takeAt`` hands out belongs
    to nobody, and would stay for ever.
    """
    for inner in layout.children():
        if isinstance(inner, QLayout):
            clear_layout(inner)
            layout.removeItem(inner)
            inner.deleteLater()
    room = layout.parentWidget()
    for widget in room.children() if room is not None else ():
        if isinstance(widget, QWidget) and layout.indexOf(widget) >= 0:
            layout.removeWidget(widget)
            widget.hide()
            widget.deleteLater()
    while layout.count():  # what only keeps a distance
        layout.takeAt(0)
