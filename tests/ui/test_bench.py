"""Readings by key, click and import; dragging; zoom; the pictures themselves."""

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QApplication

from ribpatch.core.readings import Moisture
from ribpatch.ui.import_dialog import ImportDialog


@pytest.fixture
def find(window):
    window.session.go("z4", "find")
    from ribpatch.core.edits import draw_extent

    window.session.apply(draw_extent("z4", None))
    window.session.stack.clear()
    window.zone_bench.plan_canvas.setFocus()
    return window


def readings(window):
    return window.session.zone.survey.readings


def key(qtbot, window, *keys):
    for one in keys:
        if isinstance(one, str):
            qtbot.keyClicks(window.zone_bench.plan_canvas, one)
        else:
            qtbot.keyClick(window.zone_bench.plan_canvas, one)


def test_taps_and_meter_by_keyboard(find, qtbot):
    key(qtbot, find, "r", "d", "m", "1", "8", ",", "5", Qt.Key.Key_Return)
    taps = [r for r in readings(find) if r.kind == "tap"]
    assert [t.grade for t in taps] == ["ring", "dull", "drummy"]
    assert taps[1].x - taps[0].x == pytest.approx(0.1) and taps[1].y == taps[0].y
    (wet,) = [r for r in readings(find) if isinstance(r, Moisture)]
    assert wet.value == 18.5
    assert "moisture 18.5" in find.zone_bench.echo.text()


def test_direction_follows_the_arrows(find, qtbot):
    key(qtbot, find, Qt.Key.Key_Down, "r", "r")
    first, second = readings(find)
    assert second.y == pytest.approx(first.y - 0.1) and second.x == first.x


def test_backspace_takes_entries_back_and_no_more(find, qtbot):
    key(qtbot, find, "r", "d", Qt.Key.Key_Backspace)
    assert [r.grade for r in readings(find)] == ["ring"]
    key(qtbot, find, Qt.Key.Key_Backspace, Qt.Key.Key_Backspace, Qt.Key.Key_Backspace)
    assert readings(find) == () and "No entry" in find.zone_bench.echo.text()


def test_typed_numbers_can_be_corrected_or_dropped(find, qtbot):
    key(qtbot, find, "1", "2", Qt.Key.Key_Backspace, "9", Qt.Key.Key_Return)
    assert readings(find)[0].value == 19
    key(qtbot, find, "5", Qt.Key.Key_Escape, Qt.Key.Key_Return)
    assert len(readings(find)) == 1


@pytest.mark.parametrize("typed", ["140", "1.2.3"])
def test_wrong_meter_values_enter_nothing(find, qtbot, typed):
    key(qtbot, find, typed, Qt.Key.Key_Return)
    assert readings(find) == () and (
        "outside" in find.zone_bench.echo.text() or "no number" in find.zone_bench.echo.text()
    )


def test_reference_and_delete_by_key(find, qtbot):
    key(qtbot, find, "1", "2", Qt.Key.Key_Return, Qt.Key.Key_Left, "s")
    assert find.session.zone.survey.references == (readings(find)[0].id,)
    key(qtbot, find, "s")
    assert find.session.zone.survey.references == ()
    key(qtbot, find, Qt.Key.Key_Delete)
    assert readings(find) == ()


def click(qtbot, window, place):
    canvas = window.zone_bench.plan_canvas
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=canvas.view.to(place).toPoint())


def test_readings_by_click_with_a_brush(find, qtbot):
    panel = find.work.showing.stages["find"]
    qtbot.mouseClick(panel.instruments.buttons["crunch"], Qt.MouseButton.LeftButton)
    click(qtbot, find, (0.5, 0.4))
    assert readings(find)[0].grade == "crunch" and (readings(find)[0].x, readings(find)[0].y) == pytest.approx(
        (0.5, 0.4), abs=0.003
    )
    panel.instruments.choose("moisture")
    panel.instruments.edit.setText("44")
    qtbot.mouseClick(panel.instruments.buttons["moisture"], Qt.MouseButton.LeftButton)
    click(qtbot, find, (0.8, 0.4))
    assert readings(find)[1].value == 44
    qtbot.mouseClick(panel.instruments.buttons["reference"], Qt.MouseButton.LeftButton)
    click(qtbot, find, (0.8, 0.4))
    assert find.session.zone.survey.references == (readings(find)[1].id,)
    qtbot.mouseClick(panel.instruments.buttons["erase"], Qt.MouseButton.LeftButton)
    click(qtbot, find, (0.5, 0.4))
    assert len(readings(find)) == 1
    click(qtbot, find, (5.0, 0.4))
    assert len(readings(find)) == 1


