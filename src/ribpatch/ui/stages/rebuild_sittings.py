"""Another resin from a ply on: a row for each change, and a line to add one."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.scheme_edits import set_resin_from
from ribpatch.ui.widgets.combo import Combo, Count, show_items
from ribpatch.ui.widgets.rows import Rows

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.ui.session import Session


class SittingsPanel(QWidget):
    """Changes of the resin by ply."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.rows = Rows(("another resin", "", ""))
        self.ply = Count()
        self.ply.setRange(2, 60)
        self.ply.setAccessibleName("from ply")
        self.resin = Combo()
        self.resin.setAccessibleName("resin from that ply on")
        self.resin.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.resin.setMinimumContentsLength(8)
        self.add = QPushButton("Add")
        self.add.setToolTip("Lay this resin from that ply on")
        self.add.clicked.connect(lambda: self._add())
        row = QHBoxLayout()
        row.addWidget(QLabel("From ply"))
        row.addWidget(self.ply)
        row.addWidget(self.resin, 1)
        row.addWidget(self.add)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.rows)
        layout.addLayout(row)

    def show_scheme(self, zone: Zone, shelf: Shelf) -> None:
        """Show the changes of a zone's scheme."""
        choice = zone.scheme.resin
        show_items(self.resin, tuple((r.id, r.name) for r in shelf.resins))
        self.rows.setVisible(bool(choice.sittings))
        rows = [(f"from ply {s.ply}", shelf.resin(s.resin).name) for s in choice.sittings]
        sittings = choice.sittings
        self.rows.show_rows(rows, lambda n: self._session.apply(set_resin_from(zone.id, sittings[n].ply, None)))

    def _add(self) -> None:
        zone = self._session.zone
        if zone is not None and self.resin.currentIndex() >= 0:
            resin = str(self.resin.currentData())
            self._session.apply(set_resin_from(zone.id, self.ply.value(), resin))
