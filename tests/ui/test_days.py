"""Days driven as a user would: lanes by keys and mouse, steps changed, crew, air, a day's sheet, the search."""

import threading

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication, QLabel

from ribpatch.core.calendar.range import Spread
from ribpatch.core.timetable import StepChange, Timetable
from ribpatch.core.timetable_edits import change_step, set_forecast
from ribpatch.ui.weather_dialog import WeatherDialog


@pytest.fixture
def days(window, qtbot):
    """The Days bench with its first plan."""
    window.session.go("z1", "days")
    QApplication.processEvents()
    bench = window.showing.benches["days_bench"]
    qtbot.waitUntil(lambda: bench.answer is not None, timeout=20000)
    window.grab()
    return bench


def settled(bench, qtbot):
    """The plan of the job as it is now."""
    qtbot.waitUntil(lambda: bench.answer is not None, timeout=20000)
    return bench.answer


def test_the_plan_stands_there_and_showing_it_edits_nothing(window, days, qtbot):
    assert not window.session.stack.canUndo()
    shown = [w for w in QApplication.topLevelWidgets() if w.isVisible() and w.window() is not window]
    assert not shown and QApplication.activeWindow() is window  # no part of it is a window of its own
    assert days.plan.words.text().startswith("Done on") and days.plan.view.viewport().isVisible()
    bars = days.plan.view._bars()
    assert {b.step for b in bars} == set(days.answer.days.by_id)
    for page in ("A day", "Steps", "Crew and air", "Order by", "Plan"):
        qtbot.mouseClick(days.button(page), Qt.MouseButton.LeftButton)
        window.tasks.wait()
        QApplication.processEvents()
        window.grab()
    assert not window.session.stack.canUndo()
    assert days.steps.table is not None and len(days.steps.table.rows) == len(bars)
    assert days.order.table is not None and days.order.table.rows and days.crew.table.table is not None
    window.menu_action("next_page").trigger()
    assert days.pages.currentIndex() == 1


def test_keys_go_from_step_to_step_move_one_and_let_it_go(window, days, qtbot):
    view = days.plan.view
    view.setFocus()
    qtbot.keyClick(view, Qt.Key.Key_Home)
    first = view.chosen
    qtbot.keyClick(view, Qt.Key.Key_Right)
    second = view.chosen
    assert first != second and days.step.step == second and view.accessibleDescription()
    qtbot.keyClick(view, Qt.Key.Key_Up)
    assert view.chosen not in ("", second)
    view.choose("z4.strip")
    at = next(b.start for b in view._bars() if b.step == "z4.strip")
    qtbot.keyClick(view, Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier)
    change = window.session.job.timetable.change_of("z4.strip")
    assert change is not None and change.at == days.plan.answer.days.moment_of(round(at * 4) + 1)
    made = settled(days, qtbot)
    assert made.schedule is not None and made.days.moment_of(made.schedule.by_id["z4.strip"].start) == change.at
    view.choose("z4.strip")
    qtbot.keyClick(view, Qt.Key.Key_Delete)
    assert window.session.job.timetable.changes == ()
    for key in (Qt.Key.Key_Plus, Qt.Key.Key_Minus, Qt.Key.Key_Up, Qt.Key.Key_End):
        qtbot.keyClick(view, key)
    window.menu_action("undo").trigger()
    assert window.session.job.timetable.change_of("z4.strip") is not None


def test_days_that_are_not_looked_at_are_planned_when_they_are_next(window, days, qtbot, monkeypatch):
    from ribpatch.ui.bench import days_plan

    asked, made = [], days_plan.logged_days
    monkeypatch.setattr(days_plan, "logged_days", lambda plan, *rest: asked.append(plan) or made(plan, *rest))
    gate = threading.Event()
    window.tasks.run("", gate.wait, lambda *_: None)
    first = days.answer
    window.session.apply(change_step(window.session.job, "z4.strip", "strip", skipped="done before"))
    changed = window.session.plan
    assert days.answer is None
    window.session.go("z1", "open")
    QApplication.processEvents()
    gate.set()
    window.tasks.wait()
    QApplication.processEvents()
    assert asked == [] and days.answer is None
    window.session.go("z1", "days")
    assert settled(days, qtbot) is not first and asked == [changed]


