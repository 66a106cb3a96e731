"""Cores compared for this zone, and the work on the chosen one."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QVBoxLayout

from ribpatch.core.record import evolve_in
from ribpatch.core.scheme_edits import in_scheme
from ribpatch.core.table import NOTHING, Table
from ribpatch.core.tables import zone_table
from ribpatch.core.units import Measure
from ribpatch.ui.pages.page import Page
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.edits import Edit
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan


class CoresPage(Page):
    """The comparison over the work."""

    title = "Cores"

    def build(self) -> None:
        self.table, self.work = TableView("cores compared"), TableView("work on the core")
        self.table.taken.connect(self._use)
        for table in (self.table, self.work):
            table.asked.connect(self.asked)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addWidget(self.table, 3)
        layout.addWidget(self.work, 2)

    def _use(self, core: str) -> None:
        zone, plan = self.session.zone, self.session.plan
        if zone is None:
            return
        choice = next((c for c in plan.zone(zone.id).core_choices if c.core.id == core), None)
        if choice is None:
            return
        thickness = Measure(si=round(choice.thickness, 6))
        edit: Edit = in_scheme(
            f"use {choice.core.name}", zone.id, lambda s: evolve_in(s, "core", material=core, thickness=thickness)
        )
        self.session.apply(edit)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        system = self.session.system
        self.table.show_table(zone_table(made, "cores", system) or NOTHING, system)
        nothing = Table(("",), (), empty="No core is renewed here.")
        self.work.show_table(zone_table(made, "core work", system) or nothing, system)

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)
        self.work.set_theme(theme)


PAGE = CoresPage
