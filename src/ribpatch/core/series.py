"""One-dimensional arrays: their middle, their distinct values, their groups, their runs.

NumPy's own median and unique load its masked arrays, which cost the start of the program a tenth of a second.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def median(values: Floats) -> float:
    """The middle value of an array of any unit, shape (n,) with n of 1 or more; the mean of the middle two for an even
    n.
    """
    half = values.size // 2
    if values.size % 2:
        return float(np.partition(values, half)[half])
    middle = np.partition(values, (half - 1, half))
    return float((middle[half - 1] + middle[half]) / 2)


def distinct(values: Floats) -> Floats:
    """The values in order, each once, shape (m,)."""
    ordered = np.sort(values)
    return ordered[_firsts(ordered)]


def grouped(keys: NDArray[np.int64]) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Where each distinct key first stands, in the order of the keys, shape (m,), and the group of every key, shape
    (n,).
    """
    order = np.argsort(keys, kind="stable")
    firsts = _firsts(keys[order])
    group = np.empty(keys.size, dtype=np.intp)
    group[order] = np.cumsum(firsts) - 1
    return order[firsts], group


def runs(mask: NDArray[Any]) -> list[tuple[int, int]]:
    """The stretches of a mask that hold, each from its first place to one past its last."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], (mask > 0).astype(np.int8), [0]])))
    return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]


def _firsts(ordered: NDArray[Any]) -> NDArray[np.bool_]:
    firsts = np.ones(ordered.size, dtype=np.bool_)
    firsts[1:] = ordered[1:] != ordered[:-1]
    return firsts
