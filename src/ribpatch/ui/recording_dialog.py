"""A recording of taps: its waveform with the strikes found, one strike's spectrum, and each strike's verdict and
its chance.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QHeaderView,
    QLabel,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ribpatch.core.numerals import fixed
from ribpatch.core.readings import Reading, Strike
from ribpatch.core.survey.acoustics import MOST_FREQUENCY, WINDOW, Measured, mono, spectrum
from ribpatch.core.survey.entry import strike_reading
from ribpatch.core.survey.strikes import Verdict, verdict_of
from ribpatch.core.survey_edits import add_readings
from ribpatch.core.text import counted, percent
from ribpatch.ui.scaling import grown, room_of, size_within, sized
from ribpatch.ui.theme import colours, font
from ribpatch.ui.widgets.themed import Themed

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats, Point
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.ui.session import Session

COLUMNS = ("at", "dominant Hz", "centroid Hz", "decay ms", "contact ms", "over noise dB", "verdict", "chance")


class Recording(Struct, frozen=True, eq=False):
    """A recording as opened: its name, bytes, samples (n, channels) full scale 1, rate in Hz, and its strikes."""

    name: str
    raw: bytes
    samples: Floats
    rate: int
    strikes: tuple[Measured, ...]


def known_strikes(zone: Zone) -> tuple[Strike, ...]:
    """The zone's reference strikes."""
    marked = set(zone.survey.references)
    return tuple(r for r in zone.survey.readings if isinstance(r, Strike) and r.id in marked)


class Trace(Themed):
    """A line of values with marks: the waveform over time, or a spectrum over frequency."""

    def __init__(self, name: str, theme: str, parent: QWidget | None = None) -> None:
        super().__init__(name, parent)
        self.theme = theme
        sized(self, least_height=110)
        self._title, self._values, self._chosen = "", np.zeros(0), -1
        self._marks: tuple[float, ...] = ()
        self._ends = ("", "")

    def sizeHint(self) -> QSize:
        return grown(QSize(760, 130))

    def show_values(
        self, title: str, values: Floats, marks: tuple[float, ...], chosen: int, ends: tuple[str, str]
    ) -> None:
        """Show values with marks at shares 0 to 1 of the width, the chosen one stronger."""
        self._title, self._values, self._marks, self._chosen, self._ends = title, values, marks, chosen, ends
        self.update()

    def paint(self, painter: QPainter) -> None:
        c = colours(self.theme)
        painter.fillRect(room_of(self), c["panel"])
        painter.setPen(c["edge"])
        painter.drawRect(room_of(self).adjusted(0, 0, -1, -1))
        box = QRectF(8, 20, room_of(self).width() - 16, room_of(self).height() - 38)
        painter.setFont(font(8.5))
        painter.setPen(c["soft"])
        painter.drawText(QPointF(8, 14), self._title)
        painter.drawText(QPointF(8, room_of(self).height() - 5), self._ends[0])
        metrics = painter.fontMetrics()
        painter.drawText(
            QPointF(room_of(self).width() - 8 - metrics.horizontalAdvance(self._ends[1]), room_of(self).height() - 5),
            self._ends[1],
        )
        for number, share in enumerate(self._marks):
            here = number == self._chosen
            painter.setPen(
                QPen(c["accent"], 2.2 if here else 1.0, Qt.PenStyle.SolidLine if here else Qt.PenStyle.DashLine)
            )
            x = box.left() + share * box.width()
            painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
            painter.drawText(QPointF(x + 3, box.top() + 9), str(number + 1))
        if self._values.size > 1:
            painter.setPen(QPen(c["ink"], 1.0))
            low, high = float(self._values.min()), float(self._values.max())
            along = box.left() + np.linspace(0, 1, self._values.size) * box.width()
            up = box.bottom() - (self._values - low) / max(high - low, 1e-12) * box.height()
            spots = [QPointF(a, b) for a, b in zip(along.tolist(), up.tolist(), strict=True)]
            painter.drawPolyline(QPolygonF(spots))


