"""Prove: how the panel or run is held, what acts on it, what stiffens it, and what a load test should read."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from ribpatch.core import proof_edits
from ribpatch.core.edits import Edit, set_value
from ribpatch.core.errors import Fault
from ribpatch.core.structure.zone_panel import SIDES, usual_hold
from ribpatch.core.units import Kind, shown
from ribpatch.ui.stages.prove_flex import FlexPanel
from ribpatch.ui.stages.stage import Stage
from ribpatch.ui.widgets.combo import Combo, show_items
from ribpatch.ui.widgets.entry import Choice, Field, Pick
from ribpatch.ui.widgets.rows import Rows

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.fields import Path
    from ribpatch.core.job import Zone
    from ribpatch.core.notice import Notice
    from ribpatch.core.plan import Plan
    from ribpatch.core.scheme import MemberKind
    from ribpatch.ui.widgets.card import Card

HELD = ("free", "supported", "clamped")
KINDS: tuple[MemberKind, ...] = ("hat", "box", "angle", "flat", "I", "knee")
ENGINE_FIELDS = (
    *(
        "power",
        "mass",
        "overhang",
        "setback",
        "bracket_mass",
        "bracket_raise",
        "thrust_below",
        "trim",
        "thrust",
        "height",
    ),
    *("clamp_width", "clamp_height", "bolts", "bolt", "washer"),
)
WELL_FIELDS = ("width", "length", "floor", "wall", "leg", "x")
MEMBER_FIELDS = ("name", "place", "start", "end", "height", "width", "wall", "flange")


class ProveStage(Stage):
    """The decisions of the Prove rung."""

    name = "prove"
    title = "Prove"
    first = ("Margins", "Engine", "What acts on it")

    def build(self) -> None:
        self._engine_card()
        self._loads_card()
        self._panel_card()
        self._run_card()
        self._members_card()
        self._trial_card()
        card = self.card("Margins", ("margins",))
        self.margin_note = card.add_text("")

    def notices(self, plan: Plan) -> tuple[Notice, ...]:
        zone = self.session.zone
        return plan.prove_notices_of(zone.id) if zone is not None else ()

    # ---- cards ----

    def _panel_card(self) -> None:
        card = self.panel_card = self.card("How the panel is held", ("panel",))
        self.edges: dict[str, Pick] = {}
        for side in SIDES:
            self.edges[side] = Pick(self.session, f"{side.capitalize()} edge", partial(self._hold, side))
            self.edges[side].label_stretch(3, 2)
            card.add(self.edges[side])
        self.field(card, "proof", "span", "length")
        self.field(card, "proof", "span", "width")
        outlines = (("enclosed", "enclosed"), ("inscribed", "inscribed"))
        self.choice(card, outlines, "proof", "span", "outline", label="An outline that is no rectangle is")
        self.field(card, "proof", "left")
        self.outline_note = card.add_text("")
        self.hole = Combo()
        self.hole.setAccessibleName("fitting that may be a hole")
        self.hole.activated.connect(lambda _index: self._show_hole())
        card.add(self.hole)
        kinds = (("bolted on", False), ("a hole in the panel", True))
        self.opening = Choice(self.session, self._hole_path(), kinds)
        self.bind(card, self.opening)

    def _show_hole(self) -> None:
        self.opening.show_job()

    def _hole_path(self) -> Callable[[], Path | None]:
        def path() -> Path | None:
            zone, here = self.session.zone, self.hole.currentData()
            there = zone is not None and any(f.id == here for f in zone.fittings)
            return ("zones", zone.id, "fittings", str(here), "opening") if zone is not None and there else None

        return path

    def _hold(self, side: str, how: str) -> Edit:
        zone = self.session.zone
        assert zone is not None
        return set_value(("zones", zone.id, "proof", "span", side), how or None)

    def _loads_card(self) -> None:
        card = self.loads_card = self.card("What acts on it", ("loads",))
        self.deck_fields = [self.field(card, "proof", "loads", name) for name in ("person", "jump", "lever", "lift")]
        self.field(card, "proof", "loads", "pressure")
        self.field(card, "proof", "loads", "limit")
        categories = (("usual: C", None), *((c, c) for c in "ABCD"))
        category = Choice(self.session, lambda: ("boat", "category"), categories, "Design category of the boat")
        self.bind(card, category)
        self.loads_note = card.add_text("")

    def _engine_card(self) -> None:
        card = self.engine_card = self.card("Engine", ("engine",))
        self.engine_button = QPushButton("State the engine")
        self.engine_button.setCheckable(True)
        self.engine_button.setObjectName("plain")
        self.engine_button.setToolTip("Hang an engine on the transom, with usual values to be mended")
        self.engine_button.clicked.connect(lambda on: self._engine(on))
        card.add(self.engine_button)
        self.engine_fields = [self.field(card, "proof", "engine", name) for name in ENGINE_FIELDS]

        self.well_button = QPushButton("State a well or splash box")
        self.well_button.setCheckable(True)
        self.well_button.setObjectName("plain")
        self.well_button.setToolTip("Floor and sides before the transom that hold it, with usual values to be mended")
        self.well_button.clicked.connect(lambda on: self._well(on))
        card.add(self.well_button)
        self.well_fields = [self.field(card, "proof", "well", name) for name in WELL_FIELDS]

    def _well(self, on: bool) -> None:
        zone = self.session.zone
        if zone is not None:
            self.session.apply(proof_edits.state_well(zone, on))

    def _engine(self, on: bool) -> None:
        zone = self.session.zone
        if zone is not None:
            self.session.apply(proof_edits.state_engine(zone, on))

    def _run_card(self) -> None:
        card = self.run_card = self.card("The run", ("panel", "run"))
        ends = (("supported", "supported"), ("clamped", "clamped"))
        shapes = tuple((k, k) for k in ("hat", "box", "angle", "flat", "I"))
        self.choice(card, shapes, "proof", "run", "kind", label="Shape")
        self.choice(card, ends, "proof", "run", "first", label="First end")
        self.choice(card, ends, "proof", "run", "last", label="Last end")
        for name in (
            "span",
            "prop",
            "scarfed",
            "spacing",
            "plating",
            "height",
            "crown",
            "flange",
            "limber",
            "notch",
            "notch_at",
            "mass",
            "factor",
        ):
            self.field(card, "proof", "run", name)
        counted = (("only a former", False), ("carries too", True))
        self.choice(card, counted, "proof", "run", "counted", label="The core is")
        card = self.support_card = self.card("What this scheme puts beside it", ("panel", "run"))
        self.field(card, "scheme", "support", "post")
        self.gives_field = self.field(card, "scheme", "support", "gives")
        self.timber_button = QPushButton("The beam is of timber")
        self.timber_button.setCheckable(True)
        self.timber_button.setObjectName("plain")
        self.timber_button.setToolTip("State its section: how much it gives, weighs and costs follows")
        self.timber_button.clicked.connect(lambda on: self._timber(on))
        card.add(self.timber_button)
        self.timber_fields = [
            self.field(card, "scheme", "support", "timber", name) for name in ("span", "width", "height")
        ]
        self.field(card, "scheme", "support", "sister")

    def _timber(self, on: bool) -> None:
        zone = self.session.zone
        if zone is not None:
            self.session.apply(proof_edits.state_timber(zone, on))

    def _members_card(self) -> None:
        card = self.members_card = self.card("Stiffeners of this scheme", ("members",))
        self.members = Rows(("stiffener", "at", "height"))
        card.add(self.members)
        row = QHBoxLayout()
        self.kind = Combo()
        self.kind.addItems(KINDS)
        self.kind.setAccessibleName("kind of stiffener to add")
        self.add_member = QPushButton("Add")
        self.add_member.setToolTip("Across the shorter side, in the middle; drag it on the map of the repair")
        self.add_member.clicked.connect(lambda: self._add_member())
        row.addWidget(self.kind)
        row.addWidget(self.add_member)
        row.addStretch(1)
        card.add(row)
        self.member_fields: list[QWidget] = []
        for name in MEMBER_FIELDS:
            self._member_field(card, name)
        footed = (("stands on a stringer", True), ("hangs free", False))
        self.foot = Choice(self.session, self._member_path("footed"), footed, "A knee's foot")
        self.bind(card, self.foot)

    def _member_field(self, card: Card, name: str) -> None:
        made = Field(self.session, self._member_path(name))
        self.bind(card, made)
        self.member_fields.append(made)

    def _member_path(self, name: str) -> Callable[[], Path | None]:
        def path() -> Path | None:
            zone = self.session.zone
            if zone is None or not zone.scheme.members:
                return None
            return ("zones", zone.id, "scheme", "members", zone.scheme.members[-1].id, name)

        return path

    def _add_member(self) -> None:
        zone = self.session.zone
        if zone is None:
            return
        kind = next(k for k in KINDS if k == self.kind.currentText())
        try:
            self.session.try_apply(proof_edits.add_member(zone, kind))
        except Fault as fault:
            self.session.told.emit(fault.sentence)

    def _drop_member(self, index: int) -> None:
        zone = self.session.zone
        if zone is not None:
            self.session.apply(proof_edits.remove_member(zone.id, zone.scheme.members[index].id))

    def _trial_card(self) -> None:
        card = self.trial_card = self.card("Load test and flex", ("trial",))
        kinds = tuple((k, k) for k in ("stand", "jump", "hang", "jack", "bags", "push"))
        self.choice(card, kinds, "proof", "trial", "kind", label="Test")
        for name in ("force", "pad", "before", "after"):
            self.field(card, "proof", "trial", name)
        self.choice(card, (("quiet", False), ("a noise was heard", True)), "proof", "trial", "heard")
        card.add_text("Keep out from under it; load slowly, stop at the first noise.")
        self.flexes = FlexPanel(self.session, parent=card.body)
        card.add(self.flexes)

    # ---- showing ----

    def show_plan(self, plan: Plan) -> None:
        zone = self.session.zone
        self.heading.setText(f"Prove: {zone.name}" if zone else "Prove: no zone yet")
        run = zone is not None and zone.is_run
        for card in (self.panel_card, self.members_card, self.trial_card):
            card.setVisible(zone is not None and not run)
        self.loads_card.setVisible(zone is not None and zone.kind != "fastener run")
        self.engine_card.setVisible(zone is not None and zone.kind == "transom")
        self.run_card.setVisible(zone is not None and run and zone.kind != "fastener run")
        self.support_card.setVisible(zone is not None and zone.is_beam)
        if zone is None:
            return
        support = zone.scheme.support
        for widget in (self.gives_field, self.timber_button):
            widget.setVisible(support.post is not None)
        self.timber_button.setChecked(support.timber is not None)
        for field in self.timber_fields:
            field.setVisible(support.post is not None and support.timber is not None)
        deck = zone.is_walked_on
        pulled = any(f.pull is not None for f in zone.fittings)
        for n, field in enumerate(self.deck_fields):
            field.setVisible(deck if n < 2 else pulled)
        self.engine_button.setChecked(zone.proof.engine is not None)
        engine = zone.proof.engine
        bracket = engine is not None and engine.setback.si > 0
        for name, field in zip(ENGINE_FIELDS, self.engine_fields, strict=True):
            field.setVisible(engine is not None and (bracket or not name.startswith("bracket")))
        self.well_button.setChecked(zone.proof.well is not None)
        self.well_button.setVisible(engine is not None)
        for field in self.well_fields:
            field.setVisible(engine is not None and zone.proof.well is not None)
        for side, pick in self.edges.items():
            items = (("", f"usual: {usual_hold(zone, side)}"), *((how, how) for how in HELD))
            pick.show_items(items, getattr(zone.proof.span, side) or "")
        show_items(self.hole, tuple((f.id, f.name) for f in zone.fittings))
        self.hole.setVisible(bool(zone.fittings))
        self.opening.setVisible(bool(zone.fittings))
        self.opening.show_job()
        self._show_members(zone)
        self.flexes.show_plan(plan)
        self._show_words(zone, plan)

    def _show_members(self, zone: Zone) -> None:
        system = self.session.system
        rows = [
            (m.name, shown(m.place, Kind.SIZE, system), shown(m.height.si, Kind.SIZE, system))
            for m in zone.scheme.members
        ]
        self.members.show_rows(rows, self._drop_member)
        for widget in self.member_fields:
            widget.setVisible(bool(rows))
        self.foot.setVisible(bool(rows) and zone.scheme.members[-1].kind == "knee")

    def _show_words(self, zone: Zone, plan: Plan) -> None:
        strength = plan.zone(zone.id).strength
        proved = None if strength.fault else strength.proved
        self.outline_note.setText(f"{proved.panel.outline.capitalize()}." if proved is not None else "")
        self.loads_note.setText(
            "; ".join(f"{c.name}: {c.how}" for c in proved.cases) + "." if proved is not None else ""
        )
        self.margin_note.setText(
            "Screening figures: local codes, the builder's data, a surveyor or naval architect decide."
        )


STAGE = ProveStage
