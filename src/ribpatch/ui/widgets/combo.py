"""Filling a list to pick from without disturbing it while nothing changed."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QComboBox


def show_items(box: QComboBox, items: Sequence[tuple[object, str]]) -> bool:
    """Show (data, text) pairs; whether they are other ones than before."""
    if [(box.itemData(i), box.itemText(i)) for i in range(box.count())] == list(items):
        return False
    box.clear()
    for data, text in items:
        box.addItem(text, data)
    return True
