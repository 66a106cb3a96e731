"""A shape drawn on the plan: the tool over it and the line in which sides are typed under it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.ui.bench.draw_bar import DrawBar
from ribpatch.ui.bench.draw_tool import DrawTool
from ribpatch.ui.brush import NONE

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.geometry import Point, Ring
    from ribpatch.ui.bench.zone_bench import ZoneBench
    from ribpatch.ui.session import Change, Session


class Drawing:
    """Puts both on the bench; made when a shape is first drawn."""

    def __init__(self, session: Session, bench: ZoneBench) -> None:
        self._session, self._bench = session, bench
        self.tool = DrawTool(bench.say, self._caught, self._changed)
        self.bar = DrawBar(self.tool)
        self.bar.hide()
        self.bar.left.connect(bench.plan_canvas.setFocus)
        bench.add_tool(self.tool)
        bench.add_bar(self.bar)
        session.changed.connect(self._job_changed)

    def begin(self, done: Callable[[Ring], bool]) -> None:
        """Draw a shape; ``done`` gets it."""
        zone = self._session.zone
        if zone is None:
            return
        self._bench.take(NONE)
        self._bench.plan_wanted.emit()
        self.tool.system = self._session.system
        self.tool.begin(done, zone.outline[0])
        self.bar.begin()
        self._bench.plan_canvas.setFocus()

    def _job_changed(self, change: Change) -> None:
        if change.old is None:
            self.tool.leave()

    def _changed(self) -> None:
        self.bar.setVisible(self.tool.active)
        self.bar.show_tool()
        self._bench.plan_canvas.update()

    def _caught(self, at: Point, reach: float, last: Point | None) -> Point:
        return self._bench.caught(at, reach, ((last,),) if last is not None else ())
