"""The bench beside the choices, and which of plan, page and choices is shown where there is no room for all of them."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtWidgets import QApplication, QHBoxLayout, QSplitter, QVBoxLayout, QWidget

from ribpatch.stages import stage_of
from ribpatch.ui.frame.parts import CHOICES, PAGE, PLAN
from ribpatch.ui.scaling import factor, px
from ribpatch.ui.showing import LEAST_COLUMN
from ribpatch.ui.widgets.by_eye import parts_by_eye

if TYPE_CHECKING:
    from ribpatch.ui.bench.zone_bench import ZoneBench
    from ribpatch.ui.frame.ladder import Ladder
    from ribpatch.ui.frame.turn_bar import TurnBar
    from ribpatch.ui.session import Session
    from ribpatch.ui.settings import Settings
    from ribpatch.ui.showing import Showing
    from ribpatch.ui.widgets.messages import MessageBar

MOST_SHARE = 0.42  # of the window's width that the decisions may need beside the plan
LEAST_HIGH = 575  # pixels of height under which plan and page have no room one over the other
ALL = 16_777_215  # pixels: no limit


class Parts:
    """Shares the room of ``page``. What it lays out, ``row``, begins with the ladder."""

    def __init__(self, page: QWidget, session: Session, settings: Settings, message: MessageBar) -> None:
        self._page, self._session, self._settings, self._message = page, session, settings, message
        self.beside = QSplitter(Qt.Orientation.Horizontal, page)
        self.centre = QWidget(self.beside)
        self.row = QHBoxLayout()
        self._over_bench, self._over_all = QVBoxLayout(self.centre), QVBoxLayout()  # where messages are told

    def lay_out(self, ladder: Ladder, bench: ZoneBench, showing: Showing) -> None:
        """Put the parts in their places: made where they stay, what is moved would be styled anew."""
        self._bench, self._showing = bench, showing
        self._over_bench.setContentsMargins(0, 0, 0, 0)
        self._over_bench.setSpacing(4)
        self._over_bench.addWidget(self._message)
        self._over_bench.addWidget(showing.centre, 1)
        beside = self.beside
        beside.setChildrenCollapsible(False)
        beside.addWidget(self.centre)
        beside.addWidget(showing.decisions)
        parts_by_eye(beside)
        beside.handle(1).setAccessibleName("line between the bench and the choices")
        beside.setStretchFactor(0, 1)
        beside.setStretchFactor(1, 0)
        beside.splitterMoved.connect(lambda: self._keep_column())
        self._over_all.setSpacing(4)
        self._over_all.addWidget(beside, 1)
        self.row.setContentsMargins(0, 6, 0, 4)
        self.row.setSpacing(6)
        self.row.addWidget(ladder)
        self.row.addLayout(self._over_all, 1)
        self._listen(bench)
        showing.bench_made.connect(self._listen)
        bench.plan_wanted.connect(lambda: self.want(PLAN))
        showing.centre.currentChanged.connect(lambda _index: self._centre_turned())

    def _listen(self, bench: object) -> None:
        """Turn to the page of a bench where another of its pages was asked for."""
        below = getattr(bench, "below", None)
        if below is not None:
            below.page_wanted.connect(lambda: self.want(PAGE))

    @cached_property
    def bar(self) -> TurnBar:
        """Plan, page or choices; made where they first take each other's place."""
        from ribpatch.ui.frame.turn_bar import TurnBar

        bar = TurnBar()
        bar.turned.connect(self.turn_to)
        self.row.insertWidget(1, bar)
        return bar

    @property
    def bars(self) -> list[QWidget]:
        """The bar, as far as it was made."""
        return [self.bar] if "bar" in self.__dict__ else []

    # ---- turning ----

    def turn(self) -> None:
        """Turn from the plan to its page, to the choices and back; beside each other they only pass the keys on."""
        at_choices = self._showing.decisions.isAncestorOf(QApplication.focusWidget() or self._page)
        if self._narrow:
            self.turn_to(self.bar.next_part)
        elif self._low and (at_choices or self.bar.next_part == PAGE):
            self.turn_to(PLAN if at_choices else PAGE)
        elif at_choices:
            self.take_focus()
        else:
            self._showing.decisions.setFocus()
            self._showing.decisions.focusNextChild()

    def turn_to(self, part: str) -> None:
        """Show a part in the place of another, and turn the keys to it."""
        self._show(part)
        below = getattr(self._showing.centre.currentWidget(), "below", None)
        if self.bar.part == CHOICES:
            self._showing.decisions.setFocus()
        elif self.bar.part == PAGE and below is not None:
            below.take_focus()
        else:
            self.take_focus()

    def want(self, part: str) -> None:
        """Something is to be looked at, or done, in a part: where one takes the place of another it is shown."""
        if self._turns:
            self.turn_to(part)

    def take_focus(self) -> None:
        """Turn the keys to the plan, where there is one."""
        if not stage_of(self._session.stage).bench:
            self._bench.plan_canvas.setFocus()

    def _centre_turned(self) -> None:
        if self._turns:
            self._show(self.bar.part)

    def _show(self, part: str) -> None:
        narrow, split = self._narrow, getattr(self._showing.centre.currentWidget(), "split", None)
        part = self.bar.offer((PLAN, *((PAGE,) if split else ()), *((CHOICES,) if narrow else ())), part)
        self.centre.setVisible(part != CHOICES)
        self._showing.decisions.setVisible(not narrow or part == CHOICES)
        self._share_height("lower" if part == PAGE else "upper")
        if part != PLAN:
            self._showing.hurry()

    def _share_height(self, alone: str) -> None:
        """Show the upper or the lower part of the benches alone, or (empty) both."""
        for bench in (self._bench, *self._showing.benches.values()):
            split, below = getattr(bench, "split", None), getattr(bench, "below", None)
            if split is not None and below is not None:
                split.one(alone)
                below.offer_whole(not alone)

    # ---- room ----

    @property
    def _narrow(self) -> bool:
        """Whether plan and choices cannot stand beside each other."""
        return px(LEAST_COLUMN) > MOST_SHARE * self._page.width()

    @property
    def _low(self) -> bool:
        """Whether larger text leaves no room for the page below the plan (a window of usual text is never so low)."""
        return factor() > 1 and px(LEAST_HIGH) > self._page.height()

    @property
    def _turns(self) -> bool:
        """Whether one part takes the place of another."""
        return self._narrow or self._low

    def fit(self) -> None:
        """Share the room. The decisions take what the user gave them, up to a third of the window; of a wide one, a
        quarter. Where even the least of them would leave too little for the plan, one of the two is shown; of plan and
        page one where they would be too low.
        """
        self._place_message()
        if self._turns:
            self._show(self.bar.part)
        elif self.bars:
            self.bar.hide()
            self.centre.show()
            self._showing.decisions.show()
            self._share_height("")
        if self._narrow:
            self._showing.decisions.setMaximumWidth(ALL)
            return
        wide, least = self._page.width(), px(LEAST_COLUMN)
        most = max(least, wide // 3)
        self._showing.decisions.setMaximumWidth(most)
        column = min(max(self._settings.column or wide // 4, least), most)
        self.beside.setSizes([max(wide - column, 1), column])

    def _place_message(self) -> None:
        """Messages stand over the bench; where the choices take its place, over either."""
        place = self._over_all if self._narrow else self._over_bench
        if place.indexOf(self._message) < 0:
            told = not self._message.isHidden()
            place.insertWidget(0, self._message)
            self._message.setVisible(told)

    def _keep_column(self) -> None:
        self._settings.column = self._showing.decisions.width()

    def under_sheets(self) -> QRect:
        """Where sheets lie: over the bench, or over the choices where they are shown alone."""
        under = self.centre if self.centre.isVisible() else self._showing.decisions
        return QRect(under.mapTo(self._page, QPoint(0, 0)), under.size())
