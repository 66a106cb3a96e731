"""The plan of the days: lanes, how good it is, the search for a better one, and the step looked at."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from msgspec import Struct
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.dates import day_words
from ribpatch.core.day_lanes import lanes_of
from ribpatch.core.day_words import clash_words, finish_words, gripes, hours_between, step_words
from ribpatch.core.days import spread_of
from ribpatch.core.logged_days import logged_days
from ribpatch.core.slots import DAY_SLOTS, HOUR_SLOTS
from ribpatch.core.timetable_edits import change_step, keep_schedule
from ribpatch.ui.scaling import sized
from ribpatch.ui.widgets.combo import Combo
from ribpatch.ui.widgets.lanes_view import LanesView

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.calendar.problem import Clash, Schedule
    from ribpatch.core.days import Days
    from ribpatch.core.plan import Plan
    from ribpatch.scheduler.search import Found
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Steps, Tasks

SEARCH, STOP = "Search a better plan", "Stop, keep the best so far"
SECONDS = 10.0


def now() -> str:
    """The moment it is."""
    return datetime.now().isoformat(timespec="minutes")


class Answer(Struct, frozen=True, eq=False):
    """A schedule of some days, or what clashes; both empty where none was found in the time."""

    days: Days
    schedule: Schedule | None
    clash: Clash | None = None


class DaysPlan(QWidget):
    """Lanes of the schedule. ``answered`` carries the Answer shown, ``picked`` the id of a step."""

    answered = Signal(object)
    picked = Signal(str)
    found = Signal(object)  # a better schedule, told from the search

    def __init__(self, session: Session, tasks: Tasks | None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._tasks = session, tasks
        self.answer: Answer | None = None
        self.now: Callable[[], str] = now
        self._asked: Plan | None = None
        self._answered_for: Plan | None = None
        self._planning: Steps | None = None
        self._searching: tuple[Days, Steps] | None = None
        self.by = Combo()
        self.by.setAccessibleName("lanes by")
        for text, data in (("by zone", "zone"), ("by person", "person")):
            self.by.addItem(text, data)
        self.by.activated.connect(lambda _: self._draw())
        self.search = QPushButton(SEARCH)
        self.search.setToolTip("The earliest finish, then the fewest sandings, then the fewest late hours")
        self.search.clicked.connect(lambda: self._search())
        self.view = LanesView("steps by day, in lanes")
        self.wider, self.closer = QPushButton("−"), QPushButton("+")
        for button, by, words in ((self.wider, -1, "shorter days"), (self.closer, 1, "longer days")):
            sized(button, width=30)
            button.setAccessibleName(words)
            button.setToolTip(f"{words[:1].upper()}{words[1:]} (Ctrl+wheel, + and −)")
            button.clicked.connect(lambda checked=False, n=by: self.view.zoom(n))
        self.words = QLabel("")
        self.words.setWordWrap(True)
        self.gripes = QLabel("")
        self.gripes.setObjectName("warn")
        self.gripes.setWordWrap(True)
        self.view.picked.connect(self.picked)
        self.view.moved.connect(self._moved)
        self.view.nudged.connect(self._nudged)
        self.view.freed.connect(self._freed)
        row = QHBoxLayout()
        row.addWidget(self.by)
        row.addWidget(self.search)
        row.addWidget(self.wider)
        row.addWidget(self.closer)
        row.addWidget(self.words, 1)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.addLayout(row)
        self._column.addWidget(self.gripes)
        self._column.addWidget(self.view, 1)
        self.found.connect(self._better)

    def put_below(self, panel: QWidget) -> None:
        """Have a panel below, which may have stood elsewhere."""
        self._column.addWidget(panel)  # in one column with the lanes: a column in it would not give way to the least
        panel.show()

    def set_theme(self, theme: str) -> None:
        self.view.set_theme(theme)

    def show_plan(self, plan: Plan, today: str) -> None:
        """Plan the days of a job, beside the window; an answer for another than the last is dropped."""
        if self._asked is plan and self.answer is not None:
            self._draw()
            return
        self._asked = plan
        last = self.answer.schedule if self.answer is not None else None

        now = self.now()

        def work() -> Answer:
            days = logged_days(plan, today, now)
            return Answer(days, days.after(last))

        def take(answer: Answer | None, error: Exception | None) -> None:
            if self._asked is plan and answer is not None:
                self._answered_for = plan
                self._take(answer)
            elif error is not None:
                raise error

        self._give_up()
        if self._tasks is None:
            take(work(), None)
        else:
            self._planning = self._tasks.run_steps("", lambda _: work(), take, pause=True)

    def rest(self) -> None:
        """Nobody looks at it: nothing is planned any further; it is asked for anew when it is next shown."""
        self._give_up()
        if self._answered_for is not self._asked:
            self._asked = None

    def _give_up(self) -> None:
        if self._planning is not None:
            self._planning.cancel()
        self._planning = None

    def answer_to(self, plan: Plan) -> Answer | None:
        """The answer to a plan; None while it is worked out."""
        return self.answer if self._answered_for is plan else None

    def _take(self, answer: Answer) -> None:
        self.answer = answer
        self._draw()
        self.answered.emit(answer)
        if answer.schedule is None and answer.clash is None and self._tasks is not None and self._searching is None:
            self._search()  # a first plan was not found: is there any?

    def _draw(self) -> None:
        answer, busy = self.answer, self._searching is not None
        self.search.setText(STOP if busy else SEARCH)
        if answer is None:
            return
        days, schedule = answer.days, answer.schedule
        stale = schedule is not None and {p.id for p in schedule.placed} != set(days.by_id)
        shown = schedule if schedule is not None and schedule.placed and not stale else None
        if answer.clash is not None:
            lines = clash_words(answer.clash, days)
            self.words.setText(lines[0])
            self.gripes.setText("\n".join(lines[1:]))
        elif schedule is None:
            self.words.setText("No plan was found yet." + (" It is searched for." if busy else ""))
            self.gripes.setText("")
        else:
            self.words.setText(finish_words(days, schedule))
            self.gripes.setText("\n".join(gripes(days, schedule, self.now())[:3]))
        self.gripes.setVisible(bool(self.gripes.text()))
        best = schedule is not None and schedule.best and days.kept is schedule
        self.search.setEnabled(busy or (self._tasks is not None and bool(days.rows) and not best))
        if shown is None:
            self.view.show_lanes(None, str, str)
            return
        lanes = lanes_of(days, shown, self.by.currentData() or "zone")
        since = hours_between(days.start, self.now())
        self.view.show_lanes(
            lanes,
            lambda n: day_words(days.moment_of(n * DAY_SLOTS)),
            lambda step: step_words(days, shown, step, self._session.system),
            since if 0 <= since <= lanes.hours else None,
        )

    def look_at(self, step: str) -> None:
        """Look at a step."""
        self.view.choose(step)

    # ---- by hand ----

    def _moved(self, step: str, hours: float) -> None:
        answer = self.answer
        if answer is None or step not in answer.days.by_id:
            return
        at = answer.days.moment_of(max(round(hours * HOUR_SLOTS), 0))
        self._session.apply(change_step(self._session.job, step, answer.days.by_id[step].name, at=at))

    def _nudged(self, step: str, stands: float, by: float) -> None:
        """Move a step on; from where it was put last, while that is not drawn yet."""
        put = self._session.job.timetable.change_of(step)
        if self._answered_for is not self._session.plan and self.answer is not None and put is not None and put.at:
            stands = hours_between(self.answer.days.start, put.at)
        self._moved(step, stands + by)

    def _freed(self, step: str) -> None:
        answer = self.answer
        if answer is not None and step in answer.days.by_id:
            change = self._session.job.timetable.change_of(step)
            if change is not None and change.at:
                self._session.apply(change_step(self._session.job, step, answer.days.by_id[step].name, at=""))

    # ---- the search ----

    def _search(self) -> None:
        if self._searching is not None:
            self._searching[1].cancel()
            return
        if self.answer is None or self._tasks is None:
            return
        days, known = self.answer.days, self.answer.schedule
        spread = spread_of(days)

        def work(steps: Steps) -> Found:
            from ribpatch.scheduler.search import searched

            def told(share: float, best: Schedule | None) -> bool:
                if best is not None and best is not seen[0]:
                    seen[0] = best
                    self.found.emit((days, best))
                return steps.go_on(share)

            return searched(days.problem, SECONDS, known, told, spread)

        seen: list[Schedule | None] = [known]
        steps = self._tasks.run_steps(
            "Searching a better plan", work, lambda made, error: self._searched(days, made, error), aside=True
        )
        self._searching = (days, steps)
        self._draw()

    def _better(self, told: tuple[Days, Schedule]) -> None:
        if self.answer is not None and self.answer.days is told[0] and self._searching is not None:
            self.answer = Answer(told[0], told[1])
            self._draw()

    def _searched(self, days: Days, made: Found | None, error: Exception | None) -> None:
        self._searching = None
        here = self.answer.days if self.answer is not None else days
        if made is None or error is not None or not self._session.is_open or here.mark != days.mark:
            self._draw()
            return
        if made.schedule is None:
            self._take(Answer(days, None, made.clash))
            return
        self.answer = Answer(days, made.schedule)
        self._session.apply(keep_schedule(days.keep(made.schedule, made.span)))
