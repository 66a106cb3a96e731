"""What to measure first: everything of the zone that is only assumed, each with its line, ticked off as it is typed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.edits import set_size, set_value, take_all_as_assumed, take_as_assumed
from ribpatch.core.errors import Fault
from ribpatch.core.facts import zone_facts
from ribpatch.core.quantity import parse
from ribpatch.core.units import shown
from ribpatch.ui.scaling import sized
from ribpatch.ui.typed import refuse
from ribpatch.ui.widgets.entry import QuantityEdit
from ribpatch.ui.widgets.spoken import announce

if TYPE_CHECKING:
    from ribpatch.core.edits import Edit
    from ribpatch.core.facts import Fact
    from ribpatch.core.job import Zone
    from ribpatch.ui.session import Session

AXES = {"length": 0, "width": 1}

MEASURE = 168  # pixels of a line, for “assumed” and a size


class _Line:
    """One fact: its tick, name, line and the press that says it is so."""

    def __init__(self, panel: FactsPanel, row: int, grid: QGridLayout) -> None:
        self.fact: Fact | None = None
        self.row = row
        self.tick, self.name, self.edit, self.so = QLabel(), QLabel(), QuantityEdit(), QPushButton("is so")
        sized(self.tick, width=16)
        sized(self.edit, least_width=MEASURE)
        self.so.setObjectName("plain")
        for column, widget in enumerate((self.tick, self.name, self.edit, self.so)):
            grid.addWidget(widget, row, column)
        self.edit.entered.connect(lambda text: panel.enter(self, text))
        self.so.clicked.connect(lambda: panel.take(self))

    def show_fact(self, fact: Fact | None, panel: FactsPanel) -> None:
        """Show a fact, or nothing."""
        self.fact = fact
        for widget in (self.tick, self.name, self.edit, self.so):
            widget.setVisible(fact is not None)
        if fact is None:
            return
        self.tick.setText("·" if fact.assumed else "✓")
        self.name.setText(fact.name)
        self.so.setVisible(fact.assumed)
        self.so.setToolTip(f"{fact.name}: looked at, and it is as assumed")
        self.so.setAccessibleName(f"{fact.name} is so")
        self.edit.setVisible(fact.value is not None)
        if fact.value is not None and fact.kind is not None:
            text = shown(fact.value, fact.kind, panel.session.system)
            self.edit.setAccessibleName(f"{fact.name}, {'assumed' if fact.assumed else 'stated'}")
            self.edit.setToolTip("Type what you measured; Enter goes to the next")
            self.edit.setPlaceholderText(f"assumed {text}")
            self.edit.show_text("" if fact.assumed else text)


class FactsPanel(QWidget):
    """The list, with what is left in words."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.lines: list[_Line] = []
        self.words = QLabel()
        self.words.setObjectName("soft")
        self.words.setWordWrap(True)
        self.first = QLabel()
        self.first.setObjectName("soft")
        self.first.setWordWrap(True)
        self._shown = ""  # the zone
        self.note = QLabel(self)
        self.note.setObjectName("grave")
        self.note.setWordWrap(True)
        self.note.hide()
        self._grid = QGridLayout()
        self._grid.setVerticalSpacing(3)
        self._grid.setColumnStretch(1, 2)
        self._grid.setColumnStretch(2, 3)
        self.all_so = QPushButton("All the rest is so")
        self.all_so.setObjectName("plain")
        self.all_so.setToolTip("Take everything that is still assumed of this zone as it is, in one step")
        self.all_so.clicked.connect(lambda: self._take_all())
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.words)
        column.addLayout(self._grid)
        row = QHBoxLayout()
        row.addWidget(self.all_so)
        row.addStretch(1)
        column.addLayout(row)
        column.addWidget(self.first)

    def show_zone(self, zone: Zone | None) -> None:
        """Show what is known and what is assumed of a zone."""
        here = zone.id if zone is not None else ""
        if here != self._shown:
            self._shown = here
            self.note.hide()
        facts = zone_facts(zone) if zone is not None else ()
        while len(self.lines) < len(facts):
            self.lines.append(_Line(self, 2 * len(self.lines), self._grid))  # what is said of one stands under it
        for n, line in enumerate(self.lines):
            line.show_fact(facts[n] if n < len(facts) else None, self)
        self._show_first(zone)
        left = [f.name for f in facts if f.assumed]
        self.all_so.setVisible(bool(left))
        self.words.setText(
            f"{len(left)} of {len(facts)} still assumed: type what you measured. Until then every figure that "
            "leans on it carries ≈."
            if left
            else "Everything of this zone is stated."
        )

    def _show_first(self, zone: Zone | None) -> None:
        """What to look at first where this is wrong; only for a zone that was begun with it."""
        if zone is None or not zone.wrong:
            self.first.hide()
            return
        from ribpatch.library.beginnings import troubles  # read where a zone was begun with one, not at every start

        trouble = next((t for t in troubles() if t.id == zone.wrong), None)
        self.first.setVisible(trouble is not None)
        if trouble is not None:
            steps = "  ".join(f"{n}. {text}" for n, text in enumerate(trouble.first, 1))
            self.first.setText(f"{trouble.name}, first: {steps}")

    def _edit(self, fact: Fact, text: str, zone: Zone) -> Edit:
        assert fact.kind is not None
        measure = parse(text, fact.kind, self.session.system).measure
        if fact.key in AXES:
            return set_size(zone.id, AXES[fact.key], measure)
        return set_value(fact.path, measure)

    def enter(self, line: _Line, text: str) -> None:
        """State a fact as typed, and go on to the next that is assumed."""
        zone, fact = self.session.zone, line.fact
        if zone is None or fact is None or not text.strip():
            return
        try:
            self.session.try_apply(self._edit(fact, text, zone))
        except Fault as fault:
            self._grid.addWidget(self.note, line.row + 1, 1, 1, 3)
            said = fault.sentence
            if not said.lower().startswith(f"{fact.name.lower()}:"):
                said = f"{fact.name}: {said}"
            self.note.setText(f"{said} The old value is kept.")
            self.note.show()
            refuse(line.edit, said)
            announce(line.edit, self.note.text())
            line.edit.setText(text)
            return
        self.note.hide()
        if line.edit.hasFocus():
            self._on(line)

    def take_focus(self) -> None:
        """Turn the keys to the first line that is assumed."""
        first = next((n for n in self.lines if n.fact and n.fact.assumed and n.fact.value is not None), None)
        if first is not None:
            first.edit.setFocus(Qt.FocusReason.TabFocusReason)

    def _on(self, line: _Line) -> None:
        here = self.lines.index(line)
        after = [*self.lines[here + 1 :], *self.lines[:here]]
        following = next((n for n in after if n.fact and n.fact.assumed and n.fact.value is not None), None)
        if following is not None:
            following.edit.setFocus(Qt.FocusReason.TabFocusReason)

    def take(self, line: _Line) -> None:
        """Take a fact as assumed."""
        if line.fact is not None:
            self.session.apply(take_as_assumed(line.fact, self.session.zone_id, self.session.system))

    def _take_all(self) -> None:
        zone = self.session.zone
        if zone is not None:
            self.session.apply(take_all_as_assumed(zone_facts(zone), zone.id, self.session.system))
