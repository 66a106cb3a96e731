"""Fair and finish: spots read off a batten, what they take to fill, and the coats over it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout

from ribpatch.core import edits
from ribpatch.core.errors import Fault
from ribpatch.core.finish_edits import HOW, add_spots, clear_spots
from ribpatch.core.numerals import in_words
from ribpatch.core.table import NOTHING
from ribpatch.core.tables import zone_table
from ribpatch.core.text import counted
from ribpatch.ui.pages.page import Page
from ribpatch.ui.typed import refuse
from ribpatch.ui.widgets.entry import Choice, Field, Pick
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.fields import Path
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan

WAYS = (("afterwards", "afterwards"), ("on the wet laminate", "wet"), ("after peel ply", "peel ply"))


class FinishPage(Page):
    """A line to type spots in, the way of fairing, the finish, and the table of what it takes."""

    title = "Fair and finish"

    def build(self) -> None:
        self.line = QLineEdit()
        self.line.setAccessibleName("spots")
        self.line.setPlaceholderText(in_words("100 200 to 900 200: 0 -1 -2.5 0"))
        self.line.setToolTip(f"{HOW}. High is more than 0, low less.")
        self.line.returnPressed.connect(lambda: self._add())
        self.add, self.clear = QPushButton("Add spots"), QPushButton("Clear")
        self.add.clicked.connect(lambda: self._add())
        self.clear.setToolTip("Forget all spots of this zone; undo brings them back")
        self.clear.clicked.connect(lambda: self._clear())
        self.count = QLabel("")
        self.count.setObjectName("soft")
        self.way = Choice(self.session, self._path("way"), WAYS, "Faired")
        self.pinholes = Field(self.session, self._path("pinholes"))
        self.finish = Pick(self.session, "Finish", lambda f: edits.set_value(self._set("system"), f or None))
        self.table = TableView("fair and finish")
        self.table.asked.connect(self.asked)
        top, middle = QHBoxLayout(), QHBoxLayout()
        for widget, stretch in ((self.line, 1), (self.add, 0), (self.clear, 0), (self.count, 0)):
            top.addWidget(widget, stretch)
        middle.addWidget(self.finish, 3)
        middle.addWidget(self.pinholes, 2)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.setSpacing(3)
        layout.addLayout(top)
        layout.addWidget(self.way)
        layout.addLayout(middle)
        layout.addWidget(self.table, 1)

    def _path(self, name: str) -> Callable[[], Path | None]:
        return lambda: None if self.session.zone is None else self._set(name)

    def _set(self, name: str) -> Path:
        return ("zones", self.session.zone_id, "finish", name)

    def _add(self) -> None:
        zone = self.session.zone
        if zone is None or not self.line.text().strip():
            return
        try:
            self.session.try_apply(add_spots(zone, self.line.text(), self.session.system))
        except Fault as fault:
            refuse(self.line, fault.sentence)
            self.said.emit(fault.sentence)
            return
        self.line.clear()

    def _clear(self) -> None:
        zone = self.session.zone
        if zone is not None and zone.finish.spots:
            self.session.apply(clear_spots(zone.id))

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        spots = zone.finish.spots
        self.count.setText(counted(len(spots), "spot", "spots") if spots else "")
        self.clear.setEnabled(bool(spots))
        self.way.show_job()
        self.pinholes.show_job()
        finishes = tuple((f.id, f.name) for f in plan.shelf.finishes)
        self.finish.show_items((("", "none yet"), *finishes), zone.finish.system or "")
        self.table.show_table(zone_table(made, "finish", self.session.system) or NOTHING, self.session.system)

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)


PAGE = FinishPage
