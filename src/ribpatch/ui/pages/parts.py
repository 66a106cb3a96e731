"""Made parts: a table, and the facts and steps of the part looked at."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ribpatch.core.scheme_edits import add_part, remove_part, set_part_plies
from ribpatch.core.table import NOTHING
from ribpatch.core.tables import zone_table
from ribpatch.ui.pages.page import Page
from ribpatch.ui.widgets.combo import Combo
from ribpatch.ui.widgets.entry import Choice, Field
from ribpatch.ui.widgets.stack_editor import StackEditor
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.edits import Edit
    from ribpatch.core.fields import Path
    from ribpatch.core.job import Zone
    from ribpatch.core.patch.made_parts import PartMade
    from ribpatch.core.plan import Plan
    from ribpatch.core.scheme import Stack
    from ribpatch.core.zone_plan import ZonePlan

KINDS = ("angle", "knee", "backing plate", "end cap")
SIDE = 385  # pixels: a row of the stack fits beside its scroll bar


class PartsPage(Page):
    """Table and steps on the left, facts on the right."""

    title = "Parts"

    def build(self) -> None:
        self._here = ""
        self._parts: tuple[PartMade, ...] = ()
        self.table = TableView("made parts")
        self.table.asked.connect(self.asked)
        self.table.grid.currentCellChanged.connect(lambda row, *_: self._look(row))
        self.kind = Combo()
        self.kind.addItems(KINDS)
        self.kind.setAccessibleName("kind of part to add")
        self.add, self.drop = QPushButton("Add"), QPushButton("Delete")
        self.add.clicked.connect(lambda: self._add())
        self.drop.clicked.connect(lambda: self._drop())
        row = QHBoxLayout()
        for widget in (self.kind, self.add, self.drop):
            row.addWidget(widget)
        row.addStretch(1)
        self.steps = QLabel("")
        self.steps.setWordWrap(True)
        self.steps.setObjectName("soft")
        left = QVBoxLayout()
        left.addWidget(self.table, 1)
        left.addLayout(row)
        left.addWidget(self.steps)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addLayout(left, 1)
        layout.addWidget(self._facts())

    def _facts(self) -> QWidget:
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(4, 0, 4, 0)
        column.setSpacing(3)
        self.fields = [
            Field(self.session, self._path(name)) for name in ("name", "length", "width", "depth", "radius", "count")
        ]
        self.choices = [
            Choice(self.session, self._path("former"), (("plug", "plug"), ("flat bench", "flat bench")), "Laid on"),
            Choice(
                self.session, self._path("fixing"), (("putty", "putty"), ("adhesive", "adhesive")), "Bonded in with"
            ),
        ]
        self.stack = StackEditor(self.session, self._set_plies)
        for widget in (*self.fields, *self.choices, self.stack):
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
            there = zone is not None and any(p.id == self._here for p in zone.scheme.parts)
            return ("zones", zone.id, "scheme", "parts", self._here, name) if zone is not None and there else None

        return path

    def _set_plies(self, zone: str, lines: Stack, name: str) -> Edit:
        return set_part_plies(zone, self._here, lines, name)

    def _add(self) -> None:
        zone = self.session.zone
        if zone is not None and self.session.apply(add_part(zone, self.kind.currentText())):
            after = self.session.zone
            self._here = after.scheme.parts[-1].id if after is not None else ""
            self._again()

    def _drop(self) -> None:
        zone = self.session.zone
        if zone is not None and self._here:
            self.session.apply(remove_part(zone.id, self._here))

    def _look(self, row: int) -> None:
        if 0 <= row < len(self._parts) and self._parts[row].part.id != self._here:
            self._here = self._parts[row].part.id
            self._again()

    def _again(self) -> None:
        zone, plan = self.session.zone, self.session.plan
        if zone is not None:
            self.show_zone(zone, plan.zone(zone.id), plan)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        self._parts = made.parts
        ids = [p.part.id for p in made.parts]
        if self._here not in ids:
            self._here = ids[0] if ids else ""
        blocked = self.table.grid.blockSignals(True)
        self.table.show_table(zone_table(made, "parts", self.session.system) or NOTHING, self.session.system)
        if self._here:
            self.table.grid.setCurrentCell(ids.index(self._here), 0)
        self.table.grid.blockSignals(blocked)
        self._side.setVisible(bool(self._here))
        self.drop.setEnabled(bool(self._here))
        here = next((p for p in made.parts if p.part.id == self._here), None)
        self.steps.setText("  ".join(f"{n}. {s}" for n, s in enumerate(here.steps, 1)) if here else "")
        bound: tuple[Field | Choice, ...] = (*self.fields, *self.choices)
        for widget in bound:
            widget.show_job()
        self.stack.show_stack(here.part.plies if here else (), plan.shelf)

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)


PAGE = PartsPage
