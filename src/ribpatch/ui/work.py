"""The page on which a job is worked on: boat strip over ladder, bench and decisions, ledger below. Made with the first
job.
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, Protocol

from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QApplication, QHBoxLayout, QSplitter, QVBoxLayout, QWidget

from ribpatch.stages import stage_of
from ribpatch.ui.bench.cutting import CuttingDesk
from ribpatch.ui.bench.zone_bench import ZoneBench
from ribpatch.ui.frame.boat_strip import BoatStrip
from ribpatch.ui.frame.ladder import Ladder
from ribpatch.ui.frame.ledger import Ledger
from ribpatch.ui.frame.parts import CHOICES, PAGE, PLAN
from ribpatch.ui.frame.way_strip import WayStrip
from ribpatch.ui.scaling import factor, px
from ribpatch.ui.shell import Shell
from ribpatch.ui.showing import LEAST_COLUMN, Showing
from ribpatch.ui.survey_desk import SurveyDesk
from ribpatch.ui.widgets.busy_line import BusyLine
from ribpatch.ui.widgets.by_eye import by_eye, next_by_eye, parts_by_eye, turn_to
from ribpatch.ui.within import shown_in

if TYPE_CHECKING:
    from PySide6.QtGui import QKeyEvent, QResizeEvent

    from ribpatch.core.figure import Figure
    from ribpatch.core.plan import Plan
    from ribpatch.core.way import WayStep
    from ribpatch.ui.documents import Documents
    from ribpatch.ui.frame.turn_bar import TurnBar
    from ribpatch.ui.help_sheet import HelpSheet
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Tasks
    from ribpatch.ui.tracing_desk import TracingDesk
    from ribpatch.ui.widgets.finder import Finder
    from ribpatch.ui.widgets.messages import MessageBar
    from ribpatch.ui.widgets.sheet_over import SheetOver
    from ribpatch.ui.widgets.working import Working

MOST_SHARE = 0.42  # of the window's width that the decisions may need beside the plan
LEAST_HIGH = 575  # pixels of height under which plan and page have no room one over the other
ALL = 16_777_215  # pixels: no limit
BOAT = "boat"  # what the strip says where the hull beside the zones was clicked


class Host(Shell, Protocol):
    """The window as this page sees it."""

    session: Session
    tasks: Tasks
    documents: Documents
    message: MessageBar

    @property
    def manual(self) -> HelpSheet:
        """The manual."""


class Work(QWidget):
    """Composes the parts and passes what the user means between them."""

    def __init__(self, window: Host, parent: QWidget) -> None:
        super().__init__(parent)
        self._window, self._session, tasks = window, window.session, window.tasks
        self._parent = parent.window()
        self.strip, self.way, self.ladder = BoatStrip(self), WayStrip(self), Ladder(self)  # as the eye goes
        self._beside = QSplitter(Qt.Orientation.Horizontal, self)
        self.busy, self.ledger = BusyLine(self), Ledger(self)
        self._centre = QWidget(self._beside)
        self.zone_bench = ZoneBench(self._session, tasks, self._centre)
        self.survey = SurveyDesk(self._session, self.zone_bench, window.documents, self._parent)
        self.cutting = CuttingDesk(self._session, self.zone_bench)
        self.showing = Showing(self._session, window.settings, self.zone_bench, lambda s: s.connect_to(window), self)
        self.showing.frame(self.strip, self.way, self.ladder, self.ledger)
        self._compose()
        self._connect()
        self.showing.set_theme(window.settings.look)

    def _compose(self) -> None:
        bench = QVBoxLayout(self._centre)
        bench.setContentsMargins(0, 0, 0, 0)
        bench.setSpacing(4)
        bench.addWidget(self._window.message)
        bench.addWidget(self.showing.centre, 1)
        self._over_bench, self._over_all = bench, QVBoxLayout()  # where messages are told
        middle = self._middle = QHBoxLayout()
        middle.setContentsMargins(0, 6, 0, 4)
        middle.setSpacing(6)
        middle.addWidget(self.ladder)
        beside = self._beside
        beside.setChildrenCollapsible(False)
        beside.addWidget(self._centre)
        beside.addWidget(self.showing.decisions)
        parts_by_eye(beside)
        beside.handle(1).setAccessibleName("line between the bench and the choices")
        beside.setStretchFactor(0, 1)
        beside.setStretchFactor(1, 0)
        beside.splitterMoved.connect(lambda: self._keep_column())
        self._over_all.setSpacing(4)
        self._over_all.addWidget(beside, 1)
        middle.addLayout(self._over_all, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.strip)
        column.addWidget(self.way)
        column.addLayout(middle, 1)
        column.addWidget(self.busy)
        column.addWidget(self.ledger)
        self.busy.hide()

    @cached_property
    def turn_bar(self) -> TurnBar:
        """Plan, page or choices, where there is no room for all of them."""
        from ribpatch.ui.frame.turn_bar import TurnBar

        bar = TurnBar()
        bar.turned.connect(self._turn_to)
        self._middle.insertWidget(1, bar)
        return bar

    @cached_property
    def tracing(self) -> TracingDesk:
        """What drawing and photographs ask of the bench."""
        from ribpatch.ui.tracing_desk import TracingDesk

        window = self._window
        return TracingDesk(self._session, self.zone_bench, window.documents, window.settings, self._parent)

    def turn(self) -> None:
        """Turn from the plan to its page, to the choices and back; beside each other they only pass the keys on."""
        at_choices = self.showing.decisions.isAncestorOf(QApplication.focusWidget() or self)
        if self._narrow:
            self._turn_to(self.turn_bar.next_part)
        elif self._low and (at_choices or self.turn_bar.next_part == PAGE):
            self._turn_to(PLAN if at_choices else PAGE)
        elif at_choices:
            self.take_focus()
        else:
            self.showing.decisions.setFocus()
            self.showing.decisions.focusNextChild()

    def _turn_to(self, part: str) -> None:
        """Show one part alone, and turn the keys to it."""
        self._show_part(part)
        below = getattr(self.showing.centre.currentWidget(), "below", None)
        if self.turn_bar.part == CHOICES:
            self.showing.decisions.setFocus()
        elif self.turn_bar.part == PAGE and below is not None:
            below.take_focus()
        else:
            self.take_focus()

    def _show_part(self, part: str) -> None:
        narrow, split = self._narrow, getattr(self.showing.centre.currentWidget(), "split", None)
        part = self.turn_bar.offer((PLAN, *((PAGE,) if split else ()), *((CHOICES,) if narrow else ())), part)
        self._centre.setVisible(part != CHOICES)
        self.showing.decisions.setVisible(not narrow or part == CHOICES)
        self._share_height("lower" if part == PAGE else "upper")
        if part != PLAN:
            self.showing.hurry()

    def _share_height(self, alone: str) -> None:
        """Show the upper or the lower part of the benches alone, or (empty) both."""
        for bench in (self.zone_bench, *self.showing.benches.values()):
            split, below = getattr(bench, "split", None), getattr(bench, "below", None)
            if split is not None and below is not None:
                split.one(alone)
                below.offer_whole(not alone)

    def _part_wanted(self, part: str) -> None:
        """Something is to be looked at, or done, in a part: where one takes the place of another it is shown."""
        if self._turns:
            self._turn_to(part)

    def _centre_turned(self) -> None:
        if self._turns:
            self._show_part(self.turn_bar.part)

    @property
    def _narrow(self) -> bool:
        """Whether plan and choices cannot stand beside each other."""
        return px(LEAST_COLUMN) > MOST_SHARE * self.width()

    @property
    def _low(self) -> bool:
        """Whether larger text leaves no room for the page below the plan (a window of usual text is never so low)."""
        return factor() > 1 and px(LEAST_HIGH) > self.height()

    @property
    def _turns(self) -> bool:
        """Whether one part takes the place of another."""
        return self._narrow or self._low

    def fit(self) -> None:
        """Share the room anew, after text became larger or the window another size."""
        self.strip.fit(self.width())
        self.ladder.fit()
        self.ledger.fit()
        self._share_width()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.fit()

    def _share_width(self) -> None:
        """The decisions take what the user gave them, up to a third of the window; of a wide one, a quarter. Where even
        the least of them would leave too little for the plan, one of the two is shown; of plan and page one where they
        would be too low.
        """
        self._place_message()
        if self._turns:
            self._show_part(self.turn_bar.part)
        elif "turn_bar" in self.__dict__:
            self.turn_bar.hide()
            self._centre.show()
            self.showing.decisions.show()
            self._share_height("")
        if self._narrow:
            self.showing.decisions.setMaximumWidth(ALL)
            return
        least = px(LEAST_COLUMN)
        most = max(least, self.width() // 3)
        self.showing.decisions.setMaximumWidth(most)
        wanted = self._window.settings.column or self.width() // 4
        column = min(max(wanted, least), most)
        self._beside.setSizes([max(self.width() - column, 1), column])

    def _place_message(self) -> None:
        """Messages stand over the bench; where the choices take its place, over either."""
        message, place = self._window.message, self._over_all if self._narrow else self._over_bench
        if place.indexOf(message) < 0:
            told = not message.isHidden()
            place.insertWidget(0, message)
            message.setVisible(told)

    def _keep_column(self) -> None:
        self._window.settings.column = self.showing.decisions.width()

    # Sheets over the bench (over the choices where they are shown alone) are made when first laid over it.

    def _under_sheets(self) -> QRect:
        under = self._centre if self._centre.isVisible() else self.showing.decisions
        return QRect(under.mapTo(self, QPoint(0, 0)), under.size())

    @property
    def _sheets(self) -> list[SheetOver]:
        """The sheets that lie over it now."""
        return [s for s in (self.__dict__.get("working"), self.__dict__.get("finder")) if s and s.isVisible()]

    @cached_property
    def working(self) -> Working:
        """The working of a figure."""
        from ribpatch.ui.widgets.working import Working

        working = Working(self, self._under_sheets)
        working.manual_wanted.connect(lambda page: self._window.manual.show_page(page))
        return working

    @cached_property
    def finder(self) -> Finder:
        """The list of figures."""
        from ribpatch.ui.widgets.finder import Finder

        finder = Finder(self, self._under_sheets)
        finder.asked.connect(self.ask_by_id)
        return finder

    def _connect(self) -> None:
        session, tasks = self._session, self._window.tasks
        documents = self._window.documents
        documents.recording_ready.connect(self.survey.show_recording)
        documents.state.connect(self.strip.show_state)
        session.changed.connect(self.showing.change)
        session.focus_changed.connect(lambda: self.look())
        tasks.busy.connect(lambda text: self.busy.show_busy(text, tasks.can_cancel))
        self.busy.stop.clicked.connect(lambda: tasks.cancel())
        self.zone_bench.below.page_wanted.connect(lambda: self._part_wanted(PAGE))
        self.zone_bench.plan_wanted.connect(lambda: self._part_wanted(PLAN))
        self.showing.centre.currentChanged.connect(lambda _index: self._centre_turned())
        self.showing.asked_by_id.connect(self.ask_by_id)
        self.showing.refreshed.connect(self._refreshed)
        self.ledger.days_wanted.connect(lambda: session.go(None, "days"))
        for part in (self.showing, self.strip, self.ledger, self.zone_bench):
            part.asked.connect(self.ask_working)
        self.strip.picked.connect(self._picked_on_boat)
        self.way.wanted.connect(self._on_the_way)
        self.strip.units_wanted.connect(lambda: self._window.actions_table.trigger("units"))
        self.ladder.picked.connect(lambda stage: session.go(stage=stage))
        for number in range(1, 10):
            shortcut = QShortcut(QKeySequence(f"Ctrl+{number}"), self)
            shortcut.activated.connect(lambda n=number: self._go_number(n))

    @property
    def _rooms(self) -> list[QWidget]:
        """The parts of the page in the order of the eye: what lies over the bench comes before it."""
        over = [w for w in shown_in(self._centre) if w is not self.showing.centre]
        message = [] if self._window.message in over else [self._window.message]
        turn = [self.turn_bar] if "turn_bar" in self.__dict__ else []
        bench = [*over, self.showing.centre] if self._centre.isVisible() else []
        top = [self.strip, self.way, self.ladder, *turn, *message, *self._sheets]
        return [*top, *bench, self._beside.handle(1), self.showing.decisions, self.busy, self.ledger]

    def focusNextPrevChild(self, next: bool) -> bool:
        """Tab goes as the eye does."""
        to = next_by_eye(self._rooms, next)
        if to is None:
            return super().focusNextPrevChild(next)
        turn_to(to, self, next)
        return True

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Esc, where nothing else takes it, turns the keys back to the plan."""
        if event.key() == Qt.Key.Key_Escape:
            if self._narrow:
                self._turn_to(PLAN)
            if stage_of(self._session.stage).bench:
                order = by_eye(self.showing.centre)
                if order:
                    order[0].setFocus()
            self.take_focus()
            return
        super().keyPressEvent(event)

    def look(self) -> None:
        """Show another zone or stage of the same job."""
        if self._session.is_open:
            self.showing.look()
            self._window.actions_table.refresh()
            if self._narrow and stage_of(self._session.stage).depth == "find":
                self._turn_to(PLAN)  # what is read is read on it
            self.take_focus()

    def take_focus(self) -> None:
        """Turn the keys to the plan, where there is one."""
        if not stage_of(self._session.stage).bench:
            self.zone_bench.plan_canvas.setFocus()

    @property
    def typed_in(self) -> tuple[QWidget, ...]:
        """Where something may have been typed and not entered: a stage is not left without it."""
        stage = self.showing.decisions.currentWidget()
        return (self.zone_bench,) if stage is None else (stage, self.zone_bench)

    def _refreshed(self, plan: Plan) -> None:
        if "working" in self.__dict__:
            self.working.refresh(plan, self._session.system)

    def _on_the_way(self, step: WayStep) -> None:
        """Go to what is still missing for a first plan."""
        if step.action:
            self._window.actions_table.trigger(step.action)
        elif step.stage is not None:
            self._session.go(stage=step.stage)
            self.showing.finish()
            self.begin_at(step.stage)

    def begin_at(self, stage: str) -> None:
        """Turn the keys to what is still missing at a stage, in its choices or on the plan; it comes into view."""
        if self._narrow:
            self._turn_to(CHOICES)
            self.showing.stage(stage).begin_here()
            focus = QApplication.focusWidget()
            if focus is None or not self.showing.stage(stage).isAncestorOf(focus):
                self._turn_to(PLAN)
        else:
            self.showing.stage(stage).begin_here()

    def _picked_on_boat(self, what: str) -> None:
        if what == BOAT:
            self._session.go(stage="boat")
        else:
            self._session.go(what)

    def _go_number(self, number: int) -> None:
        if self._session.is_open and number <= len(self._session.job.zones):
            self._session.go(self._session.job.zones[number - 1].id)

    def ask_working(self, figure: Figure) -> None:
        """Show a figure's working over the bench."""
        if "finder" in self.__dict__:
            self.finder.close_sheet()
        self.working.ask(figure, self._session.plan, self._session.system)

    def ask_by_id(self, identity: str) -> None:
        """Show the working of the figure of an id."""
        figure = self._session.plan.figure(identity)
        if figure is not None:
            self.ask_working(figure)
