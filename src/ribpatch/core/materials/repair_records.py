"""Records of how repairs are judged: sides to open from, what to see to before cutting, the order of zones,
compatibility.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ribpatch.core.materials.records import Id
from ribpatch.core.record import Limits, Record

Mark = Annotated[float, Limits(ge=0, le=5)]


class SideMarks(Record):
    """Marks 0 (bad) to 5 (good) of each side for one kind of zone."""

    kind: str
    outside: Mark
    inside: Mark
    above: Mark


class SideCriterion(Record):
    """One criterion by which the sides are compared, with its weight and the usual marks by kind of zone."""

    id: Id
    name: str
    weight: Annotated[float, Limits(ge=0, le=10)]
    marks: tuple[SideMarks, ...]
    reason: str

    def mark(self, kind: str, side: str) -> float:
        """The usual mark of a side; the middle where the kind is not listed."""
        found = next((m for m in self.marks if m.kind == kind), None)
        return float(getattr(found, side)) if found else 2.5


class BeforeItem(Record):
    """Something to see to before cutting, for kinds of zones, under a condition: ``always`` or ``fitting in cut``."""

    id: Id
    group: Literal["carries", "support", "unload", "drain", "disconnect"]
    kinds: tuple[str, ...]
    text: str
    why: str
    when: Literal["always", "fitting in cut"] = "always"


class ZoneRank(Record):
    """Where a kind of zone comes in the order of work, 1 first."""

    id: Id
    kind: str
    rank: Annotated[int, Limits(ge=1, le=20)]
    reason: str


class Compatibility(Record):
    """How what is put over something bonds to it, and what to do about it."""

    id: Id
    under: str
    over: str
    verdict: Literal["good", "with care", "no"]
    remedy: str
    reason: str
