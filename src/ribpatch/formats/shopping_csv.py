"""The order as CSV: what is needed, in stock and bought, line by line."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.buying_words import KINDS, bought_text, date_text, note_text
from ribpatch.core.numerals import plainly
from ribpatch.core.plan import reworded
from ribpatch.core.supply.buying import spent
from ribpatch.core.units import System, display_unit, to_shown
from ribpatch.formats.csv_out import csv_text

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan

HEAD = (
    "group",
    "item",
    "unit",
    "needed",
    "in stock",
    "bought",
    "packs",
    "left over",
    "price of a unit",
    "cost",
    "order by",
    "note",
)


@plainly()
def shopping_text(plan: Plan, system: System = "metric", today: str = "") -> str:
    """The order with the sums of what is bought and of what is used; numbers with a point and a plain minus. A date
    gone by on the day ``today`` is told.
    """
    plan = reworded(plan)
    rows: list[list[str]] = [list(HEAD)]
    for buy in plan.buys:
        kind = KINDS[buy.unit]
        unit = display_unit(kind, system)
        amounts = (buy.needed, buy.stock, buy.bought, buy.over)
        needed, stock, bought, over = (f"{to_shown(v, kind, system):.3f}".rstrip("0").rstrip(".") for v in amounts)
        price = "" if buy.price is None else f"{buy.price * unit.factor:.2f}"
        cost = "no price" if buy.cost is None else f"{buy.cost:.2f}"
        packs = bought_text(buy, system) if buy.packs else ""
        words = (date_text(buy, today), note_text(buy, system))
        rows.append(
            [buy.group, buy.name, unit.unit or "pieces", needed, stock, bought, packs, over, price, cost, *words]
        )
    used = plan.by_id["cost.total"].value
    for name, value in (("all that is bought", spent(plan.buys)), ("of it used in this job", used)):
        rows.append(["", name, *[""] * 7, f"{value:.2f}", "", ""])
    return csv_text(rows)
