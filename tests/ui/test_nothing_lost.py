"""Work is never lost: autosave at any rate, files changed underneath, typed text, wheels, names, damaged
photographs.
"""

import json
import os
import re
import subprocess
import sys
import threading
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QApplication, QComboBox, QFileDialog, QMessageBox, QPushButton, QSpinBox

from ribpatch.core import survey_edits
from ribpatch.core.edits import set_value
from ribpatch.core.record import evolve
from ribpatch.core.units import Measure
from ribpatch.jobfile import archive, recovery
from ribpatch.jobfile.album import Album
from ribpatch.jobfile.lock import JobLock
from ribpatch.ui.save_over import KEEP_BOTH, OVERWRITE, RELOAD
from ribpatch.ui.widgets.combo import Combo, Count


def edit(window, margin):
    window.session.apply(set_value(("zones", "z1", "scheme", "cut", "margin"), Measure(si=margin)))


def margin_in(path):
    return archive.load(path).zone("z1").scheme.cut.margin.si


def copies():
    return list((recovery.state_folder() / "recovery").glob("*.ribpatch"))


def choose(monkeypatch, path):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(path), ""))


def answer(monkeypatch, text):
    """Press the button of that text in the next box; returns what boxes said."""
    said = []

    def pressed(box):
        said.append(box.text())
        button = next(b for b in box.findChildren(QPushButton) if b.text() == text)
        button.click()
        return 0

    monkeypatch.setattr(QMessageBox, "exec", pressed)
    return said


@pytest.fixture
def saved(window, monkeypatch, tmp_path):
    """The demo job saved to a file and open."""
    path = tmp_path / "launch.ribpatch"
    choose(monkeypatch, path)
    assert window.documents.save()
    return path


# ---- autosave ----


def test_edits_that_never_pause_are_kept_all_the_same(window, qtbot):
    n = 0
    while not copies() and n < 2000:
        n += 1
        edit(window, 0.05 + n * 1e-6)
        qtbot.wait(80)
    assert copies(), "a copy does not wait for a pause"
    first = margin_in(copies()[0])
    while margin_in(copies()[0]) <= first and n < 4000:
        n += 1
        edit(window, 0.05 + n * 1e-6)
        qtbot.wait(80)
    assert margin_in(copies()[0]) > first, "and one follows the other while edits go on"


def test_a_long_search_holds_up_neither_autosave_nor_save(window, qtbot, saved):
    going, done = [], threading.Event()
    window.tasks.run("a long search", lambda: (going.append(1), done.wait(), going.append(2)), lambda *_: None)
    try:
        qtbot.waitUntil(lambda: going == [1])
        edit(window, 0.07)
        qtbot.waitUntil(lambda: bool(copies()))
        assert window.documents.save() and going == [1]
        assert margin_in(saved) == pytest.approx(0.07)
    finally:
        done.set()


def test_the_copy_of_work_saved_meanwhile_goes(window, qtbot, saved):
    edit(window, 0.07)
    window.documents._keep()
    assert window.documents.save()
    qtbot.waitUntil(lambda: not window.documents._writing)
    assert copies() == []


def test_photographs_lie_beside_the_copy_once_and_come_back(bare, qtbot, tmp_path, job):
    album = Album()
    member = album.add("photographs/", b"picture", ".jpg")
    with_picture = survey_edits.add_photograph("z1", member, "core").change(job)
    kept = recovery.Autosave()
    kept.write(with_picture, None, album)
    place = kept.members / "photographs" / member
    first = place.stat().st_mtime_ns
    kept.write(evolve(with_picture, notes="more"), None, album)
    assert place.stat().st_mtime_ns == first and archive.member_names(copies()[0]) == frozenset()
    kept._lock.close()
    (item,) = recovery.found()
    assert bare.documents.recover(item) and bare.session.album.get(f"photographs/{member}") == b"picture"
    assert not place.exists()


