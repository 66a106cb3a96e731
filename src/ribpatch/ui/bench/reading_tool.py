"""Entering readings on the plan by keys on a grid, or by click with a brush.

Arrows move the cursor over the grid; an instrument's letter or a typed number with Enter enters a reading and steps on
in the direction last moved; S marks the reading as sound reference, N goes to the next place to test, Delete deletes,
Backspace takes the last entry back.
"""

from __future__ import annotations

from math import ceil, floor
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from ribpatch.core.errors import Fault
from ribpatch.core.geometry import Point, polygon_of
from ribpatch.core.readings import Reading, Sketch, TestCut, line_of
from ribpatch.core.units import place_words
from ribpatch.ui.brush import NONE, SIMULATED
from ribpatch.ui.theme import colours, font
from ribpatch.ui.widgets.canvas import ARROWS

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.job import Zone
    from ribpatch.ui.session import Session
    from ribpatch.ui.widgets.canvas import Canvas


class ReadingTool:
    """The cursor and brush of the Find stage. ``echo`` is told each entry in words."""

    def __init__(self, session: Session, echo: Callable[[str], None]) -> None:
        self._session, self._echo = session, echo
        self.active = False
        self.straight = False  # a run is drawn straight
        self.brush = NONE
        self.meter = "moisture"  # what typed numbers are entered as
        self.typed = ""
        self._next = 0
        self.followed: Callable[[Reading | None], None] | None = None
        self._at: dict[str, tuple[int, int]] = {}
        self._step = (1, 0)
        self._entered = 0

    def forget(self) -> None:
        """Forget where the cursor stood: another job is shown."""
        self._at.clear()
        self.typed, self._entered, self._next = "", 0, 0

    # ---- the grid ----

    def _zone(self) -> Zone | None:
        return self._session.zone

    def place(self, zone: Zone) -> Point:
        """The cursor's place in m."""
        i, j = self._at.setdefault(zone.id, self._start(zone))
        pitch = zone.survey.pitch.si
        x0, y0, _, y1 = polygon_of(zone.outline).bounds
        if zone.is_run:
            return round(x0 + (i + 0.5) * pitch, 5), round((y0 + y1) / 2, 5)
        return round(x0 + (i + 0.5) * pitch, 5), round(y0 + (j + 0.5) * pitch, 5)

    def _start(self, zone: Zone) -> tuple[int, int]:
        x0, y0, x1, y1 = polygon_of(zone.outline).bounds
        pitch = zone.survey.pitch.si
        return floor((x1 - x0) / pitch / 2), floor((y1 - y0) / pitch / 2)

    def _clamped(self, zone: Zone, i: int, j: int) -> tuple[int, int]:
        x0, y0, x1, y1 = polygon_of(zone.outline).bounds
        pitch = zone.survey.pitch.si
        most_i, most_j = max(ceil((x1 - x0) / pitch) - 1, 0), max(ceil((y1 - y0) / pitch) - 1, 0)
        if zone.is_run:
            most_j = 0
        return min(max(i, 0), most_i), min(max(j, 0), most_j)

    def _go(self, zone: Zone, step: tuple[int, int]) -> None:
        self.place(zone)
        i, j = self._at[zone.id]
        self._at[zone.id] = self._clamped(zone, i + step[0], j + step[1])
        self.tell_cursor()

    def tell_cursor(self) -> None:
        """Tell who follows the cursor which reading lies under it: the last one entered there."""
        if self.followed is not None:
            zone = self._zone()
            found = (
                self.here(zone, self.place(zone), zone.survey.pitch.si * 0.5)
                if zone is not None and self.active
                else []
            )
            self.followed(found[-1] if found else None)

    def drawn_at(self, zone: Zone, place: Point) -> Point:
        """Where a place of the zone lies in the drawing: a run is drawn straight."""
        from ribpatch.core.drawing.run_view import to_run

        return to_run(zone, place) if self.straight else place

    def place_at(self, zone: Zone, at: Point) -> Point:
        """The place of the zone that a place of the drawing means."""
        from ribpatch.core.drawing.run_view import from_run

        return from_run(zone, at) if self.straight else at

    def here(self, zone: Zone, at: Point, reach: float) -> list[Reading]:
        """Readings within ``reach`` m of a place; of a run, within that distance along it."""
        across, (x0, y0) = (0.0 if self.straight else 1.0), at
        near = [  # lines may come near with any of their points
            r for r in zone.survey.readings if abs(r.x - x0) <= reach or type(r) in (TestCut, Sketch)
        ]
        return [r for r in near if any((x - x0) ** 2 + across * (y - y0) ** 2 <= reach**2 for x, y in line_of(r))]

    # ---- entering ----

    def enter(self, kind: str, facts: dict[str, Any], at: Point | None = None) -> bool:
        """Enter a reading at the cursor (then step on) or at a clicked place."""
        from ribpatch.core.survey.entry import made_reading, reading_words
        from ribpatch.core.survey.inside import all_inside
        from ribpatch.core.survey_edits import put_reading
        from ribpatch.ui.simulate import simulated_reading

        zone = self._zone()
        if zone is None:
            return False
        place = at or self.place(zone)
        if kind == "sketch":
            facts = {**facts, "points": (place,)}
        try:
            if kind in SIMULATED:
                reading = simulated_reading(self._session, zone, kind, place)
            else:
                reading = made_reading(kind, self._session.plan.shelf, x=place[0], y=place[1], **facts)
        except Fault as fault:
            self._echo(fault.sentence)
            return False
        if not all_inside((reading,), zone.outline).all():
            self._echo("That place is outside the zone; nothing was entered.")
            return False
        if not self._session.apply(put_reading(zone.id, reading, zone.survey.one_place)):
            return False
        self._entered += 1
        system = self._session.system
        self._echo(f"{reading_words(reading, system)} at {place_words(place, system)}")
        if at is None:
            self._go(zone, self._step)
        return True

    def places_on(self, count: int) -> list[Point]:
        """The cursor's place and the next ones on from it, as entries would step; the cursor goes along."""
        zone = self._zone()
        places: list[Point] = []
        for _ in range(count if zone is not None else 0):
            assert zone is not None
            places.append(self.place(zone))
            self._go(zone, self._step)
        return places

    def go_next(self) -> None:
        """Move the cursor's brush to the next place worth testing; each call goes on to the one after it."""
        from ribpatch.core.survey.next_test import next_tests
        from ribpatch.core.survey.structure import starts_of

        zone = self._zone()
        shelf = self._session.plan.shelf
        tests = next_tests(zone.survey, zone.outline, shelf, starts_of(zone, shelf)) if zone else ()
        if zone is None or not tests:
            self._echo("No place is worth more than another: read a few first, or nothing is left in doubt.")
            return
        number = self._next % len(tests)
        self._next = number + 1
        self._move_cursor(zone, tests[number].at)
        told = place_words(tests[number].at, self._session.system)
        self._echo(f"place {number + 1} to test, {tests[number].why}: {tests[number].by} at {told}")

    def take_back(self) -> None:
        """Undo the last entry, as long as the last step was one."""
        stack = self._session.stack
        if self.typed:
            self.typed = self.typed[:-1]
            self._echo(f"{self.meter} {self.typed}…" if self.typed else "")
        elif self._entered and stack.canUndo() and stack.undoText().startswith("read "):
            words = stack.undoText().removeprefix("read ")
            stack.undo()
            self._entered -= 1
            zone = self._zone()
            if zone is not None:
                self._go(zone, (-self._step[0], -self._step[1]))
            self._echo(f"took back {words}")
        else:
            self._echo("No entry to take back here; Ctrl+Z undoes other steps.")

    def toggle_reference(self, at: Point, reach: float) -> None:
        """Mark or unmark the readings at a place as sound reference."""
        from ribpatch.core.survey_edits import set_references

        zone = self._zone()
        found = self.here(zone, at, reach) if zone else []
        if zone is None or not found:
            self._echo("No reading there to mark as reference.")
            return
        marked = set(zone.survey.references)
        ids = {r.id for r in found}
        wanted = marked - ids if ids <= marked else marked | ids
        self._session.apply(set_references(zone.id, wanted))
        self._echo("marked as sound reference" if ids <= wanted else "no longer a reference")

    def erase(self, at: Point, reach: float) -> None:
        """Delete the readings at a place: those of the last session that read there, so that what went before stays."""
        from ribpatch.core.survey.entry import reading_words
        from ribpatch.core.survey_edits import remove_readings

        zone = self._zone()
        found = self.here(zone, at, reach) if zone else []
        if zone is None or not found:
            self._echo("No reading there to delete.")
            return
        order = ["", *(s.id for s in zone.survey.sessions)]
        last = max((r.session for r in found), key=order.index)
        going = [r for r in found if r.session == last]
        self._session.apply(remove_readings(zone.id, frozenset(r.id for r in going)))
        self._echo(f"deleted {', '.join(reading_words(r, self._session.system) for r in going)}")

    # ---- events ----

    def paint(self, painter: QPainter, canvas: Canvas) -> None:
        zone = self._zone()
        if not self.active or zone is None:
            return
        c = colours(canvas.theme)
        at = canvas.view.to(self.drawn_at(zone, self.place(zone)))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(c["panel"], 4.5))
        painter.drawRect(QRectF(at.x() - 11, at.y() - 11, 22, 22))
        painter.setPen(QPen(c["accent"], 2.2))
        painter.drawRect(QRectF(at.x() - 11, at.y() - 11, 22, 22))
        if self.typed:
            painter.setFont(font(11, bold=True))
            painter.drawText(QPointF(at.x() + 15, at.y() - 8), f"{self.typed}…")

    def press(self, at: QPointF, canvas: Canvas, event: QMouseEvent) -> bool:
        zone = self._zone()
        if not self.active or zone is None:
            return False
        x, y = self.place_at(zone, canvas.view.back(at))
        place = (round(x, 4), round(y, 4))
        reach = 9 / canvas.view.scale
        if self.brush.kind == "reference":
            self.toggle_reference(place, reach)
        elif self.brush.kind == "erase":
            self.erase(place, reach)
        elif self.brush.kind:
            self.enter(self.brush.kind, dict(self.brush.facts), place)
        else:
            self._move_cursor(zone, place)
        return True

    def _move_cursor(self, zone: Zone, place: Point) -> None:
        x0, y0, _, _ = polygon_of(zone.outline).bounds
        pitch = zone.survey.pitch.si
        self._at[zone.id] = self._clamped(zone, floor((place[0] - x0) / pitch), floor((place[1] - y0) / pitch))
        self.tell_cursor()

    def move(self, at: QPointF, canvas: Canvas) -> bool:
        return False

    def release(self, at: QPointF, canvas: Canvas) -> bool:
        return False

    def key(self, event: QKeyEvent, canvas: Canvas) -> bool:
        zone = self._zone()
        modified = event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        if not self.active or zone is None or modified:
            return False
        key, text = Qt.Key(event.key()), event.text().lower()
        if key in ARROWS:
            self._step = ARROWS[key]
            self._go(zone, self._step)
            return True
        if key == Qt.Key.Key_Backspace:
            self.take_back()
            return True
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            return self._enter_typed()
        if key == Qt.Key.Key_Escape and self.typed:
            self.typed = ""
            return True
        if text and (
            text.isdigit() or text in ".," or (text == "-" and not self.typed)
        ):  # a frosty evening reads below 0
            self.typed += "." if text == "," else text
            self._echo(f"{self.meter} {self.typed}…  Enter to enter it")
            return True
        return self._letter(zone, key, text)

    def _enter_typed(self) -> bool:
        if not self.typed:
            return False
        typed, self.typed = self.typed, ""
        try:
            value = float(typed)
        except ValueError:
            self._echo(f"“{typed}” is no number; nothing was entered.")
            return True
        return self.enter(self.meter, {"value": value}) or True

    def _letter(self, zone: Zone, key: Qt.Key, text: str) -> bool:
        reach = zone.survey.pitch.si * 0.5
        if key == Qt.Key.Key_Delete:
            self.erase(self.place(zone), reach)
            return True
        if text == "s":
            self.toggle_reference(self.place(zone), reach)
            return True
        if text == "n":
            self.go_next()
            return True
        for card in self._session.plan.shelf.instruments:
            grade = next((g for g in card.grades if text and g.key == text), None)
            if grade is not None:
                self.enter(card.id, {"grade": grade.id})
                return True
        return False
