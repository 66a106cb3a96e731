"""Edits of what the shop has and how it buys: layouts of cloth, stock, packs, dates."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.edits import Edit, next_id
from ribpatch.core.record import evolve
from ribpatch.core.stock import KeptLayout, StockItem
from ribpatch.core.supply.cutting import USEFUL, mark_of
from ribpatch.core.units import Measure

if TYPE_CHECKING:
    from ribpatch.core.job import Job
    from ribpatch.core.supply.buying import Buy
    from ribpatch.core.supply.cutting import Roll
    from ribpatch.core.supply.nesting.shape import Nested

LEAST_LEFT = 0.005  # m of a roll that counts as nothing


def keep_layout(roll: Roll, made: Nested) -> Edit:
    """Keep a layout of the pieces of a roll, in place of any that was kept of that cloth."""
    kept = KeptLayout(
        fabric=roll.fabric.id,
        pieces=mark_of(roll.shapes, roll.cloth.width),
        lying=tuple((round(p.x, 7), round(p.y, 7), p.turn) for p in made.lying),
    )
    return Edit(
        f"keep a layout of {roll.fabric.name}",
        lambda job: evolve(job, layouts=(*(k for k in job.layouts if k.fabric != kept.fabric), kept)),
    )


def forget_layout(fabric: str, name: str) -> Edit:
    """Forget the layout that is kept of a cloth."""
    return Edit(
        f"forget the layout of {name}",
        lambda job: evolve(job, layouts=tuple(k for k in job.layouts if k.fabric != fabric)),
    )


def add_stock(job: Job, item: StockItem, name: str) -> Edit:
    """Put something on the shelf under the next free id."""
    item = evolve(item, id=next_id("s", (s.id for s in job.stock)))
    return Edit(f"put {name} in stock", lambda now: evolve(now, stock=(*now.stock, item)))


def remove_stock(wanted: str, name: str) -> Edit:
    """Take something off the shelf."""
    return Edit(
        f"take {name} out of stock", lambda job: evolve(job, stock=tuple(s for s in job.stock if s.id != wanted))
    )


def receive(job: Job, buy: Buy, day: str) -> Edit:
    """What was bought has come: it is put in stock, as closed packs of ``day``."""
    note = f"came {day}" if day else ""
    item = StockItem(id="s0", material=buy.id, amount=Measure(si=buy.bought), note=note)
    return add_stock(job, item, buy.name)


def use_off_cut(job: Job, roll: Roll) -> Edit:
    """What is left of an off-cut, or of a roll of a stated length, once its pieces are cut: booked in stock; an off-cut
    that is too short to keep goes.
    """
    assert roll.left is not None
    left, fabric = max(roll.left, 0.0), roll.fabric.id

    def change(now: Job) -> Job:
        rows = []
        taken = roll.made.length
        for item in now.stock:
            if item.material != fabric:
                rows.append(item)
            elif roll.cloth.name and item.width is not None and roll.cloth.name == f"off-cut {item.id}":
                if left >= USEFUL:
                    rows.append(evolve(item, amount=Measure(si=left)))
            elif not roll.cloth.name and item.width is None:
                used = min(item.amount.si, taken)
                taken -= used
                if item.amount.si - used > LEAST_LEFT:
                    rows.append(evolve(item, amount=Measure(si=item.amount.si - used)))
            else:
                rows.append(item)
        return evolve(now, stock=tuple(rows))

    return Edit(f"book what is left of {roll.fabric.name}", change)
