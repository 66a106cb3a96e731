"""Open: which skin, how far past the rot to cut, the taper, and the space it really has."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QPushButton

from ribpatch.core.edits import draw_cut
from ribpatch.core.plan import Plan
from ribpatch.core.units import Kind, Measure, shown
from ribpatch.ui.shell import Shell
from ribpatch.ui.stages.stage import Stage
from ribpatch.ui.widgets.asked_panel import AskedPanel


class OpenStage(Stage):
    """The decisions of the Open rung."""

    name = "open"
    title = "Open"
    rule_wanted = Signal()

    def connect_to(self, window: Shell) -> None:
        self.rule_wanted.connect(lambda: window.in_zone(draw_cut))

    def build(self) -> None:
        card = self.card("Before cutting", ("before",))
        self.asked_card = self.card("What the causes ask")
        self.asked_panel = AskedPanel(self.session, "open")
        self.asked_card.add(self.asked_panel)
        card = self.card("Skin to rebuild", ("side",), "skin.thickness")
        self.choice(card, (("outside", "outside"), ("inside", "inside"), ("above", "above")), "scheme", "side")
        self._cut_card()
        self._taper_card()
        card = self.card("What it costs", (), "")
        card.add_figure("sound area cut", "cut.sound")
        card.add_figure("length of cut", "cut.length")
        card.add_figure("laminate ground off", "taper.dust")

    def _cut_card(self) -> None:
        card = self.card("Cut line", ("cut",), "cut.area")
        self.choice(
            card,
            (("margin", "margin"), ("as far again", "as far again")),
            "scheme",
            "cut",
            "rule",
            label="Cut past the bad band",
        )
        self.margin = self.field(card, "scheme", "cut", "margin")
        self.cut_note = card.add_text("")
        self.choice(card, (("squared up", "squared"), ("free", "free")), "scheme", "cut", "shape", label="Shape")
        self.field(card, "scheme", "cut", "radius")
        card.add_figure("cut past the bad band", "cut.past")
        self.rule_button = QPushButton("Back to the rule")
        self.rule_button.setToolTip("Drop the dragged cut line and let it follow from the extent again")
        self.rule_button.clicked.connect(lambda: self.rule_wanted.emit())
        card.add(self.rule_button)

    def _taper_card(self) -> None:
        card = self.card("Taper", ("taper",), "taper.length")
        schools = tuple((f"{r}:1", Measure(si=r, typed=f"{r}:1")) for r in (8, 12, 20))
        self.choice(card, schools, "scheme", "taper", "ratio")
        self.field(card, "scheme", "taper", "ratio", label="or any ratio")
        card.add_text(
            "8:1 lightly loaded or thick laminate; 12:1 usual for hull and deck; 20:1 and more thin or highly loaded skins."
        )
        self.choice(card, (("ground", "ground"), ("stepped", "stepped")), "scheme", "taper", "form")
        card.add_figure("taper band", "taper.area")
        card.add_figure("least ratio that fits", "taper.available")

    def show_plan(self, plan: Plan) -> None:
        zone = self.session.zone
        self.heading.setText(f"Open: {zone.name}" if zone else "Open: no zone yet")
        self.asked_panel.show_plan(plan)
        if zone is None:
            return
        cut = zone.scheme.cut
        drawn = cut.drawn is not None
        self.rule_button.setEnabled(drawn)
        self.margin.setVisible(cut.rule == "margin")
        grown = plan.zone(zone.id).patch.cut.grown_by
        if plan.zone(zone.id).patch.cut.region.is_empty:
            words = "No extent yet: read the zone, or draw the extent, in Find."
        elif drawn:
            words = "Drawn by you; drag the corners on the plan."
        else:
            words = f"{shown(grown, Kind.SIZE, self.session.system)} past the bad band. Drag a corner on the plan to draw it yourself."
        self.cut_note.setText(words)


STAGE = OpenStage
