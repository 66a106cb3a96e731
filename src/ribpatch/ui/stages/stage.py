"""What every stage's decisions have in common: cards in a column, bound to the job, refreshed on each change."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QObject, QPoint, Qt, QTimer, Signal
from PySide6.QtWidgets import QApplication, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget
from shiboken6 import isValid

from ribpatch.core.edits import set_done
from ribpatch.ui.scaling import px
from ribpatch.ui.widgets.card import Card
from ribpatch.ui.widgets.elided import Elided
from ribpatch.ui.widgets.entry import Choice, Field
from ribpatch.ui.widgets.warning_line import WarningLine

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.fields import Path
    from ribpatch.core.figure import Figure
    from ribpatch.core.job import StageId
    from ribpatch.core.notice import Notice
    from ribpatch.core.plan import Plan
    from ribpatch.ui.session import Change, Session
    from ribpatch.ui.shell import Shell

UNDER = 60  # pixels under a line that stay in view with it: what is said of it


class Stage(QScrollArea):
    """The decisions of one stage. ``asked`` carries a figure whose working is wanted."""

    asked = Signal(object)
    name: StageId = "boat"
    title = ""
    first: tuple[str, ...] = ()  # cards that are not folded at first; empty: none is

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setWidgetResizable(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # Tab brings what it stops at into view
        self.setAccessibleName(f"choices of {self.title}")
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        # Each part is made where it stays: what is moved with all that it holds is styled anew each time.
        self._body = QWidget()
        self.setWidget(self._body)
        self._column = QVBoxLayout(self._body)
        self._column.setContentsMargins(4, 2, 8, 8)
        self._column.setSpacing(8)
        self.heading = Elided(self.title)
        self.heading.setObjectName("title")
        self.done = QPushButton("Done for now")
        self.done.setObjectName("plain")
        self.done.setCheckable(True)
        self.done.setToolTip("This stage of this zone is done for now; the way strip goes on to the next")
        self.done.clicked.connect(lambda on: self._set_done(on))
        top = QHBoxLayout()
        top.addWidget(self.heading, 1)
        top.addWidget(self.done)
        self._column.addLayout(top)
        self.warnings = WarningLine()
        self.warnings.wanted.connect(self._go_to)
        self._column.addWidget(self.warnings)
        self.cards: list[Card] = []
        self._bound: list[Field | Choice] = []
        self.build()
        self._column.addStretch(1)
        self.unfold_all(False)

    # ---- building ----

    def connect_to(self, window: Shell) -> None:
        """Connect what this stage asks of the window; most ask nothing."""

    def build(self) -> None:
        """Make the cards; each stage does its own."""
        raise NotImplementedError

    def _set_done(self, done: bool) -> None:
        if self.session.zone is not None:
            self.session.apply(set_done(self.session.zone, self.name, done))

    def card(self, title: str, about: tuple[str, ...] = (), main: str = "") -> Card:
        """A new card at the end of the column."""
        made = Card(title, about, main, self._body, folds=True)
        made.turned.connect(lambda _folded: self._say_lines(self.session.plan) if self.session.is_open else None)
        made.asked.connect(self.asked)
        self.cards.append(made)
        self._column.addWidget(made)
        return made

    def bind(self, card: Card, item: Field | Choice) -> None:
        """Put a bound field into a card."""
        card.add(item)
        self._bound.append(item)

    def zone_path(self, *parts: str) -> Callable[[], Path | None]:
        """The place of a field in the zone worked on."""

        def path() -> Path | None:
            zone = self.session.zone
            return ("zones", zone.id, *parts) if zone else None

        return path

    def field(self, card: Card, *parts: str, label: str = "") -> Field:
        """A field of the zone."""
        made = Field(self.session, self.zone_path(*parts), label, card.body)
        self.bind(card, made)
        return made

    def choice(self, card: Card, choices: tuple[tuple[str, object], ...], *parts: str, label: str = "") -> Choice:
        """A choice of the zone."""
        made = Choice(self.session, self.zone_path(*parts), choices, label, card.body)
        self.bind(card, made)
        return made

    # ---- showing ----

    def refresh(self, change: Change) -> None:
        """Show the job as it is now; makes no edit."""
        plan = change.new
        for item in self._bound:
            item.show_job()
        notices = self.notices(plan)
        for card in self.cards:
            card.show_figures(lambda key: self.figure(plan, key), self.session.system)
            card.show_notices(notices)
        self.warnings.show_notices(notices)
        zone = self.session.zone
        self.done.setVisible(zone is not None)
        self.done.setChecked(zone is not None and self.name in zone.done)
        self.show_plan(plan)
        self._say_lines(plan)

    def _say_lines(self, plan: Plan) -> None:
        """What is chosen in the cards that are folded."""
        from ribpatch.core.card_words import card_words

        made = next((z for z in plan.zones if z.zone.id == self.session.zone_id), None)
        for card in self.cards:
            if card.folded:
                card.say(card_words(self.name, card.title, plan, made))

    def unfold_all(self, unfold: bool) -> None:
        """Unfold every card, or all but those that matter first."""
        for card in self.cards:
            card.fold(not unfold and bool(self.first) and card.title not in self.first)

    def show_card(self, title: str) -> Card | None:
        """Unfold a card and bring it into view."""
        card = next((c for c in self.cards if c.title == title), None)
        if card is not None:
            card.fold(False)
            QTimer.singleShot(0, self, lambda: self._bring(card))
            card.heading.setFocus()
        return card

    def _bring(self, card: Card) -> None:
        """Bring a card into view; of one that is higher than the room, what has the keys."""
        self.ensureWidgetVisible(card, 0, 8)
        keys = QApplication.focusWidget()
        if keys is not None and card.isAncestorOf(keys):
            self._keep_in_view(keys)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Where words appear, the line that has the keys stays in view, and what is said under it."""
        if event.type() == QEvent.Type.LayoutRequest and watched is self._body:
            keys = QApplication.focusWidget()
            if keys is not None and self._body.isAncestorOf(keys) and not keys.visibleRegion().isEmpty():
                QTimer.singleShot(0, self, lambda: self._keep_in_view(keys))
        return super().eventFilter(watched, event)

    def _keep_in_view(self, keys: QWidget) -> None:
        if isValid(keys) and keys.hasFocus():
            top = keys.mapTo(self._body, QPoint(0, 0)).y()
            for y in (top + keys.height() + px(UNDER), top):
                self.ensureVisible(0, y, 0, 0)

    def _go_to(self, notice: Notice) -> None:
        about = notice.about.partition(".")[0]  # some cards list their warnings themselves
        card = next((c for c in self.cards if notice in c.notices or about in c.about), None)
        if card is not None:
            self.reveal(card)
            self.show_card(card.title)
        else:
            self.session.told.emit(f"{notice.text} {notice.clears}")

    def begin_here(self) -> None:
        """Turn the keys to what is still missing here; most leave them on the plan."""

    def reveal(self, card: Card) -> None:
        """Turn to the part of the stage that a card stands in; most have one part."""

    def notices(self, plan: Plan) -> tuple[Notice, ...]:
        """The warnings that stand in its cards."""
        return tuple(n for n in plan.notices_of(self.session.zone_id) if n.stage == self.name)

    def figure(self, plan: Plan, key: str) -> Figure | None:
        """The figure that a card shows under a key: the zone's, else the job's."""
        return plan.shown_in(self.session.zone_id, key)

    def show_plan(self, plan: Plan) -> None:
        """Show what the cards' own widgets show."""

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours in what a stage paints itself; most paint nothing."""

    def leave_zone(self) -> None:
        """Drop half-typed text before another zone is shown."""
        for item in self._bound:
            if isinstance(item, Field):
                item.forget()
