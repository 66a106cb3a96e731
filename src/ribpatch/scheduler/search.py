"""The search for the best schedule: starts the process that searches, hands on what it finds, and stops it.

The solver lives in a process of its own: what it loads would double the window's memory, and whatever becomes of it,
what was found before stays.
"""

from __future__ import annotations

from time import monotonic
from typing import TYPE_CHECKING

import msgspec

from ribpatch.beside import lines_of
from ribpatch.core.calendar.first import first_schedule
from ribpatch.core.calendar.problem import Clash, Problem, Schedule  # noqa: TC001  # Found is read by its annotations
from ribpatch.scheduler.lines import Line, Task

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from ribpatch.core.calendar.range import Spread

SECONDS = 10.0
SPARE = 30.0  # s beyond the time given after which the process is ended


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
    for line in _lines(Task(problem, seconds, best, spread), seconds * 2 + SPARE):
        if line is not None and line.last:
            return Found(line.schedule or best, line.clash, line.span)
        if line is not None and line.schedule is not None:
            best = line.schedule
        told = (monotonic() - began) / max(seconds, 1e-9)
        if go_on is not None and not go_on(min(told, 1.0), best):
            break
    return Found(best)


def _lines(task: Task, seconds: float) -> Iterator[Line | None]:
    """What the process says, as it says it; None now and then in between."""
    for lines in lines_of("ribpatch.scheduler", msgspec.json.encode(task), seconds):
        if lines is None:
            yield None
            continue
        for line in lines:
            yield msgspec.json.decode(line, type=Line)
