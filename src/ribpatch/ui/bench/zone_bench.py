"""The bench of Boat to Rebuild: the plan of the zone over its section, with the tools of the stage."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QLabel, QSplitter, QVBoxLayout, QWidget

from ribpatch.core import edits
from ribpatch.core.drawing.plan_view import Depth, plan_view
from ribpatch.core.drawing.section_view import default_line, section_view
from ribpatch.core.errors import BadOutline
from ribpatch.core.geometry import Point, Ring, polygon_of, simplified
from ribpatch.core.job import Zone
from ribpatch.core.plan import Plan, ZonePlan
from ribpatch.ui.bench.canvas import Canvas
from ribpatch.ui.bench.handles import CornerTool, SectionTool
from ribpatch.ui.bench.reading_tool import ReadingTool
from ribpatch.ui.session import Session

MARKS = "circle: tap   square: meter   fuller: worse   underlined: sound reference"
HANDLE_TOLERANCE = 0.008  # m; corners of a free line that are worth a handle


class ZoneBench(QWidget):
    """Plan over section. ``asked`` carries a figure whose working is wanted."""

    asked = Signal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._lines: dict[str, tuple[Point, Point]] = {}
        self._token = -1
        self.plan_canvas = Canvas("plan of the zone")
        self.section_canvas = Canvas("cut-through of the zone")
        self.readings = ReadingTool(session, self.say)
        self.corners = CornerTool(self._put_corners, self._drag_ended)
        self.section = SectionTool(self._section_moved)
        self.plan_canvas.asked.connect(self.asked)
        self.plan_canvas.tools = (self.corners, self.section, self.readings)
        self.echo = QLabel("")
        self.echo.setObjectName("echo")
        self.echo.setFixedHeight(24)
        self.echo.setAccessibleName("last entry")
        splitter = QSplitter(Qt.Orientation.Vertical)
        splitter.addWidget(self.plan_canvas)
        splitter.addWidget(self.section_canvas)
        splitter.setStretchFactor(0, 7)
        splitter.setStretchFactor(1, 4)
        splitter.setSizes([390, 220])
        splitter.setChildrenCollapsible(False)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        layout.addWidget(splitter, 1)
        layout.addWidget(self.echo)

    def say(self, text: str) -> None:
        """Say the last entry."""
        self.echo.setText(text)

    # ---- showing ----

    def show_plan(self, plan: Plan) -> None:
        """Show the zone worked on at the stage looked at."""
        zone = self._session.zone
        if zone is None:
            self.plan_canvas.heading = "No zone yet: add the first place to survey in Boat (Ctrl+Shift+N)."
            self.plan_canvas.figures, self.plan_canvas.legend = (), False
            self.plan_canvas.show_drawing(None)
            self.section_canvas.show_drawing(None)
            self.section.line, self.corners.active = None, False
            self.plan_canvas.refresh()
            return
        made = plan.zone(zone.id)
        stage = self._session.stage
        depth: Depth = (
            "rebuild" if stage == "rebuild" else "open" if stage == "open" else "find" if stage == "find" else "boat"
        )
        self._show_tools(zone, made, stage)
        self._show_headings(zone, made, stage)
        system = self._session.system
        field = made.field if depth in ("find", "open") else None
        self.plan_canvas.legend = field is not None and zone.survey.drawn is None
        self.plan_canvas.legend_note = MARKS if depth == "find" else ""
        self.plan_canvas.show_drawing(plan_view(zone, made.patch, field, plan.shelf, depth, system))
        self.plan_canvas.refresh()
        self._show_section(zone, made, plan)

    def _show_headings(self, zone: Zone, made: ZonePlan, stage: str) -> None:
        system, figures = self._session.system, made.by_id
        self.plan_canvas.heading = zone.name
        parts = {
            "boat": ("zone.area",), "find": ("extent.area", "extent.surely"), "open": ("extent.area", "cut.area", "taper.area"),
            "rebuild": ("cut.area", "taper.area", "stack.thickness"),
        }.get(stage, ())  # fmt: skip
        self.plan_canvas.figures = tuple(figures[k] for k in parts if k in figures)
        self.plan_canvas.system = system

    def _show_section(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        line = self.section.line or default_line(zone)
        opened = self._session.stage in ("open", "rebuild")
        drawing = section_view(zone, made.patch, plan.shelf, line, opened, self._session.system)
        self.section_canvas.heading = drawing.title + ("" if opened else ", as found")
        self.section_canvas.aside = drawing.note
        self.section_canvas.show_drawing(drawing)
        self.section_canvas.refresh()

    def _show_tools(self, zone: Zone, made: ZonePlan, stage: str) -> None:
        self.section.line = self._lines.setdefault(zone.id, default_line(zone))
        self.readings.active = stage == "find" and zone.survey.drawn is None
        if self.corners.dragging and self.corners.active:
            rings = self._stored(zone, stage)
            if rings is not None:
                self.corners.rings = rings
            return
        self.corners.rings = self._handles(zone, made, stage)
        self.corners.active = bool(self.corners.rings)

    def _stored(self, zone: Zone, stage: str) -> tuple[Ring, ...] | None:
        if stage == "boat":
            return (zone.outline,)
        return zone.survey.drawn if stage == "find" else zone.scheme.cut.drawn

    def _handles(self, zone: Zone, made: ZonePlan, stage: str) -> tuple[Ring, ...]:
        if stage == "boat":
            return (zone.outline,)
        if stage == "find":
            return zone.survey.drawn or ()
        if stage == "open":
            return zone.scheme.cut.drawn or simplified(made.patch.cut.sharp, HANDLE_TOLERANCE)
        return ()

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self.plan_canvas.set_theme(theme)
        self.section_canvas.set_theme(theme)

    # ---- editing by hand ----

    def _put_corners(self, rings: tuple[Ring, ...], dragging: bool) -> bool:
        zone = self._session.zone
        if zone is None:
            return False
        if dragging and self._token < 0:
            self._token = self._session.drag_token()
        stage = self._session.stage
        make = {"find": edits.draw_extent, "open": edits.draw_cut}.get(stage)
        try:
            edit = make(zone.id, rings) if make else edits.set_outline(zone.id, rings[0])
        except BadOutline as fault:
            self.say(fault.sentence)
            return False
        return self._session.apply(edit, self._token if dragging else -1)

    def _drag_ended(self) -> None:
        """The next drag is a new step, and handles follow the line as it now stands."""
        self._token = -1
        self.show_plan(self._session.plan)

    def draw_extent(self) -> None:
        """Take the suggested extent over as an outline to drag; a box in the middle where there is none."""
        zone = self._session.zone
        if zone is None:
            return
        rings = simplified(self._session.plan.zone(zone.id).patch.extent.likely, 0.01)
        if not rings:
            x0, y0, x1, y1 = polygon_of(zone.outline).bounds
            w, h = (x1 - x0) / 8, (y1 - y0) / 8
            x, y = (x0 + x1) / 2, (y0 + y1) / 2
            rings = (((x - w, y - h), (x + w, y - h), (x + w, y + h), (x - w, y + h)),)
        if self._session.apply(edits.draw_extent(zone.id, rings)):
            self.say("Drag the corners; double-click a side to add one.")

    def _section_moved(self, line: tuple[Point, Point]) -> None:
        zone = self._session.zone
        if zone is not None:
            self._lines[zone.id] = line
            self._show_section(zone, self._session.plan.zone(zone.id), self._session.plan)
