"""Background work: a pure function out, one queued answer back to the window's thread."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, QRunnable, Qt, QThreadPool, Signal


class _Answer(QObject):
    done = Signal(object, object)


class _Work(QRunnable):
    def __init__(self, function: Callable[[], Any], answer: _Answer) -> None:
        super().__init__()
        self._function, self._answer = function, answer

    def run(self) -> None:
        try:
            result, error = self._function(), None
        except Exception as caught:
            result, error = None, caught
        self._answer.done.emit(result, error)


class Tasks(QObject):
    """Runs functions beside the window. ``then(result, error)`` is called in the window's thread, unless cancelled."""

    busy = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._running: dict[_Answer, str] = {}
        self._closed = False

    def run(self, name: str, function: Callable[[], Any], then: Callable[[Any, Exception | None], None]) -> None:
        """Run ``function`` beside the window; an empty name is not shown as busy."""
        answer = _Answer()
        self._running[answer] = name

        def finish(result: Any, error: Exception | None) -> None:
            if self._closed:
                return  # the window that asked is gone
            self._running.pop(answer, None)
            self._tell()
            then(result, error)

        answer.done.connect(finish, Qt.ConnectionType.QueuedConnection)
        self._tell()
        self._pool.start(_Work(function, answer))

    def wait(self) -> None:
        """Wait for all running work; its answers still come."""
        self._pool.waitForDone()

    def close(self) -> None:
        """Wait for all running work and drop its answers: the window is going."""
        self.wait()
        self._closed = True

    def _tell(self) -> None:
        self.busy.emit(", ".join(name for name in self._running.values() if name))
