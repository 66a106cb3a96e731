"""Circles of Python objects are let go in the window's thread only.

Python looks for them wherever it happens to be, work beside the window too. Where one of Qt's own objects is among them
it is then taken down in a thread that is not its own, and the program with it. What is let go is given back
to the system.
"""

from __future__ import annotations

import gc
import resource
from functools import cache
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer

from ribpatch.core.memo import halve_all

if TYPE_CHECKING:
    from collections.abc import Callable

EVERY = 1000  # ms between two looks
YOUNG = 50_000  # new objects until they are looked through
MOST_STORES = -8  # M_ARENA_MAX of glibc
MOST_MEMORY = 360 * 2**20  # bytes, over which the older half of what is remembered is forgotten
STORE = 40 * 2**20  # bytes that what is remembered may take again after that
PAGE = resource.getpagesize()
ALL = 12  # times until all are, which takes a tenth of a second


class Collector(QObject):
    """Looks for circles from time to time, in the thread that it was made in; nothing else does from then on."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        gc.disable()
        self._looks = 0
        self._most = MOST_MEMORY
        self._timer = QTimer(self)
        self._timer.timeout.connect(self.look)
        self._timer.start(EVERY)

    def look(self) -> None:
        """Collect what is due."""
        if gc.get_count()[0] >= YOUNG:
            self._looks += 1
            gc.collect(0 if self._looks % ALL else 2)
        give_back()
        taken = resident()
        if taken > self._most:
            halve_all()
            gc.collect()
            give_back()
            # What is left is held by something else than what is remembered: the next time is a store of it later.
            self._most = max(MOST_MEMORY, resident() + STORE)


def resident() -> int:
    """Bytes of memory that the program takes; 0 where the system does not say."""
    try:
        with open("/proc/self/statm", "rb") as stream:
            return int(stream.read().split()[1]) * PAGE
    except (OSError, ValueError, IndexError):
        return 0


def give_back() -> None:
    """Give memory that was let go back to the system, where its allocator can: what threads beside the window let go
    stays with the program otherwise.
    """
    trim = _of_system("malloc_trim")
    if trim is not None:
        trim(0)


@cache
def share_memory() -> None:
    """Have all threads take their memory from one store, from before the first of them does: each would have its own,
    and keep the end of it, tens of MB, whatever is given back.
    """
    option = _of_system("mallopt")
    if option is not None:
        option(MOST_STORES, 1)


@cache
def _of_system(name: str) -> Callable[..., int] | None:
    """A function of the allocator of this system, where it has it."""
    import ctypes

    return getattr(ctypes.CDLL(None), name, None)
