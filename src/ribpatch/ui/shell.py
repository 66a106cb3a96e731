"""What stages and actions may ask of the window: the one interface between them, so that they need not import it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

from PySide6.QtGui import QAction


class ActionsTable(Protocol):
    """The window's actions, by their id."""

    by_id: dict[str, QAction]

    def refresh(self) -> None:
        """Enable what can be done now."""

    def trigger(self, identity: str) -> None:
        """Carry it out."""


class Shell(Protocol):
    """The window as its stages see it."""

    @property
    def actions_table(self) -> ActionsTable:
        """The actions."""

    def add_zone(self) -> None:
        """Add a zone and go to its facts."""

    def take_brush(self, brush: str) -> None:
        """Use a brush on the plan."""

    def draw_extent(self) -> None:
        """Take the suggested extent over as an outline to drag."""

    def in_zone(self, make: Callable[[str, None], Any]) -> None:
        """Apply an edit of the zone that goes back to what follows from the readings."""
