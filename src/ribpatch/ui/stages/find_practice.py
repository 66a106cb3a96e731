"""The practice panel: simulated instruments to read it with, and the score when its truth is revealed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.edits import draw_extent
from ribpatch.core.errors import Fault
from ribpatch.core.job import HiddenPatch, Zone
from ribpatch.core.numerals import fixed
from ribpatch.core.readings import Plug, State
from ribpatch.core.record import evolve
from ribpatch.core.survey.panel import DAMAGE
from ribpatch.core.survey_edits import set_practice
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, System, shown
from ribpatch.ui.brush import NONE, SIMULATED, Brush

if TYPE_CHECKING:
    from ribpatch.core.survey.practice import Result
    from ribpatch.core.zone_plan import ZonePlan
    from ribpatch.ui.session import Session
    from ribpatch.ui.settings import Settings


def result_words(result: Result, system: System) -> str:
    """A result in a few lines."""
    missed = shown(result.missed, Kind.AREA, system)
    cut = shown(result.cut, Kind.AREA, system)
    there, unsurveyed = (shown(area, Kind.AREA, system) for area in (result.missed_there, result.unsurveyed))
    ears = result.ears
    lines = [
        f"<b>{fixed(result.points, 0)} points.</b> Missed {missed} of {shown(result.damaged, Kind.AREA, system)} bad, "
        f"of it {there} in the {unsurveyed} that the survey says is not surveyed; cut {cut} of "
        f"{shown(result.sound, Kind.AREA, system)} sound; {counted(result.readings, 'reading', 'readings')}, "
        f"{counted(result.plugs, 'plug', 'plugs')}.",
    ]
    if ears.right + ears.wrong + ears.untold:
        lines.append(
            f"Recorded taps: {ears.right} told rightly, {ears.wrong} wrongly, {ears.untold} not told (between two, or "
            "unlike any)."
        )
    lines += [
        *result.advice,
        "On the plan the truth is outlined: solid rotted, dotted wet, dash and dot disbonded.",
    ]
    return "<br>".join(lines)


class PracticePanel(QWidget):
    """``picked`` carries a Brush of a simulated instrument; ``new_wanted`` nothing."""

    picked = Signal(object)
    new_wanted = Signal()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.settings: Settings | None = None
        self.buttons: dict[str, QPushButton] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.words = QLabel("")
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        label = QLabel("Simulated instruments: choose one, then click on the plan")
        label.setObjectName("soft")
        column.addWidget(label)
        grid = QGridLayout()
        grid.setSpacing(4)
        for index, (kind, name) in enumerate(SIMULATED.items()):
            button = QPushButton(name)
            button.setObjectName("plain")
            button.setCheckable(True)
            button.setToolTip(f"Each click on the plan reads the panel with the simulated {name}")
            button.clicked.connect(lambda _checked=False, k=kind: self._pressed(k))
            self.buttons[kind] = button
            grid.addWidget(button, index // 2, index % 2)
        column.addLayout(grid)
        row = QHBoxLayout()
        self.reveal = QPushButton("Reveal and score")
        self.reveal.setToolTip("Show the hidden truth and score the extent as it stands")
        self.reveal.clicked.connect(lambda: self._reveal())
        self.again = QPushButton("New panel")
        self.again.setToolTip("Begin another practice panel with a new hidden truth")
        self.again.clicked.connect(lambda: self.new_wanted.emit())
        row.addWidget(self.reveal)
        row.addWidget(self.again)
        column.addLayout(row)
        self.hide_label = QLabel("Or set one for somebody else: draw an extent, then hide it as")
        self.hide_label.setObjectName("soft")
        self.hide_label.setWordWrap(True)
        column.addWidget(self.hide_label)
        hidden = QHBoxLayout()
        self.hides: dict[str, QPushButton] = {}
        for state in DAMAGE:
            button = QPushButton(state)
            button.setObjectName("plain")
            button.setToolTip(f"Take the drawn extent as hidden {state} area of this panel")
            button.clicked.connect(lambda _checked=False, s=state: self._hide(s))
            self.hides[state] = button
            hidden.addWidget(button)
        column.addLayout(hidden)
        self.result = QLabel("")
        self.result.setWordWrap(True)
        column.addWidget(self.result)

    def _pressed(self, kind: str) -> None:
        for other, button in self.buttons.items():
            if other != kind:
                button.setChecked(False)
        self.picked.emit(Brush(kind) if self.buttons[kind].isChecked() else NONE)

    def release(self) -> None:
        """No instrument in hand."""
        for button in self.buttons.values():
            button.setChecked(False)

    def _reveal(self) -> None:
        zone = self._session.zone
        if zone is not None and zone.practice is not None:
            self.release()
            self.picked.emit(NONE)
            if self._session.apply(set_practice(zone.id, evolve(zone.practice, revealed=True), "reveal the truth")):
                self._keep_score(zone)

    def _keep_score(self, zone: Zone) -> None:
        made = self._session.plan.zone(zone.id)
        if self.settings is not None and made.practice_result is not None:
            self.settings.add_score(made.practice_result.points)
            self.show_zone(made.zone, made)

    def _hide(self, state: State) -> None:
        zone = self._session.zone
        if zone is None or zone.practice is None:
            return
        rings = zone.survey.drawn or ()
        if not rings:
            self._session.told.emit("Draw the extent first (Draw it myself), then hide it.")
            return
        patches = tuple(HiddenPatch(state=state, ring=ring) for ring in rings)
        practice = evolve(zone.practice, drawn=(*zone.practice.drawn, *patches))
        try:
            self._session.try_apply(set_practice(zone.id, practice, f"hide {state} area"))
            self._session.try_apply(draw_extent(zone.id, None))
        except Fault as fault:
            self._session.told.emit(fault.sentence)

    def show_zone(self, zone: Zone, made: ZonePlan) -> None:
        """Show a practice zone: what is left to use, or how it went."""
        practice = zone.practice
        assert practice is not None
        used = sum(isinstance(r, Plug) for r in zone.survey.readings)
        untouched = not zone.survey.readings
        self.words.setText(
            "A simulated panel with a hidden truth: find the wet, rotted and disbonded places. "
            f"{practice.plugs - used} of "
            f"{practice.plugs} plugs left. Read dry places first and mark them with S. Real panels differ."
        )
        for button in self.buttons.values():
            button.setEnabled(not practice.revealed)
        self.reveal.setEnabled(not practice.revealed and bool(zone.survey.readings))
        for widget in (self.hide_label, *self.hides.values()):
            widget.setVisible(untouched and not practice.revealed)
        self.result.setVisible(practice.revealed)
        if practice.revealed and made.practice_result is not None:
            best = self.settings.best_scores if self.settings is not None else []
            kept = f"<br>Best so far: {', '.join(f'{fixed(p, 0)}' for p in best)}." if best else ""
            self.result.setText(result_words(made.practice_result, self._session.system) + kept)
