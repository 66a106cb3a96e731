"""What is on the shelf: a list, a form to put something in, what has come, and what is left of the cloth."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QLineEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ribpatch.core.buying_words import KINDS, amount_text
from ribpatch.core.errors import Fault
from ribpatch.core.quantity import parse
from ribpatch.core.record import read_as
from ribpatch.core.stock import StockItem
from ribpatch.core.stock_edits import add_stock, remove_stock
from ribpatch.core.units import Kind, shown
from ribpatch.ui.typed import refuse
from ribpatch.ui.widgets.combo import Combo
from ribpatch.ui.widgets.rows import Rows

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.ui.session import Session

HINT = (
    "Cloth by the length on its roll; a width as well makes it an off-cut. Resin and filler by mass, core by the sheet."
)


class StockPanel(QWidget):
    """Stock of this job's shelf."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._materials: tuple[tuple[str, str, str], ...] = ()  # name, id, unit
        self.material = Combo()
        self.material.setAccessibleName("what is in stock")
        self.material.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.material.setMinimumContentsLength(24)
        self.amount, self.width_edit, self.opened = QLineEdit(), QLineEdit(), QLineEdit()
        for edit, name in (
            (self.amount, "how much"),
            (self.width_edit, "width of an off-cut"),
            (self.opened, "opened on"),
        ):
            edit.setAccessibleName(name)
        self.width_edit.setPlaceholderText("whole roll or sheet")
        self.opened.setPlaceholderText("closed")
        self.opened.setToolTip("The day that it was opened, as 2027-03-28")
        self.add = QPushButton("Put in stock")
        self.add.clicked.connect(lambda: self._add())
        self.note = QLabel(HINT)
        self.note.setObjectName("soft")
        self.note.setWordWrap(True)
        form = QGridLayout()
        for column, (words, widget) in enumerate(
            (
                ("material", self.material),
                ("how much", self.amount),
                ("width", self.width_edit),
                ("opened", self.opened),
            )
        ):
            label = QLabel(words)
            label.setObjectName("soft")
            form.addWidget(label, 0, column)
            form.addWidget(widget, 1, column)
        form.addWidget(self.add, 1, 4)
        form.setColumnStretch(0, 3)
        for column in (1, 2, 3):
            form.setColumnStretch(column, 1)
        self.rows = Rows(("material", "how much", "opened", "note", ""))
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        holder = QWidget()
        inner = QVBoxLayout(holder)
        inner.addWidget(self.rows)
        inner.addStretch(1)
        scroll.setWidget(holder)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addLayout(form)
        layout.addWidget(self.note)
        layout.addWidget(scroll, 1)

    def show_plan(self, plan: Plan, system: System) -> None:
        """Show what is in stock, and what can be."""
        materials = tuple((p.name, p.id, _unit(plan, p.id)) for p in sorted(plan.shelf.prices, key=lambda p: p.name))
        if materials != self._materials:
            self._materials = materials
            kept = self.material.currentData()
            self.material.clear()
            for name, identity, _ in materials:
                self.material.addItem(name, identity)
            self.material.setCurrentIndex(max(self.material.findData(kept), 0))
        units = {identity: (name, unit) for name, identity, unit in materials}
        rows = []
        for item in plan.job.stock:
            name, unit = units.get(item.material, (item.material, "each"))
            much = amount_text(item.amount.si, unit, system)
            if item.width is not None:
                sides = (shown(v, Kind.LENGTH, system) for v in (item.amount.si, item.width.si))
                much = f"off-cut {' × '.join(sides)}"
            rows.append((name, much, item.opened or "closed", item.note))
        stock = plan.job.stock
        self.rows.show_rows(
            rows, lambda n: self._session.apply(remove_stock(stock[n].id, units.get(stock[n].material, ("it", ""))[0]))
        )

    def _add(self) -> None:
        if not self._session.is_open or self.material.currentIndex() < 0:
            return
        name, identity, unit = self._materials[self.material.currentIndex()]
        system = self._session.system
        edit = self.amount
        try:
            wide = None
            if self.width_edit.text().strip():
                edit = self.width_edit
                if unit not in ("m", "each") or (unit == "each" and not _has_sheets(self._session.plan, identity)):
                    raise Fault(reason=f"{name} has no off-cuts: leave the width empty.")
                wide = parse(edit.text(), Kind.LENGTH, system).measure
                unit = "m"
            edit = self.amount
            amount = parse(edit.text(), KINDS[unit], system).measure
            edit = self.opened
            day = edit.text().strip()
            if day > date.today().isoformat():
                raise Fault(reason=f"“{day}” is still to come; write the day that it was opened as 2027-03-28.")
            item = read_as(
                StockItem, {"id": "s0", "material": identity, "amount": amount, "width": wide, "opened": day}
            )
        except Fault as fault:
            refuse(edit, fault.sentence)
            self.note.setText(f"⚠ {fault.sentence}")
            return
        except ValueError as error:
            from ribpatch.core.record import faults_of

            sentence = faults_of(error)[0].sentence  # type: ignore[arg-type]
            refuse(edit, sentence)
            self.note.setText(f"⚠ {sentence}")
            return
        self.note.setText(HINT)
        for used in (self.amount, self.width_edit, self.opened):
            used.clear()
        self._session.apply(add_stock(self._session.job, item, name))


def _unit(plan: Plan, identity: str) -> str:
    """What a material is counted in on the shelf."""
    if any(f.id == identity for f in plan.shelf.fabrics):
        return "m"
    if _has_sheets(plan, identity):
        return "each"
    price = plan.shelf.price(identity)
    return price.per if price is not None else "each"


def _has_sheets(plan: Plan, identity: str) -> bool:
    return any(c.id == identity and not c.poured for c in plan.shelf.cores)
