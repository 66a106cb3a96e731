"""Suggested schedules: tick the cloths to search, take one of the alternatives."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ribpatch.core.edits import set_plies
from ribpatch.core.laminate.search import Found, Stopped, search
from ribpatch.core.laminate.suggest import (
    MOST_FABRICS,
    Question,
    Wanted,
    proposed,
    question_of,
    stack_key,
    table_of,
    usable,
)
from ribpatch.core.scheme import fabrics_in
from ribpatch.ui.pages.page import Page
from ribpatch.ui.scaling import sized
from ribpatch.ui.tasks import Cancelled, Steps
from ribpatch.ui.widgets.combo import Count
from ribpatch.ui.widgets.emptying import clear_layout
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan


class SuggestPage(Page):
    """Cloths on the left, alternatives on the right."""

    title = "Suggest"

    def build(self) -> None:
        self._ticked: dict[str, set[str]] = {}
        self._found: dict[str, tuple[Question, tuple[Found, ...]]] = {}
        self._asked: dict[str, tuple[object, ...]] = {}
        self._offered: tuple[str, ...] = ()
        self.boxes: dict[str, QCheckBox] = {}
        self._cloths = QVBoxLayout()
        self._cloths.setSpacing(1)
        holder = QWidget()
        holder.setLayout(self._cloths)
        scroll = QScrollArea()
        scroll.setAccessibleName("cloths to search among")
        scroll.setObjectName("reads")
        scroll.setWidgetResizable(True)
        scroll.setWidget(holder)
        sized(scroll, width=210)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.plies, self.cloths = Count(), Count()
        for box, low, high, value, name in (
            (self.plies, 1, 12, 12, "most plies"),
            (self.cloths, 1, 3, 3, "most different cloths"),
        ):
            box.setRange(low, high)
            box.setValue(value)
            box.setAccessibleName(name)
        self.mirror = QCheckBox("alike above and below")
        self.go = QPushButton("Search")
        self.go.setToolTip("Try every stack of the ticked cloths; work goes on beside it and can be stopped below")
        self.go.clicked.connect(lambda: self.start())
        row = QHBoxLayout()
        for widget in (QLabel("plies up to"), self.plies, QLabel("of"), self.cloths, QLabel("cloths")):
            row.addWidget(widget)
        row.addStretch(1)
        left = QVBoxLayout()
        left.addWidget(scroll, 1)
        left.addLayout(row)
        left.addWidget(self.mirror)
        left.addWidget(self.go)
        self.table = TableView("suggested schedules", first_whole=True)
        self.table.asked.connect(self.asked)
        self.table.taken.connect(self._take)
        self.take = QPushButton("Take this stack")
        self.take.setToolTip("Use the stack of the row (Enter or double-click); undo brings the old one back")
        self.take.clicked.connect(lambda: self._take(self.table.current_key))
        right = QVBoxLayout()
        right.addWidget(self.table, 1)
        right.addWidget(self.take)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(4, 0, 4, 0)
        layout.addLayout(left)
        layout.addLayout(right, 1)

    def _fabrics(self, zone: Zone, plan: Plan) -> tuple[str, ...]:
        fit = usable(plan.shelf, zone.scheme.resin.main, zone.scheme.laying.overhead, zone.scheme.laying.process)
        first = proposed(fabrics_in(zone.scheme.laminate.plies), plan.job.own.fabrics, fit)
        self._ticked.setdefault(zone.id, set(first))
        return tuple(dict.fromkeys([*first, *(f.id for f in fit)]))

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        ids = self._fabrics(zone, plan)
        if ids != self._offered:
            self._offered = ids
            self._make_boxes(ids, plan)
        for identity, box in self.boxes.items():
            box.setChecked(identity in self._ticked[zone.id])
        question, found = self._found.get(zone.id, (None, ()))
        if question is not None and self._asked.get(zone.id) != self._basis(zone, made, plan):
            question = None  # found for another resin, skin or thickness: search again
        self.table.setVisible(question is not None)
        self.take.setVisible(question is not None)
        self.take.setEnabled(bool(found))
        if question is not None:
            now = stack_key(zone.scheme.laminate.plies)
            self.table.show_table(
                table_of(found, question.limits, plan.shelf, zone.id, now, self.session.system), self.session.system
            )

    def _basis(self, zone: Zone, made: ZonePlan, plan: Plan) -> tuple[object, ...]:
        """What an answer stands on, the cloths apart."""
        scheme = zone.scheme
        return (
            scheme.resin.main,
            scheme.laying.process,
            scheme.laminate.crown,
            made.aim,
            zone.rebuilt_skin,
            plan.job.boat.year,
            plan.job.own,
        )

    def _make_boxes(self, ids: tuple[str, ...], plan: Plan) -> None:
        clear_layout(self._cloths)
        self.boxes = {}
        for identity in ids:
            box = QCheckBox(plan.shelf.fabric(identity).name)
            box.clicked.connect(lambda checked, i=identity: self._tick(i, checked))
            self._cloths.addWidget(box)
            self.boxes[identity] = box
        self._cloths.addStretch(1)

    def _tick(self, identity: str, wanted: bool) -> None:
        zone = self.session.zone
        if zone is None:
            return
        ticked = self._ticked[zone.id]
        if wanted and len(ticked) >= MOST_FABRICS:
            self.said.emit(f"At most {MOST_FABRICS} cloths at once; take one out first.")
            self.boxes[identity].setChecked(False)
            return
        (ticked.add if wanted else ticked.discard)(identity)

    def start(self) -> None:
        """Search beside the window; an answer for another job or stack is dropped."""
        zone, plan = self.session.zone, self.session.plan
        if zone is None:
            return
        ids = tuple(i for i in self._offered if i in self._ticked[zone.id])
        aim = plan.zone(zone.id).aim
        wanted = Wanted(ids, self.plies.value(), self.cloths.value(), self.mirror.isChecked())
        question = question_of(zone, aim, plan.job.boat.year, plan.shelf, wanted)
        basis = self._basis(zone, plan.zone(zone.id), plan)
        self.go.setEnabled(False)

        def work(steps: Steps) -> tuple[Found, ...]:
            def on(share: float) -> bool:
                steps(share)
                return True

            return search(question.cloths, question.old, question.limits, go_on=on)

        def done(found: tuple[Found, ...] | None, error: Exception | None) -> None:
            self.go.setEnabled(True)
            if error is not None and not isinstance(error, (Cancelled, Stopped)):
                raise error
            if found is None or self.session.job.boat is not plan.job.boat:
                return
            self._found[zone.id] = (question, found)
            self._asked[zone.id] = basis
            here = self.session.zone
            if here is not None and here.id == zone.id:
                self.show_zone(here, self.session.plan.zone(here.id), self.session.plan)

        self.tasks.run_steps("Searching schedules", work, done, lambda: self.go.setEnabled(True))

    def _take(self, key: str) -> None:
        zone = self.session.zone
        if zone is None or not key or zone.id not in self._found:
            return
        found = self._found[zone.id][1][int(key)]
        self.session.apply(set_plies(zone.id, found.lines, "take a suggested stack"))

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)


PAGE = SuggestPage
