"""Setting a photograph straight: four marks and what was measured between them, points along straight edges, checks.

Beside the picture stands what the marks make of it, and how well they agree; it is taken only where it can be.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QImage, QKeyEvent, QPainter, QPen, QPixmap

from ribpatch.core.errors import BadOutline, Fault
from ribpatch.core.numerals import general
from ribpatch.core.quantity import parse
from ribpatch.core.record import built
from ribpatch.core.set_straight import LEAST_ON_EDGE, MEASURED, Checked, Pixel, Straight
from ribpatch.core.units import Kind, Measure, shown, usual
from ribpatch.formats.photographs import pixels_of
from ribpatch.ui.straighten_form import HOWS, WIDE, StraightenForm
from ribpatch.ui.theme import colours

if TYPE_CHECKING:
    from PySide6.QtWidgets import QLineEdit, QPushButton, QWidget

    from ribpatch.core.geometry import Ring
    from ribpatch.core.photo.straightened import Straightened
    from ribpatch.core.units import System

FIRST = ((0.25, 0.7), (0.75, 0.7), (0.75, 0.3), (0.25, 0.3))  # of width and height, where marks stand at first
MORE = 0.25  # of the marks' size that the small picture shows round them


class StraightenDialog(StraightenForm):
    """``straight`` is what was stated when it is accepted."""

    def __init__(
        self,
        data: bytes,
        straight: Straight | None,
        system: System,
        theme: str,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._system, self._theme = system, theme
        self._pixels = pixels_of(data, "photograph")
        self.straight, self.made = straight, None  # type: Straight | None, Straightened | None
        height, width = self._pixels.shape[:2]
        self._shape = height / width
        self.ring: Ring = ()  # the drawn line, where it was taken
        self.marks: list[Pixel] = [(u, v * self._shape) for u, v in FIRST]
        self.edges: list[list[Pixel]] = []
        self.checks: list[tuple[Pixel, Pixel, str]] = []
        self._half: Pixel | None = None
        self.adds = ""  # what a click beside the marks adds: "edge", "check", or nothing
        self._given: dict[QLineEdit, tuple[str, Measure]] = {}  # as shown, and the measure it stands for
        self.canvas.theme = theme
        picture = QPixmap()
        picture.loadFromData(data)
        self.canvas.show_picture(picture)
        self.canvas.moved.connect(self._moved)
        self.canvas.clicked.connect(self._clicked)
        self.rest.timeout.connect(lambda: self.work_out())
        self.way_changed.connect(lambda: self._redraw())
        self.asked.connect(self._asked)
        for button in (self.edge_button, self.check_button):
            button.clicked.connect(lambda checked, b=button: self._adds(b, checked))
        if straight is not None:
            self._show(straight)
        self.show_way()
        self.canvas.current = ("marks", 0)

    def _asked(self, what: str) -> None:
        {
            "quarter": self._quarter,
            "take_back": self._take_back,
            "find_marks": self.find_marks,
            "take_line": self._take_line,
            "accepted": self._accepted,
        }[what]()

    # ---- what is stated ----

    def _show(self, straight: Straight) -> None:
        self.how.setCurrentIndex([way for way, _ in HOWS].index(straight.how))
        self.marks = list(straight.marks)
        self.edges = [list(edge) for edge in straight.edges]
        self.checks = [(c.a, c.b, self._said(c.length)) for c in straight.checks]
        for edit, size in zip(self.sizes, straight.sizes, strict=False):
            edit.setText(self._said(size))
        for edit, value in ((self.place_x, straight.x), (self.place_y, straight.y)):
            self._give(edit, shown(value, Kind.SIZE, self._system), usual(value))
        self._give(self.turn, general(straight.turn.si), straight.turn)

    def _give(self, edit: QLineEdit, text: str, value: Measure) -> None:
        """Show a measure that is exact, though its text is rounded: untouched, it comes back as it was."""
        edit.setText(text if value.si else "")
        self._given[edit] = edit.text(), value

    def _said(self, size: Measure) -> str:
        return size.typed or shown(size.si, Kind.SIZE, self._system)

    def _stated(self) -> Straight:
        """What is stated now. Raises Fault where something is missing or wrong."""
        sizes = [self._size(edit, name) for edit, name in zip(self.sizes, MEASURED[self.way], strict=False)]
        checks = [
            built(Checked, a=a, b=b, length=parse(text, Kind.SIZE, self._system).measure)
            for a, b, text in self.checks
            if text.strip()
        ]
        return built(
            Straight,
            how=self.way,
            marks=tuple(self.marks),
            sizes=tuple(sizes),
            shape=self._shape,
            x=self._usual(self.place_x, Kind.SIZE).si,
            y=self._usual(self.place_y, Kind.SIZE).si,
            turn=self._usual(self.turn, Kind.ANGLE),
            edges=tuple(tuple(edge) for edge in self.edges if len(edge) >= LEAST_ON_EDGE),
            checks=tuple(checks),
        )

    def _size(self, edit: QLineEdit, name: str) -> Measure:
        if not edit.text().strip():
            raise BadOutline(name, reason="the length is missing", advice="Type what was measured.")
        return parse(edit.text(), Kind.SIZE, self._system).measure

    def _usual(self, edit: QLineEdit, kind: Kind) -> Measure:
        text, value = self._given.get(edit, ("", usual(0.0)))
        if edit.text() == text:
            return value
        return parse(edit.text(), kind, self._system).measure if edit.text().strip() else usual(0.0)

    # ---- marks ----

    def _redraw(self) -> None:
        groups: dict[str, tuple[Pixel, ...]] = {"marks": tuple(self.marks)}
        groups |= {f"edge {n}": tuple(edge) for n, edge in enumerate(self.edges)}
        groups |= {f"check {n}": (a, b) for n, (a, b, _) in enumerate(self.checks)}
        if self._half is not None:
            groups["half"] = (self._half,)
        self.canvas.show_groups(groups)
        self.back_button.setEnabled(bool(self.edges or self.checks or self._half))
        self.rest.start()

    def _moved(self, what: tuple[str, int, Pixel]) -> None:
        group, number, place = what
        kind, _, which = group.partition(" ")
        if kind == "marks":
            self.marks[number] = place
        elif kind == "edge":
            self.edges[int(which)][number] = place
        elif kind == "check":
            a, b, text = self.checks[int(which)]
            self.checks[int(which)] = (place, b, text) if number == 0 else (a, place, text)
        else:
            self._half = place
        self._redraw()

    def _adds(self, button: QPushButton, checked: bool) -> None:
        other = self.check_button if button is self.edge_button else self.edge_button
        other.setChecked(False)
        self.adds = ("edge" if button is self.edge_button else "check") if checked else ""
        if self.adds == "edge":
            self.edges.append([])
        self._drop_short()
        self.canvas.setFocus()
        if self.adds:
            self.canvas.begin_cross()
        else:
            self.canvas.cross = None

    def _drop_short(self) -> None:
        """An edge of fewer than three points says nothing; the one being set may still grow."""
        last = self.edges[-1:] if self.adds == "edge" else []
        self.edges = [e for e in self.edges if len(e) >= LEAST_ON_EDGE and e not in last] + last
        self._half = None
        self._redraw()

    def _clicked(self, place: Pixel) -> None:
        if self.adds == "edge":
            self.edges[-1].append(place)
        elif self.adds == "check" and self._half is None:
            self._half = place
        elif self.adds == "check" and self._half is not None:
            self.checks.append((self._half, place, ""))
            self._half = None
            self._ask_length()
        self._redraw()

    def _ask_length(self) -> None:
        self.check_length.setText("")
        self.check_length.show()
        self.check_length.setFocus()

    def _take_back(self) -> None:
        if self._half is not None:
            self._half = None
        elif self.adds != "edge" and self.checks:
            self.checks.pop()
            self.check_length.setVisible(bool(self.checks))
            self.check_length.setText(self.checks[-1][2] if self.checks else "")
        elif self.edges:
            self.edges[-1:] = [self.edges[-1][:-1]] if self.edges[-1] else []
            if self.adds == "edge" and not self.edges:
                self.edges.append([])
        self._redraw()

    def _quarter(self) -> None:
        try:
            before = self._usual(self.turn, Kind.ANGLE).si
        except Fault as fault:
            self._tell(fault)
        else:
            self.turn.setText(general((before + 90 + 180) % 360 - 180))

    def _tell(self, fault: Fault) -> None:
        self.words.setText(f"⚠ {fault.sentence}")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Backspace:
            self._take_back()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.work_out()  # Enter in a line does not close the dialog
        else:
            super().keyPressEvent(event)

    # ---- a set-off sheet ----

    def find_marks(self) -> None:
        """Set the marks on the printed ones, and the sizes of the usual sheet where none are typed."""
        from ribpatch.core.paper_sizes import PAPERS
        from ribpatch.core.photo.marks_found import found_marks, grey_of
        from ribpatch.core.photo.sheet_marks import marks_apart

        try:
            self.marks = list(found_marks(grey_of(self._pixels)))
        except Fault as fault:
            self._tell(fault)
            return
        self.how.setCurrentIndex(0)
        sizes = marks_apart(PAPERS["A4" if self._system == "metric" else "Letter"])
        if not any(edit.text().strip() for edit in self.sizes):
            for edit, size in zip(self.sizes, sizes, strict=False):
                edit.setText(shown(size, Kind.SIZE, self._system))
        self._redraw()
        self.work_out()

    def _take_line(self) -> None:
        from ribpatch.core.photo.read_sheet import line_on_sheet

        self.work_out()
        if self.made is None:
            return
        try:
            self.ring = line_on_sheet(self._pixels, self.made)
        except Fault as fault:
            self._tell(fault)
            return
        self.accept()

    # ---- what it makes ----

    def work_out(self) -> None:
        """Work out what the marks make of the picture, and show it."""
        from ribpatch.core.photo.straightened import straight_words, straightened

        if self.checks:
            a, b, _ = self.checks[-1]
            self.checks[-1] = (a, b, self.check_length.text() or self.checks[-1][2])
        try:
            self.straight = self._stated()
            self.made = straightened(self.straight)
        except Fault as fault:
            self.straight = self.made = None
            self._tell(fault)
            self.flat.clear()
            self.take.setEnabled(False)
            return
        self.take.setEnabled(True)
        self.words.setText("\n".join(straight_words(self.made, self._system)))
        self._show_flat(self.made)

    def _show_flat(self, made: Straightened) -> None:
        """The picture laid flat, with the marks on it: a rectangle must look like one."""
        from ribpatch.core.photo.pixels import laid_flat

        low, high = made.marks.min(axis=0), made.marks.max(axis=0)
        more = MORE * float((high - low).max())
        low, high = low - more, high + more
        columns = min(WIDE, int(WIDE * (high - low)[0] / (high - low)[1]))
        flat = laid_flat(self._pixels, made, tuple(low), tuple(high), max(columns, 8))
        rows, columns = flat.shape[:2]
        image = QImage(flat.tobytes(), columns, rows, 4 * columns, QImage.Format.Format_RGBA8888).copy()
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colours(self._theme)["accent"], 1.5))
        scale = columns / (high - low)[0]
        at = [QPointF((x - low[0]) * scale, (high[1] - y) * scale) for x, y in made.marks]
        if self.way == "tapes":
            painter.drawLine(at[0], at[1])
            painter.drawLine(at[2], at[3])
        else:
            painter.drawPolygon(at)
        painter.end()
        self.flat.setPixmap(QPixmap.fromImage(image))

    def _accepted(self) -> None:
        self.work_out()
        if self.made is not None:
            self.accept()
