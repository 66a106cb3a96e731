"""What comes into a zone from files: readings, recordings, photographs; read beside the window."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Signal

from ribpatch.core.errors import Fault
from ribpatch.ui.asking import Asking

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from PySide6.QtWidgets import QWidget

    from ribpatch.core.geometry import Point
    from ribpatch.core.job import Zone
    from ribpatch.ui.session import Session
    from ribpatch.ui.settings import Settings
    from ribpatch.ui.tasks import Steps, Tasks


def said(error: Exception) -> str:
    """What went wrong, in a sentence."""
    return error.sentence if isinstance(error, Fault) else f"It did not work: {error}"


class Incoming(Asking):
    """Reads files for the zone that is open. ``recording_ready`` carries the dialog of a recording."""

    recording_ready = Signal(object)

    def __init__(self, session: Session, settings: Settings, tasks: Tasks, window: QWidget) -> None:
        super().__init__(session, window)
        self._settings, self._tasks = settings, tasks

    def import_readings(self, path: Path) -> None:
        """Read a CSV beside the window, show what it holds, add it as one step where the user agrees."""
        from ribpatch.formats.csv_columns import UnclearColumns
        from ribpatch.formats.readings_csv import Read, read_file
        from ribpatch.ui.import_dialog import ColumnsDialog, ImportDialog

        zone = self._session.zone
        if zone is None:
            return
        outline, shelf = zone.outline, self._session.plan.shelf

        def start(mapping: dict[str, str]) -> None:
            self._tasks.run_steps(
                f"reading {path.name}",
                lambda steps: read_file(path, outline, shelf, mapping, steps),
                self._for(zone, done, unclear),
            )

        def unclear(error: Exception) -> bool:
            if not isinstance(error, UnclearColumns):
                return False
            asked = ColumnsDialog(path.name, error, self._settings.mapping(error.header), self._window)
            if asked.exec() == ColumnsDialog.DialogCode.Accepted:
                self._settings.keep_mapping(error.header, asked.mapping)
                start(asked.mapping)
            return True

        def done(read: Read) -> None:
            dialog = ImportDialog(path.name, zone.name, read, self._session.system, self._window)
            if dialog.exec() == ImportDialog.DialogCode.Accepted:
                from ribpatch.core.survey_edits import import_survey

                self._session.apply(import_survey(zone.id, read.readings, read.sessions, read.references))

        start({})

    def read_for(self, zone: Zone, name: str, read: Callable[[Steps], Any], then: Callable[[Any], None]) -> None:
        """Read something for a zone beside the window, where it can be stopped; ``then`` takes it."""
        self._tasks.run_steps(name, read, self._for(zone, then))

    def _for(
        self, zone: Zone, then: Callable[[Any], None], mend: Callable[[Exception], bool] = lambda _error: False
    ) -> Callable[[Any, Exception | None], None]:
        """What becomes of work done for a zone: ``then`` takes it, unless the job or the zone is gone by then."""
        album = self._session.album

        def done(result: Any, error: Exception | None) -> None:
            if self._session.album is not album or all(z.id != zone.id for z in self._session.job.zones):
                self._session.told.emit(f"{zone.name} is no longer open; what was read for it was not used.")
            elif error is None:
                then(result)
            elif not mend(error):
                self._session.told.emit(said(error))

        return done

    def open_recording(self, path: Path) -> None:
        """Measure the strikes of a WAV beside the window, show them, add them where the user agrees."""
        from ribpatch.core.survey.acoustics import strikes_in
        from ribpatch.formats.recordings import read_file, read_wave
        from ribpatch.ui.recording_dialog import Recording, RecordingDialog

        zone = self._session.zone
        if zone is None:
            return

        def work() -> Recording:
            raw = read_file(path)
            samples, rate = read_wave(raw, path.name)
            return Recording(path.name, raw, samples, rate, strikes_in(samples, rate, path.name))

        def done(made: Recording) -> None:
            self.recording_ready.emit(RecordingDialog(made, self._session, zone, self._window, self._settings.look))

        self._tasks.run(f"measuring {path.name}", work, self._for(zone, done))

    def add_photographs(
        self,
        paths: list[Path],
        at: Point | None = None,
        reading: str = "",
        then: Callable[[], None] = lambda: None,
    ) -> None:
        """Scale and strip photographs beside the window, then add them to the zone, pinned or tied where that is
        given; ``then`` is called after each.
        """
        from ribpatch.formats.photographs import kept_picture, read_file

        zone = self._session.zone
        if zone is None:
            return
        side = int(self._session.plan.shelf.rule("photo.side"))

        def done(data: bytes) -> None:
            member = self._session.album.add("photographs/", data, ".jpg")
            from ribpatch.core.survey_edits import add_photograph

            if self._session.apply(add_photograph(zone.id, member, "", at, reading)):
                then()

        for path in paths:

            def work(one: Path = path) -> bytes:
                return kept_picture(read_file(one), side, one.name)

            self._tasks.run(f"adding {path.name}", work, self._for(zone, done))
