"""Remedies: what each does to deflection, margin, weight, cost and hours; one press begins a scheme with it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QLabel, QPushButton, QVBoxLayout

from ribpatch.core.proof_edits import begin_scheme
from ribpatch.core.remedies import remedies_of
from ribpatch.core.table import NOTHING
from ribpatch.core.tables import zone_table
from ribpatch.ui.pages.page import Page
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan


class RemediesPage(Page):
    """One table with one button."""

    title = "Remedies"

    def build(self) -> None:
        self.table = TableView("remedies")
        self.table.asked.connect(self.asked)
        self.table.taken.connect(self._take)
        self.none = QLabel("Choose plies in Rebuild first, and state what loads the panel: remedies change the repair.")
        self.none.setObjectName("soft")
        self.take = QPushButton("Begin as a scheme")
        self.take.setToolTip("Begin a scheme with the remedy of the row; the present one stays beside it")
        self.take.clicked.connect(lambda: self._take(self.table.current_key))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addWidget(self.none)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.take)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        table = zone_table(made, "remedies", self.session.system)
        self.none.setVisible(table is None)
        self.table.setVisible(table is not None)
        self.take.setVisible(table is not None)
        self.table.show_table(table or NOTHING, self.session.system)

    def _take(self, key: str) -> None:
        zone = self.session.zone
        if zone is None or key in ("", "now"):
            self.said.emit("Go to the row of a remedy first.")
            return
        made = self.session.plan.zone(zone.id)
        remedy = next(r for r in remedies_of(made, self.session.system) if r.key == key)
        self.session.apply(begin_scheme(zone, remedy.scheme, remedy.name))

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)


PAGE = RemediesPage