def test_a_full_disk_under_the_copy_is_told_in_plain_words_and_the_window_works(window, qtbot, monkeypatch, tmp_path):
    from ribpatch.jobfile import keeper

    full = tmp_path / "full.py"  # the same process, where no file can be made
    full.write_text(
        "import errno, os, runpy\n"
        "def full(*_): raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))\n"
        f"os.open = full\nrunpy.run_path({str(keeper.PROCESS)!r}, run_name='__main__')\n"
    )
    with monkeypatch.context() as patched:
        patched.setattr(keeper, "PROCESS", full)
        edit(window, 0.07)
        qtbot.waitUntil(lambda: "disk is full" in window.message.label.text(), timeout=5000)
        said = window.message.label.text()
        assert said.startswith("The recovery copy: cannot be written") and not re.search("[0-9a-f]{12}", said)
        assert copies() == []
    window.documents._keeping.close()
    edit(window, 0.08)
    qtbot.waitUntil(lambda: bool(copies()), timeout=5000)


# ---- recovery ----


def left_behind(job, original, folder=None):
    kept = recovery.Autosave()
    from ribpatch.jobfile.mark import FileMark

    kept.write(job, original, {}, FileMark.of(original) if original else None)
    kept._lock.close()
    (item,) = recovery.found()
    return item


def test_recovered_work_goes_to_the_file_it_came_from_wherever_the_program_is_started(bare, tmp_path, monkeypatch, job):
    here, there = tmp_path / "here", tmp_path / "there"
    for folder, notes in ((here, "mine"), (there, "another boat's")):
        folder.mkdir()
        archive.save(evolve(job, notes=notes), folder / "launch.ribpatch")
    monkeypatch.chdir(here)
    item = left_behind(evolve(job, notes="mine, edited"), Path("launch.ribpatch"))
    monkeypatch.chdir(there)
    assert item.original == here / "launch.ribpatch" and str(item.original) in item.saves_to
    assert bare.documents.recover(item) and bare.documents.save()
    assert archive.load(here / "launch.ribpatch").notes == "mine, edited"
    assert archive.load(there / "launch.ribpatch").notes == "another boat's"


def test_a_relative_place_of_an_earlier_version_is_no_place(bare, tmp_path, monkeypatch, job):
    item = left_behind(job, None)
    note = item.copy.with_suffix(".json")
    note.write_text(json.dumps({"original": "launch.ribpatch", "name": "x"}))
    monkeypatch.chdir(tmp_path)
    archive.save(evolve(job, notes="another boat's"), tmp_path / "launch.ribpatch")
    (item,) = recovery.found()
    assert item.original is None and "saving will ask" in item.saves_to


def test_the_start_page_says_what_became_of_the_file_and_saving_asks(bare, qtbot, tmp_path, monkeypatch, job):
    path = tmp_path / "launch.ribpatch"
    archive.save(job, path)
    item = left_behind(evolve(job, notes="edited"), path)
    assert "as it was" in item.saves_to
    archive.save(evolve(job, notes="somebody else's"), path)
    bare.show_start()
    assert "was changed" in item.saves_to
    assert any("was changed" in label.text() for label in bare.start_page.findChildren(type(bare.message.label)))
    assert bare.documents.recover(item)
    said = answer(monkeypatch, KEEP_BOTH)
    assert bare.documents.save() and "was changed" in said[0]
    assert (
        archive.load(path).notes == "somebody else's" and archive.load(tmp_path / "launch 2.ribpatch").notes == "edited"
    )
    path.unlink()
    assert "no longer there" in item.saves_to


@pytest.mark.parametrize(
    "text", ["[" * 50_000, "x" * 100_000, '{"original": 5, "name": {}, "mark": {"status": 3}}', "null"]
)
def test_a_wild_note_is_passed_over(job, text):
    item = left_behind(job, None)
    item.copy.with_suffix(".json").write_text(text)
    assert all(found.original is None for found in recovery.found())


