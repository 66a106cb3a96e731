"""Finding any figure of the job by its name."""

from __future__ import annotations

from html import escape
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from ribpatch.ui.widgets.working import Overlay

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtCore import QRect

    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System

MOST = 60


class Finder(Overlay):
    """A line to type in over a list of figures as links; ``asked`` carries an id."""

    asked = Signal(object)

    def __init__(self, parent: QWidget, room: Callable[[], QRect]) -> None:
        super().__init__(parent, room)
        self.back.hide()
        self.line = QLineEdit()
        self.line.setPlaceholderText("part of a name: resin, taper, weight…")
        self.line.setAccessibleName("find a figure")
        layout = self.layout()
        assert isinstance(layout, QVBoxLayout)
        layout.insertWidget(1, self.line)
        self._plan: Plan | None = None
        self._zone = ""
        self._system: System = "metric"
        self._found: list[str] = []
        self.line.textChanged.connect(lambda: self._list())
        self.line.returnPressed.connect(lambda: self.asked.emit(self._found[0]) if self._found else None)
        self.text.linkActivated.connect(lambda identity: self.asked.emit(identity))

    def look(self, plan: Plan, zone: str, system: System) -> None:
        """Open the finder; figures of ``zone`` come first."""
        self._plan, self._zone, self._system = plan, zone, system
        self.line.clear()
        self.show_sheet("Find a figure", "")
        self._list()
        self.fit()
        self.line.setFocus()

    def _list(self) -> None:
        if self._plan is None:
            return
        words = self.line.text().lower().split()
        names = {z.zone.id: z.zone.name for z in self._plan.zones}
        known = [f for z in self._plan.zones if z.has_strength for f in z.prove_figures]
        rows = [(f, names.get(f.id.split(".")[0], "job")) for f in (*self._plan.figures, *known)]
        rows.sort(key=lambda r: not r[0].id.startswith(f"{self._zone}."))
        hits = [(f, where) for f, where in rows if all(w in f"{f.name} {where} {f.id}".lower() for w in words)][:MOST]
        self._found = [f.id for f, _ in hits]
        cells = "".join(
            f"<tr><td><a href='{escape(f.id)}'>{escape(f.name)}</a></td><td>&nbsp; {escape(where)}</td>"
            f"<td align='right'>&nbsp; {escape(f.shown(self._system))}</td></tr>"
            for f, where in hits
        )
        self.text.setText(f"<table cellpadding='3'>{cells}</table>" if hits else "No figure of that name.")
