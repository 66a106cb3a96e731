"""The boat strip: the boat from above with her zones, and at its end the job, its save state, units and the shed's
air.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QTimer, Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget
from shapely.geometry import Point

from ribpatch.core.drawing.boat_view import boat_view, zone_patch
from ribpatch.core.units import Kind, System, shown
from ribpatch.ui.scaling import factor, painter_of, place_of, px, room_of, sized
from ribpatch.ui.theme import colours
from ribpatch.ui.widgets.elided import Elided
from ribpatch.ui.widgets.figure_button import FigureButton
from ribpatch.ui.widgets.painter import DrawingPainter
from ribpatch.ui.widgets.spoken import Children, listened
from ribpatch.ui.widgets.view import View, fitted

if TYPE_CHECKING:
    from PySide6.QtGui import QMouseEvent, QPaintEvent

    from ribpatch.core.drawing.shapes import Drawing
    from ribpatch.core.plan import Plan
    from ribpatch.core.zone_plan import ZonePlan


UNITS: dict[System, str] = {
    "metric": "mm  kg  °C",
    "us": "ft  1/16 in  lb  °F",
    "us32": "ft  1/32 in  lb  °F",
    "us-decimal": "ft  .001 in  lb  °F",
}
FULL = 1000  # pixels of the window, at the usual size of text, that the whole strip wants
MARGINS = (14, 7, 14, 7)  # pixels round the boat
FEW = 8  # zones whose state is worked out at once; of more the state appears as it becomes known


def zone_hatch(made: ZonePlan) -> str:
    """The hatch of a zone's state: nothing read or not known yet, damage found, planned."""
    if not made.has_patch:
        return ""
    if made.patch.outlines:
        return "stitched"
    return "old laminate" if not made.patch.extent.likely.is_empty else ""


class BoatPicture(QWidget):
    """The boat from above. ``picked`` carries a zone id, or ``boat``."""

    picked = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        sized(self, least_width=420)
        self.setAccessibleName("boat from above")
        self.theme = "light"
        self._drawing: Drawing | None = None
        self._plan: Plan | None = None
        self._looks: tuple[object, ...] = ()
        self._children: Children | None = None
        self.setToolTip("Click a zone to go there (Ctrl+1 to Ctrl+9), the hull for the boat")

    def show_plan(self, plan: Plan, zone_id: str, look: tuple[str, ...] = ()) -> None:
        """Draw the boat with her zones; ``look`` marks those where the damage may have spread."""
        self._plan = plan
        for made in plan.zones if len(plan.zones) <= FEW else ():
            _ = made.patch
        boat = plan.job.boat
        looks = (
            boat,
            zone_id,
            look,
            *((z.zone.name, z.zone.kind, z.zone.place, z.zone.outline, z.zone.path, zone_hatch(z)) for z in plan.zones),
        )
        if looks == self._looks:
            return
        self._looks = looks
        hatches = tuple(zone_hatch(z) for z in plan.zones)
        self._drawing = boat_view(plan.job.boat, plan.job.zones, zone_id, hatches, look)
        self.update()
        if listened():
            QTimer.singleShot(0, self, self._speak)

    def _speak(self) -> None:
        """Offer the zones to those who listen."""
        from ribpatch.core.drawing.spoken import spoken

        if self._drawing is not None:
            if self._children is None:
                self._children = Children(self)
            self._children.show(
                [(words, self._view(self._drawing).to(at) * factor()) for words, at in spoken(self._drawing)]
            )

    def _view(self, drawing: Drawing) -> View:
        return fitted(drawing, room_of(self).width(), room_of(self).height(), MARGINS)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = painter_of(self)
        painter.fillRect(room_of(self), colours(self.theme)["rail"])
        if self._drawing is not None:
            DrawingPainter(painter, self._view(self._drawing), self.theme, room_of(self)).paint(self._drawing)

    def zone_at(self, at: QPointF) -> str:
        """The zone under a pixel, ``boat`` for the hull, or nothing."""
        if self._drawing is None or self._plan is None:
            return ""
        view = self._view(self._drawing)
        place = Point(view.back(at))
        boat = self._plan.job.boat
        near = [(zone_patch(boat, z).distance(place), z.id) for z in self._plan.job.zones]
        close = [n for n in near if n[0] * view.scale < 7]
        if close:
            return min(close)[1]
        return "boat" if abs(view.back(at)[1]) < boat.beam.si / 2 else ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = self.zone_at(place_of(event))
        if found:
            self.picked.emit(found)


class BoatStrip(QWidget):
    """The top of the window."""

    picked = Signal(object)
    asked = Signal(object)
    units_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        sized(self, height=104)
        self._theme = "light"
        self.picture = BoatPicture()
        self.picture.picked.connect(self.picked)
        self.name = Elided()
        self.name.setObjectName("title")
        self.state = Elided()
        self.state.setObjectName("soft")
        self.air = FigureButton()
        self.air.asked.connect(self.asked)
        self.warning = Elided()
        self.warning.setObjectName("warn")
        self.units = QPushButton()
        self.units.setObjectName("plain")
        self.units.setToolTip("Show everything in the other units (Ctrl+U); no stored value changes")
        self.units.clicked.connect(lambda: self.units_wanted.emit())
        right = QVBoxLayout()
        right.setSpacing(1)
        top = QHBoxLayout()
        top.addWidget(self.name, 1)
        top.addWidget(self.units)
        right.addLayout(top)
        right.addWidget(self.state)
        row = QHBoxLayout()
        row.addWidget(self.air)
        row.addStretch(1)
        right.addLayout(row)
        right.addWidget(self.warning)
        box = self._words = QWidget()
        box.setLayout(right)
        sized(box, width=440)
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 6, 0)
        layout.addWidget(self.picture, 1)
        layout.addWidget(box)

    def fit(self, wide: int) -> None:
        """Take less room where text is large for the window: what the strip leaves out stands in Boat."""
        tight = px(FULL) > wide
        self.state.setVisible(not tight)
        self.warning.setVisible(not tight)
        sized(self, height=72 if tight else 104)
        sized(self.picture, least_width=220 if tight else 420)
        sized(self._words, width=330 if tight else 440)

    def show_plan(self, plan: Plan, zone_id: str, system: System, look: tuple[str, ...] = ()) -> None:
        """Show boat, air and units."""
        boat, air = plan.job.boat, plan.job.air
        self.picture.show_plan(plan, zone_id, look)
        self.name.setText(boat.name)
        self.units.setText(UNITS[system])
        self.units.setAccessibleName(f"units: {UNITS[system]}")
        dew = next(f for f in plan.boat_figures if f.id == "air.dew")
        self.air.show_figure(dew, system)
        self.air.setText(
            f"Shed {shown(air.temperature.si, Kind.TEMPERATURE, system)}   {shown(air.humidity.si, Kind.PERCENT)} "
            "humid   "
            f"dew point {dew.shown(system)}"
        )
        found = [n for n in plan.job_notices if n.about == "air"]
        self.warning.setText(f"⚠ {found[0].text}" if found else "")

    def show_state(self, text: str) -> None:
        """Show the save state."""
        self.state.setText(text)

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self._theme = self.picture.theme = theme
        self.update()
        self.picture.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter_of(self).fillRect(room_of(self), colours(self._theme)["rail"])
