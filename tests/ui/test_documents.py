"""Files from the window: new, save, open, recovery, papers, and a second program."""

import os
import signal
import subprocess
import sys
import time

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QFileDialog, QMessageBox

from ribpatch.core.edits import set_value
from ribpatch.core.units import Measure
from ribpatch.jobfile import archive, recovery
from ribpatch.jobfile.lock import JobLock


def choose(monkeypatch, path):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(path), ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(path), ""))


def edit(window, margin=0.08):
    window.session.apply(set_value(("zones", "z1", "scheme", "cut", "margin"), Measure(si=margin)))


def fill(page, **values):
    for key, text in values.items():
        page.edits[key.replace("__", ".")].setText(text)


GOOD = {
    "boat__name": "Test Punt", "boat__length": "18'6\"", "boat__waterline": "17 ft", "boat__beam": "1.9 m", "boat__depth": "60 cm",
    "boat__displacement": "900 lb", "air__temperature": "64f", "air__humidity": "55",
}  # fmt: skip


def test_a_new_job_from_the_form_opens_on_its_first_zone(bare, qtbot):
    bare.menu_action("new_job").trigger()
    fill(bare.new_page, **GOOD)
    qtbot.mouseClick(bare.new_page.begin, Qt.MouseButton.LeftButton)
    job = bare.session.job
    assert bare.at_work and job.boat.name == "Test Punt" and job.boat.length.si == pytest.approx(18.5 * 0.3048)
    assert job.boat.displacement.typed == "900 lb" and len(job.zones) == 1 and bare.session.stage == "boat"


def test_tab_walks_the_form_line_by_line_and_back_keeps_what_was_typed(bare, qtbot):
    bare.menu_action("new_job").trigger()
    page = bare.new_page
    name, *sizes = page.edits.values()
    for wanted in (name, page.craft, *sizes, page.pick.list):
        focused = QApplication.focusWidget()
        assert focused is wanted
        if wanted in page.edits.values():
            qtbot.keyClicks(focused, "7")
        qtbot.keyClick(focused, Qt.Key.Key_Tab)
    assert QApplication.focusWidget() is page.begin
    page.cancelled.emit()
    bare.menu_action("new_job").trigger()
    assert page.edits["boat.use"].text() == "7"


