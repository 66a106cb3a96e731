"""What a fingernail tells of a clock: how many times as long as stated a resin takes here.

The factor is log-normal about 1 before any test, a fifth either way. A state holds between two marks of the cure, each
known to a tenth: tacky until the green window opens, dented until it closes, marked until it can be sanded. Worked out
on a grid by Bayes' rule.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.normal import normal_cdf

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ribpatch.core.geometry import Floats
    from ribpatch.core.logged import NailState

PRIOR = 0.2  # deviation of the factor's logarithm
MARK = 0.1  # of a mark's
GRID = np.exp(np.linspace(-1.2, 1.2, 481))
BOUNDS: dict[str, tuple[str, str]] = {
    "tacky": ("", "green_from"),
    "dents": ("green_from", "green_to"),
    "marks": ("green_to", "sandable"),
    "dusts": ("sandable", ""),
}


class CureFactor(Struct, frozen=True):
    """How many times as long a resin takes: the middle, and where nine in ten lie; from how many tests."""

    middle: float
    low: float
    high: float
    tests: int


def cure_factor(
    tests: Sequence[tuple[NailState, float, dict[str, float]]], mean: float = 0.0, spread: float = PRIOR
) -> CureFactor:
    """The factor from tests, each a state, what the time since laying is worth as stated (s at 25 degC), and the times
    of the marks as stated. ``mean`` and ``spread`` are those of the factor's logarithm before the tests.
    """
    weight = np.exp(-0.5 * ((np.log(GRID) - mean) / spread) ** 2)
    for state, worth, marks in tests:
        weight = weight * likelihood(state, worth, marks)
    total = weight.sum()
    if not total > 0:  # tests that contradict everything tell nothing
        weight = np.exp(-0.5 * ((np.log(GRID) - mean) / spread) ** 2)
        total = weight.sum()
    gone = np.cumsum(weight) / total
    low, middle, high = (float(np.interp(share, gone, GRID)) for share in (0.05, 0.5, 0.95))
    return CureFactor(middle, low, high, len(tests))


def likelihood(state: NailState, worth: float, marks: dict[str, float]) -> Floats:
    """How likely a state is at each factor of the grid, 0 to 1; ``worth`` and the marks in s at 25 degC."""
    lower, upper = BOUNDS[state]
    came = np.log(max(worth, 1.0) / GRID)

    def past(mark: str) -> Floats:
        return normal_cdf((came - np.log(marks[mark])) / MARK)

    over = past(lower) if lower else np.ones(len(GRID))
    under = 1 - past(upper) if upper else np.ones(len(GRID))
    return np.asarray(np.clip(over * under, 1e-12, 1.0))
