"""The order as a paper that a supplier can read, and as the file that its ending asks for."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from reportlab.platypus import Spacer

from ribpatch.core.buying_words import COLUMNS, amount_text, bought_text, date_text, note_text
from ribpatch.core.numerals import money_sign
from ribpatch.core.supply.buying import spent
from ribpatch.core.units import Kind, shown
from ribpatch.report.page import HEAD, SMALL, SUB, Paper, built, figure_table, fonts, page_width, paragraph, table

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System

SHARES = (0.235, 0.095, 0.085, 0.165, 0.095, 0.08, 0.095, 0.15)
ESTIMATE = ("job.hours", "job.labour", "cost.total", "job.estimate.low", "job.estimate.high")


def order_file(plan: Plan, suffix: str, system: System, today: str) -> bytes:
    """The order as ``.csv``, ``.xlsx`` or ``.pdf``."""
    if suffix.lower() == ".xlsx":
        from ribpatch.formats.order_xlsx import order_workbook

        return order_workbook(plan, system)
    if suffix.lower() == ".pdf":
        return order_pdf(plan, system, "A4" if system == "metric" else "Letter", today)
    from ribpatch.formats.shopping_csv import shopping_text

    return shopping_text(plan, system, today).encode()


def order_pdf(plan: Plan, system: System, paper: Paper, today: str = "") -> bytes:
    """The order with its sums and the estimate; the same job gives the same bytes."""
    fonts()
    boat, width = plan.job.boat.name, page_width(paper)
    story: list[Any] = [paragraph(f"{boat}: what to buy", HEAD)]
    wanted = plan.job.buying.wanted
    story.append(paragraph(f"Wanted on {wanted}." if wanted else "No day is stated on which it is wanted.", SMALL))
    story += [Spacer(1, 6), *order_table(plan, system, width, today)]
    figures = [plan.by_id[k] for k in ESTIMATE if k in plan.by_id]
    story += [paragraph("Estimate", SUB), figure_table(figures, system, width)]
    story.append(paragraph(f"{figures[-1].valid[:1].upper()}{figures[-1].valid[1:]}.", SMALL))
    return built(
        story, f"{boat}: what to buy", f"{boat}: what to buy. Amounts are estimates; data sheets decide.", paper
    )


def order_table(plan: Plan, system: System, width: float, today: str = "") -> list[Any]:
    """The lines of the order, their sums, and what is to be known about some."""
    sign = plan.job.buying.currency
    bare = bool(sign) and sign != money_sign()  # where each amount does not carry it
    rows = [[f"{c}, {sign}" if c == "cost" and bare else c for c in COLUMNS]]
    for buy in plan.buys:
        rows.append(
            [
                buy.name,
                amount_text(buy.needed, buy.unit, system),
                amount_text(buy.stock, buy.unit, system) if buy.stock else "",
                bought_text(buy, system),
                amount_text(buy.over, buy.unit, system) if buy.over > 1e-6 else "",
                "" if buy.price is None else shown(buy.price, Kind.MONEY, system),
                "no price" if buy.cost is None else shown(buy.cost, Kind.MONEY, system),
                date_text(buy, today),
            ]
        )
    total = plan.by_id["cost.total"]
    blank = [""] * 5
    rows.append(["all that is bought", *blank, shown(spent(plan.buys), Kind.MONEY, system), ""])
    rows.append(["of it used in this job", *blank, total.shown(system), ""])
    story: list[Any] = [table(rows, [width * s for s in SHARES], (1, 2, 4, 5, 6))]
    story.append(paragraph("Prices are for one metre off the roll, one sheet, one kg, m² or piece.", SMALL))
    told = [(b.name, note_text(b, system)) for b in plan.buys]
    return [*story, *(paragraph(f"{name}: {words}.", SMALL) for name, words in told if words)]
