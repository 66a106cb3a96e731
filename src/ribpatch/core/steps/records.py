"""One step, what it waits for, and how long a resin takes to a mark. Hours are those of all people together, s."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Resin
    from ribpatch.core.materials.step_records import StepKind

COAT = "coat"  # the clock of paints and coats


class StepRow(Struct, frozen=True):
    """One step: hours of all people, s, and how they come about; ``lays`` is the resin (or the coats) that it lays,
    ``wet`` the block of wet work that it belongs to, ``waits`` how long a step without people lasts, s, or ``until``
    which day.
    """

    id: str
    zone: str
    kind: StepKind
    name: str
    hours: float
    amount: float
    people: int
    lays: str = ""
    wet: str = ""
    waits: float = 0.0
    until: str = ""
    why: str = ""


class Until(Struct, frozen=True):
    """So far a resin (or a coat, by its own hours) must have come: a mark of it, or s at 25 degC."""

    clock: str
    mark: str = ""
    worth: float | None = None


class StepWait(Struct, frozen=True):
    """``after`` follows ``before``: from when, until when, and what a missed window costs: hours of work, s."""

    before: str
    after: str
    least: Until | None = None
    most: Until | None = None
    missed: float | None = None
    missed_least: Until | None = None
    why: str = ""


class ZoneSteps(Struct, frozen=True):
    """The steps of a zone in the usual order, and what waits for what."""

    rows: tuple[StepRow, ...]
    waits: tuple[StepWait, ...]


def mark_time(resin: Resin, mark: str) -> float:
    """How long a resin takes to a mark, s at 25 degC; from its pot life where the table leaves it open."""
    stated = getattr(resin, mark)
    return float(stated) if stated is not None else resin.pot_life * OF_POT_LIFE[mark]


# Where a resin tells no more than its pot life: usual ratios of the times of a thin film to it; judgement.
OF_POT_LIFE = {
    "gel": 4.0,
    "green_from": 5.0,
    "green_to": 18.0,
    "recoat": 18.0,
    "sandable": 36.0,
    "unclamp": 16.0,
    "service": 300.0,
}
