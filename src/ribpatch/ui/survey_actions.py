"""Readings, recordings and photographs, in and out. Each action is a method of its id."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ribpatch.ui.window import Window


class SurveyActions:
    """Readings, recordings and photographs, in and out."""

    def __init__(self, window: Window) -> None:
        self._w = window

    def import_readings(self) -> None:
        """Import readings from a CSV."""
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(self._w, "Import readings", "", "CSV (*.csv *.txt);;All files (*)")
        if name:
            self._w.documents.import_readings(Path(name))

    def export_readings(self) -> None:
        """Write the zone's readings as CSV."""
        from ribpatch.formats.readings_csv import write_text

        zone = self._w.session.zone
        path = self._w.documents.ask_path("Readings", "readings.csv", "CSV (*.csv)") if zone else None
        if zone is not None and path is not None:
            survey = zone.survey
            text = write_text(survey.readings, survey.references, survey.sessions)
            self._w.documents.write_paper(path, "the readings", lambda _told: text.encode())

    def open_recording(self) -> None:
        """Open a recording of taps."""
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(
            self._w, "Open a recording of taps", "", "Recordings (*.wav);;All files (*)"
        )
        if name:
            self._w.documents.open_recording(Path(name))

    def add_photographs(self) -> None:
        """Add photographs to the zone."""
        self._w.documents.add_photographs(self._w.documents.ask_pictures())

    def draw_shape(self) -> None:
        """Draw a shape on the plan: what it is depends on the stage."""
        self._w.tracing.draw()

    def outline_file(self) -> None:
        """Take the outline from a file."""
        self._w.tracing.outline_file()

    def straighten(self) -> None:
        """Set a photograph straight and lay it under the plan."""
        self._w.tracing.straighten()
