"""The recovery copy, kept by a process that the window cannot hold up: what it was given is written whatever becomes of
the window.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QSocketNotifier, Signal

from ribpatch.jobfile.keeper import Keeper

if TYPE_CHECKING:
    from pathlib import Path


class Keeping(QObject):
    """``done`` carries why the newest copy could not be written, an OSError, or None."""

    done = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._keeper: Keeper | None = None
        self._room: QSocketNotifier | None = None
        self._word: QSocketNotifier | None = None

    def put(self, copy: Path, note: Path, told: str, job: bytes) -> None:
        """Have a copy written; raises OSError where no process can be begun."""
        if self._keeper is None or not self._keeper.alive:
            self._begin()
        assert self._keeper is not None
        self._keeper.put(copy, note, told, job)
        self._wait_for_room()

    @property
    def busy(self) -> bool:
        """Whether a copy is not yet written."""
        return self._keeper is not None and self._keeper.alive and self._keeper.busy

    def _begin(self) -> None:
        self.close()
        self._keeper = Keeper()
        self._room = QSocketNotifier(self._keeper.into, QSocketNotifier.Type.Write, self)
        self._room.setEnabled(False)
        self._room.activated.connect(lambda: self._send())
        self._word = QSocketNotifier(self._keeper.out, QSocketNotifier.Type.Read, self)
        self._word.activated.connect(lambda: self.hear())

    def _send(self) -> None:
        if self._keeper is not None:
            self._keeper.send()
        self._wait_for_room()

    def _wait_for_room(self) -> None:
        if self._room is not None and self._keeper is not None:
            self._room.setEnabled(self._keeper.unsent)

    def hear(self) -> None:
        """Take what the process says."""
        if self._keeper is None:
            return
        said = self._keeper.hear()
        if not said and self._word is not None and not self._keeper.alive:
            self._word.setEnabled(False)
        if said and (said[-1] is not None or not self._keeper.busy):
            self.done.emit(said[-1])

    def close(self) -> None:
        """Have what was given written, and end the process."""
        for notifier in (self._room, self._word):
            if notifier is not None:
                notifier.setEnabled(False)
                notifier.deleteLater()
        self._room = self._word = None
        if self._keeper is not None:
            self._keeper.close()
            self._keeper = None
