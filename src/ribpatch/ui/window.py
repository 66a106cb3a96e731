"""The window: boat strip, ladder, bench, decisions, ledger, and the pages before a job is open."""

from __future__ import annotations

from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QSize, Signal
from PySide6.QtWidgets import QApplication, QMainWindow, QStackedWidget, QWidget

from ribpatch.jobfile import recovery
from ribpatch.ui.documents import Documents
from ribpatch.ui.typed import settle
from ribpatch.ui.widgets.keys_back import give_back
from ribpatch.ui.widgets.messages import MessageBar

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtCore import QPointF
    from PySide6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QShowEvent

    from ribpatch.core.edits import Edit
    from ribpatch.core.job import Job, Zone
    from ribpatch.ui.add_zone_page import AddZonePage
    from ribpatch.ui.bench.cutting import CuttingDesk
    from ribpatch.ui.bench.zone_bench import ZoneBench
    from ribpatch.ui.help_sheet import HelpSheet
    from ribpatch.ui.new_job_page import NewJobPage
    from ribpatch.ui.session import Session
    from ribpatch.ui.settings import Settings
    from ribpatch.ui.shell import ActionsTable
    from ribpatch.ui.showing import Showing
    from ribpatch.ui.start_page import StartPage
    from ribpatch.ui.survey_desk import SurveyDesk
    from ribpatch.ui.tasks import Tasks
    from ribpatch.ui.tracing_desk import TracingDesk
    from ribpatch.ui.work import Work


LEAST = QSize(1000, 640)  # pixels of a window on a screen that has room for it


