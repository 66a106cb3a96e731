"""Coupons: plies of a fabric measured in this shop give its fibre mass fraction, used everywhere from then on."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.errors import Fault
from ribpatch.core.laminate.ply import coupon_fibre_fraction
from ribpatch.core.materials.records import Coupon, Process
from ribpatch.core.quantity import parse
from ribpatch.core.scheme_edits import add_coupon, remove_coupon
from ribpatch.core.units import Kind, shown
from ribpatch.ui.scaling import sized
from ribpatch.ui.typed import wait_for
from ribpatch.ui.widgets.combo import Combo, Count, show_items
from ribpatch.ui.widgets.rows import Rows

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.ui.session import Session


class CouponPanel(QWidget):
    """Enter a coupon; list those in use."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.fabric, self.plies, self.thickness, self.use = Combo(), Count(), QLineEdit(), QPushButton("Use")
        self.fabric.setAccessibleName("fabric of the coupon")
        self.fabric.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.fabric.setMinimumContentsLength(12)
        self.plies.setRange(1, 100)
        self.plies.setValue(4)
        self.plies.setAccessibleName("plies of the coupon")
        self.thickness.setPlaceholderText("thickness")
        self.thickness.setAccessibleName("measured thickness of the coupon")
        self.use.setToolTip("From now on this fabric by this process cures as the coupon did; undo takes it back")
        wait_for(self.thickness, self.use.text())
        self.use.clicked.connect(lambda: self._add())
        self.thickness.returnPressed.connect(lambda: self._add())
        words = QLabel("Laid by the process and resin of this scheme, all plies together measured with a calliper:")
        words.setObjectName("soft")
        words.setWordWrap(True)
        row = QHBoxLayout()
        for widget, share in ((self.plies, 0), (QLabel("×"), 0), (self.fabric, 1), (self.thickness, 0), (self.use, 0)):
            row.addWidget(widget, share)
        sized(self.thickness, least_width=84, most_width=96)
        self.note = QLabel("")
        self.note.setObjectName("grave")
        self.note.setWordWrap(True)
        self.note.hide()
        self.rows = Rows(("fabric", "process", "plies", "thick", "fibre"))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        for item in (words, self.note, self.rows):
            column.addWidget(item)
        column.insertLayout(1, row)

    def _add(self) -> None:
        zone, plan, system = self._session.zone, self._session.plan, self._session.system
        if zone is None:
            return
        try:
            thickness = parse(self.thickness.text(), Kind.SIZE, system).measure.si
            process: Process = zone.scheme.laying.process
            coupon = Coupon(
                id="new",
                fabric=str(self.fabric.currentData()),
                process=process,
                resin=zone.scheme.resin.main,
                plies=self.plies.value(),
                thickness=thickness,
            )
            self._session.try_apply(add_coupon(self._session.job, coupon, plan.shelf))
        except Fault as fault:
            self._tell(fault.sentence)
        except ValueError:
            self._tell("that thickness cannot be; check the unit and the decimal point.")
        else:
            self.note.hide()
            self.thickness.clear()

    def _tell(self, text: str) -> None:
        self.note.setText(f"⚠ {text}")
        self.thickness.setModified(False)  # told
        self.note.show()

    def show_plan(self, plan: Plan) -> None:
        """Show the coupons of the job."""
        show_items(self.fabric, [(f.id, f.name) for f in plan.shelf.fabrics])
        system, coupons = self._session.system, plan.job.own.coupons
        known = {f.id: f for f in plan.shelf.fabrics}
        rows = [
            (
                known[c.fabric].name,
                c.process,
                str(c.plies),
                shown(c.thickness, Kind.SIZE, system),
                shown(coupon_fibre_fraction(known[c.fabric], c, plan.shelf), Kind.PERCENT),
            )
            for c in coupons
            if c.fabric in known
        ]
        self.rows.show_rows(rows, lambda i: self._session.apply(remove_coupon(coupons[i].id)))
