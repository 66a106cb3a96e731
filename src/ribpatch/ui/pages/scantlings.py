"""Scantlings: both rules side by side; what becomes too light if the boat changes, drawn on her."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import (
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ribpatch.core.drawing.thickening_view import thickening_view
from ribpatch.core.errors import Fault
from ribpatch.core.quantity import parse
from ribpatch.core.structure.scantlings import Change
from ribpatch.core.structure.tables import lighter, lighter_table
from ribpatch.core.table import NOTHING
from ribpatch.core.tables import zone_table
from ribpatch.core.units import Kind
from ribpatch.ui.pages.page import Page
from ribpatch.ui.scaling import sized
from ribpatch.ui.widgets.canvas import Canvas
from ribpatch.ui.widgets.entry import QuantityEdit
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.structure.scantlings import Lighter
    from ribpatch.core.zone_plan import ZonePlan

ASKED = (
    ("length", "length added", Kind.LENGTH),
    ("power", "power afterwards", Kind.POWER),
    ("displacement", "displacement added", Kind.LOAD),
)


BOAT_MARGINS = (12, 30, 12, 8)  # left, top, right, bottom of the boat, pixels


class ScantlingsPage(Page):
    """The boat as she is, or if she changes, on the left; what changes, and where she becomes thicker, on the right."""

    title = "Scantlings"

    def build(self) -> None:
        self.table = TableView("scantlings", first_whole=True)
        self.lighter = TableView("what becomes too light", first_whole=True)
        self.shown = QStackedWidget()
        for table in (self.table, self.lighter):
            table.asked.connect(self.asked)
        self._rows: tuple[Lighter, ...] = ()
        self._change = {key: 0.0 for key, _, _ in ASKED}
        self.edits: dict[str, QuantityEdit] = {}
        grid = QGridLayout()
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(2)
        for n, (key, name, kind) in enumerate(ASKED):
            edit = QuantityEdit()
            edit.setPlaceholderText("none")
            edit.setAccessibleName(name)
            edit.entered.connect(lambda text, k=key, q=kind: self._enter(k, q, text))
            self.edits[key] = edit
            grid.addWidget(QLabel(name), n, 0)
            grid.addWidget(edit, n, 1)
        self.plates = QCheckBox("chain plates outside")
        self.plates.clicked.connect(lambda: self._changed())
        self.note = QLabel("")
        self.note.setWordWrap(True)
        self.note.setObjectName("soft")
        self.note.hide()
        side = QWidget()
        sized(side, width=260)
        right = QVBoxLayout(side)
        right.setContentsMargins(4, 0, 0, 0)
        right.setSpacing(3)
        right.addWidget(QLabel("What if the boat changes"))
        right.addLayout(grid)
        right.addWidget(self.plates)
        right.addWidget(self.note)
        self.boat = Canvas("thickening on the boat")
        sized(self.boat, least_width=200, least_height=116)
        self.boat.margins = BOAT_MARGINS
        right.addWidget(self.boat, 1)
        self.lighter.grid.currentCellChanged.connect(lambda row, *_: self._draw(row))
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addLayout(self._left(), 1)
        layout.addWidget(side)

    def _left(self) -> QVBoxLayout:
        """Both tables under the buttons that choose between them."""
        row = QHBoxLayout()
        self.buttons: list[QPushButton] = []
        for n, (words, table) in enumerate((("As she is", self.table), ("If she changes", self.lighter))):
            button = QPushButton(words)
            button.setObjectName("plain")
            button.setCheckable(True)
            button.setAutoExclusive(True)
            button.clicked.connect(lambda _checked=False, k=n: self._turn(k))
            row.addWidget(button)
            self.buttons.append(button)
            self.shown.addWidget(table)
        row.addStretch(1)
        self._turn(0)
        column = QVBoxLayout()
        column.addLayout(row)
        column.addWidget(self.shown, 1)
        return column

    def _turn(self, to: int) -> None:
        self.shown.setCurrentIndex(to)
        self.buttons[to].setChecked(True)

    def _enter(self, key: str, kind: Kind, text: str) -> None:
        try:
            value = parse(text, kind, self.session.system).measure.si if text.strip() else 0.0
        except Fault as fault:
            self._tell(f"⚠ {fault.sentence}")
            return
        self._tell("")
        self._change[key] = value
        self._changed()

    def _tell(self, words: str) -> None:
        self.note.setText(words)
        self.note.setVisible(bool(words))

    def _changed(self) -> None:
        """What changes was stated: show what comes of it, or the boat as she is where nothing changes any more."""
        self._turn(int(any(self._change.values()) or self.plates.isChecked()))
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
        """The thickening of the row looked at on the boat, the first of them where none is."""
        self.boat.setVisible(bool(self._rows))
        if not self._rows:
            return
        chosen = self._rows[row if 0 <= row < len(self._rows) else 0]
        drawing = thickening_view(self.session.job.boat, chosen, self.session.system)
        self.boat.heading, self.boat.aside = drawing.title, ""
        self.boat.show_drawing(drawing)
        self.boat.refresh()

    def set_theme(self, theme: str) -> None:
        for part in (self.table, self.lighter, self.boat):
            part.set_theme(theme)


PAGE = ScantlingsPage
