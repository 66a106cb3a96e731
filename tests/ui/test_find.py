"""Find as a user works it: every instrument, test cuts, sessions, recordings, photographs, practice."""

import threading

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtWidgets import QApplication

from ribpatch.core.edits import draw_extent, set_value
from ribpatch.core.job import HiddenPatch
from ribpatch.core.survey.hammer import RATE, Panel, strike_wave
from ribpatch.formats.recordings import wave_bytes
from ribpatch.jobfile import archive
from ribpatch.ui.import_dialog import ColumnsDialog, ImportDialog
from ribpatch.ui.recording_dialog import RecordingDialog

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def find(window):
    """The bow topside without a drawn extent, ready for readings."""
    window.session.go("z4", "find")
    window.session.apply(draw_extent("z4", None))
    window.session.stack.clear()
    window.zone_bench.plan_canvas.setFocus()
    return window


def readings(window, kind=""):
    return [r for r in window.session.zone.survey.readings if not kind or r.kind == kind]


def click(qtbot, window, x, y):
    canvas = window.zone_bench.plan_canvas
    at = canvas.view.to(window.zone_bench.readings.drawn_at(window.session.zone, (x, y)))
    qtbot.mouseClick(canvas, LEFT, pos=at.toPoint())


def panel(window):
    return window.work.showing.stages["find"].instruments


def test_graded_instruments_enter_by_letter_and_by_click(find, qtbot):
    qtbot.keyClicks(find.zone_bench.plan_canvas, "wbt")
    assert [(r.kind, r.grade) for r in readings(find)] == [("weep", "weeps"), ("soap", "bubble"), ("screw", "strips")]
    panel(find).choose("smell")
    qtbot.mouseClick(panel(find).buttons["musty"], LEFT)
    click(qtbot, find, 0.4, 0.4)
    assert readings(find, "smell")[0].grade == "musty"
    assert "old carpet" in panel(find).note.text()


def test_the_keyboard_meter_is_the_one_chosen(find, qtbot):
    panel(find).choose("pin")
    qtbot.keyClicks(find.zone_bench.plan_canvas, "27")
    qtbot.keyClick(find.zone_bench.plan_canvas, Qt.Key.Key_Return)
    panel(find).choose("tap")
    qtbot.keyClicks(find.zone_bench.plan_canvas, "31")
    qtbot.keyClick(find.zone_bench.plan_canvas, Qt.Key.Key_Return)
    assert [(r.kind, r.value) for r in readings(find)] == [("pin", 27), ("moisture", 31)]


def test_a_push_takes_units_and_a_wrong_one_is_explained(find, qtbot):
    panel(find).choose("push")
    panel(find).line("force").setText("45 lbf")
    panel(find).line("deflection").setText("4 mm")
    qtbot.mouseClick(panel(find).buttons["push"], LEFT)
    click(qtbot, find, 0.4, 0.4)
    (push,) = readings(find, "push")
    assert push.force == pytest.approx(200.17, abs=0.01) and push.deflection == pytest.approx(0.004)
    panel(find).line("deflection").setText("soft")
    click(qtbot, find, 0.8, 0.4)
    assert len(readings(find, "push")) == 1 and "deflection" in find.zone_bench.echo.text()


def test_a_plug_with_its_layers(find, qtbot):
    panel(find).choose("plug")
    panel(find).box("water").setCurrentIndex(2)
    panel(find).box("core").setCurrentIndex(1)
    panel(find).line("layers").setText("gelcoat, mat, woven")
    qtbot.mouseClick(panel(find).buttons["plug"], LEFT)
    click(qtbot, find, 0.5, 0.3)
    (plug,) = readings(find, "plug")
    assert (plug.water, plug.core, plug.bond, plug.layers) == ("wet", "soft", "whole", "gelcoat, mat, woven")


