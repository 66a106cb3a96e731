"""Another material instead of the one chosen in the list: what it would change, then the swap itself."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.swap import others_for, swap, swap_table
from ribpatch.ui.widgets.combo import Combo, show_items
from ribpatch.ui.widgets.table_view import TableView

if TYPE_CHECKING:
    from ribpatch.core.table import Table
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Tasks


class SwapPanel(QWidget):
    """A line to pick from; the table comes when it is asked for, worked out beside the window."""

    def __init__(self, session: Session, tasks: Tasks | None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._tasks = session, tasks
        self._material = ""
        self._asked: tuple[object, ...] = ()
        self.label = QLabel("Instead of it")
        self.other = Combo()
        self.other.setAccessibleName("what to take instead")
        self.look = QPushButton("What would change")
        self.look.clicked.connect(lambda: self._look())
        self.take = QPushButton("Swap")
        self.take.setToolTip("Take it instead in every scheme of every zone; undo brings the old one back")
        self.take.clicked.connect(lambda: self._take())
        self.table = TableView("what a swap changes")
        self.table.hide()
        row = QHBoxLayout()
        for widget, stretch in ((self.label, 0), (self.other, 1)):
            row.addWidget(widget, stretch)
        row.addWidget(self.look)
        row.addWidget(self.take)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addLayout(row)
        layout.addWidget(self.table, 1)
        self.hide()

    def set_theme(self, theme: str) -> None:
        self.table.set_theme(theme)

    def show_material(self, material: str) -> None:
        """Offer what may be taken instead of a material; nothing where there is nothing."""
        others = others_for(material, self._session.plan.shelf) if self._session.is_open else ()
        if material != self._material or self._asked[1:] != (self._session.job,):
            self.table.hide()
        self._material = material
        show_items(self.other, others)
        self.setVisible(bool(others))

    def _look(self) -> None:
        session, new = self._session, str(self.other.currentData() or "")
        if not new:
            return
        before, material, shipped = session.plan, self._material, session.shelf
        asked = self._asked = ((material, new), session.job)

        def then(table: Table | None, error: Exception | None) -> None:
            if self._asked == asked and table is not None and session.job is asked[1]:
                self.table.show_table(table, session.system)
                self.table.show()

        if self._tasks is None:
            then(swap_table(before, material, new, shipped), None)
        else:
            self._tasks.run("Working out the swap", lambda: swap_table(before, material, new, shipped), then)

    def _take(self) -> None:
        new = str(self.other.currentData() or "")
        if new and self._session.is_open:
            self._session.apply(swap(self._material, new, self._session.plan.shelf))
