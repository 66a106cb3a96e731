"""What people type about stock and prices, read: amounts as a material is counted, a price of a unit or of a pack."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.buying_words import KINDS
from ribpatch.core.dates import date_words, iso_date
from ribpatch.core.errors import Fault, InvalidValue
from ribpatch.core.materials.records import Pack, Price
from ribpatch.core.quantity import parse
from ribpatch.core.record import evolve, faults_of, read_as
from ribpatch.core.stock import StockItem
from ribpatch.core.supply.buying import has_sheets, unit_of
from ribpatch.core.supply.shopping import PRICED
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from typing import Any

    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.record import Record
    from ribpatch.core.supply.buying import Buy
    from ribpatch.core.units import Measure, System

AMOUNT, WIDTH, OPENED = "how much", "width", "opened"  # fields, as a fault names them
PACK, NO_PACKS = " for ", "no packs"
SAME = 1e-6  # of a size, by which two packs are one


def stock_typed(material: str, texts: dict[str, str], today: str, shelf: Shelf, system: System) -> StockItem:
    """What is put in stock; a fault names the field in ``where``. A width makes it an off-cut, m by m."""
    unit, width = unit_of(material, shelf), None
    if texts[WIDTH].strip():
        if unit != "m" and not has_sheets(material, shelf):
            raise InvalidValue(WIDTH, reason="this has no off-cuts; leave the width empty")
        unit, width = "m", _read(WIDTH, texts[WIDTH], Kind.LENGTH, system)
    amount = _read(AMOUNT, texts[AMOUNT], KINDS[unit], system)
    stated = {"id": "s0", "material": material, "amount": amount, "width": width, "opened": iso_date(texts[OPENED])}
    made: StockItem = _made(StockItem, stated, {"amount": AMOUNT, "width": WIDTH, "opened": OPENED})
    if made.opened > today:
        raise InvalidValue(OPENED, reason=f"{date_words(made.opened)} is still to come; write the day it was opened")
    return made


def _read(field: str, text: str, kind: Kind, system: System) -> Measure:
    try:
        return parse(text, kind, system).measure
    except Fault as fault:
        fault.where = field
        raise


def _made(model: type[Record], stated: dict[str, object], fields: dict[str, str]) -> Any:
    """A record of stated values; a fault in one is named as the field that it was typed in."""
    from pydantic import ValidationError

    try:
        return read_as(model, stated)
    except ValidationError as error:
        fault = faults_of(error)[0]
        fault.where = fields.get(fault.where.partition(".")[0], fault.where)
        raise fault from None


def price_typed(buy: Buy, name: str, text: str, shelf: Shelf, system: System) -> Price:
    """A price as typed: of a unit (24 per kg), or of a pack (480 for 20 kg); ``no packs`` for what is sold loose.

    A pack is added, or put in place of the one of its size. Raises Fault.
    """
    known = shelf.price(buy.id)
    per = known.per if known is not None else ("each" if buy.unit == "m" else buy.unit)
    packs = known.packs if known is not None else ()
    stated: dict[str, object] = {"id": buy.id, "name": name, "per": per, "reason": "typed for this job"}
    money, pack, amount = text.partition(PACK)
    if text.strip() == NO_PACKS:
        price, packs = (known.price if known is not None else 0.0), ()
    elif pack:
        size = parse(amount, KINDS[buy.unit], system).measure.si
        if size <= 0:
            raise InvalidValue("price", reason=f"a pack of “{amount.strip()}” holds nothing; write it as 480 for 20 kg")
        cost = parse(money, Kind.MONEY, system).measure.si
        made = _made(Pack, {"size": size, "price": cost}, {"size": "price", "price": "price"})
        price = known.price if known is not None else cost / size
        packs = tuple(sorted((*(p for p in packs if abs(p.size - size) > SAME * size), made), key=lambda p: p.size))
    else:
        price = parse(text.removesuffix("each"), PRICED[per], system).measure.si
        packs = tuple(evolve(p, price=None) for p in packs)  # what packs cost would no longer agree with it
    read: Price = _made(Price, {**stated, "price": price}, {"price": "price"})
    return evolve(
        read,
        packs=packs,
        lead=known.lead if known is not None else None,
        keeps=known.keeps if known is not None else None,
    )
