"""What every stage's decisions have in common: cards in a column, bound to the job, refreshed on each change."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QLabel, QScrollArea, QVBoxLayout, QWidget

from ribpatch.ui.widgets.card import Card
from ribpatch.ui.widgets.entry import Choice, Field

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.fields import Path
    from ribpatch.core.figure import Figure
    from ribpatch.core.notice import Notice
    from ribpatch.core.plan import Plan
    from ribpatch.ui.session import Change, Session
    from ribpatch.ui.shell import Shell


class Stage(QScrollArea):
    """The decisions of one stage. ``asked`` carries a figure whose working is wanted."""

    asked = Signal(object)
    name = ""
    title = ""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        body = QWidget()
        self._column = QVBoxLayout(body)
        self._column.setContentsMargins(4, 2, 8, 8)
        self._column.setSpacing(8)
        self.heading = QLabel(self.title)
        self.heading.setObjectName("title")
        self._column.addWidget(self.heading)
        self.cards: list[Card] = []
        self._bound: list[Field | Choice] = []
        self.build()
        self._column.addStretch(1)
        self.setWidget(body)

    # ---- building ----

    def connect_to(self, window: Shell) -> None:
        """Connect what this stage asks of the window; most ask nothing."""

    def build(self) -> None:
        """Make the cards; each stage does its own."""
        raise NotImplementedError

    def card(self, title: str, about: tuple[str, ...] = (), main: str = "") -> Card:
        """A new card at the end of the column."""
        made = Card(title, about, main)
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
        made = Field(self.session, self.zone_path(*parts), label)
        self.bind(card, made)
        return made

    def choice(self, card: Card, choices: tuple[tuple[str, object], ...], *parts: str, label: str = "") -> Choice:
        """A choice of the zone."""
        made = Choice(self.session, self.zone_path(*parts), choices, label)
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
        self.show_plan(plan)

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
