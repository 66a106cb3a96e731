"""The shopping list: every material of the job with amount and cost, summed over zones."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from ribpatch.core.figure import Figure, FigureBook, Given, Origin
from ribpatch.core.resin.catalyst import as_mixed
from ribpatch.core.supply.figures import mix_split
from ribpatch.core.units import Kind, System, shown

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ribpatch.core.materials.records import Price
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.supply.needs import Needs

PER = {"kg": Kind.MASS, "m2": Kind.AREA, "each": Kind.COUNT}


class Item(Struct, frozen=True):
    """One thing to buy: group, amount of a kind, what the price list charges it by, and a note on how it is bought."""

    id: str
    group: str
    name: str
    amount: float
    kind: Kind
    charged: float  # kg, m2 or pieces, as the price is per
    note: str = ""


def items_of(needs: Needs) -> tuple[Item, ...]:
    """What one zone's patch needs bought."""
    rows = [Item(c.fabric.id, "cloth", c.fabric.name, c.area, Kind.AREA, c.area, "") for c in needs.cloth]
    for batch in needs.batches:
        total, resin = batch.cups.total, batch.resin
        if batch.cups.count:
            rows.append(Item(resin.id, "resin", resin.name, total, Kind.MASS, total, ""))
    cups = sum(b.cups.count for b in needs.batches)
    if cups:
        rows.append(Item("cup", "consumables", "mixing cup and stick", cups, Kind.COUNT, cups))
    fillers: dict[str, tuple[str, float]] = {}
    for use in needs.putties:
        name, known = fillers.get(use.recipe.id, (use.recipe.name, 0.0))
        fillers[use.recipe.id] = (name, known + use.filler)
    rows += [
        Item(f"filler.{putty}", "filler", f"filler for {name}", kg, Kind.MASS, kg)
        for putty, (name, kg) in fillers.items()
        if kg
    ]
    if needs.core and needs.core.poured:
        rows.append(Item(needs.core.id, "core", needs.core.name, needs.core_bought, Kind.MASS, needs.core_bought))
    elif needs.core:
        rows.append(Item(needs.core.id, "core", needs.core.name, needs.core_area, Kind.AREA, needs.core_bought))
    if needs.timber:
        rows.append(Item("beam-timber", "timber", "timber for a beam on posts", needs.timber, Kind.MASS, needs.timber))
    if needs.peel_area:
        rows.append(Item("peel-ply", "consumables", "peel ply", needs.peel_bought, Kind.AREA, needs.peel_bought))
    rows += [Item(c.coat.material, "finish", c.coat.name, c.mass, Kind.MASS, c.mass) for c in needs.coats]
    rows += [Item(u.what.id, "consumables", u.what.name, u.amount, u.what.kind, u.amount) for u in needs.used]
    return tuple(rows)


def summed(lists: Iterable[tuple[Item, ...]]) -> tuple[Item, ...]:
    """Items of several zones added up, in a steady order by group."""
    total: dict[str, Item] = {}
    for item in (i for rows in lists for i in rows):
        known = total.get(item.id)
        total[item.id] = (
            item
            if known is None
            else replace(known, amount=known.amount + item.amount, charged=known.charged + item.charged)
        )
    order = ("cloth", "resin", "filler", "core", "timber", "finish", "consumables")
    return tuple(sorted(total.values(), key=lambda i: (order.index(i.group), i.name)))


def with_notes(items: tuple[Item, ...], temperature: float, shelf: Shelf, system: System) -> tuple[Item, ...]:
    """The list with how each item is measured out in a shed of so many degC: masses in kg and volumes."""
    noted = []
    for item in items:
        note = item.note
        if item.group == "resin":
            resin = as_mixed(shelf.resin(item.id), temperature, shelf)
            a, b, va, vb = mix_split(item.amount, resin)
            parts = [f"{shown(m, Kind.MASS, system)} ({shown(v, Kind.VOLUME, system)})" for m, v in ((a, va), (b, vb))]
            note = " and ".join(parts)
        elif item.group == "cloth":
            width = shelf.fabric(item.id).roll_width
            off, roll = shown(item.amount / width, Kind.LENGTH, system), shown(width, Kind.LENGTH, system)
            note = f"about {off} off a {roll} roll"
        noted.append(replace(item, note=note))
    return tuple(noted)


PRICED = {"kg": Kind.PRICE_MASS, "m2": Kind.PRICE_AREA, "each": Kind.MONEY}


def price_text(price: Price | None, system: System) -> str:
    """A price as people read it: ``24.00 per kg``, ``0.60 each``."""
    if price is None:
        return "no price"
    return f"{shown(price.price, PRICED[price.per], system)}{' each' if price.per == 'each' else ''}"


def cost_figures(items: tuple[Item, ...], shelf: Shelf, prefix: str) -> tuple[Figure, ...]:
    """One figure an item and the sum; an item without a price counts as nothing and says so."""
    book = FigureBook(prefix)
    parts, missing = [], []
    for item in items:
        price = shelf.price(item.id)
        amount = Given(item.name, item.charged, PER[price.per] if price else item.kind, Origin.WORKED)
        if price is None:
            missing.append(item.name)
            continue
        each = Given("price", price.price, PRICED[price.per], shelf.origin(item.id), note=price.reason)
        parts.append(
            book.add(
                f"cost.{item.id}",
                f"cost: {item.name}",
                item.charged * price.price,
                Kind.MONEY,
                "amount × price",
                (amount, each),
            ).given()
        )
    book.add(
        "cost.total",
        "cost of materials",
        sum(float(p.value) for p in parts),
        Kind.MONEY,
        "sum over the shopping list",
        tuple(parts),
        valid="materials only; no labour, whole packs or tax",
        warning=f"No price for {', '.join(missing)}: not counted." if missing else "",
    )
    return book.figures
