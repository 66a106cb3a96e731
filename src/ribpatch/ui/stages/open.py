"""Open: from which side, how deep, how far past the rot to cut, the taper, and what to see to first."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton

from ribpatch.core import scheme_edits
from ribpatch.core.edits import Edit, draw_cut, set_value
from ribpatch.core.errors import Fault
from ribpatch.core.numerals import fixed, general
from ribpatch.core.quantity import parse
from ribpatch.core.scheme import SCHOOLS
from ribpatch.core.text import counted, listed
from ribpatch.core.units import Kind, shown, usual
from ribpatch.ui.stages.open_before import BeforePanel
from ribpatch.ui.stages.open_side_fields import SideFields
from ribpatch.ui.stages.stage import Stage
from ribpatch.ui.typed import wait_for
from ribpatch.ui.widgets.asked_panel import AskedPanel
from ribpatch.ui.widgets.entry import Pick
from ribpatch.ui.widgets.rows import Rows
from ribpatch.ui.widgets.stack_editor import StackEditor

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.scheme import Scheme
    from ribpatch.ui.shell import Shell
    from ribpatch.ui.widgets.card import Card

MOST_NAMED = 16  # pieces of saved skin with their weight


class OpenStage(Stage):
    """The decisions of the Open rung."""

    name = "open"
    title = "Open"
    first = ("Side to open from", "Cut line", "Taper")
    rule_wanted = Signal()
    shape_wanted = Signal()
    merge_wanted = Signal()
    split_wanted = Signal()
    depth_wanted = Signal(object)
    sides_wanted = Signal()

    def connect_to(self, window: Shell) -> None:
        self.rule_wanted.connect(lambda: window.in_zone(draw_cut))
        self.shape_wanted.connect(lambda: window.actions_table.trigger("draw_shape"))
        self.merge_wanted.connect(lambda: window.cutting.merge())
        self.split_wanted.connect(lambda: window.cutting.split())
        self.depth_wanted.connect(window.cutting.note_depth)
        self.sides_wanted.connect(lambda: window.cutting.show_page("Sides"))

    def build(self) -> None:
        card = self.card("Before cutting", ("before",))
        self.before = BeforePanel(self.session, parent=card.body)
        card.add(self.before)
        self.asked_card = self.card("What the causes ask")
        self.asked_panel = AskedPanel(self.session, "open", parent=self.asked_card.body)
        self.asked_card.add(self.asked_panel)
        self._side_card()
        self._cut_card()
        self._depth_card()
        self._taper_card()
        self._faces_card()
        card = self.card("What it costs", (), "")
        card.add_figure("sound area cut", "cut.sound")
        card.add_figure("length of cut", "cut.length")
        card.add_figure("laminate ground off", "taper.dust")
        card.add_figure("grinding", "taper.hours")

    def _side_card(self) -> None:
        card = self.card("Side to open from", ("side",), "skin.thickness")
        sides = tuple((s, s) for s in ("outside", "inside", "above"))
        self.choice(card, sides, "scheme", "access", "side")
        self.side_note = card.add_text("")
        button = QPushButton("Compare the sides")
        button.setToolTip("Show how the sides score for this zone, and put your own marks in")
        button.clicked.connect(lambda: self.sides_wanted.emit())
        card.add(button)

    def _cut_card(self) -> None:
        card = self.card("Cut line", ("cut",), "cut.area")
        rules = (("margin", "margin"), ("as far again", "as far again"))
        self.choice(card, rules, "scheme", "cut", "rule", label="Cut past the bad band")
        self.margin = self.field(card, "scheme", "cut", "margin")
        self.cut_note = card.add_text("")
        card = self.card("More on the cut line")
        card.add_text("Another margin on one side:")
        self.margins = SideFields(
            self.session,
            "margin",
            Kind.SIZE,
            scheme_edits.set_margin,
            lambda s: {m.facing: m.margin for m in s.cut.sides},
        )
        card.add(self.margins)
        self.choice(card, (("squared up", "squared"), ("free", "free")), "scheme", "cut", "shape", label="Shape")
        self.field(card, "scheme", "cut", "radius")
        card.add_figure("cut past the bad band", "cut.past")
        self._hand_buttons(card)
        skins = (("cut out and renewed", False), ("lifted and bonded back", True))
        self.choice(card, skins, "scheme", "cut", "saved", label="The skin is")
        self.piece = self.field(card, "scheme", "cut", "piece")
        self.pieces_note = card.add_text("")

    def _hand_buttons(self, card: Card) -> None:
        self.rule_button = QPushButton("By the rule")
        self.rule_button.setToolTip("Drop the dragged cut line and let it follow from the extent again")
        self.rule_button.clicked.connect(lambda: self.rule_wanted.emit())
        self.merge_button, self.split_button = QPushButton("Merge"), QPushButton("Split at A–A")
        self.merge_button.setToolTip("Make one cut of several, with straight sides round them")
        self.split_button.setToolTip("Part the cut along the section line A–A")
        self.merge_button.clicked.connect(lambda: self.merge_wanted.emit())
        self.split_button.clicked.connect(lambda: self.split_wanted.emit())
        self.shape_button = QPushButton("Draw it")
        self.shape_button.setToolTip("Draw a cut line side by side, beside what is drawn already (Ctrl+Shift+L)")
        self.shape_button.clicked.connect(lambda: self.shape_wanted.emit())
        row = QHBoxLayout()
        for button in (self.shape_button, self.rule_button, self.merge_button, self.split_button):
            button.setObjectName("plain")
            row.addWidget(button)
        card.add(row)

    def _depth_card(self) -> None:
        card = self.card("Depth of the damage", ("depth",))
        depths = (("right through", False), ("part of the way", True))
        self.choice(card, depths, "scheme", "access", "part_depth")
        self.depth_note = card.add_text(
            "Ground to sound and filled flush. Note how deep it goes: type a depth and click where, or x, y and depth."
        )
        self.depth_entry = QLineEdit()
        self.depth_entry.setPlaceholderText("3 mm, or 620, 330, 3 mm")
        self.depth_entry.setAccessibleName("depth to note")
        wait_for(self.depth_entry, "Enter")
        self.depth_entry.setToolTip("Enter a depth and click on the plan, or enter x, y and depth")
        self.depth_entry.returnPressed.connect(lambda: self._note_depth())
        card.add(self.depth_entry)
        self.depth_fault = card.add_text("")
        self.depth_rows = Rows(("x", "y", "depth"))
        card.add(self.depth_rows)
        self.pit_card = card = self.card("The pit as ground", (), "pit.deepest")
        card.add_figure("plies to fill it flush", "pit.plies")
        card.add_figure("putty, by depth", "pit.putty")

    def _note_depth(self) -> None:
        zone, system = self.session.zone, self.session.system
        self.depth_entry.setModified(False)  # used, or told why not
        parts = listed(self.depth_entry.text())
        try:
            values = [parse(p, Kind.SIZE, system).measure for p in parts]
        except Fault as fault:
            self.depth_fault.setText(f"⚠ {fault.sentence}")
            return
        self.depth_fault.setText("")
        if zone is None or len(values) not in (1, 3):
            self.depth_fault.setText("⚠ Write one depth, or x, y and depth, parted by commas.")
            return
        if len(values) == 1:
            self.depth_wanted.emit(values[0])
            return
        try:
            self.session.try_apply(scheme_edits.put_depth(zone, (values[0].si, values[1].si), values[2]))
            self.depth_entry.clear()
        except Fault as fault:
            self.depth_fault.setText(f"⚠ {fault.sentence}")

    def _taper_card(self) -> None:
        card = self.card("Taper", ("taper",), "taper.length")
        schools = tuple((f"{general(r)}:1", usual(r, f"{r:g}:1")) for r in SCHOOLS)
        self.choice(card, schools, "scheme", "taper", "ratio")
        self.field(card, "scheme", "taper", "ratio", label="or any ratio")
        card.add_text(
            "8:1 lightly loaded or thick laminate; 12:1 usual for hull and deck; 20:1 and more thin or highly loaded "
            "skins."
        )
        card.add_figure("least ratio that fits", "taper.available")
        card.add_figure("bond used, mean", "bond.used")
        card = self.card("More on the taper")
        card.add_text("Another ratio on one side:")
        self.ratios = SideFields(
            self.session,
            "ratio",
            Kind.RATIO,
            scheme_edits.set_stretch,
            lambda s: {m.facing: m.ratio for m in s.taper.stretches},
        )
        card.add(self.ratios)
        self.choice(card, (("ground", "ground"), ("stepped", "stepped")), "scheme", "taper", "form")
        card.add_figure("taper band", "taper.area")
        self.field(card, "scheme", "bond", "factor")
        card.add_figure("ratio for your factor", "bond.ratio")
        self.preparation = Pick(
            self.session,
            "Old laminate",
            lambda p: set_value(("zones", self.session.zone_id, "scheme", "bond", "preparation"), p),
        )
        card.add(self.preparation)

    def _faces_card(self) -> None:
        card = self.card("Other face and backing", ("faces",))
        self.second_button = self._switch(
            card,
            "Taper the other face as well",
            "A scarf from both sides: half as much sound laminate lost, where both can be reached",
            scheme_edits.set_second,
        )
        self.second_ratio = self.field(card, "scheme", "laminate", "second", "taper", "ratio")
        self.second_share = self.field(card, "scheme", "laminate", "second", "share")
        card.add_figure("taper length, other face", "second.length")
        card.add_figure("taper band, other face", "second.area")
        self.second_stack = StackEditor(self.session, scheme_edits.set_second_plies, "second face")
        card.add(self.second_stack)
        self.backing_button = self._switch(
            card,
            "Backing strips under the hole",
            "Where only one side can be reached: made beforehand, passed through, bonded underneath first",
            scheme_edits.set_backing,
        )
        self.backing_width = self.field(card, "scheme", "laminate", "backing", "width")
        self.backing_stack = StackEditor(self.session, scheme_edits.set_backing_plies, "backing")
        card.add(self.backing_stack)
        self.backing_note = card.add_text("")

    def _switch(self, card: Card, text: str, tip: str, make: Callable[[str, bool], Edit]) -> QPushButton:
        """A button that switches a part of the scheme on and off."""
        button = QPushButton(text)
        button.setCheckable(True)
        button.setObjectName("plain")
        button.setToolTip(tip)
        button.clicked.connect(lambda on: self.session.zone and self.session.apply(make(self.session.zone_id, on)))
        card.add(button)
        return button

    def show_plan(self, plan: Plan) -> None:
        zone = self.session.zone
        self.heading.setText(f"Open: {zone.name}" if zone else "Open: no zone yet")
        self.asked_panel.show_plan(plan)
        self.before.show_plan(plan)
        self.margins.show_job()
        self.ratios.show_job()
        if zone is None:
            return
        self._show_side(zone, plan)
        self._show_cut(zone, plan)
        self._show_depth(zone)
        self._show_faces(zone, zone.scheme, plan)
        preparations = tuple((p.id, p.name) for p in plan.shelf.preparations if p.old)
        self.preparation.show_items(preparations, zone.scheme.bond.preparation)

    def _show_side(self, zone: Zone, plan: Plan) -> None:
        words = ", ".join(f"{s.side} {fixed(s.score, 1)}" for s in plan.zone(zone.id).side_scores)
        self.side_note.setText(f"Scores of 5: {words}.")

    def _show_cut(self, zone: Zone, plan: Plan) -> None:
        cut, patch = zone.scheme.cut, plan.zone(zone.id).patch
        drawn = cut.drawn is not None
        self.rule_button.setEnabled(drawn)
        self.margins.show_usual({} if drawn else patch.cut.sides)
        self.merge_button.setEnabled(len(patch.cut.region.geoms) > 1)
        self.split_button.setEnabled(not patch.cut.region.is_empty)
        self.margin.setVisible(cut.rule == "margin")
        self.piece.setVisible(cut.saved)
        if patch.cut.region.is_empty:
            words = "No extent yet: read the zone, or draw the extent, in Find."
        elif drawn:
            words = (
                "Drawn by you; drag corners or sides on the plan. They catch on fittings, edges and round sizes; "
                "Alt lets go."
            )
        else:
            grown = shown(patch.cut.grown_by, Kind.SIZE, self.session.system)
            words = f"{grown} past the bad band. Drag a corner or a side on the plan to draw it yourself."
        self.cut_note.setText(words)
        self.pieces_note.setVisible(patch.saved is not None)
        if patch.saved is not None:
            weights = [f"{p.number}: {shown(p.weight, Kind.MASS, self.session.system)}" for p in patch.saved.pieces]
            more = f" and {len(weights) - MOST_NAMED} more" if len(weights) > MOST_NAMED else ""
            self.pieces_note.setText(f"Pieces as numbered on the plan: {', '.join(weights[:MOST_NAMED])}{more}.")

    def _show_depth(self, zone: Zone) -> None:
        part, system = zone.scheme.access.part_depth, self.session.system
        self.pit_card.setVisible(part)
        for widget in (self.depth_note, self.depth_entry, self.depth_rows, self.depth_fault):
            widget.setVisible(part)
        rows = [tuple(shown(v, Kind.SIZE, system) for v in (d.x, d.y, d.depth.si)) for d in zone.depths]
        self.depth_rows.show_rows(
            rows, lambda i: self.session.apply(scheme_edits.remove_depth(zone.id, zone.depths[i].id))
        )

    def _show_faces(self, zone: Zone, scheme: Scheme, plan: Plan) -> None:
        second, backing = scheme.laminate.second, scheme.laminate.backing
        self.second_button.setChecked(second is not None)
        self.backing_button.setChecked(backing is not None)
        self.second_ratio.setVisible(second is not None)
        self.second_share.setVisible(second is not None and zone.other_skin is None)
        self.second_stack.setVisible(second is not None)
        self.second_stack.show_stack(second.plies if second else (), plan.shelf)
        self.backing_width.setVisible(backing is not None)
        self.backing_stack.setVisible(backing is not None)
        self.backing_stack.show_stack(backing.plies if backing else (), plan.shelf)
        strips = plan.zone(zone.id).patch.backing
        self.backing_note.setVisible(strips is not None)
        if strips is not None:
            weight = shown(strips.weight, Kind.MASS, self.session.system)
            count = counted(len(strips.strips), "strip that passes", "strips that pass")
            self.backing_note.setText(f"{count} through the hole, {weight} in all.")


STAGE = OpenStage
