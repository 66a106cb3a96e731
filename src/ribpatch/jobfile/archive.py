"""The .ribpatch file: a zip with ``job.json`` and folders ``photographs/`` and ``recordings/``.

Reading checks everything before anything is used: sizes, names, compression, JSON, version, every field. Writing is
atomic and durable: a temporary file in the same folder, synced, then renamed over the old one, which is kept as
``NAME.ribpatch~``. Of the two folders a save writes what the job refers to: new members from the album, the others from
the file before.
"""

from __future__ import annotations

import contextlib
import json
import lzma
import os
import shutil
import struct
import weakref
import zipfile
import zlib
from pathlib import Path
from typing import IO, Any, NoReturn, Protocol

from pydantic import ValidationError

from ribpatch.core.errors import DamagedJob, Fault, FileProblem, ManyFaults, NewerJob
from ribpatch.core.job import FORMAT, VERSION, Job, members_of
from ribpatch.core.record import faults_of
from ribpatch.jobfile.migrations import migrated
from ribpatch.jobfile.writing import write_file, write_problem

SUFFIX = ".ribpatch"
MEMBER = "job.json"
FOLDERS = ("photographs/", "recordings/")
MOST_JSON = 64 * 2**20
MOST_MEMBER = 256 * 2**20
MOST_TOTAL = 4 * 2**30
MOST_MEMBERS = 5000
_LOCAL_HEADER, _NAME_LENGTH = 30, 26  # of a member in a zip: its size, and where the lengths of name and extra stand
# All that a damaged zip can make its reader raise.
_ZIP_ERRORS = (
    zipfile.BadZipFile, zlib.error, lzma.LZMAError, OSError, EOFError, ValueError, RuntimeError, NotImplementedError, struct.error,
    KeyError, IndexError, OverflowError, MemoryError,
)  # fmt: skip
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


class Members(Protocol):
    """Where photographs and recordings come from: a mapping, an album, a job file."""

    def get(self, name: str, /) -> bytes | None:
        """The bytes of a member, or None where they cannot be had."""


def save(job: Job, path: Path, carry_from: Path | None = None, album: Members | None = None) -> tuple[str, ...]:
    """Write a job file atomically; the previous one stays as ``NAME~``. Members that the job refers to come from
    ``album``, or else from the job file ``carry_from``. Returns the members that neither could give.

    Raises FileProblem where the disk is full or the folder cannot be written; the old file is then untouched.
    """
    left_out: list[str] = []

    def write(stream: IO[bytes]) -> None:
        source = FileMembers.of(carry_from or path)
        try:
            left_out[:] = _write(stream, job, album or {}, source)
        finally:
            source.close()

    try:
        write_file(path, write, _keep_previous)
    except OSError as error:
        raise write_problem(path, error, "Save elsewhere; the job is still open and unchanged.") from None
    return tuple(left_out)


def _write(stream: IO[bytes], job: Job, album: Members, source: FileMembers) -> list[str]:
    left_out = []
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as archive:
        archive.writestr(MEMBER, job_json(job))
        for name in sorted(members_of(job)):
            data = album.get(name)
            if data is None:
                data = source.get(name)
            if data is None:
                left_out.append(name)
            else:  # pictures are packed already; sounds are not
                archive.writestr(name, data, zipfile.ZIP_STORED if name.startswith("photo") else None)
    return left_out


class FileMembers:
    """The photographs and recordings of a job file, read from the file as it was when this was made: it stays readable
    when it is deleted or another takes its name. A damaged member is remembered in ``damaged``, with the reason.
    """

    def __init__(self, stream: IO[bytes] | None) -> None:
        self._stream = stream
        self._zip: zipfile.ZipFile | None = None
        self.damaged: dict[str, str] = {}
        if stream is not None:
            weakref.finalize(self, stream.close)
            with contextlib.suppress(*_ZIP_ERRORS):
                self._zip = zipfile.ZipFile(stream)

    @classmethod
    def of(cls, path: Path | None) -> FileMembers:
        """The members of the job file at ``path``; none where there is no such file."""
        if path is None or not path.is_file():
            return cls(None)
        try:
            return cls(open(path, "rb"))
        except OSError:
            return cls(None)

    @property
    def names(self) -> frozenset[str]:
        """The photographs and recordings in the file."""
        return frozenset(n for n in self._zip.namelist() if n.startswith(FOLDERS)) if self._zip else frozenset()

    def get(self, name: str, /) -> bytes | None:
        """The bytes of a member; None where it is not there or damaged."""
        if self._zip is None or name not in self.names:
            return None
        try:
            data = self._zip.read(name)
        except _ZIP_ERRORS as error:
            self.damaged[name] = str(error) or type(error).__name__
            return None
        self.damaged.pop(name, None)
        return data

    def undecoded(self, name: str) -> bytes | None:
        """What is left of a damaged member that was stored unpacked: a picture with a wrong byte can often be looked at."""
        if self._zip is None or self._stream is None or name not in self.names:
            return None
        info = self._zip.getinfo(name)
        if info.compress_type != zipfile.ZIP_STORED:
            return None
        with contextlib.suppress(*_ZIP_ERRORS), open(self._stream.fileno(), "rb", closefd=False) as raw:
            raw.seek(info.header_offset + _NAME_LENGTH)
            name_length, extra_length = struct.unpack("<HH", raw.read(4))
            raw.seek(info.header_offset + _LOCAL_HEADER + name_length + extra_length)
            return raw.read(min(info.file_size, MOST_MEMBER))
        return None

    def close(self) -> None:
        """Let go of the file."""
        if self._stream is not None:
            self._stream.close()
        self._zip = None


def member_names(path: Path) -> frozenset[str]:
    """The photographs and recordings that a job file holds."""
    members = FileMembers.of(path)
    try:
        return members.names
    finally:
        members.close()


def _keep_previous(path: Path) -> None:
    """Keep the file that is about to be replaced as ``NAME~``."""
    if not path.exists():
        return
    previous = path.with_name(path.name + "~")
    previous.unlink(missing_ok=True)
    try:
        os.link(path, previous)
    except OSError:  # a file system without hard links
        shutil.copy2(path, previous)
