"""Boat: the boat, her shed, and the zone worked on: where it is, its outline, build-up, fittings, edges, seams."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QPlainTextEdit, QPushButton

from ribpatch.core import edits
from ribpatch.core.errors import Fault
from ribpatch.core.facts import zone_facts
from ribpatch.core.job import Edge, Fitting, Zone
from ribpatch.core.numerals import in_words
from ribpatch.core.quantity import parse
from ribpatch.core.record import built
from ribpatch.core.units import Kind, Measure, shown
from ribpatch.ui.scaling import sized
from ribpatch.ui.stages.boat_facts import FactsPanel
from ribpatch.ui.stages.boat_outline import OutlinePanel
from ribpatch.ui.stages.boat_seams import SeamPanel
from ribpatch.ui.stages.stage import Stage
from ribpatch.ui.typed import wait_for
from ribpatch.ui.widgets.combo import Combo, show_items
from ribpatch.ui.widgets.entry import Field, Pick
from ribpatch.ui.widgets.rows import Rows
from ribpatch.ui.widgets.stack_editor import StackEditor

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.fields import Path
    from ribpatch.core.geometry import Point
    from ribpatch.core.plan import Plan
    from ribpatch.ui.shell import Shell
    from ribpatch.ui.widgets.card import Card

SEALS: tuple[tuple[str, bool | None], ...] = (("sealed", True), ("unsealed", False), ("unknown", None))


BOX = ("Click one corner of the fitting; Esc leaves it.", "Click the corner across from it.")
ROUND = ("Click one side of the round fitting; Esc leaves it.", "Click the side across from it.")
# As it is said, and as the line itself hints.
FITTING_LINES = (
    ("name", "name"),
    ("x", "x"),
    ("y", "y"),
    ("width or ⌀", "width or ⌀"),
    ("height, empty if round", "height"),
    ("holes", "holes"),
    ("hole ⌀", "hole ⌀"),
)


class BoatStage(Stage):
    """The decisions of the Boat rung."""

    name = "boat"
    title = "Boat and zone"
    first = ("Measure first",)
    add_zone_wanted = Signal()
    trace_wanted = Signal(object, object)

    def connect_to(self, window: Shell) -> None:
        self.add_zone_wanted.connect(lambda: window.add_zone())
        for button, action in self.outline.asked:
            button.clicked.connect(lambda _checked=False, a=action: window.actions_table.trigger(a))
        self.trace_wanted.connect(lambda words, put: window.tracing.two_places(words, put))
        self.seams.trace_wanted.connect(lambda words, put: window.tracing.two_places(words, put))

    def build(self) -> None:
        self._begun = ""
        self.session.opening.connect(lambda: setattr(self, "_begun", ""))
        card = self.card("Measure first", ("facts",))
        self.facts = FactsPanel(self.session, parent=card.body)
        card.add(self.facts)
        self._boat_card()
        self._air_card()
        self._zone_card()
        self._path_card()
        self._outline_card()
        self._build_card()
        self._fittings_card()
        self._edges_card()
        card = self.card("Seams, frames, core joints", ("seams",))
        self.seams = SeamPanel(self.session, parent=card.body)
        card.add(self.seams)

    def _bound_to(self, card: Card, *parts: str) -> None:
        path: Path = parts
        self.bind(card, Field(self.session, lambda: path if self.session.is_open else None, parent=card.body))

    def _boat_card(self) -> None:
        card = self.card("Boat", ("zones",))
        for key in ("name", "length", "waterline", "beam", "depth", "displacement", "year", "use"):
            self._bound_to(card, "boat", key)

    def _air_card(self) -> None:
        card = self.card("Shed air", ("air",))
        for key in ("temperature", "humidity", "surface"):
            self._bound_to(card, "air", key)
        card.add_figure("dew point", "air.dew")

    def _zone_card(self) -> None:
        card = self.card("This zone", ("place",))
        self.field(card, "name")
        kinds = (
            ("deck", "deck panel"),
            ("sole", "sole"),
            ("hull", "hull panel"),
            ("keel", "keel"),
        )
        self.choice(card, kinds, "kind", label="A panel")
        self.choice(card, (("transom", "transom"), ("bulkhead", "bulkhead")), "kind", label="standing across the boat")
        runs = (("stringer", "stringer run"), ("frame", "frame"), ("tabbing", "tabbing run"))
        self.choice(card, runs, "kind", label="or a run, where only the distance along counts")
        self.choice(card, (("joint", "joint run"), ("fasteners", "fastener run")), "kind")
        self.field(card, "place", "station")
        self.choice(card, tuple((s, s) for s in ("port", "centre", "starboard")), "place", "side", label="Side")
        self.field(card, "place", "height")
        row = QHBoxLayout()
        self.add_zone = QPushButton("Add a zone")
        self.add_zone.setToolTip("Add the next place to survey (Ctrl+Shift+N)")
        self.add_zone.clicked.connect(lambda: self.add_zone_wanted.emit())
        self.delete_zone = QPushButton("Delete this zone")
        self.delete_zone.setToolTip("Delete this zone with its readings; undo brings it back")
        self.delete_zone.clicked.connect(lambda: self._delete_zone())
        row.addWidget(self.add_zone)
        row.addWidget(self.delete_zone)
        card.add(row)

    def _path_card(self) -> None:
        self.path_card = self.card("Path on the boat")
        self.path_card.add_text(
            "Where the run lies seen from above, from one end to the other; it may bend. Distance from the stern, then "
            "to port (+) "
            "or starboard (-), one point a line. Left empty it follows from the place."
        )
        self.path_edit = QPlainTextEdit()
        self.path_edit.setPlaceholderText(in_words("7.2 m  0.9 m"))
        self.path_edit.setAccessibleName("path of the run on the boat")
        sized(self.path_edit, height=74)
        self.path_edit.setTabChangesFocus(True)
        self.path_card.add(self.path_edit)
        self.use_path = QPushButton("Use this path")
        self.use_path.setToolTip("Draw the run on the boat strip along these points")
        wait_for(self.path_edit, self.use_path.text())
        self.use_path.clicked.connect(lambda: self._use_path())
        self.path_card.add(self.use_path)

    def _use_path(self) -> None:
        zone = self.session.zone
        if zone is None:
            return
        try:
            points = edits.path_from_text(self.path_edit.toPlainText(), self.session.system)
            self.session.try_apply(edits.set_value(("zones", zone.id, "path"), points))
            self.path_edit.document().setModified(False)
        except Fault as fault:
            self.session.told.emit(fault.sentence)

    def _show_path(self, zone: Zone | None) -> None:
        self.path_card.setVisible(zone is not None and zone.is_run)
        if zone is None or self.path_edit.hasFocus():
            return
        system = self.session.system
        lines = [f"{shown(x, Kind.LENGTH, system)}  {shown(y, Kind.LENGTH, system)}" for x, y in zone.path]
        self.path_edit.setPlainText("\n".join(lines))

    def _delete_zone(self) -> None:
        if self.session.zone:
            self.session.apply(edits.remove_zone(self.session.zone.id))

    # ---- outline ----

    def _outline_card(self) -> None:
        card = self.card("Outline", ("outline",), "zone.area")
        self.outline = OutlinePanel(self.session, parent=card.body)
        card.add(self.outline)

    # ---- build-up ----

    def _build_card(self) -> None:
        card = self.card("Original build-up", ("build",))
        self.field(card, "build", "outer", "thickness")
        self.core_pick = Pick(self.session, "Core", self._core_edit)
        card.add(self.core_pick)
        self.core_field = self.field(card, "build", "core", "thickness")
        self.inner_field = self.field(card, "build", "inner", "thickness")
        card.add_text(
            "Plies of the outer skin where they are known, deepest first; a measured thickness goes before them."
        )
        self.skin_plies = StackEditor(self.session, edits.set_skin_plies, "old skin")
        card.add(self.skin_plies)
        card.add_figure("skin to be rebuilt", "skin.thickness")

    def _core_edit(self, core: str) -> edits.Edit:
        zone = self.session.zone
        assert zone is not None
        old = zone.build.core.thickness if zone.build.core else None
        return edits.set_build_core(zone.id, core or None, old)

    # ---- fittings and edges ----

    def _fittings_card(self) -> None:
        card = self.card("Fittings", ("fittings",))
        self.fittings = Rows(("name", "x", "y", "holes", ""))
        card.add(self.fittings)
        grid = QGridLayout()
        self.fit_lines = [QLineEdit() for _ in FITTING_LINES]
        self.fit_name, self.fit_x, self.fit_y, self.fit_width, self.fit_height, self.fit_holes, self.fit_hole = (
            self.fit_lines
        )
        self.fit_sealed = Combo()
        self.fit_sealed.setAccessibleName("holes of the fitting")
        self.fit_sealed.addItems([name for name, _ in SEALS])
        for i, (edit, (said, hint)) in enumerate(zip(self.fit_lines, FITTING_LINES, strict=True)):
            edit.setPlaceholderText(hint)
            edit.setToolTip(f"{said[0].upper()}{said[1:]} of the fitting")
            edit.setAccessibleName(f"fitting {said}")
            wait_for(edit, "Add")
            grid.addWidget(edit, i // 3, i % 3)
        grid.addWidget(self.fit_sealed, 2, 1)
        self.trace_box, self.trace_round = QPushButton("Trace a box"), QPushButton("Trace a round")
        for place, (button, words) in enumerate(((self.trace_box, BOX), (self.trace_round, ROUND))):
            button.setObjectName("plain")
            button.setToolTip(f"Fill in place and size from the plan: {words[0][0].lower()}{words[0][1:]}")
            button.clicked.connect(
                lambda _checked=False, w=words, r=place == 1: self.trace_wanted.emit(
                    w, lambda a, b: self._traced(a, b, r)
                )
            )
            grid.addWidget(button, 3, place)
        self.add_fitting = QPushButton("Add")
        self.add_fitting.setToolTip("Add this fitting to the zone")
        self.add_fitting.setAccessibleName("add the fitting")
        self.add_fitting.clicked.connect(lambda: self._add_fitting())
        grid.addWidget(self.add_fitting, 3, 2)
        card.add(grid)
        self.fitting_note = card.add_text("")
        card.add_text("What a fitting bears on and pulls, for pads, inserts and cores:")
        self.fit_here = Combo()
        self.fit_here.setAccessibleName("fitting whose pull is stated")
        self.fit_here.activated.connect(lambda _index: self._show_fitting())
        card.add(self.fit_here)
        self.fit_fields = [Field(self.session, self._fitting_path(name)) for name in ("pull", "slope")]
        for field in self.fit_fields:
            card.add(field)

    def _traced(self, a: Point, b: Point, is_round: bool) -> None:
        """Fill in the place and size of a fitting from two places of the plan."""
        x, y = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
        wide, high = abs(b[0] - a[0]), abs(b[1] - a[1])
        values = (x, y, hypot(wide, high), 0.0) if is_round else (x, y, wide, high)
        for edit, value in zip((self.fit_x, self.fit_y, self.fit_width, self.fit_height), values, strict=True):
            edit.setText(shown(value, Kind.SIZE, self.session.system) if value or edit is not self.fit_height else "")
            edit.setModified(True)
        self.fit_name.setFocus()

    def _size(self, edit: QLineEdit, empty: float | None = None) -> Measure:
        if not edit.text().strip() and empty is not None:
            return Measure(si=empty)
        return parse(edit.text(), Kind.SIZE, self.session.system).measure

    def _fitting_path(self, name: str) -> Callable[[], Path | None]:
        def path() -> Path | None:
            zone, here = self.session.zone, self.fit_here.currentData()
            there = zone is not None and any(f.id == here for f in zone.fittings)
            return ("zones", zone.id, "fittings", str(here), name) if zone is not None and there else None

        return path

    def _show_fitting(self) -> None:
        for field in self.fit_fields:
            field.forget()
            field.show_job()

    def _add_fitting(self) -> None:
        zone = self.session.zone
        if zone is None:
            return
        try:
            holes = round(parse(self.fit_holes.text() or "0", Kind.COUNT).measure.si)
            fitting = built(
                Fitting,
                id=edits.next_id("f", (f.id for f in zone.fittings)),
                name=self.fit_name.text().strip() or "fitting",
                x=self._size(self.fit_x).si,
                y=self._size(self.fit_y).si,
                width=self._size(self.fit_width),
                height=self._size(self.fit_height, 0.0),
                sealed=SEALS[self.fit_sealed.currentIndex()][1],
                holes=holes,
                hole=self._size(self.fit_hole) if self.fit_hole.text().strip() else None,
            )
            self.session.try_apply(edits.add_fitting(zone.id, fitting))
        except Fault as fault:
            self.fitting_note.setText(f"⚠ {fault.sentence}")
            return
        self.fitting_note.setText("")
        for edit in self.fit_lines:
            edit.clear()

    def _edges_card(self) -> None:
        card = self.card("Edges", ("edges",))
        self.edges = Rows(("side", "what lies along it", "", ""))
        card.add(self.edges)
        row = QHBoxLayout()
        self.edge_side = Combo()
        self.edge_side.setAccessibleName("side of the outline")
        self.edge_name = QLineEdit()
        self.edge_name.setAccessibleName("what lies along the side")
        self.edge_name.setPlaceholderText("toe rail, joint…")
        wait_for(self.edge_name, "Add")
        self.edge_sealed = Combo()
        self.edge_sealed.setAccessibleName("the edge is")
        self.edge_sealed.addItems([name for name, _ in SEALS])
        self.add_edge = QPushButton("Add")
        self.add_edge.setToolTip("Name what lies along this side")
        self.add_edge.setAccessibleName("add the edge")
        self.add_edge.clicked.connect(lambda: self._add_edge())
        for widget in (self.edge_side, self.edge_name, self.edge_sealed, self.add_edge):
            row.addWidget(widget)
        card.add(row)

    def _add_edge(self) -> None:
        zone = self.session.zone
        name = self.edge_name.text().strip()
        if zone is None or not name:
            return
        edge = Edge(
            side=self.edge_side.currentIndex(), name=name[:80], sealed=SEALS[self.edge_sealed.currentIndex()][1]
        )
        if self.session.apply(edits.set_edge(zone.id, edge)):
            self.edge_name.clear()

    def begin_here(self) -> None:
        self.show_card("Measure first")
        self.facts.take_focus()

    # ---- showing ----

    def show_plan(self, plan: Plan) -> None:
        zone = self.session.zone
        self._show_path(zone)
        self.facts.show_zone(zone)
        if zone is not None and zone.id != self._begun:  # a zone that is all stated has nothing to measure first
            self._begun = zone.id
            self.cards[0].fold(all(not f.assumed for f in zone_facts(zone)))
        for widget in (
            self.delete_zone,
            self.outline,
            self.add_fitting,
            self.add_edge,
            self.seams,
            self.core_pick,
        ):
            widget.setEnabled(zone is not None)
        cores = (("", "none: solid laminate"), *((c.id, c.name) for c in plan.shelf.cores))
        self.core_pick.show_items(cores, zone.build.core.core if zone and zone.build.core else "")
        cored = zone is not None and zone.build.core is not None
        self.core_field.setVisible(cored)
        self.inner_field.setVisible(cored)
        self.skin_plies.show_stack(zone.build.outer.plies if zone else (), plan.shelf)
        if zone is None:
            return
        self.outline.show_zone(zone)
        self._show_rows(zone)

    def _show_rows(self, zone: Zone) -> None:
        system = self.session.system
        show_items(self.fit_here, [(f.id, f.name) for f in zone.fittings])
        for field in self.fit_fields:
            field.show_job()
        self.fittings.show_rows(
            [
                (f.name, shown(f.x, Kind.SIZE, system), shown(f.y, Kind.SIZE, system), f"{f.holes}", _seal(f.sealed))
                for f in zone.fittings
            ],
            lambda i: self.session.apply(edits.remove_fitting(zone.id, zone.fittings[i].id)),
        )
        self.edges.show_rows(
            [(f"{e.side + 1}", e.name, _seal(e.sealed), "") for e in zone.edges],
            lambda i: self.session.apply(edits.remove_edge(zone.id, zone.edges[i].side)),
        )
        self.seams.show_zone(zone)
        if self.edge_side.count() != len(zone.outline):
            self.edge_side.clear()
            self.edge_side.addItems([f"side {i + 1}" for i in range(len(zone.outline))])


def _seal(sealed: bool | None) -> str:
    return next(name for name, value in SEALS if value is sealed)


STAGE = BoatStage