def test_a_test_cut_is_drawn_point_by_point_with_its_states(find, qtbot):
    canvas = find.zone_bench.plan_canvas
    panel(find).choose("cut")
    qtbot.mouseClick(panel(find).buttons["sound"], LEFT)
    click(qtbot, find, 0.2, 0.3)
    click(qtbot, find, 0.5, 0.3)
    qtbot.mouseClick(panel(find).buttons["rotted"], LEFT)
    click(qtbot, find, 0.8, 0.3)
    click(qtbot, find, 1.1, 0.3)
    qtbot.keyClick(canvas, Qt.Key.Key_Backspace)
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    (cut,) = readings(find, "cut")
    assert cut.states == ("sound", "rotted") and len(cut.points) == 3
    assert cut.points[2] == pytest.approx((0.8, 0.3), abs=0.01)
    click(qtbot, find, 0.2, 0.5)
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    assert len(readings(find)) == 1 and "dropped" in find.zone_bench.echo.text()


def test_n_goes_to_the_places_worth_testing(window, qtbot):
    window.session.go("z1", "find")
    zone = window.session.zone
    wanted = window.session.plan.zone("z1").next_tests
    qtbot.keyClick(window.zone_bench.plan_canvas, Qt.Key.Key_N)
    at = window.zone_bench.readings.place(zone)
    assert np.hypot(at[0] - wanted[0].at[0], at[1] - wanted[0].at[1]) < zone.survey.pitch.si
    assert "place 1" in window.zone_bench.echo.text()


def test_every_picture_of_the_field_can_be_shown(window, qtbot):
    window.session.go("z1", "find")
    stage = window.work.showing.stages["find"]
    stage._group_picked("Extent")
    for shows in ("doubt", "wet", "rotted", "disbonded"):
        qtbot.mouseClick(stage.picture_button(shows), LEFT)
        words = window.zone_bench.plan_canvas.legend.words[0]
        assert shows[:3] in words or (shows == "rotted" and "rot" in words)
    qtbot.mouseClick(stage.picture_button("change"), LEFT)
    assert "two sessions" in window.zone_bench.echo.text() and window.zone_bench.plan_canvas.legend is None


def test_sessions_keep_readings_apart_and_show_drying(find, qtbot):
    stage = find.work.showing.stages["find"]
    canvas = find.zone_bench.plan_canvas
    for day, value in (("2026-03-01", 55), ("2026-03-20", 38), ("2026-04-10", 27)):
        stage._group_picked("Over time")
        stage.sessions.date.setText(day)
        stage.sessions.who.setText("yard hand")
        qtbot.mouseClick(stage.sessions.begin, LEFT)
        canvas.setFocus()
        for x, number in ((0.3, 12), (0.8, value)):
            find.zone_bench.readings.enter("moisture", {"value": number}, (x, 0.4))
    wet = readings(find, "moisture")
    assert len(wet) == 6 and [s.who for s in find.session.zone.survey.sessions] == ["yard hand"] * 3
    find.zone_bench.readings.toggle_reference((0.3, 0.4), 0.01)
    stage._group_picked("Over time")
    assert "at the reference about" in stage.sessions.drying.text()
    assert stage.sessions.chart.isVisibleTo(stage) and stage.sessions.place.currentText().endswith("drying")
    assert stage.sessions.chart.span > 40 and not stage.sessions.chart.grab().isNull()
    stage.sessions.older.setCurrentIndex(0)
    stage.sessions.older.activated.emit(0)
    assert find.zone_bench.shows == "change"
    stage.sessions.date.setText("the ides of March")
    qtbot.mouseClick(stage.sessions.begin, LEFT)
    assert len(find.session.zone.survey.sessions) == 3 and "no date" in find.message.label.text()


def recording(path, *states):
    rng = np.random.default_rng(5)
    wave = np.concatenate([strike_wave(Panel(), state, rng, 30) for state in states])
    path.write_bytes(wave_bytes(wave, RATE))
    return path


