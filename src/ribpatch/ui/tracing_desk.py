"""What drawing and photographs ask of the bench: a shape for the stage looked at, a picture set straight under it."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from PySide6.QtWidgets import QWidget

    from ribpatch.core.edits import Edit
    from ribpatch.core.geometry import Point, Ring
    from ribpatch.core.job import Zone
    from ribpatch.core.readings import Photograph
    from ribpatch.formats.outline_file import Drawn
    from ribpatch.ui.bench.drawing import Drawing
    from ribpatch.ui.bench.zone_bench import ZoneBench
    from ribpatch.ui.documents import Documents
    from ribpatch.ui.session import Session
    from ribpatch.ui.settings import Settings

# What is drawn at which stage, in words.
DRAWN = {"outline": "the outline", "extent": "damage", "cut": "the cut line"}


class TracingDesk:
    """Carries out what the stages ask of drawing and photographs."""

    def __init__(
        self, session: Session, bench: ZoneBench, documents: Documents, settings: Settings, window: QWidget
    ) -> None:
        self._session, self._bench, self._documents = session, bench, documents
        self._settings, self._window = settings, window

    # ---- shapes ----

    @cached_property
    def drawing(self) -> Drawing:
        """What shapes are drawn with."""
        from ribpatch.ui.bench.drawing import Drawing

        return Drawing(self._session, self._bench)

    def draw(self) -> None:
        """Draw a shape: the outline in Boat, damage in Find, the cut line in Open."""
        from ribpatch.core import edits
        from ribpatch.stages import stage_of

        what = stage_of(self._session.stage).dragged
        if self._session.zone is None or what not in DRAWN:
            self._session.told.emit("Go to Boat to draw the outline, to Find to draw damage, to Open to draw the cut.")
            return
        make: dict[str, Callable[[Zone, Ring], Edit]] = {
            "outline": lambda zone, ring: edits.set_outline(zone.id, ring),
            "extent": lambda zone, ring: edits.draw_extent(zone.id, (*(zone.survey.drawn or ()), ring)),
            "cut": lambda zone, ring: edits.draw_cut(zone.id, (*(zone.scheme.cut.drawn or ()), ring)),
        }
        self.drawing.begin(lambda ring: self._apply(make[what], ring))

    def _apply(self, make: Callable[[Zone, Ring], Edit], ring: Ring) -> bool:
        zone = self._session.zone
        if zone is None:
            return True
        from ribpatch.core.errors import Fault

        try:
            self._session.try_apply(make(zone, ring))
        except Fault as fault:
            self._bench.say(fault.sentence)
            return False
        self._bench.say("Drawn. Its corners can be dragged.")
        return True

    def two_places(self, words: tuple[str, str], put: Callable[[Point, Point], None]) -> None:
        """Ask for two places on the plan, one after the other."""

        def second(first: Point) -> None:
            self._bench.pick_place(lambda _what, at: put(first, at))
            self._bench.say(words[1])

        self._bench.pick_place(lambda _what, at: second(at))
        self._bench.say(words[0])
        self._bench.plan_canvas.setFocus()

    # ---- photographs ----

    def straighten(self, photograph: Photograph | None = None) -> None:
        """Set a photograph of the zone straight: the one given, the last one, or one that is asked for."""
        zone = self._session.zone
        if zone is None:
            return
        if photograph is None and not zone.survey.photographs:
            paths = self._documents.ask_pictures()[:1]
            self._documents.add_photographs(paths, then=self.straighten)
            return
        self._open(zone, photograph or zone.survey.photographs[-1])

    def _open(self, zone: Zone, photograph: Photograph, find: bool = False) -> None:
        from ribpatch.core.errors import Fault
        from ribpatch.core.survey_edits import set_straight
        from ribpatch.ui.straighten_dialog import StraightenDialog

        data = self._session.album.get(f"photographs/{photograph.member}")
        try:
            dialog = StraightenDialog(
                data or b"", photograph.straight, self._session.system, self._settings.look, self._window
            )
        except Fault:
            self._session.told.emit("This photograph is missing from the job file, or damaged: add it again.")
            return
        if find:
            dialog.find_marks()
        answer = dialog.exec()
        dialog.deleteLater()
        if answer != StraightenDialog.DialogCode.Accepted or dialog.straight is None:
            return
        self._bench.under.lay(zone.id, photograph.id)
        self._session.apply(set_straight(zone.id, photograph.id, dialog.straight))
        if dialog.ring:
            self._set_outline(dialog.ring)

    # ---- files ----

    def outline_file(self) -> None:
        """Take the outline of the zone from an SVG or DXF, or from a picture of a set-off sheet."""
        path = self._documents.ask_outline()
        if path is not None:
            self.read_outline(path)

    def read_outline(self, path: Path) -> None:
        """Read an outline from a file."""
        from ribpatch.formats.outlines import outlines_of
        from ribpatch.ui.asking import PICTURES

        zone = self._session.zone
        if zone is None:
            return
        if path.suffix.lower() in PICTURES:
            self._documents.add_photographs([path], then=lambda: self._last(find=True))
            return
        self._documents.read_for(
            zone,
            f"reading {path.name}",
            lambda steps: outlines_of(path, steps),
            lambda drawn: self._choose(path, drawn),
        )

    def _choose(self, path: Path, drawn: Drawn) -> None:
        """Ask which of the closed lines is the outline, and take it."""
        from ribpatch.ui.outline_dialog import OutlineDialog

        dialog = OutlineDialog(path.name, drawn, self._session.system, self._settings.look, self._window)
        answer = dialog.exec()
        dialog.deleteLater()
        if answer == OutlineDialog.DialogCode.Accepted:
            self._set_outline(dialog.ring)

    def _set_outline(self, ring: Ring) -> None:
        from ribpatch.core.edits import set_outline

        self._apply(lambda zone, drawn: set_outline(zone.id, drawn), ring)

    def _last(self, find: bool) -> None:
        zone = self._session.zone
        if zone is not None and zone.survey.photographs:
            self._open(zone, zone.survey.photographs[-1], find)
