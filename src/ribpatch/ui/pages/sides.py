"""Which side to open from: marks by criterion, the user's own over the usual ones, and the weighted score."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QGridLayout, QLabel, QPushButton, QSpinBox, QVBoxLayout, QWidget

from ribpatch.core.edits import set_value
from ribpatch.core.numerals import fixed, general
from ribpatch.core.scheme import ACCESS_SIDES, AccessSide
from ribpatch.core.scheme_edits import set_mark
from ribpatch.ui.pages.page import Page
from ribpatch.ui.scaling import px
from ribpatch.ui.widgets.combo import Count
from ribpatch.ui.widgets.emptying import clear_layout

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.patch.access.scores import SideMarked
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan

LEAST_NAME = 110  # pixels of the column of criteria
USUAL = -1  # of a spin box: the usual mark holds


class SidesPage(Page):
    """A grid of marks; one button a side to choose it."""

    title = "Sides"

    def build(self) -> None:
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(14)
        self._grid.setVerticalSpacing(3)
        self.boxes: dict[tuple[str, AccessSide], QSpinBox] = {}
        self.choose: dict[AccessSide, QPushButton] = {}
        self._shown: object = None
        note = QLabel(
            "0 bad to 5 good. Type your own mark over a usual one; step below 0 to go back to it. The score weighs the "
            "marks."
        )
        note.setObjectName("soft")
        note.setWordWrap(True)
        holder = QWidget()
        holder.setLayout(self._grid)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 2, 8, 0)
        layout.addWidget(holder)
        layout.addWidget(note)
        layout.addStretch(1)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        scores = {s.side: s for s in made.side_scores}
        key = (zone.id, zone.scheme.access.side, tuple((s.side, s.score, s.marks) for s in scores.values()))
        if key == self._shown:
            return
        self._shown = key
        clear_layout(self._grid)
        self.boxes, self.choose = {}, {}
        best = max(scores.values(), key=lambda s: s.score).side
        for column, side in enumerate(ACCESS_SIDES, 1):
            label = QLabel(f"from {side}")
            label.setObjectName("heading")
            self._grid.addWidget(label, 0, column)
        for row, criterion in enumerate(plan.shelf.sides, 1):
            name = QLabel(f"{criterion.name} (weight {general(criterion.weight)})")
            name.setToolTip(criterion.reason)
            name.setWordWrap(True)
            self._grid.addWidget(name, row, 0)
            for column, side in enumerate(ACCESS_SIDES, 1):
                mark = next(m for m in scores[side].marks if m.criterion is criterion)
                self._grid.addWidget(self._box(zone.id, side, mark), row, column)
        last = len(plan.shelf.sides) + 1
        self._grid.addWidget(QLabel("score, of 5"), last, 0)
        for column, side in enumerate(ACCESS_SIDES, 1):
            words = fixed(scores[side].score, 1) + ("  best" if side == best else "")
            chosen = side == zone.scheme.access.side
            button = QPushButton(f"{words}: chosen" if chosen else f"{words}: open here")
            button.setAccessibleName(f"open from {side}, score {words}{', chosen' if chosen else ''}")
            button.setCheckable(True)
            button.setChecked(chosen)
            button.clicked.connect(partial(self._choose, zone.id, side))
            self.choose[side] = button
            self._grid.addWidget(button, last, column)
        self._grid.setColumnStretch(0, 1)
        self._grid.setColumnMinimumWidth(0, px(LEAST_NAME))

    def _choose(self, zone: str, side: AccessSide, _checked: bool = False) -> None:
        self._shown = None
        self.session.apply(set_value(("zones", zone, "scheme", "access", "side"), side))

    def _box(self, zone: str, side: AccessSide, mark: SideMarked) -> QSpinBox:
        box = Count()
        box.setRange(USUAL, 5)
        box.setSpecialValueText(f"{fixed(mark.mark, 1)} usual")
        box.setValue(round(mark.mark) if mark.own else USUAL)
        box.setSuffix(" yours")
        box.setToolTip(mark.why)
        box.setKeyboardTracking(False)
        box.setAccessibleName(f"{mark.criterion.name}, from {side}")
        box.valueChanged.connect(partial(self._marked, zone, side, mark.criterion.id))
        self.boxes[mark.criterion.id, side] = box
        return box

    def _marked(self, zone: str, side: AccessSide, criterion: str, value: int) -> None:
        self.session.apply(set_mark(zone, side, criterion, value if value >= 0 else None))


PAGE = SidesPage