def test_a_recording_becomes_reference_and_then_readings(find, qtbot, tmp_path, monkeypatch):
    seen = []

    def show(dialog, answer):
        seen.append([dialog.table.item(row, 6).text() for row in range(dialog.table.rowCount())])
        dialog.table.selectRow(dialog.table.rowCount() - 1)
        return answer

    monkeypatch.setattr(RecordingDialog, "exec", lambda d: show(d, 2))
    find.documents.open_recording(recording(tmp_path / "sound.wav", "sound", "sound", "sound"))
    qtbot.waitUntil(lambda: len(readings(find, "strike")) == 3)
    assert len(find.session.zone.survey.references) == 3 and seen[0] == ["no reference"] * 3
    monkeypatch.setattr(RecordingDialog, "exec", lambda d: show(d, 1))
    find.documents.open_recording(recording(tmp_path / "bad.wav", "rotted", "disbonded"))
    qtbot.waitUntil(lambda: len(readings(find, "strike")) == 5)
    assert "dull" in seen[1][0] and "drummy" in seen[1][1]
    first, second = readings(find, "strike")[3:]
    assert second.x > first.x, "strikes go on from the cursor"
    kept = find.session.album.get(f"recordings/{first.recording}")
    assert kept == (tmp_path / "bad.wav").read_bytes()


def test_a_recording_that_is_none_is_told_and_changes_nothing(find, qtbot, tmp_path):
    path = tmp_path / "fake.wav"
    path.write_bytes(b"this is text")
    find.documents.open_recording(path)
    qtbot.waitUntil(lambda: "no WAV" in find.message.label.text())
    assert readings(find) == []


def photograph(path, size=(900, 600)):
    Image.new("RGB", size, "#807060").save(path, "JPEG")
    return path


def test_photographs_are_dropped_on_the_plan_pinned_saved_and_undone(find, qtbot, tmp_path):
    window = find
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(photograph(tmp_path / "a.jpg")))])
    canvas = window.zone_bench.plan_canvas
    spot = canvas.mapTo(window, canvas.view.to((0.7, 0.4)).toPoint())
    event = QDropEvent(QPointF(spot), Qt.DropAction.CopyAction, data, LEFT, Qt.KeyboardModifier.NoModifier)
    window.dropEvent(event)
    qtbot.waitUntil(lambda: len(window.session.zone.survey.photographs) == 1)
    (kept,) = window.session.zone.survey.photographs
    assert (kept.x, kept.y) == pytest.approx((0.7, 0.4), abs=0.01)
    path = tmp_path / "job.ribpatch"
    window.session.save(path)
    assert archive.member_names(path) == {f"photographs/{kept.member}"}
    window.session.stack.undo()
    window.session.save(path)
    assert archive.member_names(path) == frozenset()
    window.session.stack.redo()
    window.session.save(path)
    assert archive.member_names(path) == {f"photographs/{kept.member}"}
    window.session.open(path)
    assert window.session.album.get(f"photographs/{kept.member}")[:2] == b"\xff\xd8"


def test_a_photograph_can_be_captioned_pinned_and_deleted(find, qtbot, tmp_path):
    find.documents.add_photographs([photograph(tmp_path / "b.jpg")])
    qtbot.waitUntil(lambda: len(find.session.zone.survey.photographs) == 1)
    stage = find.work.showing.stages["find"]
    stage._group_picked("Pictures")
    (kept,) = find.session.zone.survey.photographs
    assert kept.x is None and kept.caption == "", "a file's name may name a person"
    find.survey.pin_photograph(kept)
    click(qtbot, find, 0.5, 0.5)
    assert find.session.zone.survey.photographs[0].x == pytest.approx(0.5, abs=0.01)
    stage.photos._captioned("z4", find.session.zone.survey.photographs[0], "hole from inside")
    assert find.session.zone.survey.photographs[0].caption == "hole from inside"
    bad = tmp_path / "c.jpg"
    bad.write_text("no picture")
    find.documents.add_photographs([bad])
    qtbot.waitUntil(lambda: "no picture" in find.message.label.text())
    assert len(find.session.zone.survey.photographs) == 1


def test_a_run_is_drawn_straight_and_read_along_its_length(window, qtbot):
    window.session.go("z3", "find")
    before = len(readings(window))
    assert window.zone_bench.readings.straight
    qtbot.mouseClick(panel(window).buttons["drummy"], LEFT)
    click(qtbot, window, 2.1, 0.0)
    last = readings(window)[-1]
    assert last.grade == "drummy" and last.x == pytest.approx(2.1, abs=0.02) and last.y == pytest.approx(0.09)
    window.session.apply(set_value(("zones", "z3", "kind"), "joint run"))
    canvas = window.zone_bench.plan_canvas
    panel(window).choose("tap")
    canvas.setFocus()
    qtbot.keyClicks(canvas, "rd")
    assert len(readings(window)) > before and window.session.zone.is_run


