"""The bond along a scarf: mean stresses on the slope and the shear-lag peak along it. Pa, m.

On a slope of angle a = atan(1/R) a membrane stress s makes a mean shear s sin a cos a and a mean peel s sin2 a. The
peak comes from shear lag: two laminates whose thicknesses change along the joint, glued by a thin layer that shears;
with N2 the force in the new one, (ta/Ga) N2'' = N2/(E2 t2) - (N - N2)/(E1 t1), solved for many ratios at once: a ground
taper by finite volumes, a stepped one exactly, step by step. The joint is held flat. Source: [18], [19].
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.memo import Known

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats

CELLS = 400
LEAST_RATIO = 0.2  # a butt joint in all but name
# Held against independent trials: within 6 % held flat and R of 12 or more, 12 % high at 5, up to 22 % low free to
# bend.
TRUST = (
    "shear lag with the joint held flat: within 6 % at ratios of 12 and more, 12 % high at 5, up to 22 % low where "
    "it can bend"
)


class Glue(Struct, frozen=True):
    """What holds: design shear and peel strength of the bond, shear modulus, Pa, and thickness of the layer, m."""

    shear: float
    peel: float
    modulus: float
    layer: float


class Scarf(Struct, frozen=True):
    """Old and new laminate of a scarf: moduli Pa, thickness m, membrane stress Pa at the design strain, flat laps (0 is
    ground).
    """

    old: float
    new: float
    thickness: float
    stress: float
    steps: int = 0


class BondCurve(Struct, frozen=True, eq=False):
    """Over ratios R (n,): mean shear and peel, Pa; use of the bond at the mean and at the peak; peak over mean."""

    ratio: Floats
    shear: Floats
    peel: Floats
    used: Floats
    peak: Floats
    used_peak: Floats


def mean_stresses(ratio: Floats, stress: float) -> tuple[Floats, Floats]:
    """Mean shear and peel on the slope, Pa, shape of ``ratio``."""
    angle = np.arctan(1 / np.asarray(ratio))
    return stress * np.sin(angle) * np.cos(angle), stress * np.sin(angle) ** 2


def bond_use(shear: Floats, peel: Floats, glue: Glue) -> Floats:
    """Share of the bond's strength in use under shear and peel together: the root of the squares of both shares."""
    return np.asarray(np.hypot(shear / glue.shear, peel / glue.peel))


def bond_curve(ratio: Floats, scarf: Scarf, glue: Glue) -> BondCurve:
    """Use of the bond over ratios."""
    shear, peel = mean_stresses(ratio, scarf.stress)
    peak = shear_lag_peak(ratio, scarf, glue)
    return BondCurve(ratio, shear, peel, bond_use(shear, peel, glue), peak, bond_use(shear * peak, peel * peak, glue))


def ratio_for(factor: float, scarf: Scarf, glue: Glue, most: float = 100.0) -> float:
    """The least ratio from which on the mean use of the bond stays under 1/factor; infinite beyond ``most``.

    With x = R2 the squared use is s2 (x / shear2 + 1 / peel2) / (1 + x)2: the larger root of a quadratic.
    """
    strength = (factor * scarf.stress) ** 2
    half = strength / glue.shear**2 / 2 - 1
    under = half**2 - 1 + strength / glue.peel**2
    ratio = math.sqrt(max(half + math.sqrt(max(under, 0.0)), 0.0))
    return max(ratio, LEAST_RATIO) if ratio <= most else float("inf")


def shear_lag_peak(ratio: Floats, scarf: Scarf, glue: Glue) -> Floats:
    """Peak over mean shear of the bond for each ratio, shape (n,)."""
    ratio = np.asarray(ratio)
    if ratio.size == 1:  # asked at every edit, of a scarf made anew from much the same numbers
        one = ratio.reshape(1)
        return _PEAKS.of((float(one[0]), scarf, glue), lambda: _peaks(one, scarf, glue))
    return _peaks(ratio, scarf, glue)


_PEAKS: Known[tuple[float, Scarf, Glue], Floats] = Known(64)


