"""An order in words: amounts in the units shown, packs, what is left over, dates. For the window, papers and files."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.dates import date_words
from ribpatch.core.numerals import fixed, general, without_zeros
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, System, shown

if TYPE_CHECKING:
    from ribpatch.core.supply.buying import Buy

KINDS = {"m": Kind.LENGTH, "kg": Kind.MASS, "m2": Kind.AREA, "each": Kind.COUNT}
COLUMNS = ("item", "needed", "in stock", "buy", "left over", "price", "cost", "order by")


def amount_text(amount: float, unit: str, system: System) -> str:
    """An amount of a line of the order, m, kg, m2 or pieces, in words."""
    if unit == "each":
        return fixed(amount, 0 if f"{amount:.1f}".endswith(".0") else 1)
    return shown(amount, KINDS[unit], system)


def bought_text(buy: Buy, system: System) -> str:
    """What is bought, in packs where it is sold so."""
    if buy.bought <= 0:
        return "nothing" if buy.needed else "–"
    if not buy.packs:
        return amount_text(buy.bought, buy.unit, system)
    return " + ".join(_pack(size, count, buy.unit, system) for size, count in buy.packs)


def _pack(size: float, count: int, unit: str, system: System) -> str:
    if unit == "each":
        return f"{count}" if size == 1 else f"{counted(count, 'pack', 'packs')} of {general(size)}"
    number, _, name = amount_text(size, unit, system).partition(" ")
    plain = f"{without_zeros(number)} {name}"
    return plain if count == 1 else f"{count} × {plain}"


def date_text(buy: Buy, today: str) -> str:
    """Until when it is ordered, or how long it takes."""
    if buy.bought <= 0:
        return ""
    if buy.by:
        return f"{date_words(buy.by)}, too late" if buy.late(today) else date_words(buy.by)
    return f"{general(buy.lead)} days before" if buy.lead is not None else ""


def note_text(buy: Buy, system: System) -> str:
    """What is to be known about a line, in a sentence; nothing where all is plain."""
    words = []
    if buy.bought <= 0 < buy.needed:
        words.append("there is enough in stock")
    elif buy.stock:
        words.append(f"{amount_text(buy.short, buy.unit, system)} short")
    if buy.aged:
        words.append(f"{buy.aged}: test a cup before it is used")
    if buy.price is None:
        words.append("no price")
    return "; ".join(words)
