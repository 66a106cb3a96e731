"""The order of Tab as the eye goes, however often rows were built anew: part by part, in each from the top, row by row
and column by column where rows do not go through.
"""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractScrollArea,
    QApplication,
    QComboBox,
    QLineEdit,
    QScrollArea,
    QSplitter,
    QWidget,
)

from ribpatch.ui.within import shown_in

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

LAP = 4  # pixels that rows or columns may lie over each other


class Unit(NamedTuple):
    """What Tab goes through in one go, and where it lies in its room."""

    box: QRect
    stops: list[QWidget]


def tabbed(widget: QWidget) -> bool:
    """Whether Tab stops at a widget; of buttons of which one is down, it stops at that one."""
    if not (widget.isVisible() and widget.isEnabled()) or widget.isWindow():
        return False
    group = widget.group() if isinstance(widget, QAbstractButton) else None
    down = group.checkedButton() if group is not None and group.exclusive() else None
    if down is None:
        return bool(widget.focusPolicy() & Qt.FocusPolicy.TabFocus)
    # Qt leaves Tab to the one of a group that had the keys last, whichever is down since.
    return down is widget and widget.focusPolicy() != Qt.FocusPolicy.NoFocus


def by_eye(room: QWidget) -> list[QWidget]:
    """What Tab stops at in a part of the window, in the order of the eye."""
    return [stop for unit in _ordered(list(_units(room, room))) for stop in unit.stops]


def _units(part: QWidget, room: QWidget) -> Iterator[Unit]:
    """What lies in a part of a room. What scrolls, the parts beside a line that can be moved, and what holds others
    while Tab stops at it too are gone through before anything else is.
    """
    for child in shown_in(part):
        stops = [child] if tabbed(child) else []
        whole = isinstance(child, _whole())
        if whole or stops or isinstance(child, QAbstractScrollArea) or isinstance(part, QSplitter):
            stops += [] if whole else by_eye(child)
            if stops:
                yield Unit(QRect(child.mapTo(room, QPoint(0, 0)), child.size()), stops)
        else:
            yield from _units(child, room)


@cache
def _whole() -> tuple[type[QWidget], ...]:
    """Kinds of widgets in which all is Qt's own, and not asked; the start does without one of them."""
    from PySide6.QtWidgets import QAbstractSpinBox

    return QAbstractButton, QAbstractSpinBox, QComboBox, QLineEdit


def _ordered(units: list[Unit]) -> list[Unit]:
    """Rows from the top where a line parts them from side to side, else columns from the left, each in order."""
    if len(units) < 2:
        return units
    for down in (True, False):
        parts = _parted(units, down)
        if len(parts) > 1:
            return [unit for part in parts for unit in _ordered(part)]
    return sorted(units, key=lambda u: (u.box.top(), u.box.left()))


def _parted(units: list[Unit], down: bool) -> list[list[Unit]]:
    spans = sorted(
        ((u.box.top(), u.box.bottom()) if down else (u.box.left(), u.box.right()), n) for n, u in enumerate(units)
    )
    parts: list[list[Unit]] = []
    reached = 0
    for (start, end), n in spans:
        if parts and start <= reached - LAP:
            parts[-1].append(units[n])
            reached = max(reached, end)
        else:
            parts.append([units[n]])
            reached = end
    return parts


def stops_in(room: QWidget) -> list[QWidget]:
    """What Tab stops at in a part of the window, itself first where it does."""
    return ([room] if tabbed(room) else []) + by_eye(room)


def next_by_eye(rooms: Sequence[QWidget], onward: bool) -> QWidget | None:
    """Where Tab goes from the focus in parts of a window that follow each other; round again past the last of them.
    None where the focus is in none of them.
    """
    here = QApplication.focusWidget()
    if here is None or not here.isVisible():  # it is being hidden, as what is to be deleted is: nothing is asked of it
        return None
    at = next((n for n, room in enumerate(rooms) if here is room or room.isAncestorOf(here)), None)
    if at is None:
        return None
    order = stops_in(rooms[at])
    if here is not rooms[at] and here not in order:
        return None
    step = 1 if onward else -1
    place = (order.index(here) if here in order else -1) + step
    if 0 <= place < len(order):
        return order[place]
    for other in (rooms[(at + step * k) % len(rooms)] for k in range(1, len(rooms) + 1)):
        if stops := stops_in(other):
            return stops[0 if onward else -1]
    return None


def turn_to(widget: QWidget, room: QWidget, onward: bool) -> None:
    """Give a widget in a room the keys as Tab does, and scroll it into view."""
    widget.setFocus(Qt.FocusReason.TabFocusReason if onward else Qt.FocusReason.BacktabFocusReason)
    # From the room down: to ask for parents ties what Qt itself made to them, as within tells.
    holds: QWidget | None = room
    while holds is not None:
        if isinstance(holds, QScrollArea):
            holds.ensureWidgetVisible(widget)
        holds = next((child for child in shown_in(holds) if child.isAncestorOf(widget)), None)


def parts_by_eye(split: QSplitter) -> None:
    """A splitter keeps its parts the last first; who listens is to meet them as the eye does."""
    for n in range(split.count()):
        for part in (split.handle(n), split.widget(n)):
            if part is not None:
                part.raise_()
