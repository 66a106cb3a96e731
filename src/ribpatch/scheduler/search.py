"""The search for the best schedule: starts the process that searches, hands on what it finds, and stops it.

The solver lives in a process of its own: what it loads would double the window's memory, and whatever becomes of it,
what was found before stays.
"""

from __future__ import annotations

import os
import subprocess
import sys
from select import select
from time import monotonic
from typing import TYPE_CHECKING

import msgspec

from ribpatch.core.calendar.first import first_schedule
from ribpatch.core.calendar.problem import Clash, Problem, Schedule  # noqa: TC001  # Found is read by its annotations
from ribpatch.scheduler.lines import Line, Task

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from ribpatch.core.calendar.range import Spread

SECONDS = 10.0
SPARE = 30.0  # s beyond the time given after which the process is ended
WAIT = 0.1  # s between two tellings of progress


class Found(msgspec.Struct, frozen=True):
    """What a search came to: a schedule, or what clashes, or neither where it was not found out in the time; ``span``
    is the slots between which nine in ten finish.
    """

    schedule: Schedule | None = None
    clash: Clash | None = None
    span: tuple[int, int] | None = None


def searched(
    problem: Problem,
    seconds: float = SECONDS,
    known: Schedule | None = None,
    go_on: Callable[[float, Schedule | None], bool] | None = None,
    spread: Spread | None = None,
) -> Found:
    """The best schedule found in about ``seconds``; ``go_on(share, best)`` stops it by answering False."""
    best = known if known is not None else first_schedule(problem)
    began = monotonic()
    for line in _lines(Task(problem, seconds, best, spread)):
        if line is not None and line.last:
            return Found(line.schedule or best, line.clash, line.span)
        if line is not None and line.schedule is not None:
            best = line.schedule
        told = (monotonic() - began) / max(seconds, 1e-9)
        if monotonic() - began > seconds * 2 + SPARE:
            break
        if go_on is not None and not go_on(min(told, 1.0), best):
            break
    return Found(best)


def _lines(task: Task) -> Iterator[Line | None]:
    """What the process says, as it says it; None now and then in between."""
    process = subprocess.Popen(
        [sys.executable, "-m", "ribpatch.scheduler"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
    )
    assert process.stdin is not None and process.stdout is not None
    try:
        process.stdin.write(msgspec.json.encode(task))
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
            for line in lines:
                yield msgspec.json.decode(line, type=Line)
    finally:
        process.kill()
        process.wait()
        process.stdout.close()
