"""A real window, offscreen, with the demo job open."""

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QPointF, Qt
from PySide6.QtWidgets import QApplication, QFileDialog
from tests.bed import bed_job

from ribpatch.core.edits import remove_zone
from ribpatch.library import kept
from ribpatch.ui.app import make_app, make_window


@pytest.fixture(scope="session")
def qapp():
    return make_app([])


@pytest.fixture(autouse=True)
def no_dialog_waits(monkeypatch):
    """A question that no test answers fails it, instead of holding up all of them."""

    def asked(*_given, **_named):
        raise AssertionError("a dialog was opened that the test does not answer")

    for name in ("getSaveFileName", "getOpenFileName", "getOpenFileNames", "getExistingDirectory"):
        monkeypatch.setattr(QFileDialog, name, asked)


@pytest.fixture(scope="session")
def one_demo_job():
    """The demo job, read once: a job is frozen, and what was worked out of it for one window serves the next."""
    return bed_job()


@pytest.fixture(autouse=True)
def demo_once(monkeypatch, one_demo_job):
    monkeypatch.setattr(kept, "kept_demo_job", lambda: one_demo_job)


@pytest.fixture
def unseen(qapp):
    """A window that is not shown yet."""
    window = make_window(qapp)
    window.settings.unfolded = True  # what a test looks for stands there already; folding has tests of its own
    window.resize(1280, 800)
    window.showing.at_once = (
        True  # what a test looks at after an edit stands there already; two steps have their own tests
    )
    yield window
    window.session.stack.setClean()
    window.close()
    # Really gone, so that a later change of style does not reach windows of earlier tests.
    window.deleteLater()
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


@pytest.fixture
def bare(unseen, qtbot):
    """A window with nothing open."""
    unseen.show_start()
    unseen.show()
    qtbot.waitExposed(unseen)
    return unseen


@pytest.fixture
def window(unseen, qtbot):
    """A window with the demo job, which is open before it is shown."""
    unseen.menu_action("demo_job").trigger()
    unseen.show()
    qtbot.waitExposed(unseen)
    QApplication.processEvents()
    return unseen


@pytest.fixture
def one_zone():
    """Leave a window one zone: what a paper holds of four is tested where papers are."""

    def left(window, zone="z4"):
        for other in window.session.job.zones:
            if other.id != zone:
                assert window.session.apply(remove_zone(other.id))
        return window

    return left


@pytest.fixture
def type_in(qtbot):
    """Type into a line as a user does: select all, type, Enter."""

    def typed(edit, text):
        edit.setFocus()
        edit.selectAll()
        qtbot.keyClicks(edit, text)
        qtbot.keyClick(edit, Qt.Key.Key_Return)

    return typed


@pytest.fixture
def drag(qtbot):
    """Drag on a canvas from one place in metres to another."""

    def dragged(canvas, start, end, steps=5):
        a, b = canvas.view.to(start), canvas.view.to(end)
        left = Qt.MouseButton.LeftButton
        qtbot.mousePress(canvas, left, pos=a.toPoint())
        for k in range(1, steps + 1):
            at = a + (b - a) * (k / steps)
            qtbot.mouseMove(canvas, QPointF(at).toPoint())
            QApplication.processEvents()
        qtbot.mouseRelease(canvas, left, pos=b.toPoint())

    return dragged
