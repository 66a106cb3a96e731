"""Where the water came in: the zone's fittings, joints and edges ranked as sources, each with its reason.

Each candidate's weight is the product of what is known of it: how wet it is round it against the zone as a whole, its
sealing and age, and whether it lies above the wet place in the way that water runs. Weights are shared out over the
candidates and one for "something not listed". A screening rule of ours; its numbers are rules with reasons.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeAlias

import numpy as np
import shapely
from msgspec import Struct
from shapely.geometry import LineString

from ribpatch.core.memo import remembered
from ribpatch.core.survey.score import scores_of

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.geometry import Floats
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf

FALLS = {"x-": (-1.0, 0.0), "x+": (1.0, 0.0), "y-": (0.0, -1.0), "y+": (0.0, 1.0), "": (0.0, 0.0)}
WET, LEAST_WET = 0.5, 2  # wetness that counts, and how many such readings there must be to trace anything


class Source(Struct, frozen=True):
    """A place where water may have come in: its name, share of all candidates (0 to 1), place (m), reasons in words."""

    name: str
    share: float
    at: tuple[float, float] | None
    reasons: tuple[str, ...]


def fall_of(zone: Zone) -> tuple[float, float]:
    """The way that water runs in the zone's plane: as stated, else down for what stands, unknown for a deck."""
    usual = "" if zone.is_walked_on or zone.kind == "joint run" else "y-"
    return FALLS[zone.falls or usual]


@remembered(128, zone=("kind", "outline", "edges", "fittings", "falls", "survey"))
def ways_in(zone: Zone, built: int | None, now: int | None, shelf: Shelf) -> tuple[Source, ...]:
    """The sources of a zone's water, likeliest first; none where nothing is wet. ``now`` is the year of the survey."""
    scores = scores_of(zone.survey, shelf)
    wet = scores.kinds[:, 0]
    speaks = ~np.isnan(wet)
    at = np.column_stack([scores.x, scores.y])[speaks]
    wet = wet[speaks]
    if (wet > WET).sum() < LEAST_WET:
        return ()
    pattern = _Pattern(at, wet, float(wet.mean()), tuple((at * wet[:, None]).sum(axis=0) / wet.sum()))
    old = built is not None and now is not None and now - built > shelf.rule("source.old")
    weighed = [_weighed(candidate, old, pattern, fall_of(zone), shelf) for candidate in _candidates(zone)]
    total = sum(w for w, *_ in weighed) + shelf.rule("source.elsewhere")
    found = [Source(name, w / total, place, reasons) for w, name, place, reasons in weighed]
    rest = Source("something not listed", shelf.rule("source.elsewhere") / total, None, ("always possible",))
    return tuple(sorted([*found, rest], key=lambda s: -s.share))


_Candidate: TypeAlias = "tuple[str, BaseGeometry, bool | None, int]"  # name, shape, sealed, fastener holes


class _Pattern(Struct, frozen=True, eq=False, dict=True):
    """Where readings speak of water: places (n, 2) in m, wetness (n,), its mean and its centre."""

    at: Floats
    wet: Floats
    mean: float
    centre: tuple[float, ...]

    def near(self, shape: BaseGeometry, reach: float) -> float:
        """Mean wetness within ``reach`` m of a shape; of the three nearest readings where none is so near."""
        x, y = self.at.T
        x0, y0, x1, y1 = shape.bounds
        boxed = np.flatnonzero((x >= x0 - reach) & (x <= x1 + reach) & (y >= y0 - reach) & (y <= y1 + reach))
        close = boxed[_apart(shape, self.at[boxed]) <= reach]
        return float(self.wet[close if close.size else np.argsort(_apart(shape, self.at))[:3]].mean())


def _apart(shape: BaseGeometry, at: Floats) -> Floats:
    """Distances of places (n, 2) from a shape, m."""
    return np.asarray(shapely.distance(shape, np.asarray(shapely.points(at), dtype=object)), dtype=float)


def _candidates(zone: Zone) -> list[_Candidate]:
    found: list[_Candidate] = []
    for fitting in zone.fittings:
        found.append((fitting.name, fitting.shape, fitting.sealed, fitting.holes))
    for edge in zone.edges:
        if edge.side < len(zone.outline):
            ends = (zone.outline[edge.side], zone.outline[(edge.side + 1) % len(zone.outline)])
            found.append((edge.name, LineString(ends), edge.sealed, 0))
    return found


def _weighed(
    candidate: _Candidate, old: bool, pattern: _Pattern, fall: tuple[float, float], shelf: Shelf
) -> tuple[float, str, tuple[float, float], tuple[str, ...]]:
    name, shape, sealed, holes = candidate
    near, mean, centre = pattern.near(shape, shelf.rule("source.reach")), pattern.mean, pattern.centre
    reasons: list[str] = []
    weight = (0.05 + near) / (0.05 + mean)
    reasons.append(
        "wet round it" if near > 1.5 * mean else "dry round it" if near < 0.5 * mean else "as wet as the rest"
    )
    if sealed is False:
        weight *= shelf.rule("source.unsealed")
        reasons.append("not sealed")
    elif sealed and not old:
        weight *= shelf.rule("source.sealed")
        reasons.append("sealed")
    elif old:
        reasons.append("sealant as old as the boat" if sealed else "sealing unknown, old boat")
    else:
        reasons.append("sealing unknown")
    if holes:
        reasons.append(f"{holes} holes")
    middle = shape.centroid
    above = fall[0] * (centre[0] - middle.x) + fall[1] * (centre[1] - middle.y)
    if abs(above) > 0.03 and fall != (0.0, 0.0):
        weight *= shelf.rule("source.uphill" if above > 0 else "source.downhill")
        reasons.append("above the wet place" if above > 0 else "below the wet place")
    return weight, name, (float(middle.x), float(middle.y)), tuple(reasons)
