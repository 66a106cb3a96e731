"""Readings that stand alone against those round them, to be taken again; and readings that the rest bears out."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.memo import remembered
from ribpatch.core.survey.field import posterior_of
from ribpatch.core.survey.posterior import bad_and_sound, nearest
from ribpatch.core.survey.score import scores_of
from ribpatch.core.survey.structure import starts_of

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.geometry import Floats
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.readings import Reading

ON_IT = 0.15  # m from a place that is likelier bad than not: as good as on the damage
SURELY = 0.12  # chance under which the others call a place sound; one less it, over which they call it bad
TELLING = 3.0  # times as likely under the one state as under the other


@remembered(64, zone=("survey", "outline", "fittings", "edges", "seams"))
def lone_readings(zone: Zone, shelf: Shelf) -> tuple[Reading, ...]:
    """The readings that what was read round them speaks against, in the order of entry; plugs and cuts never."""
    survey = zone.survey
    made = posterior_of(survey, zone.outline, shelf, starts_of(zone, shelf))
    if made is None:
        return ()
    scores = scores_of(survey, shelf)
    site = made.sites.site
    bad, sound = bad_and_sound(made.kinds[site], scores.logs)
    odds = bad / np.maximum(sound, 1e-12)
    elsewhere = _elsewhere(made.others[site], made.sites.readings[site])
    alone = (scores.rank == 0) & (
        ((elsewhere < SURELY) & (odds > TELLING)) | ((elsewhere > 1 - SURELY) & (odds < 1 / TELLING))
    )
    ids = {i for i, a in zip(scores.ids, alone.tolist(), strict=True) if a}
    return tuple(r for r in survey.readings if r.id in ids)


@remembered(64, zone=("survey", "outline", "fittings", "edges", "seams"))
def borne_out(zone: Zone, shelf: Shelf) -> frozenset[str]:
    """Ids of the readings at places that are likelier bad than not, by all that was read."""
    made = posterior_of(zone.survey, zone.outline, shelf, starts_of(zone, shelf))
    if made is None:
        return frozenset()
    bad = made.here >= 0.5
    return frozenset(
        i for i, b in zip(scores_of(zone.survey, shelf).ids, bad[made.sites.site].tolist(), strict=True) if b
    )


@remembered(64, zone=("survey", "outline", "fittings", "edges", "seams"))
def on_damage(zone: Zone, shelf: Shelf) -> frozenset[str] | None:
    """Ids of the readings taken on damage or within ``ON_IT`` of it, by all that was read; None where no place is
    likelier bad than not.
    """
    made = posterior_of(zone.survey, zone.outline, shelf, starts_of(zone, shelf))
    if made is None or not (made.here >= 0.5).any():
        return None
    near = nearest(made.sites.at, made.sites.at[made.here >= 0.5]) <= ON_IT
    ids = scores_of(zone.survey, shelf).ids
    return frozenset(i for i, n in zip(ids, near[made.sites.site].tolist(), strict=True) if n)


def _elsewhere(others: Floats, readings: NDArray[np.intp]) -> Floats:
    """The others' chance; even odds where several readings share a place, which answer for each other."""
    return np.asarray(np.where(readings > 1, 0.5, others))
