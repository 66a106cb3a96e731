"""Rebuild: plies, order, resin, core and bedding, against the skin that was."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton

from ribpatch.core import edits
from ribpatch.core.edits import in_skin
from ribpatch.core.errors import Fault
from ribpatch.core.laminate.original import known_by
from ribpatch.core.materials.fabric_code import fabric_from_code, lie_of, turned
from ribpatch.core.numerals import general, in_words
from ribpatch.core.scheme import StackLine
from ribpatch.core.scheme_edits import set_tabbing
from ribpatch.core.table import NOTHING
from ribpatch.core.tables import zone_table
from ribpatch.core.units import Kind
from ribpatch.ui.scaling import sized
from ribpatch.ui.stages.rebuild_coupons import CouponPanel
from ribpatch.ui.stages.rebuild_sittings import SittingsPanel
from ribpatch.ui.stages.stage import Stage
from ribpatch.ui.typed import refuse, wait_for
from ribpatch.ui.widgets.asked_panel import AskedPanel
from ribpatch.ui.widgets.entry import Pick, QuantityEdit, read_value, value_text
from ribpatch.ui.widgets.stack_editor import StackEditor
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.job import Job, Zone
    from ribpatch.core.materials.records import Fabric
    from ribpatch.core.plan import Plan


class RebuildStage(Stage):
    """The decisions of the Rebuild rung."""

    name = "rebuild"
    title = "Rebuild"
    first = ("Plies, deepest first",)

    def build(self) -> None:
        self._scheme_card()
        self._plies_card()
        self._old_card()
        self._resin_card()
        self._core_card()
        self._order_card()
        self._tabbing_card()
        card = self.card("Coupons of this shop")
        self.coupons = CouponPanel(self.session, parent=card.body)
        card.add(self.coupons)
        card = self.card("What the causes ask")
        self.asked_panel = AskedPanel(self.session, "rebuild", parent=card.body)
        card.add(self.asked_panel)

    def _zone(self) -> Zone:
        zone = self.session.zone
        assert zone is not None
        return zone

    def _plies_card(self) -> None:
        card = self.card("Plies, deepest first", ("plies", "laminate"), "stack.thickness")
        self.stack_editor = StackEditor(self.session, edits.set_plies, "new laminate")
        card.add(self.stack_editor)
        row = QHBoxLayout()
        self.fill = QPushButton("Fill to thickness")
        self.fill.setToolTip("Set the count of the last fabric so that the stack reaches the thickness")
        self.fill.clicked.connect(lambda: self._fill())
        self.code = QLineEdit()
        self.code.setPlaceholderText("like 1708")
        self.code.setAccessibleName("fabric code")
        self.add_code = QPushButton("Add fabric")
        self.add_code.setToolTip("Put a fabric on this job's shelf by its trade code NNMM and add a ply of it")
        self.add_code.clicked.connect(lambda: self._add_code())
        wait_for(self.code, self.add_code.text())
        self.code.returnPressed.connect(lambda: self._add_code())
        self.turn_code = QPushButton("Turn it")
        self.turn_code.setToolTip("The fabric last added by its code: ±45 becomes 0/90, and 0/90 becomes ±45")
        self.turn_code.clicked.connect(lambda: self._turn_code())
        for widget in (self.code, self.add_code, self.turn_code):
            row.addWidget(widget, 1)
        card.add(self.fill)
        card.add_figure("old skin", "skin.thickness")
        card.add_figure("over the thickness to reach", "stack.surplus")
        card = self.card("More on the plies")
        card.add(row)
        self.code_note = card.add_text("")
        self.code_note.hide()
        card.add_figure("one ply of the last fabric", "ply.thickness")
        card.add_figure("plies of it for the thickness", "ply.needed")
        card.add_figure("weight", "stack.weight")
        card.add_figure("fibre mass fraction", "lam.fibre")
        self.field(card, "scheme", "laminate", "target")
        self.field(card, "scheme", "laminate", "crown")
        self.choice(card, (("downhand or upright", False), ("overhead", True)), "scheme", "laying", "overhead")

    def _fill(self) -> None:
        zone, plan = self._zone(), self.session.plan
        aim = plan.zone(zone.id).aim
        try:
            self.session.try_apply(edits.fill_to_thickness(zone, aim, plan.shelf))
        except Fault as fault:
            self.session.told.emit(fault.sentence)

    def _add_code(self) -> None:
        zone = self._zone()
        try:
            fabric = fabric_from_code(self.code.text())
        except Fault as fault:
            self.code_note.setText(f"⚠ {fault.sentence}")
            self.code.setModified(False)  # told
            self.code_note.show()
            return
        lines = (*zone.scheme.laminate.plies, StackLine(fabric=fabric.id))

        def change(job: Job) -> Job:
            return edits.set_plies(zone.id, lines).change(edits.add_fabric(fabric).change(job))

        self.session.apply(edits.Edit(f"add fabric {fabric.code}", change))
        self.code_note.setText(f"understood as {fabric.name} ({in_words(fabric.reason)})")
        self.code_note.show()
        self.code.clear()

    def _turn_code(self) -> None:
        """Turn the biaxial of the fabric last added by its code."""
        fabric = self._coded()
        if fabric is not None and self.session.apply(
            edits.Edit(f"turn {fabric.code}", edits.add_fabric(turned(fabric)).change)
        ):
            now = self._coded()
            self.code_note.setText(f"now {now.name}" if now else "")
            self.code_note.show()

    def _coded(self) -> Fabric | None:
        """The fabric last added to the job by a trade code."""
        return next((f for f in reversed(self.session.job.own.fabrics) if lie_of(f) is not None), None)

    def _scheme_card(self) -> None:
        card = self.card("Scheme")
        self.field(card, "scheme", "name")
        self.field(card, "scheme", "note")
        self.scheme_note = card.add_text("")

    def _old_card(self) -> None:
        card = self.card("The old laminate", ("old",), "skin.thickness")
        self.known = card.add_text("")
        self.era = Pick(self.session, "Laid up", lambda e: in_skin(self._zone(), "choose era", era=e or None))
        card.add(self.era)
        self.counted = StackEditor(
            self.session, lambda _zone, lines, name: in_skin(self._zone(), name, plies=lines), "old laminate"
        )
        card.add_text("Plies as counted at a ground-back edge, inside first:")
        card.add(self.counted)
        self.burnt = QuantityEdit()
        self.burnt.setPlaceholderText("burn-off: fibre share, like 38 %")
        self.burnt.setAccessibleName("fibre mass fraction by burn-off")
        self.burnt.entered.connect(lambda text: self._burn(text))
        card.add(self.burnt)
        self.burnt_note = card.add_text("")
        card.add_figure("old: modulus along", "old.ex")
        card.add_figure("old: modulus across", "old.ey")

    def _burn(self, text: str) -> None:
        try:
            fraction = read_value(text, Kind.PERCENT, True, self.session.system, None)
            self.session.try_apply(in_skin(self._zone(), "set burn-off", fibre_fraction=fraction))
            self.burnt_note.setText(
                ""
                if fraction is None or self._zone().rebuilt_skin.plies
                else "It tells once the plies are counted above."
            )
        except Fault as fault:
            self.burnt_note.setText(f"⚠ {fault.sentence} The old value is kept.")
            refuse(self.burnt, fault.sentence)

    def _tabbing_card(self) -> None:
        card = self.card("Tabbing in a corner", ("tabbing",))
        self.tabbing_button = QPushButton("Lay the plies as tabbing")
        self.tabbing_button.setCheckable(True)
        self.tabbing_button.setObjectName("plain")
        self.tabbing_button.setToolTip("Each ply wider than the one under it, round a fillet, onto both parts")
        self.tabbing_button.clicked.connect(lambda on: self.session.apply(set_tabbing(self._zone().id, on)))
        card.add(self.tabbing_button)
        self.tabbing_fields = [
            self.field(card, "scheme", "laminate", "tabbing", name) for name in ("angle", "radius", "first", "stagger")
        ]
        self.tabbing_table = TableView("tabbing plies")
        self.tabbing_table.asked.connect(self.asked)
        sized(self.tabbing_table, least_height=150)
        card.add(self.tabbing_table)

    def _scheme(self, *rest: str) -> tuple[str, ...]:
        return ("zones", self._zone().id, "scheme", *rest)

    def _resin_card(self) -> None:
        card = self.card("Resin", ("resin",), "resin.net")
        self.resin = Pick(self.session, "", lambda r: edits.set_value(self._scheme("resin", "main"), r), name="resin")
        card.add(self.resin)
        row = QHBoxLayout()
        self.mix = QLineEdit()
        self.mix.setAccessibleName("mix by mass")
        self.mix.setToolTip(in_words("Parts of resin to hardener by mass, as on the can: 5.8 : 1 or 100 : 1.5"))
        self.mix.editingFinished.connect(lambda: self._set_mix())
        self.mix_label = card.add_text("")
        row.addWidget(self.mix)
        card.add(row)
        self.choice(
            card,
            (("by hand", "hand"), ("bag", "bag"), ("infusion", "infusion")),
            "scheme",
            "laying",
            "process",
            label="Process",
        )
        self.choice(card, (("peel ply", True), ("none", False)), "scheme", "laying", "peel_ply")
        between = (("in the green window", "green"), ("cured, then abraded", "cured"))
        self.choice(card, between, "scheme", "laying", "between", label="Ply on ply")
        self.later = Pick(
            self.session,
            "Another put on later",
            lambda r: edits.set_value(self._scheme("resin", "later"), r or None),
        )
        card.add(self.later)
        self.bedding = Pick(
            self.session,
            "Beds and putty with",
            lambda r: edits.set_value(self._scheme("resin", "bedding"), r or None),
        )
        card.add(self.bedding)
        self.sittings = SittingsPanel(self.session, parent=card.body)
        card.add(self.sittings)

    def _set_mix(self) -> None:
        zone = self.session.zone
        if zone is None or not self.mix.isModified():
            return
        self.mix.setModified(False)
        resin = self.session.plan.shelf.resin(zone.scheme.resin.main)
        text = self.mix.text().replace(",", ".")
        try:
            a, b = (float(part) for part in text.split(":"))
        except ValueError:
            said = f"“{text}” is no mix. Write it like 5.8 : 1."
            self.mix_label.setText(f"⚠ {said} The old mix is kept.")
            refuse(self.mix, said)
            return
        try:
            self.session.try_apply(edits.set_mix(resin, a, b))
        except Fault as fault:
            self.mix_label.setText(f"⚠ {fault.sentence} The old mix is kept.")
            refuse(self.mix, fault.sentence)

    def _core_card(self) -> None:
        card = self.card("New core", ("core",), "core.mass")
        self.core = Pick(self.session, "", lambda c: edits.set_core(self._zone().id, c or None), name="new core")
        card.add(self.core)
        self.core_thickness = self.field(card, "scheme", "core", "thickness")
        self.field(card, "scheme", "core", "bedding")
        self.choice(card, (("plain sheet", False), ("scored sheet", True)), "scheme", "core", "scored")
        clamps = tuple((c, c) for c in ("screws", "weights", "props", "vacuum"))
        self.choice(card, clamps, "scheme", "core", "clamp", label="Pressed into its bed by")
        self.putty = Pick(self.session, "Putty", lambda p: edits.set_value(self._scheme("resin", "putty"), p))
        card.add(self.putty)

    def _order_card(self) -> None:
        card = self.card("Order of plies", ("order",))
        choices = (("smallest first", "smallest first"), ("largest first", "largest first"))
        self.choice(card, choices, "scheme", "laminate", "order")
        card.add_text(
            "Smallest first keeps each ply whole under the final fairing of its edge; largest first bonds one whole "
            "ply to the "
            "taper, and fairing then cuts into the plies above it."
        )
        self.field(card, "scheme", "laminate", "overlap")

    def _show_old(self, zone: Zone, plan: Plan) -> None:
        skin, year = zone.rebuilt_skin, plan.job.boat.year
        self.known.setText(f"Known by {known_by(skin, year, plan.shelf)}.")
        usual = plan.shelf.era(None, year)
        self.era.show_items(
            (("", f"as the boat: {usual.name}"), *((e.id, e.name) for e in plan.shelf.eras)), skin.era or ""
        )
        self.era.setEnabled(not skin.plies)
        self.counted.show_stack(skin.plies, plan.shelf)
        self.burnt.show_text(value_text(skin.fibre_fraction, Kind.PERCENT, self.session.system))

    def _show_tabbing(self, zone: Zone, plan: Plan) -> None:
        tabbing, _stack = zone.scheme.laminate.tabbing, plan.zone(zone.id).patch.stack
        self.tabbing_button.setChecked(tabbing is not None)
        for field in self.tabbing_fields:
            field.setVisible(tabbing is not None)
        self.tabbing_table.setVisible(tabbing is not None)
        if tabbing is not None:
            made = plan.zone(zone.id)
            self.tabbing_table.show_table(
                zone_table(made, "tabbing", self.session.system) or NOTHING, self.session.system
            )

    def show_plan(self, plan: Plan) -> None:
        self.asked_panel.show_plan(plan)
        self.coupons.show_plan(plan)
        zone = self.session.zone
        self.heading.setText(f"Rebuild: {zone.name}" if zone else "Rebuild: no zone yet")
        for widget in (self.fill, self.add_code, self.resin, self.core, self.putty, self.mix):
            widget.setEnabled(zone is not None)
        self.turn_code.setEnabled(self._coded() is not None)
        if zone is None:
            self.stack_editor.show_stack((), plan.shelf)
            return
        shelf, scheme = plan.shelf, zone.scheme
        self._show_old(zone, plan)
        self._show_tabbing(zone, plan)
        many = f"One of {len(zone.schemes)}; see Schemes below the plan."
        self.scheme_note.setText(many if zone.others else "The only one; Schemes below the plan begins another.")
        self.later.show_items(
            (("", "no other resin"), *((r.id, r.name) for r in shelf.resins if r.id != scheme.resin.main)),
            scheme.resin.later or "",
        )
        others = tuple((r.id, r.name) for r in shelf.resins if r.id != scheme.resin.main)
        self.bedding.show_items((("", "the same resin"), *others), scheme.resin.bedding or "")
        self.sittings.show_scheme(zone, shelf)
        self.stack_editor.show_stack(scheme.laminate.plies, shelf)
        self.resin.show_items(tuple((r.id, r.name) for r in shelf.resins), scheme.resin.main)
        self.core.show_items(
            (("", "keep the old core"), *((c.id, c.name) for c in shelf.cores)), scheme.core.material or ""
        )
        self.putty.show_items(tuple((p.id, p.name) for p in shelf.putties), scheme.resin.putty)
        self.core_thickness.setVisible(scheme.core.material is not None)
        resin = shelf.resin(scheme.resin.main)
        (a, b), (va, vb) = resin.mass_parts, resin.volume_parts
        if not self.mix.hasFocus():
            self.mix.setText(f"{general(a)} : {general(b)}")
        origin = shelf.origin(resin.id).value
        self.mix_label.setText(f"mix by mass, {origin}; by volume {general(va, 4)} : {general(vb, 3)}")


STAGE = RebuildStage