class Window(QMainWindow):
    """Composes the parts and passes what the user means between them."""

    shown_once = Signal()

    def __init__(
        self, session: Session, settings: Settings, tasks: Tasks, make_actions: Callable[[Window], ActionsTable]
    ) -> None:
        super().__init__()
        self.session, self.settings, self.tasks = session, settings, tasks
        self.documents = Documents(session, settings, tasks, self)
        self.setWindowTitle("Rib Patch")
        self.resize(1280, 800)
        self.setMinimumSize(LEAST)
        self.setAcceptDrops(True)
        self.message = MessageBar()
        self._pages = QStackedWidget()
        self.setCentralWidget(self._pages)
        self.actions_table = make_actions(self)
        self._connect()
        session.may_go = self.documents.settled = self.settled
        self._painted = False
        self._keys: dict[QWidget, QWidget] = {}  # where the keys were, on each page
        self._came_from: QWidget | None = None

    def fit_in(self, room: QSize) -> None:
        """Be no larger than a room in pixels; where the least that all parts want is more, they are scrolled."""
        self.resize(self.size().boundedTo(room))
        if room.width() >= LEAST.width() and room.height() >= LEAST.height():
            return
        from ribpatch.ui.widgets.scrolled import Scrolled

        self.setMinimumSize(LEAST.boundedTo(room))
        if self.centralWidget() is self._pages:
            self.takeCentralWidget()
            scrolled = Scrolled(self)
            scrolled.hold(self._pages)
            self.setCentralWidget(scrolled)
        self.resize(self.size().boundedTo(room))

    # ---- what it is made of; each is loaded and made when first wanted, so that start-up does not pay for it ----

    @cached_property
    def work(self) -> Work:
        """The page on which a job is worked on."""
        from ribpatch.ui.work import Work

        page = Work(self, self._pages)
        self._pages.addWidget(page)
        return page

    @property
    def zone_bench(self) -> ZoneBench:
        """The plan of the zone over its section."""
        return self.work.zone_bench

    @property
    def showing(self) -> Showing:
        """What is shown of the plan, and when."""
        return self.work.showing

    @property
    def survey(self) -> SurveyDesk:
        """What the survey asks of the window."""
        return self.work.survey

    @property
    def cutting(self) -> CuttingDesk:
        """What Open asks of the bench."""
        return self.work.cutting

    @property
    def tracing(self) -> TracingDesk:
        """What drawing and photographs ask of the bench."""
        return self.work.tracing

    @cached_property
    def manual(self) -> HelpSheet:
        """The manual, over whatever page is shown."""
        from ribpatch.ui.help_sheet import HelpSheet

        return HelpSheet(self, lambda: (self.centralWidget() or self).geometry())

    @cached_property
    def start_page(self) -> StartPage:
        """The start page."""
        from ribpatch.ui.start_page import StartPage

        page = StartPage(self.settings.look, self._pages)
        for signal, action in (
            (page.new_wanted, "new_job"),
            (page.open_wanted, "open_job"),
            (page.demo_wanted, "demo_job"),
            (page.practice_wanted, "practice"),
        ):
            signal.connect(lambda a=action: self.actions_table.trigger(a))
        page.guide_away.connect(lambda: setattr(self.settings, "guided", False))
        page.path_wanted.connect(self.open_path)
        page.recover_wanted.connect(self._recover)
        page.discard_wanted.connect(self._discard)
        self._pages.addWidget(page)
        return page

    @cached_property
    def new_page(self) -> NewJobPage:
        """The new-job form."""
        from ribpatch.ui.new_job_page import NewJobPage

        page = NewJobPage(self.session.shelf, self._pages)
        page.set_theme(self.settings.look)
        page.made.connect(lambda job: self._begin(job))
        page.cancelled.connect(lambda: self._go_back())
        self._pages.addWidget(page)
        return page

    @cached_property
    def zone_page(self) -> AddZonePage:
        """What is wrong, for another zone."""
        from ribpatch.ui.add_zone_page import AddZonePage

        page = AddZonePage(self.session.shelf, self._pages)
        page.pick.set_theme(self.settings.look)
        page.made.connect(self._add_zone)
        page.cancelled.connect(lambda: self.show_work())
        self._pages.addWidget(page)
        return page

    def draw_extent(self) -> None:
        """Take the suggested extent over as an outline to drag."""
        self.zone_bench.draw_extent()

    def settled(self) -> bool:
        """Enter what is typed and not entered yet; False, with a sentence told, where it cannot be."""
        if not self.session.is_open or not self.at_work:
            return True
        said = settle(*self.work.typed_in)
        if said:
            self.message.tell(said)
        return not said

    def in_zone(self, make: Callable[[str, None], Edit]) -> None:
        """Apply ``make(zone, None)``: go back from what was drawn to what follows from the readings."""
        if self.session.zone is not None:
            self.session.apply(make(self.session.zone.id, None))

    def _connect(self) -> None:
        s = self.session
        s.opening.connect(lambda: self.work)
        s.changed.connect(lambda _change: self.actions_table.refresh())
        s.told.connect(self.message.tell)
        self.documents.state.connect(lambda _text: self._title())

    # ---- pages ----

    def _turn(self, page: QWidget) -> None:
        """Show a page, with the keys where they were on it."""
        before, focus = self._pages.currentWidget(), QApplication.focusWidget()
        if before is not None and focus is not None and before.isAncestorOf(focus):
            self._keys[before] = focus
        if page is not before:
            self._came_from = before
        self._pages.setCurrentWidget(page)
        give_back(self._keys.get(page))

    def _go_back(self) -> None:
        """Leave a form for the page that it was opened from."""
        if self.session.is_open and self._came_from is self.__dict__.get("work"):
            self.show_work()
        else:
            self.show_start()

    def show_start(self) -> None:
        """Show the start page."""
        self.start_page.show_lists(self.settings.recent_cards, self.documents.found(), self.settings.guided)
        self._turn(self.start_page)
        self._title()

    def show_new(self) -> None:
        """Show the new-job form."""
        self._turn(self.new_page)
        self.new_page.begin_anew(self.session.system)

    def show_work(self) -> None:
        """Show the bench."""
        self._turn(self.work)
        self._title()

    @property
    def at_work(self) -> bool:
        """Whether the bench is shown."""
        return "work" in self.__dict__ and self._pages.currentWidget() is self.work

    def _title(self) -> None:
        if self.session.is_open and self.at_work:
            self.setWindowTitle(f"{self.session.job.boat.name}[*] – Rib Patch")
            self.setWindowModified(self.session.unsaved)
        else:
            self.setWindowModified(False)
            self.setWindowTitle("Rib Patch")

    # ---- jobs ----

    def show_new_job(self, job: Job, stage: str = "find") -> None:
        """Put a job that has no file in the window."""
        self.message.tell("")
        self.session.stage = stage
        self.documents.show_new(job)
        self._show_opened()

    def _begin(self, job: Job) -> None:
        """Begin a new job where it is measured first."""
        self.show_new_job(job, "boat")
        self._measure()

    def _measure(self) -> None:
        """Turn the keys to the first size that is still assumed."""
        self.showing.finish()
        self.work.begin_at("boat")

    def _show_opened(self) -> None:
        """The session has shown the job to its views already; turn to the bench."""
        self.show_work()
        self.work.parts.take_focus()

    def add_zone(self) -> None:
        """Ask what is wrong with the next zone."""
        if self.settled():
            self.zone_page.begin(self.session.job, self.session.system)
            self._turn(self.zone_page)

    def _add_zone(self, zone: Zone) -> None:
        """Add a zone and go to its facts."""
        from ribpatch.core.edits import add_zone

        self.show_work()
        if self.session.apply(add_zone(zone)):
            self.session.go(zone.id, "boat")
            self._measure()

    def open_path(self, path: Path) -> None:
        """Open a job file."""
        self.message.tell("")
        if not self.documents.may_leave():
            return
        if self.documents.open(path):
            self._show_opened()
        elif not self.session.is_open:
            self.show_start()
            self._tell_on_start()
        else:
            self.show_work()

    def _tell_on_start(self) -> None:
        """Before a job is open the bench, and its message bar, are not shown: say it in a box."""
        from PySide6.QtWidgets import QMessageBox

        QMessageBox.warning(self, "Rib Patch", self.message.label.text())

    def _recover(self, item: recovery.Found) -> None:
        said = item.saves_to
        if self.documents.recover(item):
            self.message.tell(f"Recovered. {said}")
            self._show_opened()
        else:
            self._tell_on_start()

    def _discard(self, item: recovery.Found) -> None:
        recovery.discard(item)
        self.show_start()

    def use_theme(self, theme: str) -> None:
        """Give the painted parts a theme's colours."""
        if "work" in self.__dict__:
            self.work.showing.set_theme(theme)
        if "start_page" in self.__dict__:
            self.start_page.set_theme(theme)
        if "new_page" in self.__dict__:
            self.new_page.set_theme(theme)
        if "zone_page" in self.__dict__:
            self.zone_page.pick.set_theme(theme)

    # ---- the window itself ----

    def menu_action(self, identity: str) -> QAction:
        """An action by its id."""
        return self.actions_table.by_id[identity]

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if not self._painted:
            self._painted = True
            self.shown_once.emit()

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        paths = [Path(url.toLocalFile() or url.toString()) for url in event.mimeData().urls()]
        event.acceptProposedAction()
        self.take_dropped(paths, event.position())

    def take_dropped(self, paths: list[Path], at: QPointF) -> None:
        """Say what will be done with what was dropped at a point of the window, and do it where the user agrees."""
        from ribpatch.ui.dropped import agreed, sorted_out, will_do

        zone = self.session.zone.name if self.at_work and self.session.zone is not None else ""
        boat = self.session.job.boat.name if self.session.is_open else ""
        dropped = sorted_out(paths, zone, self.session.stage)
        said = will_do(dropped, zone, boat, self.session.is_open and not self.session.stack.isClean())
        plain = dropped.kinds == 1 and not dropped.left and not (dropped.jobs and boat) and len(dropped.jobs) < 2
        if not said or (not plain and not agreed(said, self)):
            return
        if dropped.jobs:
            from ribpatch.ui.other_window import open_window

            self.open_path(dropped.jobs[0])
            for path in dropped.jobs[1:]:
                open_window(path)
        elif dropped.kinds:
            self.survey.take_dropped(dropped, at, self.showing, self.tracing)

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self.documents.may_leave():
            event.ignore()
            return
        self.settings.geometry = self.saveGeometry()
        self.settings.sync()
        self.session.stack.blockSignals(True)  # a stack that is taken down tells of its last index
        self.documents.close()
        event.accept()
