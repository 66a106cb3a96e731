"""What is wrong: the list of troubles, and the part of the boat that one would begin with, drawn."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ribpatch.core.begin import begun_zone
from ribpatch.core.drawing.boat_view import boat_view
from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.patch.repair import as_found
from ribpatch.library.beginnings import crafts, troubles
from ribpatch.ui.scaling import px, sized
from ribpatch.ui.widgets.pick_list import PickList
from ribpatch.ui.widgets.sketch import Sketch

if TYPE_CHECKING:
    from PySide6.QtGui import QResizeEvent

    from ribpatch.core.job import Job, Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.units import System

PLAN_MARGINS = (70, 34, 60, 30)


class ZonePick(QWidget):
    """The list, the boat with the part marked, the part's outline, and what to do first. ``taken``: this one, now."""

    taken = Signal()

    def __init__(self, shelf: Shelf, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shelf = shelf
        self._by_id = {t.id: t for t in troubles()}
        self._outboard = {c.id: c.outboard for c in crafts()}
        self.system: System = "metric"
        self._job: Job | None = None
        self.list = PickList("what is wrong", ((t.id, t.name, t.said) for t in troubles()))
        sized(self.list, least_width=190)
        sized(self.list, most_width=264)
        self.list.picked.connect(lambda _id: self._show())
        self.list.taken.connect(lambda _id: self.taken.emit())
        self.boat, self.plan = Sketch("the boat with this part", 120), Sketch("the part", 220)
        self.plan.margins = PLAN_MARGINS
        self.words = QLabel()
        self.words.setObjectName("soft")
        self.words.setWordWrap(True)
        right = QVBoxLayout()
        right.setSpacing(4)
        right.addWidget(self.boat, 2)
        right.addWidget(self.plan, 4)
        right.addWidget(self.words)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.list, 2)
        layout.addLayout(right, 3)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Where text is large for the window the words go before the pictures."""
        super().resizeEvent(event)
        self._share_height()

    def _share_height(self) -> None:
        beside = max(self.width() - self.list.width(), 1)
        left = self.height() - self.words.heightForWidth(beside)
        self.boat.setVisible(left > px(360))
        self.plan.setVisible(left > px(230))

    def show_job(self, job: Job | None, system: System) -> None:
        """Draw for this boat; None where she cannot be drawn yet."""
        self._job, self.system = job, system
        self._show()

    def zone(self, job: Job) -> Zone:
        """The chosen zone, begun in a job."""
        trouble = self._by_id[self.list.chosen]
        return begun_zone(job, trouble, self._outboard.get(job.boat.kind, True), self._shelf, self.system)

    def _show(self) -> None:
        job, trouble = self._job, self._by_id.get(self.list.chosen)
        if job is None or trouble is None:
            self.boat.show_drawing(None)
            self.plan.show_drawing(None)
            self.words.setText("")
            return
        zone = self.zone(job)
        zones = (*job.zones, zone)
        self.boat.show_drawing(boat_view(job.boat, zones, zone.id, ("",) * len(zones)))
        patch = as_found(zone, self._shelf)
        self.plan.show_drawing(plan_view(zone, patch, None, self._shelf, "boat", self.system))
        steps = "  ".join(f"{n}. {text}" for n, text in enumerate(trouble.first, 1))
        self.words.setText(f"Begun as usual, and marked assumed until you measure it. First: {steps}")
        self._share_height()

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self.boat.set_theme(theme)
        self.plan.set_theme(theme)
