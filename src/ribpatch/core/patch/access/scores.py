"""How the sides compare for one zone: marks 0 to 5 by criterion, worked out where the cut is known, or the user's
own.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.geometry import polygon_of
from ribpatch.core.laminate.stack import skin_thickness
from ribpatch.core.numerals import fixed, general
from ribpatch.core.patch.access.sides import CAVITIES
from ribpatch.core.scheme import ACCESS_SIDES, AccessSide

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.repair_records import SideCriterion
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch


class SideMarked(Struct, frozen=True):
    """One side under one criterion: its mark 0 to 5, whether it is the user's own, and what it rests on."""

    criterion: SideCriterion
    side: AccessSide
    mark: float
    own: bool
    why: str


class SideScore(Struct, frozen=True, eq=False):
    """A side with all its marks and their weighted mean, 0 to 5."""

    side: AccessSide
    marks: tuple[SideMarked, ...]
    score: float


def side_scores(zone: Zone, patch: Patch, shelf: Shelf) -> tuple[SideScore, ...]:
    """Every side that this zone has, best first."""
    own = {(m.side, m.criterion): m.mark for m in zone.scheme.access.marks}
    scored = []
    for side in ACCESS_SIDES:
        marks = tuple(_marked(zone, patch, side, c, own.get((side, c.id)), shelf) for c in shelf.sides)
        weight = sum(m.criterion.weight for m in marks)
        scored.append(SideScore(side, marks, sum(m.mark * m.criterion.weight for m in marks) / weight))
    return tuple(sorted(scored, key=lambda s: -s.score))


def _marked(
    zone: Zone, patch: Patch, side: AccessSide, criterion: SideCriterion, own: int | None, shelf: Shelf
) -> SideMarked:
    if own is not None:
        return SideMarked(criterion, side, float(own), True, "your mark")
    usual = criterion.mark(zone.kind, side)
    if criterion.id == "taper" and not patch.cut.region.is_empty:
        return _taper_mark(zone, patch, side, criterion, shelf)
    if criterion.id == "cosmetic" and side == "outside" and not patch.cut.region.is_empty:
        share = min(patch.band.outer.area / shelf.rule("side.finish"), 1.0)
        return SideMarked(
            criterion,
            side,
            usual * (1 - 0.5 * share),
            False,
            f"usual {general(usual)}, less for the finish that cut and taper take",
        )
    if criterion.id == "holes":
        holes = sum(f.holes for f in zone.fittings if f.name in patch.band.removed)
        more = min(holes, 4) / 2 if side == "outside" else 0.0
        return SideMarked(
            criterion, side, min(usual + more, 5.0), False, f"usual {general(usual)}; {holes} holes in the cut"
        )
    return SideMarked(criterion, side, usual, False, criterion.reason)


def _taper_mark(zone: Zone, patch: Patch, side: AccessSide, criterion: SideCriterion, shelf: Shelf) -> SideMarked:
    """The ratio that fits over the one chosen; with the skins left standing there is no taper to fit."""
    if side == "above" and zone.kind in CAVITIES:
        return SideMarked(criterion, side, 5.0, False, "no skin is cut, so no taper is needed")
    skin = zone.build.inner if side == "inside" and zone.build.inner else zone.build.outer
    room = float(patch.cut.region.distance(polygon_of(zone.outline).exterior))
    standing = [f.shape for f in zone.fittings if not f.shape.within(patch.cut.region)]
    if side != "inside" and standing:
        room = min(room, *(float(patch.cut.region.distance(s)) for s in standing))
    fits = room / skin_thickness(skin, shelf)
    wanted = zone.scheme.taper.ratio.si
    words = f"{fixed(fits, 0)}:1 fits where {general(wanted)}:1 is wanted"
    return SideMarked(criterion, side, 5 * min(fits / wanted, 1.0), False, words)
