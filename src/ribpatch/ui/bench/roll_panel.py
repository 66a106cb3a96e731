"""The roll of a cloth with all that is cut off it: laid out beside the window, a first layout at once and a better one
after it; a search for shorter ones that can be stopped at any time.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QLabel, QPushButton, QVBoxLayout, QWidget

from ribpatch.core.drawing.cut_view import cut_rows, cut_view, roll_words
from ribpatch.core.stock_edits import forget_layout, keep_layout, use_off_cut
from ribpatch.core.units import Kind, shown
from ribpatch.ui.widgets.canvas import Canvas
from ribpatch.ui.widgets.combo import Combo, show_items
from ribpatch.ui.widgets.flow import Flow
from ribpatch.ui.widgets.sheet import Sheet

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.plan import Plan
    from ribpatch.core.supply.cutting import Roll
    from ribpatch.core.supply.nesting.shape import Nested
    from ribpatch.ui.session import Session
    from ribpatch.ui.tasks import Steps, Tasks

SEARCH = "Search a shorter layout"


class RollPanel(QWidget):
    """Drawing of one cloth's rolls and what to do with it."""

    laid_out = Signal(object)  # the rolls
    found = Signal(object)  # a better layout, told from the search

    def __init__(self, session: Session, tasks: Tasks | None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._tasks = session, tasks
        self._laid: object = None  # what is laid out, or being laid out
        self._laying: list[Steps] = []
        self._rolls: tuple[Roll, ...] = ()
        self._chosen = ""
        self._searching: tuple[str, Steps] | None = None
        self._better: dict[str, Nested] = {}  # by the mark of the pieces, while a search goes on
        self.canvas = Canvas("the roll of the cloth chosen in the list, with all that is cut off it")
        self.cloth = Combo()
        self.cloth.setAccessibleName("cloth")
        self.cloth.setToolTip("Which cloth is shown")
        self.cloth.activated.connect(lambda index: self.show_fabric(str(self.cloth.itemData(index))))
        self.pieces = Sheet(("no.", "written on it", "along", "across"), "pieces of this cloth", 1)
        self.search = QPushButton(SEARCH)
        self.search.setToolTip("Other layouts of the same pieces, beside the window; the shortest found is kept")
        self.search.clicked.connect(lambda: self._search())
        self.forget = QPushButton("Forget the kept layout")
        self.forget.clicked.connect(lambda: self._forget())
        self.book = QPushButton("It is cut")
        self.book.setToolTip("What is left of this length is booked in stock")
        self.book.clicked.connect(lambda: self._book())
        self.words = QLabel("")
        self.words.setObjectName("soft")
        self.words.setWordWrap(True)
        row = Flow()
        for widget in (self.cloth, self.search, self.forget, self.book):
            row.addWidget(widget)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addLayout(row)
        layout.addWidget(self.words)
        layout.addWidget(self.canvas, 3)
        layout.addWidget(self.pieces, 2)
        self.found.connect(self._show_better)

    @property
    def rolls(self) -> tuple[Roll, ...]:
        """What is laid out."""
        return self._rolls

    def set_theme(self, theme: str) -> None:
        self.canvas.set_theme(theme)

    def show_plan(self, plan: Plan, fabric: str) -> None:
        """Lay the cloth of a plan out and show one; what was begun for an earlier plan is given up."""
        self._chosen = fabric
        wanted = (tuple((z.patch, z.parts) for z in plan.zones), plan.job.stock, plan.job.layouts, plan.shelf)
        if self._laid == wanted:
            self.show_fabric(fabric)
            self.laid_out.emit(self._rolls)
            return
        self.give_up()
        self._laid = wanted
        if self._tasks is None:
            self._take(plan.rolls)
            return
        if "rolls" not in plan.__dict__:
            self._lay(lambda _: plan.first_rolls)
        self._lay(plan.rolls_told, pause=True)

    def give_up(self) -> None:
        """Lay out no further what is not laid out yet; it is begun anew when it is next shown."""
        for steps in self._laying:
            steps.cancel()
        if self._laying:
            self._laying, self._laid = [], None

    def _lay(self, layout: Callable[[Steps], tuple[Roll, ...]], pause: bool = False) -> None:
        def then(rolls: tuple[Roll, ...] | None, _: Exception | None) -> None:
            if steps in self._laying:
                self._laying.remove(steps)
                if rolls is not None:
                    self._take(rolls)

        assert self._tasks is not None
        steps = self._tasks.run_steps("", layout, then, pause=pause)
        self._laying.append(steps)

    def _take(self, rolls: tuple[Roll, ...]) -> None:
        self._rolls = rolls
        self.show_fabric(self._chosen)
        self.laid_out.emit(rolls)

    def show_fabric(self, fabric: str) -> None:
        """Show the rolls of one cloth, else of the first."""
        self._chosen = fabric
        system = self._session.system
        rolls = [r for r in self._rolls if r.fabric.id == fabric] or list(self._rolls[:1])
        if not rolls:
            self.canvas.show_drawing(None)
            return
        last = rolls[-1]
        better = self._better.get(last.mark)
        if better is not None and better.length < last.made.length:
            last = replace(last, made=better)
        drawn = tuple(last if r is rolls[-1] else r for r in self._rolls)
        self.canvas.heading = roll_words(last, system)
        self.canvas.show_drawing(cut_view(drawn, system, last.fabric.id))
        self.canvas.refresh()
        show_items(self.cloth, tuple(dict.fromkeys((r.fabric.id, r.fabric.name) for r in self._rolls)))
        self.cloth.setCurrentIndex(self.cloth.findData(last.fabric.id))
        self._show_pieces(drawn, last.fabric.id)
        self._show_buttons(last)

    def _show_pieces(self, drawn: tuple[Roll, ...], fabric: str) -> None:
        whose = [r.fabric.id for r in drawn for _ in r.cuts]
        every = cut_rows(drawn, self._session.system)
        rows = [row for row, of in zip(every, whose, strict=True) if of == fabric]
        with self.pieces.filling(len(rows)):
            for n, (number, _, mark, along, across) in enumerate(rows):
                for column, text in enumerate((number, mark, along, across)):
                    self.pieces.put(n, column, text, right=column != 1)

    def _show_buttons(self, roll: Roll) -> None:
        busy = self._searching is not None
        self.search.setText("Stop, keep the best so far" if busy else SEARCH)
        self.search.setEnabled(busy or (self._tasks is not None and not roll.made.proven and len(roll.cuts) > 1))
        self.forget.setVisible(roll.kept)
        booked = self._stocked()
        self.book.setVisible(booked is not None)
        if booked is not None:
            self.book.setText(f"{booked.cloth.name[:1].upper()}{booked.cloth.name[1:] or 'The roll'} is cut")

    def _stocked(self) -> Roll | None:
        """The first length of the cloth shown that is in stock and long enough for what lies on it."""
        rolls = [r for r in self._rolls if r.fabric.id == self._chosen] or list(self._rolls[:1])
        return next((r for r in rolls if r.left is not None and r.left >= 0), None)

    def _book(self) -> None:
        roll = self._stocked()
        if roll is not None:
            self._session.apply(use_off_cut(self._session.job, roll))

    def _roll(self) -> Roll | None:
        rolls = [r for r in self._rolls if r.fabric.id == self._chosen] or list(self._rolls[:1])
        return rolls[-1] if rolls else None

    def _forget(self) -> None:
        roll = self._roll()
        if roll is not None:
            self._session.apply(forget_layout(roll.fabric.id, roll.fabric.name))

    def _search(self) -> None:
        if self._searching is not None:
            self._searching[1].cancel()
            return
        roll = self._roll()
        if roll is None or self._tasks is None:
            return
        self.words.setText("")

        def work(steps: Steps) -> Nested:
            from ribpatch.nester.search import searched

            def told(share: float, best: Nested) -> bool:
                if best.length < known[0]:
                    known[0] = best.length
                    self.found.emit((roll.mark, best))
                return steps.go_on(share)

            return searched(roll.shapes, roll.cloth.width, known=roll.made, go_on=told)

        known = [roll.made.length]
        steps = self._tasks.run_steps(
            f"Searching a shorter layout of {roll.fabric.name}",
            work,
            lambda made, error: self._searched(roll, made, error),
            lambda: self._searched(roll, None, None),
            aside=True,
        )
        self._searching = (roll.mark, steps)
        self._show_buttons(roll)

    def _show_better(self, told: tuple[str, Nested]) -> None:
        self._better[told[0]] = told[1]
        self.show_fabric(self._chosen)

    def _searched(self, roll: Roll, made: Nested | None, error: Exception | None) -> None:
        self._searching = None
        self._better.clear()
        system = self._session.system
        if made is None or error is not None:
            self.words.setText("The search did not come to an end; the layout is as before.")
        elif made.length >= roll.made.length - 1e-6:
            least = shown(made.bound, Kind.LENGTH, system)
            self.words.setText(f"Nothing shorter was found. No layout can be shorter than {least}.")
        elif not self._session.is_open or self._roll_now(roll) is None:
            self.words.setText("The pieces were changed meanwhile; what was found is of no use.")
        else:
            self._session.apply(keep_layout(roll, made))
            saved = shown(roll.made.length - made.length, Kind.LENGTH, system)
            self.words.setText(f"{saved} shorter, and kept for this job.")
            return
        self.show_fabric(self._chosen)

    def _roll_now(self, roll: Roll) -> Roll | None:
        return next((r for r in self._rolls if r.mark == roll.mark and r.fabric.id == roll.fabric.id), None)
