"""Drawing a test cut or a sketch of cracks: point by point on the plan."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from ribpatch.core.errors import Fault
from ribpatch.core.text import counted
from ribpatch.core.units import place_words
from ribpatch.ui.bench.cross import middle_of, nudged, paint_cross
from ribpatch.ui.brush import LINES, NONE, Brush
from ribpatch.ui.theme import colours
from ribpatch.ui.widgets.canvas import ARROWS

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.geometry import Point
    from ribpatch.ui.session import Session
    from ribpatch.ui.widgets.canvas import Canvas


class LineTool:
    """Takes the clicks while its brush draws lines. Each stretch of a test cut gets the state chosen as it is drawn."""

    def __init__(self, session: Session, echo: Callable[[str], None], place: Callable[[Point], Point]) -> None:
        self._session, self._echo, self._place = session, echo, place
        self.brush: Brush = NONE
        self.points: list[Point] = []
        self.states: list[str] = []
        self.at: Point | None = None  # where the cross of the keys stands, on the plan as drawn

    @property
    def active(self) -> bool:
        """Whether lines are being drawn."""
        return self.brush.kind in LINES

    def take(self, brush: Brush) -> None:
        """Use a brush; a line of another kind that is half drawn is dropped."""
        if brush.kind != self.brush.kind:
            self.points, self.states, self.at = [], [], None
        self.brush = brush

    def paint(self, painter: QPainter, canvas: Canvas) -> None:
        if not self.active:
            return
        if self.at is not None:
            paint_cross(painter, canvas, self.at)
        if not self.points:
            return
        c = colours(canvas.theme)
        spots = [canvas.view.to(p) for p in self.points]
        painter.setPen(QPen(c["accent"], 2.4))
        painter.setBrush(c["panel"])
        painter.drawPolyline(spots)
        for at in spots:
            painter.drawEllipse(at, 3.5, 3.5)

    def press(self, at: QPointF, canvas: Canvas, event: QMouseEvent) -> bool:
        if not self.active:
            return False
        if self.points and event.type() == event.Type.MouseButtonDblClick:
            return self._finish()
        return self._add(canvas.view.back(at))

    def _add(self, at: Point) -> bool:
        x, y = self._place(at)
        point = (round(x, 4), round(y, 4))
        if self.points and point == self.points[-1]:
            return True
        if self.points:
            self.states.append(str(dict(self.brush.facts).get("state", "sound")))
        self.points.append(point)
        so_far = counted(len(self.points), "point", "points")
        self._echo(f"{so_far}; Enter ends the line, Backspace takes one back, Esc drops it")
        return True

    def move(self, at: QPointF, canvas: Canvas) -> bool:
        return False

    def release(self, at: QPointF, canvas: Canvas) -> bool:
        return False

    def key(self, event: QKeyEvent, canvas: Canvas) -> bool:
        if not self.active or canvas.drawing is None:
            return False
        key = Qt.Key(event.key())
        if key in ARROWS and not event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.at = nudged(
                self.at or middle_of(canvas.drawing.bounds), ARROWS[key], event.modifiers(), self._session.system
            )
            self._echo(f"{place_words(self.at, self._session.system)}; Space puts a point here")
            return True
        if key == Qt.Key.Key_Space and self.at is not None:
            return self._add(self.at)
        if not self.points:
            return False
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            return self._finish()
        if key == Qt.Key.Key_Backspace:
            self.points.pop()
            if self.states:
                self.states.pop()
            return True
        if key == Qt.Key.Key_Escape:
            self.points, self.states = [], []
            self._echo("line dropped")
            return True
        return False

    def _finish(self) -> bool:
        from ribpatch.core.survey.entry import made_reading, reading_words
        from ribpatch.core.survey.inside import all_inside
        from ribpatch.core.survey_edits import add_readings

        zone = self._session.zone
        if zone is None:
            return True
        kind, (x, y) = self.brush.kind, self.points[0]
        facts: dict[str, Any] = {"points": tuple(self.points)}
        facts |= (
            {"states": tuple(self.states)}
            if kind == "cut"
            else {"grade": dict(self.brush.facts).get("grade", "hairline")}
        )
        try:
            reading = made_reading(kind, self._session.plan.shelf, x=x, y=y, **facts)
        except Fault as fault:
            self._echo(fault.sentence)
            return True
        if not all_inside((reading,), zone.outline).all():
            self._echo("A point of the line lies outside the zone; Backspace takes it back.")
            return True
        if self._session.apply(add_readings(zone.id, (reading,), f"read {reading_words(reading)}")):
            self._echo(
                f"{reading_words(reading, self._session.system)}, {counted(len(self.points), 'point', 'points')}"
            )
        self.points, self.states = [], []
        return True
