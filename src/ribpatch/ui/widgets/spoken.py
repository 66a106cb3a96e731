"""For those who listen: what happens is announced, and what is painted is offered as children of its canvas.

Nothing is made while no screen reader listens, nor before the window is seen: asking whether one does loads all that
Qt knows of them.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QRect, Qt
from PySide6.QtWidgets import QLabel, QWidget

if TYPE_CHECKING:
    from collections.abc import Sequence

    from PySide6.QtCore import QPointF

SPOT = 16  # pixels of what is told of a place
_seen = {"window": False}


def listened() -> bool:
    """Whether somebody listens, once the window is seen."""
    return _seen["window"] and _active()


def _active() -> bool:
    from PySide6.QtGui import QAccessible

    return QAccessible.isActive()


def begin_to_tell(window: QWidget) -> None:
    """The window is seen: what it paints is told from now on, and what it has painted where somebody listens."""
    _seen["window"] = True
    if listened():
        window.update()


def announce(widget: QWidget, words: str) -> None:
    """Say words at once, wherever the focus is."""
    if words and listened():
        from PySide6.QtGui import QAccessible, QAccessibleAnnouncementEvent

        QAccessible.updateAccessibility(QAccessibleAnnouncementEvent(widget, words))


class Children:
    """Labels without a picture over a painted widget: a screen reader finds them where the thing is painted."""

    def __init__(self, canvas: QWidget) -> None:
        self._canvas = canvas
        self._labels: list[QLabel] = []
        self._told: Sequence[tuple[str, QPointF]] = ()

    def tell(self, items: Sequence[tuple[str, QPointF]]) -> None:
        """Offer these words at these pixels, where they are not what was told last."""
        if items != self._told:
            self._told = items
            self.show(items)

    def show(self, items: Sequence[tuple[str, QPointF]]) -> None:
        """Offer these words at these pixels."""
        while len(self._labels) < len(items):
            self._labels.append(self._made())
        while len(self._labels) > len(items):
            self._labels.pop().deleteLater()
        room = self._canvas.rect()
        for label, (words, at) in zip(self._labels, items, strict=True):
            label.setAccessibleName(words)
            here = QRect(round(at.x()) - SPOT // 2, round(at.y()) - SPOT // 2, SPOT, SPOT)
            label.setVisible(room.intersects(here))
            label.setGeometry(here.intersected(room))

    def _made(self) -> QLabel:
        label = QLabel(self._canvas)
        label.setObjectName("spoken")  # no frame of a style sheet is for it
        label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        label.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        return label
