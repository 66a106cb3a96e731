"""Dragging on the maps of Prove: a stiffener of the scheme across the panel, or the place where the load stands."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt

from ribpatch.core.edits import set_value
from ribpatch.core.proof_edits import stand_at
from ribpatch.core.units import Kind, shown
from ribpatch.ui.bench.cross import nudged
from ribpatch.ui.widgets.canvas import ARROWS

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtCore import QPointF
    from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter

    from ribpatch.core.geometry import Point
    from ribpatch.core.scheme import Member
    from ribpatch.core.structure.zone_panel import State
    from ribpatch.ui.session import Session
    from ribpatch.ui.widgets.canvas import Canvas

REACH = 8.0  # pixels


class MemberTool:
    """Takes a stiffener on the map of the repaired state; a double-click anywhere puts the standing load there."""

    def __init__(
        self,
        session: Session,
        place: Callable[[Point], tuple[State, Point] | None],
        say: Callable[[str], None],
        ended: Callable[[], None],
    ) -> None:
        self._session, self._place, self._say, self._ended = session, place, say, ended
        self.active = False
        self._held: Member | None = None
        self._token = -1
        self.taken = ""  # the stiffener that the keys move

    @property
    def dragging(self) -> bool:
        """Whether a stiffener is being dragged."""
        return self._held is not None

    def paint(self, painter: QPainter, canvas: Canvas) -> None:
        """Nothing over the drawing: what can be taken is drawn in the accent colour."""

    def _zone_place(self, at: QPointF, canvas: Canvas) -> tuple[State, Point] | None:
        return self._place(canvas.view.back(at))

    def press(self, at: QPointF, canvas: Canvas, event: QMouseEvent) -> bool:
        zone = self._session.zone
        found = self._zone_place(at, canvas) if self.active else None
        if zone is None or found is None:
            return False
        state, (x, y) = found
        proved = self._session.plan.zone(zone.id).strength.proved
        assert proved is not None
        x, y = x + proved.panel.x0, y + proved.panel.y0
        if event.type() == event.Type.MouseButtonDblClick:
            if zone.is_walked_on:
                self._session.apply(stand_at(zone.id, (round(x, 3), round(y, 3))))
            return True
        if state != "repaired":
            return False
        reach = REACH / canvas.view.scale
        for member in zone.scheme.members:
            if abs((y if member.axis == "x" else x) - member.place) < reach:
                self._held = member
                self._token = self._session.drag_token()
                return True
        return False

    def move(self, at: QPointF, canvas: Canvas) -> bool:
        found = self._zone_place(at, canvas) if self.active else None
        zone = self._session.zone
        if self._held is None or zone is None or found is None:
            return False
        proved = self._session.plan.zone(zone.id).strength.proved
        if proved is None:
            return False
        _, (x, y) = found
        value = y + proved.panel.y0 if self._held.axis == "x" else x + proved.panel.x0
        path = ("zones", zone.id, "scheme", "members", self._held.id, "place")
        self._session.apply(set_value(path, round(value, 3)), self._token)
        return True

    def release(self, at: QPointF, canvas: Canvas) -> bool:
        held, self._held = self._held, None
        if held is not None:
            self._ended()
            self._say(f"{held.name} moved; Ctrl+Z brings it back.")
        return held is not None

    def key(self, event: QKeyEvent, canvas: Canvas) -> bool:
        """Space takes one stiffener after the other, arrows move it across its run, Esc lets go."""
        zone, key = self._session.zone, Qt.Key(event.key())
        members = zone.scheme.members if zone is not None and self.active else ()
        if zone is None or not members:
            return False
        ids = [m.id for m in members]
        if key == Qt.Key.Key_Space:
            self.taken = ids[(ids.index(self.taken) + 1) % len(ids)] if self.taken in ids else ids[0]
            self._token = self._session.drag_token()
            self._tell(members[ids.index(self.taken)])
            return True
        if self.taken not in ids:
            return False
        member = members[ids.index(self.taken)]
        along = 1 if member.axis == "x" else 0
        if key in ARROWS and ARROWS[key][along]:
            here = (member.place, member.place)
            value = nudged(here, ARROWS[key], event.modifiers(), self._session.system)[along]
            path = ("zones", zone.id, "scheme", "members", member.id, "place")
            self._session.apply(set_value(path, round(value, 4)), self._token)
            moved = self._session.zone
            self._tell(next(m for m in moved.scheme.members if m.id == member.id) if moved is not None else member)
            return True
        if key in (Qt.Key.Key_Escape, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.taken = ""
            self._ended()
            return True
        return False

    def _tell(self, member: Member) -> None:
        ways = "Up and Down" if member.axis == "x" else "Left and Right"
        where = shown(member.place, Kind.SIZE, self._session.system)
        self._say(f"{member.name} at {where}; {ways} move it, Esc lets go.")
