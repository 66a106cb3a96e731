"""What a shop learns of its own hours: by how much they differ from the estimate, and what the next job may take.

The logarithm of actual over estimated hours is normal with a mean and a spread of the shop's own. Before any job the
mean is 0, worth two jobs, and the spread a quarter, worth eight (a normal-inverse-gamma prior): few jobs move the
estimate little. The next job's range follows Student's t. Source: [36], 3.3.
"""

from __future__ import annotations

from math import exp, log, sqrt
from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from collections.abc import Iterable

JOBS, SPREAD, SPREAD_JOBS = 2.0, 0.25, 8.0
FARTHEST = 1e12  # deviations


class Learned(Struct, frozen=True):
    """How many times as long as estimated: the middle, where nine in ten of the next jobs lie, and from how many."""

    factor: float
    low: float
    high: float
    jobs: int


def learned(ratios: Iterable[float], share: float = 0.9) -> Learned:
    """The factor from ratios of actual to estimated, each over 0."""
    logs = [log(r) for r in ratios if r > 0]
    n = len(logs)
    mean = sum(logs) / n if n else 0.0
    kept = JOBS + n
    middle = n * mean / kept
    freedom = SPREAD_JOBS + n
    squares = sum((x - mean) ** 2 for x in logs)
    scale = (SPREAD_JOBS * SPREAD**2 + squares + JOBS * n / kept * mean**2) / freedom
    off = student_quantile(0.5 + share / 2, freedom) * sqrt(scale * (1 + 1 / kept))
    return Learned(exp(middle), exp(middle - off), exp(middle + off), n)


def student_quantile(share: float, freedom: float) -> float:
    """The quantile of Student's t: its distribution as a series of the angle is summed, and turned round by halving.
    Over half of the distribution; freedom above 0.
    """
    low, high = 0.0, 2.0
    while student_cdf(high, freedom) < share and high < FARTHEST:
        high *= 2
    for _ in range(80):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if student_cdf(middle, freedom) < share else (low, middle)
    return 0.5 * (low + high)


def student_cdf(t: float, freedom: float) -> float:
    """The share of Student's t below ``t``, by the incomplete beta function as a continued fraction; [12], 26.5.8."""
    x = freedom / (freedom + t * t)
    tail = 0.5 * incomplete_beta(freedom / 2, 0.5, x)
    return 1 - tail if t >= 0 else tail


def incomplete_beta(a: float, b: float, x: float) -> float:
    """The regularised incomplete beta function, for a and b above 0 and x from 0 to 1; [12], 26.5.8, by Lentz."""
    from math import lgamma

    if x <= 0 or x >= 1:
        return min(max(x, 0.0), 1.0)
    front = exp(lgamma(a + b) - lgamma(a) - lgamma(b) + a * log(x) + b * log(1 - x))
    if x > (a + 1) / (a + b + 2):
        return 1 - front * _fraction(b, a, 1 - x) / b
    return front * _fraction(a, b, x) / a


def _fraction(a: float, b: float, x: float) -> float:
    tiny = 1e-300
    c, d = 1.0, 1 / max(1 - (a + b) * x / (a + 1), tiny)
    made = d
    for m in range(1, 300):
        for top in (
            m * (b - m) * x / ((a + 2 * m - 1) * (a + 2 * m)),
            -(a + m) * (a + b + m) * x / ((a + 2 * m) * (a + 2 * m + 1)),
        ):
            d = 1 / (1 + top * d or tiny)
            c = 1 + top / c or tiny
            made *= c * d
        if abs(c * d - 1) < 1e-14:
            break
    return made
