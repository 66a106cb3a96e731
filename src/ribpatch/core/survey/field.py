"""Where the damage is: the chance of it at every place of a zone, from the readings and what is known of damage.

A Gaussian field stands behind the panel; where it is over zero the material is damaged. Before anything is read it is
over zero with the prior chance (more near what damage starts from), and alike over a length that nobody knows: several
lengths, round and drawn out along and across, are carried side by side, each with the weight that the readings give it.
The readings enter by their likelihoods, with what is wrong about them: slips, false highs, a listener who hears
everything duller, a meter that drifts. Beside the field stands the chance that the panel has no damage at all.
Source: [4], chapters 3 and 5.
"""

from __future__ import annotations

from math import sqrt
from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct

from ribpatch.core.memo import remembered
from ribpatch.core.survey.passes import Passes
from ribpatch.core.survey.score import KINDS, READ, scores_of

if TYPE_CHECKING:
    from numpy.typing import NDArray
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.geometry import Floats, Ring
    from ribpatch.core.job import Survey
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.survey.posterior import Posterior
    from ribpatch.core.survey.structure import Starts

CELLS = 1000  # of the picture of the field; it is smooth, and contours are interpolated between cells


class Field(Struct, frozen=True, eq=False):
    """Chance of damage on a grid: x (nx,), y (ny,) in m; chance, its log-odds and the doubt that is left, (ny, nx)."""

    x: Floats
    y: Floats
    chance: Floats
    odds: Floats
    doubt: Floats
    sites: int


@remembered(12, survey=READ)  # each holds a few matrices of up to a third of a megabyte
def posterior_of(survey: Survey, outline: Ring, shelf: Shelf, starts: Starts = ()) -> Posterior | None:
    """What a zone's readings say of it, or None where no reading can be scored."""
    scores = scores_of(survey, shelf)
    if scores.x.size == 0:
        return None
    return Passes(scores, shelf, starts).posterior()


@remembered(64, survey=READ)
def field_of(survey: Survey, outline: Ring, shelf: Shelf, starts: Starts = ()) -> Field | None:
    """The field of a zone's survey, or None where no reading can be scored."""
    made = posterior_of(survey, outline, shelf, starts)
    if made is None:
        return None
    grid_x, grid_y = grid_of(outline)
    odds, doubt = made.at(nodes_of(grid_x, grid_y))
    shape = (grid_y.size, grid_x.size)
    odds = odds.reshape(shape)
    return Field(grid_x, grid_y, 1 / (1 + np.exp(-odds)), odds, doubt.reshape(shape), len(made.sites.at))


@remembered(64, survey=READ)
def kind_fields(survey: Survey, outline: Ring, shelf: Shelf, starts: Starts = ()) -> dict[str, Field]:
    """The field of each kind of damage; none where nothing was read."""
    made, whole = posterior_of(survey, outline, shelf, starts), field_of(survey, outline, shelf, starts)
    if made is None or whole is None:
        return {}
    shares = made.kinds_at(nodes_of(whole.x, whole.y)).reshape(*whole.chance.shape, 3)
    found: dict[str, Field] = {}
    for number, kind in enumerate(KINDS):
        chance = np.clip(whole.chance * shares[..., number], 1e-12, 1 - 1e-12)
        odds = np.log(chance / (1 - chance))
        found[kind] = Field(whole.x, whole.y, chance, odds, whole.doubt, whole.sites)
    return found


def nodes_of(x: Floats, y: Floats) -> Floats:
    """Places of a grid row by row, (ny nx, 2)."""
    return np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)


def grid_of(outline: Ring, cells: int = CELLS) -> tuple[Floats, Floats]:
    """Grid over an outline's box: x (nx,), y (ny,) in m."""
    points = np.array(outline)
    (x0, y0), (x1, y1) = points.min(axis=0), points.max(axis=0)
    cell = sqrt((x1 - x0) * (y1 - y0) / cells)
    nx, ny = (int(min(400, max(9, round(side / cell)))) for side in (x1 - x0, y1 - y0))
    return np.linspace(x0, x1, nx), np.linspace(y0, y1, ny)


def inside_of(x: Floats, y: Floats, zone: BaseGeometry) -> NDArray[np.bool_]:
    """Which nodes of a grid lie in a zone, (ny, nx)."""
    nodes = nodes_of(x, y)
    return np.asarray(shapely.contains_xy(zone, nodes[:, 0], nodes[:, 1]).reshape(y.size, x.size))
