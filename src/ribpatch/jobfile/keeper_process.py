"""The process that writes the recovery copy: whatever the window is at, and after the window was killed too, what it
was given whole is written. It stands alone, on the standard library only, so that it starts in a fiftieth of a second.

On standard input, one after the other: a line of JSON (``serial``, ``copy`` and ``note`` with their places, ``told``
with the note's text, ``size`` of what follows) and the bytes of ``job.json``. On standard output a line for each:
``serial`` and, where it could not be written, ``errno`` and ``error``.
"""

import contextlib
import json
import os
import signal
import sys
import zipfile
from collections.abc import Callable
from typing import IO

PRIVATE = 0o600


def put(place: str, write: Callable[[IO[bytes]], None]) -> None:
    """Have ``write`` fill the file at a place, whole at any time: another program that looks sees the old or the new.

    It is in its place at once and synced after that: what is killed must not wait for a disk that is busy.
    """
    part = f"{os.path.dirname(place)}/.{os.path.basename(place)}.keeper.part"
    handle = os.open(part, os.O_RDWR | os.O_CREAT | os.O_TRUNC, PRIVATE)
    try:
        with os.fdopen(handle, "wb") as stream:
            write(stream)
            stream.flush()
            os.replace(part, place)
            os.fsync(stream.fileno())
    except BaseException:
        with contextlib.suppress(OSError):
            os.unlink(part)
        raise
    folder = os.open(os.path.dirname(place), os.O_RDONLY)
    try:
        with contextlib.suppress(OSError):  # some file systems cannot sync a folder
            os.fsync(folder)
    finally:
        os.close(folder)


def keep(told: dict[str, str], job: bytes) -> None:
    """Write a copy and its note."""

    def packed(stream: IO[bytes]) -> None:
        with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as archive:
            archive.writestr("job.json", job)

    def noted(stream: IO[bytes]) -> None:
        stream.write(told["told"].encode())

    put(told["copy"], packed)
    put(told["note"], noted)


def main() -> None:
    """Write what comes until nothing more does."""
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, signal.SIG_IGN)  # it ends when the window has gone, and all is written
    given = sys.stdin.buffer
    while line := given.readline():
        told = json.loads(line)
        job = given.read(told["size"])
        if len(job) < told["size"]:
            return  # the window was killed in the middle of a word
        answer = {"serial": told["serial"]}
        try:
            keep(told, job)
        except OSError as error:
            answer |= {"errno": error.errno or 0, "error": error.strerror or str(error)}
        with contextlib.suppress(OSError):
            print(json.dumps(answer), flush=True)


if __name__ == "__main__":
    main()
