"""The schemes of this zone side by side."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from ribpatch.core.errors import Fault
from ribpatch.core.scheme_edits import add_scheme, choose_scheme, remove_scheme
from ribpatch.core.table import NOTHING
from ribpatch.core.tables import zone_table
from ribpatch.ui.pages.page import Page
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan


class SchemesPage(Page):
    """A table of schemes with what to do about them below."""

    title = "Schemes"

    def build(self) -> None:
        self.table = TableView("schemes", first_whole=True)
        self.table.asked.connect(self.asked)
        self.table.taken.connect(self._choose)
        self.new, self.choose, self.drop = (
            QPushButton("Begin another as a copy"),
            QPushButton("Choose"),
            QPushButton("Delete"),
        )
        self.new.setToolTip("A copy of the chosen scheme, to be changed; the old one stays in the table")
        self.choose.setToolTip("Work on with the scheme of the row (Enter or double-click)")
        self.drop.setToolTip("Drop the scheme of the row; undo brings it back")
        self.new.clicked.connect(lambda: self._new())
        self.choose.clicked.connect(lambda: self._choose(self.table.current_key))
        self.drop.clicked.connect(lambda: self._drop())
        row = QHBoxLayout()
        for button in (self.new, self.choose, self.drop):
            row.addWidget(button)
        row.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addWidget(self.table, 1)
        layout.addLayout(row)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        self.table.show_table(zone_table(made, "schemes", self.session.system) or NOTHING, self.session.system)
        self.drop.setEnabled(bool(zone.others))

    def _new(self) -> None:
        if self.session.zone is not None:
            self.session.apply(add_scheme(self.session.zone))

    def _choose(self, key: str) -> None:
        zone = self.session.zone
        if zone is not None and key and key != zone.scheme.id:
            self.session.apply(choose_scheme(zone, key))

    def _drop(self) -> None:
        zone, key = self.session.zone, self.table.current_key
        if zone is None or not key:
            self.said.emit("Go to the row of the scheme first.")
            return
        try:
            self.session.apply(remove_scheme(zone, key))
        except Fault as fault:
            self.said.emit(fault.sentence)

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)


PAGE = SchemesPage
