"""The bench of Cause: the argument. Ranked causes with their bands, what speaks for and against each, what does not
fit.
"""

from __future__ import annotations

from html import escape
from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPaintEvent, QPen
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from ribpatch.core.diagnosis.words import ROLES, band
from ribpatch.core.text import percent, upper
from ribpatch.ui.scaling import grown, painter_of, room_of, sized
from ribpatch.ui.theme import colours, text_font
from ribpatch.ui.widgets.emptying import clear_layout
from ribpatch.ui.widgets.figure_button import FigureButton

if TYPE_CHECKING:
    from ribpatch.core.diagnosis.diagnose import Diagnosis, Evidence, Ranked
    from ribpatch.core.figure import Figure
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Tasks

IN_FULL, SHORT = 5, 6  # causes with their evidence, then by name only
MOST_EVIDENCE = 4


def _said(evidence: Evidence) -> str:
    there = evidence.finding.name if evidence.there else f"not: {evidence.finding.name}"
    return f"{escape(there)} ({evidence.words})"


def evidence_words(ranked: Ranked) -> str:
    """What speaks for and against a cause, as rich text."""
    lines: list[str] = []
    for title, rows in (("for", ranked.for_it), ("against", ranked.against)):
        if rows:
            more = f" and {len(rows) - MOST_EVIDENCE} more" if len(rows) > MOST_EVIDENCE else ""
            lines.append(f"<b>{title}</b> " + "; ".join(_said(e) for e in rows[:MOST_EVIDENCE]) + more)
    return "<br>".join(lines) or "nothing found speaks for or against it"


class ChanceBar(QWidget):
    """A chance from 0 to 1 as a bar, with its band."""

    def __init__(self, ranked: Ranked, theme: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ranked, self._theme = ranked, theme
        sized(self, height=12)
        self.setAccessibleName(f"{ranked.cause.name} {ranked.chance:.0%}, {ranked.low:.0%} to {ranked.high:.0%}")
        self.setToolTip("Bar: the chance. Line: where it lies if every probability of the data were somewhat off.")

    def sizeHint(self) -> QSize:
        return grown(QSize(200, 12))

    def paintEvent(self, event: QPaintEvent) -> None:
        c = colours(self._theme)
        painter = painter_of(self)
        wide = room_of(self).width() - 2
        painter.fillRect(QRectF(1, 2, wide, 8), c["rail"])
        painter.fillRect(
            QRectF(1, 2, wide * self._ranked.chance, 8), c["accent" if self._ranked.role != "unlikely" else "edge"]
        )
        painter.setPen(QPen(c["ink"], 1.6))
        low, high = 1 + wide * self._ranked.low, 1 + wide * self._ranked.high
        painter.drawLine(int(low), 6, int(high), 6)
        for x in (low, high):
            painter.drawLine(int(x), 2, int(x), 10)
        painter.end()


class CauseBench(QScrollArea):
    """The argument of one zone. ``asked`` carries a figure's id whose working is wanted."""

    asked = Signal(object)

    def __init__(self, session: Session, _tasks: Tasks | None = None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.theme = "light"
        self._shown: tuple[object, ...] = ()
        self.setWidgetResizable(True)
        self.setAccessibleName("why it failed")
        self.setObjectName("reads")
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(12, 8, 12, 10)
        column.setSpacing(7)
        self.heading, self.sentence = QLabel(""), QLabel("")
        self.heading.setObjectName("title")
        self.sentence.setFont(text_font(11))
        self.sentence.setWordWrap(True)
        column.addWidget(self.heading)
        column.addWidget(self.sentence)
        self._rows = QVBoxLayout()
        self._rows.setSpacing(7)
        column.addLayout(self._rows)
        column.addStretch(1)
        self.setWidget(body)

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self.theme = theme
        self._shown = ()
        if self._session.is_open:
            self.show_plan(self._session.plan, self._session.system)

    def show_plan(self, plan: Plan, system: System) -> None:
        """Show the argument of the zone worked on."""
        zone = self._session.zone
        if zone is None:
            self.heading.setText("No zone yet")
            self.sentence.setText("Add a zone in Boat first.")
            self._shown = ()
            clear_layout(self._rows)
            return
        made = plan.zone(zone.id).diagnosis
        looks = (zone.id, zone.name, made, system, self.theme)
        if looks == self._shown:
            return
        self._shown = looks
        self._show(zone, made, plan, system)

    def _show(self, zone: Zone, made: Diagnosis, plan: Plan, system: System) -> None:
        self.heading.setText(f"Why {zone.name} failed")
        self.sentence.setText(plan.zone(zone.id).cause_words)
        clear_layout(self._rows)
        if made.contradictions:
            self._rows.addWidget(self._contradictions(made))
        figures = plan.zone(zone.id).by_id
        argued = made.argued[:IN_FULL]
        for ranked in argued:
            self._rows.addWidget(self._row(ranked, figures.get(f"cause.{ranked.cause.id}"), system))
        rest = [r for r in made.ranked if r not in argued][:SHORT]
        if rest:
            words = "; ".join(f"{r.cause.name} {percent(r.chance)}" for r in rest)
            label = QLabel(f"{'The rest' if made.said else 'Less likely'}: {words}.")
            label.setObjectName("soft")
            label.setWordWrap(True)
            self._rows.addWidget(label)

    def _row(self, ranked: Ranked, figure: Figure | None, system: System) -> QFrame:
        frame = QFrame()
        frame.setObjectName("card")
        column = QVBoxLayout(frame)
        column.setContentsMargins(12, 7, 12, 8)
        column.setSpacing(3)
        top = QHBoxLayout()
        name = QLabel(upper(ranked.cause.name))
        name.setFont(text_font(11, bold=True))
        name.setToolTip(ranked.cause.means)
        top.addWidget(name)
        top.addSpacing(10)
        role = QLabel(ROLES[ranked.role])
        role.setObjectName("soft")
        top.addWidget(role)
        top.addStretch(1)
        words = QLabel(f"{ranked.words}, band {band(ranked)}")
        top.addWidget(words)
        chance = FigureButton()
        chance.show_figure(figure, system)
        chance.setText(percent(ranked.chance))
        chance.asked.connect(lambda f: self.asked.emit(f.id))
        top.addWidget(chance)
        column.addLayout(top)
        column.addWidget(ChanceBar(ranked, self.theme))
        evidence = QLabel(evidence_words(ranked))
        evidence.setTextFormat(Qt.TextFormat.RichText)
        evidence.setWordWrap(True)
        column.addWidget(evidence)
        return frame

    def _contradictions(self, made: Diagnosis) -> QLabel:
        rows = [
            f"{c.finding.name if c.there else 'not: ' + c.finding.name} (the rest made that {c.chance:.0%} likely)"
            for c in made.contradictions[:3]
        ]
        label = QLabel(f"⚠ Does not fit the rest: {escape('; '.join(rows))}. Look again before trusting either.")
        label.setObjectName("warn")
        label.setWordWrap(True)
        return label


BENCH = CauseBench
