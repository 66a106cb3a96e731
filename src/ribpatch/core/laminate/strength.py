"""First-ply failure by maximum strain. Loads in N/m and N m/m; strains m/m.

Under each load alone the strains of every layer, at its two faces and in its own axes, are held against its limits; the
load at which the first reaches one is the first failure. A crack across the fibres is not yet a break: the load at
which the first fibres break (or buckle) is given beside it, with the stiffness taken as still whole. A mat's limits are
where it breaks; it has none for its first cracks. So laminates of mat, woven and stitched cloth are held against one
another by ``breaks``: fibres along, mat any way, any layer in shear. Source: [15], [16].
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, get_args

import numpy as np
from msgspec import Struct

from ribpatch.core.laminate.plate import heights, strain_turn

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.laminate.layup import Layup

Load = Literal[
    "tension along",
    "tension across",
    "compression along",
    "compression across",
    "shear",
    "bending along, top stretched",
    "bending along, bottom stretched",
    "bending across, top stretched",
    "bending across, bottom stretched",
]
LOADS: tuple[Load, ...] = get_args(Load)
_UNIT = np.array(
    [
        (1, 0, 0, 0, 0, 0),
        (0, 1, 0, 0, 0, 0),
        (-1, 0, 0, 0, 0, 0),
        (0, -1, 0, 0, 0, 0),
        (0, 0, 1, 0, 0, 0),
        (0, 0, 0, 1, 0, 0),
        (0, 0, 0, -1, 0, 0),
        (0, 0, 0, 0, 1, 0),
        (0, 0, 0, 0, -1, 0),
    ],
    dtype=float,
)
NONE = 1e-12  # share of a limit that counts as nothing
MODES = (
    "fibres in tension",
    "fibres in compression",
    "cracks across the fibres",
    "crushing across the fibres",
    "shear",
)


class Failure(Struct, frozen=True):
    """Under one load: the load (N/m or N m/m) of the first failure, its ply, its mode, the load of the first broken
    fibres, and the load at which the first layer breaks in any way but by cracks across its fibres.
    """

    load: Load
    first: float
    ply: int
    mode: str
    fibres: float
    breaks: float


def layer_strains(layup: Layup, loads: Floats) -> Floats:
    """Strains in the layers' own axes under loads (k, 6) = (Nx, Ny, Nxy, Mx, My, Mxy); shape (k, n, 2 faces, 3).

    Loads in N/m and N m/m, strains in m/m (engineering shear). Mx > 0 stretches the top.
    """
    middle = loads @ layup.plate.compliance.T
    z = heights(layup.thicknesses)
    faces = np.stack([z[:-1], z[1:]], axis=-1)
    whole = middle[:, None, None, :3] + faces[None, :, :, None] * middle[:, None, None, 3:]
    return np.asarray(np.einsum("nij,knfj->knfi", strain_turn(layup.angles), whole))


def used(strains: Floats, limits: Floats) -> Floats:
    """Share of each limit in use, shape (k, n, 2, 5): tension and compression along 1 and 2, shear; at least 0."""
    e1, e2, g = strains[..., 0], strains[..., 1], strains[..., 2]
    parts = np.stack([e1, -e1, e2, -e2, np.abs(g)], axis=-1)
    return np.asarray(np.maximum(parts / limits[None, :, None, :], 0.0))


def failures(layup: Layup) -> tuple[Failure, ...]:
    """The strength of a laminate under each load alone."""
    share = used(layer_strains(layup, _UNIT), layup.limits)
    found = []
    for k, load in enumerate(LOADS):
        worst = share[k].max(axis=1)
        n, mode = np.unravel_index(int(worst.argmax()), worst.shape)
        fibres = float((worst[:, :4] * _breaks(layup)).max())
        breaks = max(fibres, float(worst[:, 4].max()))
        first = 1 / max(float(worst.max()), NONE)
        found.append(
            Failure(load, first, layup.sheets[n].ply, MODES[mode], 1 / max(fibres, NONE), 1 / max(breaks, NONE))
        )
    return tuple(found)


def _breaks(layup: Layup) -> Floats:
    """Which direct strain limits are a breaking of fibres, (n, 4): along them, and in a mat any way."""
    mats = np.array([sheet.name == "mat" for sheet in layup.sheets])
    return np.stack([np.ones_like(mats), np.ones_like(mats), mats, mats], axis=-1).astype(float)