def test_a_job_begins_with_nothing_typed_and_everything_assumed(bare, qtbot):
    bare.menu_action("new_job").trigger()
    page = bare.new_page
    qtbot.keyClick(page.edits["boat.name"], Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    job = bare.session.job
    assert job.boat.name == "Open outboard boat" and job.boat.kind == "open-outboard"
    assert not any(m.typed for m in (job.boat.length, job.boat.beam, job.air.temperature)) and bare.at_work
    assert job.zones[0].wrong == "soft-deck" and bare.session.stage == "boat"


def test_sizes_follow_what_she_is_and_her_length_until_they_are_typed(bare, qtbot):
    bare.menu_action("new_job").trigger()
    page = bare.new_page
    page.craft.setFocus()
    qtbot.keyClick(page.craft, Qt.Key.Key_End)
    assert "8.50 m" in page.edits["boat.length"].placeholderText()
    before = page.edits["boat.beam"].placeholderText()
    page.edits["boat.length"].setFocus()
    qtbot.keyClicks(page.edits["boat.length"], "6 m")
    qtbot.keyClick(page.edits["boat.length"], Qt.Key.Key_Tab)
    assert page.edits["boat.beam"].placeholderText() not in ("", before)
    page.pick.list.choose("rotten-bulkhead")
    assert "foot" in page.pick.words.text() and page.pick.plan._drawing is not None
    qtbot.mouseClick(page.begin, Qt.MouseButton.LeftButton)
    boat, zone = bare.session.job.boat, bare.session.zone
    assert (boat.length.si, boat.length.typed) == (6.0, "6 m") and boat.kind == "catamaran" and zone.kind == "bulkhead"


@pytest.mark.parametrize(
    ("key", "text", "says"),
    [("boat.beam", "wide", "no number"), ("boat.beam", "290 m", "outside"), ("boat.year", "old", "no number"),
     ("boat.waterline", "30 m", "mistyped"), ("air.humidity", "140", "outside"), ("boat.year", "1066", "greater")],
)  # fmt: skip
def test_the_form_explains_each_line_and_makes_no_job(bare, qtbot, key, text, says):
    bare.menu_action("new_job").trigger()
    fill(bare.new_page, **GOOD)
    bare.new_page.edits[key].setText(text)
    qtbot.mouseClick(bare.new_page.begin, Qt.MouseButton.LeftButton)
    assert not bare.at_work and not bare.session.is_open
    said = " ".join([*(note.text() for note in bare.new_page.notes.values()), bare.new_page.note.text()])
    assert says in said


def test_save_open_and_recent(window, monkeypatch, tmp_path):
    path = tmp_path / "launch.ribpatch"
    choose(monkeypatch, path)
    edit(window)
    window.menu_action("save").trigger()
    assert archive.load(path) == window.session.job and not window.session.unsaved
    assert "saved" in window.work.strip.state.text() and window.settings.recent == [path]
    edit(window, 0.09)
    assert window.session.unsaved and window.isWindowModified()
    monkeypatch.setattr(window.documents, "may_leave", lambda: True)
    window.menu_action("open_job").trigger()
    assert window.session.zone.scheme.cut.margin.si == pytest.approx(0.08)


def test_a_name_without_an_ending_gets_ours(window, monkeypatch, tmp_path):
    choose(monkeypatch, tmp_path / "launch")
    window.menu_action("save_as").trigger()
    assert (tmp_path / "launch.ribpatch").is_file()


def test_a_failed_save_is_told_and_the_job_stays_unsaved(window, monkeypatch, tmp_path):
    choose(monkeypatch, tmp_path / "no" / "launch.ribpatch")
    edit(window)
    window.menu_action("save").trigger()
    assert "folder is not there" in window.message.label.text() and window.session.unsaved


def test_a_damaged_file_leaves_the_open_job(window, monkeypatch, tmp_path):
    path = tmp_path / "bad.ribpatch"
    path.write_bytes(b"nonsense")
    before = window.session.job
    window.open_path(path)
    assert window.session.job is before and "damaged" in window.message.label.text() and window.at_work


def test_a_job_that_names_an_unknown_material_leaves_the_open_one(window, tmp_path, job):
    from ribpatch.core.fields import set_at
    from ribpatch.core.scheme import StackLine

    path = tmp_path / "odd.ribpatch"
    archive.save(set_at(job, ("zones", "z1", "scheme", "laminate", "plies"), (StackLine(fabric="biax-45-60"),)), path)
    before = window.session.job
    window.open_path(path)
    assert window.session.job is before and "Did you mean biax-45-600" in window.message.label.text()
    JobLock(path).release()


def test_a_job_open_elsewhere_is_not_opened(window, tmp_path, job):
    path = tmp_path / "launch.ribpatch"
    archive.save(job, path)
    other = JobLock(path)
    before = window.session.job
    window.open_path(path)
    assert window.session.job is before and "another Rib Patch" in window.message.label.text()
    other.release()
    window.open_path(path)
    assert window.session.path == path


def test_leaving_unsaved_work_asks(window, monkeypatch):
    edit(window)
    asked = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: asked.append(box.text()))
    assert window.documents.may_leave() is False
    assert "not saved" in asked[0]


def test_each_edit_is_kept_for_recovery_soon_after(window, qtbot):
    edit(window)
    qtbot.waitUntil(lambda: "kept for recovery" in window.work.strip.state.text(), timeout=5000)
    copies = list((recovery.state_folder() / "recovery").glob("*.ribpatch"))
    assert len(copies) == 1 and archive.load(copies[0]) == window.session.job
    window.menu_action("undo").trigger()
    assert list((recovery.state_folder() / "recovery").glob("*.ribpatch")) == []


