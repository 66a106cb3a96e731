"""Circles of Python objects are let go in the window's thread only.

Python looks for them wherever it happens to be, work beside the window too. Where one of Qt's own objects is among them
it is then taken down in a thread that is not its own, and the program with it. What is let go is given back
to the system.
"""

from __future__ import annotations

import gc
from functools import cache
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer

if TYPE_CHECKING:
    from collections.abc import Callable

EVERY = 1000  # ms between two looks
YOUNG = 50_000  # new objects until they are looked through
ALL = 12  # times until all are, which takes a tenth of a second


class Collector(QObject):
    """Looks for circles from time to time, in the thread that it was made in; nothing else does from then on."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        gc.disable()
        self._looks = 0
        self._timer = QTimer(self)
        self._timer.timeout.connect(self.look)
        self._timer.start(EVERY)

    def look(self) -> None:
        """Collect what is due."""
        if gc.get_count()[0] >= YOUNG:
            self._looks += 1
            gc.collect(0 if self._looks % ALL else 2)
        give_back()


def give_back() -> None:
    """Give memory that was let go back to the system, where its allocator can: what threads beside the window let go
    stays with the program otherwise.
    """
    trim = _trim()
    if trim is not None:
        trim(0)


@cache
def _trim() -> Callable[[int], int] | None:
    import ctypes

    return getattr(ctypes.CDLL(None), "malloc_trim", None)
