"""The Order bench, a page at a time: what to buy with prices to edit, cloth on its rolls, core on its sheets, cups,
and what is in stock.
"""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.buying_words import COLUMNS, amount_text, bought_text, date_text, note_text
from ribpatch.core.edits import set_price
from ribpatch.core.errors import Fault
from ribpatch.core.stock_edits import receive
from ribpatch.core.stock_typed import price_typed
from ribpatch.core.supply.buying import spent
from ribpatch.core.supply.figures import batch_prefix
from ribpatch.core.supply.shopping import price_text
from ribpatch.core.units import Kind, System, shown
from ribpatch.ui.bench.paged import PagedBench
from ribpatch.ui.bench.resin_panel import ResinPanel
from ribpatch.ui.bench.roll_panel import RollPanel
from ribpatch.ui.bench.sheet_panel import SheetPanel
from ribpatch.ui.bench.stock_panel import StockPanel
from ribpatch.ui.bench.swap_panel import SwapPanel
from ribpatch.ui.widgets.sheet import Sheet

if TYPE_CHECKING:
    from PySide6.QtWidgets import QTableWidgetItem

    from ribpatch.core.plan import Plan
    from ribpatch.core.supply.buying import Buy
    from ribpatch.core.supply.cutting import Roll
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Tasks

PRICE, COST = COLUMNS.index("price"), COLUMNS.index("cost")
CUP_COLUMNS = ("zone", "resin", "cups", "each", "of it resin", "hardener", "working time")
PAGES = ("To buy", "Cloth on rolls", "Core on sheets", "Cups", "Resins and putty", "In stock")