def test_clicking_with_no_brush_moves_the_cursor_only(find, qtbot):
    click(qtbot, find, (0.47, 0.33))
    assert readings(find) == ()
    assert find.zone_bench.readings.place(find.session.zone) == pytest.approx((0.45, 0.35))


def test_a_click_outside_the_zone_enters_nothing(find, qtbot):
    qtbot.mouseClick(find.work.showing.stages["find"].instruments.buttons["dull"], Qt.MouseButton.LeftButton)
    click(qtbot, find, (-0.05, 0.4))
    assert readings(find) == () and "outside the zone" in find.zone_bench.echo.text()


def test_import_shows_a_preview_and_comes_in_as_one_step(find, qtbot, tmp_path, monkeypatch):
    path = tmp_path / "r.csv"
    path.write_text("x;y;kind;value\n300,5;200;tap;dull\n400;200;moisture;33,5\n1;2;foo;3\n")
    seen = []

    def accept(dialog):
        seen.append(
            (
                dialog.good.rowCount(),
                dialog.bad.item(0, 0).text(),
                dialog.bad.item(0, 2).text().partition(" nor another")[0],
                dialog.add.text(),
            )
        )
        return ImportDialog.DialogCode.Accepted

    monkeypatch.setattr(ImportDialog, "exec", accept)
    find.documents.import_readings(path)
    qtbot.waitUntil(lambda: len(readings(find)) == 2)
    assert seen == [(2, "4", "kind “foo” is neither tap nor moisture", "Add 2 readings")]
    find.menu_action("undo").trigger()
    assert readings(find) == ()


def test_the_preview_speaks_the_units_shown(find, qtbot, tmp_path, monkeypatch):
    path = tmp_path / "r.csv"
    path.write_text("x;y;kind;value\n300;50,8;tap;dull\n")
    seen = []

    def look(dialog):
        table = dialog.good
        seen.append([table.horizontalHeaderItem(k).text() + " " + table.item(0, k).text() for k in (0, 1)])
        return ImportDialog.DialogCode.Rejected

    monkeypatch.setattr(ImportDialog, "exec", look)
    find.documents.import_readings(path)
    qtbot.waitUntil(lambda: len(seen) == 1)
    find.session.set_system("us")
    find.documents.import_readings(path)
    qtbot.waitUntil(lambda: len(seen) == 2)
    assert seen == [["x mm 300.0", "y mm 50.8"], ["x in 11.81", "y in 2.00"]]


def test_an_unusable_file_is_told_and_changes_nothing(find, qtbot, tmp_path):
    path = tmp_path / "r.csv"
    path.write_text("a,b\n1,2\n")
    find.documents.import_readings(path)
    qtbot.waitUntil(lambda: "no column" in find.message.label.text())
    assert not find.session.stack.canUndo()


def test_confidence_moves_the_extent(window, qtbot):
    window.session.go("z1", "find")
    panel = window.work.showing.stages["find"]
    before = window.session.plan.by_id["z1.extent.area"].value
    button = next(b for b in panel.findChildren(type(panel.draw_button)) if b.text() == "70 %")
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert window.session.plan.by_id["z1.extent.area"].value < before


def test_dragging_a_corner_of_the_cut_is_one_step_and_moves_all_figures(window, drag):
    window.session.go("z1", "open")
    bench = window.zone_bench
    before = window.session.plan.by_id["z1.cut.area"].value
    corner = max(bench.corners.rings[0])
    drag(bench.plan_canvas, corner, (corner[0] + 0.02, corner[1] + 0.1))
    assert window.session.stack.count() == 1
    assert window.session.zone.scheme.cut.drawn is not None
    assert window.session.plan.by_id["z1.cut.area"].value > before
    assert window.work.ledger.totals["resin.mixed"].difference
    drag(bench.plan_canvas, max(bench.corners.rings[0]), corner)
    assert window.session.stack.count() == 2
    window.work.showing.stages["open"].rule_button.click()
    assert window.session.plan.by_id["z1.cut.area"].value == pytest.approx(before)


