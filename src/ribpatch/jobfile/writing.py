"""The one way that anything is written to a file: whole or not at all, and never over what it must not replace.

A regular file is written beside its place, synced and renamed over it; its mode, owner and group stay. Links are
followed, so that a linked file stays linked. What is no regular file (a device, a pipe) is written in place.
"""

from __future__ import annotations

import contextlib
import errno
import fcntl
import os
import stat
import tempfile
import time
import zipfile
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import IO

from ribpatch.core.errors import FileProblem
from ribpatch.jobfile.zips import open_zip

PART = ".part"
READ_ONLY = "it is read-only"
JOB_ENDINGS = (".ribpatch", ".ribpatch~")
PRIVATE = 0o600
YOUNG = 60.0  # s: a part younger than this may belong to a program that has not locked it yet
_LONGEST_STEM = 80  # bytes of the target's name that go into the part's name

Writer = Callable[[IO[bytes]], None]


def write_output(path: Path, data: bytes, inputs: Iterable[Path] = ()) -> None:
    """Write a paper, a table or a drawing; refuses to replace an input or a job. Raises FileProblem."""
    try:
        refuse(path, inputs)
        write_bytes(path, data)
    except OSError as error:
        raise write_problem(path, error, "Choose another place.") from None


def write_bytes(path: Path, data: bytes, private: bool = False) -> None:
    """Write these bytes as ``write_file`` does; raises OSError."""

    def write(stream: IO[bytes]) -> None:
        stream.write(data)

    write_file(path, write, private=private)


def refuse(path: Path, inputs: Iterable[Path]) -> None:
    """Raise FileProblem where an output must not go to a place: before it is made, too, where that takes long."""
    if path == Path() or path.is_dir():
        name = str(path) if path != Path() else "no name"
        raise FileProblem(name, reason="is no file name", advice="Name the file to write.")
    _check_place(path)
    for source in inputs:
        if same_file(path, source):
            raise FileProblem(
                str(path), reason="is the file that was read, and would be lost", advice="Write to another name."
            )
    real = Path(os.path.realpath(path))
    if any(p.name.lower().endswith(JOB_ENDINGS) for p in (path, real)) or _holds_a_job(real):
        raise FileProblem(
            str(path),
            reason="is a job's name, and what would be written is no job",
            advice="Give the file another name, ending in what it is.",
        )


def _check_place(path: Path) -> None:
    """Raise FileProblem where nothing can be written, as far as that can be seen beforehand."""
    folder = path.absolute().parent
    code = 0
    if not folder.is_dir():
        code = errno.ENOENT
    elif (path.exists() and not os.access(path, os.W_OK)) or (not path.exists() and not os.access(folder, os.W_OK)):
        code = errno.EROFS if os.statvfs(folder).f_flag & os.ST_RDONLY else errno.EACCES
    if code:
        raise write_problem(path, OSError(code, os.strerror(code)), "Choose another place.")


def refuse_any(path: Path) -> None:
    """Raise FileProblem where a job that is written for the first time would take the place of anything."""
    if os.path.lexists(path) and not _in_place(path):
        raise FileProblem(str(path), reason="is there already, and would be lost", advice="Write to another name.")


def same_file(one: Path, other: Path) -> bool:
    """Whether two names are of one file, by whatever links."""
    try:
        return os.path.samefile(one, other)
    except OSError:
        return os.path.realpath(one) == os.path.realpath(other)


def _holds_a_job(path: Path) -> bool:
    try:
        if not path.is_file():
            return False
        with open_zip(path) as archive:
            return "job.json" in archive.namelist()
    except (OSError, zipfile.BadZipFile, ValueError, NotImplementedError):
        return False


