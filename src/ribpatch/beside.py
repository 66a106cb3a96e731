"""A process of this program beside the window: it is given a task, answers in lines, and never outlives whoever asked.

The task goes down its standard input, which then stays open as its lifeline: when it closes, because the asker is gone
however it went, the process ends at once. The asker ends it too where nobody listens any longer, or its time is over.
"""

from __future__ import annotations

import ctypes
import os
import resource
import signal
import subprocess
import sys
import threading
from select import select
from time import monotonic
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterator

WAIT = 0.1  # s between two tellings of progress
CHUNK = 1 << 16
HEAD = 8  # bytes that say how long a task is
PR_SET_PDEATHSIG = 1  # prctl(2)


def lines_of(module: str, task: bytes, seconds: float) -> Iterator[list[bytes] | None]:
    """The lines that ``python -m module`` answers to a task, as many as came; None now and then in between. The process
    is ended after ``seconds``, and where nobody listens any longer.
    """
    until = monotonic() + seconds
    process = subprocess.Popen(
        [sys.executable, "-m", module],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
    )
    assert process.stdin is not None and process.stdout is not None
    try:
        rest = memoryview(len(task).to_bytes(HEAD, "big") + task)
        into, out, kept = process.stdin.fileno(), process.stdout.fileno(), b""
        os.set_blocking(into, False)
        while monotonic() < until:
            readable, writable, _ = select([out], [into] if rest else [], [], WAIT)
            if writable:
                rest = _written(into, rest)
            if not readable:
                yield None
                continue
            read = os.read(out, 1 << 20)
            if not read:
                return
            *lines, kept = (kept + read).split(b"\n")
            if lines:
                yield lines
    finally:
        process.kill()
        process.wait()
        process.stdout.close()
        process.stdin.close()


def _written(pipe: int, rest: memoryview) -> memoryview:
    """What is left of a task once as much as fits is in the pipe; nothing where nobody reads any longer."""
    try:
        return rest[os.write(pipe, rest[:CHUNK]) :]
    except BlockingIOError:
        return rest
    except BrokenPipeError:
        return rest[:0]


def task_given(memory: int = 0) -> bytes:
    """In the process: the task that it was given. From now on it ends with whoever asked; ``memory`` bytes (0: as many
    as there are) are all that it may take.
    """
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # what the terminal sends to both is the asker's to act on
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGKILL)
    if memory:
        resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    pipe = sys.stdin.buffer
    task = pipe.read(int.from_bytes(pipe.read(HEAD), "big"))
    threading.Thread(target=_end_with_the_asker, args=(pipe.fileno(),), daemon=True).start()
    return task


def _end_with_the_asker(lifeline: int) -> None:
    while os.read(lifeline, 1):
        pass
    os._exit(1)
