"""Shapes drawn, traced on photographs and read from files, in the real window."""

from itertools import pairwise
from math import hypot

import ezdxf
import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPointF, Qt
from PySide6.QtWidgets import QApplication, QDialog, QFileDialog
from shapely.geometry import Polygon
from tests.core.photo.scene import RECTANGLE, rectangle, seen, spots
from tests.core.photo.sheet_picture import as_picture, page, photographed
from tests.core.photo.test_pixels import photograph

from ribpatch.core.readings import Photograph
from ribpatch.core.record import evolve
from ribpatch.core.survey_edits import set_straight
from ribpatch.core.units import Measure
from ribpatch.ui.outline_dialog import OutlineDialog
from ribpatch.ui.straighten_dialog import StraightenDialog


@pytest.fixture
def boat(window):
    """The topside of the demo in Boat: a plain rectangle to begin with."""
    window.session.go("z4", "boat")
    return window


@pytest.fixture
def picture(tmp_path):
    path = tmp_path / "board.png"
    Image.fromarray(photograph(2)).save(path)
    return path


def taken(window, qtbot, path):
    """The photograph of the zone that was added last, once it is there."""
    count = len(window.session.zone.survey.photographs)
    window.documents.add_photographs([path])
    qtbot.waitUntil(lambda: len(window.session.zone.survey.photographs) > count, timeout=10_000)
    return window.session.zone.survey.photographs[-1]


def line(window, name):
    return getattr(window.tracing.drawing.bar, name)


def typed_side(window, qtbot, type_in, length, turn="", rise=""):
    line(window, "turn").setText(turn)
    line(window, "rise").setText(rise)
    type_in(line(window, "length"), length)


def test_an_outline_is_drawn_by_typed_lengths_turns_and_a_rise_with_the_keys_alone(boat, qtbot, type_in):
    boat.menu_action("draw_shape").trigger()
    canvas, tool = boat.zone_bench.plan_canvas, boat.tracing.drawing.tool
    assert tool.active and boat.tracing.drawing.bar.isVisible() and not line(boat, "length").isEnabled()
    tool.at = (0.0, 0.0)
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    typed_side(boat, qtbot, type_in, "800")
    typed_side(boat, qtbot, type_in, "500", "90")
    typed_side(boat, qtbot, type_in, "80 cm", "", "-40")
    assert len(tool.trace.corners) == 4
    qtbot.mouseClick(line(boat, "closing"), Qt.MouseButton.LeftButton)
    assert not tool.active and not boat.tracing.drawing.bar.isVisible()
    area = Polygon(boat.session.zone.outline).area
    assert area == pytest.approx(0.8 * 0.5 + 2 / 3 * 0.8 * 0.04, rel=0.01)  # a flat arc is nearly a parabola
    boat.session.stack.undo()
    assert Polygon(boat.session.zone.outline).area != pytest.approx(area)


def test_arrows_and_enter_place_corners_and_backspace_and_escape_take_back(boat, qtbot):
    before = boat.session.zone.outline
    boat.menu_action("draw_shape").trigger()
    canvas, tool = boat.zone_bench.plan_canvas, boat.tracing.drawing.tool
    tool.at = (0.0, 0.0)
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    for _ in range(3):
        qtbot.keyClick(canvas, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    assert tool.trace.corners == ((0, 0), (0.3, 0))
    qtbot.keyClick(canvas, Qt.Key.Key_Backspace)
    assert tool.trace.corners == ((0, 0),)
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    assert not tool.active and boat.session.zone.outline == before


def test_damage_is_drawn_beside_what_is_drawn_and_a_shape_beside_the_zone_is_refused(window, qtbot):
    window.session.go("z1", "find")
    for x in (0.3, 0.9):
        window.menu_action("draw_shape").trigger()
        tool = window.tracing.drawing.tool
        for place in ((x, 0.1), (x + 0.2, 0.1), (x + 0.2, 0.3)):
            tool.put(place)
        tool.close()
    assert len(window.session.zone.survey.drawn) == 2
    window.menu_action("draw_shape").trigger()
    for place in ((50, 50), (51, 50), (51, 51)):
        tool.put(place)
    tool.close()
    assert tool.active and "outside" in window.zone_bench.echo.text().lower()
    window.session.go(stage="days")
    window.menu_action("draw_shape").trigger()
    assert "Go to Boat" in window.message.label.text()


def test_a_click_on_the_first_corner_closes_and_what_was_typed_wrong_is_told(boat, qtbot, type_in):
    boat.menu_action("draw_shape").trigger()
    canvas, tool = boat.zone_bench.plan_canvas, boat.tracing.drawing.tool
    for place in ((0.0, 0.0), (0.6, 0.0), (0.6, 0.4)):
        at = canvas.view.to(place)
        qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.AltModifier, at.toPoint())
    typed_side(boat, qtbot, type_in, "much")
    assert "was not understood" in boat.zone_bench.echo.text() and len(tool.trace.corners) == 3
    typed_side(boat, qtbot, type_in, "100", "", "90")
    assert "half the distance" in boat.zone_bench.echo.text()
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=canvas.view.to((0.0, 0.0)).toPoint())
    assert not tool.active
    assert Polygon(boat.session.zone.outline).area == pytest.approx(0.12, rel=0.03)


