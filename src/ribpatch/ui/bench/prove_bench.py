"""The bench of Prove: the panel in its three states under one load, over its bent shape or a page."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QButtonGroup, QHBoxLayout, QLabel, QLayout, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.drawing.prove_view import NAMES, Maps, bent_run, bent_shapes, prove_maps, told_at
from ribpatch.core.structure.figures import shown_figure
from ribpatch.stages import stage_of
from ribpatch.ui.bench.member_tool import MemberTool
from ribpatch.ui.bench.split_room import SplitRoom
from ribpatch.ui.pages.pane import LowerPane
from ribpatch.ui.scaling import sized
from ribpatch.ui.widgets.canvas import Canvas
from ribpatch.ui.widgets.emptying import clear_layout
from ribpatch.ui.widgets.flow import FlowRow
from ribpatch.ui.widgets.spoken import announce

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtGui import QResizeEvent

    from ribpatch.core.drawing.shapes import Drawing
    from ribpatch.core.figure import Figure
    from ribpatch.core.geometry import Point
    from ribpatch.core.plan import Plan
    from ribpatch.core.structure.proved import Proved, Shows
    from ribpatch.core.structure.zone_panel import State
    from ribpatch.core.units import System
    from ribpatch.core.zone_plan import ZonePlan
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Tasks

BENT = "bent shape"
SHORT: dict[Shows, str] = {"deflection": "deflection", "strain": "strain", "shear": "core shear"}
MARGINS = (20, 44, 20, 20)  # left, top, right, bottom of the maps, pixels
LEAST = 96  # pixels of their height


class ProveBench(QWidget):
    """Maps over bent shapes. ``asked`` carries a figure whose working is wanted."""

    asked = Signal(object)

    def __init__(self, session: Session, tasks: Tasks, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._case: dict[str, str] = {}
        self.shows: Shows = "deflection"
        self._maps: Maps | None = None
        self._told = ""  # the zone that the words under the maps are about
        self._proved: Proved | None = None
        self.map_canvas, self.bent_canvas = Canvas("panel under load"), Canvas("bent shape")
        self.map_canvas.asked.connect(self.asked)
        self.members = MemberTool(session, self._place, self._tell, lambda: self._arrange())
        self.map_canvas.tools = (self.members,)
        self.map_canvas.setMouseTracking(True)
        self.map_canvas.margins = MARGINS
        sized(self.map_canvas, least_height=LEAST)
        self._cases, self._kinds = FlowRow(), QHBoxLayout()
        self.case_buttons: dict[str, QPushButton] = {}
        self.kind_buttons: dict[str, QPushButton] = {}
        self._case_group, self._kind_group = QButtonGroup(self), QButtonGroup(self)
        for shows in NAMES:
            self.kind_buttons[shows] = self._button(SHORT[shows], self._kinds, self._kind_group, self._show_kind(shows))
        self.kind_buttons["deflection"].setChecked(True)
        self.echo = QLabel("")
        self.echo.setObjectName("echo")
        sized(self.echo, height=24)
        self.echo.setAccessibleName("value under the pointer")
        self.below = LowerPane(session, tasks, self.bent_canvas, BENT)
        self.below.asked.connect(self.asked)
        self.below.said.connect(self._tell)
        self.below.section_wanted.connect(lambda: self._arrange())
        session.opening.connect(lambda: self._forget())
        self._lay_out()

    def _lay_out(self) -> None:
        row = QHBoxLayout()
        row.setSpacing(4)
        row.addWidget(self._cases, 1)
        row.addLayout(self._kinds)
        self.split = SplitRoom(self.map_canvas, self.below)
        self.split.splitterMoved.connect(lambda: self._arrange())
        self.below.whole.connect(self.split.set_whole)
        self.below.whole.connect(lambda _whole: QTimer.singleShot(0, self, self._arrange))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        layout.addLayout(row)
        layout.addWidget(self.split, 1)
        layout.addWidget(self.echo)

    def _button(self, text: str, row: QLayout, group: QButtonGroup, act: Callable[[], None]) -> QPushButton:
        button = QPushButton(text[0].upper() + text[1:])
        button.setObjectName("plain")
        button.setCheckable(True)
        button.setToolTip(f"Show {text}")
        button.clicked.connect(lambda: act())
        group.addButton(button)
        row.addWidget(button)
        return button

    def _show_kind(self, shows: Shows) -> Callable[[], None]:
        def act() -> None:
            self.shows = shows
            self._arrange()

        return act

    def show_case(self, case: str) -> None:
        """Show another load case."""
        self._case[self._session.zone_id] = case
        self._arrange()

    def _forget(self) -> None:
        """Another job comes: nothing that was looked at in the one before belongs to it."""
        self._case.clear()
        self.below.forget()

    def _tell(self, text: str) -> None:
        self.echo.setText(text)
        announce(self.echo, text)

    # ---- showing ----

    def show_plan(self, plan: Plan, system: System) -> None:
        """Show the zone worked on."""
        self.below.turn_to(stage_of("prove"))
        zone = self._session.zone
        if self._session.zone_id != self._told:
            self._told = self._session.zone_id
            self._tell("")
        self._maps, self._proved = None, None
        self.members.active = self.members.dragging
        if zone is None:
            self._empty("No zone yet: add one in Boat first (Ctrl+Shift+N).", "")
            return
        made = plan.zone(zone.id)
        if self.members.dragging and made.strength.proved is not None:
            self._show_panel(made, system)
            return
        fault = made.strength.fault
        if fault:
            self._empty(zone.name, fault)
        elif made.strength.model is None:
            self._empty(zone.name, _nothing(made))
        elif made.strength.proved is not None:
            self._show_panel(made, system)
        elif made.strength.run is not None:
            self._show_run(made, system)
        else:
            self._show_tab(made, system)

    def _empty(self, heading: str, words: str) -> None:
        self._show_cases((), "")
        for canvas in (self.map_canvas, self.bent_canvas):
            canvas.heading, canvas.aside, canvas.figures, canvas.legend = "", "", (), None
            canvas.show_drawing(None)
        self.map_canvas.heading = f"{heading}: {words}" if words else heading
        self.map_canvas.refresh()
        self.bent_canvas.refresh()

    def _show_panel(self, made: ZonePlan, system: System) -> None:
        proved = made.strength.proved
        assert proved is not None
        if self.members.dragging:
            proved = replace(proved, draft=True)
        keys = [c.key for c in proved.cases]
        case = self._case.get(made.zone.id, keys[0])
        case = case if case in keys else keys[0]
        self._case[made.zone.id] = case
        solid = proved.panel.laminate.sandwich is None
        self.kind_buttons["shear"].setEnabled(not solid)
        shows: Shows = "deflection" if solid and self.shows == "shear" else self.shows
        self.kind_buttons[shows].setChecked(True)
        self._show_cases(tuple((c.key, c.short) for c in proved.cases), case)
        room = self.map_canvas.width() / max(self.map_canvas.height() - 80, 60)
        maps = prove_maps(proved, case, shows, system, round(room, 1))
        self._maps, self._proved = maps, proved
        canvas = self.map_canvas
        canvas.heading, canvas.aside = maps.drawing.title, ""
        canvas.figures, canvas.system = (), system  # they follow when the picture is painted
        canvas.legend, canvas.legend_note = maps.legend, maps.drawing.note
        canvas.show_drawing(maps.drawing)
        canvas.refresh()
        self.members.active = True
        self._show_bent(bent_shapes(proved, case, system))

    def _show_run(self, made: ZonePlan, system: System) -> None:
        from ribpatch.core.drawing.section_of_run import run_section_view

        model = made.strength.run
        assert model is not None
        self._show_cases((), "")
        drawing = run_section_view(model, system)
        canvas = self.map_canvas
        canvas.heading, canvas.aside, canvas.legend = drawing.title, drawing.note, None
        canvas.figures, canvas.system = (), system
        canvas.show_drawing(drawing)
        canvas.refresh()
        self._show_bent(bent_run(model, system))

    def _show_tab(self, made: ZonePlan, system: System) -> None:
        from ribpatch.core.drawing.tab_view import tab_view

        tabbing, stack = made.zone.scheme.laminate.tabbing, made.patch.stack
        if tabbing is None or not stack.plies:
            self._empty(made.zone.name, "lay its plies as tabbing in Rebuild to see the joint; Margins tells its bond.")
            return
        self._empty(made.zone.name, "")
        drawing = tab_view(stack, tabbing, made.shelf, system)
        self.map_canvas.heading, self.map_canvas.aside = drawing.title, drawing.note
        self.map_canvas.show_drawing(drawing)
        self.map_canvas.refresh()

    def _figures(self, made: ZonePlan, case: str) -> tuple[Figure, ...]:
        """The one that the maps are about, under the state that the repair comes to."""
        figure = shown_figure(made.strength, case, self.shows)
        return (figure,) if figure is not None else ()

    def _show_bent(self, drawing: Drawing) -> None:
        if not self.below.shows_section:
            return
        self.bent_canvas.heading, self.bent_canvas.aside = drawing.title, drawing.note
        self.bent_canvas.show_drawing(drawing)
        self.bent_canvas.refresh()

    def _show_cases(self, cases: tuple[tuple[str, str], ...], chosen: str) -> None:
        if tuple(self.case_buttons) != tuple(key for key, _ in cases):
            clear_layout(self._cases.flow)
            self._case_group.deleteLater()
            self._case_group = QButtonGroup(self)
            self.case_buttons = {
                key: self._button(name, self._cases.flow, self._case_group, partial(self.show_case, key))
                for key, name in cases
            }
            self._cases.keep_height()
        if chosen:
            self.case_buttons[chosen].setChecked(True)
        for button in self.kind_buttons.values():
            button.setVisible(bool(cases))

    def show_pages(self, plan: Plan) -> None:
        """Show the page below."""
        zone = self._session.zone
        if zone is None:
            return
        self.below.show_plan(plan)
        if self._maps is not None:
            self.map_canvas.figures = self._figures(plan.zone(zone.id), self._case[zone.id])
            self.map_canvas.refresh()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        QTimer.singleShot(0, self, self._arrange)

    def _arrange(self) -> None:
        """Show it again: there is other room for the maps, or the shape below is wanted after another page."""
        if self._session.is_open and self._told == self._session.zone_id and self.isVisible():
            self.show_plan(self._session.plan, self._session.system)
            self.show_pages(self._session.plan)

    # ---- under the pointer ----

    def _place(self, at: Point) -> tuple[State, Point] | None:
        """The state and panel place under a place of the drawing; says its value."""
        if self._maps is None or self._proved is None:
            return None
        panel = self._proved.panel
        found = self._maps.place(at, (panel.a, panel.b))
        if found is not None:
            case, system = self._case[self._session.zone_id], self._session.system
            self._tell(told_at(self._proved, found[0], case, self.shows, found[1], system))
        return found

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self.map_canvas.set_theme(theme)
        self.bent_canvas.set_theme(theme)
        self.below.set_theme(theme)


def _nothing(made: ZonePlan) -> str:
    if made.zone.kind == "transom":
        return "state the engine among the choices: its power, mass and where it hangs."
    return "nothing loads it yet. Panels carry people and pressure, stringers pressure and what stands on them."


BENCH = ProveBench
