"""Who works when, what betters the air, and the air by the hour."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ribpatch.core.dates import date_words
from ribpatch.core.day_air import air_table
from ribpatch.core.errors import Fault
from ribpatch.core.quantity import parse
from ribpatch.core.text import counted
from ribpatch.core.timetable import SKILLS
from ribpatch.core.timetable_edits import add_aid, add_person, change_person, remove_aid, remove_person, set_forecast
from ribpatch.core.timetable_typed import days_text, days_typed, spans_text, spans_typed, weekdays_text, weekdays_typed
from ribpatch.core.units import Kind, shown
from ribpatch.ui.scaling import sized
from ribpatch.ui.typed import refuse, wait_for
from ribpatch.ui.widgets.combo import Combo, show_items
from ribpatch.ui.widgets.rows import Rows
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.days import Days
    from ribpatch.core.timetable import AidKept, Person
    from ribpatch.core.units import System
    from ribpatch.ui.session import Session

AIDS = (
    ("heater", "heater, dry heat"),
    ("tent", "tent over the work"),
    ("dehumidifier", "dehumidifier"),
    ("blanket", "warm blanket on the laminate"),
    ("cover", "cover against rain"),
)
TIP = "A heater that burns gas in the shed wets the air: only dry heat keeps the dew point where it is."


class CrewPanel(QWidget):
    """Crew, aids and air. ``file_wanted`` asks for weather from a file, ``simulate_wanted`` for simulated weather."""

    file_wanted = Signal()
    simulate_wanted = Signal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        holder = QWidget()
        self._column = QVBoxLayout(holder)
        self._crew()
        self._aids()
        self._air()
        self._column.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setAccessibleName("crew and air")
        scroll.setObjectName("reads")
        scroll.setWidget(holder)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(scroll)

    def _head(self, text: str) -> None:
        label = QLabel(text)
        label.setObjectName("heading")
        self._column.addWidget(label)

    def _crew(self) -> None:
        self._head("Crew")
        self.people = Rows(("who", "hours", "late", "days", "off, and days more", "may"))
        self._column.addWidget(self.people)
        self.whose = Combo()
        self.whose.setAccessibleName("whose hours")
        self.whose.setMinimumContentsLength(16)
        self.whose.setToolTip("Someone of the crew, to change; or someone more")
        self.whose.activated.connect(lambda _: self._take_person())
        self.name, self.hours, self.late, self.days, self.off, self.more = (QLineEdit() for _ in range(6))
        self.add = QPushButton("Add to the crew")
        form = QGridLayout()
        for column, (edit, words, hint, text) in enumerate(
            (
                (self.name, "who", "As yard hand", ""),
                (self.hours, "hours", "As 8-12, 13-17", "8-17"),
                (self.late, "late hours", "As 18-21", ""),
                (self.days, "days", "As Mon-Fri; none for a visitor", "Mon-Fri"),
                (self.off, "days off", f"As {date_words('2026-12-24')} to {date_words('2026-12-31')}", ""),
                (self.more, "days more", f"As {date_words('2026-12-05')}", ""),
            )
        ):
            label = QLabel(words)
            label.setObjectName("soft")
            edit.setText(text)
            edit.setAccessibleName(words)
            edit.setToolTip(hint)
            wait_for(edit, "Add to the crew")
            form.addWidget(label, 0, column)
            form.addWidget(edit, 1, column)
        self.skills = {skill: QCheckBox(f"may {skill}") for skill in SKILLS}
        row = QHBoxLayout()
        row.addWidget(self.whose)
        for box in self.skills.values():
            box.setChecked(True)
            row.addWidget(box)
        row.addStretch(1)
        row.addWidget(self.add)
        self.add.clicked.connect(lambda: self._add_person())
        self._column.addLayout(form)
        self._column.addLayout(row)

    def _aids(self) -> None:
        self._head("What betters the air")
        self.aids = Rows(("what", "to", "power"))
        self._column.addWidget(self.aids)
        self.kind = Combo()
        self.kind.setAccessibleName("what betters the air")
        for key, words in AIDS:
            self.kind.addItem(words, key)
        self.to, self.power = QLineEdit(), QLineEdit()
        self.set_up = QPushButton("Set it up")
        self.set_up.clicked.connect(lambda: self._add_aid())
        row = QHBoxLayout()
        row.addWidget(self.kind)
        for edit, words, hint in (
            (self.to, "to which temperature or humidity", "18 c, or 55 %"),
            (self.power, "power of a heater, as 2 kW; empty: enough", "power"),
        ):
            edit.setAccessibleName(words)
            edit.setPlaceholderText(hint)
            edit.setToolTip(words[:1].upper() + words[1:])
            wait_for(edit, "Set it up")
            row.addWidget(edit)
        row.addWidget(self.set_up)
        self._column.addLayout(row)
        note = QLabel(TIP)
        note.setObjectName("soft")
        note.setWordWrap(True)
        self._column.addWidget(note)

    def _air(self) -> None:
        self._head("Air by the hour")
        row = QHBoxLayout()
        self.read = QPushButton("Read a CSV")
        self.read.setToolTip("Columns: time, temperature, humidity, rain; times as 2026-12-01 14:00")
        self.read.clicked.connect(lambda: self.file_wanted.emit())
        self.simulate = QPushButton("Simulated weather")
        self.simulate.setToolTip("Weather that could be at this time of the year; it is no forecast")
        self.simulate.clicked.connect(lambda: self.simulate_wanted.emit())
        self.forget = QPushButton("As the shed is stated")
        self.forget.setToolTip("Forget the hours: the temperature and humidity on the strip go on")
        self.forget.clicked.connect(lambda: self._session.apply(set_forecast(None)))
        self.origin = QLabel("")
        self.origin.setObjectName("soft")
        self.origin.setWordWrap(True)
        for button in (self.read, self.simulate, self.forget):
            row.addWidget(button)
        row.addStretch(1)
        self._column.addLayout(row)
        self._column.addWidget(self.origin)
        self.table = TableView("air at the work by day")
        sized(self.table, least_height=220)
        self._column.addWidget(self.table)

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)

    def show_days(self, days: Days, system: System) -> None:
        """Show who works and the air."""
        table = days.table
        rows = [_person_row(p) for p in table.people]
        self.people.show_rows(rows, lambda n: self._session.apply(remove_person(self._session.job, table.people[n].id)))
        show_items(self.whose, [("", "someone more"), *((p.id, p.name) for p in table.people)])
        self.add.setText("Change" if self._person is not None else "Add to the crew")
        self.aids.show_rows(
            [_aid_row(a, system) for a in table.aids],
            lambda n: self._session.apply(remove_aid(self._session.job, table.aids[n].id)),
        )
        told = table.forecast
        if told is None:
            self.origin.setText("None told: the air of the shed as stated goes on, day and night.")
        else:
            count = len(told.temperature)
            self.origin.setText(
                f"{counted(count, 'hour', 'hours')} from {date_words(told.start)}; {told.origin}. Then as before it."
            )
        self.forget.setEnabled(told is not None)
        self.table.show_table(air_table(days, system), system)

    @property
    def _person(self) -> Person | None:
        """The one whose hours are changed; None where someone is added."""
        wanted = str(self.whose.currentData() or "")
        return next((p for p in self._session.job.timetable.people if p.id == wanted), None)

    def _take_person(self) -> None:
        """Take someone into the lines."""
        who = self._person
        self.add.setText("Change" if who is not None else "Add to the crew")
        if who is None:
            return
        texts = (who.name, spans_text(who.hours), spans_text(who.late), weekdays_text(who.days))
        lines = (self.name, self.hours, self.late, self.days, self.off, self.more)
        for line, text in zip(lines, (*texts, days_text(who.off), days_text(who.more)), strict=True):
            line.setText(text)
        for skill, box in self.skills.items():
            box.setChecked(skill in who.skills)

    def _add_person(self) -> None:
        try:
            stated: dict[str, Any] = dict(
                name=self.name.text().strip() or "yard hand",
                hours=spans_typed(self.hours.text(), "hours"),
                late=spans_typed(self.late.text(), "late hours"),
                days=weekdays_typed(self.days.text()),
                off=days_typed(self.off.text(), "days off"),
                more=days_typed(self.more.text(), "days more"),
                skills=tuple(s for s, box in self.skills.items() if box.isChecked()),
            )
            job, who = self._session.job, self._person
            self._session.try_apply(change_person(job, who.id, **stated) if who else add_person(job, **stated))
        except Fault as fault:
            refuse(self.name, fault.sentence)
            self._session.told.emit(fault.sentence)
            return
        self.whose.setCurrentIndex(0)
        self._take_person()
        for line in (self.name, self.late, self.off, self.more):
            line.clear()
        for line in (self.hours, self.days):
            line.setModified(False)

    def _add_aid(self) -> None:
        kind, text, power = str(self.kind.currentData()), self.to.text().strip(), self.power.text().strip()
        system = self._session.system
        try:
            stated: dict[str, object] = {"kind": kind}
            if kind == "dehumidifier":
                stated["humidity"] = parse(text or "55 %", Kind.PERCENT, system).measure
            elif kind in ("heater", "blanket"):
                stated["degrees"] = parse(text or "20 c", Kind.TEMPERATURE, system).measure
            if kind == "heater" and power:
                stated["power"] = parse(power, Kind.POWER, system).measure
            self._session.try_apply(add_aid(self._session.job, **stated))
        except Fault as fault:
            refuse(self.to, fault.sentence)
            self._session.told.emit(fault.sentence)
            return
        self.to.clear()
        self.power.clear()


def _person_row(p: Person) -> tuple[str, ...]:
    off = f"off {days_text(p.off)}" if p.off else ""
    more = f"also {days_text(p.more)}" if p.more else ""
    may = "all" if len(p.skills) == len(SKILLS) else ", ".join(p.skills) or "help"
    days = weekdays_text(p.days) or "–"
    return (p.name, spans_text(p.hours), spans_text(p.late), days, "; ".join(t for t in (off, more) if t), may)


def _aid_row(a: AidKept, system: System) -> tuple[str, ...]:
    to = ""
    if a.degrees is not None:
        to = shown(a.degrees.si, Kind.TEMPERATURE, system)
    elif a.humidity is not None:
        to = shown(a.humidity.si, Kind.PERCENT, system)
    power = shown(a.power.si, Kind.POWER, system) if a.power is not None else ""
    return (dict(AIDS)[a.kind], to, power)
