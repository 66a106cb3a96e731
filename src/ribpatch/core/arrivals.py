"""When what is ordered comes, and which steps wait for it."""

from __future__ import annotations

from math import ceil
from typing import TYPE_CHECKING

from ribpatch.core.steps.records import COAT
from ribpatch.core.timetable import day_after

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.steps.records import StepRow

# The kinds of steps in which each group of the shopping list is used; all steps that lay, where a group is not here.
USED_IN = {
    "cloth": ("fit", "part", "lay"),
    "core": ("fit", "bed", "pour"),
    "resin": ("part", "prime", "bed", "pour", "lay", "fair", "join", "knee"),
}


def uses(row: StepRow, group: str) -> bool:
    """Whether a step uses something of a group of the shopping list."""
    if group == "finish":
        return row.lays == COAT
    kinds = USED_IN.get(group)
    return row.kind.id in kinds if kinds is not None else bool(row.lays) and row.lays != COAT


def arrivals(plan: Plan, rows: tuple[StepRow, ...]) -> dict[str, str]:
    """The day before which each step that waits for an order cannot begin; none where no day of the order is stated."""
    ordered = plan.job.timetable.ordered
    if not ordered:
        return {}
    made: dict[str, str] = {}
    short = [b for b in plan.buys_with(plan.first_rolls) if b.bought > 0 and b.lead]
    for zone in plan.zones:
        mine = {i.id for i in zone.items}
        for buy in short:
            if buy.id not in mine:
                continue
            day = day_after(ordered, ceil(buy.lead or 0))
            for row in rows:
                if row.zone == zone.zone.id and uses(row, buy.group):
                    made[row.id] = max(made.get(row.id, day), day)
    return made