def _peaks(ratio: Floats, scarf: Scarf, glue: Glue) -> Floats:
    if scarf.steps:
        return _stepped_peaks(ratio, scarf, glue)
    # The peak lies at an end, half a cell beyond the last one's middle: its error falls with the cell, and is taken
    # off.
    coarse, fine = (_ground_peaks(ratio, scarf, glue, n) for n in (CELLS // 2, CELLS))
    return np.asarray(2 * fine - coarse)


def _ground_peaks(ratio: Floats, scarf: Scarf, glue: Glue, cells: int) -> Floats:
    # The ends themselves are never used: only the nodes between them enter the sums.
    share = np.clip(np.linspace(0, 1, cells + 1), 1e-9, 1 - 1e-9)
    length = ratio * scarf.thickness
    c_new, c_old = 1 / (scarf.new * (1 - share) * scarf.thickness), 1 / (scarf.old * share * scarf.thickness)
    shear = lap_shear(length, c_new, c_old, glue.layer, glue.modulus)
    return np.asarray(shear.max(axis=1) * length)


def _stepped_peaks(ratio: Floats, scarf: Scarf, glue: Glue) -> Floats:
    """Peaks of a joint of flat steps, exact: within a step the force is a constant and two exponentials.

    Step k of n leaves k / (n + 1) of the thickness of the old laminate under n + 1 - k of the new. Between the steps
    force and shear run on, which gives three neighbouring forces an equation each.
    """
    steps, thickness = scarf.steps, scarf.thickness
    k = np.arange(1, steps + 1) / (steps + 1)
    c_old, c_new = 1 / (scarf.old * k * thickness), 1 / (scarf.new * (1 - k) * thickness)
    rate = np.sqrt((c_old + c_new) * glue.modulus / glue.layer)  # 1/m, (n,)
    rest = c_old / (c_old + c_new)  # share of the force that the new laminate tends to within a long step
    length = np.asarray(ratio) * thickness
    z = rate * (length / steps)[:, None]
    fade = np.exp(-np.minimum(z, 700.0))
    coth, csch = rate * (1 + fade**2) / (1 - fade**2), rate * 2 * fade / (1 - fade**2)
    force = np.zeros((len(length), steps + 1))
    force[:, 0] = 1.0
    if steps > 1:
        right = rest[:-1] * (coth - csch)[:, :-1] + rest[1:] * (coth - csch)[:, 1:]
        right[:, 0] += csch[:, 0]
        force[:, 1:-1] = solve_tridiagonal(csch[:, 1:-1], coth[:, :-1] + coth[:, 1:], right)
    first, last = force[:, :-1] - rest, force[:, 1:] - rest
    ends = np.concatenate([coth * first - csch * last, csch * first - coth * last], axis=1)
    return np.asarray(np.abs(ends).max(axis=1) * length)


def solve_tridiagonal(beside: Floats, diagonal: Floats, right: Floats) -> Floats:
    """Solve systems side by side with ``-beside`` (n, m - 1) on both sides of ``diagonal`` (n, m)."""
    count = diagonal.shape[1]
    upper, value = np.zeros_like(diagonal), np.empty_like(diagonal)
    for i in range(count):
        below = diagonal[:, i] - (beside[:, i - 1] * upper[:, i - 1] if i else 0.0)
        upper[:, i] = beside[:, i] / below if i < count - 1 else 0.0
        value[:, i] = (right[:, i] + (beside[:, i - 1] * value[:, i - 1] if i else 0.0)) / below
    for i in range(count - 2, -1, -1):
        value[:, i] += upper[:, i] * value[:, i + 1]
    return value


def lap_shear(length: Floats, c_new: Floats, c_old: Floats, layer: float, modulus: float) -> Floats:
    """Shear in the cells of a joint under a unit force a width, 1/m, shape (n, cells).

    ``length`` (n,) and ``layer`` in m, ``modulus`` of the glue in Pa; compliances of new and old laminate a width,
    m/N, at the nodes (cells + 1,). The old laminate takes
    the whole force at the outer end, the new one at the cut.
    """
    cells = len(c_new) - 1
    h = np.asarray(length)[:, None] / cells
    k = layer / modulus / h**2
    inner = slice(1, cells)
    diagonal = 2 * k + (c_new + c_old)[None, inner]
    right = np.broadcast_to(c_old[None, inner], diagonal.shape).copy()
    right[:, :1] += k  # at the cut the new laminate carries all of the unit force
    force = np.zeros((len(h), cells + 1))
    force[:, 0] = 1.0
    force[:, inner] = solve_tridiagonal(np.broadcast_to(k, (len(h), cells - 2)), diagonal, right)
    return np.asarray(-np.diff(force, axis=1) / h)
