"""Sheets over the bench: the working of a figure and the finder, wherever they are asked for."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtWidgets import QApplication, QPushButton, QScrollArea
from tests.ui.geometry import findings, settle

from ribpatch.ui.frame.parts import CHOICES, PLAN


def whole(window, sheet) -> bool:
    """Whether all of a sheet can be seen: it lies in the window, over everything else."""
    box = QRect(sheet.mapTo(window, QPoint(0, 0)), sheet.size())
    at = [window.childAt(point) for point in (box.topLeft(), box.center(), box.bottomRight())]
    over = all(w is sheet or sheet.isAncestorOf(w) for w in at if w is not None) and None not in at
    return sheet.isVisible() and window.rect().contains(box) and over


@pytest.fixture
def figure(window):
    window.session.go("z1", "open")
    return window.session.plan.by_id["z1.taper.length"]


def test_a_working_is_shown_over_the_choices_where_they_are_alone(window, figure, qtbot):
    window.menu_action("shed").trigger()
    window.work.parts.turn_to(CHOICES)
    window.work.ask_working(figure)
    settle()
    sheet = window.work.working
    assert whole(window, sheet) and sheet.hasFocus() and not findings(window)
    seen = []
    for _ in range(3):
        qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)
        seen.append(QApplication.focusWidget())
    assert any(sheet.isAncestorOf(widget) for widget in seen)
    window.work.parts.turn_to(PLAN)
    settle()
    assert whole(window, sheet)
    qtbot.keyClick(sheet, Qt.Key.Key_Escape)
    assert not sheet.isVisible()


def test_the_finder_is_shown_over_the_choices_and_as_high_as_its_list(window, figure, qtbot):
    window.menu_action("shed").trigger()
    window.work.parts.turn_to(CHOICES)
    window.menu_action("find_figure").trigger()
    settle()
    finder = window.work.finder
    assert whole(window, finder) and finder.line.hasFocus() and finder.height() > 200
    window.menu_action("shed").trigger()
    finder.close_sheet()
    window.menu_action("find_figure").trigger()
    settle()
    assert finder.height() == 480 and finder.findChild(QScrollArea).height() > 300


def test_words_longer_than_the_sheet_are_scrolled_whatever_was_shown_before(window, figure):
    window.work.ask_working(figure)
    sheet = window.work.working
    bar = sheet.findChild(QScrollArea).verticalScrollBar()
    for lines in (20, 60, 30):
        sheet.close_sheet()
        settle()
        sheet.show_sheet("A long one", "<br>".join(["a line"] * lines))
        settle()
        assert sheet.text.height() >= sheet.text.heightForWidth(sheet.text.width()) and bar.value() == 0
        bar.setValue(bar.maximum())
        assert bar.maximum() >= sheet.text.height() - 480
    sheet.show_sheet("Another while it is open", "<br>".join(["a line"] * 60))
    assert bar.value() == 0


def test_a_sheet_keeps_in_a_window_that_becomes_smaller(window, figure):
    window.resize(1800, 1000)
    settle()
    window.work.ask_working(figure)
    for size in ((1024, 700), (1800, 1000)):
        window.resize(*size)
        settle()
        assert whole(window, window.work.working), size
        assert window.work.working.findChildren(QPushButton)[-1].isVisible()
