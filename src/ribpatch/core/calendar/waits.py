"""Waits in slots: from the slot at which a step ends, the first or the last at which the next may begin."""

from __future__ import annotations

from math import ceil, floor
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from ribpatch.core.calendar.modes import Ints
    from ribpatch.core.calendar.problem import Problem, Wait

EVEN = 1e-6  # slots by which a wait that ends on a slot may be off


def first_after(wait: Wait | None, problem: Problem) -> Ints:
    """For an end at each slot (slots + 1,), the first slot at which the wait is over; ``slots + 1`` where it is not
    within the calendar.
    """
    ends = np.arange(problem.slots + 1)
    if wait is None:
        return ends
    if wait.worth is None:
        return np.minimum(ends + ceil((wait.hours or 0.0) / problem.slot - EVEN), problem.slots + 1)
    worth = np.asarray(problem.clocks[wait.clock].slow)
    return np.searchsorted(worth, worth + wait.worth - EVEN * problem.slot).astype(np.int64)


def last_after(wait: Wait, problem: Problem) -> Ints:
    """For an end at each slot, the last slot at which the wait is not over yet; ``slots`` where that is later."""
    ends = np.arange(problem.slots + 1)
    if wait.worth is None:
        return np.minimum(ends + floor((wait.hours or 0.0) / problem.slot + EVEN), problem.slots)
    worth = np.asarray(problem.clocks[wait.clock].fast)
    return np.searchsorted(worth, worth + wait.worth + EVEN * problem.slot, side="right").astype(np.int64) - 1
