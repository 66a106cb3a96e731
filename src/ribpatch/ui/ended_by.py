"""A signal to end (a log-out, Ctrl+C, kill) ends the program cleanly: work that is not saved is kept for recovery, and
the exit code is the usual one of the signal.
"""

from __future__ import annotations

import os
import signal
import socket
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QSocketNotifier

if TYPE_CHECKING:
    from ribpatch.ui.window import Window

ENDING = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


class EndedBy(QObject):
    """Wakes Qt's loop when a signal has come, which Python hears only when Qt hands over to it."""

    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self._window = window
        self._read, self._write = socket.socketpair()
        self._write.setblocking(False)
        self._notifier = QSocketNotifier(self._read.fileno(), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(lambda: self._came())
        for number in ENDING:
            signal.signal(number, lambda _number, _frame: None)
        signal.set_wakeup_fd(self._write.fileno(), warn_on_full_buffer=False)

    def _came(self) -> None:
        number = self._read.recv(1)[0]
        if number in ENDING:
            self._window.documents.leave_for_recovery()
            os._exit(128 + number)  # whatever is at work beside the window ends with it
