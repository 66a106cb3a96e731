"""What stages and actions may ask of the window: the one interface between them, so that they need not import it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Protocol

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtGui import QAction

    from ribpatch.core.drawing.survey_picture import Shows
    from ribpatch.core.geometry import Point
    from ribpatch.core.readings import Photograph, Reading
    from ribpatch.core.units import Measure
    from ribpatch.ui.brush import Brush
    from ribpatch.ui.settings import Settings


class ActionsTable(Protocol):
    """The window's actions, by their id."""

    by_id: dict[str, QAction]

    def refresh(self) -> None:
        """Enable what can be done now."""

    def trigger(self, identity: str) -> None:
        """Carry it out."""


class Desk(Protocol):
    """What the survey may ask of the window."""

    def take_brush(self, brush: Brush) -> None:
        """Use a brush on the plan."""

    def take_meter(self, instrument: str) -> None:
        """Enter typed numbers as readings of this meter."""

    def show_picture(self, shows: Shows, pair: tuple[str, str]) -> None:
        """Show another picture behind the readings; ``pair`` are the sessions to compare."""

    def show_photograph(self, photograph: Photograph) -> None:
        """Show a photograph large."""

    def tie_photograph(self, reading: str) -> None:
        """Ask for photographs that belong to a reading."""

    def pin_photograph(self, photograph: Photograph) -> None:
        """Pin a photograph to the next place clicked."""

    def follow_cursor(self, shown: Callable[[Reading | None], None]) -> None:
        """Tell ``shown`` the reading under the cursor, now and whenever it is another one."""

    def say(self, text: str) -> None:
        """Say something beside the plan."""


class Cutting(Protocol):
    """What Open may ask of the bench."""

    def merge(self) -> None:
        """Make one cut of several."""

    def split(self) -> None:
        """Part the cut along the section line."""

    def note_depth(self, depth: Measure) -> None:
        """Note a depth at the next place clicked."""

    def show_page(self, name: str) -> None:
        """Show a page below the plan."""


class Tracing(Protocol):
    """What the stages may ask of drawing and photographs."""

    def two_places(self, words: tuple[str, str], put: Callable[[Point, Point], None]) -> None:
        """Ask for two places on the plan, one after the other."""

    def straighten(self, photograph: Photograph | None = None) -> None:
        """Set a photograph of the zone straight."""


class Shell(Protocol):
    """The window as its stages see it."""

    @property
    def actions_table(self) -> ActionsTable:
        """The actions."""

    def add_zone(self) -> None:
        """Add a zone and go to its facts."""

    @property
    def settings(self) -> Settings:
        """What is remembered between runs."""

    @property
    def cutting(self) -> Cutting:
        """What Open asks of the bench."""

    @property
    def tracing(self) -> Tracing:
        """What drawing and photographs ask of the bench."""

    @property
    def survey(self) -> Desk:
        """What the survey asks."""

    def draw_extent(self) -> None:
        """Take the suggested extent over as an outline to drag."""

    def in_zone(self, make: Callable[[str, None], Any]) -> None:
        """Apply an edit of the zone that goes back to what follows from the readings."""
