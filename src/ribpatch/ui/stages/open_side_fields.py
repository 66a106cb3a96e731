"""Four optional values, one a side of the cut: empty follows the rule for all sides."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QGridLayout, QLabel, QWidget

from ribpatch.core.errors import Fault
from ribpatch.core.scheme import FACINGS, Facing, Scheme
from ribpatch.core.units import Kind, Measure, shown
from ribpatch.core.zone_axes import facing_words
from ribpatch.ui.scaling import sized
from ribpatch.ui.typed import refuse
from ribpatch.ui.widgets.entry import QuantityEdit, read_value, value_text

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.edits import Edit
    from ribpatch.ui.session import Session


class SideFields(QWidget):
    """Edits a value by side; ``make(zone, facing, value)`` gives the edit, ``held(scheme)`` the values set."""

    def __init__(
        self,
        session: Session,
        name: str,
        kind: Kind,
        make: Callable[[str, Facing, Measure | None], Edit],
        held: Callable[[Scheme], dict[Facing, Measure]],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._session, self._name, self._kind, self._make, self._held = session, name, kind, make, held
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(2)
        self.labels: dict[Facing, QLabel] = {}
        self.edits: dict[Facing, QuantityEdit] = {}
        for index, facing in enumerate(FACINGS):
            label, edit = QLabel(""), QuantityEdit()
            edit.setPlaceholderText("as above")
            sized(edit, most_width=96)
            edit.entered.connect(lambda text, f=facing: self._entered(f, text))
            grid.addWidget(label, index // 2, 2 * (index % 2))
            grid.addWidget(edit, index // 2, 2 * (index % 2) + 1)
            self.labels[facing], self.edits[facing] = label, edit
        self.note = QLabel("")
        self.note.setObjectName("grave")
        self.note.setWordWrap(True)
        self.note.hide()
        grid.addWidget(self.note, 2, 0, 1, 4)

    def _entered(self, facing: Facing, text: str) -> None:
        zone = self._session.zone
        if zone is None:
            return
        try:
            value = read_value(text, self._kind, True, self._session.system, None)
            self._session.try_apply(self._make(zone.id, facing, value))
            self.note.hide()
        except Fault as fault:
            self.note.setText(f"{fault.sentence} The old value is kept.")
            refuse(self.edits[facing], fault.sentence)
            self.note.show()

    def show_usual(self, values: dict[Facing, float]) -> None:
        """Show what the rule gives on each side where nothing is set."""
        for facing, edit in self.edits.items():
            value = values.get(facing)
            edit.setPlaceholderText("as above" if value is None else shown(value, self._kind, self._session.system))

    def show_job(self) -> None:
        """Show the values set."""
        zone = self._session.zone
        self.setEnabled(zone is not None)
        if zone is None:
            return
        words, held = facing_words(zone.kind), self._held(zone.scheme)
        for facing, edit in self.edits.items():
            self.labels[facing].setText(words[facing])
            edit.setAccessibleName(f"{self._name}, {words[facing]}")
            edit.show_text(value_text(held.get(facing), self._kind, self._session.system))