class OrderBench(PagedBench):
    """Six pages under a row of their names. ``asked`` carries the id of a figure."""

    def __init__(self, session: Session, tasks: Tasks | None = None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._buys: tuple[Buy, ...] = ()
        self._laid_out: tuple[Roll, ...] | None = None
        self.items = Sheet(COLUMNS, "shopping list")
        self.items.asked.connect(self.asked)
        self.items.itemChanged.connect(self._price_typed)
        self.items.currentCellChanged.connect(lambda row, *_: self._chosen_row(row))
        self.note = QLabel("")
        self.note.setObjectName("soft")
        self.note.setWordWrap(True)
        self.came = QPushButton("It has come")
        self.came.setToolTip("What is bought of the row chosen is put in stock")
        self.came.clicked.connect(lambda: self._received())
        self.came.setEnabled(False)
        self.swap = SwapPanel(session, tasks)
        self.rolls = RollPanel(session, tasks)
        self.rolls.laid_out.connect(self._rolls_came)
        self.sheets = SheetPanel(session)
        self.cups = Sheet(CUP_COLUMNS, "cups", 1)
        self.cups.asked.connect(self.asked)
        self.resins = ResinPanel(session)
        self.stock = StockPanel(session)
        self.set_pages(PAGES, (self._list_page(), self.rolls, self.sheets, self.cups, self.resins, self.stock))

    def _list_page(self) -> QWidget:
        page = QWidget()
        layout = QVBoxLayout(page)
        layout.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.addWidget(self.came)
        row.addWidget(self.note, 1)
        layout.addWidget(self.items, 3)
        layout.addLayout(row)
        layout.addWidget(self.swap, 2)
        return page

    def set_theme(self, theme: str) -> None:
        """Tables take their colours from the window, drawings are told."""
        self.rolls.set_theme(theme)
        self.sheets.set_theme(theme)
        self.resins.set_theme(theme)
        self.swap.set_theme(theme)

    def show_plan(self, plan: Plan, system: System) -> None:
        """Show all pages; makes no edit."""
        self._laid_out = None
        self.rolls.show_plan(plan, self._chosen(self.items.currentRow()))
        if self._laid_out is None:
            self._rolls_came(plan.__dict__.get("rolls") or plan.__dict__.get("first_rolls") or ())
        self.sheets.show_plan(plan, system)
        self._show_cups(plan, system)
        self.resins.show_plan(plan, system)
        self.stock.show_plan(plan, system)

    def rest(self) -> None:
        """Nobody looks at it: nothing is laid out any further."""
        self.rolls.give_up()

    def _rolls_came(self, rolls: tuple[Roll, ...]) -> None:
        """The cloth is laid out: what to buy of it is known."""
        if not self._session.is_open:
            return
        self._laid_out = rolls
        plan, system = self._session.plan, self._session.system
        self._buys = plan.buys_with(rolls)
        with self.items.filling(len(self._buys) + 2):
            self._show_items(plan, system)
        self._chosen_row(self.items.currentRow())

    def _chosen(self, row: int) -> str:
        """The material in a row of the list."""
        return self._buys[row].id if 0 <= row < len(self._buys) else ""

    def _received(self) -> None:
        """What is bought of the row chosen has come."""
        row = self.items.currentRow()
        if 0 <= row < len(self._buys) and self._buys[row].bought > 0:
            today = date.today().isoformat()
            self._session.apply(receive(self._session.job, self._buys[row], today))

    def _chosen_row(self, row: int) -> None:
        self.swap.show_material(self._chosen(row))
        self.came.setEnabled(0 <= row < len(self._buys) and self._buys[row].bought > 0)
        if 0 <= row < len(self._buys):
            buy = self._buys[row]
            words = note_text(buy, self._session.system)
            item = next((i for i in self._session.plan.items if i.id == buy.id), None)
            told = [f"{buy.name}: {words}." if words else "", item.note if item is not None else ""]
            self.note.setText(" ".join(t for t in told if t))
            if buy.group == "cloth":
                self.rolls.show_fabric(buy.id)

    def _show_items(self, plan: Plan, system: System) -> None:
        today = date.today().isoformat()
        known = {r.fabric.id for r in self._laid_out or ()}
        self.items.setColumnHidden(COLUMNS.index("in stock"), not any(b.stock for b in self._buys))
        for row, buy in enumerate(self._buys):
            price, cost = plan.shelf.price(buy.id), plan.by_id.get(f"cost.{buy.id}")
            waits = buy.group == "cloth" and buy.id not in known
            cells = (
                buy.name,
                "…" if waits else amount_text(buy.needed, buy.unit, system),
                amount_text(buy.stock, buy.unit, system) if buy.stock else "",
                "…" if waits else bought_text(buy, system),
                amount_text(buy.over, buy.unit, system) if buy.over > 1e-6 and not waits else "",
                price_text(price, system),
                "…" if waits else "–" if buy.cost is None else shown(buy.cost, Kind.MONEY, system),
                date_text(buy, today),
            )
            for column, text in enumerate(cells):
                figure = cost if column == 1 else None
                cell = self.items.put(row, column, text, figure, column not in (0, 3, 7), column == PRICE)
                if column == 0:
                    cell.setToolTip(buy.name)
                elif column == PRICE:
                    cell.setToolTip("Double-click to type yours: 24 per kg, a pack as 480 for 20 kg, or no packs")
        self._show_sums(plan, system)

    def _show_sums(self, plan: Plan, system: System) -> None:
        total, last = plan.by_id["cost.total"], len(self._buys)
        for row, (words, text, figure) in enumerate(
            (
                ("all that is bought", shown(spent(self._buys), Kind.MONEY, system), None),
                ("of it used in this job", total.shown(system), total),
            ),
            last,
        ):
            for column in range(len(COLUMNS)):
                self.items.put(row, column, words if column == 0 else "")
            self.items.put(row, COST, text, figure, right=True)

    def _show_cups(self, plan: Plan, system: System) -> None:
        rows = [(z, n, b) for z in plan.zones for n, b in enumerate(z.needs.batches, 1) if b.cups.count]
        with self.cups.filling(len(rows)):
            for row, (made, number, batch) in enumerate(rows):
                self.cups.put(row, 0, made.zone.name)
                self.cups.put(row, 1, batch.resin.name)
                for column, key in enumerate(("count", "each", "resin", "hardener", "working"), 2):
                    # Below the least temperature none is foretold.
                    figure = made.by_id.get(f"{batch_prefix(number)}cup.{key}")
                    self.cups.put(row, column, figure.shown(system) if figure else "–", figure, right=True)

    def _price_typed(self, cell: QTableWidgetItem) -> None:
        if cell.column() != PRICE or cell.row() >= len(self._buys):
            return
        buy, plan, system = self._buys[cell.row()], self._session.plan, self._session.system
        name = next(i.name for i in plan.items if i.id == buy.id)
        try:
            self._session.try_apply(set_price(price_typed(buy, name, cell.text(), plan.shelf, system)))
        except Fault as fault:
            self._session.told.emit(f"{name}: {fault.sentence} The old price is kept.")
        self.show_plan(self._session.plan, self._session.system)


BENCH = OrderBench
