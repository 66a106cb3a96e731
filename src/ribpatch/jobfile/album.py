"""The photographs and recordings of an open job: new ones in memory until the next save, the others in its file.

The file is held open from the start, so that what lies in it can be read after it was deleted or replaced from outside;
what was read once stays in memory up to a limit, for a file that was cut short.
"""

from __future__ import annotations

import contextlib
import threading
from collections import OrderedDict
from typing import TYPE_CHECKING

from ribpatch.core.job import Job, members_of
from ribpatch.digests import digest_of
from ribpatch.jobfile.archive import FOLDERS, FileMembers

if TYPE_CHECKING:
    from pathlib import Path

MOST_KEPT = 256 * 2**20


def damaged_folder(path: Path) -> Path:
    """Where what is left of damaged photographs of a job file is put."""
    return path.with_name(f"{path.stem} damaged photographs")


def members_folder(copy: Path) -> Path:
    """Where the photographs and recordings of a recovery copy lie."""
    return copy.with_suffix(".members")


class Album:
    """Members by their name in the job file, ``photographs/…`` and ``recordings/…``.

    ``spare`` is a folder with copies of members (the recovery copy's), asked where the file itself gives nothing.
    """

    def __init__(self, path: Path | None = None) -> None:
        self.path = path
        self.spare: Path | None = None
        self.fresh: dict[str, bytes] = {}
        self._file = FileMembers.of(path)
        self._read: OrderedDict[str, bytes] = OrderedDict()
        self._lock = threading.RLock()  # the recovery copy is written beside the window

    def add(self, folder: str, data: bytes, suffix: str) -> str:
        """Keep ``data``; the same bytes have the same name. Returns the name inside its folder."""
        assert folder in FOLDERS
        name = digest_of(data, 24) + suffix
        self.fresh[folder + name] = data
        return name

    def get(self, name: str, /) -> bytes | None:
        """The bytes of a member, or None where they are neither here nor in the file."""
        with self._lock:
            found = self.fresh.get(name)
            if found is None:
                found = self._read.get(name)
            if found is None:
                found = self._file.get(name)
                if found is None:
                    found = self._elsewhere(name)
                if found is not None:
                    self._keep(name, found)
            return found

    def _elsewhere(self, name: str) -> bytes | None:
        """A member from the file as it is now (it may have been put right since), or from the spare copies."""
        if self.path is not None and self.path.is_file():
            now = FileMembers.of(self.path)
            try:
                found = now.get(name)
            finally:
                now.close()
            if found is not None:
                return found
        if self.spare is None:
            return None
        try:
            return (self.spare / name).read_bytes()
        except OSError:
            return None

    def _keep(self, name: str, data: bytes) -> None:
        self._read[name] = data
        while len(self._read) > 1 and sum(map(len, self._read.values())) > MOST_KEPT:
            self._read.popitem(last=False)

    @property
    def damaged(self) -> dict[str, str]:
        """Members that were asked for and could not be read, with the reason."""
        return dict(self._file.damaged)

    def set_aside(self, names: tuple[str, ...], folder: Path) -> tuple[Path, ...]:
        """Write what is left of damaged members into ``folder``, to be looked at; what cannot be is passed over."""
        written = []
        for name in names:
            left = self._file.undecoded(name) if name in self._file.damaged else None
            place = folder / name.replace("/", "-")
            if left is None:
                continue
            try:
                folder.mkdir(exist_ok=True)
                if not place.exists():
                    place.write_bytes(left)
            except OSError:
                continue
            written.append(place)
        return tuple(written)

    def keep_all(self, job: Job) -> None:
        """Take into memory all that a job refers to, before its file is read anew."""
        self._take(members_of(job))

    def before_save(self, job: Job) -> None:
        """Take into memory what the file holds and the job no longer refers to: an undo could bring it back."""
        self._take(self._file.names - members_of(job))

    def take_over(self, path: Path) -> None:
        """Take all members of a job file, or of a recovery copy with the folder of members beside it, into memory."""
        for place in sorted(members_folder(path).glob("*/*")):
            with contextlib.suppress(OSError):
                self.fresh.setdefault(f"{place.parent.name}/{place.name}", place.read_bytes())
        other = FileMembers.of(path)
        try:
            for name in sorted(other.names - self.fresh.keys()):
                data = other.get(name)
                if data is not None:
                    self.fresh[name] = data
        finally:
            other.close()

    def _take(self, names: frozenset[str]) -> None:
        for name in sorted(names - self.fresh.keys()):
            data = self.get(name)
            if data is not None:
                self.fresh[name] = data

    def saved_to(self, path: Path, job: Job, left_out: tuple[str, ...] = ()) -> None:
        """The job now lies in ``path``: what it refers to can be read from there, but for what was left out."""
        with self._lock:
            self._turn_to(path, job, left_out)

    def _turn_to(self, path: Path, job: Job, left_out: tuple[str, ...]) -> None:
        self.path = path
        self._file.close()
        damaged = {name: why for name, why in self._file.damaged.items() if name in left_out}
        self._file = FileMembers.of(path)
        self._file.damaged.update(damaged)
        for name in members_of(job) - set(left_out):
            self.fresh.pop(name, None)
