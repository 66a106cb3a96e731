"""The .ribpatch file: a zip with ``job.json`` and folders ``photographs/`` and ``recordings/``.

Reading checks everything before anything is used: sizes, names, compression, JSON, version, every field. Writing is
atomic and durable: a temporary file in the same folder, synced, then renamed over the old one, which is kept as
``NAME.ribpatch~``. Of the two folders a save writes what the job refers to: new members from the album, the others from
the file before.
"""

from __future__ import annotations

import contextlib
import errno
import json
import os
import tempfile
import zipfile
from collections.abc import Iterator, Mapping
from collections.abc import Set as AbstractSet
from pathlib import Path
from typing import Any, NoReturn

from pydantic import ValidationError

from ribpatch.core.errors import DamagedJob, Fault, FileProblem, ManyFaults, NewerJob
from ribpatch.core.job import FORMAT, VERSION, Job, members_of
from ribpatch.core.record import faults_of
from ribpatch.jobfile.migrations import migrated

SUFFIX = ".ribpatch"
MEMBER = "job.json"
FOLDERS = ("photographs/", "recordings/")
MOST_JSON = 64 * 2**20
MOST_MEMBER = 256 * 2**20
MOST_TOTAL = 4 * 2**30
MOST_MEMBERS = 5000
_KEPT = "The file was not changed. The save before may be beside it, with ~ after its name."


def job_json(job: Job) -> bytes:
    """The job as the bytes of ``job.json``."""
    return job.model_dump_json().encode()


def parse_job(raw: bytes, where: str) -> Job:
    """The job in the bytes of a ``job.json``; raises a Fault that lists everything wrong with its place."""
    document = _document(raw, where)
    if document.get("format") != FORMAT:
        raise DamagedJob(where, reason="is JSON, but no Rib Patch job", advice="Open a .ribpatch file.")
    version = document.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise DamagedJob(where, reason="does not say which version it is", advice=_KEPT)
    if version > VERSION:
        raise NewerJob(
            where,
            reason=f"was written by a later Rib Patch (file version {version}, this one reads up to {VERSION})",
            advice="Update Rib Patch to open it. The file was not changed.",
        )
    try:
        return Job.model_validate_json(json.dumps(migrated(document, VERSION)))
    except ValidationError as error:
        raise _listed(where, faults_of(error)) from None
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise DamagedJob(
            where, reason=f"could not be brought up from version {version} ({error})", advice=_KEPT
        ) from None


def _listed(where: str, faults: tuple[Fault, ...]) -> Fault:
    named = tuple(DamagedJob(f"{where}, {f.where or 'job'}", reason=_reason(f), advice="") for f in faults)
    return named[0] if len(named) == 1 else ManyFaults(named)


def _reason(fault: Fault) -> str:
    return fault.sentence.removeprefix(f"{fault.where}: ").rstrip(".")


def _no_constant(text: str) -> NoReturn:
    raise ValueError(f"{text} is no number")


def _document(raw: bytes, where: str) -> dict[str, Any]:
    try:
        document = json.loads(raw, parse_constant=_no_constant)
    except (ValueError, RecursionError) as error:
        raise DamagedJob(where, reason=f"holds no readable job ({error})", advice=_KEPT) from None
    if not isinstance(document, dict):
        raise DamagedJob(where, reason="holds no job", advice=_KEPT)
    return document


def load(path: Path) -> Job:
    """Open a job file; raises a Fault and changes nothing where it cannot be used whole."""
    where = path.name
    try:
        with zipfile.ZipFile(path) as archive:
            _check_members(archive, where)
            raw = _member(archive, where)
    except FileNotFoundError:
        raise FileProblem(where, reason="is not there", advice="Check the name and folder.") from None
    except (zipfile.BadZipFile, EOFError, NotImplementedError, UnicodeDecodeError) as error:
        raise DamagedJob(where, reason=f"is damaged or no job file ({error})", advice=_KEPT) from None
    except OSError as error:
        raise FileProblem(
            where, reason=f"cannot be read ({error.strerror or error})", advice="Check its permissions."
        ) from None
    except Fault:
        raise
    except Exception as error:  # a zip can break the reader in many ways (zlib, lzma, struct)
        raise DamagedJob(where, reason=f"is damaged ({error})", advice=_KEPT) from None
    return parse_job(raw, where)


def _check_members(archive: zipfile.ZipFile, where: str) -> None:
    members = archive.infolist()
    if len(members) > MOST_MEMBERS:
        raise DamagedJob(where, reason=f"holds {len(members)} members, more than {MOST_MEMBERS}", advice=_KEPT)
    if sum(m.file_size for m in members) > MOST_TOTAL:
        raise DamagedJob(where, reason="would unpack to more than 4 GiB", advice=_KEPT)
    names = [m.filename for m in members]
    if len(set(names)) != len(names):
        raise DamagedJob(where, reason="holds two members of one name", advice=_KEPT)
    for member in members:
        name = member.filename
        if name.startswith("/") or "\\" in name or ".." in name.split("/") or ":" in name:
            raise DamagedJob(where, reason=f"holds a member with an unlawful path, {name!r}", advice=_KEPT)
        if name != MEMBER and not name.startswith(FOLDERS):
            raise DamagedJob(where, reason=f"holds a member that does not belong, {name!r}", advice=_KEPT)
        if member.file_size > (MOST_JSON if name == MEMBER else MOST_MEMBER):
            raise DamagedJob(where, reason=f"{name} is too large ({member.file_size / 2**20:.0f} MiB)", advice=_KEPT)


