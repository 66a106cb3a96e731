"""What is looked at and how: zones, pages, units, theme, figures, help. Each action is a method of its id."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.units import SYSTEMS
from ribpatch.ui.scaling import SIZES, resize_all, set_factor
from ribpatch.ui.theme import apply_theme

if TYPE_CHECKING:
    from ribpatch.core.units import System
    from ribpatch.ui.window import Window


class ViewActions:
    """What is looked at and how: zones, pages, units, theme, figures, help."""

    def __init__(self, window: Window) -> None:
        self._w = window

    def next_zone(self) -> None:
        """Go to the next zone."""
        session = self._w.session
        ids = [z.id for z in session.job.zones]
        session.go(ids[(ids.index(session.zone_id) + 1) % len(ids)])

    def next_page(self) -> None:
        """Show the next picture or table below the plan."""
        getattr(self._w.showing.centre.currentWidget(), "below", self._w.zone_bench.below).next_page()

    def whole_page(self) -> None:
        """Lay the page below over the whole bench, or give it only its share; turn to it where it has no plan above."""
        below = getattr(self._w.showing.centre.currentWidget(), "below", None)
        large = getattr(below, "large", None)
        if below is None or large is None:
            return
        if large.isVisibleTo(below):
            large.toggle()
        else:
            below.page_wanted.emit()

    def units(self) -> None:
        """Switch units."""
        session = self._w.session
        self._use(self._w.settings.us_system if session.system == "metric" else "metric")

    def fractions(self) -> None:
        """Sizes in US units: to a sixteenth of an inch, to a thirty-second, decimal, and round again."""
        settings = self._w.settings
        here = self._w.session.system
        ways = [s for s in SYSTEMS if s != "metric"]
        settings.us_system = ways[(ways.index(here) + 1) % len(ways)] if here in ways else settings.us_system
        self._use(settings.us_system)

    def _use(self, system: System) -> None:
        self._w.session.set_system(system)
        self._w.settings.system = system

    def theme(self) -> None:
        """Switch between light and dark."""
        settings = self._w.settings
        settings.theme = "dark" if settings.theme == "light" else "light"
        self._look()

    def _look(self) -> None:
        """Show all of it as the settings say."""
        from PySide6.QtWidgets import QApplication

        settings = self._w.settings
        set_factor(settings.factor)
        app = QApplication.instance()
        if isinstance(app, QApplication):
            apply_theme(app, settings.look)
        resize_all()
        self._w.use_theme(settings.look)
        if settings.shed:
            from ribpatch.ui.touch import touchable

            touchable(self._w)
        if self._w.at_work:
            self._w.work.fit()

    def turn(self) -> None:
        """Turn from the plan to the choices, or back."""
        if self._w.at_work:
            self._w.work.parts.turn()

    def shed(self) -> None:
        """Shed mode: everything larger, of high contrast, with large targets; and back."""
        self._w.settings.shed = not self._w.settings.shed
        self._look()

    def text_larger(self) -> None:
        """Larger text, and all that goes with it."""
        self._text(1)

    def text_smaller(self) -> None:
        """Smaller text."""
        self._text(-1)

    def text_usual(self) -> None:
        """Text of the usual size."""
        self._w.settings.text = 1.0
        self._look()

    def _text(self, by: int) -> None:
        settings = self._w.settings
        if settings.shed:
            self._w.session.told.emit("Shed mode has its own size of text: leave it first (Ctrl+Shift+H).")
            return
        place = SIZES.index(settings.text) + by
        settings.text = SIZES[min(max(place, 0), len(SIZES) - 1)]
        self._look()

    def cards(self) -> None:
        """Unfold every decision card, or fold all but those that matter first."""
        settings = self._w.settings
        settings.unfolded = not settings.unfolded
        if self._w.session.is_open:
            self._w.showing.unfold_all(settings.unfolded)

    def fit(self) -> None:
        """Show the whole drawing."""
        self._w.zone_bench.plan_canvas.fit()
        self._w.zone_bench.section_canvas.fit()

    def find_figure(self) -> None:
        """Find any figure of the job by name."""
        session = self._w.session
        self._w.work.working.close_sheet()
        self._w.work.finder.look(session.plan, session.zone_id, session.system)

    def manual(self) -> None:
        """Open the manual at the page of the rung, or of first steps."""
        self._w.manual.show_page(self._w.session.stage if self._w.at_work else "first-steps")

    def keys(self) -> None:
        """Show the keys."""
        self._w.manual.show_page("keys")

    def glossary(self) -> None:
        """Show the words of the trade."""
        self._w.manual.show_page("glossary")

    def about(self) -> None:
        """Say what this is and its limits."""
        self._w.manual.show_page("about")
