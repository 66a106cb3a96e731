"""Resins of the shelf with the times that work is planned by, each to be typed over; putty by the cup."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from ribpatch.core.errors import Fault
from ribpatch.core.numerals import in_words
from ribpatch.core.resin_table import FACTS, fact_text, in_shed, set_fact
from ribpatch.core.supply.putty_table import putty_table
from ribpatch.ui.widgets.sheet import Sheet
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from PySide6.QtWidgets import QTableWidgetItem

    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.ui.session import Session

COLUMNS = ("resin", *(fact.name for fact in FACTS))
NOTE = "Times are of a thin film at 25 °C, pot life of 100 g; double-click to type your data sheet's. "


class ResinPanel(QWidget):
    """Two tables, and what the shed makes of the resin looked at."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._shown: object = None
        self.resins = Sheet(COLUMNS, "resins")
        self.resins.itemChanged.connect(self._typed)
        self.resins.currentCellChanged.connect(lambda row, *_: self._look(row))
        self.words = QLabel("")
        self.words.setWordWrap(True)
        self.putties = TableView("putty by the cup")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.resins, 3)
        layout.addWidget(self.words)
        layout.addWidget(self.putties, 4)

    def set_theme(self, theme: str) -> None:
        self.putties.set_theme(theme)

    def show_plan(self, plan: Plan, system: System) -> None:
        """Show the resins and recipes of a plan."""
        key = (plan.shelf.resins, plan.job.air, system)
        if key != self._shown:
            self._shown = key
            with self.resins.filling(len(plan.shelf.resins)):
                for row, resin in enumerate(plan.shelf.resins):
                    self.resins.put(row, 0, resin.name).setToolTip(f"{resin.name}\n{in_words(resin.reason)}")
                    for column, fact in enumerate(FACTS, 1):
                        cell = self.resins.put(row, column, fact_text(resin, fact, system), right=True, editable=True)
                        cell.setToolTip(f"{fact.name}: double-click to type your data sheet's")
        self._look(max(self.resins.currentRow(), 0))
        self.putties.show_table(putty_table((z.needs for z in plan.zones), plan.shelf, system), system)

    def _look(self, row: int) -> None:
        if not self._session.is_open:
            return
        plan, system = self._session.plan, self._session.system
        if 0 <= row < len(plan.shelf.resins):
            self.words.setText(NOTE + in_shed(plan.shelf.resins[row], plan.job.air.temperature.si, system))

    def _typed(self, cell: QTableWidgetItem) -> None:
        row, column = cell.row(), cell.column()
        if column == 0 or row >= len(self._session.plan.shelf.resins):
            return
        resin, fact = self._session.plan.shelf.resins[row], FACTS[column - 1]
        try:
            self._session.try_apply(set_fact(resin, fact, cell.text(), self._session.system))
        except Fault as fault:
            self._session.told.emit(f"{resin.name}, {fact.name}: {fault.sentence} The old value is kept.")
            self._shown = None
            self.show_plan(self._session.plan, self._session.system)
