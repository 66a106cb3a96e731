"""Bond coupons in words and tables: what is planned, what was seen, which preparation wins and how sure that is."""

from __future__ import annotations

from itertools import product
from typing import TYPE_CHECKING

from ribpatch.core.errors import InvalidValue
from ribpatch.core.logbook.coupons import duel, row_results
from ribpatch.core.logged import COUPON_KINDS, MODES, CouponRow
from ribpatch.core.numerals import fixed, general
from ribpatch.core.quantity import parse
from ribpatch.core.record import built
from ribpatch.core.table import Row, Table
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, Measure, shown

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ribpatch.core.job import Zone
    from ribpatch.core.logbook.coupons import Duel
    from ribpatch.core.logged import CouponSet
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.units import System

SURE, LIKELY = 0.975, 0.85
MOST_ROWS = 24  # of a set
DAY, MOST_DAYS = 86_400.0, 3650


def planned_rows(
    shelf: Shelf, under: str | None, overs: Sequence[str | None] = (), ages: Sequence[float] = ()
) -> tuple[CouponRow, ...]:
    """A row for each preparation of old laminate, each resin over it (none told: the one under it), and each age, s, at
    which it is laid over. Raises Fault where these are more rows than a set holds.
    """
    rows = list(product((p.id for p in shelf.preparations if p.old), overs or (under,), ages or (None,)))
    if len(rows) > MOST_ROWS:
        raise InvalidValue("rows", reason=f"{len(rows)} kinds of coupon are more than {MOST_ROWS}; try fewer ages")
    return tuple(
        built(CouponRow, id=f"r{n}", preparation=preparation, under=under, over=over, **_aged(age))
        for n, (preparation, over, age) in enumerate(rows, 1)
    )


def _aged(age: float | None) -> dict[str, object]:
    return (
        {} if age is None else {"age": Measure(si=age), "words": f"{age / DAY:g} {'day' if age == DAY else 'days'} old"}
    )


def ages_typed(text: str) -> tuple[float, ...]:
    """Ages in days, with commas between, as s; raises Fault where one is no number of days."""
    days = [parse(part, Kind.NUMBER, "metric").measure.si for part in text.split(",") if part.strip()]
    wrong = next((d for d in days if not 0 < d <= MOST_DAYS), None)
    if wrong is not None:
        raise InvalidValue("days old", reason=f"{general(wrong)} is none from 1 to {MOST_DAYS}")
    return tuple(d * DAY for d in dict.fromkeys(days))


def resins_over(zone: Zone) -> tuple[str, ...]:
    """Every resin that a zone's scheme puts on old laminate, each once."""
    chosen = zone.scheme.resin
    return tuple(dict.fromkeys(r for r in (chosen.main, chosen.bedding, chosen.later) if r))


def row_name(row: CouponRow, shelf: Shelf) -> str:
    """A row as it is read."""
    name = next((p.name for p in shelf.preparations if p.id == row.preparation), row.preparation)
    return f"{name}, {row.words}" if row.words else name


def over_words(row: CouponRow, shelf: Shelf) -> str:
    """Which resin is laid over which; nothing where it is not said."""
    over, under = (shelf.resin(r).name if r else "" for r in (row.over, row.under))
    return f"{over} over {under}" if over and under and over != under else over


def coupon_table(of: CouponSet, shelf: Shelf, system: System) -> Table:
    """Every row: planned, and what was seen."""
    seen = {r.row.id: r for r in row_results(of)}
    rows = []
    for row in of.rows:
        made = seen.get(row.id)
        counts = ("–", "–", "–") if made is None else (str(made.torn), str(made.mixed), str(made.clean))
        load = "–" if made is None or made.load is None else shown(made.load, Kind.FORCE, system)
        over = over_words(row, shelf) or "–"
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
    return "over 1000" if odds > 1000 else fixed(odds, 0) if odds >= 2 else fixed(odds, 1)