def test_a_practice_panel_is_read_revealed_and_scored(window, qtbot):
    window.session.stack.setClean()
    window.menu_action("practice").trigger()
    zone, stage = window.session.zone, window.work.showing.stages["find"]
    stage.show_group("Read")
    assert zone.practice is not None and stage._practice.isVisible()
    for kind, at in (
        ("sim-moisture", (0.2, 0.2)),
        ("sim-ear", (0.5, 0.5)),
        ("sim-strike", (0.9, 0.5)),
        ("sim-plug", (1.2, 0.5)),
    ):
        qtbot.mouseClick(stage.practice.buttons[kind], LEFT)
        click(qtbot, window, *at)
    assert [r.kind for r in readings(window)] == ["moisture", "tap", "strike", "plug"]
    assert window.session.album.get(f"recordings/{readings(window, 'strike')[0].recording}")[:4] == b"RIFF"
    for n in range(4):
        window.zone_bench.readings.enter("sim-plug", {}, (0.2 + 0.3 * n, 0.8))
    assert len(readings(window, "plug")) == 3 and "all 3 are used" in window.zone_bench.echo.text()
    qtbot.mouseClick(stage.practice.reveal, LEFT)
    assert window.session.zone.practice.revealed and "points" in stage.practice.result.text()
    assert len(window.settings.best_scores) == 1
    assert not window.zone_bench.readings.enter("sim-ear", {}, (0.3, 0.3))
    window.session.stack.undo()
    assert not window.session.zone.practice.revealed


def test_a_truth_can_be_drawn_for_somebody_else(window, qtbot):
    window.session.stack.setClean()
    window.menu_action("practice").trigger()
    ring = ((0.3, 0.3), (0.7, 0.3), (0.7, 0.6), (0.3, 0.6))
    stage = window.work.showing.stages["find"]
    qtbot.mouseClick(stage.practice.hides["rotted"], LEFT)
    assert "Draw the extent first" in window.message.label.text()
    window.session.apply(draw_extent("z1", (ring,)))
    qtbot.mouseClick(stage.practice.hides["rotted"], LEFT)
    assert window.session.zone.practice.drawn == (HiddenPatch(state="rotted", ring=ring),)
    assert window.session.zone.survey.drawn is None


def test_columns_that_do_not_say_what_they_are_are_asked_for_and_remembered(find, qtbot, tmp_path, monkeypatch):
    path = tmp_path / "odd.csv"
    path.write_text("a,b,c\n300,300,44\n500,300,12\n")
    asked = []

    def answer(dialog):
        asked.append(dialog.mapping)
        for what, column in (("x", "a"), ("y", "b"), ("kind", "=moisture"), ("value", "c")):
            dialog.boxes[what].setCurrentIndex(dialog.boxes[what].findData(column))
        return ColumnsDialog.DialogCode.Accepted

    monkeypatch.setattr(ColumnsDialog, "exec", answer)
    monkeypatch.setattr(ImportDialog, "exec", lambda _d: ImportDialog.DialogCode.Accepted)
    find.documents.import_readings(path)
    qtbot.waitUntil(lambda: len(readings(find)) == 2)
    assert [(r.kind, r.value, r.x) for r in readings(find)] == [("moisture", 44, 0.3), ("moisture", 12, 0.5)]
    find.documents.import_readings(path)
    qtbot.waitUntil(lambda: len(readings(find)) == 4)
    assert asked[1]["kind"] == "=moisture" and asked[1]["value"] == "c", "the answer was remembered"


