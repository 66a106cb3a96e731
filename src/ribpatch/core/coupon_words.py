"""Bond coupons in words and tables: what is planned, what was seen, which preparation wins and how sure that is."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.logbook.coupons import duel, row_results
from ribpatch.core.logged import COUPON_KINDS, MODES, CouponRow
from ribpatch.core.record import built
from ribpatch.core.table import Row, Table
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.logbook.coupons import Duel
    from ribpatch.core.logged import CouponSet
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.units import System

SURE, LIKELY = 0.975, 0.85


def planned_rows(shelf: Shelf, resin: str | None) -> tuple[CouponRow, ...]:
    """A row for each preparation of old laminate, the resin of the scheme over itself."""
    rows = [p for p in shelf.preparations if p.old]
    return tuple(built(CouponRow, id=f"r{n}", preparation=p.id, under=resin, over=resin) for n, p in enumerate(rows, 1))


def row_name(row: CouponRow, shelf: Shelf) -> str:
    """A row as it is read."""
    name = next((p.name for p in shelf.preparations if p.id == row.preparation), row.preparation)
    return f"{name}, {row.words}" if row.words else name


def coupon_table(of: CouponSet, shelf: Shelf, system: System) -> Table:
    """Every row: planned, and what was seen."""
    seen = {r.row.id: r for r in row_results(of)}
    rows = []
    for row in of.rows:
        made = seen.get(row.id)
        over = shelf.resin(row.over).name if row.over else "–"
        counts = ("–", "–", "–") if made is None else (str(made.torn), str(made.mixed), str(made.clean))
        load = "–" if made is None or made.load is None else shown(made.load, Kind.FORCE, system)
        tried = f"{len(row.results)} of {of.each}"
        rows.append(Row(row.id, (f"{row.id}: {row_name(row, shelf)}", over, tried, *counts, load)))
    columns = ("made ready", "laid over with", "read", *MODES.values(), "mean load")
    return Table(columns, tuple(rows), f"Each {COUPON_KINDS[of.kind]}.", empty="No rows.")


def verdict(of: CouponSet, shelf: Shelf) -> str:
    """Which preparation wins and how sure that is, in words."""
    results = row_results(of)
    if not results:
        return "Nothing is read yet. Part each coupon, look at its face, and say what it was."
    best = results[0]
    name = row_name(best.row, shelf)
    seen = f"{name}: {best.torn} of {best.count} tore fibres."
    if len(results) == 1:
        return f"{seen} One row says nothing of which is better: read another."
    told = [seen, *(_against(duel(best, other), shelf) for other in results[1:])]
    if best.torn * 2 < best.count:
        told.append(
            "None of them is a bond to rely on: fewer than half tear fibres. Look at the surface, resin and mix."
        )
    return " ".join(told)


def _against(made: Duel, shelf: Shelf) -> str:
    other = row_name(made.other.row, shelf)
    odds = made.chance / max(1 - made.chance, 1e-9)
    few = counted(made.other.count, "coupon", "coupons")
    head = f"Against {other} ({made.other.torn} of {few}): "
    sign = f"if both were the same, so clear a difference would come {made.fisher:.0%} of the time"
    loads = f", by the loads {made.loads:.0%}" if made.loads is not None else ""
    if made.chance >= SURE:
        return f"{head}better, the odds are {_odds(odds)} to 1 ({sign}{loads})."
    if made.chance >= LIKELY:
        return f"{head}likely better, {_odds(odds)} to 1; a few more would tell ({sign}{loads})."
    return f"{head}not told apart yet, {_odds(odds)} to 1: try more of both ({sign}{loads})."


def _odds(odds: float) -> str:
    return "over 1000" if odds > 1000 else f"{odds:.0f}" if odds >= 2 else f"{odds:.1f}"
