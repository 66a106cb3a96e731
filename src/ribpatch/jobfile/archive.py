"""The .ribpatch file: a zip with ``job.json`` and folders ``photographs/`` and ``recordings/``.

Reading checks everything before anything is used: sizes, names, compression, JSON, version, every field. Writing is
atomic and durable: a temporary file in the same folder, synced, then renamed over the old one, which is kept as
``NAME.ribpatch~``. Of the two folders a save writes what the job refers to: new members from the album, the others from
the file before.
"""

from __future__ import annotations

import contextlib
import errno
import lzma
import os
import shutil
import struct
import weakref
import zipfile
import zlib
from typing import IO, TYPE_CHECKING, Protocol

from ribpatch.core.errors import DamagedJob, Fault, FileProblem
from ribpatch.core.job import Job, Zone, members_of
from ribpatch.core.memo import remembered
from ribpatch.core.numerals import fixed
from ribpatch.core.record import as_json
from ribpatch.jobfile.document import KEPT, parse_job
from ribpatch.jobfile.writing import write_file, write_problem
from ribpatch.jobfile.zips import open_zip

if TYPE_CHECKING:
    from pathlib import Path

SUFFIX = ".ribpatch"
MEMBER = "job.json"
FOLDERS = ("photographs/", "recordings/")
MOST_JSON = 64 * 2**20
MOST_MEMBER = 256 * 2**20
MOST_TOTAL = 4 * 2**30
MOST_MEMBERS = 5000
MOST_KEPT = 2000  # readings of a zone whose text is kept for the next copy
_LOCAL_HEADER, _NAME_LENGTH = 30, 26  # of a member in a zip: its size, and where the lengths of name and extra stand
# All that a damaged zip can make its reader raise.
_ZIP_ERRORS = (
    zipfile.BadZipFile,
    zlib.error,
    lzma.LZMAError,
    OSError,
    EOFError,
    ValueError,
    RuntimeError,
    NotImplementedError,
    struct.error,
    KeyError,
    IndexError,
    OverflowError,
    MemoryError,
)


def job_json(job: Job) -> bytes:
    """The job as the bytes of ``job.json``."""
    bare = object.__new__(Job)
    bare.__dict__.update({**job.__dict__, "zones": ()})
    # Zone by zone, those that did not change since the last copy as they were: a copy of a large job would hold the
    # window up. The mark is found once: in a text its quotes would be escaped.
    zones = (_zone_text(z) if len(z.survey.readings) < MOST_KEPT else as_json(z) for z in job.zones)
    return as_json(bare).replace(b'"zones":[]', b'"zones":[' + b",".join(zones) + b"]", 1)


def is_quick(job: Job) -> bool:
    """Whether the text of a job takes a few milliseconds only."""
    return sum(len(z.survey.readings) for z in job.zones) < MOST_KEPT


@remembered(128)
def _zone_text(zone: Zone) -> bytes:
    return as_json(zone)


def load(path: Path) -> Job:
    """Open a job file; raises a Fault and changes nothing where it cannot be used whole."""
    where = path.name
    try:
        with open_zip(path) as archive:
            _check_members(archive, where)
            raw = _member(archive, where)
    except FileNotFoundError:
        raise FileProblem(where, reason="is not there", advice="Check the name and folder.") from None
    except (zipfile.BadZipFile, EOFError, NotImplementedError, UnicodeDecodeError) as error:
        raise DamagedJob(where, reason=f"is damaged or no job file ({error})", advice=KEPT) from None
    except OSError as error:
        raise FileProblem(
            where, reason=f"cannot be read ({error.strerror or error})", advice="Check its permissions."
        ) from None
    except Fault:
        raise
    except Exception as error:  # a zip can break the reader in many ways (zlib, lzma, struct)
        raise DamagedJob(where, reason=f"is damaged ({error})", advice=KEPT) from None
    return parse_job(raw, where)


def _check_members(archive: zipfile.ZipFile, where: str) -> None:
    members = archive.infolist()
    if len(members) > MOST_MEMBERS:
        raise DamagedJob(where, reason=f"holds {len(members)} members, more than {MOST_MEMBERS}", advice=KEPT)
    if sum(m.file_size for m in members) > MOST_TOTAL:
        raise DamagedJob(where, reason="would unpack to more than 4 GiB", advice=KEPT)
    names = [m.filename for m in members]
    if len(set(names)) != len(names):
        raise DamagedJob(where, reason="holds two members of one name", advice=KEPT)
    for member in members:
        name = member.filename
        if name.startswith("/") or "\\" in name or ".." in name.split("/") or ":" in name:
            raise DamagedJob(where, reason=f"holds a member with an unlawful path, {name!r}", advice=KEPT)
        if name != MEMBER and not name.startswith(FOLDERS):
            raise DamagedJob(where, reason=f"holds a member that does not belong, {name!r}", advice=KEPT)
        if member.file_size > (MOST_JSON if name == MEMBER else MOST_MEMBER):
            raise DamagedJob(
                where, reason=f"{name} is too large ({fixed(member.file_size / 2**20, 0)} MiB)", advice=KEPT
            )


def _member(archive: zipfile.ZipFile, where: str) -> bytes:
    if MEMBER not in archive.namelist():
        raise DamagedJob(where, reason=f"has no {MEMBER} in it", advice=KEPT)
    with archive.open(MEMBER) as stream:
        raw = stream.read(MOST_JSON + 1)
    if len(raw) > MOST_JSON:
        raise DamagedJob(where, reason=f"{MEMBER} is too large", advice=KEPT)
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
        write_file(path, write, _keep_previous, private=True)
    except OSError as error:
        raise write_problem(path, error, "Save elsewhere; the job is still open and unchanged.") from None
    return tuple(left_out)


def _write(stream: IO[bytes], job: Job, album: Members, source: FileMembers) -> list[str]:
    left_out = []
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as archive:
        archive.writestr(MEMBER, _readable(job_json(job)))
        for name in sorted(members_of(job)):
            data = album.get(name)
            if data is None:
                data = source.get(name)
            if data is None:
                left_out.append(name)
            else:  # pictures are packed already; sounds are not
                archive.writestr(name, data, zipfile.ZIP_STORED if name.startswith("photo") else None)
    return left_out


def _readable(raw: bytes) -> bytes:
    """The job's bytes, refused where this program could not read them again."""
    if len(raw) > MOST_JSON:
        raise OSError(errno.EFBIG, f"the job is larger than {MOST_JSON >> 20} MiB without its photographs")
    return raw


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
                self._zip = open_zip(stream)

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
        """What is left of a damaged member that was stored unpacked: a picture with a wrong byte can often be looked
        at.
        """
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