# ---- the file changed underneath ----


def other_job(window):
    return evolve(window.session.job, notes="somebody else's")


def test_a_change_from_outside_is_noticed_and_told(window, qtbot, saved):
    edit(window, 0.07)
    archive.save(other_job(window), saved)
    qtbot.waitUntil(lambda: "was changed" in window.message.label.text(), timeout=5000)


def test_touching_the_file_is_no_change(window, saved):
    os.utime(saved)
    assert window.session.changed_outside == "" and window.documents.save()


@pytest.mark.parametrize("choice", [KEEP_BOTH, RELOAD, OVERWRITE, "Cancel"])
def test_saving_over_a_changed_file_asks_and_loses_neither(window, monkeypatch, saved, tmp_path, choice):
    edit(window, 0.07)
    theirs = other_job(window)
    archive.save(theirs, saved)
    said = answer(monkeypatch, choice)
    done = window.documents.save()
    assert "was changed" in said[0] and done is (choice != "Cancel")
    if choice == KEEP_BOTH:
        assert archive.load(saved) == theirs and window.session.path == tmp_path / "launch 2.ribpatch"
        assert margin_in(window.session.path) == pytest.approx(0.07) and not window.session.unsaved
    elif choice == RELOAD:
        assert window.session.job == theirs and not window.session.unsaved
        window.menu_action("undo").trigger()
        assert (
            window.session.job.notes == ""
            and window.session.zone.scheme.cut.margin.si == pytest.approx(0.07)
            and window.session.unsaved
        )
    elif choice == OVERWRITE:
        assert margin_in(saved) == pytest.approx(0.07) and archive.load(tmp_path / "launch.ribpatch~") == theirs
    else:
        assert archive.load(saved) == theirs and window.session.unsaved


def test_a_deleted_file_is_told_and_can_be_saved_again(window, monkeypatch, saved):
    edit(window, 0.07)
    saved.unlink()
    said = answer(monkeypatch, "Save it again")
    assert window.documents.save() and "no longer there" in said[0] and margin_in(saved) == pytest.approx(0.07)
    assert window.documents.save(), "and then nothing is asked"


def test_a_damaged_file_in_its_place_is_not_taken(window, monkeypatch, saved):
    edit(window, 0.07)
    saved.write_bytes(b"nonsense")
    answer(monkeypatch, RELOAD)
    before = window.session.job
    assert (
        window.documents.save() is False and window.session.job is before and "damaged" in window.message.label.text()
    )


def test_a_linked_job_stays_linked_and_is_locked_by_its_real_file(window, tmp_path, job):
    (tmp_path / "yard").mkdir()
    real, link = tmp_path / "yard" / "launch.ribpatch", tmp_path / "launch.ribpatch"
    archive.save(job, real)
    link.symlink_to(real)
    window.open_path(link)
    with pytest.raises(archive.Fault):
        JobLock(real)
    edit(window, 0.07)
    assert window.documents.save() and link.is_symlink() and margin_in(real) == pytest.approx(0.07)


def test_a_read_only_job_opens_and_saving_says_why_not(window, saved):
    saved.chmod(0o444)
    window.open_path(saved)
    edit(window, 0.07)
    assert window.documents.save() is False and "read-only" in window.message.label.text() and window.session.unsaved


def test_a_damaged_photograph_is_named_and_saving_goes_on(window, qtbot, tmp_path, job):
    album, path = Album(), tmp_path / "launch.ribpatch"
    member = album.add("photographs/", b"picture", ".jpg")
    archive.save(survey_edits.add_photograph("z1", member, "wet core").change(job), path, album=album)
    raw = bytearray(path.read_bytes())
    raw[raw.index(b"picture")] ^= 1
    path.write_bytes(raw)
    window.open_path(path)
    edit(window, 0.07)
    assert window.documents.save()
    text = window.message.label.text()
    assert "photograph 1 “wet core” of Foredeck" in text and member not in text and "damaged photographs" in text
    assert (tmp_path / "launch damaged photographs").is_dir() and margin_in(path) == pytest.approx(0.07)
    edit(window, 0.08)
    qtbot.waitUntil(lambda: any(margin_in(c) == pytest.approx(0.08) for c in copies()))


