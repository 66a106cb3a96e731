"""The laminate bench: the new laminate against the old, its strength, and A, B and D in words and numbers."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QLabel, QPushButton, QVBoxLayout

from ribpatch.core.table import NOTHING
from ribpatch.core.tables import laminate_chart, zone_table
from ribpatch.ui.pages.page import Page
from ribpatch.ui.widgets.chart_view import ChartView
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan

VIEWS = ("against the old", "strength", "A, B, D")


class LaminatePage(Page):
    """Table on the left, bars on the right."""

    title = "Laminate"

    def build(self) -> None:
        self.table, self.chart = TableView("laminate"), ChartView("new laminate over old")
        self.table.asked.connect(self.asked)
        self.none = QLabel("No plies yet: add some among the choices, type them there, or take a suggestion.")
        self.none.setObjectName("soft")
        self._views = QButtonGroup(self)
        self._look = VIEWS[0]
        row = QHBoxLayout()
        for index, name in enumerate(VIEWS):
            button = QPushButton(name)
            button.setObjectName("plain")
            button.setCheckable(True)
            button.setChecked(index == 0)
            self._views.addButton(button, index)
            row.addWidget(button)
        row.addStretch(1)
        self._views.idClicked.connect(self._looked)
        left = QVBoxLayout()
        left.addLayout(row)
        left.addWidget(self.none)
        left.addWidget(self.table, 1)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addLayout(left, 3)
        layout.addWidget(self.chart, 2)

    def _looked(self, index: int) -> None:
        self._look = VIEWS[index]
        zone, plan = self.session.zone, self.session.plan
        if zone is not None:
            self.show_zone(zone, plan.zone(zone.id), plan)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        comparison = made.comparison
        self.none.setVisible(comparison is None)
        self.table.setVisible(comparison is not None)
        self.chart.setVisible(comparison is not None)
        if comparison is None:
            return
        name = ("match", "strength", "stiffness")[VIEWS.index(self._look)]
        self.table.show_table(zone_table(made, name, self.session.system) or NOTHING, self.session.system)
        chart = laminate_chart(made)
        if chart is not None:
            self.chart.show_chart(chart)

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)
        self.chart.set_theme(theme)


PAGE = LaminatePage