def envelope(wave: Floats, count: int = 700) -> Floats:
    """Least and greatest sample of each of ``count`` parts, one after the other: what a waveform looks like."""
    if wave.size <= 2 * count:
        return wave
    parts = wave[: wave.size // count * count].reshape(count, -1)
    return np.asarray(np.column_stack([parts.min(axis=1), parts.max(axis=1)]).ravel())


class RecordingDialog(QDialog):
    """Shows a recording and adds its strikes as readings, or as reference strikes of the panel."""

    def __init__(
        self, made: Recording, session: Session, zone: Zone, parent: QWidget | None = None, theme: str = "light"
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Taps in {made.name}")
        size_within(self, 1000, 640)
        self._made, self._session, self._zone = made, session, zone
        self._known = known_strikes(zone)
        layout = QVBoxLayout(self)
        self.words = QLabel("")
        self.words.setWordWrap(True)
        layout.addWidget(self.words)
        self.wave, self.spectrum = Trace("waveform", theme), Trace("spectrum", theme)
        layout.addWidget(self.wave)
        layout.addWidget(self.spectrum)
        self.table = QTableWidget(len(made.strikes), len(COLUMNS))
        self.table.setHorizontalHeaderLabels(list(COLUMNS))
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.table.setTabKeyNavigation(False)
        self.table.setAccessibleName("strikes")
        self.table.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self.table.horizontalHeader().setStretchLastSection(True)
        self.table.itemSelectionChanged.connect(lambda: self._show_strike())
        layout.addWidget(self.table, 1)
        buttons = QDialogButtonBox()
        self.add_reference = buttons.addButton("Add as sound reference", QDialogButtonBox.ButtonRole.ActionRole)
        self.add_reference.setToolTip("These strikes were on sound places of this panel: judge others by them")
        self.add = buttons.addButton("Add as readings", QDialogButtonBox.ButtonRole.AcceptRole)
        self.add.setToolTip("One reading a strike, from the cursor on in the direction last moved")
        buttons.addButton("Cancel", QDialogButtonBox.ButtonRole.RejectRole)
        self.add_reference.clicked.connect(lambda: self.done(2))
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout.addWidget(buttons)
        self._fill(session.plan.shelf)

    def _fill(self, shelf: Shelf) -> None:
        known = len(self._known)
        judged = (
            f"Compared with {known} reference strikes of this panel."
            if known
            else (
                "No reference strikes of this panel yet: add a recording of taps on sound places as sound reference "
                "first; without it nothing is said."
            )
        )
        simulated = "What counts as dull or drummy was learned from simulated strikes; real panels differ: a hint."
        self.words.setText(f"{counted(len(self._made.strikes), 'strike', 'strikes')}. {judged} {simulated}")
        for row, strike in enumerate(self._made.strikes):
            verdict = verdict_of(strike, self._known, shelf)
            for column, text in enumerate(_cells(strike, verdict)):
                self.table.setItem(row, column, QTableWidgetItem(text))
        self.add.setEnabled(bool(self._made.strikes))
        self.table.selectRow(0)

    @property
    def row(self) -> int:
        """The strike looked at."""
        return max(self.table.currentRow(), 0)

    def _show_strike(self) -> None:
        wave, rate = mono(self._made.samples), self._made.rate
        long = wave.size / rate
        marks = tuple(s.start / long for s in self._made.strikes)
        self.wave.show_values("waveform", envelope(wave), marks, self.row, ("0 s", f"{fixed(long, 2)} s"))
        strike = self._made.strikes[self.row]
        start = round(strike.start * rate)
        f, power = spectrum(wave[start : start + round(WINDOW * rate)], rate)
        top = min(MOST_FREQUENCY, float(f[-1]))
        decibels = 10 * np.log10(power / power.max() + 1e-6)
        self.spectrum.show_values(
            f"spectrum of strike {self.row + 1}, dB; the mark is its dominant frequency",
            decibels,
            ((strike.frequency - float(f[0])) / (top - float(f[0])),),
            0,
            (f"{fixed(f[0], 0)} Hz", f"{fixed(top, 0)} Hz"),
        )

    def readings(self, places: list[Point]) -> tuple[Reading, ...]:
        """The strikes as readings at places, with the recording kept in the job."""
        member = self._session.album.add("recordings/", self._made.raw, ".wav")
        shelf = self._session.plan.shelf
        return tuple(strike_reading(s, at, member, shelf) for s, at in zip(self._made.strikes, places, strict=True))

    def put(self, places: list[Point], reference: bool) -> bool:
        """Add the strikes at places as one step; False, and a sentence told, where it does not hold."""
        name = f"add {len(places)} recorded taps"
        return self._session.apply(add_readings(self._zone.id, self.readings(places), name, reference))


def _cells(strike: Measured, verdict: Verdict | None) -> tuple[str, ...]:
    return (
        f"{fixed(strike.start, 2)} s",
        fixed(strike.frequency, 0),
        fixed(strike.centroid, 0),
        fixed(strike.decay * 1000, 1),
        fixed(strike.contact * 1000, 2),
        fixed(strike.over_noise, 0),
        verdict.name if verdict else "no reference",
        percent(verdict.margin) if verdict and verdict.margin else "",
    )