# ---- typed text ----


def margin_edit(window):
    window.session.go("z1", "open")
    edits = [
        f.edit for f in window.work.showing.stages["open"].findChildren(Field) if f.edit.accessibleName() == "Margin"
    ]
    edits[0].setFocus()
    edits[0].selectAll()
    return edits[0]


from ribpatch.ui.widgets.entry import Field  # noqa: E402 - beside what uses it


@pytest.mark.parametrize("way", ["save", "stage", "zone", "close"])
def test_what_is_typed_is_entered_before_it_could_be_lost(window, qtbot, monkeypatch, saved, way):
    line = margin_edit(window)
    qtbot.keyClicks(line, "64 mm")
    if way == "save":
        window.menu_action("save").trigger()
        assert margin_in(saved) == pytest.approx(0.064)
    elif way == "stage":
        window.session.go(stage="rebuild")
    elif way == "zone":
        window.session.go("z2")
    else:
        said = answer(monkeypatch, "Save")
        assert window.documents.may_leave() and "not saved" in said[0]
        assert margin_in(saved) == pytest.approx(0.064)
    assert window.session.job.zone("z1").scheme.cut.margin.si == pytest.approx(0.064)
    assert window.session.job.zone("z2").scheme.cut.margin.si == pytest.approx(0.075), "the other zone keeps its own"


@pytest.mark.parametrize("way", ["save", "zone", "close"])
def test_what_cannot_be_entered_is_told_first_and_only_once(window, qtbot, monkeypatch, saved, way):
    line = margin_edit(window)
    qtbot.keyClicks(line, "wide")
    acts = {
        "save": lambda: window.documents.save(), "zone": lambda: (window.session.go("z2"), window.session.zone_id == "z2")[1],
        "close": lambda: window.documents.may_leave(),
    }  # fmt: skip
    assert acts[way]() is False and "“wide” was not entered" in window.message.label.text()
    assert line.text() == "wide" and window.session.job.zone("z1").scheme.cut.margin.si == pytest.approx(0.04)
    assert acts[way]() is True


def test_a_form_that_waits_for_its_button_is_told(window, qtbot, saved):
    window.session.go("z1", "boat")
    boat = window.work.showing.stages["boat"]
    boat.fit_name.setFocus()
    qtbot.keyClicks(boat.fit_name, "cleat")
    window.session.go("z2")
    assert (
        window.session.zone_id == "z1"
        and "cleat" in window.message.label.text()
        and "Add" in window.message.label.text()
    )
    window.session.go("z2")
    assert window.session.zone_id == "z2"


def test_a_typed_stack_is_entered_too(window, qtbot, saved):
    window.session.go("z1", "rebuild")
    line = window.work.showing.stages["rebuild"].stack_editor.typed
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, "3 x biax-45-600")
    window.menu_action("save").trigger()
    assert [p.count for p in archive.load(saved).zone("z1").scheme.laminate.plies] == [3]


# ---- names ----


@pytest.mark.parametrize("name", ["Heron v1.2", "launch", "launch.ribpatch", "launch.RIBPATCH"])
def test_a_saved_job_always_ends_as_one(window, monkeypatch, tmp_path, name):
    choose(monkeypatch, tmp_path / name)
    window.menu_action("save_as").trigger()
    wanted = name if name.lower().endswith(".ribpatch") else name + ".ribpatch"
    assert [p.name for p in tmp_path.glob("*.[rR]*")] == [wanted]


