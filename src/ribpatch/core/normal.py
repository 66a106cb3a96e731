"""The normal distribution: its function, and the three places that stand for it in a mean."""

from __future__ import annotations

from math import erfc, exp, pi, sqrt
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]

# Gauss-Hermite of three nodes for the standard normal distribution: 0 and +-sqrt(3), weights 2/3 and 1/6; [12],
# 25.4.46.
NODES = ((-1.7320508075688772, 1 / 6), (0.0, 2 / 3), (1.7320508075688772, 1 / 6))


def normal_cdf(z: Floats) -> Floats:
    """The share of the standard normal distribution below ``z`` deviations, to 1e-7 absolute: [12], 26.2.17 (Python has
    no vectorised erf).
    """
    t = 1 / (1 + 0.2316419 * np.abs(z))
    tail = t * (0.319381530 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))))
    tail *= np.exp(-0.5 * z * z) * 0.3989422804014327
    return np.asarray(np.where(z >= 0, 1 - tail, tail))


def normal_quantile(share: float) -> float:
    """Where the standard normal distribution function has a value between 0 and 1, to 1e-12; by Newton's method.

    The standard library's own loads its module of statistics, which costs the start of the program a tenth of a window.
    """
    z = 0.0
    for _ in range(60):
        step = (0.5 * erfc(-z / sqrt(2)) - share) * sqrt(2 * pi) * exp(0.5 * z * z)
        z -= min(max(step, -0.5), 0.5)
        if abs(step) < 1e-13:
            break
    return z
