"""The Days bench, a page at a time: the plan in lanes, a day's sheet, all steps, crew and air, what to order when."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QFileDialog, QVBoxLayout, QWidget

from ribpatch.core.day_words import order_table, step_table
from ribpatch.core.timetable_edits import set_forecast
from ribpatch.ui.bench.days_crew import CrewPanel
from ribpatch.ui.bench.days_plan import DaysPlan
from ribpatch.ui.bench.days_step import StepPanel
from ribpatch.ui.bench.days_today import TodayPanel
from ribpatch.ui.bench.paged import PagedBench
from ribpatch.ui.incoming import said
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.plan import Plan
    from ribpatch.core.table import Table
    from ribpatch.core.units import System
    from ribpatch.formats.weather_csv import WeatherTable
    from ribpatch.ui.bench.days_plan import Answer
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Tasks

PAGES = ("Plan", "A day", "Steps", "Crew and air", "Order by")
PLAN, DAY, STEPS, CREW, ORDER = range(5)


def today() -> str:
    """The day it is."""
    return date.today().isoformat()


class _List(QWidget):
    """The list of steps over the one looked at."""

    def __init__(self, steps: TableView) -> None:
        super().__init__()
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.addWidget(steps, 1)

    def put_below(self, panel: QWidget) -> None:
        """Have a panel below, which may have stood elsewhere."""
        self._column.addWidget(panel)
        panel.show()


class DaysBench(PagedBench):
    """Five pages under a row of their names. ``asked`` carries the id of a figure."""

    def __init__(self, session: Session, tasks: Tasks | None = None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._tasks = session, tasks
        self.today: Callable[[], str] = today
        self.plan = DaysPlan(session, tasks)
        self.plan.answered.connect(self._answered)
        self.plan.picked.connect(self._picked)
        self.day = TodayPanel(session, tasks)
        self.steps = TableView("steps of all zones")
        self.steps.grid.currentCellChanged.connect(lambda *_: self._row_picked())
        self.crew = CrewPanel(session)
        self.crew.file_wanted.connect(lambda: self._ask_weather())
        self.crew.simulate_wanted.connect(lambda: self._simulate())
        self.order = TableView("what to order by when")
        self.step = StepPanel(session)
        self._over_step: dict[int, DaysPlan | _List] = {PLAN: self.plan, STEPS: _List(self.steps)}
        self.set_pages(PAGES, (self.plan, self.day, self._over_step[STEPS], self.crew, self.order))

    def turned(self, number: int) -> None:
        """The step looked at stands below the plan and the list of steps, and scrolls with them."""
        if number in self._over_step:
            self._over_step[number].put_below(self.step)
        if self._session.is_open:
            self._fill()

    def set_theme(self, theme: str) -> None:
        """Tables take their colours from the window, drawings are told."""
        for page in (self.plan, self.steps, self.crew, self.order):
            page.set_theme(theme)

    def show_plan(self, plan: Plan, system: System) -> None:
        """Plan the days of a job; pages are filled as they are looked at."""
        self.plan.show_plan(plan, self.today())
        self._fill()

    def rest(self) -> None:
        """Nobody looks at it: nothing is planned any further."""
        self.plan.rest()

    def _answered(self, answer: Answer) -> None:
        if answer is self.plan.answer_to(self._session.plan):
            self._fill()

    @property
    def answer(self) -> Answer | None:
        """The plan of the job as it is now; None while it is worked out."""
        return self.plan.answer_to(self._session.plan)

    def _fill(self) -> None:
        """Fill the page that is looked at."""
        plan, system = self._session.plan, self._session.system
        page, answer = self.pages.currentIndex(), self.answer
        if answer is None:
            return
        days, schedule = answer.days, answer.schedule
        if page == CREW:
            self.crew.show_days(days, system)
        if page == DAY:
            self.day.show_days(plan, days, schedule, self.today())
        elif page == STEPS:
            self.steps.show_table(step_table(days, schedule, system), system)
        elif page == ORDER and schedule is not None:
            self._fill_order(plan)
        if page in (PLAN, STEPS):
            self.step.show_step(days, schedule, self.step.step)

    def _fill_order(self, plan: Plan) -> None:
        answer, system = self.plan.answer, self._session.system
        assert answer is not None and answer.schedule is not None
        days, schedule = answer.days, answer.schedule

        def work() -> Table:
            return order_table(plan, days, schedule, plan.buys_with(plan.first_rolls), self.today())

        def take(table: Table | None, error: Exception | None) -> None:
            if table is not None and self._session.is_open and self._session.plan is plan:
                self.order.show_table(table, system)

        if self._tasks is None:
            take(work(), None)
        else:
            self._tasks.run("", work, take)

    def _ask_weather(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Weather by the hour", "", "CSV (*.csv *.txt);;All files (*)")
        if name:
            self.read_weather(Path(name))

    def read_weather(self, path: Path) -> None:
        """Take the weather in a file, read beside the window, once the user has seen what its columns are taken for."""
        from ribpatch.formats.weather_csv import read_text, weather_table

        def work() -> WeatherTable:
            return weather_table(read_text(path), path.name)

        if self._tasks is None:
            self._choose_weather(work(), None)
        else:
            self._tasks.run(f"reading {path.name}", work, self._choose_weather)

    def _choose_weather(self, table: WeatherTable | None, error: Exception | None) -> None:
        from ribpatch.ui.weather_dialog import WeatherDialog

        if table is None:
            self._session.told.emit(said(error) if error is not None else "")
            return
        dialog = WeatherDialog(table, self._session.system, self)
        answer = dialog.exec()
        dialog.deleteLater()
        if answer == WeatherDialog.DialogCode.Accepted and dialog.forecast is not None and self._session.is_open:
            self._session.apply(set_forecast(dialog.forecast))

    def _simulate(self) -> None:
        """Weather that could be, from the day on which the work begins."""
        from ribpatch.core.simulated_air import simulated_forecast

        job = self._session.job
        self._session.apply(set_forecast(simulated_forecast(job.timetable, self.today())))

    def _picked(self, step: str) -> None:
        answer = self.plan.answer
        if answer is not None:
            self.step.show_step(answer.days, answer.schedule, step)

    def _row_picked(self) -> None:
        if self.steps.current_key and self.steps.current_key != self.step.step:
            self._picked(self.steps.current_key)
            self.plan.look_at(self.steps.current_key)


BENCH = DaysBench
