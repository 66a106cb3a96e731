"""Days: when it begins, the shed, and what goes out on paper or into a calendar."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QPushButton

from ribpatch.core.text import counted
from ribpatch.core.timetable_edits import all_free, none_skipped
from ribpatch.core.units import Kind, shown
from ribpatch.ui.stages.stage import Stage
from ribpatch.ui.widgets.entry import Choice, Field

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.fields import Path
    from ribpatch.core.plan import Plan
    from ribpatch.ui.shell import Shell

LIES = (("in the shed", False), ("outdoors", True))


class DaysStage(Stage):
    """The decisions of the Days rung."""

    name = "days"
    title = "Days"
    first = ("Begin", "Shed")

    def connect_to(self, window: Shell) -> None:
        trigger = window.actions_table.trigger
        self.sheet.clicked.connect(lambda: trigger("day_sheet"))
        self.ics.clicked.connect(lambda: trigger("export_ics"))

    def build(self) -> None:
        card = self.card("Begin", ())
        self.bind(card, Field(self.session, self._path("timetable", "start"), parent=card.body))
        self.bind(card, Field(self.session, self._path("timetable", "weeks"), parent=card.body))
        self.bind(card, Field(self.session, self._path("timetable", "ordered"), parent=card.body))
        card = self.card("Shed", ())
        self.bind(card, Field(self.session, self._path("timetable", "shed_from"), parent=card.body))
        self.bind(card, Field(self.session, self._path("timetable", "shed_until"), parent=card.body))
        self.lies = Choice(self.session, self._path("timetable", "outdoors"), LIES, "She lies")
        self.bind(card, self.lies)
        self.crew_note = card.add_text("")
        card = self.card("Put by hand", ())
        self.hand_note = card.add_text("")
        self.free = QPushButton("Let all find their place")
        self.free.clicked.connect(lambda: self.session.apply(all_free(self.session.job)))
        card.add(self.free)
        self.again = QPushButton("Take skipped steps back")
        self.again.clicked.connect(lambda: self.session.apply(none_skipped(self.session.job)))
        card.add(self.again)
        card = self.card("Hours of work", (), "job.hours")
        self.hours_note = card.add_text("")
        card = self.card("Papers", ())
        self.sheet, self.ics = QPushButton("A day's sheet"), QPushButton("Calendar file")
        self.sheet.setToolTip("The sheet of the day looked at, as PDF")
        self.ics.setToolTip("Every stretch of work as an event, as .ics")
        row = QHBoxLayout()
        row.addWidget(self.sheet)
        row.addWidget(self.ics)
        card.add(row)

    def _path(self, *path: str) -> Callable[[], Path | None]:
        return lambda: path if self.session.is_open else None

    def show_plan(self, plan: Plan) -> None:
        table, system = plan.job.timetable, self.session.system
        people = ", ".join(p.name for p in table.people)
        self.crew_note.setText(
            f"Crew: {people}." if people else "Crew: one hand, 8 to 17 h, Monday to Friday, until you say who works."
        )
        put = [c for c in table.changes if c.at]
        skipped = [c for c in table.changes if c.skipped]
        words = (
            f"{counted(len(put), 'step stays where it was put', 'steps stay where they were put')}."
            if put
            else "No step was put by hand."
        )
        if skipped:
            words += " Skipped: " + "; ".join(f"{c.step} ({c.skipped})" for c in skipped) + "."
        self.hand_note.setText(words)
        self.free.setEnabled(bool(put))
        self.again.setVisible(bool(skipped))
        lines = []
        for made in plan.zones:
            total = sum(r.hours for r in made.steps.rows)
            if total:
                lines.append(f"{made.zone.name}: {shown(total, Kind.HOURS, system)}")
        self.hours_note.setText("\n".join(lines))


STAGE = DaysStage
