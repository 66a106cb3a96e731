"""Sessions of a survey: begin one, see which there are, how places dry, and choose two to compare."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.dates import date_example, date_words, iso_date
from ribpatch.core.errors import Fault
from ribpatch.core.survey.sessions import Drying, drying_words, latest_session, read_in
from ribpatch.core.survey_edits import begin_session, set_session
from ribpatch.core.units import place_words
from ribpatch.ui.stages.find_drying import DryingChart
from ribpatch.ui.typed import wait_for
from ribpatch.ui.widgets.combo import Combo, show_items

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.edits import Edit
    from ribpatch.core.job import Zone
    from ribpatch.core.zone_plan import ZonePlan
    from ribpatch.ui.session import Session

SHOWN = 4


class SessionsPanel(QWidget):
    """``compared`` carries the two sessions to compare."""

    compared = Signal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._curves: tuple[Drying, ...] = ()
        self._within = 3.0
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.list = QLabel("")
        self.list.setWordWrap(True)
        column.addWidget(self.list)
        row = QHBoxLayout()
        self.date, self.who = QLineEdit(), QLineEdit()
        self.date.setPlaceholderText(f"date, {date_example()}")
        self.date.setAccessibleName("date of the new session")
        self.who.setPlaceholderText("who, yard hand")
        self.who.setAccessibleName("who reads, as a role")
        self.note = QLineEdit()
        self.note.setPlaceholderText("note: weather, what was done before")
        self.note.setAccessibleName("note of the session")
        for line in (self.date, self.who, self.note):
            wait_for(line, "Begin")
        row.addWidget(self.date)
        row.addWidget(self.who)
        column.addLayout(row)
        second = QHBoxLayout()
        self.begin, self.correct = QPushButton("Begin"), QPushButton("Correct the last")
        self.begin.setToolTip("Begin a new session: readings from now on belong to it")
        self.correct.setToolTip("Put what is typed here in place of the last session's date, who and note")
        self.begin.clicked.connect(lambda: self._begin())
        self.correct.clicked.connect(lambda: self._correct())
        for widget in (self.note, self.begin, self.correct):
            second.addWidget(widget)
        column.addLayout(second)
        pair = QHBoxLayout()
        self.older, self.newer = Combo(), Combo()
        for box, name in ((self.older, "from"), (self.newer, "to")):
            label = QLabel(name)
            box.setAccessibleName(f"compare {name} session")
            box.activated.connect(lambda _index: self._compare())
            pair.addWidget(label)
            pair.addWidget(box, 1)
        column.addLayout(pair)
        self.place = Combo()
        self.place.setAccessibleName("place whose drying is shown")
        self.place.activated.connect(lambda _index: self._show_curve())
        column.addWidget(self.place)
        self.chart = DryingChart()
        column.addWidget(self.chart)
        self.drying = QLabel("")
        self.drying.setWordWrap(True)
        column.addWidget(self.drying)

    def _begin(self) -> None:
        when = iso_date(self.date.text()) or date.today().isoformat()
        self._try(lambda zone: begin_session(zone.id, when, self.who.text().strip(), self.note.text().strip()))

    def _correct(self) -> None:
        typed = {"date": self.date, "who": self.who, "note": self.note}
        given = {fact: line.text().strip() for fact, line in typed.items() if line.text().strip()}
        given |= {"date": iso_date(given["date"])} if "date" in given else {}
        self._try(lambda zone: set_session(zone.id, latest_session(zone.survey), **given))

    def _try(self, make: Callable[[Zone], Edit]) -> None:
        """Apply an edit of the zone; what was typed goes once it has been taken."""
        zone = self._session.zone
        if zone is None:
            return
        try:
            self._session.try_apply(make(zone))
        except Fault as fault:
            self._session.told.emit(fault.sentence)
            return
        self.date.clear()
        self.note.clear()
        self.who.setModified(False)

    def _compare(self) -> None:
        self.compared.emit(self.pair)

    @property
    def pair(self) -> tuple[str, str]:
        """The two sessions chosen to compare."""
        return str(self.older.currentData() or ""), str(self.newer.currentData() or "")

    def show_zone(self, zone: Zone, made: ZonePlan) -> None:
        """Show a zone's sessions and drying."""
        survey = zone.survey
        now = latest_session(survey)
        rows = [
            f"{'<b>' if s.id == now else ''}{date_words(s.date) or 'no date'}{', ' + s.who if s.who else ''}: "
            f"{read_in(survey, s.id)} readings"
            f"{'</b>' if s.id == now else ''}{' (' + s.note + ')' if s.note else ''}"
            for s in survey.sessions
        ]
        self.list.setText("<br>".join(rows) or "No sessions: everything counts as read in one go.")
        self._boxes(zone)
        self.correct.setEnabled(bool(survey.sessions))
        curves = made.drying
        self._show_places(curves, made.shelf.rule("drying.within"))
        worst = sorted(curves, key=lambda c: (c.says != "not drying", -c.over[-1]))[:SHOWN]
        system = self._session.system
        lines = [
            f"<b>{drying_words(c, system)}</b>" if c.says == "not drying" else drying_words(c, system) for c in worst
        ]
        if len(curves) > SHOWN:
            lines.append(f"and {len(curves) - SHOWN} more places")
        self.drying.setText("<br>".join(lines) or "Meter the same places on several dates to see how they dry.")

    def _show_places(self, curves: tuple[Drying, ...], within: float) -> None:
        self._curves, self._within = curves, within
        if show_items(
            self.place, [(k, f"{place_words(c.at, self._session.system)}: {c.says}") for k, c in enumerate(curves)]
        ):
            self.place.setCurrentIndex(max(range(len(curves)), key=lambda k: curves[k].over[-1], default=-1))
        self.place.setVisible(bool(curves))
        self._show_curve()

    def _show_curve(self) -> None:
        index = self.place.currentIndex()
        self.chart.show_curve(self._curves[index] if 0 <= index < len(self._curves) else None, self._within)

    def _boxes(self, zone: Zone) -> None:
        items = [(s.id, date_words(s.date) or "no date") for s in zone.survey.sessions]
        for box, usual in ((self.older, 0), (self.newer, len(items) - 1)):
            if show_items(box, items):
                box.setCurrentIndex(usual)
            box.setEnabled(len(items) > 1)
