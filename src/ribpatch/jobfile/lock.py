"""One writer a job: an advisory lock that the system drops by itself when the program ends, however it ends."""

from __future__ import annotations

import fcntl
import hashlib
import os
from pathlib import Path
from typing import IO

from platformdirs import user_state_path

from ribpatch.core.errors import JobInUse


def state_folder() -> Path:
    """Where locks and recovery copies live."""
    return user_state_path("ribpatch", appauthor=False)


def key_of(path: Path) -> str:
    """A short name for a job's place on disk."""
    return hashlib.sha256(str(path.resolve()).encode()).hexdigest()[:16]


class JobLock:
    """Holds the lock of one job file until released."""

    def __init__(self, path: Path, folder: Path | None = None) -> None:
        self.path = path
        folder = (folder or state_folder()) / "locks"
        folder.mkdir(parents=True, exist_ok=True)
        self._file: IO[str] | None = open(folder / f"{key_of(path)}.lock", "a+")  # noqa: SIM115 - held open as the lock
        try:
            fcntl.flock(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            self._file.seek(0)
            holder = self._file.read().strip()
            self.release()
            raise JobInUse(
                path.name,
                reason=f"is open in another Rib Patch{f' (process {holder})' if holder else ''}",
                advice="Close it there first, or open a copy of the file.",
            ) from None
        self._file.truncate(0)
        self._file.write(str(os.getpid()))
        self._file.flush()

    def release(self) -> None:
        """Let go of the lock."""
        if self._file is not None:
            self._file.close()
            self._file = None
