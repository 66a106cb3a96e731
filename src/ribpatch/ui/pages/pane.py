"""The lower half of the bench: a row of names over one page at a time; the cut-through is always the first."""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from ribpatch.stages import STAGES, Stage
from ribpatch.ui.scaling import sized
from ribpatch.ui.widgets.button_rows import ButtonRows
from ribpatch.ui.widgets.scrolled import Scrolled

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.ui.pages.page import Page
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Tasks

CUT = "cut-through"
LEAST = 110  # pixels


class LowerPane(QWidget):
    """Shows the cut-through or a page. ``asked`` carries a figure, ``said`` words for the echo line."""

    asked = Signal(object)
    said = Signal(str)
    whole = Signal(bool)  # whether what is below is to take the whole bench
    section_wanted = Signal()  # the cut-through has come into view
    page_wanted = Signal()  # a page was asked for, from wherever

    def __init__(
        self, session: Session, tasks: Tasks, section: QWidget, first: str = CUT, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._session, self._tasks, self.first = session, tasks, first
        self._chosen: dict[str, str] = {}
        self.pages: dict[str, Page] = {}
        self._rooms: dict[str, QWidget] = {}  # what each page stands in
        self.theme = "light"
        self._stack = QStackedWidget()
        self._stack.addWidget(section)
        sized(self._stack, least_height=LEAST)  # a page that wants more scrolls: the plan above keeps its size
        self._section = section
        self._bar = ButtonRows()
        self._stage: Stage | None = None
        self.large = QPushButton("Whole bench")
        self.large.setObjectName("plain")
        self.large.setCheckable(True)
        self.large.setToolTip("Lay this page over the whole bench, and back (Ctrl+Shift+PgDown)")
        self.large.toggled.connect(self.whole)
        self._offers_whole = True
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(3)
        bar = QHBoxLayout()
        bar.addWidget(self._bar, 1)
        bar.addWidget(self.large, 0, Qt.AlignmentFlag.AlignTop)
        layout.addLayout(bar)
        layout.addWidget(self._stack, 1)

    def forget(self) -> None:
        """Another job: what the pages keep of the one before goes with them."""
        for room in self._rooms.values():
            self._stack.removeWidget(room)
            room.deleteLater()
        self.pages, self._rooms = {}, {}
        self._chosen = {}

    @property
    def shown(self) -> str:
        """The name of the page shown at this stage."""
        return self._chosen.get(self._stage.id if self._stage else "", self.first)

    @property
    def shows_section(self) -> bool:
        """Whether the cut-through is what is shown."""
        return self.shown == self.first or self._session.zone is None

    @property
    def names(self) -> tuple[str, ...]:
        """The pages of this stage."""
        return tuple(self._bar.buttons)

    def button(self, name: str) -> QPushButton:
        """The button of a page of this stage."""
        return self._bar.buttons[name]

    def show_page(self, name: str) -> None:
        """Show a page of this stage."""
        if self._stage is not None:
            self._chosen[self._stage.id] = name
        self.show_plan(self._session.plan)
        self.page_wanted.emit()
        if name == self.first:
            self.section_wanted.emit()

    def take_focus(self) -> None:
        """Turn the keys to the name of the page shown; to what is shown where there is no choice."""
        self._bar.buttons.get(self.shown, self._section).setFocus()

    def next_page(self) -> None:
        """Go to the page after this one, round and round."""
        names = list(self._bar.buttons)
        if names:
            self.show_page(names[(names.index(self.shown) + 1) % len(names)])

    def turn_to(self, stage: Stage) -> None:
        """Offer the pages of a stage."""
        if stage is not self._stage:
            self._stage = stage
            self._make_buttons(stage)

    def _make_buttons(self, stage: Stage) -> None:
        pages = [page.name for page in stage.below]
        self._bar.setVisible(bool(pages))
        self.large.setVisible(bool(pages) and self._offers_whole)
        if not pages:
            self.large.setChecked(False)
        self._bar.set_names((self.first, *pages) if pages else (), self.show_page)

    def offer_whole(self, offered: bool) -> None:
        """Whether there is a plan above that a page could take the place of."""
        self._offers_whole = offered
        self.large.setVisible(offered and bool(self._bar.buttons))

    def show_plan(self, plan: Plan) -> None:
        """Show the page turned to, for the zone worked on."""
        zone = self._session.zone
        if self.shown in self._bar.buttons:
            self._bar.buttons[self.shown].setChecked(True)
        if zone is None or self.shown == self.first:
            self._stack.setCurrentWidget(self._section)
            return
        page = self._page(self.shown)
        page.show_zone(zone, plan.zone(zone.id), plan)
        self._stack.setCurrentWidget(self._rooms[self.shown])

    def _page(self, name: str) -> Page:
        if name not in self.pages:
            module = next(p.module for s in STAGES for p in s.below if p.name == name)
            room = Scrolled(self._stack)
            made: Page = import_module(f"ribpatch.ui.pages.{module}").PAGE(self._session, self._tasks, room.viewport())
            room.hold(made)
            made.asked.connect(self.asked)
            made.said.connect(self.said)
            made.set_theme(self.theme)
            made.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            self.pages[name], self._rooms[name] = made, room
            self._stack.addWidget(self._rooms[name])
        return self.pages[name]

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        self.theme = theme
        for page in self.pages.values():
            page.set_theme(theme)