# ---- photographs -------------------------------------------------------------------------------------------------


def opened(window, photograph, straight=None):
    data = window.session.album.get(f"photographs/{photograph.member}")
    return StraightenDialog(data, straight, window.session.system, "light", window)


def test_a_photograph_is_set_straight_by_dragged_marks_and_lies_under_the_plan(boat, qtbot, picture, monkeypatch):
    photograph = taken(boat, qtbot, picture)

    def marked(dialog):
        dialog.show()
        for number, place in enumerate(spots(RECTANGLE)):
            dialog.canvas.current = ("marks", number)
            dialog.canvas._move(place)
        dialog.sizes[0].setText("1 m")
        dialog.sizes[1].setText("600")
        dialog.place_x.setText("200")
        dialog.place_y.setText("100")
        dialog.work_out()
        assert dialog.made.camera < 1e-4 and not dialog.flat.pixmap().isNull()
        qtbot.mouseClick(dialog.take, Qt.MouseButton.LeftButton)
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr(StraightenDialog, "exec", marked)
    boat.menu_action("straighten").trigger()
    kept = boat.session.zone.survey.photographs[-1]
    assert kept.id == photograph.id and kept.straight.sizes[0].si == 1.0 and kept.straight.sizes[0].typed == "1 m"
    canvas, bar = boat.zone_bench.plan_canvas, boat.zone_bench.under
    assert bar.isVisible() and canvas.under is not None
    before = canvas.grab().toImage()
    bar.strength.setValue(0)
    assert canvas.under is None and canvas.grab().toImage() != before
    boat.session.stack.undo()
    assert not bar.isVisible()


def test_a_place_traced_on_the_picture_is_where_it_is_in_the_zone(boat, qtbot, picture):
    photograph = taken(boat, qtbot, picture)
    boat.session.apply(set_straight("z4", photograph.id, rectangle()))
    canvas = boat.zone_bench.plan_canvas
    image = canvas.grab().toImage()
    bar = boat.zone_bench.under
    bar.strength.setValue(100)
    image = canvas.grab().toImage()
    place = (0.55, 0.33)
    at = canvas.view.to(place)
    colour = image.pixelColor(
        round(at.x() * image.width() / canvas.width()), round(at.y() * image.width() / canvas.width())
    )
    from tests.core.photo.test_pixels import board

    wanted = board(np.array([place]))[0]
    assert np.abs(np.array([colour.red(), colour.green(), colour.blue()]) - wanted).max() < 12


