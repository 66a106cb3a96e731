"""Autosave copies, and what is found of them after a crash.

Each running window keeps one copy, written atomically, with a lock that dies with the process. A copy whose lock is
free belongs to a window that ended without closing: it can be recovered.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import uuid
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from ribpatch.core.job import Job
from ribpatch.jobfile import archive
from ribpatch.jobfile.lock import state_folder


@dataclass(frozen=True)
class Found:
    """A recovery copy left by a window that ended without closing."""

    copy: Path
    original: Path | None
    name: str
    when: float


class Autosave:
    """The recovery copy of one window."""

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = (folder or state_folder()) / "recovery"
        self._folder.mkdir(parents=True, exist_ok=True)
        self._stem = self._folder / uuid.uuid4().hex
        self._lock: IO[str] = open(self._stem.with_suffix(".lock"), "w")  # noqa: SIM115 - held open as the lock
        fcntl.flock(self._lock, fcntl.LOCK_EX)

    def write(self, job: Job, original: Path | None, album: Mapping[str, bytes] | None = None) -> None:
        """Write the copy; raises FileProblem where it cannot be written."""
        archive.save(job, self._stem.with_suffix(archive.SUFFIX), carry_from=original, album=album)
        note = {"original": str(original) if original else None, "name": job.boat.name}
        part = self._stem.with_suffix(".part")
        part.write_text(json.dumps(note))
        os.replace(part, self._stem.with_suffix(".json"))

    def clear(self) -> None:
        """Drop the copy: everything in it has been saved."""
        _drop(self._stem)

    def close(self) -> None:
        """Drop the copy and the lock on a proper end."""
        self.clear()
        self._lock.close()
        self._stem.with_suffix(".lock").unlink(missing_ok=True)


def _drop(stem: Path) -> None:
    for suffix in (archive.SUFFIX, archive.SUFFIX + "~", ".json", ".part"):
        with contextlib.suppress(OSError):
            stem.with_name(stem.name + suffix).unlink(missing_ok=True)


def found(folder: Path | None = None) -> tuple[Found, ...]:
    """Copies left behind, newest first; those of windows still running are not among them."""
    folder = (folder or state_folder()) / "recovery"
    rows = []
    for note in folder.glob("*.json"):
        copy = note.with_suffix(archive.SUFFIX)
        if not copy.is_file() or not _orphaned(note.with_suffix(".lock")):
            continue
        try:
            told = json.loads(note.read_text())
            original = Path(told["original"]) if told.get("original") else None
            rows.append(Found(copy, original, str(told.get("name", "")), copy.stat().st_mtime))
        except (OSError, ValueError, KeyError, TypeError, AttributeError):
            continue
    return tuple(sorted(rows, key=lambda f: -f.when))


def _orphaned(lock: Path) -> bool:
    try:
        with open(lock) as stream:
            fcntl.flock(stream, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except FileNotFoundError:
        return True
    except OSError:
        return False
    return True


def recover(item: Found) -> Job:
    """The job of a copy; raises Fault where the copy itself is damaged."""
    return archive.load(item.copy)


def discard(item: Found) -> None:
    """Drop a copy that was recovered or is not wanted."""
    stem = item.copy.with_suffix("")
    _drop(stem)
    with contextlib.suppress(OSError):
        stem.with_suffix(".lock").unlink(missing_ok=True)
