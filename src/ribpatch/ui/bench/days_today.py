"""One day's sheet, and what is worth doing in a few hours to spare or a weekend."""

from __future__ import annotations

from datetime import date, timedelta
from html import escape
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QTextBrowser, QVBoxLayout, QWidget

from ribpatch.core.dates import date_example, date_words, day_words, moment_words
from ribpatch.core.day_words import day_sheet, weekend_after
from ribpatch.core.errors import Fault
from ribpatch.core.numerals import fixed, general
from ribpatch.core.slots import DAY_SLOTS
from ribpatch.core.spare_time import fits_in, worth_doing
from ribpatch.core.timetable_typed import days_typed, spans_typed
from ribpatch.ui.scaling import sized
from ribpatch.ui.typed import refuse

if TYPE_CHECKING:
    from ribpatch.core.calendar.problem import Schedule
    from ribpatch.core.day_words import DaySheet
    from ribpatch.core.days import Days
    from ribpatch.core.plan import Plan
    from ribpatch.core.spare_time import Fit, Offer
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Tasks

MOST_OFFERS = 8


class TodayPanel(QWidget):
    """The sheet of a day. ``printed`` carries the day whose sheet is wanted on paper."""

    printed = Signal(str)

    def __init__(self, session: Session, tasks: Tasks | None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._tasks = session, tasks
        self._days: Days | None = None
        self._schedule: Schedule | None = None
        self.day = ""
        self.edit = QLineEdit()
        self.edit.setAccessibleName("day of the sheet")
        sized(self.edit, most_width=110)
        self.edit.editingFinished.connect(lambda: self._typed())
        self.back, self.on, self.first = QPushButton("‹"), QPushButton("›"), QPushButton("Next day with work")
        self.paper = QPushButton("Print")
        self.paper.setToolTip("This day's sheet as PDF")
        self.paper.clicked.connect(lambda: self.printed.emit(self.day))
        for button, by in ((self.back, -1), (self.on, 1)):
            sized(button, width=30)
            button.setAccessibleName("a day earlier" if by < 0 else "a day later")
            button.clicked.connect(lambda checked=False, n=by: self._step(n))
        self.first.clicked.connect(lambda: self._next_work())
        self.text = QTextBrowser()
        self.text.setAccessibleName("the day's sheet")
        self.text.setOpenLinks(False)
        self.spare = QLineEdit("18-21")
        self.spare.setAccessibleName("hours to spare that day")
        sized(self.spare, least_width=56, most_width=90)
        self.ask = QPushButton("What is worth doing?")
        self.ask.setToolTip("Each step that could be begun in these hours, and what it brings forward")
        self.ask.clicked.connect(lambda: self._ask())
        self.weekend = QPushButton("What fits in the weekend?")
        self.weekend.setToolTip("If the whole crew works 8 to 18 h on the weekend after this day")
        self.weekend.clicked.connect(lambda: self._weekend())
        row, below = QHBoxLayout(), QHBoxLayout()
        for widget in (self.back, self.edit, self.on, self.first, self.paper):
            row.addWidget(widget)
        row.addStretch(1)
        label = QLabel("To spare, h")
        for w in (label, self.spare, self.ask, self.weekend):
            below.addWidget(w)
        below.addStretch(1)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addLayout(row)
        layout.addWidget(self.text, 1)
        layout.addLayout(below)
        self.setEnabled(False)  # until there are days

    def show_days(self, plan: Plan, days: Days, schedule: Schedule | None, today: str) -> None:
        """Show the sheet of the day looked at; the first time of today, or the first day of the plan."""
        self._days, self._schedule = days, schedule
        self.setEnabled(True)
        if not self.day:
            self.day = max(today, days.start)
            if schedule is not None and schedule.placed and days.slot_of(self.day) >= schedule.finish:
                self.day = days.start
        self._show(plan)

    def _show(self, plan: Plan) -> None:
        self.edit.setText(date_words(self.day))
        self.edit.setModified(False)
        if self._days is None or self._schedule is None:
            self.text.setPlainText("No plan yet.")
            return
        sheet = day_sheet(plan, self._days, self._schedule, self.day, self._session.system)
        self.text.setHtml(sheet_html(sheet))

    def _step(self, by: int) -> None:
        self.day = (date.fromisoformat(self.day) + timedelta(days=by)).isoformat()
        self._show(self._session.plan)

    def _next_work(self) -> None:
        days, plan = self._days, self._schedule
        if days is None or plan is None:
            return
        after = days.slot_of(self.day) + DAY_SLOTS
        later = sorted(max(p.start, after) for p in plan.placed if p.who and p.end > after)
        if later:
            self.day = days.moment_of(later[0])[:10]
            self._show(self._session.plan)

    def _typed(self) -> None:
        if not self.edit.isModified():
            return
        self.edit.setModified(False)
        try:
            self.day = days_typed(self.edit.text(), "day")[0]
        except (Fault, IndexError) as error:
            sentence = error.sentence if isinstance(error, Fault) else f"Write a day, as {date_example()}."
            refuse(self.edit, sentence)
            self._session.told.emit(sentence)
        self._show(self._session.plan)

    def _ask(self) -> None:
        days = self._days
        if days is None:
            return
        try:
            span = spans_typed(self.spare.text(), "hours")[0]
        except (Fault, IndexError) as error:
            self._session.told.emit(error.sentence if isinstance(error, Fault) else "Write the hours, as 18-21.")
            return
        minutes = round(span.start * 60)
        start = f"{self.day}T{minutes // 60:02d}:{minutes % 60:02d}"
        hours = span.end - span.start
        self._run(lambda: worth_doing(days, start, hours), lambda found: offers_html(found, start, hours))

    def _weekend(self) -> None:
        days = self._days
        if days is None:
            return
        first, last = weekend_after(self.day)
        self._run(lambda: fits_in(days, first, last), lambda fit: fit_html(fit, days, first))

    def _run(self, work: object, words: object) -> None:
        days = self._days

        def take(found: object, error: Exception | None) -> None:
            if error is None and self._days is days:
                self.text.setHtml(words(found))  # type: ignore[operator]  # of this call

        if self._tasks is None:
            take(work(), None)  # type: ignore[operator]  # of this call
        else:
            self._tasks.run("", work, take)  # type: ignore[arg-type]  # of this call


def sheet_html(sheet: DaySheet) -> str:
    """A day's sheet as text with headings."""
    parts = [f"<h3>{day_words(sheet.day)}</h3><p>{escape(sheet.air)}</p>"]
    if not sheet.steps:
        parts.append("<p>No work is planned for this day.</p>")
    for step in sheet.steps:
        parts.append(f"<p><b>{escape(step.time)} &nbsp; {escape(step.title)}</b> ({escape(step.who)})")
        if step.missed:
            parts.append("<br>⚠ Its window is missed: wash and abrade first.")
        for words in (step.cups, f"Lay out: {step.lay_out}" if step.lay_out else "", *step.notes):
            if words:
                parts.append(f"<br>{escape(words)}")
        parts += [f"<br>⚠ {escape(text)}" for text in step.cautions]
        parts.append("</p>")
    if sheet.waits:
        parts.append("<p><b>Meanwhile</b><br>" + "<br>".join(escape(w) for w in sheet.waits) + "</p>")
    return "".join(parts)


def offers_html(offers: tuple[Offer, ...], start: str, hours: float) -> str:
    """What is worth doing, best first."""
    head = f"<h3>{general(hours)} hours from {moment_words(start)}</h3>"
    if not offers:
        return (
            f"{head}<p>Nothing can be begun then: what is next waits for a cure, for drying or for air to lay in.</p>"
        )
    rows = []
    for o in offers[:MOST_OFFERS]:
        gain = f"all is done {_span(o.gain)} earlier" if o.gain > 0 else "the finish stays as it is"
        gain = f"all would be done {_span(-o.gain)} later" if o.gain < 0 else gain
        part = ", a part of it" if o.part else ""
        missed = f"; {o.missed} more windows missed" if o.missed > 0 else ""
        follows = f"; {o.follows}" if o.follows else ""
        where = f"{o.zone}: " if o.zone else ""
        rows.append(
            f"<p><b>{escape(where + o.name)}</b>, {general(o.hours)} h{part}: {escape(gain + missed + follows)}.</p>"
        )
    return head + "".join(rows)


def fit_html(fit: Fit | None, days: Days, first: str) -> str:
    """What fits in a weekend."""
    head = f"<h3>Weekend of {day_words(first)}</h3>"
    if fit is None or not fit.steps:
        return f"{head}<p>Nothing fits: what is next waits for a cure, for drying or for air to lay in.</p>"
    names = days.zone_names
    rows = "<br>".join(
        escape(f"{names.get(days.by_id[s].zone, 'the whole job')}: {days.by_id[s].name}") for s in fit.steps
    )
    gain = f"All is done {_span(fit.gain)} earlier" if fit.gain > 0 else "The finish stays as it is"
    return f"{head}<p>{rows}</p><p>{gain}: on {moment_words(days.moment_of(fit.finish))}.</p>"


def _span(hours: float) -> str:
    return f"{fixed(hours / 24, 1)} days" if hours >= 36 else f"{general(hours)} hours"
