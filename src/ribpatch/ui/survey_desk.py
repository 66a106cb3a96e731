"""What the survey asks of the window: brushes, pictures behind the readings, photographs, recordings, what is
dropped.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF

from ribpatch.ui.scaling import factor

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtWidgets import QWidget

    from ribpatch.core.drawing.survey_picture import Shows
    from ribpatch.core.geometry import Point
    from ribpatch.core.readings import Photograph, Reading
    from ribpatch.ui.bench.zone_bench import ZoneBench
    from ribpatch.ui.brush import Brush
    from ribpatch.ui.documents import Documents
    from ribpatch.ui.dropped import Dropped
    from ribpatch.ui.recording_dialog import RecordingDialog
    from ribpatch.ui.session import Session
    from ribpatch.ui.showing import Showing
    from ribpatch.ui.tracing_desk import TracingDesk


class SurveyDesk:
    """Stands between the Find stage, the bench and the files."""

    def __init__(self, session: Session, bench: ZoneBench, documents: Documents, window: QWidget) -> None:
        self._session, self._bench, self._documents, self._window = session, bench, documents, window

    def take_brush(self, brush: Brush) -> None:
        """Use a brush on the plan."""
        self._bench.take(brush)

    def take_meter(self, instrument: str) -> None:
        """Enter typed numbers as readings of this meter."""
        self._bench.readings.meter = instrument

    def show_picture(self, shows: Shows, pair: tuple[str, str]) -> None:
        """Show another picture behind the readings."""
        self._bench.show_picture(shows, pair)

    def tie_photograph(self, reading: str) -> None:
        """Ask for photographs that belong to a reading."""
        self._documents.add_photographs(self._documents.ask_pictures(), reading=reading)

    def pin_photograph(self, photograph: Photograph) -> None:
        """Pin a photograph to the next place clicked."""
        self._bench.pin(photograph)

    def show_photograph(self, photograph: Photograph) -> None:
        """Show a photograph large."""
        from ribpatch.ui.photo_view import PhotoView

        PhotoView(self._session.album, photograph, self._window).exec()

    def follow_cursor(self, shown: Callable[[Reading | None], None]) -> None:
        """Tell ``shown`` the reading under the cursor, now and whenever it is another one."""
        self._bench.readings.followed = shown
        self._bench.readings.tell_cursor()

    def say(self, text: str) -> None:
        """Say something beside the plan."""
        self._bench.say(text)

    def show_recording(self, dialog: RecordingDialog) -> None:
        """Show a recording; its strikes go to the cursor and on from there."""
        count = dialog.table.rowCount()
        answer = dialog.exec()
        if answer:
            dialog.put(self._bench.readings.places_on(count), answer == 2)

    def place_under(self, at: QPointF) -> Point | None:
        """The place of the zone under a point of the window, or None beside the plan."""
        canvas, zone = self._bench.plan_canvas, self._session.zone
        inside = canvas.mapFrom(self._window, at.toPoint())
        if zone is None or canvas.drawing is None or not canvas.isVisible() or not canvas.rect().contains(inside):
            return None
        x, y = self._bench.readings.place_at(zone, canvas.view.back(QPointF(inside) / factor()))
        return round(x, 4), round(y, 4)

    def take_dropped(self, dropped: Dropped, at: QPointF, showing: Showing, tracing: TracingDesk) -> None:
        """Take what was dropped on the window into the zone worked on, each kind in its own way."""
        if dropped.pictures:
            self._documents.add_photographs(list(dropped.pictures), self.place_under(at))
        for path in dropped.readings:
            self._documents.import_readings(path)
        for path in dropped.recordings:
            self._documents.open_recording(path)
        if dropped.weather:
            bench = showing.bench("days_bench")
            bench.read_weather(dropped.weather[0])  # type: ignore[attr-defined]  # the bench of Days has it
        if dropped.outlines:
            tracing.read_outline(dropped.outlines[0])
