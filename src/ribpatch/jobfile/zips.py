"""Opening a zip whose list of members may be meant to do harm: its size is looked at before it is read."""

from __future__ import annotations

import stat
import struct
import zipfile
from pathlib import Path
from typing import IO

MOST_DIRECTORY = 4 * 2**20  # bytes of the list of members: some 30,000 names of ours
_END, _TAIL = b"PK\x05\x06", 22 + 65_535


def open_zip(source: Path | IO[bytes]) -> zipfile.ZipFile:
    """The zip in a file or stream; raises zipfile.BadZipFile where its list of members is far too long, or it is
    none.
    """
    if isinstance(source, Path):
        mode = source.stat().st_mode
        if not (stat.S_ISREG(mode) or stat.S_ISBLK(mode)):
            raise zipfile.BadZipFile("it is no regular file")
        with open(source, "rb") as stream:
            _check(stream)
        return zipfile.ZipFile(source)
    _check(source)
    return zipfile.ZipFile(source)


def _check(stream: IO[bytes]) -> None:
    size = stream.seek(0, 2)
    stream.seek(max(0, size - _TAIL))
    tail = stream.read(_TAIL)
    stream.seek(0)
    at = tail.rfind(_END)
    if at < 0 or at + 22 > len(tail):
        raise zipfile.BadZipFile("it is no zip")
    (directory,) = struct.unpack("<I", tail[at + 12 : at + 16])
    if directory > MOST_DIRECTORY:  # also where the size stands elsewhere, as in zips of over 4 GiB
        raise zipfile.BadZipFile("its list of members is far too long")
