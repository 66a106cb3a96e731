"""The draft of a repair: a press makes it, and every choice stands there with its reason."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from ribpatch.core.draft import draft_others, draft_repair
from ribpatch.core.draft_table import draft_table
from ribpatch.core.errors import Fault
from ribpatch.ui.pages.page import Page
from ribpatch.ui.widgets.elided import Elided
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.edits import Edit
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.core.zone_plan import ZonePlan


class DraftPage(Page):
    """The table of choices over the two presses."""

    title = "Draft"

    def build(self) -> None:
        self.table = TableView("the draft", first_whole=True)
        self.table.asked.connect(self.asked)
        self.draft, self.others = QPushButton("Draft the repair"), QPushButton("Draft alternatives")
        self.draft.setToolTip("A complete first scheme from readings and cause; work already begun stays beside it")
        self.others.setToolTip("The cheapest, lightest or quickest that is sound, where it differs; see Schemes")
        self.draft.clicked.connect(lambda: self._press(draft_repair))
        self.others.clicked.connect(lambda: self._press(draft_others))
        self.words = Elided()
        self.words.setObjectName("soft")
        row = QHBoxLayout()
        row.addWidget(self.draft)
        row.addWidget(self.others)
        row.addWidget(self.words, 1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addWidget(self.table, 1)
        layout.addLayout(row)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        self.table.show_table(draft_table(made, self.session.system), self.session.system)
        self.others.setEnabled(bool(zone.scheme.reasons))
        rest = [s.name for s in zone.others]
        self.words.setText(f"{zone.scheme.name}; beside it: {', '.join(rest)}" if rest else zone.scheme.name)

    def _press(self, make: Callable[[ZonePlan, System], Edit]) -> None:
        zone = self.session.zone
        if zone is None:
            return
        try:
            self.session.try_apply(make(self.session.plan.zone(zone.id), self.session.system))
        except Fault as fault:
            self.said.emit(fault.sentence)

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)


PAGE = DraftPage
