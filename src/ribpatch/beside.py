"""A process of this program beside the window: it is told a task, says lines, and is ended with whoever listens."""

from __future__ import annotations

import os
import subprocess
import sys
from select import select
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterator

WAIT = 0.1  # s between two tellings of progress


def lines_of(module: str, task: bytes) -> Iterator[list[bytes] | None]:
    """The lines that ``python -m module`` says to a task on its standard input, as many as came; None now and then in
    between. The process is ended where nobody listens any longer.
    """
    process = subprocess.Popen(
        [sys.executable, "-m", module],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
    )
    assert process.stdin is not None and process.stdout is not None
    try:
        process.stdin.write(task)
        process.stdin.close()
        pipe, kept = process.stdout.fileno(), b""
        while True:
            if not select([pipe], [], [], WAIT)[0]:
                yield None
                continue
            read = os.read(pipe, 1 << 20)
            if not read:
                return
            *lines, kept = (kept + read).split(b"\n")
            if lines:
                yield lines
    finally:
        process.kill()
        process.wait()
        process.stdout.close()
