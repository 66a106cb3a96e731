"""The order as CSV, workbook and PDF, and labels: sums, formulas that recompute, nothing taken for a formula."""

from __future__ import annotations

import csv
import io
import re

import pytest
from openpyxl import load_workbook
from tests.bed import bed_job as demo_job
from tests.papers import flat, pages_of, text_of

from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.stock import StockItem
from ribpatch.core.supply.buying import spent
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf
from ribpatch.report.labels import fitted, label_pdf, labels_of
from ribpatch.report.order_list import order_file
from ribpatch.report.page import fonts

SHELF = shipped_shelf()
STOCK = (
    StockItem(id="s1", material="epoxy-5-1-slow", amount=Measure(si=3.0), opened="2025-01-01"),
    StockItem(id="s2", material="ply-marine", amount=Measure(si=5.0)),
)
JOB = demo_job()
BUYING = evolve(JOB.buying, wanted="2027-03-01", currency="EUR", hour=Measure(si=40.0))
MADE = plan(evolve(JOB, stock=STOCK, buying=BUYING), SHELF)


class Book:
    """Recomputes a workbook: sums, MAX, arithmetic, cells of other sheets."""

    def __init__(self, data: bytes) -> None:
        self.book = load_workbook(io.BytesIO(data))

    def value(self, sheet: str, cell: str) -> float:
        found = self.book[sheet][cell].value
        if not isinstance(found, str) or not found.startswith("="):
            return found or 0.0
        text = re.sub(r"(?:(\w+)!)?([A-Z])(\d+):([A-Z])(\d+)", lambda m: self._span(sheet, m), found[1:])
        text = re.sub(r"(?:(\w+)!)?\b([A-Z]\d+)\b", lambda m: f"({self.value(m[1] or sheet, m[2])})", text)
        return float(eval(text, {"MAX": max, "SUM": lambda *a: sum(a)}))

    def _span(self, sheet: str, m: re.Match[str]) -> str:
        return ",".join(f"({self.value(m[1] or sheet, f'{m[2]}{n}')})" for n in range(int(m[3]), int(m[5]) + 1))


def test_the_workbook_recomputes_to_what_the_plan_says() -> None:
    data = order_file(MADE, ".xlsx", "metric", "")
    assert data == order_file(MADE, ".XLSX", "metric", ""), "the same bytes"
    book = Book(data)
    for n, buy in enumerate(MADE.buys, 2):
        assert book.book["Order"][f"A{n}"].value == buy.name
        for column, wanted in (("E", buy.short), ("M", buy.bought), ("N", buy.over), ("S", buy.cost)):
            assert book.value("Order", f"{column}{n}") == pytest.approx(wanted, abs=2e-5), (buy.name, column)
    last = len(MADE.buys) + 2
    assert book.value("Order", f"S{last}") == pytest.approx(spent(MADE.buys))
    assert book.value("Order", f"S{last + 1}") == pytest.approx(MADE.by_id["cost.total"].value)
    zones = len(MADE.zones)
    hours = MADE.by_id["job.hours"].value / 3600
    assert book.value("Estimate", f"B{zones + 2}") == pytest.approx(hours, abs=1e-3)
    whole = hours * 40 + spent(MADE.buys)
    assert book.value("Estimate", f"D{zones + 5}") == pytest.approx(0.75 * whole, rel=1e-4)
    assert book.value("Estimate", f"D{zones + 6}") == pytest.approx(1.25 * whole, rel=1e-4)


def test_a_changed_stock_and_price_follow_through_the_formulas() -> None:
    book = Book(order_file(MADE, ".xlsx", "metric", ""))
    row = next(n for n, b in enumerate(MADE.buys, 2) if b.id == "biax-45-600")
    order, before = book.book["Order"], book.value("Order", f"S{row}")
    order[f"O{row}"].value *= 2
    assert book.value("Order", f"S{row}") == pytest.approx(2 * before)
    order[f"D{row}"].value = 100.0
    assert book.value("Order", f"E{row}") == 0 and book.value("Order", f"N{row}") > 90


def test_a_name_that_looks_like_a_formula_is_none() -> None:
    zone = evolve(MADE.job.zones[0], name="=1+1")
    book = load_workbook(io.BytesIO(order_file(plan(evolve(MADE.job, zones=(zone,)), SHELF), ".xlsx", "metric", "")))
    assert book["Estimate"]["A2"].value == "'=1+1"


@pytest.mark.parametrize("system", ["metric", "us"])
def test_the_table_has_every_line_and_both_sums(system: str) -> None:
    rows = list(csv.DictReader(io.StringIO(order_file(MADE, ".csv", system, "2027-02-20").decode())))
    assert [r["item"] for r in rows[:-2]] == [b.name for b in MADE.buys]
    assert sum(float(r["cost"]) for r in rows[:-2]) == pytest.approx(float(rows[-2]["cost"]), abs=0.2)
    assert float(rows[-1]["cost"]) == pytest.approx(MADE.by_id["cost.total"].value, abs=0.01)
    resin = next(r for r in rows if r["item"].startswith("5:1"))
    assert (
        "too late" in resin["order by"]
        and "keeps 12" in resin["note"]
        and resin["unit"] == ("lb" if system == "us" else "kg")
    )
    assert "−" not in order_file(MADE, ".csv", system, "").decode()
    cost = float(next(r for r in rows if r["item"] == "biaxial ±45 600 g/m2")["price of a unit"])
    assert cost == pytest.approx(8.0 * 1.27 * (0.3048 if system == "us" else 1), abs=0.01)


def test_the_paper_has_the_lines_the_day_and_the_estimate() -> None:
    data = order_file(MADE, ".pdf", "metric", "2027-02-20")
    assert data == order_file(MADE, ".pdf", "metric", "2027-02-20")
    text = flat(text_of(data))
    for words in ("Wanted on 2027-03-01", "cost, EUR", "too late", "all that is bought", "estimate, from", "No tax"):
        assert words in text, words


def test_every_piece_has_a_label_that_fits() -> None:
    labels = labels_of(MADE, "metric")
    cloth = sum(len(r.cuts) for r in MADE.rolls)
    assert len(labels) == cloth + sum(len(s.cuts) for s in MADE.core_sheets)
    assert [x.number for x in labels[:cloth]] == [str(n) for n in range(1, cloth + 1)] and labels[cloth].number == "C1"
    pages = pages_of(label_pdf(MADE, "metric", "A4"))
    assert len(pages) == -(-len(labels) // 24)
    text = "".join(pages)
    assert text.count("Heron Reach") == len(labels) and "knee to stringer, ply 1" in text
    assert label_pdf(MADE, "us", "Letter").startswith(b"%PDF")
    fonts()
    assert fitted("short", "B612", 8, 200) == "short" and fitted("much too long for it", "B612", 8, 40).endswith("…")