def test_a_long_import_shows_how_far_it_is_and_can_be_stopped(find, qtbot, tmp_path, monkeypatch):
    path = tmp_path / "long.csv"
    path.write_text(
        "x,y,kind,value\n" + "\n".join(f"{300 + k % 500},{200 + k % 300},tap,ring" for k in range(40_000)) + "\n"
    )
    monkeypatch.setattr(ImportDialog, "exec", lambda _d: pytest.fail("a stopped import came in"))
    find.documents.import_readings(path)
    assert find.tasks.can_cancel and find.work.busy.stop.isVisibleTo(find)
    qtbot.mouseClick(find.work.busy.stop, LEFT)
    qtbot.waitUntil(lambda: not find.tasks.can_cancel, timeout=10_000)
    QApplication.processEvents()
    assert readings(find) == []


def test_a_new_job_forgets_where_the_last_one_was_looked_at(window, qtbot):
    window.session.go("z1", "find")
    window.zone_bench._section_moved(((0.1, 0.2), (0.5, 0.2)))
    window.session.stack.setClean()
    window.menu_action("practice").trigger()
    (_, y), _ = window.zone_bench.section.line
    assert y == pytest.approx(0.5)


def test_the_reading_under_the_cursor_takes_a_note_who_when_and_a_photograph(find, qtbot, tmp_path, monkeypatch):
    canvas, reading_panel = find.zone_bench.plan_canvas, find.work.showing.stages["find"].reading
    assert "No reading" in reading_panel.words.text() and not reading_panel.lines["note"].isEnabled()
    qtbot.keyClicks(canvas, "d")
    qtbot.keyClick(canvas, Qt.Key.Key_Left)
    assert "tap dull" in reading_panel.words.text()
    for fact, text in (("note", "behind the locker"), ("who", "yard hand"), ("at", "2026-05-14 09:30")):
        reading_panel.lines[fact].setText(text)
        reading_panel.lines[fact].editingFinished.emit()
    (reading,) = readings(find)
    assert (reading.note, reading.who, reading.at) == ("behind the locker", "yard hand", "2026-05-14 09:30")
    reading_panel.lines["at"].setText("lunch time")
    reading_panel.lines["at"].editingFinished.emit()
    assert readings(find)[0].at == "2026-05-14 09:30" and "no date" in find.message.label.text()
    monkeypatch.setattr(find.documents, "ask_pictures", lambda: [photograph(tmp_path / "d.jpg")])
    qtbot.mouseClick(reading_panel.attach, LEFT)
    qtbot.waitUntil(lambda: readings(find)[0].photographs == ("p1",))


def begin(find, day, who="yard hand", note=""):
    sessions = find.work.showing.stages["find"].sessions
    for line, text in ((sessions.date, day), (sessions.who, who), (sessions.note, note)):
        line.setText(text)
    sessions.begin.click()


def test_the_last_session_is_corrected_without_a_new_one(find, qtbot):
    stage = find.work.showing.stages["find"]
    stage._group_picked("Over time")
    assert not stage.sessions.correct.isEnabled(), "no session yet to correct"
    begin(find, "2026-03-01")
    begin(find, "2026-03-02", note="rain")
    stage.sessions.date.setText("2026-03-20")
    stage.sessions.who.setText("surveyor")
    qtbot.mouseClick(stage.sessions.correct, LEFT)
    first, last = find.session.zone.survey.sessions
    assert (first.date, first.who) == ("2026-03-01", "yard hand")
    assert (last.date, last.who, last.note) == ("2026-03-20", "surveyor", "rain"), "what was left empty stays"
    assert "2026-03-20, surveyor" in stage.sessions.list.text()
    find.session.stack.undo()
    assert find.session.zone.survey.sessions[-1].date == "2026-03-02"


def test_deleting_takes_the_last_sessions_reading_and_leaves_the_one_before(find, qtbot):
    canvas = find.zone_bench.plan_canvas
    begin(find, "2026-03-01")
    canvas.setFocus()
    qtbot.keyClicks(canvas, "d")
    qtbot.keyClick(canvas, Qt.Key.Key_Left)
    begin(find, "2026-04-01")
    canvas.setFocus()
    qtbot.keyClicks(canvas, "r")
    qtbot.keyClick(canvas, Qt.Key.Key_Right)
    assert [r.grade for r in readings(find, "tap")] == ["dull", "ring"]
    qtbot.keyClick(canvas, Qt.Key.Key_Delete)
    assert [(r.grade, r.session) for r in readings(find, "tap")] == [("dull", "s1")]
    assert "deleted tap ring" in find.zone_bench.echo.text()


