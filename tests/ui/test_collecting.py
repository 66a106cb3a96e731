"""Circles of objects are let go in the window's thread only; what was copied does not take the program down at its end."""

import ctypes
import gc
import subprocess
import sys
import weakref
from enum import EnumType
from pathlib import Path

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QPoint, Qt, QThread
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QApplication,
    QButtonGroup,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)
from shiboken6 import isValid
from tests.ui.geometry import places

from ribpatch.ui import collecting, typed
from ribpatch.ui.collecting import Collector, give_back
from ribpatch.ui.touch import touchable
from ribpatch.ui.widgets.by_eye import by_eye
from ribpatch.ui.widgets.emptying import clear_layout
from ribpatch.ui.widgets.flow import Flow


class Circle:
    """An object that only a look for circles lets go."""

    def __init__(self):
        self.me = self


def test_nothing_else_looks_for_circles_once_the_window_does(qapp):
    assert qapp.findChild(Collector) is not None and not gc.isenabled()
    where = []
    circle = Circle()
    weakref.finalize(circle, lambda: where.append(QThread.currentThread() is qapp.thread()))
    del circle
    gc.collect()
    assert where == [True]


def test_the_young_are_looked_through_once_there_are_many(qapp, monkeypatch):
    collector, looked = qapp.findChild(Collector), []
    monkeypatch.setattr(collecting.gc, "get_count", lambda: (10, 0, 0))
    monkeypatch.setattr(collecting.gc, "collect", looked.append)
    collector.look()
    assert looked == []
    monkeypatch.setattr(collecting.gc, "get_count", lambda: (collecting.YOUNG, 0, 0))
    for _ in range(2 * collecting.ALL):
        collector.look()
    assert looked.count(2) == 2 and looked.count(0) == 2 * (collecting.ALL - 1)


def resident():
    row = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith("VmRSS"))
    return int(row.split()[1]) / 1024


def test_what_is_let_go_is_given_back_to_the_system():
    kept = [bytes(1000) for _ in range(100_000)]
    high = resident()
    last = kept[-1]  # holds the end of the heap
    del kept
    give_back()
    assert len(last) == 1000 and resident() < high - 60


def gone():
    """Widgets that Qt took away and Python still holds."""
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    gc.collect()
    return sum(isinstance(o, QWidget) and not isValid(o) for o in gc.get_objects())


def test_nothing_is_held_of_widgets_that_were_made_anew(window, qtbot):
    """Rows with spin boxes are made anew in Rebuild; typed text, the order of Tab and fingers look through them."""
    before = gone()
    for zone in ("z1", "z2", "z1", "z4"):
        window.session.go(zone, "rebuild")
        QApplication.processEvents()
        touchable(window)
        stage = window.showing.stage("rebuild")
        assert len(by_eye(stage)) > 5 and typed.settle(stage) == ""
        window.session.go(zone, "boat")
    assert gone() == before


def test_no_group_outlives_its_buttons(window):
    def groups():
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        return sum(isinstance(o, QButtonGroup) and isValid(o) for o in gc.get_objects())

    window.session.go("z1", "prove")
    for stage in ("open", "rebuild", "find"):
        window.session.go("z1", stage)
    before = groups()
    for _ in range(4):  # rows of pages are made anew, and those of what acts on a panel
        for zone in ("z1", "z2", "z3"):
            window.session.go(zone, "prove")
        window.session.go("z1", "open")
    assert groups() <= before + 1


def test_what_follows_fingers_keeps_nothing_for_ever(qtbot):
    def gestures():
        gc.collect()
        return sum(isinstance(o, EnumType) and o.__name__ == "GestureType" for o in gc.get_objects())

    room, rows = QWidget(), []
    qtbot.addWidget(room)
    for _ in range(6):
        area = QScrollArea(room)
        area.setWidget(QLabel("line\n" * 200))
        area.resize(200, 200)
        touchable(area)
        rows.append(gestures())
    assert rows[1:] == rows[:1] * 5
    room.show()
    finger, inside = QTest.createTouchDevice(), area.viewport()
    for y in (180, 170, 150, 120, 90, 60):
        touch = QTest.touchEvent(inside, finger)
        (touch.press if y == 180 else touch.move)(0, QPoint(50, y), inside)
        touch.commit()
        qtbot.wait(20)
    QTest.touchEvent(inside, finger).release(0, QPoint(50, 60), inside).commit()
    qtbot.waitUntil(lambda: area.verticalScrollBar().value() > 50)


COPYING = """
from pathlib import Path
from ribpatch.library.kept import kept_demo_job
from ribpatch.ui.app import make_app, make_window
from ribpatch.ui.settings import Settings
app = make_app([])
window = make_window(app, Settings(Path({ini!r})))
window.show_new_job(kept_demo_job(), "open")
window.show()
app.processEvents()
window.zone_bench.plan_canvas.setFocus()
for _ in range(3):
    window.menu_action("copy").trigger()
assert "Copied" in window.message.label.text()
window.menu_action("shed").trigger()
window.session.go("z2", "rebuild")
app.processEvents()
window.session.stack.setClean()
window.close()
assert app.clipboard().mimeData().hasImage()
print("ended")
"""


