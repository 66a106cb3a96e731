"""Background work: a pure function out, one queued answer back to the window's thread."""

from __future__ import annotations

import threading
from typing import TYPE_CHECKING, Any

from msgspec import Struct
from PySide6.QtCore import QObject, QRunnable, Qt, QThreadPool, QTimer, Signal

from ribpatch.ui.collecting import share_memory

if TYPE_CHECKING:
    from collections.abc import Callable
    from contextlib import AbstractContextManager


PAUSE = 500  # ms without another, after which work begins that is asked for at each of many changes


class _Answers(QObject):
    # One for all work, with the number of the work: a signal of each would keep what it calls for ever, since neither
    # Python nor Qt sees the whole of that circle.
    done = Signal(int, object, object)


class _Asked(Struct):
    name: str
    steps: Steps | None
    then: Callable[[Any, Exception | None], None]
    finish: bool = False


class _Work(QRunnable):
    def __init__(
        self, number: int, function: Callable[[], Any], answers: _Answers, handing: AbstractContextManager[Any]
    ) -> None:
        super().__init__()
        self._number, self._function, self._answers, self._handing = number, function, answers, handing

    def run(self) -> None:
        with self._handing:
            pass  # what is done before the pool has it wholly is never let go
        try:
            result, error = self._function(), None
        except Exception as caught:
            result, error = None, caught
        self._answers.done.emit(self._number, result, error)


class Cancelled(Exception):
    """The work was called off; nothing of it is used."""


class Steps:
    """How far a piece of work has come, told from its own thread; raises Cancelled there when it is called off."""

    def __init__(self) -> None:
        self.share = 0.0
        self._off = threading.Event()

    def __call__(self, share: float) -> None:
        if self._off.is_set():
            raise Cancelled
        self.share = share

    def go_on(self, share: float) -> bool:
        """Tell how far the work is; False where it is to stop and hand back what it has."""
        self.share = share
        return not self._off.is_set()

    def cancel(self) -> None:
        """Ask the work to stop at its next step."""
        self._off.set()


class Tasks(QObject):
    """Runs functions beside the window. ``then(result, error)`` is called in the window's thread, unless called off."""

    busy = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._aside = QThreadPool(self)
        self._aside.setMaxThreadCount(1)
        self._running: dict[int, _Asked] = {}
        self._held: list[tuple[QThreadPool, _Work]] = []
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE)
        self._pause.timeout.connect(lambda: self._begin_held())
        self._count = 0
        self._answers = _Answers()
        self._handing = threading.Lock()
        self._answers.done.connect(self._done, Qt.ConnectionType.QueuedConnection)
        self._closed = False
        self._pulse = QTimer(self)
        self._pulse.setInterval(120)
        self._pulse.timeout.connect(self._tell)

    def run(self, name: str, function: Callable[[], Any], then: Callable[[Any, Exception | None], None]) -> None:
        """Run ``function`` beside the window; an empty name is not shown as busy."""
        self._run(name, function, then, None)

    def run_steps(
        self,
        name: str,
        function: Callable[[Steps], Any],
        then: Callable[[Any, Exception | None], None],
        off: Callable[[], None] = lambda: None,
        aside: bool = False,
        finish: bool = False,
        pause: bool = False,
    ) -> Steps:
        """Run work that tells how far it is and can be called off (then ``off`` is called); hands back the means to do
        so. ``aside`` is for what goes on for long: nothing waits for it. ``finish`` is for what is written: a window
        that closes waits for it. ``pause`` is for what is asked for anew at each change: the first begins at
        once, others when no more came for a while.
        """
        steps = Steps()

        def work() -> Any:
            steps(0.0)  # it may have been called off while it waited for its turn
            return function(steps)

        def ended(result: Any, error: Exception | None) -> None:
            if isinstance(error, Cancelled):
                off()
            else:
                then(result, error)

        self._run(name, work, ended, steps, self._aside if aside else None, finish, pause)
        return steps

    def cancel(self) -> None:
        """Call off all work that is shown and can be."""
        self._call_off(lambda asked: bool(asked.name))

    def _call_off(self, which: Callable[[_Asked], bool]) -> None:
        for asked in self._running.values():
            if asked.steps is not None and which(asked):
                asked.steps.cancel()

    @property
    def can_cancel(self) -> bool:
        """Whether any running work that is shown can be called off."""
        return any(asked.steps is not None and asked.name for asked in self._running.values())

    def _run(
        self,
        name: str,
        function: Callable[[], Any],
        then: Callable[[Any, Exception | None], None],
        steps: Steps | None,
        pool: QThreadPool | None = None,
        finish: bool = False,
        pause: bool = False,
    ) -> None:
        self._count += 1
        self._running[self._count] = _Asked(name, steps, then, finish)
        self._tell()
        share_memory()
        made = pool or self._pool, _Work(self._count, function, self._answers, self._handing)
        if pause and self._pause.isActive():
            self._held.append(made)
        else:
            self._begin(*made)
        if pause:
            self._pause.start()

    def _begin(self, pool: QThreadPool, work: _Work) -> None:
        with self._handing:
            pool.start(work)

    def _begin_held(self) -> None:
        self._pause.stop()
        while self._held:
            self._begin(*self._held.pop(0))

    def _done(self, number: int, result: Any, error: Exception | None) -> None:
        asked = self._running.pop(number, None)
        if self._closed or asked is None:
            return  # the window that asked is gone
        self._tell()
        asked.then(result, error)

    def wait(self) -> None:
        """Wait for all work, what waits for a pause with it; the answers still come."""
        self._begin_held()
        self._pool.waitForDone()
        self._aside.waitForDone()

    def close(self) -> None:
        """Wait for what is being written, call the rest off and drop all answers: the window is going."""
        self._call_off(lambda asked: not asked.finish)
        self.wait()
        self._pulse.stop()
        self._closed = True

    def _tell(self) -> None:
        if self.can_cancel and not self._pulse.isActive():
            self._pulse.start()
        elif not self.can_cancel:
            self._pulse.stop()
        named = (asked for asked in self._running.values() if asked.name)
        said = (f"{asked.name} {asked.steps.share:.0%}" if asked.steps else asked.name for asked in named)
        self.busy.emit(", ".join(said))
