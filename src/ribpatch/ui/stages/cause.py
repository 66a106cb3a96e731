"""Cause: questions by what they settle, what the survey answers by itself, where else to look."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.diagnosis.from_survey import Seen
from ribpatch.core.survey_edits import Found, Said, answer, look_at
from ribpatch.ui.stages.stage import Stage
from ribpatch.ui.widgets.combo import Combo, show_items
from ribpatch.ui.widgets.emptying import clear_layout

if TYPE_CHECKING:
    from ribpatch.core.diagnosis.diagnose import NextQuestion
    from ribpatch.core.diagnosis.zone import Place
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.ui.shell import Shell
    from ribpatch.ui.widgets.card import Card

QUESTIONS = 4
COSTS = {"minute": "a minute", "hole": "a hole", "day": "a day or more"}
ANSWERS: tuple[tuple[Said, str], ...] = (("yes", "yes"), ("no", "no"), ("unknown", "can't tell"))
FOUND: tuple[tuple[Found, str], ...] = (("sound", "sound"), ("bad", "bad"), ("not reachable", "can't reach"))


class CauseStage(Stage):
    """The decisions of the Cause rung."""

    name = "cause"
    title = "Why it failed"
    sheet_wanted = Signal()

    def connect_to(self, window: Shell) -> None:
        self.sheet_wanted.connect(lambda: window.actions_table.trigger("findings_sheet"))

    def build(self) -> None:
        self._shown: tuple[object, ...] = ()
        self.buttons: dict[tuple[str, str | None], QPushButton] = {}
        self._questions = self._listed("Best next test")
        card = self._questions[0]
        row = QHBoxLayout()
        self.every = Combo()
        self.every.setAccessibleName("any question")
        self.every.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.every.setMinimumContentsLength(20)
        row.addWidget(self.every, 1)
        for said, text in ANSWERS[:2]:
            button = QPushButton(text)
            button.setObjectName("plain")
            button.setToolTip(f"Answer the question chosen: {text}")
            button.setAccessibleName(f"the question chosen: {text}")
            button.clicked.connect(lambda _checked=False, s=said: self._say(str(self.every.currentData() or ""), s))
            self.buttons["any", said] = button
            row.addWidget(button)
        card.add(row)
        self._seen = self._listed("Found so far")
        self._places = self._listed("Where else to look")
        paper = self.card("Paper")
        self.sheet = QPushButton("Findings sheet of this zone…")
        self.sheet.setToolTip("One page: map, readings, causes, what was not inspected, what to do first")
        self.sheet.clicked.connect(lambda: self.sheet_wanted.emit())
        paper.add(self.sheet)

    def _listed(self, title: str) -> tuple[Card, QVBoxLayout]:
        card = self.card(title, (title.rsplit(maxsplit=1)[-1].lower(),))
        rows = QVBoxLayout()
        rows.setSpacing(6)
        card.add(rows)
        return card, rows

    # ---- showing ----

    def show_plan(self, plan: Plan) -> None:
        zone = self.session.zone
        self.heading.setText(f"Cause: {zone.name}" if zone else "Cause: no zone yet")
        self.sheet.setEnabled(zone is not None)
        if zone is None:
            return
        own = plan.zone(zone.id)
        made, seen, places = own.diagnosis, own.said, plan.places_to_look(zone)
        looks = (zone.id, made, seen, places, zone.diagnosis)
        if looks == self._shown:
            return
        self._shown = looks
        self.buttons = {k: b for k, b in self.buttons.items() if k[0] == "any"}
        for _, rows in (self._questions, self._seen, self._places):
            clear_layout(rows)
        cannot = {a.finding for a in zone.diagnosis.answers if a.said == "unknown"}
        open_questions = tuple(q for q in made.questions if q.finding.id not in cannot)
        for question in open_questions[:QUESTIONS]:
            self._questions[1].addWidget(self._question(question))
        self._fill_every(open_questions)
        names = {card.id: card for card in plan.shelf.findings}
        for one in seen:
            self._seen[1].addWidget(self._finding(one, names[one.finding].name))
        for other in zone.diagnosis.answers:
            if other.said == "unknown" and other.finding in names:
                self._seen[1].addWidget(
                    self._finding(Seen(other.finding, False, "you cannot tell"), names[other.finding].name)
                )
        if not seen and not zone.diagnosis.answers:
            self._seen[1].addWidget(_soft("Nothing yet. Readings in Find answer some questions by themselves."))
        for place in places:
            self._places[1].addWidget(self._place(zone, place))
        if not places:
            self._places[1].addWidget(_soft("No cause is likely enough yet to say where it may have spread."))

    def _question(self, question: NextQuestion) -> QWidget:
        box, grid = _grid()
        words = QLabel(f"{question.finding.ask}")
        words.setWordWrap(True)
        words.setToolTip(question.finding.how)
        grid.addWidget(words, 0, 0, 1, 4)
        grid.addWidget(_soft(f"should settle {question.share:.0%}; costs {COSTS[question.finding.cost]}"), 1, 0)
        for column, (said, text) in enumerate(ANSWERS, 1):
            grid.addWidget(self._answer(question.finding.id, said, text, question.finding.ask), 1, column)
        return box

    def _answer(self, finding: str, said: Said | None, text: str, about: str) -> QPushButton:
        button = QPushButton(text)
        button.setAccessibleName(f"{about} {text}")
        button.setObjectName("plain")
        button.clicked.connect(lambda: self._say(finding, said))
        self.buttons[finding, said] = button
        return button

    def _finding(self, seen: Seen, name: str) -> QWidget:
        box, grid = _grid()
        own = seen.why.startswith("you ")
        state = "?" if seen.why == "you cannot tell" else "yes" if seen.there else "no"
        words = QLabel(f"<b>{state}</b> &nbsp;{name}")
        words.setWordWrap(True)
        grid.addWidget(words, 0, 0, 1, 4)
        grid.addWidget(_soft(seen.why if own else f"from the survey: {seen.why}"), 1, 0)
        choices: list[tuple[Said | None, str]] = [(None, "take back")] if own else [c for c in ANSWERS if c[0] != state]
        for column, (said, text) in enumerate(choices, 1):
            grid.addWidget(self._answer(seen.finding, said, text, f"{name}:"), 1, column)
        return box

    def _place(self, zone: Zone, place: Place) -> QWidget:
        box, grid = _grid()
        looked = next((p for p in zone.diagnosis.looked if p.place == place.id), None)
        words = QLabel(f"{'✓ ' if looked else '☐ '}{place.where}" + (f": <b>{looked.found}</b>" if looked else ""))
        words.setWordWrap(True)
        words.setToolTip(place.why)
        grid.addWidget(words, 0, 0, 1, 4)
        grid.addWidget(_soft(place.why), 1, 0)
        rows: tuple[tuple[Found | None, str], ...] = ((None, "take back"),) if looked else FOUND
        for column, (found, text) in enumerate(rows, 1):
            button = QPushButton(text)
            button.setAccessibleName(f"{place.where}: {text}")
            button.setObjectName("plain")
            button.clicked.connect(lambda _checked=False, p=place.id, f=found: self._looked(p, f))
            self.buttons[place.id, found] = button
            grid.addWidget(button, 1, column)
        return box

    def _fill_every(self, questions: tuple[NextQuestion, ...]) -> None:
        show_items(self.every, [(q.finding.id, q.finding.ask) for q in questions])

    # ---- answering ----

    def _say(self, finding: str, said: Said | None) -> None:
        zone = self.session.zone
        if zone is not None and finding:
            self.session.apply(answer(zone.id, finding, said))

    def _looked(self, place: str, found: Found | None) -> None:
        zone = self.session.zone
        if zone is not None:
            self.session.apply(look_at(zone.id, place, found))


def _grid() -> tuple[QWidget, QGridLayout]:
    box = QWidget()
    grid = QGridLayout(box)
    grid.setContentsMargins(0, 0, 0, 0)
    grid.setVerticalSpacing(1)
    grid.setColumnStretch(0, 1)
    return box, grid


def _soft(text: str) -> QLabel:
    label = QLabel(text)
    label.setObjectName("soft")
    label.setWordWrap(True)
    return label


STAGE = CauseStage
