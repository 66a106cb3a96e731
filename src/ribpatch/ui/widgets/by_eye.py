"""The order of Tab as the eye goes: down the column, from left to right, however often rows were built anew."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QAbstractButton, QApplication, QWidget

from ribpatch.ui.within import within

if TYPE_CHECKING:
    from PySide6.QtWidgets import QSplitter

ROW = 12  # pixels of height within which things stand beside each other


def tabbed(widget: QWidget) -> bool:
    """Whether Tab stops at a widget; of buttons of which one is down, it stops at that one."""
    if not (widget.isVisible() and widget.isEnabled() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus):
        return False
    if widget.focusProxy() is not None or widget.isWindow():
        return False
    group = widget.group() if isinstance(widget, QAbstractButton) else None
    down = group.checkedButton() if group is not None and group.exclusive() else None
    return down is None or down is widget


def by_eye(room: QWidget) -> list[QWidget]:
    """What Tab stops at in a column, in the order of the eye."""
    placed = []
    for widget in within(room, shown=True):
        if tabbed(widget):
            at = widget.mapTo(room, QPoint(0, 0))
            placed.append((at.y() + widget.height() // 2, at.x(), widget))
    placed.sort(key=lambda p: p[0])
    rows: list[list[tuple[int, int, QWidget]]] = []
    for one in placed:
        if rows and one[0] - rows[-1][0][0] < ROW:
            rows[-1].append(one)
        else:
            rows.append([one])
    return [w for row in rows for _, _, w in sorted(row, key=lambda p: p[1])]


def next_by_eye(room: QWidget, onward: bool) -> QWidget | None:
    """Where Tab goes from the focus in a column; past its end, what comes after it in the window."""
    here, order = QApplication.focusWidget(), by_eye(room)
    if here is None or (here is not room and here not in order):
        return None
    place = (order.index(here) if here in order else -1) + (1 if onward else -1)
    if 0 <= place < len(order):
        return order[place]
    if place == -1 and here is not room and tabbed(room):
        return room
    beyond = room
    while True:
        after = beyond.nextInFocusChain() if onward else beyond.previousInFocusChain()
        if after is None or after is room:
            return None
        beyond = after
        if not room.isAncestorOf(beyond) and beyond.window() is room.window() and tabbed(beyond):
            return beyond


def parts_by_eye(split: QSplitter) -> None:
    """A splitter keeps its parts the last first; who listens is to meet them as the eye does."""
    for n in range(split.count()):
        for part in (split.handle(n), split.widget(n)):
            if part is not None:
                part.raise_()
