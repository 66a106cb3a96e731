"""The photographs and recordings of an open job: new ones in memory until the next save, the others in its file."""

from __future__ import annotations

import hashlib
from pathlib import Path

from ribpatch.core.job import Job, members_of
from ribpatch.jobfile.archive import FOLDERS, member_names, members_in


class Album:
    """Members by their name in the job file, ``photographs/…`` and ``recordings/…``."""

    def __init__(self, path: Path | None = None) -> None:
        self.path = path
        self.fresh: dict[str, bytes] = {}

    def add(self, folder: str, data: bytes, suffix: str) -> str:
        """Keep ``data``; the same bytes have the same name. Returns the name inside its folder."""
        assert folder in FOLDERS
        name = hashlib.sha256(data).hexdigest()[:24] + suffix
        self.fresh[folder + name] = data
        return name

    def get(self, name: str) -> bytes | None:
        """The bytes of a member, or None where they are neither here nor in the file."""
        if name in self.fresh:
            return self.fresh[name]
        if self.path is None:
            return None
        return next((data for _, data in members_in(self.path, {name})), None)

    def before_save(self, job: Job) -> None:
        """Take into memory what the file holds and the job no longer refers to: an undo could bring it back."""
        if self.path is not None:
            self.take_over(self.path, members_of(job))

    def take_over(self, path: Path, but: frozenset[str] = frozenset()) -> None:
        """Take all members of a job file into memory, but some."""
        for name, data in members_in(path, member_names(path) - but - self.fresh.keys()):
            self.fresh[name] = data

    def saved_to(self, path: Path, job: Job) -> None:
        """The job now lies in ``path``: what it refers to can be read from there."""
        self.path = path
        for name in members_of(job):
            self.fresh.pop(name, None)
