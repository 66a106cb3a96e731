"""Autosave copies, and what is found of them after a crash.

Each running window keeps one copy, written atomically, with a lock that dies with the process. A copy whose lock is
free belongs to a window that ended without closing: it can be recovered. Photographs and recordings lie beside the
copy, each written once, so that keeping an edit costs the same with many of them as with none.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import shutil
import time
import uuid
from pathlib import Path
from typing import IO, TYPE_CHECKING, Any

from msgspec import Struct

from ribpatch.core.errors import FileProblem
from ribpatch.core.job import Job, members_of
from ribpatch.folders import private_folder
from ribpatch.jobfile import archive
from ribpatch.jobfile.album import Album, members_folder
from ribpatch.jobfile.lock import state_folder
from ribpatch.jobfile.mark import FileMark
from ribpatch.jobfile.writing import PART, YOUNG, drop_if_dead, why_not, write_bytes

if TYPE_CHECKING:
    from collections.abc import Mapping

MOST_NOTE = 64 * 1024  # bytes
COPY, SAVE = "The recovery copy", "Save the job while you can."
_LONGEST_NAME = 120


class Found(Struct, frozen=True):
    """A recovery copy left by a window that ended without closing. ``original`` is where the job was, if it had a file;
    ``mark`` is what that file looked like then."""

    copy: Path
    original: Path | None
    name: str
    when: float
    mark: FileMark | None = None

    @property
    def saves_to(self) -> str:
        """Which file the work will be saved to, and what became of that file since, in words."""
        if self.original is None:
            return "It has no file yet: saving will ask for one."
        if not self.original.is_file():
            return f"Its file {self.original} is no longer there: saving will ask for one."
        said = self.mark.changed(self.original) if self.mark is not None else ""
        if said:
            return f"It will be saved to {self.original}, but that file {said} since: saving will ask first."
        return f"It will be saved to {self.original}, which is as it was."


class Autosave:
    """The recovery copy of one window. Where its folder cannot be used, ``fault`` says why and nothing is kept."""

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = (folder or state_folder()) / "recovery"
        self._stem = self._folder / uuid.uuid4().hex
        self._lock: IO[str] | None = None
        self.fault: FileProblem | None = None
        try:
            private_folder(self._folder)
            self._lock = open(self._stem.with_suffix(".lock"), "w")  # noqa: SIM115 - held open as the lock
            fcntl.flock(self._lock, fcntl.LOCK_EX)
            with contextlib.suppress(OSError):  # another window may be tidying as well
                _sweep(self._folder)
        except OSError as error:
            self.fault = FileProblem(
                str(self._folder),
                reason=f"cannot be written ({error.strerror}), so work is not kept for recovery",
                advice="Save often, and mend the folder's permissions.",
            )

    @property
    def members(self) -> Path:
        """The folder with the photographs and recordings of the copy."""
        return members_folder(self.copy)

    def write(
        self,
        job: Job,
        original: Path | None,
        album: Album | Mapping[str, bytes] | None = None,
        mark: FileMark | None = None,
    ) -> None:
        """Write the copy, the job first; raises FileProblem where it cannot be written."""
        if self.fault is not None:
            raise self.fault
        try:
            archive.save(job, self.copy)  # members lie beside it
        except FileProblem as problem:
            raise FileProblem(COPY, reason=problem.fields["reason"], advice=SAVE) from None
        _drop_previous(self._stem)
        try:
            write_bytes(self.note, note_text(job, original, mark).encode(), private=True)
        except OSError as error:
            raise not_kept(error) from None
        self.keep_members(job, album if album is not None else {})

    @property
    def copy(self) -> Path:
        """Where the copy lies."""
        return self._stem.with_suffix(archive.SUFFIX)

    @property
    def note(self) -> Path:
        """Where the note beside it lies."""
        return self._stem.with_suffix(".json")

    def keep_members(self, job: Job, album: Album | Mapping[str, bytes]) -> None:
        """Write the photographs and recordings of a job that are not there yet; raises FileProblem."""
        try:
            for name in members_of(job):
                place = self.members / name
                if place.exists():
                    continue
                data = album.get(name)
                if data is not None:
                    private_folder(place.parent)
                    write_bytes(place, data, private=True)
        except OSError as error:
            raise not_kept(error) from None

    def clear(self) -> None:
        """Drop the copy: everything in it has been saved."""
        _drop(self._stem)

    def close(self) -> None:
        """Drop the copy and the lock on a proper end."""
        self.clear()
        if self._lock is not None:
            self._lock.close()
            with contextlib.suppress(OSError):
                self._stem.with_suffix(".lock").unlink(missing_ok=True)


def note_text(job: Job, original: Path | None, mark: FileMark | None) -> str:
    """What a copy says of itself: where the job's own file is, what that looked like, the boat."""
    place = Path(os.path.abspath(original)) if original else None
    note: dict[str, object] = {"original": str(place) if place else None, "name": job.boat.name}
    if mark is not None:
        note["mark"] = {"real": mark.real, "status": mark.status, "content": mark.content}
    return json.dumps(note, ensure_ascii=True)


