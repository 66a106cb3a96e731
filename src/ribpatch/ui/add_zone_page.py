"""Add a zone: say what is wrong, see the part that it begins with."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ribpatch.ui.zone_pick import ZonePick

if TYPE_CHECKING:
    from PySide6.QtGui import QKeyEvent

    from ribpatch.core.job import Job
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.units import System


class AddZonePage(QWidget):
    """``made`` carries the new Zone."""

    made = Signal(object)
    cancelled = Signal()

    def __init__(self, shelf: Shelf, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._job: Job | None = None
        self.title = QLabel("What is wrong?")
        self.title.setObjectName("title")
        self.pick = ZonePick(shelf)
        self.pick.taken.connect(lambda: self._add())
        self.add = QPushButton("Add this zone")
        self.add.setToolTip("Add it as drawn; every size of it is assumed until you type it (Enter)")
        self.add.clicked.connect(lambda: self._add())
        self.back = QPushButton("Back")
        self.back.setObjectName("plain")
        self.back.setToolTip("Add no zone (Esc)")
        self.back.clicked.connect(lambda: self.cancelled.emit())
        row = QHBoxLayout()
        row.addWidget(self.add)
        row.addWidget(self.back)
        row.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 14, 24, 14)
        column.addWidget(self.title)
        column.addWidget(self.pick, 1)
        column.addLayout(row)

    def begin(self, job: Job, system: System) -> None:
        """Show the list for a job."""
        self._job = job
        self.pick.show_job(job, system)
        self.pick.list.setFocus()

    def _add(self) -> None:
        if self._job is not None:
            self.made.emit(self.pick.zone(self._job))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.cancelled.emit()
            return
        super().keyPressEvent(event)