def test_a_program_that_copied_a_drawing_and_followed_fingers_ends_as_it_should(tmp_path):
    run = [sys.executable, "-c", COPYING.format(ini=str(tmp_path / "window.ini"))]
    ended = subprocess.run(run, capture_output=True, text=True, timeout=120)
    assert ended.stdout.strip() == "ended" and ended.returncode == 0, ended.stderr


def test_where_tab_goes_is_found_without_asking_for_proxies(window, monkeypatch):
    """The binding takes what a part of Qt's own names as its proxy for that part's, and lets both go with a page and all
    in it, some hundreds of presses later.
    """
    asked = []
    monkeypatch.setattr(QWidget, "focusProxy", lambda widget: asked.append(widget))
    for _ in places(window, ["z1"], stages=("order", "prove", "rebuild")):
        assert by_eye(window.showing.centre) and by_eye(window.showing.decisions)
    assert not asked


class InUse(ctypes.Structure):
    """What glibc's allocator tells of itself, bytes."""

    _fields_ = tuple(
        (name, ctypes.c_size_t)
        for name in [
            "arena",
            "ordblks",
            "smblks",
            "hblks",
            "hblkhd",
            "usmblks",
            "fsmblks",
            "uordblks",
            "fordblks",
            "keepcost",
        ]
    )


def test_nothing_is_left_of_a_layout_that_was_emptied(qtbot):
    room = QWidget()
    qtbot.addWidget(room)
    column, row, flow = QVBoxLayout(room), QHBoxLayout(), Flow()
    for layout in (row, flow):
        layout.addWidget(QLabel("words"))
        column.addLayout(layout)
    row.addStretch(1)
    column.addWidget(QPushButton("press"))
    widgets = [layout.itemAt(n).widget() for layout, n in ((row, 0), (flow, 0), (column, 2))]
    room.show()
    clear_layout(column)
    assert column.count() == 0 and all(isValid(w) and not w.isVisible() for w in widgets)
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    assert not any(isValid(part) for part in (*widgets, row)) and not room.findChildren(QWidget)


@pytest.mark.skipif(not hasattr(ctypes.CDLL(None), "mallinfo2"), reason="the allocator does not tell what is in use")
def test_the_places_of_widgets_are_let_go_with_them(qtbot):
    """They were not: 96 bytes for each widget that was made anew."""
    libc = ctypes.CDLL(None)
    libc.mallinfo2.restype = InUse
    room = QWidget()
    qtbot.addWidget(room)
    column = QVBoxLayout(room)

    def used_after(times):
        for _ in range(times):
            for _ in range(20):
                column.addWidget(QLabel("a"))
            clear_layout(column)
            QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        return libc.mallinfo2().uordblks

    first = used_after(300)  # what is kept once and for all is made
    assert used_after(200) - first < 0.25 * 96 * 20 * 200


def test_a_button_may_empty_its_own_row(qtbot):
    room = QWidget()
    qtbot.addWidget(room)
    row = QHBoxLayout(room)
    for name in ("one", "two"):
        button = QPushButton(name)
        button.clicked.connect(lambda: clear_layout(row))
        row.addWidget(button)
    room.show()
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert row.count() == 0 and isValid(button)


STORES = """
import ctypes, sys, threading
from ribpatch.ui.collecting import share_memory
from ribpatch.ui.tasks import Tasks
from ribpatch.ui.app import make_app, make_window
app = make_app([])
c = ctypes.CDLL(None)
c.fopen.restype = ctypes.c_void_p
c.malloc_info.argtypes = [ctypes.c_int, ctypes.c_void_p]
c.fclose.argtypes = [ctypes.c_void_p]
def stores():
    stream = c.fopen(sys.argv[1].encode(), b"w")
    c.malloc_info(0, stream)
    c.fclose(stream)
    return open(sys.argv[1]).read().count("<heap nr=")
def work():
    ready.wait()
    kept.append([bytearray(5000) for _ in range(200)])
before = stores()
if sys.argv[2] == "work":
    Tasks().run("", lambda: None, lambda _result, _error: None)
if sys.argv[2] == "window":
    window = make_window(app)
    window.menu_action("demo_job").trigger()
    window.show()
    [app.processEvents() for _ in range(20)]  # Qt paints with threads of its own
    assert stores() == before
    window.close()
ready, kept = threading.Barrier(4), []
threads = [threading.Thread(target=work) for _ in range(4)]
[t.start() for t in threads]
[t.join() for t in threads]
print(stores() - before)
"""


@pytest.mark.skipif(not hasattr(ctypes.CDLL(None), "malloc_info"), reason="this allocator tells nothing of itself")
def test_threads_take_their_memory_from_one_store_once_there_is_a_job_or_work_beside_the_window(tmp_path):
    def more(how: str) -> int:
        command = [sys.executable, "-c", STORES, str(tmp_path / "stores.xml"), how]
        return int(subprocess.run(command, capture_output=True, text=True, check=True).stdout.split()[-1])

    assert more("work") == more("window") == 0 < more("none")
