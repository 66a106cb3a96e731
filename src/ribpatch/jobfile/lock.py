"""One writer a job: an advisory lock that the system drops by itself when the program ends, however it ends."""

from __future__ import annotations

import contextlib
import fcntl
import os
from typing import IO, TYPE_CHECKING

from ribpatch.core.errors import FileProblem, JobInUse
from ribpatch.digests import digest_of
from ribpatch.folders import private_folder, user_folder

if TYPE_CHECKING:
    from pathlib import Path


def state_folder() -> Path:
    """Where locks and recovery copies live."""
    return user_folder("STATE")


def key_of(path: Path) -> str:
    """A short name for a job's place on disk."""
    return digest_of(os.fsencode(os.path.realpath(path)), 16)


class JobLock:
    """Holds the lock of one job file, by its real place, until released. Where the folder for locks cannot be used,
    ``fault`` says why and another window would not be noticed.
    """

    def __init__(self, path: Path, folder: Path | None = None) -> None:
        self.path = path
        self.key = key_of(path)
        self.fault: FileProblem | None = None
        self._file: IO[str] | None = None
        folder = (folder or state_folder()) / "locks"
        try:
            private_folder(folder)
            self._file = open(folder / f"{self.key}.lock", "a+")  # noqa: SIM115 - held open as the lock
        except OSError as error:
            self.fault = FileProblem(
                str(folder),
                reason=f"cannot be written ({error.strerror}), so another window with the same job would not be "
                "noticed",
                advice="Mend the folder's permissions.",
            )
            return
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
        with contextlib.suppress(OSError):  # a full disk: the lock holds all the same, only the number is not noted
            self._file.truncate(0)
            self._file.write(str(os.getpid()))
            self._file.flush()

    def release(self) -> None:
        """Let go of the lock."""
        if self._file is not None:
            with contextlib.suppress(OSError):  # what could not be noted on a full disk
                self._file.close()
            self._file = None
