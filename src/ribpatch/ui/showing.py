"""Shows a plan in the parts of the window in two steps: the picture at once, all else when it has been painted.

Figures, warnings, decisions and totals are worked out in the second step; edits that come faster than it share one.
Until then the ledger shows that it is being worked out.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Protocol

from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtWidgets import QApplication, QStackedWidget, QWidget

from ribpatch.stages import stage_of
from ribpatch.ui.scaling import sized
from ribpatch.ui.session import Change, Session

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.ui.bench.zone_bench import ZoneBench
    from ribpatch.ui.frame.boat_strip import BoatStrip
    from ribpatch.ui.frame.ladder import Ladder
    from ribpatch.ui.frame.ledger import Ledger
    from ribpatch.ui.frame.way_strip import WayStrip
    from ribpatch.ui.settings import Settings
    from ribpatch.ui.stages.stage import Stage

UNPAINTED = 400  # ms after which the second step does not wait for a picture any longer
DRAGGING = 100  # ms between two second steps while something is dragged
LEAST_COLUMN = 392  # pixels of the decisions
AHEAD = 10  # ms between two zones that are worked out ahead


class Bench(Protocol):
    """What stands in the centre at a stage that does not show the plan of the zone. ``asked`` carries a figure
    or its id.
    """

    asked: Signal

    def show_plan(self, plan: Plan, system: System) -> None:
        """Show it; makes no edit."""

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""


class Showing(QObject):
    """Which stage and zone is shown, and when. ``asked`` carries a figure, ``asked_by_id`` its id, ``refreshed`` a
    Plan, ``bench_made`` a bench that was shown for the first time.
    """

    asked = Signal(object)
    asked_by_id = Signal(object)
    refreshed = Signal(object)
    bench_made = Signal(object)

    def __init__(
        self,
        session: Session,
        settings: Settings,
        zone_bench: ZoneBench,
        made: Callable[[Stage], None],
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self._session, self._settings, self.zone_bench, self._made = session, settings, zone_bench, made
        self.stages: dict[str, Stage] = {}
        self.benches: dict[str, QWidget] = {}
        self.centre = QStackedWidget(zone_bench.parentWidget())
        self.centre.addWidget(zone_bench)
        self.decisions = QStackedWidget()
        sized(self.decisions, least_width=LEAST_COLUMN)
        self._stale: set[str] = set()
        self._share_room(zone_bench)
        self._zone = ""
        self._pending: Change | None = None
        self._started = False
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.timeout.connect(lambda: self.finish())
        zone_bench.plan_canvas.painted.connect(lambda: self._painted())
        self._ahead = QTimer(self)
        self._ahead.setInterval(AHEAD)
        self._ahead.timeout.connect(lambda: self._work_ahead())
        self.at_once = False  # show everything in one step

    def frame(self, strip: BoatStrip, way: WayStrip, ladder: Ladder, ledger: Ledger) -> None:
        """The parts round the centre that show the plan as well."""
        self._strip, self._way, self._ladder, self._ledger = strip, way, ladder, ledger

    def change(self, change: Change) -> None:
        """Show a job that has changed."""
        first = self._pending.old if self._pending is not None else change.old
        self._pending = Change(first, change.new)
        self._stale = set(self.stages)
        self._begin()

    def look(self) -> None:
        """Show another zone or stage of the same job."""
        plan = self._session.plan
        self._pending = Change(self._pending.old if self._pending is not None else plan, plan)
        self._stale = set(self.stages)
        self._begin()

    def _begin(self) -> None:
        self._picture(self._session.plan)
        if self.at_once:
            self.finish()
            return
        self._ledger.wait()
        if not self._rest.isActive() or not self._dragging():
            self._started = False
            # What is not in sight paints nothing that could be waited for.
            self._rest.start(UNPAINTED if self.zone_bench.plan_canvas.isVisible() else 0)

    def hurry(self) -> None:
        """What was waited for has gone out of sight: show the rest now."""
        if self._pending is not None:
            self._rest.start(0)

    def _dragging(self) -> bool:
        return QApplication.mouseButtons() != QApplication.mouseButtons().NoButton

    def _painted(self) -> None:
        if self._pending is not None and not self._started:
            self._started = True
            self._rest.start(DRAGGING if self._dragging() else 0)

    def _picture(self, plan: Plan) -> None:
        zone = self._session.zone_id
        if zone != self._zone:
            self._zone = zone
            for stage in self.stages.values():
                stage.leave_zone()
        here = stage_of(self._session.stage)
        if here.bench:
            bench = self.bench(here.bench)
            self._turn_to(bench)
            bench.show_plan(plan, self._session.system)  # type: ignore[attr-defined]  # every bench is a Bench
        else:
            self._turn_to(self.zone_bench)
            self.zone_bench.show_plan(plan)

    def _turn_to(self, bench: QWidget) -> None:
        last = self.centre.currentWidget()
        if last is not bench:
            rest = getattr(last, "rest", None)  # only benches that work beside the window have it
            if rest is not None:
                rest()
            self.centre.setCurrentWidget(bench)

    def _show_strip(self, plan: Plan) -> None:
        from ribpatch.core.diagnosis.zone import look_marks

        here = self._session.zone if stage_of(self._session.stage).looks else None
        looks = look_marks(plan.job, here, plan.shelf) if here else ()
        self._strip.show_plan(plan, self._session.zone_id, self._session.system, looks)

    def _work_ahead(self) -> None:
        """While nothing is asked: what the strip shows of the zones that were not looked at yet, one at a time."""
        plan = self._session.plan
        unknown = next((z for z in plan.zones if not z.has_patch), None)
        if unknown is not None:
            _ = unknown.patch
        else:
            self._ahead.stop()
            self._show_strip(plan)

    def finish(self) -> None:
        """Show what is still to be shown of the last changes."""
        change, self._pending = self._pending, None
        if change is None:
            return
        self._rest.stop()
        plan, system, zone = change.new, self._session.system, self._session.zone_id
        name = self._session.stage
        self._show_strip(plan)
        self._ahead.start()
        self._ladder.show_plan(plan, zone, name)
        self._way.show_plan(plan, zone)
        stage = self.stage(name)
        self.decisions.setCurrentWidget(stage)
        if name in self._stale:
            stage.refresh(change)
            self._stale.discard(name)
        self._ledger.show_change(change, zone, system)
        pages = getattr(self.centre.currentWidget(), "show_pages", None)  # only benches with pages below have it
        if pages is not None:
            pages(plan)
        self.refreshed.emit(plan)

    def bench(self, name: str) -> QWidget:
        """A bench beside the plan of the zone, loaded and made when first wanted."""
        if name not in self.benches:
            made = import_module(f"ribpatch.ui.bench.{name}").BENCH(self._session, self.zone_bench.tasks, self.centre)
            made.asked.connect(self._asked)
            made.set_theme(self._settings.look)
            self._share_room(made)
            self.benches[name] = made
            self.centre.addWidget(made)
            self.bench_made.emit(made)
        return self.benches[name]

    def _share_room(self, bench: object) -> None:
        """Benches in two parts share their room as the user did last."""
        room = getattr(bench, "split", None)
        if room is not None:
            room.give(self._settings.lower_share)
            room.shared.connect(lambda share: setattr(self._settings, "lower_share", share))

    def _asked(self, what: object) -> None:
        """A bench asks for a figure, or for one by its id."""
        (self.asked_by_id if isinstance(what, str) else self.asked).emit(what)

    def stage(self, name: str) -> Stage:
        """The decisions of a stage, loaded and made when first wanted: start-up pays for one of them only."""
        if name not in self.stages:
            made: Stage = import_module(f"ribpatch.ui.stages.{name}").STAGE(self._session, self.decisions)
            made.asked.connect(self.asked)
            made.unfold_all(self._settings.unfolded)
            self._made(made)
            if self._settings.shed:
                from ribpatch.ui.touch import touchable

                touchable(made)
            self.stages[name] = made
            self._stale.add(name)
            self.decisions.addWidget(made)
        return self.stages[name]

    def unfold_all(self, unfold: bool) -> None:
        """Unfold every decision card, or fold all but those that matter first."""
        for stage in self.stages.values():
            stage.unfold_all(unfold)

    def set_theme(self, theme: str) -> None:
        """Use a theme's colours."""
        for part in (
            self._strip,
            self._way,
            self._ladder,
            self._ledger,
            self.zone_bench,
            *self.stages.values(),
            *self.benches.values(),
        ):
            part.set_theme(theme)  # type: ignore[attr-defined]  # all of them have it
