"""Every paper, looked at page by page, then printed at its true size or written as PDF."""

from __future__ import annotations

from bisect import bisect_right
from itertools import accumulate
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QImage, QKeyEvent, QPainter, QPen
from PySide6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QProgressDialog,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
)

from ribpatch.core.errors import Fault
from ribpatch.core.numerals import fixed
from ribpatch.ui.papers import PAPERS, usual_paper
from ribpatch.ui.scaling import ALL_OF_IT, size_within, sized
from ribpatch.ui.theme import colours, text_font
from ribpatch.ui.widgets.combo import Combo, show_items
from ribpatch.ui.widgets.themed import Themed

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtPrintSupport import QPrinter

    from ribpatch.ui.pdf_pages import PdfPages
    from ribpatch.ui.tasks import Steps
    from ribpatch.ui.window import Window

GAP = 14  # pixels between pages
KEPT = 8  # pages kept as pictures
NO_PRINTER = "No printer is set up on this computer: save the paper as PDF and print it elsewhere."


class PageRoll(Themed):
    """Pages one below the other; only those in view are drawn."""

    scaled = False

    def __init__(self, theme: str) -> None:
        super().__init__("pages of the paper")
        self.theme = theme
        self.pages: PdfPages | None = None
        self._drawn: dict[tuple[int, int], QImage] = {}
        self._wide = 400
        self._tops = [float(GAP)]  # where each page begins, and the next one would, pixels
        self.said = ""

    def show_pages(self, pages: PdfPages | None, said: str = "") -> None:
        """Show other pages, or say why there are none."""
        self.pages, self.said = pages, said
        self._drawn.clear()
        self.fit(self._wide)

    def say(self, words: str) -> None:
        """Say something else where there are no pages."""
        if words != self.said:
            self.said = words
            self.update()

    def fit(self, wide: int) -> None:
        """Give the pages a width, pixels."""
        self._wide = max(wide, 120)
        sizes = self.pages.sizes if self.pages is not None else ()
        highs = ((self._wide - 2 * GAP) * high / across for across, high in sizes)
        self._tops = list(accumulate((high + GAP for high in highs), initial=float(GAP)))
        self.setFixedSize(self._wide, round(self._tops[-1]) if sizes else 200)
        self.update()

    def page_at(self, y: float) -> int:
        """The number of the page at a height, from 0."""
        return min(bisect_right(self._tops, y, lo=1) - 1, max(len(self._tops) - 2, 0))

    def place_of(self, page: int) -> int:
        """The height at which a page begins, pixels."""
        return round(self._tops[page] - GAP)

    def paint(self, painter: QPainter) -> None:
        c = colours(self.theme)
        seen = QRectF(self.visibleRegion().boundingRect())
        painter.fillRect(seen, c["rail"])
        if self.pages is None:
            painter.setPen(c["ink"])
            painter.setFont(text_font(11))
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(QRectF(self.rect()).adjusted(20, 20, -20, -20), flags, self.said)
            return
        for page, box in self._in_view(seen):
            painter.drawImage(box, self._picture(page))
            painter.setPen(QPen(c["edge"], 1))
            painter.drawRect(box)

    def _in_view(self, seen: QRectF) -> list[tuple[int, QRectF]]:
        """The pages of which something is seen, and where they lie."""
        near = range(self.page_at(seen.top()), min(self.page_at(seen.bottom()) + 1, len(self._tops) - 1))
        wide = self._wide - 2 * GAP
        boxes = [(n, QRectF(GAP, self._tops[n], wide, self._tops[n + 1] - GAP - self._tops[n])) for n in near]
        return [(n, box) for n, box in boxes if box.intersects(seen)]

    def told(self) -> list[tuple[str, QPointF]]:
        """The words of the pages in view."""
        if self.pages is None:
            return [(self.said, QPointF(self.rect().center()))] if self.said else []
        seen, count = QRectF(self.visibleRegion().boundingRect()), len(self.pages.sizes)
        return [
            (f"Page {page + 1} of {count}: {self.pages.words(page)}", (box & seen).center())
            for page, box in self._in_view(seen)
        ]

    def _picture(self, page: int) -> QImage:
        assert self.pages is not None
        ratio = self.devicePixelRatioF()
        key = (page, round(self._wide * ratio))
        if key not in self._drawn:
            while len(self._drawn) >= KEPT:
                self._drawn.pop(next(iter(self._drawn)))
            self._drawn[key] = self.pages.picture(page, (self._wide - 2 * GAP) * ratio / self.pages.sizes[page][0])
        return self._drawn[key]


