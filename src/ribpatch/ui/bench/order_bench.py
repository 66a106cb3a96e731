"""The Order bench: the shopping list of the whole job with prices to edit, and the cups of each zone."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QLabel,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ribpatch.core.edits import set_price
from ribpatch.core.errors import Fault
from ribpatch.core.materials.records import Price
from ribpatch.core.quantity import parse
from ribpatch.core.record import read_as
from ribpatch.core.supply.shopping import PRICED, price_text
from ribpatch.core.units import Kind, System, shown
from ribpatch.ui.bench.roll_panel import RollPanel

if TYPE_CHECKING:
    from PySide6.QtGui import QKeyEvent

    from ribpatch.core.figure import Figure
    from ribpatch.core.plan import Plan
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Tasks

PER_KIND = {Kind.MASS: "kg", Kind.AREA: "m2"}
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
FIGURE = Qt.ItemDataRole.UserRole
ITEM_COLUMNS = ("item", "amount", "how it is bought", "price", "cost")
CUP_COLUMNS = ("zone", "resin", "cups", "each", "of it resin", "hardener", "working time")


class Sheet(QTableWidget):
    """A read-only table whose cells may hold figures; ``asked`` carries one."""

    asked = Signal(object)

    def __init__(self, columns: tuple[str, ...], name: str) -> None:
        super().__init__(0, len(columns))
        self.setAccessibleName(name)
        self.setHorizontalHeaderLabels(list(columns))
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(25)
        self.setAlternatingRowColors(True)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self.cellClicked.connect(self._clicked)

    def put(
        self,
        row: int,
        column: int,
        text: str,
        figure: Figure | None = None,
        right: bool = False,
        editable: bool = False,
    ) -> None:
        """Set a cell."""
        item = QTableWidgetItem(text)
        flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        item.setFlags(flags | Qt.ItemFlag.ItemIsEditable if editable else flags)
        if right:
            item.setTextAlignment(RIGHT)
        if figure is not None:
            item.setData(FIGURE, figure.id)
            item.setToolTip(f"{figure.name}: show the working (click)")
        if editable:
            item.setToolTip("Double-click to type your price")
        self.setItem(row, column, item)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        item = self.item(self.currentRow(), self.currentColumn())
        if event.key() == Qt.Key.Key_F2 and item is not None and item.data(FIGURE):
            self._clicked(item.row(), item.column())
            return
        super().keyPressEvent(event)

    def _clicked(self, row: int, column: int) -> None:
        item = self.item(row, column)
        if item is not None and item.data(FIGURE):
            self.asked.emit(item.data(FIGURE))


class OrderBench(QWidget):
    """Shopping list over cups. ``asked`` carries the id of a figure."""

    asked = Signal(object)

    def __init__(self, session: Session, tasks: Tasks | None = None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        self.title = QLabel("Shopping list, whole job")
        self.title.setObjectName("title")
        self.rolls = RollPanel(session, tasks)
        self.items = Sheet(ITEM_COLUMNS, "shopping list")
        self.items.asked.connect(self.asked)
        self.items.itemChanged.connect(self._price_typed)
        self.items.currentCellChanged.connect(lambda row, *_: self.rolls.show_fabric(self._chosen(row)))
        head = self.items.horizontalHeader()
        head.setSectionResizeMode(2, QHeaderView.ResizeMode.Stretch)
        self.cups_title = QLabel("Cups")
        self.cups_title.setObjectName("title")
        self.cups = Sheet(CUP_COLUMNS, "cups")
        self.cups.asked.connect(self.asked)
        self.cups.horizontalHeader().setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        layout.addWidget(self.title)
        layout.addWidget(self.items, 3)
        layout.addWidget(self.cups_title)
        layout.addWidget(self.cups, 2)
        layout.addWidget(self.rolls, 3)

    def set_theme(self, theme: str) -> None:
        """Tables take their colours from the window, the cut plan is told."""
        self.rolls.set_theme(theme)

    def show_plan(self, plan: Plan, system: System) -> None:
        """Show list and cups; makes no edit."""
        blocked = self.items.blockSignals(True)
        self._show_items(plan, system)
        self.items.blockSignals(blocked)
        self._show_cups(plan, system)
        self.rolls.show_plan(plan, self._chosen(self.items.currentRow()))

    def _chosen(self, row: int) -> str:
        """The material in a row of the list."""
        items = self._session.plan.items if self._session.is_open else ()
        return items[row].id if 0 <= row < len(items) else ""

    def _show_items(self, plan: Plan, system: System) -> None:
        self.items.setRowCount(len(plan.items) + 1)
        for row, item in enumerate(plan.items):
            price = plan.shelf.price(item.id)
            cost = plan.by_id.get(f"cost.{item.id}")
            self.items.put(row, 0, item.name)
            self.items.put(row, 1, shown(item.amount, item.kind, system), right=True)
            self.items.put(row, 2, item.note)
            self.items.put(row, 3, price_text(price, system), right=True, editable=True)
            self.items.put(row, 4, cost.shown(system) if cost else "–", cost, right=True)
        total = plan.by_id["cost.total"]
        last = len(plan.items)
        for column in range(4):
            self.items.put(last, column, "sum of materials" if column == 0 else "")
        self.items.put(last, 4, total.shown(system), total, right=True)

    def _show_cups(self, plan: Plan, system: System) -> None:
        zones = [z for z in plan.zones if z.needs.cups.count]
        self.cups.setRowCount(len(zones))
        for row, made in enumerate(zones):
            self.cups.put(row, 0, made.zone.name)
            self.cups.put(row, 1, made.needs.resin.name)
            for column, key in enumerate(("count", "each", "resin", "hardener", "working"), 2):
                figure = made.by_id.get(f"cup.{key}")  # below the least temperature none is foretold
                self.cups.put(row, column, figure.shown(system) if figure else "–", figure, right=True)

    def _price_typed(self, cell: QTableWidgetItem) -> None:
        if cell.column() != 3 or cell.row() >= len(self._session.plan.items):
            return
        item = self._session.plan.items[cell.row()]
        known = self._session.plan.shelf.price(item.id)
        per = known.per if known else PER_KIND.get(item.kind, "each")
        try:
            text = cell.text().removesuffix("each")
            number = parse(text, PRICED[per], self._session.system).measure.si
            price = read_as(
                Price, {"id": item.id, "name": item.name, "price": number, "per": per, "reason": "typed for this job"}
            )
            self._session.try_apply(set_price(price))
        except Fault as fault:
            self._session.told.emit(f"{item.name}: {fault.sentence} The old price is kept.")
        except ValueError:
            self._session.told.emit(f"{item.name}: a price must be 0 or more. The old price is kept.")
        self.show_plan(self._session.plan, self._session.system)


BENCH = OrderBench
