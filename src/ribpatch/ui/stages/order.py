"""Order: what the figures behind the shopping list are, the rules behind them, and the papers."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton

from ribpatch.core import edits
from ribpatch.core.errors import Fault
from ribpatch.core.mixing import mixing_words, several_resins
from ribpatch.core.numerals import in_words
from ribpatch.core.quantity import parse
from ribpatch.core.resin.vessel import VESSELS
from ribpatch.core.tables import cup_curve
from ribpatch.core.units import shown
from ribpatch.ui.scaling import sized
from ribpatch.ui.stages.stage import Stage
from ribpatch.ui.typed import refuse
from ribpatch.ui.widgets.chart_view import ChartView
from ribpatch.ui.widgets.combo import Combo
from ribpatch.ui.widgets.entry import Field

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.fields import Path
    from ribpatch.core.materials.records import Rule
    from ribpatch.core.plan import Plan
    from ribpatch.ui.shell import Shell


CHART_HEIGHT = 170


class OrderStage(Stage):
    """The decisions of the Order rung."""

    name = "order"
    title = "Order"
    first = ("Buying", "Estimate", "Cups")
    pack_wanted = Signal()
    list_wanted = Signal()
    cut_wanted = Signal()
    labels_wanted = Signal()

    def connect_to(self, window: Shell) -> None:
        self.pack_wanted.connect(lambda: window.actions_table.trigger("work_pack"))
        self.set_theme(window.settings.look)
        self.cut_wanted.connect(lambda: window.actions_table.trigger("cut_plan"))
        self.labels_wanted.connect(lambda: window.actions_table.trigger("labels"))
        self.list_wanted.connect(lambda: window.actions_table.trigger("shopping_list"))

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        super().set_theme(theme)
        self.chart.set_theme(theme)

    def build(self) -> None:
        self._paper_card()
        card = self.card("Buying", ())
        for name in ("wanted", "currency"):
            self.bind(card, Field(self.session, self._job_path("buying", name), parent=card.body))
        card = self.card("Estimate", (), "job.hours")
        for name in ("hour", "spread"):
            self.bind(card, Field(self.session, self._job_path("buying", name), parent=card.body))
        for label, key in (("work", "labour"), ("all, from", "estimate.low"), ("to", "estimate.high")):
            card.add_figure(label, f"job.{key}")
        card = self.card("Cups", ("cups",), "cup.all")
        for label, key in (
            ("each", "cup.each"),
            ("working time of each", "cup.working"),
            ("one to the next", "cup.every"),
            ("largest", "cup.largest"),
            ("hottest if left", "cup.peak"),
        ):
            card.add_figure(label, key)
        vessels = tuple((name, key) for key, name in VESSELS.items())
        self.vessel = self.choice(card, vessels, "scheme", "resin", "vessel", label="Worked from")
        self.warmed = self.field(card, "scheme", "resin", "warmed")
        self.mixing_note = card.add_text("")
        self.chart = ChartView("working time against what is mixed at once")
        sized(self.chart, height=CHART_HEIGHT)
        card.add(self.chart)
        card = self.card("Resin to mix", (), "resin.mixed")
        for label, key in (
            ("resin by mass", "mix.resin.mass"),
            ("hardener by mass", "mix.hardener.mass"),
            ("resin by volume", "mix.resin.volume"),
            ("hardener by volume", "mix.hardener.volume"),
            ("laid in all", "resin.net"),
            ("in the plies", "resin.plies"),
            ("prime coat under plies", "resin.prime"),
            ("prime coat under the core", "resin.prime.bed"),
            ("core faces", "resin.core-faces"),
            ("in the putty", "resin.putty"),
            ("taken by peel ply", "resin.peel"),
        ):
            card.add_figure(label, key)
        self.batch_note = card.add_text("")
        card = self.card("Putty", (), "putty.total")
        for label, key in (
            ("bedding", "putty.bedding"),
            ("gap round the core", "putty.gap"),
            ("holes", "putty.holes"),
            ("fairing", "putty.fairing"),
        ):
            card.add_figure(label, key)
        card = self.card("Core", (), "core.area")
        card.add_figure("sheets", "core.sheets")
        card = self.card("Weight, net", (), "weight.net")
        card.add_figure("off", "weight.off")
        card.add_figure("on", "weight.on")
        card = self.card("How she floats afterwards", (), "job.trim.sinkage")
        for label, key in (
            ("at the transom", "trim.transom"),
            ("at the stem", "trim.stem"),
            ("heel to port", "trim.heel"),
        ):
            card.add_figure(label, f"job.{key}")
        self.float_note = card.add_text("")
        self._rules_card()

    def _job_path(self, *path: str) -> Callable[[], Path | None]:
        return lambda: path if self.session.is_open else None

    def _paper_card(self) -> None:
        card = self.card("Papers", (), "cost.total")
        row = QHBoxLayout()
        self.pack = QPushButton("Work pack")
        self.pack.setToolTip("Write the work pack for the shed (Ctrl+K)")
        self.pack.clicked.connect(lambda: self.pack_wanted.emit())
        self.list = QPushButton("Shopping list")
        self.list.setToolTip("Write what to buy as CSV, XLSX or PDF (Ctrl+Shift+P)")
        self.list.clicked.connect(lambda: self.list_wanted.emit())
        self.cut = QPushButton("Cut plan")
        self.cut.setToolTip("Every piece of cloth on its roll, as SVG, DXF or PDF to scale")
        self.cut.clicked.connect(lambda: self.cut_wanted.emit())
        self.labels = QPushButton("Labels")
        self.labels.setToolTip("A label to stick on each piece of cloth and core")
        self.labels.clicked.connect(lambda: self.labels_wanted.emit())
        row.addWidget(self.pack)
        row.addWidget(self.list)
        card.add(row)
        row = QHBoxLayout()
        row.addWidget(self.cut)
        row.addWidget(self.labels)
        card.add(row)

    def _rules_card(self) -> None:
        card = self.card("Rules and rates", ())
        card.add_text("Every default can be yours for this job.")
        self.rule_box = Combo()
        self.rule_box.setAccessibleName("rule")
        self.rule_box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.rule_box.setMinimumContentsLength(18)
        self.rule_box.currentIndexChanged.connect(lambda: self._show_rule())
        card.add(self.rule_box)
        self.rule_edit = QLineEdit()
        self.rule_edit.setAccessibleName("value of the rule")
        self.rule_edit.editingFinished.connect(lambda: self._set_rule())
        card.add(self.rule_edit)
        self.rule_note = card.add_text("")

    def _rule(self) -> Rule | None:
        wanted = self.rule_box.currentData()
        return (
            next((r for r in self.session.plan.shelf.rules if r.id == wanted), None) if self.session.is_open else None
        )

    def _show_rule(self) -> None:
        rule = self._rule()
        if rule is None:
            return
        if not (self.rule_edit.hasFocus() and self.rule_edit.isModified()):
            self.rule_edit.setText(shown(rule.value, rule.kind, self.session.system))
        self.rule_note.setText(f"{self.session.plan.shelf.origin(rule.id).value}: {in_words(rule.reason)}")

    def _set_rule(self) -> None:
        rule = self._rule()
        if rule is None or not self.rule_edit.isModified():
            return
        self.rule_edit.setModified(False)
        try:
            value = parse(self.rule_edit.text(), rule.kind, self.session.system).measure.si
            self.session.try_apply(edits.set_rule(rule, value))
        except Fault as fault:
            self.rule_note.setText(f"⚠ {fault.sentence} The old value is kept.")
            refuse(self.rule_edit, fault.sentence)

    def show_plan(self, plan: Plan) -> None:
        zone = self.session.zone
        self.heading.setText(f"Order: {zone.name}" if zone else "Order")
        system = self.session.system
        self.float_note.setText(plan.afloat_in(self.session.system))
        words = mixing_words(plan.zone(zone.id), system) if zone is not None else ()
        self.mixing_note.setText(" ".join(words))
        self.batch_note.setText(several_resins(plan.zone(zone.id)) if zone is not None else "")
        self.chart.show_chart(cup_curve(plan.zone(zone.id), system) if zone is not None else None)
        self.chart.setVisible(self.chart.chart is not None)
        for widget in (self.vessel, self.warmed, self.mixing_note):
            widget.setVisible(zone is not None)
        known = [self.rule_box.itemData(i) for i in range(self.rule_box.count())]
        if known != [r.id for r in plan.shelf.rules]:
            blocked = self.rule_box.blockSignals(True)
            self.rule_box.clear()
            for rule in plan.shelf.rules:
                self.rule_box.addItem(rule.name, rule.id)
            self.rule_box.blockSignals(blocked)
        self._show_rule()


STAGE = OrderStage
