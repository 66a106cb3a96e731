"""The bond plan: every interface, and the steps of the one looked at."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QScrollArea

from ribpatch.core.table import NOTHING
from ribpatch.core.tables import zone_table
from ribpatch.ui.pages.page import Page
from ribpatch.ui.widgets.table_view import TableView
from ribpatch.ui.widgets.words import Words

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.patch.bonding.protocol import Interface
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan


class BondsPage(Page):
    """Interfaces on the left, steps on the right."""

    title = "Bonds"

    def build(self) -> None:
        self._interfaces: tuple[Interface, ...] = ()
        self._test: tuple[str, ...] = ()
        self.table = TableView("bond plan")
        self.table.grid.currentCellChanged.connect(lambda row, *_: self._show_steps(row))
        self.steps = Words()
        self.steps.setAccessibleName("steps of the bond")
        scroll = QScrollArea()
        scroll.setAccessibleName("steps of the bond plan")
        scroll.setObjectName("reads")
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.steps)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addWidget(self.table, 5)
        layout.addWidget(scroll, 3)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        self._interfaces = made.interfaces
        self._test = made.coupon_test
        row = max(self.table.grid.currentRow(), 0)
        self.table.show_table(zone_table(made, "bonds", self.session.system) or NOTHING, self.session.system)
        row = min(row, len(self._interfaces) - 1)
        if row >= 0:
            self.table.grid.setCurrentCell(row, 0)
        self._show_steps(row)

    def _show_steps(self, row: int) -> None:
        if not 0 <= row < len(self._interfaces):
            self.steps.setText("")
            return
        here = self._interfaces[row]
        lines = "".join(f"<li>{step}</li>" for step in here.steps)
        words = f"<p><b>{here.name}</b>: {here.kind} bond</p><ol>{lines}</ol>"
        if here.key == "later" and self._test:
            words += (
                "<p><b>Coupon test before it goes on</b></p><ol>"
                + "".join(f"<li>{s}</li>" for s in self._test)
                + "</ol>"
            )
        self.steps.setText(words)

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)


PAGE = BondsPage
