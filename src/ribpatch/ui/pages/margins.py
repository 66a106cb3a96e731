"""Margins: every check with its limit, and the reverse question: what must be added to bring one to 1.0."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.numerals import in_words
from ribpatch.core.proof_edits import begin_scheme
from ribpatch.core.remedies import Answer, ask_back
from ribpatch.core.table import NOTHING
from ribpatch.core.tables import zone_table
from ribpatch.ui.pages.page import Page
from ribpatch.ui.scaling import sized
from ribpatch.ui.widgets.emptying import clear_layout
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.table import Row
    from ribpatch.core.zone_plan import ZonePlan


class MarginsPage(Page):
    """The table; once asked, what would bring its row to 1.0, each put into a scheme by one press."""

    title = "Margins"

    def build(self) -> None:
        self._asked: tuple[object, str] | None = None
        self.answers: tuple[Answer, ...] = ()
        self.table = TableView("margins", first_whole=True)
        self.table.asked.connect(self.asked)
        self.table.taken.connect(self.ask)
        self.question = QLabel("")
        self.question.setWordWrap(True)
        self.back = QPushButton("What must I add?")
        self.back.setToolTip(
            in_words("For the row: how much of each remedy brings it to 1.0 (Enter or double-click on the row)")
        )
        self.back.clicked.connect(lambda: self.ask(self.table.current_key))
        self._ways = QVBoxLayout()
        self._ways.setSpacing(3)
        self._side = QWidget()
        sized(self._side, width=272)
        self._side.hide()
        right = QVBoxLayout(self._side)
        right.setContentsMargins(4, 0, 0, 0)
        right.addWidget(self.question)
        right.addLayout(self._ways)
        right.addStretch(1)
        left = QVBoxLayout()
        left.addWidget(self.table, 1)
        left.addWidget(self.back)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addLayout(left, 1)
        layout.addWidget(self._side)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        table = zone_table(made, "margins", self.session.system)
        self.table.show_table(table or NOTHING, self.session.system)
        self.back.setEnabled(table is not None and bool(table.rows))
        if self._asked is not None and self._asked[0] is not zone:
            self._asked = None
            self._side.hide()

    def ask(self, check: str) -> None:
        """Ask what must be added to bring a check to 1.0; it takes up to a few seconds and is told beforehand."""
        zone, plan = self.session.zone, self.session.plan
        if zone is None:
            return
        if not check:
            self.said.emit("Go to the row of the check first.")
            return
        made, system = plan.zone(zone.id), self.session.system
        name = next((str(r.cells[0]) for r in self._rows(made) if r.key == check), check)
        self.question.setText(f"{name.capitalize()}: working it out …")
        self.back.setEnabled(False)
        self._side.show()
        clear_layout(self._ways)

        def done(answers: tuple[Answer, ...] | None, error: Exception | None) -> None:
            self.back.setEnabled(True)
            if error is not None:
                raise error
            if answers is not None and self.session.zone is zone:
                self._show_answers(zone, name, answers)

        self.tasks.run("asking back", lambda: ask_back(made, check, system), done)

    def _rows(self, made: ZonePlan) -> tuple[Row, ...]:
        table = zone_table(made, "margins", self.session.system)
        return table.rows if table is not None else ()

    def _show_answers(self, zone: Zone, name: str, answers: tuple[Answer, ...]) -> None:
        self._asked, self.answers = (zone, name), answers
        none = "Nothing can be added here: choose plies in Rebuild first."
        self.question.setText(f"{name.capitalize()} to 1.0 (margin reached):" if answers else none)
        for answer in answers:
            if answer.scheme is None:
                label = QLabel(answer.words)
                label.setWordWrap(True)
                label.setObjectName("soft")
                self._ways.addWidget(label)
                continue
            button = QPushButton(answer.words)
            button.setObjectName("plain")
            button.setToolTip("Begin a scheme with it; the present one stays beside it")
            button.clicked.connect(lambda checked=False, a=answer: self._begin(a))
            self._ways.addWidget(button)

    def _begin(self, answer: Answer) -> None:
        zone = self.session.zone
        if zone is not None and answer.scheme is not None:
            self.session.apply(begin_scheme(zone, answer.scheme, answer.words.partition(" (")[0]))

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)


PAGE = MarginsPage