class PrintDialog(QDialog):
    """A list of papers beside the pages of the one chosen. ``write(paper, size)`` writes one as a file."""

    def __init__(self, window: Window, first: str, write: Callable[[str, str], None]) -> None:
        super().__init__(window)
        self._write = write
        self.setWindowTitle("Print")
        self._w = window
        self._making: Steps | None = None
        self.pages: PdfPages | None = None
        self.list = QListWidget()
        self.list.setAccessibleName("papers")
        sized(self.list, least_width=190, most_width=216)
        for spec in PAPERS.values():
            self.list.addItem(spec.title)
        self.paper = Combo()
        self.paper.setAccessibleName("paper")
        self.roll = PageRoll(window.settings.look)
        self.view = QScrollArea()
        self.view.setWidget(self.roll)
        self.view.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        self.view.setAccessibleName("the paper")
        self.view.setObjectName("reads")
        self.view.verticalScrollBar().valueChanged.connect(lambda _value: self._tell_page())
        self.told = QLabel()
        self.range = QLineEdit()
        self.range.setPlaceholderText("all pages, or 1-3, 7")
        self.range.setAccessibleName("pages to print")
        self.zoom = 1.0
        self._compose()
        window.session.told.connect(self._heard)
        window.tasks.busy.connect(self._busy)
        self._listens = True
        self.list.currentRowChanged.connect(lambda _row: self._picked())
        self.paper.activated.connect(lambda _index: self.make())
        size_within(self, *ALL_OF_IT)
        self.list.setCurrentRow(list(PAPERS).index(first))
        self.list.setFocus()

    def _compose(self) -> None:
        left = QVBoxLayout()
        left.addWidget(self.list, 1)
        left.addWidget(QLabel("On"))
        left.addWidget(self.paper)
        left.addWidget(QLabel("Pages"))
        left.addWidget(self.range)
        self.printing = self._button(
            "Print…", "Choose a printer and print, at 100 % and not fitted (Ctrl+P)", self.print_
        )
        self.printing.setShortcut("Ctrl+P")
        self.saving = self._button("Save as PDF…", "Write this paper as a file (Ctrl+S)", self.save)
        self.saving.setShortcut("Ctrl+S")
        closing = self._button("Close", "Back to the job (Esc)", self.reject)
        closing.setObjectName("plain")
        for button in (self.printing, self.saving, closing):
            left.addWidget(button)
        right = QVBoxLayout()
        row = QHBoxLayout()
        row.addWidget(self.told, 1)
        for text, factor, tip in (("−", 1 / 1.25, "Smaller (Ctrl+−)"), ("+", 1.25, "Larger (Ctrl++)")):
            button = self._button(text, tip, lambda f=factor: self.look(f))
            button.setObjectName("plain")
            button.setShortcut("Ctrl+-" if factor < 1 else "Ctrl++")
            button.setAccessibleName(tip.split(" ")[0].lower())
            row.addWidget(button)
        right.addLayout(row)
        right.addWidget(self.view, 1)
        whole = QHBoxLayout(self)
        whole.addLayout(left)
        whole.addLayout(right, 1)

    def _button(self, text: str, tip: str, do: Any) -> QPushButton:
        button = QPushButton(text)
        button.setToolTip(tip)
        button.setAutoDefault(False)
        button.clicked.connect(lambda _checked=False: do())
        return button

    # ---- the paper ----

    @property
    def chosen(self) -> str:
        """The id of the paper looked at."""
        return list(PAPERS)[max(self.list.currentRow(), 0)]

    def _picked(self) -> None:
        usual = usual_paper(self._w)
        sizes = PAPERS[self.chosen].sizes or (usual,)
        show_items(self.paper, [(p, p.replace("roll-", "a roll of ") + (" mm" if "roll" in p else "")) for p in sizes])
        self.paper.setCurrentIndex(max(self.paper.findData(usual), 0))
        self.paper.setEnabled(len(sizes) > 1)
        self.range.clear()
        self.make()

    def make(self) -> None:
        """Make the paper chosen beside the window, and show it."""
        self._call_off()
        spec, paper = PAPERS[self.chosen], str(self.paper.currentData())
        self._show(None, f"Making {spec.said}…")
        make = spec.prepare(self._w)
        if make is None:
            return

        def done(result: Any, error: Exception | None) -> None:
            if mine is not self._making:
                return  # it had ended before it was called off
            self._making = None
            if error is not None:
                words = error.sentence if isinstance(error, Fault) else f"It did not work: {error}"
                self._show(None, words)
                return
            from ribpatch.ui.pdf_pages import PdfPages

            self._show(PdfPages(result), "")

        mine = self._w.tasks.run_steps(f"making {spec.said}", lambda told: make(".pdf", paper, told), done)
        self._making = mine

    def _call_off(self) -> None:
        """What is being made is not wanted any more: nothing else has to wait for it."""
        if self._making is not None:
            self._making.cancel()
            self._making = None

    def _busy(self, _said: str) -> None:
        """How far the paper has come."""
        if self.pages is None and self._making is not None and self._making.share > 0:
            self.roll.say(f"Making {PAPERS[self.chosen].said}… {self._making.share:.0%}")

    def _heard(self, sentence: str) -> None:
        """What is told to the window, which stands behind: why a paper cannot be made, where it was written."""
        if self.pages is None and sentence:
            self.roll.show_pages(None, sentence)
        elif sentence:
            self.told.setText(sentence)

    def _show(self, pages: PdfPages | None, said: str) -> None:
        if self.pages is not None:
            self.pages.close()
        self.pages = pages
        self.roll.show_pages(pages, said)
        self.look(1.0)
        self.view.verticalScrollBar().setValue(0)
        for button in (self.printing, self.saving):
            button.setEnabled(pages is not None)
        self._tell_page()

    def look(self, factor: float) -> None:
        """Look closer or from further away."""
        self.zoom = min(max(self.zoom * factor, 0.4), 4.0)
        here = self.roll.page_at(self.view.verticalScrollBar().value() + 40)
        self.roll.fit(int((self.view.viewport().width() - 4) * self.zoom * 0.8))
        self.view.verticalScrollBar().setValue(self.roll.place_of(here) if self.pages is not None else 0)

    def _tell_page(self) -> None:
        if self.pages is None:
            self.told.setText("")
            return
        page = self.roll.page_at(self.view.verticalScrollBar().value() + self.view.height() // 3)
        wide, high = (v / 72 * 25.4 for v in self.pages.sizes[page])
        self.told.setText(f"Page {page + 1} of {len(self.pages.sizes)}, {fixed(wide, 0)} × {fixed(high, 0)} mm")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        bar = self.view.verticalScrollBar()
        pages = {Qt.Key.Key_PageDown: 1, Qt.Key.Key_PageUp: -1}
        if event.key() in pages and self.pages is not None:
            here = self.roll.page_at(bar.value() + 40)
            bar.setValue(self.roll.place_of(min(max(here + pages[Qt.Key(event.key())], 0), len(self.pages.sizes) - 1)))
        elif event.key() not in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            super().keyPressEvent(event)

    # ---- what becomes of it ----

    def print_(self) -> None:
        """Ask for a printer and print."""
        from PySide6.QtPrintSupport import QPrintDialog, QPrinter, QPrinterInfo

        numbers = self._numbers()
        if self.pages is None or numbers is None:
            return
        if not QPrinterInfo.availablePrinterNames():
            self.told.setText(NO_PRINTER)
            return
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        printer.setDocName(f"{self._w.session.job.boat.name}: {PAPERS[self.chosen].title}")
        if QPrintDialog(printer, self).exec() == QPrintDialog.DialogCode.Accepted:
            self.print_on(printer, numbers)

    def print_on(self, printer: QPrinter, numbers: list[int]) -> None:
        """Print pages on a printer, and say how it went."""
        assert self.pages is not None
        count = len(numbers)
        told = QProgressDialog("", "Stop", 0, count, self)
        told.setWindowTitle("Print")
        told.setWindowModality(Qt.WindowModality.WindowModal)

        def go_on(done: int) -> bool:
            told.setLabelText(f"Page {done + 1} of {count}")
            told.setValue(done)
            return not told.wasCanceled()

        done = self.pages.print_on(printer, numbers, go_on)
        few = "" if done == count else ": stopped" if told.wasCanceled() else ": the printer took no more"
        told.reset()
        told.deleteLater()
        self.told.setText(f"{done} of {count} pages sent to {printer.printerName() or 'the file'}{few}.")

    def _numbers(self) -> list[int] | None:
        from ribpatch.ui.pdf_pages import pages_of

        count = len(self.pages.sizes) if self.pages is not None else 0
        try:
            return pages_of(self.range.text(), count)
        except ValueError:
            self.told.setText(f"“{self.range.text().strip()}” are no pages of 1 to {count}; write them like 1-3, 7.")
            return None

    def save(self) -> None:
        """Write this paper as PDF."""
        self._write(self.chosen, str(self.paper.currentData()))

    def done(self, result: int) -> None:
        self._call_off()
        if self._listens:
            self._listens = False
            self._w.tasks.busy.disconnect(self._busy)
            self._w.session.told.disconnect(self._heard)
        if self.pages is not None:
            self.roll.show_pages(None)
            self.pages.close()
            self.pages = None
        super().done(result)