def test_reading_a_square_again_in_the_same_session_replaces_it(find, qtbot):
    canvas = find.zone_bench.plan_canvas
    qtbot.keyClicks(canvas, "d")
    qtbot.keyClick(canvas, Qt.Key.Key_Left)
    qtbot.keyClicks(canvas, "c")
    assert [r.grade for r in readings(find, "tap")] == ["crunch"]
    find.session.stack.undo()
    assert [r.grade for r in readings(find, "tap")] == ["dull"]


def test_a_line_with_a_point_outside_the_zone_is_kept_on_the_plan_until_it_is_mended(find, qtbot):
    canvas = find.zone_bench.plan_canvas
    panel(find).choose("cut")
    qtbot.mouseClick(panel(find).buttons["wet"], LEFT)
    click(qtbot, find, 0.3, 0.3)
    click(qtbot, find, 0.6, 0.3)
    click(qtbot, find, 1.0, 0.01)  # the topside's lower edge rises to 40 mm here
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    assert readings(find, "cut") == [] and "outside the zone" in find.zone_bench.echo.text()
    qtbot.keyClick(canvas, Qt.Key.Key_Backspace)
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    (cut,) = readings(find, "cut")
    assert len(cut.points) == 2 and cut.states == ("wet",)


def test_a_frosty_evening_is_typed_below_zero_and_a_wet_meter_is_not(find, qtbot):
    canvas = find.zone_bench.plan_canvas
    panel(find).choose("infrared")
    qtbot.keyClicks(canvas, "-3,5")
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    (spot,) = readings(find, "infrared")
    assert spot.value == -3.5
    panel(find).choose("moisture")
    qtbot.keyClicks(canvas, "-5")
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    assert readings(find, "moisture") == [] and "−5 is outside the meter's scale" in find.zone_bench.echo.text()
    qtbot.keyClicks(canvas, ".")
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    assert "is no number" in find.zone_bench.echo.text() and len(readings(find)) == 1


def test_letters_that_are_half_typed_can_be_taken_back(find, qtbot):
    canvas = find.zone_bench.plan_canvas
    panel(find).choose("moisture")
    qtbot.keyClicks(canvas, "41")
    qtbot.keyClick(canvas, Qt.Key.Key_Backspace)
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    assert readings(find, "moisture")[0].value == 4
    qtbot.keyClicks(canvas, "77")
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    qtbot.keyClick(canvas, Qt.Key.Key_Backspace)
    assert readings(find) == [], "with nothing typed, Backspace takes the last entry back"


def test_what_was_read_for_a_job_that_is_no_longer_open_is_not_put_into_the_next(find, qtbot, tmp_path, monkeypatch):
    gate = threading.Event()
    path = tmp_path / "late.csv"
    path.write_text("x,y,kind,value\n300,300,tap,dull\n")
    monkeypatch.setattr(ImportDialog, "exec", lambda _d: pytest.fail("asked about a job that is gone"))
    find.tasks.run("", lambda: gate.wait(10), lambda *_: None)
    find.documents.import_readings(path)
    find.documents.add_photographs([photograph(tmp_path / "late.jpg")])
    find.session.stack.setClean()
    find.menu_action("demo_job").trigger()
    before = find.session.job
    gate.set()
    qtbot.waitUntil(lambda: "no longer open" in find.message.label.text())
    find.tasks.wait()
    QApplication.processEvents()
    assert find.session.job is before and find.session.stack.count() == 0


def test_the_next_place_is_told_where_there_is_none(find, qtbot):
    qtbot.keyClick(find.zone_bench.plan_canvas, Qt.Key.Key_N)
    assert "No place is worth more than another" in find.zone_bench.echo.text()
    qtbot.keyClick(find.zone_bench.plan_canvas, Qt.Key.Key_S)
    assert "No reading there" in find.zone_bench.echo.text()
    qtbot.keyClick(find.zone_bench.plan_canvas, Qt.Key.Key_Delete)
    assert "No reading there to delete" in find.zone_bench.echo.text() and find.session.stack.count() == 0
