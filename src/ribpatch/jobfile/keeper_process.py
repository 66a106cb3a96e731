"""The process that writes the recovery copy: whatever the window is at, and after the window was killed too, what it
was given whole is written. It stands alone, on the standard library only, so that it starts in a fiftieth of a second.

On standard input, one after the other: a line of JSON (``serial``, ``copy`` and ``note`` with their places, ``told``
with the note's text, ``size`` of what follows) and the bytes of ``job.json``. On standard output a line for each:
``serial`` and, where it could not be written, ``errno`` and ``error``.

A copy is in its place at once, whole at any time. A thread then has the disk take it: a disk that is busy may need
seconds for that, and the next copy must not wait.
"""

import contextlib
import json
import os
import signal
import sys
import threading
import zipfile
from collections.abc import Callable
from typing import IO

PRIVATE = 0o600


def put(place: str, write: Callable[[IO[bytes]], None]) -> None:
    """Have ``write`` fill the file at a place: another program that looks sees the old one or the new one."""
    part = f"{os.path.dirname(place)}/.{os.path.basename(place)}.keeper.part"
    handle = os.open(part, os.O_RDWR | os.O_CREAT | os.O_TRUNC, PRIVATE)
    try:
        with os.fdopen(handle, "wb") as stream:
            write(stream)
        os.replace(part, place)
    except BaseException:
        with contextlib.suppress(OSError):
            os.unlink(part)
        raise


def keep(told: dict[str, str], job: bytes) -> None:
    """Write a copy and its note."""

    def packed(stream: IO[bytes]) -> None:
        with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as archive:
            archive.writestr("job.json", job)

    def noted(stream: IO[bytes]) -> None:
        stream.write(told["told"].encode())

    put(told["copy"], packed)
    put(told["note"], noted)


class Syncing:
    """Has the disk take what was written last, beside the writing of what comes next."""

    def __init__(self) -> None:
        self._wanted = threading.Event()
        self._places: tuple[str, ...] = ()
        self._over = False
        self._thread = threading.Thread(target=self._run)
        self._thread.start()

    def want(self, *places: str) -> None:
        """Sync the files at these places, and their folder."""
        self._places = places
        self._wanted.set()

    def close(self) -> None:
        """Sync what is left, and end."""
        self._over = True
        self._wanted.set()
        self._thread.join()

    def _run(self) -> None:
        while True:
            self._wanted.wait()
            self._wanted.clear()
            for place in (*self._places, *(os.path.dirname(p) for p in self._places[:1])):
                with contextlib.suppress(OSError):  # it is gone again, or the file system cannot
                    handle = os.open(place, os.O_RDONLY)
                    try:
                        os.fsync(handle)
                    finally:
                        os.close(handle)
            if self._over and not self._wanted.is_set():
                return


def main() -> None:
    """Write what comes until nothing more does."""
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, signal.SIG_IGN)  # it ends when the window has gone, and all is written
    given, syncing = sys.stdin.buffer, Syncing()
    while line := given.readline():
        told = json.loads(line)
        job = given.read(told["size"])
        if len(job) < told["size"]:
            break  # the window was killed in the middle of a word
        answer = {"serial": told["serial"]}
        try:
            keep(told, job)
            syncing.want(told["copy"], told["note"])
        except OSError as error:
            answer |= {"errno": error.errno or 0, "error": error.strerror or str(error)}
        with contextlib.suppress(OSError):
            print(json.dumps(answer), flush=True)
    syncing.close()


if __name__ == "__main__":
    main()
