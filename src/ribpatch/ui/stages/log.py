"""Log: what the shop learned, and what goes out on paper."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QPushButton

from ribpatch.core.errors import Fault
from ribpatch.core.logged_days import logged_days
from ribpatch.core.numerals import fixed
from ribpatch.core.shop import job_mark, ratios_of, taught
from ribpatch.core.text import counted
from ribpatch.library.shelf import user_shelf
from ribpatch.library.shop import read_shop, write_shop
from ribpatch.ui.bench.days_bench import today
from ribpatch.ui.stages.stage import Stage

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.shop import Shop
    from ribpatch.ui.shell import Shell


class LogStage(Stage):
    """The decisions of the Log rung."""

    name = "log"
    title = "Log"
    first = ("What is logged",)

    def connect_to(self, window: Shell) -> None:
        trigger = window.actions_table.trigger
        self.report.clicked.connect(lambda: trigger("hand_over"))
        self.table.clicked.connect(lambda: trigger("export_log"))
        self.coupons.clicked.connect(lambda: trigger("coupon_sheet"))

    def build(self) -> None:
        card = self.card("What is logged", ())
        self.count_note = card.add_text("")
        card = self.card("What the shop learned", ())
        self.learned_note = card.add_text("")
        self.learn = QPushButton("Learn from this job")
        self.learn.setToolTip("Hours, resin, cure and laminates of this job join those of the jobs before it")
        self.learn.clicked.connect(lambda: self._learn())
        self.forget = QPushButton("Forget what it taught")
        self.forget.clicked.connect(lambda: self._forget())
        row = QHBoxLayout()
        row.addWidget(self.learn)
        row.addWidget(self.forget)
        card.add(row)
        card = self.card("Papers", ())
        self.report, self.table = QPushButton("Hand-over report"), QPushButton("Log as CSV")
        self.report.setToolTip("What was found, why, what was done with what, as PDF")
        row = QHBoxLayout()
        row.addWidget(self.report)
        row.addWidget(self.table)
        card.add(row)
        self.coupons = QPushButton("Sheet for bond coupons")
        card.add(self.coupons)

    def show_plan(self, plan: Plan) -> None:
        count = len(plan.job.log.entries)
        corrected = sum(bool(e.corrects) for e in plan.job.log.entries)
        words = f"{counted(count, 'entry', 'entries')}, {corrected} of them corrections." if count else "Nothing yet."
        self.count_note.setText(f"{words} Entries are never changed: what corrects one stands beside it.")
        self.learn.setEnabled(count > 0)
        self._show_learned(plan)

    def _shop(self) -> Shop | None:
        try:
            return read_shop()
        except Fault as fault:
            self.learned_note.setText(f"⚠ {fault.sentence}")
            return None

    def _show_learned(self, plan: Plan) -> None:
        shop = self._shop()
        if shop is None:
            return
        lines = []
        for kind in plan.shelf.steps:
            seen = ratios_of(kind.id, shop)
            if seen:
                lines.append(f"{kind.name}: × {fixed(kind.pace, 2)}, from {counted(len(seen), 'job', 'jobs')}")
        lines += [
            f"{r.name}: {r.reason.rpartition('; ')[2]}" for r in plan.shelf.resins if "times are yours" in r.reason
        ]
        self.learned_note.setText("\n".join(lines) or "Nothing yet: rates are the shipped ones.")
        self.forget.setEnabled(any(j.job == job_mark(plan) for j in shop.jobs))

    def _learn(self) -> None:
        shop, plan = self._shop(), self.session.plan
        if shop is not None:
            self._keep(shop.with_job(taught(plan, logged_days(plan, today(), ""))))

    def _forget(self) -> None:
        shop = self._shop()
        if shop is not None:
            self._keep(shop.without(job_mark(self.session.plan)))

    def _keep(self, shop: Shop) -> None:
        try:
            write_shop(shop)
            shelf, _ = user_shelf()
        except Fault as fault:
            self.session.told.emit(fault.sentence)
            return
        self.session.use_shelf(shelf)


STAGE = LogStage
