"""Notices that something else changed, replaced or deleted the file of the open job, and says so once."""

from __future__ import annotations

import os
from typing import TYPE_CHECKING

from PySide6.QtCore import QFileSystemWatcher, QObject, QTimer, Signal

if TYPE_CHECKING:
    from ribpatch.ui.session import Session

SETTLE_MS = 300  # a program that replaces a file does it in several steps


class FileWatch(QObject):
    """``noticed`` carries a sentence."""

    noticed = Signal(object)

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._watcher: QFileSystemWatcher | None = None
        self._said = ""
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(SETTLE_MS)
        self._timer.timeout.connect(lambda: self._look())
        session.file_changed.connect(lambda: self._begin())

    def _begin(self) -> None:
        """Watch the job's file, and its folder: a file that is renamed over is another file to the watcher."""
        self._said = ""
        self._let_go()
        if self._session.path is None:
            return
        if self._watcher is None:
            self._watcher = QFileSystemWatcher(self)
            self._watcher.fileChanged.connect(lambda _path: self._timer.start())
            self._watcher.directoryChanged.connect(lambda _path: self._timer.start())
        real = os.path.realpath(self._session.path)
        self._watcher.addPaths([p for p in (real, os.path.dirname(real)) if os.path.exists(p)])

    def _look(self) -> None:
        path, said = self._session.path, self._session.changed_outside
        if path is None or said == self._said:
            return
        self._said = said
        if said:
            self.noticed.emit(
                f"{path.name} {said}. Your work is still open here; saving will ask which of the two is to stay."
            )
        if self._watcher is not None and os.path.exists(real := os.path.realpath(path)):
            self._watcher.addPath(real)

    def stop(self) -> None:
        """Watch no longer."""
        self._timer.stop()
        self._let_go()

    def _let_go(self) -> None:
        if self._watcher is not None and (old := [*self._watcher.files(), *self._watcher.directories()]):
            self._watcher.removePaths(old)
