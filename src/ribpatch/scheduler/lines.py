"""What is said to the process that searches, and what it says."""

from __future__ import annotations

from msgspec import Struct

from ribpatch.core.calendar.problem import Clash, Problem, Schedule  # noqa: TC001  # read with the annotations
from ribpatch.core.calendar.range import Spread  # noqa: TC001  # read with the annotations


class Task(Struct, frozen=True):
    """A problem, the time for it, s, and a schedule that is known."""

    problem: Problem
    seconds: float
    known: Schedule | None = None
    spread: Spread | None = None  # to tell how sure the finish is


class Line(Struct, frozen=True):
    """A schedule that is better than before; the last line tells the best, or what clashes (neither: not found out)."""

    schedule: Schedule | None = None
    clash: Clash | None = None
    last: bool = False
    span: tuple[int, int] | None = None