def test_a_drag_that_would_cross_the_outline_stops_there(window, drag):
    window.session.go("z4", "boat")
    bench = window.zone_bench
    before = window.session.zone.outline
    drag(bench.plan_canvas, before[1], (-0.5, 0.4))
    from ribpatch.core.geometry import ring_fault

    assert ring_fault(window.session.zone.outline) is None
    assert "crosses" in bench.echo.text()


def test_corners_are_added_by_double_click_and_deleted(window, qtbot):
    window.session.go("z4", "boat")
    canvas = window.zone_bench.plan_canvas
    count = len(window.session.zone.outline)
    middle = canvas.view.to((0.0, 0.34)).toPoint()
    qtbot.mouseDClick(canvas, Qt.MouseButton.LeftButton, pos=middle)
    assert len(window.session.zone.outline) == count + 1
    qtbot.keyClick(canvas, Qt.Key.Key_Delete)
    assert len(window.session.zone.outline) == count


def test_drawing_the_extent_by_hand_and_going_back(window, qtbot, drag):
    window.session.go("z1", "find")
    panel = window.work.showing.stages["find"]
    qtbot.mouseClick(panel.draw_button, Qt.MouseButton.LeftButton)
    assert window.session.zone.survey.drawn
    corner = window.zone_bench.corners.rings[0][0]
    drag(window.zone_bench.plan_canvas, corner, (corner[0] - 0.05, corner[1]))
    assert window.session.stack.count() == 2
    qtbot.mouseClick(panel.readings_button, Qt.MouseButton.LeftButton)
    assert window.session.zone.survey.drawn is None


def test_dragging_the_section_line_redraws_the_section_without_an_edit(window, drag):
    window.session.go("z1", "open")
    bench = window.zone_bench
    before = bench.section_canvas.drawing
    a, _ = bench.section.line
    drag(bench.plan_canvas, a, (a[0], a[1] + 0.4))
    assert bench.section_canvas.drawing is not before and window.session.stack.count() == 0
    window.session.go("z2")
    window.session.go("z1")
    assert bench.section.line[0][1] == pytest.approx(a[1] + 0.4, abs=0.02)


def test_wheel_zooms_at_the_mouse_and_home_fits_again(window, qtbot):
    canvas = window.zone_bench.plan_canvas
    fitted = canvas.view
    at = QPointF(300, 200)
    place = fitted.back(at)
    up = QWheelEvent(
        at, canvas.mapToGlobal(at), QPoint(), QPoint(0, 120), Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    QApplication.sendEvent(canvas, up)
    assert canvas.view.scale > fitted.scale
    again = canvas.view.to(place)
    assert (again.x(), again.y()) == pytest.approx((300, 200), abs=1.5)
    qtbot.keyClick(canvas, Qt.Key.Key_Home)
    assert canvas.view == fitted


def test_field_and_cut_are_really_painted(window):
    window.session.go("z1", "open")
    image = window.zone_bench.plan_canvas.grab().toImage()
    view = window.zone_bench.plan_canvas.view
    dark = view.to((0.85, 0.15))
    light = view.to((0.1, -0.9))
    assert image.pixelColor(dark.toPoint()).lightness() < 90
    assert image.pixelColor(light.toPoint()).lightness() > 200


def test_the_section_line_follows_a_changed_outline(window):
    from ribpatch.core.edits import set_outline

    window.session.go("z1", "boat")
    bench = window.zone_bench
    line = ((0.2, 0.3), (0.9, 0.3))
    bench._section_moved(line)
    zone = window.session.zone
    ring = tuple((2 * x, y) for x, y in zone.outline)
    window.session.apply(set_outline("z1", ring))
    assert [*bench.section.line[0], *bench.section.line[1]] == pytest.approx([0.4, 0.3, 1.8, 0.3])
    window.menu_action("undo").trigger()
    assert [*bench.section.line[0], *bench.section.line[1]] == pytest.approx([0.2, 0.3, 0.9, 0.3])
