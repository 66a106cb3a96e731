"""What a job file looked like when it was read or written, to notice that something else changed it since."""

from __future__ import annotations

import os
import zipfile
from pathlib import Path

from msgspec import Struct

from ribpatch.jobfile.zips import open_zip


class FileMark(Struct, frozen=True):
    """One state of a file: its real place, its status, and a digest of what its directory of members says."""

    real: str
    status: tuple[int, int, int]  # inode, size in bytes, time of the last change in ns
    content: str

    @classmethod
    def of(cls, path: Path) -> FileMark | None:
        """The mark of the file as it is now; None where there is none."""
        try:
            real = os.path.realpath(path)
            status = os.stat(real)
        except OSError:
            return None
        return cls(real, (status.st_ino, status.st_size, status.st_mtime_ns), _digest(Path(real)))

    def changed(self, path: Path) -> str:
        """What became of the file at ``path`` since, in words; empty where its content is the same."""
        try:
            real = os.path.realpath(path)
            status = os.stat(real)
        except FileNotFoundError:
            return "is no longer there"
        except OSError as error:
            return f"can no longer be read ({error.strerror})"
        if real == self.real and (status.st_ino, status.st_size, status.st_mtime_ns) == self.status:
            return ""
        if _digest(Path(real)) == self.content:
            return ""
        return "was replaced by another file" if real != self.real else "was changed by something else"


def _digest(path: Path) -> str:
    """A digest of names, sizes and check sums of the members; of the bytes where the file is no zip."""
    from hashlib import sha256  # as in ribpatch.digests

    made = sha256()
    try:
        with open_zip(path) as archive:
            for row in archive.infolist():
                made.update(f"{row.filename}\0{row.CRC}\0{row.file_size}\n".encode())
    except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError):
        try:
            with open(path, "rb") as stream:
                while block := stream.read(2**20):
                    made.update(block)
        except OSError:
            return "unreadable"
    return made.hexdigest()
