"""The manual over the window: a page, links between pages, a way back, and a line to look something up."""

from __future__ import annotations

from html import escape
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import QTextCursor
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QTextBrowser,
    QVBoxLayout,
)

from ribpatch.library.manual import ABOUT, KEYS, page_text, search, slug, title_of
from ribpatch.ui.about import about_html
from ribpatch.ui.actions import key_sheet
from ribpatch.ui.widgets.flow import FlowRow
from ribpatch.ui.widgets.sheet_over import SheetOver

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtCore import QRect
    from PySide6.QtGui import QKeyEvent
    from PySide6.QtWidgets import QWidget

MADE = {KEYS: key_sheet, ABOUT: about_html}
ALWAYS = (("contents", "Contents"), ("schools", "Schools"), ("glossary", "Glossary"), (KEYS, "Keys"))


class HelpSheet(SheetOver):
    """Shows pages of the manual."""

    wide, high = 800, 900

    def __init__(self, parent: QWidget, room: Callable[[], QRect]) -> None:
        super().__init__(parent, room)
        self.setAccessibleName("manual")
        self.title = QLabel()
        self.title.setObjectName("title")
        self.back, self.away = QPushButton("Back"), QPushButton("Close  Esc")
        self.line = QLineEdit()
        self.line.setPlaceholderText("look up")
        self.line.setAccessibleName("look up in the manual")
        self.line.setClearButtonEnabled(True)
        self.text = QTextBrowser()
        self.text.setAccessibleName("page of the manual")
        self.text.setOpenLinks(False)
        self._trail: list[str] = []
        self._lay_out()
        self.back.clicked.connect(lambda: self._step_back())
        self.away.clicked.connect(lambda: self.close_sheet())
        self.line.textChanged.connect(lambda: self._look_up())
        self.text.anchorClicked.connect(lambda url: self.go(url.toString()))

    def _lay_out(self) -> None:
        row = FlowRow()
        for page, text in ALWAYS:
            button = QPushButton(text)
            button.clicked.connect(lambda _checked=False, p=page: self.go(p))
            row.flow.addWidget(button)
        for button in (self.back, self.away):
            row.flow.addWidget(button)
        for button in row.findChildren(QPushButton):
            button.setObjectName("plain")
        top = QHBoxLayout()
        top.addWidget(self.title, 1)
        top.addWidget(self.line)
        layout = QVBoxLayout(self)
        layout.addLayout(top)
        layout.addWidget(row)
        layout.addWidget(self.text, 1)

    # ---- showing ----

    def show_page(self, page: str) -> None:
        """Open the manual at a page."""
        if not self.isVisible():
            self._trail = []
        self.lay_over()
        self.go(page)
        self.text.setFocus()

    @property
    def page(self) -> str:
        """The page shown, with its place."""
        return self._trail[-1] if self._trail else ""

    def go(self, link: str) -> None:
        """Follow a link: a page, a page and a place in it."""
        page, _, place = link.removesuffix(".md").replace(".md#", "#").partition("#")
        if QUrl(link).scheme() or (page not in MADE and not _known(page)):
            return
        self._trail.append(f"{page}#{place}" if place else page)
        self._show()

    def _show(self) -> None:
        page, _, place = self.page.partition("#")
        self.title.setText(title_of(page))
        if page in MADE:
            self.text.setHtml(MADE[page]())
        else:
            self.text.setMarkdown(page_text(page).partition("\n")[2])  # its title stands above
        self.back.setEnabled(len(self._trail) > 1)
        self._scroll_to(place)

    def _scroll_to(self, place: str) -> None:
        """Bring a heading to the top."""
        document = self.text.document()
        block = document.begin()
        while place and block.isValid():
            if block.blockFormat().headingLevel() and slug(block.text()) == place:
                cursor = QTextCursor(block)
                self.text.setTextCursor(cursor)
                top = document.documentLayout().blockBoundingRect(block).top()
                self.text.verticalScrollBar().setValue(round(top))
                return
            block = block.next()
        self.text.moveCursor(QTextCursor.MoveOperation.Start)

    def _step_back(self) -> None:
        if len(self._trail) > 1:
            self._trail.pop()
            self._show()

    def _look_up(self) -> None:
        words = self.line.text()
        if not words.strip():
            self._show()
            return
        hits = search(words)
        rows = "".join(
            f"<p><a href='{h.page}#{slug(h.heading)}'>{escape(title_of(h.page))}: {escape(h.heading)}</a><br>"
            f"{escape(h.line)}</p>"
            for h in hits
        )
        self.title.setText("Look up")
        self.text.setHtml(rows or "<p>The manual does not hold these words together: try one of them.</p>")

    def close_sheet(self) -> None:
        """Put the manual away; what was looked up is forgotten."""
        super().close_sheet()
        self.line.clear()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Backspace:
            self._step_back()
        else:
            super().keyPressEvent(event)


def _known(page: str) -> bool:
    try:
        page_text(page)
    except KeyError:
        return False
    return True
