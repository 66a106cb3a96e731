"""The bench of Boat to Rebuild: the plan of the zone over its section, with the tools of the stage."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ribpatch.core.drawing.plan_view import OPENED, plan_view
from ribpatch.core.drawing.section_view import Box, default_line, followed_line, section_view
from ribpatch.core.drawing.survey_picture import Shows, known_marks, marks_to_test, survey_picture
from ribpatch.core.errors import BadOutline
from ribpatch.core.geometry import Point, Ring, middle_box, polygon_of, simplified
from ribpatch.stages import Stage, stage_of
from ribpatch.ui.bench.grip_tool import GripTool
from ribpatch.ui.bench.handles import CornerTool, SectionTool
from ribpatch.ui.bench.line_tool import LineTool
from ribpatch.ui.bench.pin_tool import PinTool
from ribpatch.ui.bench.reading_tool import ReadingTool
from ribpatch.ui.bench.room_tool import RoomTool
from ribpatch.ui.bench.split_room import SplitRoom
from ribpatch.ui.brush import NONE, Brush
from ribpatch.ui.pages.pane import LowerPane
from ribpatch.ui.scaling import sized
from ribpatch.ui.widgets.canvas import Canvas
from ribpatch.ui.widgets.spoken import announce

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.drawing.shapes import Drawing, Shape
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.readings import Photograph
    from ribpatch.core.zone_plan import ZonePlan
    from ribpatch.ui.bench.underlay import UnderBar
    from ribpatch.ui.session import Change, Session
    from ribpatch.ui.tasks import Tasks
    from ribpatch.ui.widgets.canvas import Tool

MARKS = "○ tap  □ meter  fuller: worse  underlined: reference  hatched: not surveyed  1 2 3: next"
HANDLE_TOLERANCE = 0.008  # m; corners of a free line that are worth a handle


class ZoneBench(QWidget):
    """Plan over section. ``asked`` carries a figure whose working is wanted."""

    asked = Signal(object)
    plan_wanted = Signal()  # something is to be done on the plan next

    def __init__(self, session: Session, tasks: Tasks, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self.tasks = session, tasks
        # With the box of the outline that each was drawn in.
        self._lines: dict[str, tuple[tuple[Point, Point], Box]] = {}
        self._to_test: dict[str, tuple[Shape, ...]] = {}
        self._token, self._looked_at = -1, ("", "")
        self.plan_canvas = Canvas("plan of the zone", self)
        self.section_canvas = Canvas("cut-through of the zone", self)
        self.readings = ReadingTool(session, self.say)
        self.corners = CornerTool(self._put_corners, self._drag_ended, self._snap)
        self.section = SectionTool(self._section_moved)
        self.plan_canvas.asked.connect(self.asked)
        self.lines = LineTool(session, self.say, self._meant)
        self.pins = PinTool(self._pinned)
        self.room = RoomTool(self.say)
        self.grip = GripTool(self.corners, self.section, lambda: session.system, self.say)
        over = (self.pins, self.lines, self.grip, self.corners, self.section)  # whatever is read, and the room shown
        self.plan_canvas.tools = (*over, self.readings, self.room)
        self.plan_canvas.setMouseTracking(True)
        self.plan_canvas.spots_said = self._readings_said
        self.shows: Shows = "chance"
        self.pair = ("", "")
        session.changed.connect(self._job_changed)
        self.echo = QLabel("")
        self.echo.setObjectName("echo")
        sized(self.echo, height=24)
        self.echo.setAccessibleName("last entry")
        self.echo.setMinimumWidth(20)  # a long sentence gives way; it stands whole in its tooltip
        self.below = LowerPane(session, tasks, self.section_canvas, parent=self)
        self.below.asked.connect(self.asked)
        self.below.said.connect(self.say)
        self.below.section_wanted.connect(lambda: self._show_section(session.plan))
        self.split = SplitRoom(self.plan_canvas, self.below, self)
        self.below.whole.connect(self.split.set_whole)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        self._last = QHBoxLayout()
        self._last.addWidget(self.echo, 1)
        self._column = layout
        layout.addWidget(self.split, 1)
        layout.addLayout(self._last)

    # What is seldom wanted is made when it is first.

    @cached_property
    def under(self) -> UnderBar:
        """Which photograph lies under the plan."""
        from ribpatch.ui.bench.underlay import UnderBar

        bar = UnderBar(self._session)
        bar.changed.connect(lambda: self._show_under(self._session.zone))
        self._last.addWidget(bar)
        return bar

    def _job_changed(self, change: Change) -> None:
        """Another job: nothing that was looked at in the one before belongs to it."""
        if change.old is None:
            self._lines.clear()
            self._to_test.clear()
            self.readings.forget()
            self.take(NONE)
            if "under" in self.__dict__:
                self.under.forget()
            self.shows, self.pair = "chance", ("", "")
            self.below.forget()

    def say(self, text: str) -> None:
        """Say the last entry; over what is seen where the bench is not."""
        self._echo(text)
        if text and not self.isVisible():
            self._session.told.emit(text)

    def _echo(self, text: str) -> None:
        self.echo.setText(text)
        self.echo.setToolTip(text)
        announce(self.echo, text)

    def _readings_said(self) -> dict[str, str]:
        """Every reading of the zone in words, for those who listen."""
        from ribpatch.core.survey.entry import reading_words

        zone = self._session.zone
        rows = zone.survey.readings if zone is not None else ()
        return {r.id: reading_words(r, self._session.system) for r in rows}

    # ---- showing ----

    def show_plan(self, plan: Plan) -> None:
        """Show the zone worked on at the stage looked at."""
        zone = self._session.zone
        if zone is None:
            self.plan_canvas.heading = "No zone yet: add the first place to survey in Boat (Ctrl+Shift+N)."
            self.plan_canvas.figures, self.plan_canvas.legend = (), None
            self.plan_canvas.show_drawing(None)
            self.section_canvas.show_drawing(None)
            self.section.line, self.corners.active = None, False
            self._show_under(None)
            self.plan_canvas.refresh()
            return
        if (zone.id, self._stage.id) != self._looked_at:
            self._looked_at = zone.id, self._stage.id
            self.grip.let_go()
        made = plan.zone(zone.id)
        self._show_tools(zone, made)
        self._show_headings(zone, made)
        self._show_under(zone)
        self.plan_canvas.show_drawing(self._drawing(zone, made, plan))
        self.plan_canvas.refresh()
        self.below.turn_to(self._stage)
        self._show_section(plan)

    def show_pages(self, plan: Plan) -> None:
        """Show what can wait until the picture is painted: the page below, the reading under the cursor."""
        zone = self._session.zone
        if zone is None:
            return
        self.below.show_plan(plan)
        self.readings.tell_cursor()
        if self._stage.depth == "find":
            self._show_tests(zone, plan)

    def _show_under(self, zone: Zone | None) -> None:
        """Lay the photograph wanted under the plan, where the zone has one that is set straight."""
        lies = zone is not None and any(p.straight is not None for p in zone.survey.photographs)
        if not lies and "under" not in self.__dict__:
            return
        self.under.show_zone(zone)
        flat = zone is not None and lies and not self._straight(zone)
        self.plan_canvas.under = self.under.underlay(zone) if flat and zone is not None else None
        self.plan_canvas.refresh()

    def _show_tests(self, zone: Zone, plan: Plan) -> None:
        """Where to test next follows the picture; until it is known what was marked before stays."""
        marks = marks_to_test(zone, plan.shelf)
        if marks != self._to_test.get(zone.id, ()):
            self._to_test[zone.id] = marks
            self.plan_canvas.show_drawing(self._drawing(zone, plan.zone(zone.id), plan))

    @property
    def _stage(self) -> Stage:
        return stage_of(self._session.stage)

    def _drawing(self, zone: Zone, made: ZonePlan, plan: Plan) -> Drawing:
        """The plan of the stage with its picture and marks; sets the legend that goes with it."""
        from ribpatch.core.drawing.run_view import run_view

        depth = self._stage.depth
        finding = depth == "find"
        wanted = (self.shows, *self.pair) if finding else ("chance", "", "")
        shown = depth in ("find", "open")
        picture = survey_picture(zone, plan.shelf, *wanted) if shown else None
        self.plan_canvas.legend = picture
        self.plan_canvas.legend_note = MARKS if finding else ""
        marks = (*known_marks(zone), *self._to_test.get(zone.id, ())) if finding else ()
        self.readings.straight = self._straight(zone)
        if self.readings.straight:
            return run_view(zone, made.found, plan.shelf, self._session.system, picture, marks)
        patch = made.patch if depth in OPENED else made.found
        return plan_view(zone, patch, picture, plan.shelf, depth, self._session.system, marks)

    def _straight(self, zone: Zone) -> bool:
        """Whether the zone is drawn as a straight run: while it is surveyed, unless its extent is drawn by hand."""
        return zone.is_run and self._stage.depth == "find" and zone.survey.drawn is None

    def _meant(self, at: Point) -> Point:
        zone = self._session.zone
        return self.readings.place_at(zone, at) if zone is not None else at

    def take(self, brush: Brush) -> None:
        """Use a brush on the plan."""
        self.readings.brush = brush
        self.lines.take(brush)
        self._echo(brush.words)

    def show_picture(self, shows: Shows, pair: tuple[str, str]) -> None:
        """Show another picture behind the readings."""
        self.shows, self.pair = shows, pair
        zone = self._session.zone
        if zone is None:
            return
        self.show_plan(self._session.plan)
        if survey_picture(zone, self._session.plan.shelf, shows, *pair) is None:
            self.say(
                "Compare two sessions under Over time first."
                if shows == "change"
                else "No reading here says anything of that."
            )

    def pin(self, photograph: Photograph) -> None:
        """Pin a photograph to the next place clicked."""
        self.pins.system = self._session.system
        self.pins.wait_for(photograph.id)
        self.plan_wanted.emit()
        self.plan_canvas.setFocus()
        self.say("Click on the plan where it was taken, or Enter at the cross of the arrows; Esc leaves it.")

    def pick_place(self, put: Callable[[str, Point], None]) -> None:
        """Give the next place clicked on the plan to ``put``."""
        self.pins.system = self._session.system
        self.pins.wait_for("place", lambda what, at: put(what, self._meant(at)))
        self.plan_wanted.emit()

    def cut_rings(self, zone: Zone, made: ZonePlan) -> tuple[Ring, ...]:
        """The cut line as it can be dragged."""
        return zone.scheme.cut.drawn or simplified(made.patch.cut.sharp, HANDLE_TOLERANCE)

    def _pinned(self, photograph: str, at: Point) -> None:
        from ribpatch.core.survey_edits import set_photograph

        zone = self._session.zone
        if zone is not None:
            x, y = self._meant(at)
            self._session.apply(set_photograph(zone.id, photograph, at=(round(x, 4), round(y, 4))))

    def _show_headings(self, zone: Zone, made: ZonePlan) -> None:
        self.plan_canvas.heading = zone.name
        self.plan_canvas.figures = tuple(f for key in self._stage.figures if (f := made.figure(key)) is not None)
        self.plan_canvas.system = self._session.system

    def _line(self, zone: Zone) -> tuple[Point, Point]:
        """The section line of a zone: as drawn, following its outline, or across its middle."""
        box = polygon_of(zone.outline).bounds
        line, drawn_in = self._lines.get(zone.id, (default_line(zone), box))
        if drawn_in != box:
            line = followed_line(line, drawn_in, box)
        self._lines[zone.id] = line, box
        return line

    def _show_section(self, plan: Plan) -> None:
        """The cut-through; while another page is shown in its place it is not drawn."""
        from ribpatch.core.drawing.tab_view import tab_view

        zone = self._session.zone
        if zone is None or not self.below.shows_section:
            return
        made, stage, line = plan.zone(zone.id), self._stage, self._line(zone)
        opened = stage.depth in OPENED
        tabbing = zone.scheme.laminate.tabbing if stage.depth == "rebuild" else None
        if tabbing is not None:
            drawing = tab_view(made.patch.stack, tabbing, plan.shelf, self._session.system)
        else:
            patch = made.patch if opened else made.found
            drawing = section_view(zone, patch, plan.shelf, line, opened, self._session.system)
        self.section_canvas.heading = drawing.title + ("" if opened else ", as found")
        self.section_canvas.aside = drawing.note
        self.section_canvas.show_drawing(drawing)
        self.section_canvas.refresh()

    def _show_tools(self, zone: Zone, made: ZonePlan) -> None:
        stage = self._stage
        self.section.line = None if self._straight(zone) else self._line(zone)
        self.room.band = made.patch.band if stage.depth == "open" else None
        self.readings.active = stage.dragged == "extent" and zone.survey.drawn is None
        if self.corners.dragging and self.corners.active:
            rings = self._stored(zone)
            if rings is not None:
                self.corners.rings = rings
            return
        self.corners.rings = self._handles(zone, made)
        self.corners.active = bool(self.corners.rings)

    def _stored(self, zone: Zone) -> tuple[Ring, ...] | None:
        if self._stage.dragged == "outline":
            return (zone.outline,)
        return zone.survey.drawn if self._stage.dragged == "extent" else zone.scheme.cut.drawn

    def _handles(self, zone: Zone, made: ZonePlan) -> tuple[Ring, ...]:
        if self._stage.dragged == "cut":
            return self.cut_rings(zone, made)
        return (self._stored(zone) or ()) if self._stage.dragged else ()

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self.plan_canvas.set_theme(theme)
        self.section_canvas.set_theme(theme)
        self.below.set_theme(theme)

    # ---- editing by hand ----

    def add_tool(self, tool: Tool) -> None:
        """Let a tool take the mouse and keys over the plan before all others."""
        self.plan_canvas.tools = (tool, *self.plan_canvas.tools)

    def add_bar(self, bar: QWidget) -> None:
        """Put a line of fields under the plan."""
        self._column.insertWidget(1, bar)

    def caught(self, at: Point, reach: float, rings: tuple[Ring, ...], fixed: Point | None = None) -> Point:
        """Where a corner catches: on fittings, edges, corners of ``rings``, round sizes; what it caught on is told."""
        from ribpatch.core.patch.snapping import snapped, snaps_of

        zone = self._session.zone
        if zone is None:
            return at
        place, words = snapped(at, snaps_of(zone, rings, self._session.system), reach, fixed)
        self.say(words)
        return place

    def _snap(self, at: Point, reach: float, fixed: Point) -> Point:
        others = tuple(tuple(p for p in ring if p != fixed) for ring in self.corners.rings)
        return self.caught(at, reach, others, fixed)

    def _put_corners(self, rings: tuple[Ring, ...], dragging: bool) -> bool:
        from ribpatch.core import edits

        zone = self._session.zone
        if zone is None:
            return False
        if dragging and self._token < 0:
            self._token = self._session.drag_token()
        make = {"extent": edits.draw_extent, "cut": edits.draw_cut}.get(self._stage.dragged)
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
        from ribpatch.core import edits

        zone = self._session.zone
        if zone is None:
            return
        likely = simplified(self._session.plan.zone(zone.id).patch.extent.likely, 0.01)
        rings = likely or middle_box(zone.outline)
        if self._session.apply(edits.draw_extent(zone.id, rings)):
            self.plan_wanted.emit()
            self.say("Drag the corners; double-click a side to add one.")

    def _section_moved(self, line: tuple[Point, Point]) -> None:
        zone = self._session.zone
        if zone is not None:
            self._lines[zone.id] = line, polygon_of(zone.outline).bounds
            self._show_section(self._session.plan)