def test_papers_are_written_beside_the_window(window, qtbot, monkeypatch, tmp_path, one_zone):
    one_zone(window)
    for action, name in (("work_pack", "pack.pdf"), ("shopping_list", "list.csv"), ("export_readings", "readings.csv")):
        path = tmp_path / name
        choose(monkeypatch, path)
        window.menu_action(action).trigger()
        qtbot.waitUntil(path.is_file, timeout=20000)
        qtbot.waitUntil(lambda n=name: n in window.message.label.text())
    assert (tmp_path / "pack.pdf").read_bytes().startswith(b"%PDF")


def test_a_paper_that_cannot_be_written_is_told(window, qtbot, monkeypatch, tmp_path):
    choose(monkeypatch, tmp_path / "no" / "pack.pdf")
    window.menu_action("shopping_list").trigger()
    qtbot.waitUntil(lambda: "cannot be written" in window.message.label.text(), timeout=20000)


def test_what_a_killed_window_leaves_is_offered_and_recovered(bare, qtbot, tmp_path, job):
    """A real second process edits and is killed with no chance to tidy up."""
    path = tmp_path / "launch.ribpatch"
    archive.save(job, path)
    code = f"""
import sys, time
from pathlib import Path
from PySide6.QtCore import QTimer
from ribpatch.ui.app import make_app, make_window
from ribpatch.core.edits import set_value
from ribpatch.core.units import Measure
app = make_app([]); w = make_window(app); w.show(); w.open_path(Path({str(path)!r}))
w.session.apply(set_value(("zones", "z1", "scheme", "taper", "ratio"), Measure(si=17, typed="17:1")))
w.documents.state.connect(lambda text: print(text, flush=True))
QTimer.singleShot(20000, app.quit)
app.exec()
"""
    run = subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, text=True)
    for line in run.stdout:
        if "kept for recovery" in line:
            break
    assert run.poll() is None, "the edit was never kept"
    os.kill(run.pid, signal.SIGKILL)
    run.communicate()
    bare.show_start()
    qtbot.waitUntil(lambda: bool(bare.documents.found()))
    (item,) = bare.documents.found()
    bare.start_page.recover_wanted.emit(item)
    assert bare.session.zone.scheme.taper.ratio.si == 17 and bare.session.path == path and bare.session.unsaved
    assert archive.load(path) == job, "the file itself is untouched"
    bare.menu_action("save").trigger()
    assert archive.load(path).zone("z1").scheme.taper.ratio.typed == "17:1"


@pytest.mark.skipif(not os.path.exists("/usr/bin/Xvfb"), reason="Xvfb is not installed")
def test_the_real_window_opens_under_x_and_survives_a_kill(tmp_path):
    """The program as installed, on a real X display: it paints, keeps work, and dies without harm."""
    display = f":{90 + os.getpid() % 500}"
    server = subprocess.Popen(
        ["Xvfb", display, "-screen", "0", "1280x800x24", "-nolisten", "tcp"], stderr=subprocess.DEVNULL
    )
    ready = tmp_path / "ready"
    environment = {**os.environ, "DISPLAY": display, "QT_QPA_PLATFORM": "xcb"}
    try:
        time.sleep(1.0)
        run = subprocess.Popen(
            [sys.executable, "-m", "ribpatch", "--demo", "--ready-file", str(ready)],
            env=environment,
            stderr=subprocess.PIPE,
            text=True,
        )
        end = time.monotonic() + 40
        while not ready.exists() and run.poll() is None and time.monotonic() < end:
            time.sleep(0.1)
        alive = run.poll() is None
        run.kill()
        said = run.communicate()[1]
        assert ready.exists() and alive, said
    finally:
        server.terminate()
        server.wait()
