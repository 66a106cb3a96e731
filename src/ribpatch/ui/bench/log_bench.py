"""The Log bench, a page at a time: what cures now and new entries, all entries, estimate against actual, bond coupons,
other jobs of the boat.
"""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QPushButton,
    QSystemTrayIcon,
    QVBoxLayout,
    QWidget,
)

from ribpatch.core.errors import Fault
from ribpatch.core.log_edits import take_back
from ribpatch.core.log_tables import against_table, log_table
from ribpatch.core.logbook.standing import doings
from ribpatch.core.logged_days import logged_days
from ribpatch.core.plan import plan as plan_of
from ribpatch.core.years import years_table
from ribpatch.ui.bench.days_bench import today
from ribpatch.ui.bench.log_coupons import CouponPanel
from ribpatch.ui.bench.log_now import NowPanel
from ribpatch.ui.bench.paged import PagedBench
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.days import Days
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Tasks

PAGES = ("Now", "Entries", "Estimate and actual", "Bond coupons", "Other jobs")
NOW, ENTRIES, AGAINST, COUPONS, YEARS = range(5)
MOST_JOBS = 6


class LogBench(PagedBench):
    """Five pages under a row of their names. ``asked`` carries the id of a figure."""

    def __init__(self, session: Session, tasks: Tasks | None = None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._tasks = session, tasks
        self.today: Callable[[], str] = today
        self._others: list[tuple[str, Plan]] = []
        self.now = NowPanel(session)
        self.now.reminded.connect(lambda words: self._remind(words))
        self._tray: QSystemTrayIcon | None = None
        self.entries = TableView("entries of the log")
        self.against = TableView("estimate against actual")
        self.coupons = CouponPanel(session)
        self.years = TableView("jobs of this boat side by side")
        self.mend, self.back = QPushButton("Correct it"), QPushButton("Take it back")
        self.mend.setToolTip("Enter what stands for it; both stay in the log")
        self.back.setToolTip("Say that it does not hold; both stay in the log")
        self.mend.clicked.connect(lambda: self._correct())
        self.back.clicked.connect(lambda: self._take_back())
        self.beside, self.away = QPushButton("Open another job beside it"), QPushButton("Put them away")
        self.beside.clicked.connect(lambda: self._ask_beside())
        self.away.clicked.connect(lambda: self._put_away())
        self.set_pages(
            PAGES,
            (
                self.now,
                self._with(self.entries, self.mend, self.back),
                self.against,
                self.coupons,
                self._with(self.years, self.beside, self.away),
            ),
        )

    def _with(self, table: TableView, *buttons: QPushButton) -> QWidget:
        page, row = QWidget(), QHBoxLayout()
        for button in buttons:
            row.addWidget(button)
        row.addStretch(1)
        layout = QVBoxLayout(page)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(table, 1)
        layout.addLayout(row)
        return page

    def turned(self, number: int) -> None:
        """Fill the page that is looked at."""
        if self._session.is_open:
            self._fill()

    def set_theme(self, theme: str) -> None:
        """Tables take their colours from the window."""
        for page in (self.now, self.entries, self.against, self.coupons, self.years):
            page.set_theme(theme)

    def show_plan(self, plan: Plan, system: System) -> None:
        """Show the log of a job."""
        self._fill()

    @property
    def days(self) -> Days:
        """The days of the job, what is done already in them."""
        return logged_days(self._session.plan, self.today(), "")

    def _fill(self) -> None:
        plan, system, page = self._session.plan, self._session.system, self.pages.currentIndex()
        days = self.days
        if page == NOW:
            self.now.show_days(days, self._next(days))
        elif page == ENTRIES:
            self.entries.show_table(log_table(plan.job, days, system), system)
        elif page == AGAINST:
            self.against.show_table(against_table(plan, days, system), system)
        elif page == COUPONS:
            self.coupons.show_plan(plan, system)
        else:
            name = self._session.path.name if self._session.path is not None else "this job"
            self.years.show_table(years_table(((name, plan), *self._others), system), system)

    def _next(self, days: Days) -> str:
        """The step that is being done, else the next one to do."""
        made = {d.step: d for d in doings(self._session.job.log)}
        going = [d for d in made.values() if not d.ended]
        if going:
            return going[-1].step
        return next((r.id for r in days.rows if r.people and r.id not in made), "")

    def _remind(self, words: str) -> None:
        """On the desktop too, where it takes notices."""
        if not QSystemTrayIcon.isSystemTrayAvailable():
            return
        if self._tray is None:
            self._tray = QSystemTrayIcon(self.window().windowIcon(), self)
        self._tray.show()
        self._tray.showMessage("Rib Patch", words)

    # ---- corrections ----

    def _entry(self) -> str:
        return self.entries.current_key

    def _correct(self) -> None:
        entry = next((e for e in self._session.job.log.entries if e.id == self._entry()), None)
        if entry is None:
            self._session.told.emit("Choose the entry first.")
            return
        self.show_page(NOW)
        self.now.correct(entry)

    def _take_back(self) -> None:
        entry = next((e for e in self._session.job.log.entries if e.id == self._entry()), None)
        if entry is None:
            self._session.told.emit("Choose the entry first.")
            return
        self._session.apply(take_back(self._session.job, entry.id, self.now.now()))

    # ---- other jobs ----

    def _ask_beside(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(self, "Other jobs of this boat", "", "Jobs (*.ribpatch);;All files (*)")
        self.open_beside([Path(name) for name in names])

    def open_beside(self, paths: list[Path]) -> None:
        """Open other jobs beside this one, to be read only."""
        from ribpatch.jobfile import archive

        for path in paths:
            if len(self._others) >= MOST_JOBS:
                self._session.told.emit(f"{MOST_JOBS} jobs stand beside this one; put some away first.")
                break
            try:
                made = plan_of(archive.load(path), self._session.shelf, self._session.system)
            except Fault as fault:
                self._session.told.emit(fault.sentence)
                continue
            self._others = [(n, p) for n, p in self._others if n != path.name] + [(path.name, made)]
        self._fill()

    def _put_away(self) -> None:
        self._others = []
        self._fill()


BENCH = LogBench
