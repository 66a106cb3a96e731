"""What a lens does: straight lines bow away from the middle of the picture or towards it.

Places are measured from the middle, in half diagonals of the picture. With the division model a place p as pictured
belongs at p / (1 + k |p|^2) without the lens; k is below nothing where lines bow outwards, as with wide lenses. One
number is all that a handful of points along straight edges can tell. Source: [38].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ribpatch.core.geometry import Floats

MOST_BOW = 0.6  # of k, either way; a lens beyond it makes pictures of another kind
STEPS = 61
NARROW = 1e-7  # of k, where the search ends
GOLDEN = (5**0.5 - 1) / 2


def unbent(places: Floats, k: float) -> Floats:
    """Where pictured places (n, 2) belong without the lens."""
    bare: Floats = places / (1 + k * (places**2).sum(axis=-1, keepdims=True))
    return bare


def bent(places: Floats, k: float) -> Floats:
    """Where places without the lens (n, 2) are pictured; not a number where the lens pictures them nowhere."""
    if abs(k) < 1e-12:
        return places
    with np.errstate(invalid="ignore"):
        root = np.sqrt(1 - 4 * k * (places**2).sum(axis=-1, keepdims=True))
    pictured: Floats = places * (2 / (1 + root))  # the branch that stays put as k goes to nothing
    return pictured


def off_lines(edges: Sequence[Floats], k: float) -> Floats:
    """How far each pictured point (n, 2 an edge) lies off the straight line through its edge without the lens, in
    half diagonals of the picture as it is: what stretches all of it is no gain.
    """
    off = []
    for edge in edges:
        bare = unbent(edge, k)
        about = bare - bare.mean(axis=0)
        across = np.linalg.svd(about, full_matrices=False)[2][1]
        off.append((about @ across) * (1 + k * (edge**2).sum(axis=1)))
    return np.concatenate(off)


def bow_of(edges: Sequence[Floats]) -> float:
    """The k that makes edges (each (n, 2), three points and more) straightest; 0 where there are none.

    A coarse sweep, then the golden section about its best: the sum of squares may have more than one valley.
    """
    if not edges:
        return 0.0

    def cost(k: float) -> float:
        return float((off_lines(edges, k) ** 2).sum())

    tried = np.linspace(-MOST_BOW, MOST_BOW, STEPS)
    best = float(tried[int(np.argmin([cost(k) for k in tried]))])
    step = float(tried[1] - tried[0])
    low, high = max(best - step, -MOST_BOW), min(best + step, MOST_BOW)
    while high - low > NARROW:
        left, right = high - GOLDEN * (high - low), low + GOLDEN * (high - low)
        if cost(left) < cost(right):
            high = right
        else:
            low = left
    return (low + high) / 2
