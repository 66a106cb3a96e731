"""The process that searches: a problem on standard input; every better schedule, then the best one or the clash, as a
line on standard output. Nothing is written but the lines.
"""

from __future__ import annotations

import os

import msgspec

from ribpatch.beside import task_given
from ribpatch.scheduler.lines import Line, Task

GENTLE = 5  # below the window in the order of who runs first


def search(task: Task) -> Line:
    """Search for the time given, and print what is better than before."""
    from ribpatch.core.calendar.range import finish_range
    from ribpatch.scheduler.explain import clash_of
    from ribpatch.scheduler.solve import best_schedule

    best = best_schedule(task.problem, task.seconds, task.known, lambda found: say(Line(found)))
    if best is None:
        return Line(None, clash_of(task.problem, max(task.seconds, 5.0)), True)
    return Line(best, None, True, finish_range(task.problem, best, task.spread) if task.spread is not None else None)


def say(line: Line) -> None:
    """One line."""
    print(msgspec.json.encode(line).decode(), flush=True)


if __name__ == "__main__":
    os.nice(GENTLE)
    say(search(msgspec.json.decode(task_given(), type=Task)))
