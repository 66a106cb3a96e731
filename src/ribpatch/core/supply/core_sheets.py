"""The new cores of a job on sheets: every piece of every zone with the saw cut between, on off-cuts first. Metres."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.memo import Known
from ribpatch.core.supply.packing import Rect
from ribpatch.core.supply.sheets import OnSheets, Sheet, on_sheets

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ribpatch.core.job import Job
    from ribpatch.core.materials.records import Core
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.coring.pieces import CorePieces

TRIES = 30  # orders of the pieces of a job, which is shown at once; ``calc sheets`` takes its time

_KNOWN: Known[tuple[tuple[Rect, ...], Sheet, float, tuple[Sheet, ...], int], OnSheets] = Known(64)


class CoreCut(Struct, frozen=True):
    """One piece to saw: whose, which of how many, and the box that it goes into, m."""

    zone: str
    piece: int
    of: int
    long: float
    wide: float

    @property
    def name(self) -> str:
        """What is written on it."""
        part = f" {self.piece}/{self.of}" if self.of > 1 else ""
        return f"{self.zone}, core{part}"


class CoreSheets(Struct, frozen=True, eq=False):
    """All pieces of one core and thickness of sheet, and how they lie."""

    core: Core
    thickness: float
    cuts: tuple[CoreCut, ...]
    made: OnSheets


def boxes_of(pieces: CorePieces) -> tuple[Rect, ...]:
    """The boxes that a zone's pieces are sawn from; each may be turned."""
    return tuple(Rect(round(long, 6), round(wide, 6), True) for long, wide in pieces.sizes)


def laid_on_sheets(
    rects: tuple[Rect, ...], core: Core, kerf: float, spare: tuple[Sheet, ...] = (), tries: int = 0
) -> OnSheets:
    """Boxes on sheets of a core, the saw cut in m, found again by their values; ``tries`` other orders of them."""
    sheet = Sheet(*core.sheet)
    return _KNOWN.of((rects, sheet, kerf, spare, tries), lambda: on_sheets(rects, sheet, kerf, spare, tries))


def sheets_of(zones: Iterable[tuple[str, CorePieces | None]], job: Job, shelf: Shelf) -> tuple[CoreSheets, ...]:
    """Every core and thickness of a job with its pieces laid out, in the order first used."""
    kerf = shelf.rule("saw.kerf")
    grouped: dict[tuple[str, float], tuple[Core, list[CoreCut], list[Rect]]] = {}
    for name, pieces in zones:
        if pieces is None:
            continue
        _, cuts, rects = grouped.setdefault((pieces.core.id, pieces.sheet), (pieces.core, [], []))
        boxes = boxes_of(pieces)
        cuts += [CoreCut(name, n, len(boxes), r.long, r.wide) for n, r in enumerate(boxes, 1)]
        rects += boxes
    made = []
    for (identity, thickness), (core, cuts, rects) in grouped.items():
        spare = tuple(
            Sheet(s.amount.si, s.width.si)
            for s in job.stock
            if s.material == identity and s.width is not None and s.amount.si > 0
        )
        made.append(CoreSheets(core, thickness, tuple(cuts), laid_on_sheets(tuple(rects), core, kerf, spare, TRIES)))
    return tuple(made)
