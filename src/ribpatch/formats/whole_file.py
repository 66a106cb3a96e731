"""The bytes of a file from outside, or a plain fault where it is missing, unreadable or too large."""

from __future__ import annotations

import os
import stat
from select import select
from time import monotonic, sleep
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pathlib import Path

    from ribpatch.core.errors import FileProblem

SILENT = 5.0  # s that a pipe is waited for


def _from_pipe(path: Path, most: int) -> bytes:
    """What comes through a pipe until its writer is done, at most ``most`` bytes; raises TimeoutError where nobody
    writes.
    """
    handle, raw = os.open(path, os.O_RDONLY | os.O_NONBLOCK), b""
    until = monotonic() + SILENT
    try:
        while len(raw) < most:
            if monotonic() > until:
                raise TimeoutError
            if not select([handle], [], [], 0.1)[0]:
                continue
            try:
                read = os.read(handle, min(most - len(raw), 1 << 20))
            except BlockingIOError:
                continue
            if not read and raw:
                break
            if read:
                raw, until = raw + read, monotonic() + SILENT
            else:
                sleep(0.05)  # no writer yet
        return raw
    finally:
        os.close(handle)


def read_whole(path: Path, most: int, fault: type[FileProblem], too_large: str) -> bytes:
    """The bytes of a file of at most ``most`` bytes; raises ``fault``. ``too_large`` says what to do about a larger
    one.
    """
    try:
        if stat.S_ISFIFO(path.stat().st_mode):
            raw = _from_pipe(path, most + 1)
        else:
            with path.open("rb") as stream:  # what it says of its size is not asked: a device says 0
                raw = stream.read(most + 1)
    except TimeoutError:
        raise fault(
            path.name, reason=f"is a pipe into which nothing was written for {SILENT:.0f} s", advice="Name a file."
        ) from None
    except OSError as error:
        raise fault(
            path.name, reason=f"cannot be read ({error.strerror})", advice="Check its name and permissions."
        ) from None
    if len(raw) > most:
        raise fault(path.name, reason=f"is larger than {most // 2**20} MiB", advice=too_large)
    return raw
