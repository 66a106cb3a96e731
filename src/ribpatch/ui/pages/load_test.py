"""Load test: what to expect before and after, what was read, and what measured flexes say."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QLabel, QVBoxLayout

from ribpatch.core.table import NOTHING
from ribpatch.core.tables import zone_table
from ribpatch.ui.pages.page import Page
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan


class LoadTestPage(Page):
    """The table, with what to do beside it."""

    title = "Load test"

    def build(self) -> None:
        self.table = TableView("load test", first_whole=True)
        self.table.asked.connect(self.asked)
        self.words = QLabel(
            "Set the dial under the middle of the load, on something that does not move with the panel. Put the load "
            "on in three steps, read after a minute, take it off and read again: what does not come back is slip. "
            "Nobody under or behind it. Enter the readings among the choices; the sheet is in the work pack."
        )
        self.words.setWordWrap(True)
        self.words.setObjectName("soft")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.words)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        self.table.show_table(zone_table(made, "trial", self.session.system) or NOTHING, self.session.system)

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)


PAGE = LoadTestPage