def write_file(
    path: Path,
    write: Writer,
    before_rename: Callable[[Path], None] = lambda _target: None,
    private: bool = False,
) -> None:
    """Have ``write`` fill a file that then takes the place of ``path``; raises OSError and leaves the old one as it
    was. One that was not there before is its owner's only where it is ``private``.

    ``before_rename`` is called with the real place once the new bytes are safely on the disk.
    """
    if _in_place(path):
        with open(path, "wb") as stream:
            write(stream)
        return
    target = Path(os.path.realpath(path))
    old = _status(target)
    if old is not None and not (old.st_mode & 0o222 and os.access(target, os.W_OK)):
        raise PermissionError(errno.EACCES, READ_ONLY, str(target))
    sweep(target)
    part: Path | None = None
    try:
        with tempfile.NamedTemporaryFile(
            dir=target.parent, prefix=_stem_of(target), suffix=PART, delete=False
        ) as stream:
            part = Path(stream.name)
            fcntl.flock(stream, fcntl.LOCK_EX)  # held until the rename: an unlocked part is a dead program's
            write(stream)
            stream.flush()
            _take_after(stream.fileno(), old, private)
            os.fsync(stream.fileno())
            before_rename(target)
            os.replace(part, target)
        sync_folder(target.parent)
    except BaseException:
        if part is not None:
            part.unlink(missing_ok=True)
        raise


def _in_place(path: Path) -> bool:
    """Whether ``path`` is a device, a pipe or the like: there is nothing to keep whole, and nothing to rename over."""
    if os.path.abspath(path).startswith(("/dev/", "/proc/")):
        return True  # also the standard output sent to a file, whose name must not change hands
    now = _status(path)
    return now is not None and not stat.S_ISREG(now.st_mode)


def _status(target: Path) -> os.stat_result | None:
    try:
        return os.stat(target)
    except FileNotFoundError:
        return None


def _take_after(handle: int, old: os.stat_result | None, private: bool) -> None:
    """Give the new file the owner, group and mode of the one it replaces, or those of any new file."""
    if old is None:
        os.fchmod(handle, PRIVATE if private else 0o666 & ~_umask())
        return
    with contextlib.suppress(OSError):  # only root may give away; a member of the group may keep the group
        os.fchown(handle, -1, old.st_gid)
    with contextlib.suppress(OSError):
        os.fchown(handle, old.st_uid, -1)
    os.fchmod(handle, stat.S_IMODE(old.st_mode))


def _stem_of(target: Path) -> str:
    name = os.fsencode(target.name)[:_LONGEST_STEM]
    return f".{os.fsdecode(name)}."


def sweep(target: Path) -> None:
    """Remove what writes of ``target`` by programs that were killed left beside it."""
    with contextlib.suppress(OSError):
        stem = _stem_of(target)
        with os.scandir(target.parent) as rows:
            names = [row.name for row in rows if row.name.startswith(stem) and row.name.endswith(PART)]
        for name in names:
            drop_if_dead(target.parent / name)


def drop_if_dead(part: Path) -> None:
    """Remove a half written file that no living program is writing any more."""
    with contextlib.suppress(OSError):
        if time.time() - part.stat().st_mtime < YOUNG:
            return
        with open(part, "rb") as stream:
            fcntl.flock(stream, fcntl.LOCK_EX | fcntl.LOCK_NB)
            part.unlink(missing_ok=True)


def sync_folder(folder: Path) -> None:
    """Make a rename in ``folder`` outlast a power cut, where the file system can."""
    with contextlib.suppress(OSError):  # some file systems cannot sync a folder; the file itself is synced
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def write_problem(path: Path, error: OSError, advice: str) -> FileProblem:
    """What went wrong in writing ``path``, in a plain sentence."""
    free = "Free some space. " if error.errno in (errno.ENOSPC, errno.EDQUOT) else ""
    return FileProblem(path.name, reason=f"cannot be written; {why_not(error)}", advice=f"{free}{advice}")


def why_not(error: OSError) -> str:
    """Why something could not be written, in plain words."""
    words = {
        errno.ENOSPC: "the disk is full",
        errno.EDQUOT: "the quota of the disk is used up",
        errno.EROFS: "the disk is read-only",
        errno.ENOENT: "the folder is not there",
        errno.ENOTDIR: "the folder is not there",
        errno.EISDIR: "it is a folder",
        errno.ENAMETOOLONG: "the name is too long",
        errno.EPERM: "the folder is not yours to write in",
        errno.EACCES: "the folder is not yours to write in",
    }
    return READ_ONLY if error.strerror == READ_ONLY else words.get(error.errno or 0, str(error.strerror or error))
