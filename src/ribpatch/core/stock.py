"""What the shop has and how it buys: stock, when the material is wanted, layouts of cloth that are kept."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from ribpatch.core.materials.records import Id
from ribpatch.core.ranged import ranged
from ribpatch.core.readings import Text
from ribpatch.core.record import Checked, Limits, Record
from ribpatch.core.units import Kind, Measure

MOST_STOCK = 1000
FIRST_YEAR, LAST_YEAR = 1950, 2200
MOST_PIECES = 2000  # of one layout


def _day(text: str) -> str:
    """A day in the one way that sorts as text, of all the ways ISO 8601 allows."""
    if not text:
        return text
    try:
        day = date.fromisoformat(text)
    except ValueError:
        raise ValueError(f"“{text}” is no date; write it as 2027-03-28") from None
    if not FIRST_YEAR <= day.year <= LAST_YEAR:
        raise ValueError(f"“{text}” is outside the years {FIRST_YEAR} to {LAST_YEAR}")
    return day.isoformat()


Day = Annotated[str, Limits(max_length=10), Checked(_day)]
Amount = Annotated[Measure, ranged(0, 1e5, Kind.NUMBER)]


class StockItem(Record):
    """Something on the shelf: an item of the shopping list by its id and how much of it there is.

    The amount is in m off the roll for cloth, m2 for what is bought by area, kg for resin and filler, else pieces. A
    ``width`` tells an off-cut of cloth or of a core sheet, of that width and a length of the amount.
    """

    id: Id
    material: Id
    amount: Amount
    width: Annotated[Measure, ranged(0.02, 5)] | None = None
    opened: Day = ""
    note: Text = ""


class Buying(Record):
    """How the job is bought and charged: when the material is wanted, in which currency, what an hour costs."""

    wanted: Day = ""
    currency: Annotated[str, Limits(max_length=8)] = ""
    hour: Annotated[Measure, ranged(0, 10_000, Kind.MONEY)] | None = None
    spread: Annotated[Measure, ranged(0, 1, Kind.PERCENT)] | None = None


Place = Annotated[float, Limits(ge=-1000, le=10_000)]
Turn = Annotated[float, Limits(ge=-360, le=360)]


class KeptLayout(Record):
    """A layout of pieces on a roll that is kept: whose cloth, a mark of the pieces, and where each lies: moved along
    and across the roll, m, and turned, degrees.
    """

    fabric: Id
    pieces: Annotated[str, Limits(min_length=16, max_length=16, pattern=r"^[0-9a-f]{16}$")]
    lying: Annotated[tuple[tuple[Place, Place, Turn], ...], Limits(max_length=MOST_PIECES)]
