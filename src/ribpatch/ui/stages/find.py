"""Find: enter readings, set the sound reference, see the extent at the confidence you pick, or draw it."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QButtonGroup, QGridLayout, QHBoxLayout, QLineEdit, QPushButton

from ribpatch.core.edits import draw_extent
from ribpatch.core.plan import Plan
from ribpatch.core.readings import Tap
from ribpatch.core.units import Kind, Measure, shown
from ribpatch.ui.shell import Shell
from ribpatch.ui.stages.stage import Stage


class FindStage(Stage):
    """The decisions of the Find rung. ``brush_picked`` carries what a click on the plan enters."""

    name = "find"
    title = "Find the damage"
    brush_picked = Signal(object)
    import_wanted = Signal()
    draw_wanted = Signal()
    readings_wanted = Signal()

    def connect_to(self, window: Shell) -> None:
        self.brush_picked.connect(window.take_brush)
        self.import_wanted.connect(lambda: window.actions_table.trigger("import_readings"))
        self.draw_wanted.connect(lambda: window.draw_extent())
        self.readings_wanted.connect(lambda: window.in_zone(draw_extent))

    def build(self) -> None:
        self._entry_card()
        self._extent_card()
        self._reference_card()
        self._read_card()

    def _entry_card(self) -> None:
        card = self.card("Enter readings", ())
        card.add_text(
            "On the plan: arrows move, a letter enters a tap, a number and Enter enters the meter. "
            "S marks sound reference, Backspace takes back, Delete deletes. Or pick one here and click."
        )
        grid = QGridLayout()
        grid.setSpacing(4)
        self.brushes = QButtonGroup(self)
        self.brushes.setExclusive(False)
        self._grid_of_brushes = grid
        card.add(grid)
        row = QHBoxLayout()
        self.meter = QLineEdit()
        self.meter.setPlaceholderText("meter value, 0 to 100")
        self.meter.setAccessibleName("meter value for clicking")
        self.meter.textChanged.connect(lambda: self._meter_changed())
        row.addWidget(self.meter, 1)
        self.import_button = QPushButton("Import CSV")
        self.import_button.setToolTip("Import readings from a CSV file (Ctrl+I)")
        self.import_button.clicked.connect(lambda: self.import_wanted.emit())
        row.addWidget(self.import_button)
        card.add(row)
        self.field(card, "survey", "pitch")

    def _make_brushes(self, plan: Plan) -> None:
        names = [(f"{g.name} {g.key.upper()}", g.id) for g in plan.shelf.instrument("tap").grades]
        names += [("meter", "moisture"), ("reference S", "reference"), ("erase", "erase")]
        for index, (text, brush) in enumerate(names):
            button = QPushButton(text)
            button.setObjectName("plain")
            button.setCheckable(True)
            button.setProperty("brush", brush)
            button.setToolTip(
                f"Click on the plan to {'enter ' if brush not in ('reference', 'erase') else 'set '}{text}"
            )
            button.clicked.connect(lambda checked=False, b=button: self._brush(b))
            self.brushes.addButton(button)
            self._grid_of_brushes.addWidget(button, index // 4, index % 4)

    def brush_button(self, brush: str) -> QPushButton:
        """The button of a brush."""
        found = next(b for b in self.brushes.buttons() if b.property("brush") == brush)
        assert isinstance(found, QPushButton)
        return found

    def _brush(self, button: QPushButton) -> None:
        for other in self.brushes.buttons():
            if other is not button:
                other.setChecked(False)
        brush = str(button.property("brush")) if button.isChecked() else ""
        self.brush_picked.emit(f"moisture {self.meter.text()}" if brush == "moisture" else brush)

    def _meter_changed(self) -> None:
        button = self.brush_button("moisture") if self.brushes.buttons() else None
        if button is not None and button.isChecked():
            self.brush_picked.emit(f"moisture {self.meter.text()}")

    def _extent_card(self) -> None:
        card = self.card("Extent", ("extent",), "extent.area")
        levels = tuple((f"{p} %", Measure(si=p / 100, typed=f"{p} %")) for p in (70, 80, 90, 95))
        self.choice(card, levels, "survey", "confidence", label="How sure that nothing bad lies outside it")
        self.field(card, "survey", "confidence", label="or any")
        card.add_figure("nearly certain", "extent.surely")
        card.add_figure("expected", "extent.expected")
        card.add_figure("not surveyed", "extent.unsurveyed")
        row = QHBoxLayout()
        self.draw_button = QPushButton("Draw it myself")
        self.draw_button.setToolTip("Take the extent over as an outline with corners to drag")
        self.draw_button.clicked.connect(lambda: self.draw_wanted.emit())
        self.readings_button = QPushButton("Back to the readings")
        self.readings_button.setToolTip("Let the extent follow from the readings again")
        self.readings_button.clicked.connect(lambda: self.readings_wanted.emit())
        row.addWidget(self.draw_button)
        row.addWidget(self.readings_button)
        card.add(row)

    def _reference_card(self) -> None:
        card = self.card("Sound reference", ("reference",), "survey.reference")
        self.reference_note = card.add_text("")

    def _read_card(self) -> None:
        card = self.card("Read so far", (), "survey.readings")
        self.read_note = card.add_text("")
        card.add_figure("reach of one reading", "survey.length")

    def show_plan(self, plan: Plan) -> None:
        if not self.brushes.buttons():
            self._make_brushes(plan)
        zone = self.session.zone
        for widget in (self.draw_button, self.readings_button, self.import_button):
            widget.setEnabled(zone is not None)
        self.heading.setText(f"Find: {zone.name}" if zone else "Find: no zone yet")
        if zone is None:
            self.reference_note.setText("Add a zone in Boat first.")
            self.read_note.setText("")
            return
        survey = zone.survey
        self.draw_button.setEnabled(survey.drawn is None)
        self.readings_button.setEnabled(survey.drawn is not None)
        rise = plan.shelf.given("moisture.rise")
        self.reference_note.setText(
            f"{len(survey.references)} readings marked. A meter reading {rise.shown()} points over their mean counts as wet."
            if survey.references
            else "The meter says nothing until dry places on this boat are read and marked."
        )
        taps = sum(isinstance(r, Tap) for r in survey.readings)
        size = shown(survey.pitch.si, Kind.SIZE, self.session.system)
        self.read_note.setText(f"{taps} taps, {len(survey.readings) - taps} meter readings; grid {size}")


STAGE = FindStage
