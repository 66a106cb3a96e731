"""Find: enter readings, set the sound reference, see the extent at the confidence you pick, follow it over time."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QButtonGroup, QGridLayout, QHBoxLayout, QPushButton

from ribpatch.core.drawing.survey_picture import SHOWS, Shows
from ribpatch.core.edits import draw_extent
from ribpatch.core.text import percent
from ribpatch.core.units import Kind, place_words, shown, usual
from ribpatch.ui.session import Change
from ribpatch.ui.stages.find_instruments import InstrumentPanel
from ribpatch.ui.stages.find_photographs import PhotoPanel
from ribpatch.ui.stages.find_practice import PracticePanel
from ribpatch.ui.stages.find_reading import ReadingPanel
from ribpatch.ui.stages.find_sessions import SessionsPanel
from ribpatch.ui.stages.stage import Stage

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.ui.shell import Shell
    from ribpatch.ui.widgets.card import Card

GROUPS = ("Read", "Extent", "Over time", "Pictures")
MOST_SOURCES = 5


class FindStage(Stage):
    """The decisions of the Find rung, in four groups."""

    name = "find"
    title = "Find the damage"
    first = ("Practice panel", "Enter readings", "Extent", "Test here next", "Sessions and drying", "Photographs")
    import_wanted = Signal()
    draw_wanted = Signal()
    shape_wanted = Signal()
    readings_wanted = Signal()
    picture_wanted = Signal(object)

    def connect_to(self, window: Shell) -> None:
        self.practice.settings = window.settings
        self.set_theme(window.settings.look)
        for panel in (self.instruments, self.practice):
            panel.picked.connect(window.survey.take_brush)
        self.instruments.meter_changed.connect(window.survey.take_meter)
        self.instruments.told.connect(window.survey.say)
        self.instruments.record_wanted.connect(lambda: window.actions_table.trigger("open_recording"))
        self.practice.new_wanted.connect(lambda: window.actions_table.trigger("practice"))
        self.photos.add_wanted.connect(lambda: window.actions_table.trigger("add_photographs"))
        self.photos.pin_wanted.connect(window.survey.pin_photograph)
        self.photos.show_wanted.connect(window.survey.show_photograph)
        self.reading.photograph_wanted.connect(lambda reading: window.survey.tie_photograph(reading))
        window.survey.follow_cursor(self.reading.show_reading)
        self.picture_wanted.connect(lambda shows: window.survey.show_picture(shows, self.sessions.pair))
        self.sessions.compared.connect(lambda pair: self._compare(window, pair))
        self.import_wanted.connect(lambda: window.actions_table.trigger("import_readings"))
        self.draw_wanted.connect(lambda: window.draw_extent())
        self.shape_wanted.connect(lambda: window.actions_table.trigger("draw_shape"))
        self.photos.straighten_wanted.connect(lambda photograph: window.tracing.straighten(photograph))
        self.readings_wanted.connect(lambda: window.in_zone(draw_extent))

    def build(self) -> None:
        self._group_row()
        self._in: dict[str, list[Card]] = {name: [] for name in GROUPS}
        self._practice_card()
        self._entry_card()
        self._reading_card()
        self._reference_card()
        self._extent_card()
        self._next_card()
        self._sources_card()
        self._sessions_card()
        self._photo_card()
        self.show_group("Read")

    def _group_row(self) -> None:
        row = QHBoxLayout()
        row.setSpacing(4)
        self.groups = QButtonGroup(self)
        for index, name in enumerate(GROUPS):
            button = QPushButton(name)
            button.setObjectName("plain")
            button.setCheckable(True)
            self.groups.addButton(button, index)
            row.addWidget(button)
        self.groups.idClicked.connect(lambda index: self._group_picked(GROUPS[index]))
        self._column.addLayout(row)

    def _group_picked(self, group: str) -> None:
        self.show_group(group)
        if self.session.is_open:
            self.refresh(Change(self.session.plan, self.session.plan))

    def show_group(self, group: str) -> None:
        """Show the cards of one group."""
        self.groups.button(GROUPS.index(group)).setChecked(True)
        for name, cards in self._in.items():
            for card in cards:
                card.setVisible(name == group)
        zone = self.session.zone
        self._practice.setVisible(group == "Read" and zone is not None and zone.practice is not None)

    def reveal(self, card: Card) -> None:
        self.show_group(next((g for g, cards in self._in.items() if card in cards), self.group))

    @property
    def group(self) -> str:
        """The group shown."""
        return GROUPS[self.groups.checkedId()]

    def _carded(self, group: str, title: str, about: tuple[str, ...], main: str = "") -> Card:
        card = self.card(title, about, main)
        self._in[group].append(card)
        return card

    # ---- cards ----

    def _practice_card(self) -> None:
        self._practice = self._carded("Read", "Practice panel", ("practice",))
        self.practice = PracticePanel(self.session, parent=self._practice.body)
        self._practice.add(self.practice)

    def _entry_card(self) -> None:
        card = self._carded("Read", "Enter readings", (), "survey.readings")
        card.add_text(
            "On the plan: arrows move, a letter enters its word, a number and Enter the meter; S marks sound "
            "reference, N goes "
            "to the next place to test, Backspace takes back. Or pick here and click."
        )
        self.instruments = InstrumentPanel(self.session, parent=card.body)
        card.add(self.instruments)
        row = QHBoxLayout()
        self.import_button = QPushButton("Import CSV")
        self.import_button.setToolTip("Import readings from a CSV file (Ctrl+I)")
        self.import_button.clicked.connect(lambda: self.import_wanted.emit())
        row.addWidget(self.import_button)
        card.add(row)
        self.field(card, "survey", "pitch")
        self.read_note = card.add_text("")

    def _reading_card(self) -> None:
        card = self._carded("Read", "Reading under the cursor", ("reading",))
        self.reading = ReadingPanel(self.session, parent=card.body)
        card.add(self.reading)

    def _reference_card(self) -> None:
        card = self._carded("Read", "Sound reference", ("reference",), "survey.reference")
        self.reference_note = card.add_text("")

    def _extent_card(self) -> None:
        card = self._carded("Extent", "Extent", ("extent",), "extent.area")
        levels = tuple((f"{p} %", usual(p / 100, f"{p} %")) for p in (70, 80, 90, 95))
        self.choice(card, levels, "survey", "confidence", label="How sure that nothing bad lies outside it")
        self.field(card, "survey", "confidence", label="or any")
        for label, key in (
            ("nearly certain", "extent.surely"),
            ("expected", "extent.expected"),
            ("of it wet", "extent.wet"),
            ("rotted", "extent.rotted"),
            ("disbonded", "extent.disbonded"),
            ("not surveyed", "extent.unsurveyed"),
            ("of it read, but left open", "extent.open"),
            ("chance of any damage", "survey.any"),
            ("alike over", "survey.length"),
        ):
            card.add_figure(label, key)
        row = QHBoxLayout()
        self.draw_button = QPushButton("Take over")
        self.draw_button.setToolTip("Take the extent over as an outline with corners to drag")
        self.draw_button.clicked.connect(lambda: self.draw_wanted.emit())
        self.readings_button = QPushButton("By the readings")
        self.readings_button.setToolTip("Let the extent follow from the readings again")
        self.readings_button.clicked.connect(lambda: self.readings_wanted.emit())
        self.shape_button = QPushButton("Draw damage")
        self.shape_button.setToolTip("Draw a damaged place, side by side, beside what is drawn already (Ctrl+Shift+L)")
        self.shape_button.clicked.connect(lambda: self.shape_wanted.emit())
        row.addWidget(self.shape_button)
        row.addWidget(self.draw_button)
        row.addWidget(self.readings_button)
        card.add(row)
        self._picture_row(card)

    def _picture_row(self, card: Card) -> None:
        card.add_text("The plan shows")
        grid = QGridLayout()
        grid.setSpacing(4)
        self.pictures = QButtonGroup(self)
        for index, (text, shows) in enumerate(SHOWS):
            button = QPushButton(text)
            button.setObjectName("plain")
            button.setCheckable(True)
            button.setChecked(index == 0)
            button.setToolTip(f"Show {text} on the plan")
            self.pictures.addButton(button, index)
            button.clicked.connect(lambda _checked=False, s=shows: self.picture_wanted.emit(s))
            grid.addWidget(button, index // 3, index % 3)
        card.add(grid)

    def picture_button(self, shows: Shows) -> QPushButton:
        """The button of a picture."""
        found = self.pictures.button([s for _, s in SHOWS].index(shows))
        assert isinstance(found, QPushButton)
        return found

    def _compare(self, window: Shell, pair: tuple[str, str]) -> None:
        self.picture_button("change").setChecked(True)
        window.survey.show_picture("change", pair)

    def _next_card(self) -> None:
        card = self._carded("Extent", "Test here next", ("next",))
        self.next_note = card.add_text("")

    def _sources_card(self) -> None:
        card = self._carded("Extent", "Where the water came in", ("source",))
        falls = (("usual", ""), ("aft / left", "x-"), ("fwd / right", "x+"), ("down", "y-"), ("up", "y+"))
        self.choice(card, falls, "falls", label="On the plan water runs")
        self.source_note = card.add_text("")

    def _sessions_card(self) -> None:
        card = self._carded("Over time", "Sessions and drying", ("sessions",))
        self.sessions = SessionsPanel(self.session, parent=card.body)
        card.add(self.sessions)

    def _photo_card(self) -> None:
        card = self._carded("Pictures", "Photographs", ("photographs",))
        self.photos = PhotoPanel(self.session, parent=card.body)
        card.add(self.photos)

    # ---- showing ----

    def show_plan(self, plan: Plan) -> None:
        self.instruments.show_shelf(plan.shelf)
        zone = self.session.zone
        for widget in (
            self.draw_button,
            self.readings_button,
            self.import_button,
            self.instruments,
            self.sessions,
            self.photos,
        ):
            widget.setEnabled(zone is not None)
        self.heading.setText(f"Find: {zone.name}" if zone else "Find: no zone yet")
        self._practice.setVisible(self.group == "Read" and zone is not None and zone.practice is not None)
        if zone is None:
            for note in (self.reference_note, self.read_note, self.next_note, self.source_note):
                note.setText("Add a zone in Boat first.")
            return
        self.draw_button.setEnabled(zone.survey.drawn is None)
        self.readings_button.setEnabled(zone.survey.drawn is not None)
        self._show_notes(zone, plan)
        self.sessions.show_zone(zone, plan.zone(zone.id))
        self.photos.show_zone(zone)
        if zone.practice is not None:
            self.practice.show_zone(zone, plan.zone(zone.id))

    def set_theme(self, theme: str) -> None:
        self.sessions.chart.theme = theme
        self.sessions.chart.update()

    def _show_notes(self, zone: Zone, plan: Plan) -> None:
        survey = zone.survey
        rise = plan.shelf.given("moisture.rise")
        marked = Counter(str(r.kind) for r in survey.readings if r.id in set(survey.references))
        self.reference_note.setText(
            f"Marked: {_counted(marked, plan)}. A meter reading {rise.shown()} points over their mean counts as wet."
            if marked
            else "Meters, pushes and recorded taps say nothing until sound places on this panel are read and marked."
        )
        counts = Counter(str(r.kind) for r in survey.readings)
        self.read_note.setText(_counted(counts, plan) or "Nothing read yet.")
        if self.group == "Extent":
            self._show_next(zone, plan)

    def _show_next(self, zone: Zone, plan: Plan) -> None:
        system = self.session.system
        lines = [
            f"<b>{n}</b> &nbsp;{t.by} at {place_words(t.at, system)}, {t.why}: should settle "
            f"{percent(t.share)} of {shown(t.doubt, Kind.AREA, system)} in doubt"
            for n, t in enumerate(plan.zone(zone.id).next_tests, 1)
        ]
        self.next_note.setText(
            "<br>".join(lines) or "Read a few places first; then the three that tell most are numbered here."
        )
        sources = plan.zone(zone.id).sources[:MOST_SOURCES]
        self.source_note.setText(
            "<br>".join(f"<b>{s.share:.0%}</b> {s.name}: {', '.join(s.reasons)}" for s in sources)
            or "Nothing wet enough has been read to trace."
        )


def _counted(counts: Counter[str], plan: Plan) -> str:
    return ", ".join(f"{n} {plan.shelf.instrument(kind).name}" for kind, n in counts.items())


STAGE = FindStage
