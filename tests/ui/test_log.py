"""Log driven as a user would: entries in one press, corrections, the clock, coupons, other jobs, learning."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication
from tests.papers import text_of

from ribpatch.core.log_edits import log_entry
from ribpatch.jobfile import archive
from ribpatch.library.shop import read_shop
from ribpatch.ui.documents import AUTOSAVE_MS

SLOW = "epoxy-5-1-slow"


@pytest.fixture
def log(window, qtbot):
    window.session.go("z4", "log")
    QApplication.processEvents()
    bench = window.showing.benches["log_bench"]
    bench.now.now = lambda: "2026-12-01T10:00"
    window.grab()
    return bench


def press(qtbot, button):
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    QApplication.processEvents()


def choose(box, data):
    box.setCurrentIndex(box.findData(data))


def test_a_step_is_begun_and_ended_in_one_press_each(window, log, qtbot):
    assert not window.session.stack.canUndo()
    now = log.now
    choose(now.step, "z4.strip")
    press(qtbot, now.kinds["begun"])
    press(qtbot, now.log)
    entry = window.session.job.log.entries[0]
    assert (entry.kind, entry.step, entry.at) == ("begun", "z4.strip", "2026-12-01T10:00")
    now.now = lambda: "2026-12-01T12:30"
    press(qtbot, now.kinds["ended"])
    press(qtbot, now.log)
    assert [e.kind for e in window.session.job.log.entries] == ["begun", "ended"]
    press(qtbot, log.button("Estimate and actual"))
    assert log.against.table.rows[0].cells[2] == "2.5 h"
    window.menu_action("undo").trigger()
    assert len(window.session.job.log.entries) == 1


def test_a_cup_with_a_wrong_ratio_is_logged_and_raised_at_once(window, log, qtbot, type_in):
    now = log.now
    press(qtbot, now.kinds["mixed"])
    choose(now.step, "z4.prime")
    choose(now.resin, SLOW)
    now.lines[0].setText("400 g")
    type_in(now.lines[1], "40 g")
    assert window.session.job.log.entries[-1].hardener.si == pytest.approx(0.04)
    assert "short" in now.raised.text() and "⚠" in now.raised.text()
    type_in(now.lines[0], "a cup")
    assert len(window.session.job.log.entries) == 1 and "Nothing was logged" in now.raised.text()
    press(qtbot, now.kinds["laid"])
    choose(now.step, "")
    press(qtbot, now.log)
    assert len(window.session.job.log.entries) == 1 and "choose the step" in now.raised.text()


def test_what_is_wet_stands_there_and_is_reminded_of(window, log, qtbot):
    now, told = log.now, []
    window.session.told.connect(told.append)
    now.reminded.connect(told.append)
    press(qtbot, now.kinds["laid"])
    choose(now.step, "z4.lay1")
    choose(now.resin, SLOW)
    now.lines[0].setText("1")
    now.lines[1].setText("3")
    press(qtbot, now.log)
    (row,) = now.clock.table.rows
    assert row.key == "z4.lay1" and "liquid" in row.cells[2] and "gels in" in row.cells[3]
    assert not told
    gel = now.clock.table.rows[0].cells[3]
    hours = int(gel.split("in ")[1].split(" h")[0])
    now.now = lambda: f"2026-12-01T{10 + hours:02d}:55" if hours < 13 else "2026-12-01T23:59"
    for minutes in range(0, 40 * 60, 5):
        day, rest = divmod(600 + minutes, 1440)
        moment = f"2026-12-{1 + day:02d}T{rest // 60:02d}:{rest % 60:02d}"
        now.now = lambda m=moment: m
        now.look()
        if told:
            break
    assert any("gels in 0 h" in t for t in told) and len(told) == 2
    press(qtbot, now.kinds["nail"])
    choose(now.nail, "dents")
    press(qtbot, now.log)
    assert "by 1 nail tests" in now.clock.table.rows[0].cells[-1]


def test_a_correction_is_entered_in_the_form_and_stands_beside(window, log, qtbot):
    for kind, at in (("begun", "2026-12-01T08:00"), ("ended", "2026-12-01T09:00")):
        window.session.apply(log_entry(window.session.job, kind, at=at, step="z4.strip"))
    press(qtbot, log.button("Entries"))
    log.entries.grid.setCurrentCell(0, 0)
    assert log.entries.current_key == "e2"
    press(qtbot, log.mend)
    assert log.pages.currentIndex() == 0 and "stands for e2" in log.now.log.text()
    log.now.at.setText("2026-12-01 11:00")
    press(qtbot, log.now.log)
    assert window.session.job.log.entries[-1].corrects == "e2" and len(window.session.job.log.entries) == 3
    press(qtbot, log.button("Entries"))
    log.entries.grid.setCurrentCell(0, 0)
    press(qtbot, log.back)
    assert window.session.job.log.entries[-1].void and len(window.session.job.log.entries) == 4


def test_coupons_are_planned_read_and_used(window, log, qtbot):
    press(qtbot, log.button("Bond coupons"))
    panel = log.coupons
    panel.name.setText("onto peel ply")
    press(qtbot, panel.add)
    (made,) = window.session.job.log.coupons
    assert made.name == "onto peel ply" and len(made.rows) >= 3
    for row, mode, load, times in (("r1", "torn", "90 N", 5), ("r2", "clean", "", 5)):
        for _ in range(times):
            choose(panel.row, row)
            choose(panel.mode, mode)
            panel.load.setText(load)
            press(qtbot, panel.read)
    assert "5 of 5 tore fibres" in panel.words.text() and "better" in panel.words.text()
    panel.load.setText("heavy")
    press(qtbot, panel.read)
    assert len(window.session.job.log.coupons[0].rows[0].results) == 5
    shipped = {p.id: p.factor for p in window.session.shelf.preparations}
    press(qtbot, panel.take)
    own = {p.id: p.factor for p in window.session.job.own.preparations}
    second = window.session.job.log.coupons[0].rows[1].preparation
    assert own[second] < shipped[second]
    assert "take the word of the coupons" in window.session.stack.undoText()
    press(qtbot, panel.remove)
    assert window.session.job.log.coupons == ()


def test_coupons_of_every_resin_and_age_are_planned(window, log, qtbot):
    press(qtbot, log.button("Bond coupons"))
    panel = log.coupons
    panel.every.setChecked(True)
    panel.ages.setText("soon")
    press(qtbot, panel.add)
    assert window.session.job.log.coupons == () and panel.ages.text() == "soon"
    panel.ages.setText("1, 30")
    press(qtbot, panel.add)
    (made,) = window.session.job.log.coupons
    assert {r.words for r in made.rows} == {"1 day old", "30 days old"} and panel.ages.text() == ""


def test_a_cup_is_logged_with_what_it_was_worked_from_and_corrected_in_the_units_shown(window, log, qtbot, type_in):
    now = log.now
    press(qtbot, now.kinds["mixed"])
    assert now.vessel.isVisibleTo(now) and not now.nail.isVisibleTo(now)
    for edit, text in zip(now.lines, ("400 g", "69 g", "18 c", "20 min"), strict=True):
        edit.setText(text)
    choose(now.vessel, "tray")
    press(qtbot, now.log)
    made = window.session.job.log.entries[-1]
    assert made.vessel == "tray" and made.temperature.si == 18
    now.correct(made)
    assert [edit.text() for edit in now.lines] == [
        "400 g",
        "69 g",
        "18 c",
        "20 min",
    ] and now.vessel.currentData() == "tray"
    now.lines[2].clear()
    press(qtbot, now.log)
    assert (
        window.session.job.log.entries[-1].temperature is None
        and window.session.job.log.entries[-1].corrects == made.id
    )


def test_other_jobs_stand_beside_and_what_is_wrong_with_one_is_told(window, log, qtbot, tmp_path):
    told = []
    window.session.told.connect(told.append)
    press(qtbot, log.button("Other jobs"))
    archive.save(window.session.job, tmp_path / "2019.ribpatch")
    (tmp_path / "broken.ribpatch").write_bytes(b"no zip")
    log.open_beside([tmp_path / "2019.ribpatch", tmp_path / "broken.ribpatch"])
    assert log.years.table.columns[-1] == "2019.ribpatch" and len(told) == 1
    press(qtbot, log.away)
    assert len(log.years.table.columns) == 2


def test_the_shop_learns_from_a_job_and_forgets_it(window, log, qtbot):
    for kind, at in (("begun", "2026-12-01T08:00"), ("ended", "2026-12-01T17:00")):
        window.session.apply(log_entry(window.session.job, kind, at=at, step="z4.strip"))
    stage = window.showing.stages["log"]
    before = window.session.plan.zone("z4").steps.rows[0].hours
    press(qtbot, stage.learn)
    assert len(read_shop().jobs) == 1 and window.session.plan.zone("z4").steps.rows[0].hours > before
    assert "support and strip out: ×" in stage.learned_note.text()
    press(qtbot, stage.forget)
    assert window.session.plan.zone("z4").steps.rows[0].hours == before and read_shop().jobs == ()


def test_papers_of_the_log_are_written(window, log, qtbot, tmp_path, monkeypatch):
    told = []
    window.session.told.connect(told.append)
    window.menu_action("export_log").trigger()
    assert told == ["Nothing is logged yet."]
    window.session.apply(log_entry(window.session.job, "begun", at="2026-12-01T08:00", step="z4.strip"))
    for action, name in (("export_log", "log.csv"), ("hand_over", "hand-over.pdf")):
        monkeypatch.setattr(window.documents, "ask_path", lambda *_, n=name: tmp_path / n)
        window.menu_action(action).trigger()
        qtbot.waitUntil(lambda n=name: (tmp_path / n).exists(), timeout=30000)
    assert (tmp_path / "log.csv").read_text().count("\n") == 2
    window.menu_action("coupon_sheet").trigger()
    assert "No coupons are planned" in told[-1]
    press(qtbot, log.button("Bond coupons"))
    press(qtbot, log.coupons.add)
    monkeypatch.setattr(window.documents, "ask_path", lambda *_: tmp_path / "coupons.pdf")
    window.menu_action("coupon_sheet").trigger()
    qtbot.waitUntil(lambda: (tmp_path / "coupons.pdf").exists(), timeout=30000)
    assert "r1.5" in text_of((tmp_path / "coupons.pdf").read_bytes())


def test_a_remark_names_photographs_that_are_there(window, log, qtbot):
    now = log.now
    press(qtbot, now.kinds["said"])
    choose(now.step, "z4.strip")
    now.lines[0].setText("p9")
    press(qtbot, now.log)
    assert window.session.job.log.entries == () and "no photograph p9" in now.raised.text()
    now.lines[0].clear()
    now.note.setText("the bolt had no washer")
    press(qtbot, now.log)
    assert window.session.job.log.entries[0].deviation and window.session.job.log.entries[0].note


KILLED = """
import os, sys, time
from PySide6.QtWidgets import QApplication
from ribpatch.ui.app import make_app, make_window
from ribpatch.core.log_edits import log_entry
app = make_app([])
window = make_window(app)
window.show()
window.menu_action("demo_job").trigger()
window.session.apply(log_entry(window.session.job, "begun", at="2026-12-01T08:00", step="z4.strip"))
print("logged", flush=True)
end = time.monotonic() + 60
while time.monotonic() < end:
    app.processEvents()
    time.sleep(0.01)
"""


def test_an_entry_is_on_disk_before_a_kill(tmp_path):
    env = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    process = subprocess.Popen([sys.executable, "-c", KILLED], stdout=subprocess.PIPE, env=env)
    assert process.stdout is not None and process.stdout.readline().strip() == b"logged"
    until, copies = time.monotonic() + 15.0, []  # a busy machine wakes late
    while not copies and time.monotonic() < until:
        time.sleep(0.05)
        copies = list(Path(os.environ["XDG_STATE_HOME"]).rglob(f"*{archive.SUFFIX}"))
    process.send_signal(signal.SIGKILL)
    process.wait()
    process.stdout.close()
    assert AUTOSAVE_MS <= 1000 and len(copies) == 1 and archive.load(copies[0]).log.entries[0].step == "z4.strip"
