"""A page of things of a kind: a table to pick one from and to add to, and the facts and plies of the one picked."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ribpatch.core.table import NOTHING
from ribpatch.core.tables import zone_table
from ribpatch.ui.pages.page import Page
from ribpatch.ui.scaling import sized
from ribpatch.ui.widgets.combo import Combo
from ribpatch.ui.widgets.entry import Choice, Field
from ribpatch.ui.widgets.stack_editor import StackEditor
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from collections.abc import Callable
    from typing import ClassVar

    from ribpatch.core.edits import Edit
    from ribpatch.core.fields import Path
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.scheme import MadePart, Pad, Stack
    from ribpatch.core.zone_plan import ZonePlan

SIDE = 385  # pixels: a row of the stack fits beside its scroll bar


class PickPage(Page):
    """Table on the left, facts of the one picked on the right; a page says what its things are.

    ``kind`` is their table and their place in a scheme.
    """

    kind: ClassVar[str] = ""
    table_name: ClassVar[str] = ""
    where: ClassVar[str] = ""
    facts: ClassVar[tuple[str, ...]] = ()
    choices: ClassVar[tuple[tuple[str, tuple[str, ...], str], ...]] = ()  # name, values, label

    def added(self, zone: Zone) -> Edit:
        """The edit that adds one, as the box beside the button says."""
        raise NotImplementedError

    def removed(self, zone: str, here: str) -> Edit:
        """The edit that takes one away."""
        raise NotImplementedError

    def plied(self, zone: str, here: str, lines: Stack, name: str) -> Edit:
        """The edit that gives one its plies."""
        raise NotImplementedError

    def build(self) -> None:
        self._here = ""
        self._ids: list[str] = []
        self.table = TableView(self.table_name)
        self.table.asked.connect(self.asked)
        self.table.grid.currentCellChanged.connect(lambda row, *_: self._look(row))
        self.what = Combo()
        self.what.setAccessibleName(self.where)
        self.add, self.drop = QPushButton("Add"), QPushButton("Delete")
        self.add.setAccessibleName(f"add: {self.where}")
        self.drop.setAccessibleName(f"delete the one chosen of {self.table_name}")
        self.add.clicked.connect(lambda: self._add())
        self.drop.clicked.connect(lambda: self._drop())
        row = QHBoxLayout()
        row.addWidget(self.what, 1)
        row.addWidget(self.add)
        row.addWidget(self.drop)
        self.note = QLabel("")
        self.note.setWordWrap(True)
        self.note.setObjectName("soft")
        left = QVBoxLayout()
        left.addWidget(self.table, 1)
        left.addLayout(row)
        left.addWidget(self.note)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addLayout(left, 1)
        layout.addWidget(self._facts())

    def _facts(self) -> QWidget:
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(4, 0, 4, 0)
        column.setSpacing(3)
        fields = (Field(self.session, self._path(name)) for name in self.facts)
        chosen = (
            Choice(self.session, self._path(name), tuple((v, v) for v in values), label)
            for name, values, label in self.choices
        )
        self.bound: tuple[Field | Choice, ...] = (*fields, *chosen)
        self.stack = StackEditor(
            self.session, lambda zone, lines, name: self.plied(zone, self._here, lines, name), self.title.lower()
        )
        for widget in (*self.bound, self.stack):
            column.addWidget(widget)
        column.addStretch(1)
        self._side = QScrollArea()
        self._side.setWidgetResizable(True)
        self._side.setWidget(body)
        sized(self._side, width=SIDE)
        return self._side

    def _path(self, name: str) -> Callable[[], Path | None]:
        def path() -> Path | None:
            zone = self.session.zone
            there = zone is not None and any(t.id == self._here for t in self._things(zone))
            return ("zones", zone.id, "scheme", self.kind, self._here, name) if zone is not None and there else None

        return path

    def _things(self, zone: Zone) -> tuple[MadePart | Pad, ...]:
        things: tuple[MadePart | Pad, ...] = getattr(zone.scheme, self.kind)
        return things

    def _add(self) -> None:
        zone = self.session.zone
        if zone is not None and self.session.apply(self.added(zone)):
            after = self.session.zone
            self._here = self._things(after)[-1].id if after is not None else ""
            self._again()

    def _drop(self) -> None:
        zone = self.session.zone
        if zone is not None and self._here:
            self.session.apply(self.removed(zone.id, self._here))

    def _look(self, row: int) -> None:
        if 0 <= row < len(self._ids) and self._ids[row] != self._here:
            self._here = self._ids[row]
            self._again()

    def _again(self) -> None:
        zone, plan = self.session.zone, self.session.plan
        if zone is not None:
            self.show_zone(zone, plan.zone(zone.id), plan)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        things = self._things(zone)
        self._ids = [t.id for t in things]
        if self._here not in self._ids:
            self._here = self._ids[0] if self._ids else ""
        blocked = self.table.grid.blockSignals(True)
        self.table.show_table(zone_table(made, self.kind, self.session.system) or NOTHING, self.session.system)
        if self._here:
            self.table.grid.setCurrentCell(self._ids.index(self._here), 0)
        self.table.grid.blockSignals(blocked)
        self._side.setVisible(bool(self._here))
        self.drop.setEnabled(bool(self._here))
        for widget in self.bound:
            widget.show_job()
        words = self.words(made, self._here)
        self.note.setText(words)
        self.note.setVisible(bool(words))
        here = next((t for t in things if t.id == self._here), None)
        self.stack.show_stack(here.plies if here is not None else (), plan.shelf)

    def words(self, made: ZonePlan, here: str) -> str:
        """What is told of the one picked, under the table."""
        return ""

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)
