"""Which of the closed lines in a drawing is the outline: a list with sizes, a picture of all, units, turned over."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF
from PySide6.QtWidgets import (
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QVBoxLayout,
    QWidget,
)

from ribpatch.core.errors import Fault
from ribpatch.core.geometry import check_ring
from ribpatch.core.text import counted
from ribpatch.core.units import FOOT, INCH, Kind, shown
from ribpatch.formats.outline_file import laid_at_origin
from ribpatch.ui.scaling import room_of, size_within, sized
from ribpatch.ui.theme import colours
from ribpatch.ui.widgets.combo import Combo
from ribpatch.ui.widgets.flow import FlowRow
from ribpatch.ui.widgets.soft import soft_label
from ribpatch.ui.widgets.themed import Themed

if TYPE_CHECKING:
    from ribpatch.core.geometry import Ring
    from ribpatch.core.units import System
    from ribpatch.formats.outline_file import Drawn

# What one unit of a drawing that states none may be, m.
UNITS = (("millimetres", 0.001), ("centimetres", 0.01), ("metres", 1.0), ("inches", INCH), ("feet", FOOT))
READ_AS = 0.001  # what it was read as


class Shapes(Themed):
    """All rings, the chosen one in the accent."""

    def __init__(self, rings: tuple[Ring, ...], theme: str) -> None:
        super().__init__("the closed lines of the drawing")
        self._rings, self.theme, self.chosen = rings, theme, 0
        sized(self, least_width=240, least_height=160)

    def paint(self, painter: QPainter) -> None:
        c = colours(self.theme)
        painter.fillRect(room_of(self), c["panel"])
        points = [p for ring in self._rings for p in ring]
        x0, x1 = min(x for x, _ in points), max(x for x, _ in points)
        y0, y1 = min(y for _, y in points), max(y for _, y in points)
        room = room_of(self).adjusted(14, 14, -14, -14)
        scale = min(room.width() / max(x1 - x0, 1e-9), room.height() / max(y1 - y0, 1e-9))
        for number, ring in enumerate(self._rings):
            here = number == self.chosen
            painter.setPen(QPen(c["accent" if here else "soft"], 2.6 if here else 1))
            painter.setBrush(c["accent-soft"])
            if not here:
                painter.setBrush(Qt.BrushStyle.NoBrush)
            places = [QPointF(room.x() + (x - x0) * scale, room.bottom() - (y - y0) * scale) for x, y in ring]
            painter.drawPolygon(QPolygonF(places))


class OutlineDialog(QDialog):
    """``ring`` is the outline as it was chosen, its lower left corner at the origin, m."""

    def __init__(self, name: str, drawn: Drawn, system: System, theme: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Outline from {name}")
        self._drawn, self._system = drawn, system
        self.ring: Ring = ()
        self.list = QListWidget()
        self.list.setAccessibleName("closed lines, largest first")
        self.list.currentRowChanged.connect(lambda _row: self._show())
        self.shapes = Shapes(tuple(ring for _, ring in drawn.rings), theme)
        self.units = Combo()
        self.units.setAccessibleName("units of the drawing")
        for words, factor in UNITS:
            self.units.addItem(words, factor)
        self.units.currentIndexChanged.connect(lambda _index: self._show())
        self.units.setVisible(not drawn.stated)
        self.over = QCheckBox("turned over (seen from the other side)")
        self.note = QLabel("" if drawn.stated else "The drawing states no units. One unit is taken as")
        self.said = soft_label()
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        self.buttons.button(QDialogButtonBox.StandardButton.Ok).setText("Take this outline")
        self.buttons.accepted.connect(lambda: self._accepted())
        self.buttons.rejected.connect(lambda: self.reject())
        self._compose()
        self._fill()

    def _compose(self) -> None:
        left = QVBoxLayout()
        left.addWidget(self.list, 1)
        row = FlowRow()
        row.flow.addWidget(self.note)
        row.flow.addWidget(self.units)
        left.addWidget(row)
        left.addWidget(self.over)
        left.addWidget(self.said)
        top = QHBoxLayout()
        top.addLayout(left)
        top.addWidget(self.shapes, 1)
        whole = QVBoxLayout(self)
        whole.addLayout(top)
        whole.addWidget(self.buttons)
        size_within(self, 840, 420)

    @property
    def _factor(self) -> float:
        return 1.0 if self._drawn.stated else float(self.units.currentData()) / READ_AS

    def _words(self, name: str, ring: Ring) -> str:
        x, y = zip(*ring, strict=True)
        wide, high = ((max(v) - min(v)) * self._factor for v in (x, y))
        sizes = f"{shown(wide, Kind.SIZE, self._system)} × {shown(high, Kind.SIZE, self._system)}"
        return f"{sizes}, {counted(len(ring), 'corner', 'corners')}" + (f"  ({name})" if name else "")

    def _fill(self) -> None:
        for name, ring in self._drawn.rings:
            self.list.addItem(self._words(name, ring))
        self.list.setCurrentRow(0)

    def _show(self) -> None:
        for row, (name, ring) in enumerate(self._drawn.rings):
            item = self.list.item(row)
            if item is not None:
                item.setText(self._words(name, ring))
        self.shapes.chosen = max(self.list.currentRow(), 0)
        self.shapes.update()
        self.said.setText("")

    def _accepted(self) -> None:
        factor, over = self._factor, -1 if self.over.isChecked() else 1
        raw = self._drawn.rings[max(self.list.currentRow(), 0)][1]
        ring = laid_at_origin(tuple((over * x * factor, y * factor) for x, y in raw))
        try:
            check_ring(ring, "this line")
        except Fault as fault:
            self.said.setText(f"⚠ {fault.sentence}")
            return
        self.ring = ring
        self.accept()
