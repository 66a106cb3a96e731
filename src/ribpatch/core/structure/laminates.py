"""The laminates of a zone as the panel solver sees them: as built, where they are bad, and as rebuilt. SI.

Where a core is bad its stiffness is knocked down by the core's own range; where a skin is loose the skins bend by
themselves; bad solid laminate keeps a share. Source: [15], [17].
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct

from ribpatch.core.laminate.original import skin_layup
from ribpatch.core.laminate.plate import heights, strain_turn
from ribpatch.core.laminate.sandwich import Sandwich
from ribpatch.core.memo import remembered
from ribpatch.core.structure.panel_records import Stiffness
from ribpatch.core.structure.stiffness import bending_about_neutral, layered_shear

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.job import CoreLayer, Skin
    from ribpatch.core.laminate.layup import Layup
    from ribpatch.core.materials.shelf import Shelf

Bad = Literal["rotted", "wet", "disbonded"]
STRAINS = ("along the fibres", "across the fibres", "in shear")


class PanelLaminate(Struct, frozen=True, eq=False, dict=True):
    """A laminate or sandwich. ``share`` of its stiffness is left (solid), or its skins are ``loose`` (sandwich)."""

    layup: Layup
    sandwich: Sandwich | None = None
    share: float = 1.0
    loose: bool = False

    @cached_property
    def stiffness(self) -> Stiffness:
        """D about the neutral axes, N m, and S, N/m."""
        if self.sandwich is not None and not self.loose:
            return Stiffness(bending_about_neutral(self.layup.plate), np.eye(2) * self.sandwich.shear_stiffness)
        parts = (self.sandwich.below, self.sandwich.above) if self.sandwich is not None else (self.layup,)
        D = sum((bending_about_neutral(p.plate) for p in parts), np.zeros((3, 3)))
        S = sum((_solid_shear(p) for p in parts), np.zeros((2, 2)))
        return Stiffness(D * self.share, S * self.share)

    @property
    def thickness(self) -> float:
        """All of it, m."""
        return self.layup.thickness

    @property
    def skins(self) -> float:
        """Thickness of what is no core, m."""
        return sum(s.thickness for s in self.layup.sheets if not s.core)

    @cached_property
    def _strain_rows(self) -> tuple[Floats, tuple[str, ...]]:
        """What a curvature uses of each first-ply limit, rows (k, 3) in m, and the way of each."""
        if self.loose and self.sandwich is not None:
            both = [PanelLaminate(p)._strain_rows for p in (self.sandwich.below, self.sandwich.above)]
            return np.concatenate([rows for rows, _ in both]), both[0][1] + both[1][1]
        plate, layup = self.layup.plate, self.layup
        middle = -np.linalg.solve(plate.A, plate.B)
        z = heights(layup.thicknesses)
        faces = np.stack([z[:-1], z[1:]], axis=-1)
        whole = middle[None, None] + faces[..., None, None] * np.eye(3)
        strains = np.einsum("nij,nfjk->nfik", strain_turn(layup.angles), whole)
        either = np.stack([layup.limits[:, [0, 1]].min(1), layup.limits[:, [2, 3]].min(1), layup.limits[:, 4]], -1)
        rows = strains / either[:, None, :, None]
        solid = np.array([not s.core for s in layup.sheets])
        ways = tuple(STRAINS * 2) * int(solid.sum())
        return rows[solid].reshape(-1, 3), ways

    def strain_use(self, curvature: Floats) -> Floats:
        """Greatest share of a first-ply strain limit under curvatures (n, 3) in 1/m, shape (n,).

        Either face is taken as the stretched one, so of the limits in tension and compression the lower counts.
        """
        return np.asarray(np.abs(curvature @ self._strain_rows[0].T).max(axis=-1))

    def strain_way(self, curvature: Floats) -> str:
        """In what way a layer is used most under one curvature (3,) in 1/m."""
        rows, ways = self._strain_rows
        return ways[int(np.abs(rows @ curvature).argmax())]

    def core_capacity(self) -> float:
        """Transverse shear force a width at which the core shears, N/m; infinite for a solid laminate."""
        return self.sandwich.shear_strength * self.sandwich.stiff if self.sandwich is not None else float("inf")


def _solid_shear(layup: Layup) -> Floats:
    shear = np.array([s.elastic.g12 for s in layup.sheets])
    return layered_shear(layup.thicknesses, layup.angles, shear, shear)


@remembered(64)
def built_laminate(
    skin: Skin, behind: Skin | None, core: CoreLayer | None, year: int | None, shelf: Shelf
) -> PanelLaminate:
    """The laminate as it was built: the skin worked on over core and other skin."""
    above = skin_layup(skin, year, shelf)
    if behind is None or core is None:
        return PanelLaminate(above)
    made = Sandwich(skin_layup(behind, year, shelf), shelf.core(core.core), core.thickness.si, above)
    return PanelLaminate(made.layup, made)


@remembered(64)
def bad_laminate(whole: PanelLaminate, bad: Bad, left: float | None, end: int, shelf: Shelf) -> PanelLaminate:
    """Where it is bad. ``left`` is the stated share of stiffness, else the core's range gives it: its better end (0),
    its middle (1) or its worse end (2).
    """
    sandwich = whole.sandwich
    if sandwich is None:
        share = shelf.rule("prove.solid.left") if left is None else left
        spread = min(1.0, share * (1.5, 1.0, 0.5)[end]) if left is None else share
        return PanelLaminate(whole.layup, None, spread)
    if bad == "disbonded" and left is None:
        if end == 2:
            return PanelLaminate(whole.layup, sandwich, 1.0, loose=True)
        share = shelf.rule("prove.disbond.left") * (4.0, 1.0)[end]
    else:
        share = core_left(sandwich.core.wet_loss, bad, end) if left is None else left
    share = min(max(share, 0.005), 1.0)
    made = Sandwich(sandwich.below, sandwich.core, sandwich.c, sandwich.above, share, sandwich.under, sandwich.over)
    return PanelLaminate(made.layup, made)


def core_left(loss: tuple[float, float], bad: Bad, end: int) -> float:
    """Share of a core's stiffness that is left, from its least and greatest loss: a wet core lies in the better half
    of that range, a rotted one in the worse.
    """
    least, most = loss
    middle = (least + most) / 2
    low, high = (least, middle) if bad == "wet" else (middle, most)
    return 1 - (low, (low + high) / 2, high)[end]


def rebuilt_laminate(sandwich: Sandwich | None, skin: Layup) -> PanelLaminate:
    """The laminate as the scheme rebuilds it."""
    return PanelLaminate(sandwich.layup, sandwich) if sandwich is not None else PanelLaminate(skin)