@pytest.mark.parametrize("yes", [True, False])
def test_a_file_that_the_ending_makes_another_is_not_replaced_unasked(window, monkeypatch, tmp_path, job, yes):
    other = tmp_path / "launch.ribpatch"
    archive.save(evolve(job, notes="another"), other)
    choose(monkeypatch, tmp_path / "launch")
    buttons = QMessageBox.StandardButton
    monkeypatch.setattr(QMessageBox, "question", lambda *a: buttons.Yes if yes else buttons.No)
    assert window.documents.save_as() is yes
    assert archive.load(other).notes == ("" if yes else "another")


def test_papers_get_the_ending_of_their_kind_and_never_a_jobs_place(
    window, qtbot, monkeypatch, tmp_path, saved, one_zone
):
    one_zone(window)
    for action, name, wanted in (
        ("shopping_list", "list", "list.csv"),
        ("work_pack", "pack v1.2", "pack v1.2.pdf"),
        ("export_plan", "plan", "plan.svg"),
        ("export_plan", "cut.DXF", "cut.DXF"),
    ):
        choose(monkeypatch, tmp_path / name)
        window.session.go("z4", "rebuild")
        window.menu_action(action).trigger()
        qtbot.waitUntil((tmp_path / wanted).is_file, timeout=20_000)
    before = saved.read_bytes()
    link = tmp_path / "list2.csv"
    link.symlink_to(saved)
    choose(monkeypatch, link)
    window.menu_action("shopping_list").trigger()
    qtbot.waitUntil(lambda: "would be lost" in window.message.label.text())
    assert saved.read_bytes() == before


# ---- the wheel ----


def wheel(widget, steps=-3):
    middle = QPointF(widget.rect().center())
    event = QWheelEvent(
        middle, QPointF(widget.mapToGlobal(middle.toPoint())), QPoint(), QPoint(0, 120 * steps), Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    QApplication.sendEvent(widget, event)


@pytest.mark.parametrize("name", ["boat", "find", "cause", "open", "rebuild", "order"])
def test_the_wheel_changes_no_value_on_any_stage(window, name):
    window.session.go("z1", name)
    before = window.session.job
    boxes = [*window.findChildren(QComboBox), *window.findChildren(QSpinBox)]
    assert all(isinstance(box, Combo | Count) for box in boxes)
    for box in boxes:
        box.setFocus()
        shown = box.currentIndex() if isinstance(box, QComboBox) else box.value()
        wheel(box)
        assert shown == (box.currentIndex() if isinstance(box, QComboBox) else box.value())
    assert window.session.job is before


# ---- places that are not as usual ----


def test_a_state_folder_that_cannot_be_written_is_told_and_the_window_works(qtbot, qapp, tmp_path, monkeypatch):
    from ribpatch.ui.app import make_window

    (tmp_path / "flat").write_text("")
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "flat"))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "flat"))
    window = make_window(qapp)
    qtbot.addWidget(window)
    assert "not kept for recovery" in window.message.label.text()
    window.menu_action("demo_job").trigger()
    edit(window, 0.07)
    choose(monkeypatch, tmp_path / "launch.ribpatch")
    assert window.documents.save() and margin_in(tmp_path / "launch.ribpatch") == pytest.approx(0.07)
    window.close()


def test_a_file_name_that_is_no_text_opens_saves_and_is_recent(window, tmp_path, job):
    path = Path(os.fsdecode(os.path.join(os.fsencode(tmp_path), b"launch-\xff.ribpatch")))
    archive.save(job, path)
    window.open_path(path)
    edit(window, 0.07)
    assert window.documents.save() and margin_in(path) == pytest.approx(0.07)
    window.show_start()
    assert window.session.path == path


def test_without_a_display_one_sentence_and_exit_1():
    bare = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    for extra in ({}, {"DISPLAY": ":7731"}):
        run = subprocess.run(
            [sys.executable, "-m", "ribpatch", "--demo"], env={**bare, **extra}, capture_output=True, text=True
        )
        assert run.returncode == 1 and len(run.stderr.strip().splitlines()) == 1
        assert "no window" in run.stderr or "no display" in run.stderr
