"""What is on the shelf: a list, a form to put something in, what has come, and what is left of the cloth."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QLineEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ribpatch.core.buying_words import amount_text
from ribpatch.core.dates import date_example, date_words
from ribpatch.core.errors import Fault
from ribpatch.core.stock_edits import add_stock, remove_stock
from ribpatch.core.stock_typed import AMOUNT, OPENED, WIDTH, stock_typed
from ribpatch.core.supply.buying import unit_of
from ribpatch.core.units import Kind, shown
from ribpatch.ui.scaling import sized
from ribpatch.ui.typed import refuse
from ribpatch.ui.widgets.combo import Combo
from ribpatch.ui.widgets.rows import Rows

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.ui.session import Session

LEAST = 56  # pixels of a line
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
            sized(edit, least_width=LEAST)
        self.width_edit.setPlaceholderText("whole")
        self.width_edit.setToolTip("Of an off-cut; empty: the whole roll or sheet")
        self.opened.setPlaceholderText("closed")
        self.opened.setToolTip(f"The day that it was opened, as {date_example()}")
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
        scroll.setAccessibleName("in stock")
        scroll.setObjectName("reads")
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
        materials = tuple(
            (p.name, p.id, unit_of(p.id, plan.shelf)) for p in sorted(plan.shelf.prices, key=lambda p: p.name)
        )
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
            rows.append((name, much, date_words(item.opened) or "closed", item.note))
        stock = plan.job.stock
        self.rows.show_rows(
            rows, lambda n: self._session.apply(remove_stock(stock[n].id, units.get(stock[n].material, ("it", ""))[0]))
        )

    def _add(self) -> None:
        if not self._session.is_open or self.material.currentIndex() < 0:
            return
        name, identity, _ = self._materials[self.material.currentIndex()]
        edits = {AMOUNT: self.amount, WIDTH: self.width_edit, OPENED: self.opened}
        texts, today = {field: edit.text() for field, edit in edits.items()}, date.today().isoformat()
        try:
            item = stock_typed(identity, texts, today, self._session.plan.shelf, self._session.system)
        except Fault as fault:
            refuse(edits.get(fault.where, self.amount), fault.sentence)
            self.note.setText(f"⚠ {name}, {fault.sentence}")
            return
        self.note.setText(HINT)
        for used in (self.amount, self.width_edit, self.opened):
            used.clear()
        self._session.apply(add_stock(self._session.job, item, name))
