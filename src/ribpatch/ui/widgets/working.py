"""Showing the working of a figure: formula in words, what went in and from where, source, range of validity."""

from __future__ import annotations

import re
from html import escape
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ribpatch.core.numerals import in_words
from ribpatch.ui.scaling import px
from ribpatch.ui.widgets.sheet_over import SheetOver
from ribpatch.ui.widgets.words import Words

if TYPE_CHECKING:
    from collections.abc import Callable

    from PySide6.QtCore import QRect

    from ribpatch.core.figure import Figure
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System

ASIDE, ABOVE, LEAST = 40, 90, 170  # pixels beside and above the words of a sheet, and of its height at least
MANUAL = "manual:"  # begins a link to a page of it


def working_html(figure: Figure, system: System) -> str:
    """The working as rich text; inputs that are figures themselves are links to their id."""
    rows = []
    for given in figure.inputs:
        name = escape(given.name)
        if given.figure:
            name = f'<a href="{escape(given.figure)}">{name}</a>'
        note = given.note if given.note.startswith("typed") else in_words(given.note)
        note = f"<br><small>{escape(note)}</small>" if note else ""
        rows.append(
            f"<tr><td>{name}{note}</td><td align='right'>&nbsp; {escape(given.shown(system))}</td>"
            f"<td>&nbsp; {given.origin.value}</td></tr>"
        )
    parts = [f"<p>{escape(figure.formula)}</p>"]
    if rows:
        parts.append(f"<table cellspacing='0' cellpadding='3'>{''.join(rows)}</table>")
    if figure.source:
        parts.append(f"<p><b>Source</b> {_sources(figure.source)}</p>")
    if figure.valid:
        parts.append(f"<p><b>Holds for</b> {escape(figure.valid)}</p>")
    if figure.leans:
        parts.append(f"<p><b>≈</b> {escape(figure.leans_on)}</p>")
    parts += [f"<p><b>⚠ {escape(w)}</b></p>" for w in figure.warnings]
    parts.append(_in_manual(figure))
    return "".join(parts)


def _sources(text: str) -> str:
    """The source with its numbers as links to the list of sources."""
    return re.sub(r"\[(\d+)\]", rf'<a href="{MANUAL}sources#\1">[\1]</a>', escape(text))


def _in_manual(figure: Figure) -> str:
    """Where the manual says more: the page of the figure, and the words of the trade that it uses."""
    from ribpatch.library.manual import page_of, slug, terms_in, title_of

    page = page_of(figure.id)
    links = [f'<a href="{MANUAL}{page}">{escape(title_of(page))}</a>']
    links += [
        f'<a href="{MANUAL}glossary#{slug(t)}">{escape(t.lower())}</a>'
        for t in terms_in(f"{figure.name} {figure.formula}")[:4]
    ]
    return f"<p><b>In the manual</b> {', '.join(links)}</p>"


class Overlay(SheetOver):
    """A sheet over the bench with a title, rich text and a way back."""

    def __init__(self, parent: QWidget, room: Callable[[], QRect]) -> None:
        super().__init__(parent, room)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        layout = QVBoxLayout(self)
        top = QHBoxLayout()
        self.title = QLabel()
        self.title.setObjectName("title")
        self.title.setWordWrap(True)
        self.back = QPushButton("Back")
        self.back.setObjectName("plain")
        self._close = QPushButton("Close  Esc")
        self._close.setObjectName("plain")
        top.addWidget(self.title, 1)
        top.addWidget(self.back)
        top.addWidget(self._close)
        layout.addLayout(top)
        self.text = Words()
        self.text.setTextFormat(Qt.TextFormat.RichText)
        self.text.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.text.setTextInteractionFlags(
            Qt.TextInteractionFlag.LinksAccessibleByMouse | Qt.TextInteractionFlag.LinksAccessibleByKeyboard
        )
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setWidget(self.text)
        layout.addWidget(self._scroll, 1)
        self._close.clicked.connect(lambda: self.close_sheet())

    def wanted_height(self, width: int) -> int:
        wanted = self.text.heightForWidth(width - px(ASIDE)) + px(ABOVE)
        return min(max(wanted, px(LEAST)), px(self.high))

    def show_sheet(self, title: str, html: str) -> None:
        """Show text over the bench, from its beginning."""
        self.title.setText(title)
        self.text.setText(html)
        self.lay_over()
        self._scroll.verticalScrollBar().setValue(0)
        self.setFocus()


class Working(Overlay):
    """The working of a figure, with a trail of the figures asked on the way."""

    manual_wanted = Signal(str)

    def __init__(self, parent: QWidget, room: Callable[[], QRect]) -> None:
        super().__init__(parent, room)
        self._plan: Plan | None = None
        self._system: System = "metric"
        self._trail: list[str] = []
        self.text.linkActivated.connect(self._follow)
        self.back.clicked.connect(lambda: self._step_back())

    def ask(self, figure: Figure, plan: Plan, system: System) -> None:
        """Show a figure's working."""
        self._plan, self._system, self._trail = plan, system, [figure.id]
        self._show(figure)

    def refresh(self, plan: Plan, system: System) -> None:
        """Follow a change of the job while open."""
        self._plan, self._system = plan, system
        if self.isVisible() and self._trail:
            figure = plan.figure(self._trail[-1])
            if figure is None:
                self.close_sheet()
            else:
                self.title.setText(f"{figure.name}: {figure.shown(system)}")
                self.text.setText(working_html(figure, system))

    def _show(self, figure: Figure) -> None:
        self.back.setVisible(len(self._trail) > 1)
        self.show_sheet(f"{figure.name}: {figure.shown(self._system)}", working_html(figure, self._system))

    def _follow(self, identity: str) -> None:
        if identity.startswith(MANUAL):
            self.manual_wanted.emit(identity.removeprefix(MANUAL))
            return
        figure = self._plan.figure(identity) if self._plan else None
        if figure is not None:
            self._trail.append(identity)
            self._show(figure)

    def _step_back(self) -> None:
        if len(self._trail) > 1 and self._plan is not None:
            self._trail.pop()
            figure = self._plan.figure(self._trail[-1])
            if figure is not None:
                self._show(figure)
