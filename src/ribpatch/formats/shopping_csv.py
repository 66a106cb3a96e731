"""The shopping list as CSV."""

from __future__ import annotations

import csv
import io
from typing import TYPE_CHECKING

from ribpatch.core.units import System, display_unit, number_text

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan


def shopping_text(plan: Plan, system: System = "metric") -> str:
    """The shopping list with amounts, prices and the sum; numbers with a point and a plain minus."""
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\n")
    writer.writerow(["group", "item", "amount", "unit", "note", "cost"])
    for item in plan.items:
        cost = plan.by_id.get(f"cost.{item.id}")
        unit = display_unit(item.kind, system).unit or "pieces"
        writer.writerow(
            [
                item.group,
                item.name,
                number_text(item.amount, item.kind, system).replace("−", "-"),
                unit,
                item.note,
                f"{cost.value:.2f}" if cost else "no price",
            ]
        )
    writer.writerow(["", "sum", "", "", "", f"{plan.by_id['cost.total'].value:.2f}"])
    return stream.getvalue()