def test_edges_checks_and_take_back_in_the_dialog(boat, qtbot, picture):
    dialog = opened(boat, taken(boat, qtbot, picture), rectangle())
    dialog.show()
    dialog.edge_button.click()
    for place in spots([(0.0, 0.0), (0.7, 0.0), (1.4, 0.0)]):
        dialog.canvas.clicked.emit(place)
    dialog.work_out()
    assert "Lens: straight edges" in dialog.words.text() and len(dialog.straight.edges) == 1
    dialog.check_button.click()
    for place in spots([(0.2, 0.1), (1.2, 0.7)]):
        dialog.canvas.clicked.emit(place)
    qtbot.keyClicks(dialog.check_length, "1166")
    dialog.work_out()
    assert dialog.straight.checks[0].length.si == 1.166 and "as measured" in dialog.words.text()
    dialog.back_button.click()
    dialog.work_out()
    assert not dialog.straight.checks and "Check of" not in dialog.words.text()
    dialog.sizes[0].setText("")
    dialog.work_out()
    assert "length is missing" in dialog.words.text() and not dialog.take.isEnabled()
    dialog.how.setCurrentIndex(2)
    assert sum(edit.isVisible() for edit in dialog.sizes) == 6
    dialog.close()


def test_marks_move_by_keys_pixel_by_pixel(boat, qtbot, picture):
    dialog = opened(boat, taken(boat, qtbot, picture))
    dialog.show()
    qtbot.keyClick(dialog.canvas, Qt.Key.Key_3)
    before = dialog.marks[2]
    qtbot.keyClick(dialog.canvas, Qt.Key.Key_Right)
    qtbot.keyClick(dialog.canvas, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    moved = (dialog.marks[2][0] - before[0], dialog.marks[2][1] - before[1])
    assert moved[0] > 0 and moved[1] == pytest.approx(-10 * moved[0], rel=0.01)
    at = dialog.canvas.to(before)
    assert hypot(*(a - b for a, b in zip(dialog.canvas.back(QPointF(at)), before, strict=True))) < 1e-9
    dialog.close()


def test_edges_and_checks_are_set_by_the_keys_alone(boat, qtbot, picture):
    dialog = opened(boat, taken(boat, qtbot, picture), rectangle())
    dialog.show()
    dialog.edge_button.click()
    before = dialog.canvas.cross
    for _ in range(3):
        qtbot.keyClick(dialog.canvas, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        qtbot.keyClick(dialog.canvas, Qt.Key.Key_Return)
    assert len(dialog.edges[0]) == 3 and dialog.edges[0][2][0] > before[0] and dialog.edges[0][0][1] == before[1]
    qtbot.keyClick(dialog.canvas, Qt.Key.Key_1)
    assert dialog.canvas.cross is None and dialog.canvas.current == ("marks", 0)
    dialog.close()


def test_a_fitting_is_traced_by_the_keys_alone(boat, qtbot):
    stage, canvas = boat.showing.stage("boat"), boat.zone_bench.plan_canvas
    stage.trace_box.click()
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    qtbot.keyClick(canvas, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    qtbot.keyClick(canvas, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    assert stage._size(stage.fit_width).si == pytest.approx(0.1, abs=0.06)
    assert stage._size(stage.fit_height).si == pytest.approx(0.1, abs=0.06)
    stage.add_fitting.click()
    assert boat.session.zone.fittings[-1].name == "fitting"


def test_a_picture_that_is_gone_is_told_and_a_damaged_record_paints_nothing(boat, qtbot, picture):
    photograph = taken(boat, qtbot, picture)
    gone = Photograph(id="p99", member="gone.jpg")
    boat.tracing.straighten(gone)
    assert "missing from the job file" in boat.message.label.text()
    flat = evolve(rectangle(), marks=((0.1, 0.1), (0.2, 0.1), (0.3, 0.1), (0.4, 0.1)))
    assert boat.session.apply(set_straight("z4", photograph.id, flat))
    assert boat.zone_bench.plan_canvas.under is None


# ---- files -------------------------------------------------------------------------------------------------------


def test_an_outline_comes_from_a_dxf(boat, qtbot, tmp_path, monkeypatch):
    document = ezdxf.new(units=0)
    document.modelspace().add_lwpolyline([(10, 10), (40, 10), (40, 30)], close=True)
    document.modelspace().add_circle((90, 90), 5)
    document.saveas(tmp_path / "a.dxf")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(tmp_path / "a.dxf"), ""))

    def chosen(dialog):
        dialog.show()
        assert dialog.units.isVisible() and "30.0 mm × 20.0 mm" in dialog.list.item(0).text()
        dialog.units.setCurrentText("centimetres")
        dialog.over.setChecked(True)
        dialog._accepted()
        return QDialog.DialogCode.Accepted

    monkeypatch.setattr(OutlineDialog, "exec", chosen)
    before = boat.session.zone.outline
    boat.menu_action("outline_file").trigger()
    assert boat.session.zone.outline is before, "a drawing from outside is read by a process of its own"
    qtbot.waitUntil(lambda: boat.session.zone.outline is not before, timeout=60_000)
    ring = Polygon(boat.session.zone.outline)
    assert ring.bounds == pytest.approx((0, 0, 0.3, 0.2)) and ring.area == pytest.approx(0.03)
    assert ring.contains(Polygon([(0.02, 0.18), (0.04, 0.18), (0.03, 0.19)])) is False or ring.is_valid
    (tmp_path / "a.dxf").write_text("nothing")
    boat.menu_action("outline_file").trigger()
    qtbot.waitUntil(lambda: "a.dxf" in boat.message.label.text(), timeout=60_000)


def test_a_set_off_sheet_reads_back_from_its_picture(boat, qtbot, tmp_path, monkeypatch):
    shape = ((0.02, 0.03), (0.14, 0.02), (0.15, 0.12), (0.11, 0.21), (0.03, 0.19))
    path = tmp_path / "sheet.jpg"
    as_picture(photographed(page(shape))).save(path, quality=92)
    done = []

    def read(dialog):
        dialog.show()
        done.append([edit.text() for edit in dialog.sizes[:2]])
        qtbot.mouseClick(dialog.line_button, Qt.MouseButton.LeftButton)
        return QDialog.DialogCode.Accepted if dialog.ring else QDialog.DialogCode.Rejected

    monkeypatch.setattr(StraightenDialog, "exec", read)
    boat.tracing.read_outline(path)
    qtbot.waitUntil(lambda: bool(done), timeout=10_000)
    assert done == [["160.0 mm", "240.0 mm"]]
    outline = Polygon(boat.session.zone.outline)
    assert outline.exterior.hausdorff_distance(Polygon(shape).exterior) < 0.0012


def test_a_fitting_and_a_seam_are_traced_by_two_clicks(boat, qtbot):
    stage = boat.showing.stage("boat")
    canvas = boat.zone_bench.plan_canvas
    stage.trace_round.click()
    for place in ((0.2, 0.3), (0.4, 0.3)):
        qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=canvas.view.to(place).toPoint())
    assert stage.fit_height.text() == ""
    assert stage._size(stage.fit_width).si == pytest.approx(0.2, abs=0.01)
    stage.fit_name.setText("vent")
    stage.add_fitting.click()
    fitting = boat.session.zone.fittings[-1]
    assert fitting.name == "vent" and fitting.x == pytest.approx(0.3, abs=0.01) and fitting.height.si == 0
    stage.seams.trace.click()
    for place in ((0.1, 0.1), (0.5, 0.1)):
        qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=canvas.view.to(place).toPoint())
    stage.seams.add.click()
    assert boat.session.zone.seams[-1].ends[1] == pytest.approx((0.5, 0.1), abs=0.01)


