"""Records of finishes: coats by place of the boat, with their spread, film, recoat window and hours.

Litres spread m2 at the film stated; hours of windows are at 20 degC and follow the shed as a cure does.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ribpatch.core.materials.records import Id, Name, Positive, Reason
from ribpatch.core.record import Limits, Record

Hours = Annotated[float, Limits(ge=0, le=2000)]
FinishPlace = Literal["below water", "topsides", "deck", "bilge", "locker"]


class FinishCoat(Record):
    """One material, in so many coats: m2 a litre and coat, dry film in m, thinner as a share of the volume, hours to
    the next coat at the least and (without sanding) at the most, hours of work a square metre and coat.
    """

    material: Id
    name: Name
    coats: Annotated[int, Limits(ge=1, le=20)]
    spread: Annotated[float, Limits(gt=0.1, le=40)]
    film: Annotated[float, Limits(gt=0, le=0.005)]
    density: Annotated[float, Limits(gt=500, le=3000)]
    thinner: Annotated[float, Limits(ge=0, le=0.5)] = 0.0
    again_from: Hours
    again_to: Hours | None = None
    hours: Positive
    grit: Annotated[int, Limits(ge=0, le=3000)] = 0  # sanded with before it goes on; 0 for not
    caution: Reason = ""


class FinishSystem(Record):
    """A system of coats for a place of the boat, the first on first."""

    id: Id
    name: Name
    place: FinishPlace
    coats: Annotated[tuple[FinishCoat, ...], Limits(min_length=1, max_length=12)]
    reason: Reason
