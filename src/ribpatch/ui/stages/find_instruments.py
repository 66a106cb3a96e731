"""Choosing an instrument and what a click on the plan enters with it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, get_args

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.errors import Fault
from ribpatch.core.numerals import general
from ribpatch.core.quantity import parse
from ribpatch.core.readings import Bond, Core, State, Water
from ribpatch.core.survey.entry import METERS
from ribpatch.core.units import Kind
from ribpatch.ui.brush import NONE, Brush
from ribpatch.ui.widgets.combo import Combo
from ribpatch.ui.widgets.emptying import clear_layout

if TYPE_CHECKING:
    from ribpatch.core.materials.records import InstrumentCard
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.ui.session import Session

PLUG_FACTS = {"water": get_args(Water), "core": get_args(Core), "bond": get_args(Bond)}
KINDS = {"deflection": Kind.SIZE, "force": Kind.FORCE, "value": Kind.NUMBER}
COLUMNS = 4


class InstrumentPanel(QWidget):
    """``picked`` carries a Brush, ``told`` a sentence, ``record_wanted`` nothing."""

    picked = Signal(object)
    told = Signal(object)
    meter_changed = Signal(object)
    record_wanted = Signal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._shelf: Shelf | None = None
        self.buttons: dict[str, QPushButton] = {}
        self._boxes: dict[str, QComboBox] = {}
        self._edits: dict[str, QLineEdit] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.instrument = Combo()
        self.instrument.setAccessibleName("instrument")
        self.instrument.activated.connect(lambda _index: self._chosen())
        column.addWidget(self.instrument)
        self._facts = QVBoxLayout()
        self._facts.setSpacing(4)
        column.addLayout(self._facts)
        always = QHBoxLayout()
        for name, text, tip in (
            (
                "reference",
                "sound reference S",
                "Click readings on the plan to mark or unmark them as sound reference (S)",
            ),
            ("erase", "erase", "Click readings on the plan to delete them (Delete)"),
        ):
            always.addWidget(self._button(name, text, tip, Brush(name)))
        column.addLayout(always)
        self.note = QLabel("")
        self.note.setObjectName("soft")
        self.note.setWordWrap(True)
        column.addWidget(self.note)

    def show_shelf(self, shelf: Shelf) -> None:
        """Show the instruments of a shelf; nothing changes while it is the same."""
        if shelf is self._shelf:
            return
        self._shelf = shelf
        chosen = self.card.id if self.instrument.count() else "tap"
        self.instrument.clear()
        for card in shelf.instruments:
            self.instrument.addItem(f"{card.name}: {card.scale}", card.id)
        self.choose(chosen)

    @property
    def card(self) -> InstrumentCard:
        """The instrument chosen."""
        assert self._shelf is not None
        return self._shelf.instrument(str(self.instrument.currentData()))

    def choose(self, instrument: str) -> None:
        """Choose an instrument."""
        self.instrument.setCurrentIndex(max(self.instrument.findData(instrument), 0))
        self._chosen()

    # ---- what the chosen instrument asks ----

    def _button(self, name: str, text: str, tip: str, brush: Brush) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("plain")
        button.setCheckable(True)
        button.setToolTip(tip)
        button.clicked.connect(lambda _checked=False, n=name, b=brush: self._pressed(n, b))
        self.buttons[name] = button
        return button

    def _chosen(self) -> None:
        for name in [n for n in self.buttons if n not in ("reference", "erase")]:
            del self.buttons[name]
        self._boxes, self._edits = {}, {}
        clear_layout(self._facts)
        card = self.card
        self.instrument.setToolTip(f"{card.how} What can fool it: {'; '.join(card.fooled)}.")
        self.note.setText(f"{card.how} <i>What can fool it:</i> {'; '.join(card.fooled)}.")
        if card.id == "strike":
            button = QPushButton("Open a recording…")
            button.setToolTip("Open a WAV of taps: each strike is measured and compared (Ctrl+T)")
            button.clicked.connect(lambda: self.record_wanted.emit())
            self._facts.addWidget(button)
        elif card.id == "cut":
            self._grid([(state, state, Brush("cut", (("state", state),))) for state in get_args(State)])
        elif card.id == "plug":
            self._plug()
        elif card.grades:
            self._grid(
                [(f"{g.name} {g.key.upper()}".rstrip(), g.id, Brush(card.id, (("grade", g.id),))) for g in card.grades]
            )
        elif card.id == "push":
            self._line(("force", "force, 200 N or 45 lbf"), ("deflection", "deflection, 4 mm"))
        elif card.id in METERS:
            self._line(("value", f"value, {general(card.low)} to {general(card.high)} {card.unit}".rstrip()))
        self.picked.emit(NONE)
        self.meter_changed.emit(card.id if card.id in METERS else "moisture")

    def _grid(self, rows: list[tuple[str, str, Brush]]) -> None:
        grid = QGridLayout()
        grid.setSpacing(4)
        wide = max(len(text) for text, _, _ in rows) > 13
        columns = 2 if wide else COLUMNS
        for index, (text, name, brush) in enumerate(rows):
            grid.addWidget(
                self._button(name, text, f"Enter {text} by clicking on the plan", brush),
                index // columns,
                index % columns,
            )
        self._facts.addLayout(grid)

    def _line(self, *fields: tuple[str, str]) -> None:
        row = QHBoxLayout()
        for name, hint in fields:
            edit = QLineEdit()
            edit.setPlaceholderText(hint)
            edit.setAccessibleName(f"{self.card.name} {name}")
            edit.textChanged.connect(lambda _text: self._typed())
            self._edits[name] = edit
            row.addWidget(edit, 1)
        row.addWidget(self._button(self.card.id, "click to enter", "Each click on the plan enters this value", Brush()))
        self._facts.addLayout(row)

    def _plug(self) -> None:
        row = QHBoxLayout()
        for name, values in PLUG_FACTS.items():
            box = Combo()
            box.addItems([f"{name} {v}" for v in values])
            box.setAccessibleName(f"plug {name}")
            box.activated.connect(lambda _index: self._typed())
            self._boxes[name] = box
            row.addWidget(box, 1)
        self._facts.addLayout(row)
        layers = QLineEdit()
        layers.setPlaceholderText("layers seen, outside first")
        layers.setAccessibleName("layers seen")
        layers.textChanged.connect(lambda _text: self._typed())
        self._edits["layers"] = layers
        self._facts.addWidget(layers)
        self._facts.addWidget(
            self._button("plug", "click to enter the plug", "Each click on the plan enters this plug", Brush())
        )

    # ---- brushes ----

    @property
    def edit(self) -> QLineEdit:
        """The first line to type in."""
        return next(iter(self._edits.values()))

    def line(self, name: str) -> QLineEdit:
        """A line to type in by its fact."""
        return self._edits[name]

    def box(self, name: str) -> QComboBox:
        """A choice by its fact."""
        return self._boxes[name]

    def _pressed(self, name: str, brush: Brush) -> None:
        for other, button in self.buttons.items():
            if other != name:
                button.setChecked(False)
        if not self.buttons[name].isChecked():
            self.picked.emit(NONE)
            return
        if brush.kind:
            self.picked.emit(brush)
        else:
            self._pick_fields()

    def _typed(self) -> None:
        button = self.buttons.get(self.card.id)
        if button is not None and button.isChecked():
            self._pick_fields()

    def _pick_fields(self) -> None:
        """Take what is typed and chosen as the brush; where that cannot be read, none, and a sentence is told."""
        try:
            brush, told = Brush(self.card.id, tuple(self._read().items())), ""
        except Fault as fault:
            wanted = "; ".join(e.placeholderText() for e in self._edits.values())
            brush, told = NONE, f"{fault.sentence} Type {wanted}, then click on the plan."
        self.picked.emit(brush)
        if told:
            self.told.emit(told)

    def _read(self) -> dict[str, Any]:
        system = self._session.system
        facts: dict[str, Any] = {name: PLUG_FACTS[name][box.currentIndex()] for name, box in self._boxes.items()}
        for name, edit in self._edits.items():
            text = edit.text().strip()
            facts[name] = parse(text.removesuffix("%"), KINDS[name], system).measure.si if name in KINDS else text
        return facts