def test_sizes_of_a_straightened_photograph_are_said_in_the_units_used(boat, qtbot, picture):
    boat.menu_action("units").trigger()
    straight = evolve(rectangle(), sizes=(Measure(si=1.016), Measure(si=0.6096)))
    dialog = opened(boat, taken(boat, qtbot, picture), straight)
    assert dialog.sizes[0].text() == "3'4\"" and "mm" not in dialog.words.text()
    assert seen(RECTANGLE).shape == (4, 2)
    dialog.close()


def test_a_turn_that_cannot_be_read_is_told_and_tapes_are_drawn_as_two_lines(boat, qtbot, picture):
    dialog = opened(boat, taken(boat, qtbot, picture), rectangle())
    dialog.show()
    dialog.turn.setText("north")
    dialog._quarter()
    assert "north" in dialog.words.text() and dialog.turn.text() == "north"
    dialog.turn.setText("120")
    dialog._quarter()
    assert dialog.turn.text() == "−150"
    dialog.how.setCurrentIndex(1)
    assert dialog.canvas.pairs == {"marks"} and not dialog.canvas.closed
    dialog.how.setCurrentIndex(0)
    assert dialog.canvas.closed == {"marks"} and not dialog.canvas.pairs
    dialog.close()


def test_a_place_and_a_turn_that_are_left_alone_stay_exact(boat, qtbot, picture):
    boat.menu_action("units").trigger()
    straight = evolve(rectangle(), x=0.10037, y=-0.0203, turn=Measure(si=12.3456789))
    dialog = opened(boat, taken(boat, qtbot, picture), straight)
    dialog.work_out()
    assert (dialog.straight.x, dialog.straight.y, dialog.straight.turn.si) == (0.10037, -0.0203, 12.3456789)
    dialog.place_x.setText("1 in")
    dialog.work_out()
    assert (dialog.straight.x, dialog.straight.y) == (pytest.approx(0.0254), -0.0203)
    dialog.close()


