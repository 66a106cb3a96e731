"""What is bought: needed, in stock, short; in which packs, what is left over, what it costs, and when to order it.

Cloth is counted by the length cut off its roll, core by the sheet, all else as it is priced. Stock of a material counts
whatever its age; what is older than it keeps is told, and so is an off-cut or a part of a roll that is not enough.
"""

from __future__ import annotations

from datetime import date, timedelta
from math import ceil
from typing import TYPE_CHECKING, Literal

from msgspec import Struct

from ribpatch.core.numerals import fixed, general
from ribpatch.core.supply.packs import cheapest
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from ribpatch.core.job import Job
    from ribpatch.core.materials.records import Price
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.supply.core_sheets import CoreSheets
    from ribpatch.core.supply.cutting import Roll
    from ribpatch.core.supply.shopping import Item

Unit = Literal["m", "kg", "m2", "each"]
LOOSE: dict[Kind, Unit] = {Kind.MASS: "kg", Kind.AREA: "m2"}  # of what has no price
MONTH = 30.44  # days
STEP = {"m": 0.1, "kg": 0.01, "m2": 0.1, "each": 1.0}  # what is sold loose is bought to this


class Buy(Struct, frozen=True):
    """One line of the order: amounts in its unit; packs as (size, count); ``by`` is the last day to order it."""

    id: str
    group: str
    name: str
    unit: Unit
    needed: float
    stock: float
    bought: float
    packs: tuple[tuple[float, int], ...]
    price: float | None  # of one unit
    cost: float | None  # of what is bought
    lead: float | None  # days
    by: str
    aged: str = ""  # what in stock is older than it keeps

    @property
    def short(self) -> float:
        """What is missing."""
        return max(self.needed - self.stock, 0.0)

    @property
    def over(self) -> float:
        """What is left when the work is done."""
        return max(self.stock + self.bought - self.needed, 0.0)

    def late(self, today: str) -> bool:
        """Whether the last day to order it has gone by."""
        return bool(self.by) and self.bought > 0 and self.by < today


class _Line(Struct, frozen=True):
    """A line before it is priced: what one unit costs in terms of the price list's own."""

    id: str
    group: str
    name: str
    unit: Unit
    needed: float
    each: float  # kg, m2 or pieces of the price list in one unit


def buys_of(
    items: Iterable[Item], rolls: Sequence[Roll], sheets: Sequence[CoreSheets], job: Job, shelf: Shelf
) -> tuple[Buy, ...]:
    """The order of a job, line by line as in the shopping list."""
    made = []
    for item in items:
        for line in _lines(item, rolls, sheets, shelf):
            made.append(_buy(line, job, shelf))
    return tuple(made)


def _lines(item: Item, rolls: Sequence[Roll], sheets: Sequence[CoreSheets], shelf: Shelf) -> list[_Line]:
    if item.group == "cloth":
        whole = [r for r in rolls if r.fabric.id == item.id and not r.cloth.name]
        spare = 1 + shelf.rule("cloth.spare")
        length, width = sum(r.made.length for r in whole) * spare, shelf.fabric(item.id).roll_width
        return [_Line(item.id, item.group, item.name, "m", length, width)]
    if item.group == "core" and any(s.core.id == item.id for s in sheets):
        return [
            _Line(
                item.id,
                item.group,
                f"{item.name}, sheet {general(s.thickness * 1000)} mm",
                "each",
                float(s.made.whole),
                s.core.sheet[0] * s.core.sheet[1] * s.thickness * s.core.density,
            )
            for s in sheets
            if s.core.id == item.id
        ]
    unit = unit_of(item.id, shelf) if shelf.price(item.id) else LOOSE.get(item.kind, "each")
    return [_Line(item.id, item.group, item.name, unit, item.charged, 1.0)]


def unit_of(material: str, shelf: Shelf) -> Unit:
    """What a material is counted in: cloth by the m off its roll, core by the sheet, all else as it is priced."""
    if any(f.id == material for f in shelf.fabrics):
        return "m"
    price = shelf.price(material)
    return "each" if price is None or has_sheets(material, shelf) else price.per


def has_sheets(material: str, shelf: Shelf) -> bool:
    """Whether it is a core that comes in sheets."""
    return any(c.id == material and not c.poured for c in shelf.cores)


def _buy(line: _Line, job: Job, shelf: Shelf) -> Buy:
    price = shelf.price(line.id)
    rows = [s for s in job.stock if s.material == line.id and s.width is None]
    stock = sum(s.amount.si for s in rows)
    short = max(line.needed - stock, 0.0)
    # A whole sheet and a metre of roll cost what is in them, unless they are priced each.
    each = None if price is None else price.price * (line.each if price.per != line.unit else 1.0)
    packs, bought, cost = _packed(short, line.unit, price, each)
    return Buy(
        line.id,
        line.group,
        line.name,
        line.unit,
        line.needed,
        stock,
        bought,
        packs,
        each,
        cost,
        None if price is None else price.lead,
        ordered_by(job.buying.wanted, price.lead if price else None),
        _aged(rows, price, job.buying.wanted),
    )


def _packed(
    short: float, unit: Unit, price: Price | None, each: float | None
) -> tuple[tuple[tuple[float, int], ...], float, float | None]:
    """Packs, what they hold, what they cost."""
    if short <= 1e-9:
        return (), 0.0, 0.0 if each is not None else None
    if price is None or not price.packs:
        bought = ceil(short / STEP[unit] - 1e-9) * STEP[unit]
        return (), bought, None if each is None else bought * each
    assert each is not None
    sizes = tuple((p.size, p.size * each if p.price is None else p.price) for p in price.packs)
    chosen = cheapest(round(short, 9), sizes)
    return chosen.packs, chosen.amount, chosen.cost


def ordered_by(wanted: str, lead: float | None) -> str:
    """The last day to order what takes ``lead`` days, to have it on a day; nothing where either is not known."""
    if not wanted or lead is None:
        return ""
    return (date.fromisoformat(wanted) - timedelta(days=ceil(lead))).isoformat()


def _aged(rows: Sequence[object], price: Price | None, wanted: str) -> str:
    """What in stock will be older than it keeps on the day that it is wanted, in words."""
    if price is None or price.keeps is None or not wanted:
        return ""
    old = []
    for row in rows:
        opened = getattr(row, "opened", "")
        months = (date.fromisoformat(wanted) - date.fromisoformat(opened)).days / MONTH if opened else 0.0
        if months > price.keeps:
            old.append(
                f"opened {opened}, {fixed(months, 0)} months before it is wanted, and keeps {general(price.keeps)}"
            )
    return "; ".join(old)


def spent(buys: Iterable[Buy]) -> float:
    """What all that is bought costs."""
    return sum(b.cost or 0.0 for b in buys)