def _member(archive: zipfile.ZipFile, where: str) -> bytes:
    if MEMBER not in archive.namelist():
        raise DamagedJob(where, reason=f"has no {MEMBER} in it", advice=_KEPT)
    with archive.open(MEMBER) as stream:
        raw = stream.read(MOST_JSON + 1)
    if len(raw) > MOST_JSON:
        raise DamagedJob(where, reason=f"{MEMBER} is too large", advice=_KEPT)
    return raw


def save(job: Job, path: Path, carry_from: Path | None = None, album: Mapping[str, bytes] | None = None) -> None:
    """Write a job file atomically; the previous one stays as ``NAME~``. Members that the job refers to come from
    ``album``, or else from the job file ``carry_from``.

    Raises FileProblem where the disk is full or the folder cannot be written; the old file is then untouched.
    """
    carried = carry_from or path
    temporary: Path | None = None
    try:
        with tempfile.NamedTemporaryFile(
            dir=path.parent, prefix=f".{path.name}.", suffix=".part", delete=False
        ) as stream:
            temporary = Path(stream.name)
            _write(stream, job, carried, album or {})
            stream.flush()
            os.fsync(stream.fileno())
        if path.exists():
            _keep_previous(path)
            temporary.chmod(path.stat().st_mode & 0o777)
        else:
            temporary.chmod(0o666 & ~_umask())
        os.replace(temporary, path)
        _sync_folder(path.parent)
    except OSError as error:
        if temporary is not None:
            temporary.unlink(missing_ok=True)
        raise _write_problem(path, error) from None


def write_whole(path: Path, data: bytes) -> None:
    """Write any file whole or not at all; raises OSError."""
    part: Path | None = None
    try:
        with tempfile.NamedTemporaryFile(dir=path.parent, prefix=f".{path.name}.", delete=False) as stream:
            part = Path(stream.name)
            stream.write(data)
        part.chmod(0o666 & ~_umask())
        os.replace(part, path)
    except OSError:
        if part is not None:
            part.unlink(missing_ok=True)
        raise


def _write(stream: Any, job: Job, carried: Path, album: Mapping[str, bytes]) -> None:
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as archive:
        archive.writestr(MEMBER, job_json(job))
        wanted = members_of(job)
        for name in sorted(wanted & album.keys()):
            # Pictures are packed already; sounds are not.
            archive.writestr(name, album[name], zipfile.ZIP_STORED if name.startswith("photo") else None)
        for name, data in members_in(carried, wanted - album.keys()):
            archive.writestr(name, data, zipfile.ZIP_STORED if name.startswith("photo") else None)


def members_in(path: Path, wanted: AbstractSet[str]) -> Iterator[tuple[str, bytes]]:
    """The wanted members that a job file holds, one after the other; none where the file is not there."""
    if not wanted or not path.is_file() or not zipfile.is_zipfile(path):
        return
    with zipfile.ZipFile(path) as archive:
        for name in sorted(wanted & set(archive.namelist())):
            yield name, archive.read(name)


def member_names(path: Path) -> frozenset[str]:
    """The photographs and recordings that a job file holds."""
    if not path.is_file() or not zipfile.is_zipfile(path):
        return frozenset()
    with zipfile.ZipFile(path) as archive:
        return frozenset(n for n in archive.namelist() if n.startswith(FOLDERS))


def _keep_previous(path: Path) -> None:
    previous = path.with_name(path.name + "~")
    previous.unlink(missing_ok=True)
    try:
        os.link(path, previous)
    except OSError:  # a file system without hard links
        previous.write_bytes(path.read_bytes())


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def _sync_folder(folder: Path) -> None:
    with contextlib.suppress(OSError):  # some file systems cannot sync a folder; the file itself is synced
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _write_problem(path: Path, error: OSError) -> FileProblem:
    if error.errno == errno.ENOSPC:
        reason, advice = "the disk is full", "Free some space or save elsewhere; the job is still open and unchanged."
    elif error.errno in (errno.EACCES, errno.EPERM, errno.EROFS):
        reason, advice = (
            "the folder cannot be written",
            "Save into another folder; the job is still open and unchanged.",
        )
    elif error.errno == errno.ENOENT:
        reason, advice = "the folder is not there", "Save into another folder; the job is still open and unchanged."
    else:
        reason, advice = (
            f"it could not be saved ({error.strerror or error})",
            "Save elsewhere; the job is still open and unchanged.",
        )
    return FileProblem(path.name, reason=reason, advice=advice)