def not_kept(error: OSError) -> FileProblem:
    """The message where the copy could not be written."""
    return FileProblem(COPY, reason=f"cannot be written; {why_not(error)}", advice=SAVE)


def _sweep(folder: Path) -> None:
    """Remove what windows that were killed left half written, and the locks and photographs of copies that are gone."""
    for part in folder.glob(f".*{PART}"):
        drop_if_dead(part)
    for lock in folder.glob("*.lock"):
        stem = lock.with_suffix("")
        if time.time() - lock.stat().st_mtime < YOUNG:
            continue  # a window that has just begun makes its lock before it holds it
        if not stem.with_suffix(archive.SUFFIX).exists() and _orphaned(lock):
            _drop(stem)
            with contextlib.suppress(OSError):
                lock.unlink()


def _drop_previous(stem: Path) -> None:
    with contextlib.suppress(OSError):
        stem.with_name(stem.name + archive.SUFFIX + "~").unlink(missing_ok=True)


def _drop(stem: Path) -> None:
    for suffix in (archive.SUFFIX, archive.SUFFIX + "~", ".json", ".part"):
        with contextlib.suppress(OSError):
            stem.with_name(stem.name + suffix).unlink(missing_ok=True)
    shutil.rmtree(members_folder(stem.with_name(stem.name + archive.SUFFIX)), ignore_errors=True)


def found(folder: Path | None = None) -> tuple[Found, ...]:
    """Copies left behind, newest first; those of windows still running are not among them."""
    folder = (folder or state_folder()) / "recovery"
    rows = []
    with contextlib.suppress(OSError):
        for note in folder.glob("*.json"):
            copy = note.with_suffix(archive.SUFFIX)
            if copy.is_file() and _orphaned(note.with_suffix(".lock")):
                row = _read(note, copy)
                if row is not None:
                    rows.append(row)
    return tuple(sorted(rows, key=lambda f: -f.when))


def _read(note: Path, copy: Path) -> Found | None:
    """What a note says; None where it says nothing that can be used."""
    try:
        if note.stat().st_size > MOST_NOTE:
            return None
        told = json.loads(note.read_bytes())
        name, original = told.get("name", ""), told.get("original")
        # A relative place would be another file in another folder: such a copy belongs to no file.
        place = Path(original) if isinstance(original, str) and os.path.isabs(original) else None
        return Found(copy, place, str(name)[:_LONGEST_NAME], copy.stat().st_mtime, _mark(told.get("mark")))
    except (OSError, ValueError, KeyError, TypeError, AttributeError, RecursionError):
        return None


def _mark(told: Any) -> FileMark | None:
    if not isinstance(told, dict):
        return None
    inode, size, changed = (int(n) for n in told["status"])
    return FileMark(str(told["real"]), (inode, size, changed), str(told["content"]))


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
