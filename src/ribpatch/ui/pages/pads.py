"""Local plies: extra plies over areas of their own, under fittings or where they are put."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ribpatch.core.pad_edits import add_pad, remove_pad, set_pad_plies
from ribpatch.core.table import NOTHING
from ribpatch.core.tables import zone_table
from ribpatch.ui.pages.page import Page
from ribpatch.ui.widgets.combo import Combo, show_items
from ribpatch.ui.widgets.entry import Field
from ribpatch.ui.widgets.stack_editor import StackEditor
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.edits import Edit
    from ribpatch.core.fields import Path
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.scheme import Stack
    from ribpatch.core.zone_plan import ZonePlan

SIDE = 385  # pixels: a row of the stack fits beside its scroll bar


class PadsPage(Page):
    """Table on the left, place, size and plies of the one looked at on the right."""

    title = "Local plies"

    def build(self) -> None:
        self._here = ""
        self._ids: list[str] = []
        self.table = TableView("local plies")
        self.table.asked.connect(self.asked)
        self.table.grid.currentCellChanged.connect(lambda row, *_: self._look(row))
        self.under = Combo()
        self.under.setAccessibleName("where to add")
        self.add, self.drop = QPushButton("Add"), QPushButton("Delete")
        self.add.clicked.connect(lambda: self._add())
        self.drop.clicked.connect(lambda: self._drop())
        row = QHBoxLayout()
        row.addWidget(self.under, 1)
        row.addWidget(self.add)
        row.addWidget(self.drop)
        left = QVBoxLayout()
        left.addWidget(self.table, 1)
        left.addLayout(row)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addLayout(left, 1)
        layout.addWidget(self._facts())

    def _facts(self) -> QWidget:
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(4, 0, 4, 0)
        column.setSpacing(3)
        names = ("name", "x", "y", "width", "height", "step")
        self.fields = [Field(self.session, self._path(name)) for name in names]
        self.stack = StackEditor(self.session, self._set_plies)
        for widget in (*self.fields, self.stack):
            column.addWidget(widget)
        column.addStretch(1)
        self._side = QScrollArea()
        self._side.setWidgetResizable(True)
        self._side.setWidget(body)
        self._side.setFixedWidth(SIDE)
        return self._side

    def _path(self, name: str) -> Callable[[], Path | None]:
        def path() -> Path | None:
            zone = self.session.zone
            there = zone is not None and any(p.id == self._here for p in zone.scheme.pads)
            return ("zones", zone.id, "scheme", "pads", self._here, name) if zone is not None and there else None

        return path

    def _set_plies(self, zone: str, lines: Stack, name: str) -> Edit:
        return set_pad_plies(zone, self._here, lines, name)

    def _add(self) -> None:
        zone = self.session.zone
        if zone is None:
            return
        wanted = self.under.currentData()
        fitting = next((f for f in zone.fittings if f.id == wanted), None)
        if self.session.apply(add_pad(zone, fitting)):
            after = self.session.zone
            self._here = after.scheme.pads[-1].id if after is not None else ""
            self._again()

    def _drop(self) -> None:
        zone = self.session.zone
        if zone is not None and self._here:
            self.session.apply(remove_pad(zone.id, self._here))

    def _look(self, row: int) -> None:
        if 0 <= row < len(self._ids) and self._ids[row] != self._here:
            self._here = self._ids[row]
            self._again()

    def _again(self) -> None:
        zone, plan = self.session.zone, self.session.plan
        if zone is not None:
            self.show_zone(zone, plan.zone(zone.id), plan)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        pads = zone.scheme.pads
        self._ids = [p.id for p in pads]
        if self._here not in self._ids:
            self._here = self._ids[0] if self._ids else ""
        show_items(self.under, (("", "in the middle"), *((f.id, f"under {f.name}") for f in zone.fittings)))
        blocked = self.table.grid.blockSignals(True)
        self.table.show_table(zone_table(made, "pads", self.session.system) or NOTHING, self.session.system)
        if self._here:
            self.table.grid.setCurrentCell(self._ids.index(self._here), 0)
        self.table.grid.blockSignals(blocked)
        self._side.setVisible(bool(self._here))
        self.drop.setEnabled(bool(self._here))
        for field in self.fields:
            field.show_job()
        here = next((p for p in pads if p.id == self._here), None)
        self.stack.show_stack(here.plies if here is not None else (), plan.shelf)

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)


PAGE = PadsPage
