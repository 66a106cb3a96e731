"""Corners and the section line by the keys: Space takes hold of one after the other, arrows move what is held.

All moves of one hold are one step of undo. Insert adds a corner after the one held, Delete takes it away, Esc or Enter
lets go.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QPen

from ribpatch.core.units import place_words
from ribpatch.ui.bench.cross import nudged
from ribpatch.ui.theme import colours
from ribpatch.ui.widgets.canvas import ARROWS

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtCore import QPointF
    from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter

    from ribpatch.core.geometry import Point
    from ribpatch.core.units import System
    from ribpatch.ui.bench.handles import CornerTool, SectionTool
    from ribpatch.ui.widgets.canvas import Canvas

ENDS = {"a": "one end of the section line", "b": "the other end of the section line", "ab": "the section line"}
RING = 8.0  # pixels round what is held
Grip = tuple[int, int] | str


class GripTool:
    """Holds a corner, an end of the section line or the line. ``say`` is told what is held and where it stands."""

    def __init__(
        self, corners: CornerTool, section: SectionTool, system: Callable[[], System], say: Callable[[str], None]
    ) -> None:
        self._corners, self._section, self._system, self._say = corners, section, system, say
        self.held: Grip | None = None

    @property
    def grips(self) -> list[Grip]:
        """All that can be held, in the order that Space goes."""
        rings = self._corners.rings if self._corners.active else ()
        corners: list[Grip] = [(i, j) for i, ring in enumerate(rings) for j in range(len(ring))]
        return [*corners, *(ENDS if self._section.line is not None else ())]

    def let_go(self) -> None:
        """Hold nothing; what was moved is one step."""
        if isinstance(self.held, tuple):
            self._corners.end_nudge()
        self.held = None

    def _take(self, grip: Grip) -> None:
        self.held = grip
        self._tell()

    def _take_next(self, by: int) -> None:
        """Hold the next of all that can be held once the last move is done: it may leave other corners."""
        if isinstance(self.held, tuple):
            self._corners.end_nudge()
        grips = self.grips
        if grips:
            here = grips.index(self.held) if self.held in grips else (-1 if by > 0 else 0)
            self._take(grips[(here + by) % len(grips)])

    def _tell(self) -> None:
        grip, system = self.held, self._system()
        if isinstance(grip, tuple):
            i, j = grip
            ring = self._corners.rings[i]
            name = f"corner {j + 1} of {len(ring)}" + (f", line {i + 1}" if len(self._corners.rings) > 1 else "")
            where = place_words(ring[j], system)
            self._say(f"{name} at {where}; arrows move it, Insert adds one after it, Delete takes it away, Esc")
        elif grip is not None:
            self._say(f"{ENDS[grip]} at {place_words(self._end(grip), system)}; arrows move it, Esc lets go")

    def _end(self, grip: str) -> Point:
        assert self._section.line is not None
        a, b = self._section.line
        return {"a": a, "b": b, "ab": ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)}[grip]

    def _place(self) -> Point | None:
        if self.held not in self.grips:
            return None
        if isinstance(self.held, tuple):
            return self._corners.rings[self.held[0]][self.held[1]]
        return self._end(str(self.held))

    # ---- over the plan ----

    def paint(self, painter: QPainter, canvas: Canvas) -> None:
        place = self._place() if self.held is not None else None
        if place is not None:
            painter.setPen(QPen(colours(canvas.theme)["ink"], 2.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(canvas.view.to(place), RING, RING)

    def press(self, at: QPointF, canvas: Canvas, event: QMouseEvent) -> bool:
        self.let_go()
        return False

    def move(self, at: QPointF, canvas: Canvas) -> bool:
        return False

    def release(self, at: QPointF, canvas: Canvas) -> bool:
        return False

    def key(self, event: QKeyEvent, canvas: Canvas) -> bool:
        key, grips = Qt.Key(event.key()), self.grips
        if event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier):
            return False
        if key == Qt.Key.Key_Space and grips:
            self._take_next(-1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1)
            return True
        if self.held not in grips:
            self.held = None
            return False
        return self._with_held(key, event)

    def _with_held(self, key: Qt.Key, event: QKeyEvent) -> bool:
        if key in ARROWS:
            self._nudge(ARROWS[key], event.modifiers())
        elif key in (Qt.Key.Key_Escape, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.let_go()
            self._say("")
        elif key == Qt.Key.Key_Insert and isinstance(self.held, tuple):
            self._add(self.held)
        elif key == Qt.Key.Key_Delete and isinstance(self.held, tuple):
            i, j = self.held
            self.let_go()
            self._corners.take_away(i, j)
        else:
            return False
        return True

    def _add(self, grip: tuple[int, int]) -> None:
        """A corner in the middle of the side after the one held, and hold it."""
        i, j = grip
        self.let_go()
        if self._corners.add_after(i, j):
            self._take((i, j + 1))

    def _nudge(self, way: tuple[int, int], keys: Qt.KeyboardModifier) -> None:
        place = self._place()
        if place is None:
            return
        to = nudged(place, way, keys, self._system())
        if isinstance(self.held, tuple):
            self._corners.nudge(*self.held, to)
        else:
            self._section.move_by(str(self.held), (to[0] - place[0], to[1] - place[1]))
        self._tell()
