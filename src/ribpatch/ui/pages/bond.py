"""Taper and bond: how much of the bond each ratio uses, what each costs, and where the chosen one does not fit."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout

from ribpatch.core.edits import set_value
from ribpatch.core.scheme import FACINGS
from ribpatch.core.scheme_edits import set_stretch
from ribpatch.core.table import NOTHING
from ribpatch.core.tables import bond_curve, zone_table
from ribpatch.core.units import Measure
from ribpatch.ui.pages.page import Page
from ribpatch.ui.widgets.chart_view import ChartView
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan


class BondPage(Page):
    """Curve on the left; schools over tight places on the right."""

    title = "Taper and bond"

    def build(self) -> None:
        self.chart = ChartView("bond used against taper ratio")
        self.schools, self.tight = (
            TableView("taper ratios", first_whole=True),
            TableView("where the taper does not fit"),
        )
        self.none = QLabel("Choose plies in Rebuild first: the bond follows from old and new laminate.")
        self.none.setObjectName("soft")
        for table in (self.schools, self.tight):
            table.asked.connect(self.asked)
        self.schools.taken.connect(self._use)
        self.tight.taken.connect(self._use_there)
        right = QVBoxLayout()
        right.addWidget(self.none)
        right.addWidget(self.schools, 1)
        right.addWidget(self.tight, 1)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addWidget(self.chart, 3)
        layout.addLayout(right, 5)

    def _use(self, key: str) -> None:
        zone = self.session.zone
        if zone is not None:
            ratio = Measure(si=float(key), typed=f"{key}:1")
            self.session.apply(set_value(("zones", zone.id, "scheme", "taper", "ratio"), ratio))

    def _use_there(self, key: str) -> None:
        zone = self.session.zone
        facing, ratio = key.split(":")
        if zone is None:
            return
        if float(ratio) < 1:
            self.said.emit("No taper fits there at all: move the cut line or the fitting.")
            return
        which = next(f for f in FACINGS if f == facing)
        self.session.apply(set_stretch(zone.id, which, Measure(si=float(ratio))))

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        system, curve, ratios = self.session.system, bond_curve(made), zone_table(made, "ratios", self.session.system)
        self.chart.setVisible(curve is not None)
        self.schools.setVisible(ratios is not None)
        self.none.setVisible(curve is None)
        if curve is not None and ratios is not None:
            self.chart.show_chart(curve)
            self.schools.show_table(ratios, system)
        self.tight.show_table(zone_table(made, "tight", system) or NOTHING, system)

    def set_theme(self, theme: str) -> None:
        for part in (self.chart, self.schools, self.tight):
            part.set_theme(theme)


PAGE = BondPage
