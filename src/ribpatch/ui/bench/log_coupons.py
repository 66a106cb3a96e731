"""Bond coupons: a set planned, its sheet to print, each coupon read, and what they say."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.coupon_words import ages_typed, coupon_table, planned_rows, resins_over, verdict
from ribpatch.core.errors import Fault
from ribpatch.core.log_edits import add_coupons, read_coupon, remove_coupons, take_coupons
from ribpatch.core.logged import COUPON_KINDS, MODES, CouponResult
from ribpatch.core.quantity import parse
from ribpatch.core.record import built
from ribpatch.core.units import Kind
from ribpatch.ui.typed import refuse
from ribpatch.ui.widgets.combo import Combo, show_items
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.logged import CouponSet
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.ui.session import Session


class CouponPanel(QWidget):
    """One set at a time."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.chosen, self.kind, self.row, self.mode = Combo(), Combo(), Combo(), Combo()
        self.name, self.ages, self.load = QLineEdit(), QLineEdit(), QLineEdit()
        self.every = QCheckBox("every resin")
        self.every.setToolTip("A row for each resin of the zone's scheme over the laminate, not only that of its plies")
        named: tuple[tuple[QWidget, str], ...] = (
            (self.chosen, "set of coupons"),
            (self.kind, "how they are parted"),
            (self.row, "row of the coupon"),
            (self.mode, "how it looked"),
            (self.name, "name of a new set"),
            (self.ages, "days old when laid over"),
            (self.load, "load"),
        )
        for widget, words in named:
            widget.setAccessibleName(words)
        self.name.setPlaceholderText("what is tried")
        self.name.setToolTip("What is tried, as: onto peel ply")
        self.ages.setPlaceholderText("days old: 1, 30")
        self.ages.setToolTip(
            "How old the laminate is when it is laid over: a row for each; empty: as it is on the boat"
        )
        self.load.setPlaceholderText("load")
        self.load.setToolTip("At which it parted, as 85 N; may be empty")
        for kind, said in COUPON_KINDS.items():
            self.kind.addItem(said, kind)
        for mode, said in MODES.items():
            self.mode.addItem(said, mode)
        self.add = self._button(
            "Plan a set", "Every preparation, five of each: as peeled, degreased only, degreased and ground", self._add
        )
        self.remove = self._button("Take the set away", "Undo brings it back", self._remove)
        self.read = self._button("It parted", "One coupon of this row, read", self._read)
        self.take = self._button("Use what they say", "The share of the bond's strength, in this job", self._take)
        self.table = TableView("coupons by row")
        self.words = QLabel("")
        self.words.setWordWrap(True)
        lines: tuple[tuple[QWidget, ...], ...] = (
            (self.name, self.ages, self.kind),
            (self.every, self.add),
            (self.chosen, self.remove),
            (self.row, self.mode),
            (self.load, self.read, self.take),
        )
        wide = (self.name, self.chosen, self.row)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        for widgets in lines:
            line = QHBoxLayout()
            for widget in widgets:
                line.addWidget(widget, 3 if widget in wide else 0 if isinstance(widget, QPushButton | QCheckBox) else 2)
            layout.addLayout(line)
        layout.addWidget(self.table, 1)
        layout.addWidget(self.words)
        self.chosen.activated.connect(lambda _: self._show())

    def _button(self, text: str, tip: str, then: object) -> QPushButton:
        made = QPushButton(text)
        made.setToolTip(tip)
        made.clicked.connect(lambda: then())  # type: ignore[operator]  # a method of this panel
        return made

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)

    def show_plan(self, plan: Plan, system: System) -> None:
        """Show the sets of a job."""
        sets = plan.job.log.coupons
        kept = str(self.chosen.currentData() or "")
        if show_items(self.chosen, tuple((c.id, c.name) for c in sets)):
            index = self.chosen.findData(kept)
            self.chosen.setCurrentIndex(index if index >= 0 else len(sets) - 1)
        self._show()

    @property
    def set(self) -> CouponSet | None:
        """The set that is looked at."""
        wanted = str(self.chosen.currentData() or "")
        sets = self._session.job.log.coupons if self._session.is_open else ()
        return next((c for c in sets if c.id == wanted), None)

    def _show(self) -> None:
        plan, system, here = self._session.plan, self._session.system, self.set
        for widget in (self.row, self.mode, self.load, self.read, self.remove):
            widget.setEnabled(here is not None)
        if here is None:
            self.words.setText(
                "Plan a set: pieces of the same laminate, made ready in different ways, laid over and parted."
            )
            self.table.hide()
            self.take.setEnabled(False)
            return
        self.table.show()
        names = {p.id: p.name for p in plan.shelf.preparations}
        show_items(
            self.row,
            tuple((r.id, f"{r.id}: {names.get(r.preparation, r.preparation)} {r.words}".strip()) for r in here.rows),
        )
        self.table.show_table(coupon_table(here, plan.shelf, system), system)
        self.words.setText(verdict(here, plan.shelf))
        self.take.setEnabled(any(r.results for r in here.rows))

    def _add(self) -> None:
        plan = self._session.plan
        name = self.name.text().strip() or f"coupons {len(plan.job.log.coupons) + 1}"
        zone = self._session.zone
        resins = resins_over(zone) if zone is not None else (None,)
        try:
            overs = resins if self.every.isChecked() else ()
            rows = planned_rows(plan.shelf, resins[0], overs, ages_typed(self.ages.text()))
            self._session.try_apply(add_coupons(self._session.job, name, str(self.kind.currentData()), 5, rows))
        except Fault as fault:
            refuse(self.ages, fault.sentence)
            self._session.told.emit(fault.sentence)
            return
        self.name.clear()
        self.ages.clear()
        self.chosen.setCurrentIndex(self.chosen.count() - 1)
        self._show()

    def _remove(self) -> None:
        if self.set is not None:
            self._session.apply(remove_coupons(self._session.job, self.set.id))

    def _read(self) -> None:
        here, text = self.set, self.load.text().strip()
        if here is None:
            return
        try:
            load = parse(text, Kind.FORCE, self._session.system).measure if text else None
            result = built(CouponResult, mode=str(self.mode.currentData()), load=load)
            self._session.try_apply(read_coupon(self._session.job, here.id, str(self.row.currentData()), result))
        except Fault as fault:
            self._session.told.emit(fault.sentence)
            return
        self.load.clear()

    def _take(self) -> None:
        if self.set is not None:
            self._session.apply(take_coupons(self.set, self._session.shelf))