def test_keys_that_come_faster_than_the_plan_each_move_the_step_on(window, days, qtbot):
    view, right = days.plan.view, Qt.Key.Key_Right
    view.choose("z4.strip")
    at = next(b.start for b in view._bars() if b.step == "z4.strip")
    for more in (Qt.KeyboardModifier.AltModifier,) * 5 + (
        Qt.KeyboardModifier.AltModifier | Qt.KeyboardModifier.ShiftModifier,
    ):
        qtbot.keyClick(view, right, more)
    qtbot.keyClick(view, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
    change = window.session.job.timetable.change_of("z4.strip")
    assert change is not None and change.at == days.plan.answer.days.moment_of(round((at + 24 + 1.0) * 4))
    view.choose("z4.strip")
    qtbot.keyClick(view, Qt.Key.Key_Delete)
    assert window.session.job.timetable.changes == (), "let go, though it was not drawn yet where it was put"
    made = settled(days, qtbot)
    assert made.days.moment_of(made.schedule.by_id["z4.strip"].start) == made.days.moment_of(round(at * 4))


def test_a_bar_is_dragged_to_another_time(window, days, qtbot):
    view = days.plan.view
    bar = next(b for b in view._bars() if b.step == "z4.strip")
    view.choose("z4.strip")
    lane = next(lane for lane in view._lanes.lanes if lane.key == "z4")
    box = view._scale.box(bar, lane)
    spot = box.center().toPoint() + QPoint(
        128 - view.horizontalScrollBar().value(), 40 - view.verticalScrollBar().value()
    )
    qtbot.mousePress(view.viewport(), Qt.MouseButton.LeftButton, pos=spot)
    qtbot.mouseMove(view.viewport(), spot + QPoint(40, 0))
    qtbot.mouseRelease(view.viewport(), Qt.MouseButton.LeftButton, pos=spot + QPoint(40, 0))
    change = window.session.job.timetable.change_of("z4.strip")
    assert change is not None and change.at > days.plan.answer.days.moment_of(round(bar.start * 4))


def test_what_cannot_be_kept_is_told_with_what_would_free_it(window, days, qtbot):
    days.plan._moved("z4.strip", 5 * 24 + 3)  # Saturday night
    qtbot.waitUntil(lambda: days.answer is not None and days.answer.clash is not None, timeout=60000)
    assert "has no place" in days.plan.words.text() and "What would free it" in days.plan.gripes.text()
    window.menu_action("undo").trigger()
    assert settled(days, qtbot).schedule is not None and days.plan.words.text().startswith("Done on")


def test_a_better_plan_is_searched_kept_and_undone(window, days, qtbot, monkeypatch):
    monkeypatch.setattr("ribpatch.ui.bench.days_plan.SECONDS", 1.5)
    few = Spread(0.1, 0.3, 0.5, 10)  # runs behind the range: what is told of it has tests of its own
    monkeypatch.setattr("ribpatch.ui.bench.days_plan.spread_of", lambda days: few)
    first = days.answer.schedule
    qtbot.mouseClick(days.plan.search, Qt.MouseButton.LeftButton)
    assert days.plan.search.text().startswith("Stop")
    qtbot.waitUntil(lambda: window.session.job.timetable.kept is not None, timeout=90000)
    made = settled(days, qtbot)
    assert made.days.kept is not None and made.schedule is made.days.kept
    assert (made.schedule.finish, made.schedule.sandings) <= (first.finish, first.sandings)
    assert "nine in ten" in days.plan.words.text() and made.days.range is not None
    window.menu_action("undo").trigger()
    assert window.session.job.timetable.kept is None
    assert "first plan" in (settled(days, qtbot), days.plan.words.text())[1]


def test_a_search_that_is_stopped_keeps_the_best_so_far(window, days, qtbot):
    qtbot.mouseClick(days.plan.search, Qt.MouseButton.LeftButton)
    qtbot.mouseClick(days.plan.search, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: days.plan._searching is None, timeout=30000)
    assert settled(days, qtbot).schedule is not None and days.plan.search.text() == "Search a better plan"


def test_a_step_gets_other_hours_people_parts_a_name_and_is_skipped(window, days, qtbot, type_in):
    panel = days.step

    def look_at(step):
        settled(days, qtbot)
        days.plan.view.picked.emit(step)
        assert panel.step == step

    look_at("z4.strip")
    assert "support and strip out" in panel.words.text() and panel.hours.text() == "3.0 h"
    type_in(panel.hours, "4 h")
    assert window.session.job.timetable.change_of("z4.strip").hours.si == 4 * 3600
    look_at("z4.strip")
    type_in(panel.parts, "2")
    look_at("z4.strip.p2")
    assert panel.hours.text() == "2.0 h"
    type_in(panel.hours, "1 h")  # a part's hours are those of its share
    assert window.session.job.timetable.change_of("z4.strip").hours.si == 2 * 3600
    look_at("z4.strip")
    qtbot.mouseClick(panel.usual, Qt.MouseButton.LeftButton)
    assert window.session.job.timetable.changes == ()
    look_at("z4.peel")
    type_in(panel.skip, "none was laid")
    settled(days, qtbot)
    assert "z4.peel" not in days.answer.days.by_id
    stage = window.showing.stages["days"]
    assert stage.again.isVisibleTo(stage) and "none was laid" in stage.hand_note.text()
    qtbot.mouseClick(stage.again, Qt.MouseButton.LeftButton)
    assert window.session.job.timetable.changes == ()
    look_at("z4.clean")
    qtbot.mouseClick(panel.join, Qt.MouseButton.LeftButton)
    settled(days, qtbot)
    assert "z4.clean" not in days.answer.days.by_id
    look_at("z4.grind")
    qtbot.mouseClick(panel.add, Qt.MouseButton.LeftButton)
    assert window.session.job.timetable.added[0].after == ("z4.grind",)
    look_at("own1")
    assert panel.remove.isVisibleTo(panel)
    qtbot.mouseClick(panel.remove, Qt.MouseButton.LeftButton)
    assert window.session.job.timetable.added == ()


def test_a_wrong_entry_is_told_and_changes_nothing(window, days, qtbot, type_in):
    told = []
    window.session.told.connect(told.append)
    days.plan.view.picked.emit("z4.strip")
    before = window.session.job
    type_in(days.step.at, "next week")
    type_in(days.step.people, "seven")
    type_in(days.step.hours, "-3 h")
    assert window.session.job is before and len(told) >= 3
    assert any("no day and time" in t for t in told) and any("number from 1 to 6" in t for t in told)


def test_crew_and_air_are_stated_and_taken_back(window, days, qtbot, type_in, tmp_path, monkeypatch):
    crew = days.crew
    days.show_page(3)
    count = len(window.session.job.timetable.people)
    crew.name.setText("visitor")
    crew.hours.setText("9-16")
    crew.days.setText("")
    crew.more.setText("2026-12-19")
    qtbot.mouseClick(crew.skills["paint"], Qt.MouseButton.LeftButton, pos=QPoint(8, 8))
    qtbot.mouseClick(crew.add, Qt.MouseButton.LeftButton)
    people = window.session.job.timetable.people
    assert len(people) == count + 1 and people[-1].days == () and people[-1].skills == ("lay", "lift")
    settled(days, qtbot)
    crew.whose.setCurrentIndex(crew.whose.count() - 1)
    crew.whose.activated.emit(crew.whose.currentIndex())
    assert crew.add.text() == "Change" and (crew.hours.text(), crew.more.text()) == ("9-16", "2026-12-19")
    crew.hours.setText("10-15")
    qtbot.mouseClick(crew.add, Qt.MouseButton.LeftButton)
    people = window.session.job.timetable.people
    changed = people[-1]
    assert (changed.name, changed.hours[0].start, len(people)) == (
        "visitor",
        10,
        count + 1,
    )
    assert crew.add.text() == "Add to the crew" and changed.more == ("2026-12-19",)
    crew.hours.setText("9 until late")
    qtbot.mouseClick(crew.add, Qt.MouseButton.LeftButton)
    assert window.session.job.timetable.people == people
    settled(days, qtbot)
    qtbot.mouseClick(crew.people.delete_button(count), Qt.MouseButton.LeftButton)
    assert len(window.session.job.timetable.people) == count
    crew.kind.setCurrentIndex(crew.kind.findData("dehumidifier"))
    crew.to.setText("50 %")
    qtbot.mouseClick(crew.set_up, Qt.MouseButton.LeftButton)
    assert window.session.job.timetable.aids[-1].humidity.si == pytest.approx(0.5)
    settled(days, qtbot)
    qtbot.mouseClick(crew.aids.delete_button(len(window.session.job.timetable.aids) - 1), Qt.MouseButton.LeftButton)
    window.session.apply(set_forecast(None))
    settled(days, qtbot)
    assert "None told" in crew.origin.text()
    qtbot.mouseClick(crew.simulate, Qt.MouseButton.LeftButton)
    assert "simulated" in window.session.job.timetable.forecast.origin
    path = tmp_path / "air.csv"
    path.write_text("time,temperature,humidity\n2026-12-01 00:00,12,60\n2026-12-01 01:00,13,61\n")
    dialogs = []

    def taken(dialog):
        dialogs.append(dialog)
        dialog.show()
        return dialog.DialogCode.Accepted

    monkeypatch.setattr(WeatherDialog, "exec", taken)
    days.read_weather(path)
    qtbot.waitUntil(lambda: window.session.job.timetable.forecast.temperature == (12.0, 13.0))
    assert "as their headings say" in dialogs[0].findChildren(QLabel)[0].text() and dialogs[0].take.isEnabled()
    told = []
    window.session.told.connect(told.append)
    days.read_weather(tmp_path / "gone.csv")
    qtbot.waitUntil(lambda: len(told) == 1)
    path.write_text("wind\n3\n")
    days.read_weather(path)
    qtbot.waitUntil(lambda: len(told) == 2)
    assert "no column" in told[1]
    assert window.session.job.timetable.forecast.temperature == (12.0, 13.0)


def test_a_weather_file_in_doubt_is_looked_at_before_it_is_taken(window, days, qtbot, tmp_path, monkeypatch):
    """Columns and units are changed as a user would; what cannot be taken so is told and not taken."""
    before = window.session.job.timetable.forecast
    path = tmp_path / "odd.csv"
    path.write_text("when;a;hum;b\n2026-12-01 00:00;50;0.9;x\n2026-12-01 01:00;68;0.8;y\n")
    seen = []

    def looked_at(dialog):
        dialog.show()
        words = dialog.findChildren(QLabel)[0].text()
        assert words.startswith("⚠ Look") and "percent or a share" in words and "names the temperature" in words
        assert not dialog.take.isEnabled() and "no column for temperature" in dialog.said.text()
        column, unit = dialog.columns["temperature"], dialog.units["temperature"]
        column.setCurrentIndex(column.findText("b"))
        assert not dialog.take.isEnabled() and "line 2" in dialog.said.text()
        column.setCurrentIndex(column.findText("a"))
        assert dialog.take.isEnabled() is False or "50" in dialog.said.text()
        unit.setCurrentIndex(unit.findText("°F"))
        assert dialog.take.isEnabled() and "10.0 °C to 20.0 °C, 80% to 90% humidity" in dialog.said.text()
        seen.append(dialog.said.text())
        return dialog.DialogCode.Accepted if len(seen) > 1 else dialog.DialogCode.Rejected

    monkeypatch.setattr(WeatherDialog, "exec", looked_at)
    days.read_weather(path)
    qtbot.waitUntil(lambda: len(seen) == 1)
    window.tasks.wait()
    assert window.session.job.timetable.forecast is before
    days.read_weather(path)
    qtbot.waitUntil(lambda: window.session.job.timetable.forecast is not before)
    assert window.session.job.timetable.forecast.temperature == (10.0, 20.0)


def test_a_day_is_looked_at_and_hours_to_spare_are_filled(window, days, qtbot, type_in):
    days.show_page(1)
    panel = days.day
    type_in(panel.edit, "2026-12-01")
    assert "Tue 1 Dec" in panel.text.toPlainText()
    qtbot.mouseClick(panel.on, Qt.MouseButton.LeftButton)
    assert panel.day == "2026-12-02"
    type_in(panel.edit, "soon")
    assert panel.day == "2026-12-02" and panel.edit.text() == "2026-12-02"
    qtbot.mouseClick(panel.first, Qt.MouseButton.LeftButton)
    assert panel.day > "2026-12-02"
    type_in(panel.edit, "2026-11-30")
    qtbot.mouseClick(panel.ask, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: "3 hours from Mon 30 Nov 18:00" in panel.text.toPlainText(), timeout=30000)
    qtbot.mouseClick(panel.weekend, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: "Weekend of Sat 5 Dec" in panel.text.toPlainText(), timeout=30000)


def test_the_column_states_begin_and_shed(window, days, qtbot, type_in):
    stage = window.showing.stages["days"]
    field = stage._bound[0]
    type_in(field.edit, "2026-12-07")
    assert window.session.job.timetable.start == "2026-12-07"
    assert settled(days, qtbot).days.start == "2026-12-07"
    qtbot.mouseClick(stage.lies.button("outdoors"), Qt.MouseButton.LeftButton)
    assert window.session.job.timetable.outdoors
    assert "yard hand" in stage.crew_note.text() and not stage.free.isEnabled()
    days.plan._moved("z4.strip", 32.0)
    assert stage.free.isEnabled()
    qtbot.mouseClick(stage.free, Qt.MouseButton.LeftButton)
    assert window.session.job.timetable.changes == ()


def test_papers_of_the_days_are_written(window, days, qtbot, tmp_path, monkeypatch):
    documents = window.documents
    for action, name in (("day_sheet", "day.pdf"), ("export_ics", "days.ics")):
        monkeypatch.setattr(documents, "ask_path", lambda *_, n=name: tmp_path / n)
        window.menu_action(action).trigger()
        qtbot.waitUntil(lambda n=name: (tmp_path / n).exists(), timeout=30000)
    assert (tmp_path / "day.pdf").read_bytes().startswith(b"%PDF")
    assert (tmp_path / "days.ics").read_bytes().count(b"BEGIN:VEVENT") > 20


def test_an_edit_elsewhere_does_not_plan_the_days(window, days, qtbot):
    window.session.go("z1", "find")
    QApplication.processEvents()
    asked = days.plan._asked
    window.session.apply(set_forecast(None))
    QApplication.processEvents()
    assert days.plan._asked is asked and window.session.job.timetable.forecast is None
    assert Timetable().changes == () and StepChange(step="x").parts == 1
