"""Sessions of a survey: begin one, see which there are, how places dry, and choose two to compare."""

from __future__ import annotations

from datetime import date

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.errors import Fault
from ribpatch.core.job import Zone
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.survey.sessions import Drying, drying_curves, latest_session, read_in
from ribpatch.core.survey_edits import begin_session
from ribpatch.ui.session import Session
from ribpatch.ui.widgets.drying_chart import DryingChart

SHOWN = 4


def drying_words(curve: Drying) -> str:
    """One place's drying in a line."""
    place = f"{curve.at[0] * 1000:.0f}, {curve.at[1] * 1000:.0f} mm"
    trend = f"{curve.over[0]:+.0f} to {curve.over[-1]:+.0f} over the reference in {curve.days[-1]:.0f} days"
    early, middle, late = curve.dates
    if curve.says == "dry":
        return f"{place}: {trend}; at the reference."
    if curve.says == "drying" and middle is not None:
        span = (
            f" ({early:%d %b} to {late:%d %b %Y}, 4 in 5)"
            if early and late
            else f" (from {early:%d %b}, open end)"
            if early
            else ""
        )
        return f"{place}: {trend}; at the reference about {middle:%d %b %Y}{span}."
    if curve.says == "not drying":
        return f"<b>{place}: {trend}; not drying: look for the source.</b>"
    return f"{place}: {trend}; too few dates to say."


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
        self.date.setPlaceholderText("date, 2026-05-14")
        self.date.setAccessibleName("date of the new session")
        self.who.setPlaceholderText("who, yard hand")
        self.who.setAccessibleName("who reads, as a role")
        self.begin = QPushButton("Begin")
        self.begin.setToolTip("Begin a new session: readings from now on belong to it")
        self.begin.clicked.connect(lambda: self._begin())
        for widget in (self.date, self.who, self.begin):
            row.addWidget(widget)
        column.addLayout(row)
        pair = QHBoxLayout()
        self.older, self.newer = QComboBox(), QComboBox()
        for box, name in ((self.older, "from"), (self.newer, "to")):
            label = QLabel(name)
            box.setAccessibleName(f"compare {name} session")
            box.activated.connect(lambda _index: self._compare())
            pair.addWidget(label)
            pair.addWidget(box, 1)
        column.addLayout(pair)
        self.place = QComboBox()
        self.place.setAccessibleName("place whose drying is shown")
        self.place.activated.connect(lambda _index: self._show_curve())
        column.addWidget(self.place)
        self.chart = DryingChart()
        column.addWidget(self.chart)
        self.drying = QLabel("")
        self.drying.setWordWrap(True)
        column.addWidget(self.drying)

    def _begin(self) -> None:
        zone = self._session.zone
        if zone is None:
            return
        when = self.date.text().strip() or date.today().isoformat()
        try:
            self._session.try_apply(begin_session(zone.id, when, self.who.text().strip()))
        except Fault as fault:
            self._session.told.emit(fault.sentence)
            return
        self.date.clear()

    def _compare(self) -> None:
        self.compared.emit((str(self.older.currentData() or ""), str(self.newer.currentData() or "")))

    @property
    def pair(self) -> tuple[str, str]:
        """The two sessions chosen to compare."""
        return str(self.older.currentData() or ""), str(self.newer.currentData() or "")

    def show_zone(self, zone: Zone, shelf: Shelf) -> None:
        """Show a zone's sessions and drying."""
        survey = zone.survey
        now = latest_session(survey)
        rows = [
            f"{'<b>' if s.id == now else ''}{s.date or 'no date'}{', ' + s.who if s.who else ''}: {read_in(survey, s.id)} readings"
            f"{'</b>' if s.id == now else ''}{' (' + s.note + ')' if s.note else ''}"
            for s in survey.sessions
        ]
        self.list.setText("<br>".join(rows) or "No sessions: everything counts as read in one go.")
        self._boxes(zone)
        curves = drying_curves(survey, shelf)
        self._show_places(curves, shelf.rule("drying.within"))
        worst = sorted(curves, key=lambda c: (c.says != "not drying", -c.over[-1]))[:SHOWN]
        lines = [drying_words(c) for c in worst]
        if len(curves) > SHOWN:
            lines.append(f"and {len(curves) - SHOWN} more places")
        self.drying.setText("<br>".join(lines) or "Meter the same places on several dates to see how they dry.")

    def _show_places(self, curves: tuple[Drying, ...], within: float) -> None:
        self._curves, self._within = curves, within
        items = [f"{c.at[0] * 1000:.0f}, {c.at[1] * 1000:.0f} mm: {c.says}" for c in curves]
        if [self.place.itemText(i) for i in range(self.place.count())] != items:
            self.place.clear()
            self.place.addItems(items)
            wettest = max(range(len(curves)), key=lambda k: curves[k].over[-1], default=-1)
            self.place.setCurrentIndex(wettest)
        self.place.setVisible(bool(curves))
        self._show_curve()

    def _show_curve(self) -> None:
        index = self.place.currentIndex()
        self.chart.show_curve(self._curves[index] if 0 <= index < len(self._curves) else None, self._within)

    def _boxes(self, zone: Zone) -> None:
        items = [(s.id, s.date or "no date") for s in zone.survey.sessions]
        for box, usual in ((self.older, 0), (self.newer, len(items) - 1)):
            if [(box.itemData(i), box.itemText(i)) for i in range(box.count())] != items:
                box.clear()
                for identity, text in items:
                    box.addItem(text, identity)
                box.setCurrentIndex(usual)
            box.setEnabled(len(items) > 1)
