"""The page on which a job is worked on: boat strip over ladder, bench and decisions, ledger below. Made with the first
job.
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, Protocol

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QApplication, QVBoxLayout, QWidget

from ribpatch.stages import stage_of
from ribpatch.ui.bench.cutting import CuttingDesk
from ribpatch.ui.bench.zone_bench import ZoneBench
from ribpatch.ui.collecting import share_memory
from ribpatch.ui.frame.boat_strip import BoatStrip
from ribpatch.ui.frame.ladder import Ladder
from ribpatch.ui.frame.ledger import Ledger
from ribpatch.ui.frame.parts import CHOICES, PLAN
from ribpatch.ui.frame.way_strip import WayStrip
from ribpatch.ui.parts import Parts
from ribpatch.ui.shell import Shell
from ribpatch.ui.showing import Showing
from ribpatch.ui.survey_desk import SurveyDesk
from ribpatch.ui.widgets.busy_line import BusyLine
from ribpatch.ui.widgets.by_eye import by_eye, next_by_eye, turn_to
from ribpatch.ui.within import shown_in

if TYPE_CHECKING:
    from PySide6.QtGui import QKeyEvent, QResizeEvent

    from ribpatch.core.figure import Figure
    from ribpatch.core.plan import Plan
    from ribpatch.core.way import WayStep
    from ribpatch.ui.documents import Documents
    from ribpatch.ui.help_sheet import HelpSheet
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Tasks
    from ribpatch.ui.tracing_desk import TracingDesk
    from ribpatch.ui.widgets.finder import Finder
    from ribpatch.ui.widgets.messages import MessageBar
    from ribpatch.ui.widgets.sheet_over import SheetOver
    from ribpatch.ui.widgets.working import Working

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
        share_memory()  # before the first picture of a job: Qt paints with threads too
        self.strip, self.way, self.ladder = BoatStrip(self), WayStrip(self), Ladder(self)  # as the eye goes
        self.parts = Parts(self, self._session, window.settings, window.message)
        self.busy, self.ledger = BusyLine(self), Ledger(self)
        self.zone_bench = ZoneBench(self._session, tasks, self.parts.centre)
        self.survey = SurveyDesk(self._session, self.zone_bench, window.documents, self._parent)
        self.cutting = CuttingDesk(self._session, self.zone_bench)
        self.showing = Showing(self._session, window.settings, self.zone_bench, lambda s: s.connect_to(window), self)
        self.showing.frame(self.strip, self.way, self.ladder, self.ledger)
        self._compose()
        self._connect()
        self.showing.set_theme(window.settings.look)

    def _compose(self) -> None:
        self.parts.lay_out(self.ladder, self.zone_bench, self.showing)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.strip)
        column.addWidget(self.way)
        column.addLayout(self.parts.row, 1)
        column.addWidget(self.busy)
        column.addWidget(self.ledger)
        self.busy.hide()

    @cached_property
    def tracing(self) -> TracingDesk:
        """What drawing and photographs ask of the bench."""
        from ribpatch.ui.tracing_desk import TracingDesk

        window = self._window
        return TracingDesk(self._session, self.zone_bench, window.documents, window.settings, self._parent)

    def fit(self) -> None:
        """Share the room anew, after text became larger or the window another size."""
        self.strip.fit(self.width())
        self.ladder.fit()
        self.ledger.fit()
        self.parts.fit()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.fit()

    # Sheets over the bench are made when first laid over it.

    @property
    def _sheets(self) -> list[SheetOver]:
        """The sheets that lie over it now."""
        return [s for s in (self.__dict__.get("working"), self.__dict__.get("finder")) if s and s.isVisible()]

    @cached_property
    def working(self) -> Working:
        """The working of a figure."""
        from ribpatch.ui.widgets.working import Working

        working = Working(self, self.parts.under_sheets)
        working.manual_wanted.connect(lambda page: self._window.manual.show_page(page))
        return working

    @cached_property
    def finder(self) -> Finder:
        """The list of figures."""
        from ribpatch.ui.widgets.finder import Finder

        finder = Finder(self, self.parts.under_sheets)
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
        parts, centre = self.parts, self.showing.centre
        over = [w for w in shown_in(parts.centre) if w is not centre]
        message = [] if self._window.message in over else [self._window.message]
        bench = [*over, centre] if parts.centre.isVisible() else []
        top = [self.strip, self.way, self.ladder, *parts.bars, *message, *self._sheets]
        return [*top, *bench, parts.beside.handle(1), self.showing.decisions, self.busy, self.ledger]

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
            self.parts.want(PLAN)
            if stage_of(self._session.stage).bench:
                order = by_eye(self.showing.centre)
                if order:
                    order[0].setFocus()
            self.parts.take_focus()
            return
        super().keyPressEvent(event)

    def look(self) -> None:
        """Show another zone or stage of the same job."""
        if self._session.is_open:
            self.showing.look()
            self._window.actions_table.refresh()
            if stage_of(self._session.stage).depth == "find":
                self.parts.want(PLAN)  # what is read is read on it
            self.parts.take_focus()

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
        self.parts.want(CHOICES)
        choices = self.showing.stage(stage)
        choices.begin_here()
        if not choices.isAncestorOf(QApplication.focusWidget() or self):
            self.parts.want(PLAN)

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
