"""What every page of the lower bench has in common."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Tasks


class Page(QWidget):
    """One page. ``asked`` carries a figure whose working is wanted, ``said`` words for the echo line."""

    asked = Signal(object)
    said = Signal(str)
    title = ""

    def __init__(self, session: Session, tasks: Tasks, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.tasks = session, tasks
        self.setAccessibleName(self.title)
        self.build()

    def build(self) -> None:
        """Make the widgets."""
        raise NotImplementedError

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        """Show the zone worked on; makes no edit."""
        raise NotImplementedError

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours in what the page paints."""
