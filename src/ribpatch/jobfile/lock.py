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


def file_key(path: Path) -> str:
    """A short name for the file itself, by whatever name it is reached; empty where there is none."""
    try:
        status = path.stat()
    except OSError:
        return ""
    return digest_of(f"{status.st_dev} {status.st_ino}".encode(), 16)


class JobLock:
    """Holds the locks of one job until released: of its real place, and of the file itself, which may have another name
    (a hard link). Where the folder for locks cannot be used, ``fault`` says why and another window would not be
    noticed.
    """

    def __init__(self, path: Path, folder: Path | None = None) -> None:
        self.path = path
        self.key = key_of(path)
        self.fault: FileProblem | None = None
        self._folder = (folder or state_folder()) / "locks"
        self._held: dict[str, IO[str]] = {}
        try:
            private_folder(self._folder)
            for key in filter(None, (self.key, file_key(path))):
                self._take(key)
        except OSError as error:
            self.fault = FileProblem(
                str(self._folder),
                reason=f"cannot be written ({error.strerror}), so another window with the same job would not be "
                "noticed",
                advice="Mend the folder's permissions.",
            )

    def _take(self, key: str) -> None:
        """Take one lock; raises OSError where there can be none, JobInUse where another holds it."""
        held = open(self._folder / f"{key}.lock", "a+")  # noqa: SIM115 - held open as the lock
        try:
            fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            held.seek(0)
            holder = held.read().strip()
            held.close()
            self.release()
            raise JobInUse(
                self.path.name,
                reason=f"is open in another Rib Patch{f' (process {holder})' if holder else ''}",
                advice="Close it there first, or open a copy of the file.",
            ) from None
        self._held[key] = held
        with contextlib.suppress(OSError):  # a full disk: the lock holds all the same, only the number is not noted
            held.truncate(0)
            held.write(str(os.getpid()))
            held.flush()

    def renew(self) -> None:
        """The file was written anew: hold the lock of the one that is there now."""
        now = file_key(self.path)
        for key in [k for k in self._held if k not in (self.key, now)]:
            self._drop(key)
        if now and now not in self._held and self.fault is None:
            with contextlib.suppress(OSError, JobInUse):  # it is this window's own file, whoever else says so
                self._take_kept(now)

    def _take_kept(self, key: str) -> None:
        """Take one more lock, and keep the others where it cannot be had."""
        others, self._held = self._held, {}
        try:
            self._take(key)
        finally:
            self._held |= others

    def _drop(self, key: str) -> None:
        with contextlib.suppress(OSError):  # what could not be noted on a full disk
            self._held.pop(key).close()

    def release(self) -> None:
        """Let go of the locks."""
        for key in list(self._held):
            self._drop(key)
