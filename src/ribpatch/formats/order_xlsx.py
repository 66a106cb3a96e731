"""The order and the estimate as a workbook whose formulas recompute: change a stock, a pack or a price and all follows.

Amounts are in SI (m, kg, m2, pieces), as the price list is.
"""

from __future__ import annotations

from datetime import datetime
from io import BytesIO
from typing import TYPE_CHECKING, Any
from zipfile import ZIP_DEFLATED, ZipFile

from ribpatch.core.buying_words import note_text
from ribpatch.core.hours import worked_hours
from ribpatch.core.numerals import plainly
from ribpatch.core.plan import reworded
from ribpatch.core.text import cell_text, printable

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System

MOST_PACKS = 3
HEAD = (
    "item",
    "unit",
    "needed",
    "in stock",
    "short",
    "pack 1",
    "count 1",
    "pack 2",
    "count 2",
    "pack 3",
    "count 3",
    "loose",
    "bought",
    "left over",
    "price of a unit",
    "price of pack 1",
    "price of pack 2",
    "price of pack 3",
    "cost",
    "order by",
    "note",
)
STAMP = datetime(2000, 1, 1)  # the same order gives the same bytes


@plainly()
def order_workbook(plan: Plan, system: System = "metric") -> bytes:
    """The workbook as bytes; the same job gives the same bytes."""
    from openpyxl import Workbook
    from openpyxl.styles import Font

    plan = reworded(plan)
    book = Workbook()
    book.properties.created = book.properties.modified = STAMP
    book.properties.creator = "Rib Patch"
    sheet = book.active
    assert sheet is not None
    sheet.title = "Order"
    sheet.append(HEAD)
    for number, row in enumerate(_rows(plan, system), 2):
        sheet.append(_with_formulas(row, number))
    last = len(plan.buys) + 1
    sheet.append(["all that is bought", *[None] * 17, f"=SUM(S2:S{last})"])
    sheet.append(["of it used in this job", *[None] * 17, plan.by_id["cost.total"].value])
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    for column, width in (("A", 38), ("T", 14), ("U", 50)):
        sheet.column_dimensions[column].width = width
    sheet.freeze_panes = "B2"
    _estimate(book.create_sheet("Estimate"), plan, last + 1)
    stream = BytesIO()
    book.save(stream)
    return _dated(stream.getvalue())


def _rows(plan: Plan, system: System) -> list[dict[str, Any]]:
    rows = []
    for buy in plan.buys:
        price = plan.shelf.price(buy.id)
        known = {p.size: p.price for p in price.packs} if price is not None else {}
        packs = [(size, count, known.get(size)) for size, count in buy.packs[:MOST_PACKS]]
        loose = buy.bought - sum(size * count for size, count, _ in packs)
        rows.append({"buy": buy, "packs": packs, "loose": max(round(loose, 6), 0.0), "note": note_text(buy, system)})
    return rows


def _with_formulas(row: dict[str, Any], n: int) -> list[Any]:
    buy, packs = row["buy"], row["packs"] + [(None, None, None)] * (MOST_PACKS - len(row["packs"]))
    sizes = [value for size, count, _ in packs for value in (size, count)]
    prices = [price if price is not None else f"={c}{n}*O{n}" for (_, _, price), c in zip(packs, "FHJ", strict=True)]
    prices = [p if size is not None else None for p, (size, _, _) in zip(prices, packs, strict=True)]
    cost = f"=G{n}*P{n}+I{n}*Q{n}+K{n}*R{n}+L{n}*O{n}" if buy.price is not None else None
    return [
        _plain(buy.name),
        buy.unit,
        round(buy.needed, 6),
        round(buy.stock, 6),
        f"=MAX(C{n}-D{n},0)",
        *sizes,
        row["loose"] or None,
        f"=F{n}*G{n}+H{n}*I{n}+J{n}*K{n}+L{n}",
        f"=MAX(D{n}+M{n}-C{n},0)",
        buy.price,
        *prices,
        cost,
        _plain(buy.by) or None,
        _plain(row["note"]) or None,
    ]


def _plain(text: str) -> str:
    """Words that no program takes for a formula, and that a sheet can hold."""
    return cell_text(printable(text))


def _estimate(sheet: Any, plan: Plan, bought: int) -> None:
    """Hours by zone, the price of an hour, materials as bought, and the range."""
    hour = plan.job.buying.hour
    spread = plan.job.buying.spread
    sheet.append(["zone", "hours", "price of an hour", "work"])
    sheet.column_dimensions["A"].width = 38
    for n, made in enumerate(plan.zones, 2):
        sheet.append(
            [_plain(made.zone.name), round(worked_hours(made) / 3600, 4), hour.si if hour else None, f"=B{n}*C{n}"]
        )
    last = max(len(plan.zones) + 1, 2)
    sheet.append(["work", f"=SUM(B2:B{last})", None, f"=SUM(D2:D{last})"])
    work = sheet.max_row
    sheet.append(["materials, as bought", None, None, f"=Order!S{bought}"])
    sheet.append(["spread", None, None, spread.si if spread else plan.shelf.rule("estimate.spread")])
    sheet.append(["from", None, None, f"=(D{work}+D{work + 1})*(1-D{work + 2})"])
    sheet.append(["to", None, None, f"=(D{work}+D{work + 1})*(1+D{work + 2})"])
    if plan.job.buying.currency:
        sheet.append([_plain(f"in {plan.job.buying.currency}; no tax")])


def _dated(data: bytes) -> bytes:
    """The workbook's zip with one date on every member."""
    stream = BytesIO()
    with ZipFile(BytesIO(data)) as old, ZipFile(stream, "w", ZIP_DEFLATED) as new:
        for info in old.infolist():
            text = old.read(info)
            if info.filename == "docProps/core.xml":
                import re

                text = re.sub(rb"\d{4}-\d\d-\d\dT[\d:]+Z", b"2000-01-01T00:00:00Z", text)
            info.date_time = (1980, 1, 1, 0, 0, 0)
            new.writestr(info, text)
    return stream.getvalue()
