"""Importing readings: a preview of what a CSV holds, with every bad row by its line and reason."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QHeaderView,
    QLabel,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ribpatch.core.survey.entry import reading_words
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, System, display_unit, place_numbers
from ribpatch.formats.csv_columns import NEEDED, UNITS, UnclearColumns
from ribpatch.ui.scaling import size_within
from ribpatch.ui.widgets.combo import Combo

if TYPE_CHECKING:
    from ribpatch.formats.readings_csv import Read

SHOWN = 200


class ImportDialog(QDialog):
    """Accepted where the good rows are to come in."""

    def __init__(self, name: str, zone: str, read: Read, system: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Import readings into {zone}")
        size_within(self, 760, 560)
        layout = QVBoxLayout(self)
        came, bad = counted(len(read.readings), "reading", "readings"), counted(len(read.bad), "row", "rows")
        head = QLabel(f"{name}: {came} for {zone}, {bad} left out")
        head.setObjectName("title")
        head.setWordWrap(True)
        layout.addWidget(head)
        layout.addWidget(QLabel(f"Read as {read.understood}."))
        if read.repeats:
            layout.addWidget(
                QLabel(
                    f"{counted(read.repeats, 'reading repeats', 'readings repeat')} a place with the same instrument; "
                    "all of them count."
                )
            )
        unit = display_unit(Kind.SIZE, system).unit
        self.good = _table(
            "readings that come in",
            (f"x {unit}", f"y {unit}", "reading"),
            [(*place_numbers((r.x, r.y), system, 1), reading_words(r, system)) for r in read.readings[:SHOWN]],
        )
        layout.addWidget(self.good, 3)
        if len(read.readings) > SHOWN:
            layout.addWidget(QLabel(f"and {len(read.readings) - SHOWN} more"))
        if read.bad:
            layout.addWidget(QLabel("Left out:"))
            self.bad = _table(
                "rows that are left out",
                ("line", "what it says", "why it is left out"),
                [(str(b.line), b.text, b.reason) for b in read.bad[:1000]],
            )
            layout.addWidget(self.bad, 2)
        buttons = QDialogButtonBox()
        self.add = buttons.addButton(f"Add {came}", QDialogButtonBox.ButtonRole.AcceptRole)
        self.add.setEnabled(bool(read.readings))
        buttons.addButton("Cancel", QDialogButtonBox.ButtonRole.RejectRole)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout.addWidget(buttons)


class ColumnsDialog(QDialog):
    """Asks which column is what, where the names of a file do not say. ``mapping`` is the answer."""

    def __init__(self, name: str, asked: UnclearColumns, known: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Columns of {name}")
        layout = QFormLayout(self)
        head = QLabel(
            f"{name} does not say which column holds {', '.join(asked.missing)}. The answer is remembered for such "
            "files."
        )
        head.setWordWrap(True)
        layout.addRow(head)
        self.boxes: dict[str, Combo] = {}
        for what in NEEDED:
            box = Combo()
            box.setAccessibleName(f"column of {what}")
            for cell in asked.cells:
                box.addItem(cell, cell.strip())
            if what == "kind":
                for kind in ("tap", "moisture", "pin", "infrared"):
                    box.addItem(f"all rows are {kind}", f"={kind}")
            self.boxes[what] = box
            layout.addRow(what, box)
        self.boxes["unit"] = Combo()
        self.boxes["unit"].setAccessibleName("unit of places")
        for unit in UNITS:
            self.boxes["unit"].addItem(unit, unit)
        layout.addRow("x and y are in", self.boxes["unit"])
        for what, box in self.boxes.items():
            index = box.findData(known.get(what, ""))
            box.setCurrentIndex(
                index if index >= 0 else min(list(self.boxes).index(what), box.count() - 1) if what in NEEDED else 0
            )
        buttons = QDialogButtonBox()
        buttons.addButton("Read the file so", QDialogButtonBox.ButtonRole.AcceptRole)
        buttons.addButton("Cancel", QDialogButtonBox.ButtonRole.RejectRole)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        layout.addRow(buttons)

    @property
    def mapping(self) -> dict[str, str]:
        """What each needed column is."""
        return {what: str(box.currentData()) for what, box in self.boxes.items()}


def _table(name: str, columns: tuple[str, ...], rows: list[tuple[str, ...]]) -> QTableWidget:
    table = QTableWidget(len(rows), len(columns))
    table.setHorizontalHeaderLabels(list(columns))
    table.verticalHeader().hide()
    table.setAccessibleName(name)
    table.setTabKeyNavigation(False)
    table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
    table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
    table.horizontalHeader().setStretchLastSection(True)
    for i, row in enumerate(rows):
        for j, text in enumerate(row):
            table.setItem(i, j, QTableWidgetItem(text))
    return table
