"""Scantlings: both rules side by side, and what becomes too light if the boat changes."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ribpatch.core.errors import Fault
from ribpatch.core.quantity import parse
from ribpatch.core.structure.scantlings import Change
from ribpatch.core.structure.tables import lighter, lighter_table, thickening_chart
from ribpatch.core.table import NOTHING
from ribpatch.core.tables import zone_table
from ribpatch.core.units import Kind
from ribpatch.ui.pages.page import Page
from ribpatch.ui.widgets.chart_view import ChartView
from ribpatch.ui.widgets.entry import QuantityEdit
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan, ZonePlan
    from ribpatch.core.structure.scantlings import Lighter

ASKED = (
    ("length", "length added", Kind.LENGTH),
    ("power", "power afterwards", Kind.POWER),
    ("displacement", "displacement added", Kind.LOAD),
)


class ScantlingsPage(Page):
    """Table on the left; what if, on the right."""

    title = "Scantlings"

    def build(self) -> None:
        self.table, self.lighter = TableView("scantlings", first_whole=True), TableView("what becomes too light")
        for table in (self.table, self.lighter):
            table.asked.connect(self.asked)
        self._rows: tuple[Lighter, ...] = ()
        self._change = {key: 0.0 for key, _, _ in ASKED}
        self.edits: dict[str, QuantityEdit] = {}
        grid = QGridLayout()
        grid.setContentsMargins(0, 0, 0, 0)
        for n, (key, name, kind) in enumerate(ASKED):
            edit = QuantityEdit()
            edit.setPlaceholderText("none")
            edit.setAccessibleName(name)
            edit.entered.connect(lambda text, k=key, q=kind: self._enter(k, q, text))
            self.edits[key] = edit
            grid.addWidget(QLabel(name), n, 0)
            grid.addWidget(edit, n, 1)
        self.plates = QCheckBox("chain plates outside")
        self.plates.clicked.connect(lambda: self._again())
        self.note = QLabel("")
        self.note.setWordWrap(True)
        self.note.setObjectName("soft")
        side = QWidget()
        side.setFixedWidth(290)
        right = QVBoxLayout(side)
        right.setContentsMargins(4, 0, 0, 0)
        right.addWidget(QLabel("What if the boat changes"))
        right.addLayout(grid)
        right.addWidget(self.plates)
        right.addWidget(self.note)
        right.addWidget(self.lighter, 1)
        self.section = ChartView("local thickening")
        self.section.setMinimumHeight(120)
        right.addWidget(self.section)
        self.lighter.grid.currentCellChanged.connect(lambda row, *_: self._draw(row))
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addWidget(self.table, 1)
        layout.addWidget(side)

    def _enter(self, key: str, kind: Kind, text: str) -> None:
        try:
            value = parse(text, kind, self.session.system).measure.si if text.strip() else 0.0
        except Fault as fault:
            self.note.setText(f"⚠ {fault.sentence}")
            return
        self.note.setText("")
        self._change[key] = value
        self._again()

    def _again(self) -> None:
        zone, plan = self.session.zone, self.session.plan
        if zone is not None:
            self.show_zone(zone, plan.zone(zone.id), plan)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        system = self.session.system
        self.table.show_table(zone_table(made, "scantlings", system) or NOTHING, system)
        change = Change(**self._change, chain_plates=self.plates.isChecked())
        self.lighter.show_table(lighter_table(made.strength, change, system), system)

        self._rows = lighter(made.strength, change)
        self._draw(self.lighter.grid.currentRow())

    def _draw(self, row: int) -> None:
        """The thickening of the row looked at, the first of them where none is."""
        self.section.setVisible(bool(self._rows))
        if not self._rows:
            return
        chosen = self._rows[row if 0 <= row < len(self._rows) else 0]
        self.section.show_chart(thickening_chart(chosen, self.session.system))

    def set_theme(self, theme: str) -> None:
        for part in (self.table, self.lighter, self.section):
            part.set_theme(theme)


PAGE = ScantlingsPage
