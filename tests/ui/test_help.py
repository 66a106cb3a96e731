"""The manual in the window: F1 at a rung, links, back, looking up, from the working of a figure, and how it fits."""

import pytest
from PySide6.QtCore import Qt, QUrl
from PySide6.QtWidgets import QApplication, QLineEdit
from tests.ui.geometry import findings, settle

from ribpatch.library.manual import PAGES
from ribpatch.stages import STAGES
from ribpatch.ui.widgets.by_eye import by_eye


@pytest.mark.parametrize("stage", [s.id for s in STAGES])
def test_f1_opens_the_page_of_the_rung(window, stage):
    window.session.go("z1", stage)
    window.menu_action("manual").trigger()
    assert window.menu_action("manual").shortcut().toString() == "F1"
    sheet = window.manual
    assert sheet.isVisible() and sheet.page == stage
    assert sheet.title.text() == next(s.name for s in STAGES if s.id == stage)
    assert len(sheet.text.toPlainText()) > 300


def test_before_a_job_is_open_it_tells_of_first_steps(bare):
    bare.menu_action("manual").trigger()
    assert bare.manual.isVisible() and bare.manual.page == "first-steps"


def test_links_lead_on_and_back_and_nowhere_else(window, qtbot):
    sheet = window.manual
    window.menu_action("manual").trigger()
    sheet.text.anchorClicked.emit(QUrl("glossary.md#taper-ratio"))
    settle()
    assert sheet.page == "glossary#taper-ratio"
    top = sheet.text.cursorForPosition(sheet.text.viewport().rect().topLeft()).block().text()
    assert "Taper ratio" in (top, sheet.text.textCursor().block().text())
    for link in ("https://example.org/", "nothing.md", "file:///etc/passwd"):
        sheet.text.anchorClicked.emit(QUrl(link))
    assert sheet.page == "glossary#taper-ratio"
    qtbot.mouseClick(sheet.back, Qt.MouseButton.LeftButton)
    assert sheet.page == "open" and not sheet.back.isEnabled()


def test_every_page_can_be_read(window):
    window.menu_action("manual").trigger()
    for page in PAGES:
        window.manual.go(page)
        assert window.manual.page == page and len(window.manual.text.toPlainText()) > 150, page
    assert "Ctrl+Shift+G" in (window.manual.go("keys") or window.manual.text.toPlainText())


def test_looking_something_up(window, qtbot):
    window.menu_action("manual").trigger()
    sheet = window.manual
    qtbot.keyClicks(sheet.line, "green window")
    assert "Glossary: Green window" in sheet.text.toPlainText()
    sheet.line.setText("zeppelin")
    assert "does not hold" in sheet.text.toPlainText()
    sheet.line.clear()
    assert sheet.title.text() == "Open"


def test_the_working_of_a_figure_leads_to_the_manual_the_glossary_and_the_sources(window):
    window.session.go("z1", "open")
    window.work.ask_working(window.session.plan.by_id["z1.taper.length"])
    html = window.work.working.text.text()
    assert "manual:open" in html and "manual:glossary#taper-ratio" in html and "manual:sources#7" in html
    window.work.working.text.linkActivated.emit("manual:sources#7")
    settle()
    assert window.manual.isVisible() and window.manual.page == "sources#7"
    assert "Scarf joints" in window.manual.text.toPlainText()


def test_esc_puts_it_away_and_the_keys_back(window, qtbot):
    window.session.go("z1", "open")
    edit = next(w for w in by_eye(window.showing.stage("open")) if isinstance(w, QLineEdit))
    edit.setFocus()
    window.menu_action("manual").trigger()
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Escape)
    assert not window.manual.isVisible() and QApplication.focusWidget() is edit


@pytest.mark.parametrize("size", [(1000, 640), (1280, 800)])
@pytest.mark.parametrize("look", ["", "shed"])
def test_it_fits_the_window_whatever_its_size(window, size, look):
    for action in look.split():
        window.menu_action(action).trigger()
    window.menu_action("manual").trigger()
    window.resize(*size)
    settle()
    sheet = window.manual
    assert window.centralWidget().geometry().contains(sheet.geometry()) and sheet.height() > 400
    assert not findings(sheet)
    sheet.go("about")
    assert sheet.text.verticalScrollBar().maximum() > 0 and not findings(sheet)


def test_a_small_screen_has_room_for_it(window):
    from PySide6.QtCore import QSize

    window.fit_in(QSize(640, 360))
    settle()
    window.menu_action("manual").trigger()
    settle()
    assert window.centralWidget().geometry().contains(window.manual.geometry()) and window.manual.text.height() > 100