def test_a_corner_dragged_a_little_keeps_the_picture_laid_flat(boat, qtbot, picture):
    taken(boat, qtbot, picture)
    boat.session.apply(set_straight("z4", boat.session.zone.survey.photographs[-1].id, rectangle()))
    bar = boat.zone_bench.under
    first = bar.underlay(boat.session.zone)
    ring = boat.session.zone.outline
    moved = evolve(boat.session.zone, outline=((ring[0][0] + 0.003, ring[0][1] + 0.002), *ring[1:]))
    assert bar.underlay(moved).picture is first.picture
    wider = evolve(boat.session.zone, outline=((ring[0][0] - 3.0, ring[0][1]), *ring[1:]))
    assert bar.underlay(wider).low[0] < first.low[0] - 2.0


def test_corners_are_shown_as_spoken_in_us_units_and_those_left_alone_stay_exact(boat, qtbot):
    panel = boat.showing.stage("boat").outline
    ring = ((0.0, 0.0), (1.0001, 0.0), (1.0, 0.70037), (0.013, 0.6))
    from ribpatch.core.edits import set_outline

    boat.session.apply(set_outline("z4", ring))
    boat.menu_action("units").trigger()
    lines = panel.corners.toPlainText().splitlines()
    assert lines[1] == "3'3 3/8\", 0" or lines[1].startswith("3'3")
    panel.corners.setPlainText("\n".join([*lines[:3], "1 in, 2'"]))
    qtbot.mouseClick(panel.use_corners, Qt.MouseButton.LeftButton)
    assert boat.session.zone.outline[:3] == ring[:3]
    assert boat.session.zone.outline[3] == pytest.approx((0.0254, 0.6096))


@pytest.mark.parametrize("size", [(1280, 800), (1024, 700)])
@pytest.mark.parametrize("system", ["metric", "us"])
def test_the_lines_under_the_plan_fit_the_window_whole(boat, qtbot, picture, size, system):
    if system == "us":
        boat.menu_action("units").trigger()
    boat.resize(*size)
    boat.session.apply(set_straight("z4", taken(boat, qtbot, picture).id, rectangle()))
    boat.menu_action("draw_shape").trigger()
    bar = boat.tracing.drawing.bar
    for place in ((0.0, 0.0), (0.6, 0.0), (0.6, 0.4)):
        boat.tracing.drawing.tool.put(place)
    QApplication.processEvents()
    assert boat.width() == size[0] and bar.width() <= boat.zone_bench.width()
    shown = [bar.length, bar.turn, bar.rise, bar.put, bar.back, bar.closing, bar.leaving]
    for one, other in pairwise(shown):
        assert one.geometry().right() < other.geometry().left()
    for button in shown[3:]:
        assert button.fontMetrics().horizontalAdvance(button.text()) + 12 <= button.width()
    under = boat.zone_bench.under
    assert under.geometry().right() <= boat.zone_bench.width() and boat.zone_bench.echo.width() > 150
