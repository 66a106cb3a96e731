"""The window as a new user drives it: read, open, rebuild, order, undo, working, units."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QLineEdit, QPushButton

from ribpatch.core.figure import Figure
from ribpatch.stages import STAGES


def figure(window, key) -> Figure:
    return window.session.plan.by_id[key]


def stage(window, name, zone=None):
    window.session.go(zone, name)
    return window.work.showing.stages[name]


def test_the_start_page_offers_what_can_be_done(bare, qtbot):
    assert not bare.at_work and bare.windowTitle() == "Rib Patch"
    qtbot.mouseClick(bare.start_page.demo, Qt.MouseButton.LeftButton)
    assert bare.at_work and bare.session.job.boat.name == "Heron Reach"


def test_ladder_keys_and_boat_strip_go_where_they_say(window, qtbot):
    for name in (s.id for s in STAGES):
        qtbot.mouseClick(window.work.ladder.rungs[name], Qt.MouseButton.LeftButton)
        assert window.session.stage == name and window.work.ladder.rungs[name].isChecked()
    for letter, f_key, name in (
        ("B", "F5", "boat"),
        ("F", "F6", "find"),
        ("C", "F7", "cause"),
        ("O", "F8", "open"),
        ("R", "F9", "rebuild"),
        ("P", "F10", "prove"),
        ("D", "F11", "order"),
        ("Y", "F12", "days"),
        ("L", "F4", "log"),
    ):
        qtbot.keyClick(window, getattr(Qt.Key, f"Key_{letter}"), Qt.KeyboardModifier.AltModifier)
        qtbot.waitUntil(lambda n=name: window.session.stage == n)  # a button's own key shows the press first
        window.session.go(stage="boat" if name != "boat" else "find")
        qtbot.keyClick(window, getattr(Qt.Key, f"Key_{f_key}"))
        assert window.session.stage == name, f_key
    qtbot.keyClick(window, Qt.Key.Key_3, Qt.KeyboardModifier.ControlModifier)
    assert window.session.zone_id == "z3"
    picture = window.work.strip.picture
    for zone in ("z1", "z2", "z4"):
        hits = {
            picture.zone_at(QPoint(x, y)) for x in range(0, picture.width(), 6) for y in range(0, picture.height(), 4)
        }
        assert zone in hits and "boat" in hits


def test_changing_the_taper_moves_the_ledger_and_undo_takes_it_back(window, qtbot):
    panel = stage(window, "open", "z1")
    before = window.session.job
    choice = next(b for b in panel.findChildren(QPushButton) if b.text() == "20:1")
    qtbot.mouseClick(choice, Qt.MouseButton.LeftButton)
    assert figure(window, "z1.taper.length").value == pytest.approx(0.08)
    assert window.work.ledger.totals["resin.mixed"].difference.startswith("+")
    assert window.menu_action("undo").text() == "&Undo set taper ratio"
    window.menu_action("undo").trigger()
    assert window.session.job == before and window.work.ledger.totals["resin.mixed"].difference.startswith("−")
    window.menu_action("redo").trigger()
    assert figure(window, "z1.taper.length").value == pytest.approx(0.08)


def field(panel, name) -> QLineEdit:
    return next(e for e in panel.findChildren(QLineEdit) if e.accessibleName() == name)


def test_fields_take_what_is_spoken_and_say_what_they_understood(window, type_in):
    panel = stage(window, "open", "z1")
    margin = field(panel, "Margin")
    type_in(margin, "3 1/8 in")
    assert window.session.zone.scheme.cut.margin.si == pytest.approx(3.125 * 0.0254)
    assert window.session.zone.scheme.cut.margin.typed == "3 1/8 in"
    note = margin.parent().note
    assert "understood as 79.4 mm" in note.text()


@pytest.mark.parametrize(
    ("text", "says"),
    [("wide", "no number"), ("3 kg", "not a size"), ("-4", "outside"), ("9 m", "outside"), ("", "nothing was typed")],
)
def test_wrong_input_is_explained_in_place_and_keeps_the_old_value(window, type_in, text, says):
    panel = stage(window, "open", "z1")
    margin, before = field(panel, "Margin"), window.session.job
    margin.setFocus()
    margin.selectAll()
    margin.insert(text)
    margin.setModified(True)
    margin.clearFocus()
    assert window.session.job is before
    note = margin.parent().note
    assert says in note.text() and "old value is kept" in note.text() and note.isVisibleTo(panel)


def test_escape_puts_a_half_typed_value_back(window, qtbot):
    margin = field(stage(window, "open", "z1"), "Margin")
    shown = margin.text()
    margin.setFocus()
    qtbot.keyClicks(margin, "77")
    qtbot.keyClick(margin, Qt.Key.Key_Escape)
    assert margin.text() == shown


def test_showing_the_working_of_any_figure_and_following_it(window, qtbot):
    panel = stage(window, "open", "z1")
    button = next(b for c in panel.cards for k, b in c._figures.items() if k == "taper.length")
    button.setFocus()
    qtbot.keyClick(button, Qt.Key.Key_F2)
    assert window.work.working.isVisible() and "taper length: 48.0 mm" in window.work.working.title.text()
    text = window.work.working.text.text()
    assert "taper ratio × old skin thickness" in text and "12 : 1" in text and "yours" in text
    window.work.working._follow("z1.skin.thickness")
    assert "old outer skin" in window.work.working.title.text()
    qtbot.mouseClick(window.work.working.back, Qt.MouseButton.LeftButton)
    assert "taper length" in window.work.working.title.text()
    qtbot.keyClick(window.work.working, Qt.Key.Key_Escape)
    assert not window.work.working.isVisible()


def test_every_figure_button_and_ledger_total_shows_its_working(window, qtbot):
    for name in (s.id for s in STAGES):
        panel = stage(window, name, "z1")
        for card in panel.cards:
            for button in card._figures.values():
                if button.figure is not None:
                    button.click()
                    assert window.work.working.isVisible() and window.work.working.text.text()
                    window.work.working.close_sheet()
    for total in window.work.ledger.totals.values():
        total.click()
        assert window.work.working.isVisible()


def test_the_working_follows_an_edit_while_it_is_open(window):
    window.work.ask_working(figure(window, "z1.cut.area"))
    before = window.work.working.title.text()
    stage(window, "open", "z1")
    from ribpatch.core.edits import set_value
    from ribpatch.core.units import Measure

    window.session.apply(set_value(("zones", "z1", "scheme", "cut", "margin"), Measure(si=0.1)))
    assert window.work.working.title.text() != before


def test_figures_on_the_plan_and_in_the_tables_show_their_working_too(window, qtbot):
    stage(window, "open", "z1")
    canvas = window.zone_bench.plan_canvas
    canvas.grab()
    box, shown = canvas._figure_boxes[0]
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert window.work.working.isVisible() and shown.name in window.work.working.title.text()
    window.work.working.close_sheet()
    stage(window, "order", "z1")
    table = window.showing.bench("order_bench").cups
    table.setCurrentCell(0, 2)
    qtbot.keyClick(table, Qt.Key.Key_F2)
    assert window.work.working.isVisible() and "cups" in window.work.working.title.text()


def test_the_old_skin_by_its_plies(window, qtbot):
    panel = stage(window, "boat", "z4")
    panel.skin_plies.add.click()
    assert window.session.zone.build.outer.plies and window.session.zone.build.outer.thickness.typed == "7 mm"
    panel = stage(window, "boat", "z3")
    before = figure(window, "z3.skin.thickness").value
    panel.skin_plies.row(0)[0].setValue(4)
    assert figure(window, "z3.skin.thickness").value > before
    while window.session.zone.build.outer.plies:
        panel.skin_plies._widget(0, 4).click()
    assert window.session.zone.build.outer.thickness is not None


def test_any_confidence_can_be_typed(window, type_in):
    panel = stage(window, "find", "z1")
    type_in(field(panel, "or any"), "85 %")
    assert window.session.zone.survey.confidence.si == pytest.approx(0.85)
    type_in(field(panel, "or any"), "30 %")
    assert window.session.zone.survey.confidence.si == pytest.approx(0.85)


def test_finding_a_figure_by_name(window, qtbot):
    window.menu_action("find_figure").trigger()
    qtbot.keyClicks(window.work.finder.line, "dew point")
    qtbot.keyClick(window.work.finder.line, Qt.Key.Key_Return)
    assert window.work.working.isVisible() and "dew point" in window.work.working.title.text()


def test_units_switch_changes_no_stored_value(window, qtbot):
    before = window.session.job
    qtbot.mouseClick(window.work.strip.units, Qt.MouseButton.LeftButton)
    assert window.session.job is before and "lb" in window.work.ledger.totals["weight.on"].value
    margin = field(stage(window, "open", "z1"), "Margin")
    assert margin.text() == "1 9/16 in"
    for shows in ("1 9/16 in", "1.575 in", "1 9/16 in"):
        window.menu_action("fractions").trigger()
        assert margin.text() == shows
    assert window.settings.us_system == window.session.system == "us"
    window.menu_action("units").trigger()
    assert window.session.job is before and not window.session.stack.canUndo()


def test_a_model_update_makes_no_edit(window):
    for name in (s.id for s in STAGES):
        for zone in window.session.job.zones[1:3]:
            window.session.go(zone.id, name)
            window.session.set_system("us")
            window.session.set_system("metric")
    assert window.session.stack.count() == 0


def test_rebuild_by_fabric_count_angle_order_and_code(window, qtbot, type_in):
    panel = stage(window, "rebuild", "z1")
    count, fabric, angle = panel.stack_editor.row(0)
    count.setValue(3)
    assert window.session.zone.scheme.laminate.plies[0].count == 3
    fabric.setCurrentIndex(fabric.findData("biax-090-800"))
    fabric.activated.emit(fabric.currentIndex())
    assert window.session.zone.scheme.laminate.plies[0].fabric == "biax-090-800"
    angle.setCurrentIndex(2)
    angle.activated.emit(2)
    assert window.session.zone.scheme.laminate.plies[0].angle == 90
    type_in(panel.code, "1708")
    assert window.session.zone.scheme.laminate.plies[-1].fabric == "code-1708" and "biaxial" in panel.code_note.text()
    type_in(panel.code, "17x8")
    assert "NNMM" in panel.code_note.text() and window.session.zone.scheme.laminate.plies[-1].fabric == "code-1708"
    while window.session.stack.canUndo():
        window.menu_action("undo").trigger()
    assert window.session.zone.scheme.laminate.plies[0].fabric == "biax-45-600"


def test_fill_to_thickness_reaches_it_with_the_fewest_plies(window, qtbot):
    panel = stage(window, "rebuild", "z3")
    qtbot.mouseClick(panel.fill, Qt.MouseButton.LeftButton)
    surplus, one = figure(window, "z3.stack.surplus").value, figure(window, "z3.ply.thickness").value
    assert 0 <= surplus < one


def test_stack_rows_move_and_go(window, qtbot):
    panel = stage(window, "rebuild", "z1")
    before = window.session.zone.scheme.laminate.plies
    editor = panel.stack_editor
    editor._widget(1, 3).click()
    assert window.session.zone.scheme.laminate.plies[:2] == (before[1], before[0])
    editor._widget(0, 4).click()
    assert len(window.session.zone.scheme.laminate.plies) == len(before) - 1
    editor.add.click()
    assert len(window.session.zone.scheme.laminate.plies) == len(before)


def test_mix_by_mass_is_taken_or_explained(window, qtbot, type_in):
    panel = stage(window, "rebuild", "z1")
    for text, says in (("0 : 1", "above zero"), ("five", "no mix"), ("5:", "no mix")):
        type_in(panel.mix, text)
        panel.mix.editingFinished.emit()
        assert says in panel.mix_label.text() and "old mix is kept" in panel.mix_label.text()
        assert not window.session.stack.canUndo()
    type_in(panel.mix, "4 : 1")
    assert window.session.plan.shelf.resin("epoxy-5-1-slow").mass_parts == (4, 1)


def test_prices_are_edited_in_the_list(window, qtbot):
    stage(window, "order", "z1")
    table = window.showing.bench("order_bench").items
    row = next(r for r in range(table.rowCount()) if table.item(r, 0).text() == "peel ply")
    before = figure(window, "cost.total").value
    table.item(row, 5).setText("9.99")
    assert figure(window, "cost.total").value > before and table.item(row, 5).text() == "9.99 per m²"
    table.item(row, 5).setText("cheap")
    assert "old price is kept" in window.message.label.text() and table.item(row, 5).text() == "9.99 per m²"
    table.item(row, 5).setText("-3")
    assert table.item(row, 5).text() == "9.99 per m²"
    window.menu_action("units").trigger()
    assert table.item(row, 5).text() == "8.35 per yd²"
    table.item(row, 5).setText("10 per yd2")
    assert window.session.plan.shelf.price("peel-ply").price == pytest.approx(10 / 0.83612736)
    qtbot.waitUntil(lambda: "'" in table.item(0, 1).text(), timeout=10000)


def test_rules_are_edited_within_their_limits(window, type_in):
    panel = stage(window, "order", "z1")
    panel.rule_box.setCurrentIndex(panel.rule_box.findData("loss.share"))
    type_in(panel.rule_edit, "12 %")
    assert window.session.plan.shelf.rule("loss.share") == pytest.approx(0.12)
    type_in(panel.rule_edit, "80 %")
    assert "outside" in panel.rule_note.text() and window.session.plan.shelf.rule("loss.share") == pytest.approx(0.12)


def test_boat_facts_outline_fittings_and_edges(window, qtbot, type_in):
    panel = stage(window, "boat", "z4")
    type_in(field(panel, "Beam"), "10 ft")
    assert window.session.job.boat.beam.si == pytest.approx(3.048)
    panel.outline.corners.setPlainText("0 0\n1500 0\n1500 700\n0 700")
    qtbot.mouseClick(panel.outline.use_corners, Qt.MouseButton.LeftButton)
    assert figure(window, "z4.zone.area").value == pytest.approx(1.05)
    panel.outline.corners.setPlainText("0 0\n1 1\n1 0\n0 1")
    qtbot.mouseClick(panel.outline.use_corners, Qt.MouseButton.LeftButton)
    assert "old outline is kept" in panel.outline.outline_note.text() and figure(
        window, "z4.zone.area"
    ).value == pytest.approx(1.05)
    panel.fit_name.setText("lantern bracket")
    for edit, text in (
        (panel.fit_x, "300"),
        (panel.fit_y, "1 ft"),
        (panel.fit_width, "2 in"),
        (panel.fit_holes, "3"),
        (panel.fit_hole, "6 mm"),
    ):
        edit.setText(text)
    qtbot.mouseClick(panel.add_fitting, Qt.MouseButton.LeftButton)
    added = window.session.zone.fittings[-1]
    assert (added.name, added.x, added.holes) == ("lantern bracket", 0.3, 3) and added.y == pytest.approx(0.3048)
    panel.fittings.delete_button(0).click()
    assert window.session.zone.fittings == ()
    panel.edge_name.setText("bulkhead")
    qtbot.mouseClick(panel.add_edge, Qt.MouseButton.LeftButton)
    assert any(e.name == "bulkhead" for e in window.session.zone.edges)


def test_a_core_joint_is_added_by_its_ends_and_a_bad_one_explained(window, qtbot):
    panel = stage(window, "boat", "z1").seams
    for edit, text in zip(panel.lines, ("core joint", "300", "1 ft", "800", "40 cm"), strict=True):
        edit.setText(text)
    qtbot.mouseClick(panel.add, Qt.MouseButton.LeftButton)
    (seam,) = window.session.zone.seams
    assert seam.name == "core joint" and [*seam.ends[0], *seam.ends[1]] == pytest.approx([0.3, 0.3048, 0.8, 0.4])
    assert all(edit.text() == "" for edit in panel.lines) and not panel.note.isVisibleTo(panel)
    panel.lines[1].setText("here")
    qtbot.mouseClick(panel.add, Qt.MouseButton.LeftButton)
    assert "not understood" in panel.note.text() and len(window.session.zone.seams) == 1
    panel.rows.delete_button(0).click()
    assert window.session.zone.seams == ()
    for edit in panel.lines:
        edit.clear()


def test_a_bad_fitting_is_explained(window, qtbot):
    panel = stage(window, "boat", "z4")
    panel.fit_x.setText("here")
    qtbot.mouseClick(panel.add_fitting, Qt.MouseButton.LeftButton)
    assert "not understood" in panel.fitting_note.text() and window.session.zone.fittings == ()


def test_zones_are_added_and_deleted_and_come_back(window, qtbot):
    window.menu_action("add_zone").trigger()
    page = window.zone_page
    assert not window.at_work and page.pick.list.hasFocus()
    qtbot.keyClick(page.pick.list, Qt.Key.Key_Escape)
    assert window.at_work and len(window.session.job.zones) == 4
    window.menu_action("add_zone").trigger()
    qtbot.keyClick(page.pick.list, Qt.Key.Key_Down)
    qtbot.mouseClick(page.add, Qt.MouseButton.LeftButton)
    assert window.session.zone_id == "z5" and window.session.stage == "boat" and window.at_work
    assert window.session.zone.wrong == "soft-sole" and window.session.zone.kind == "sole"
    qtbot.mouseClick(window.work.showing.stages["boat"].delete_zone, Qt.MouseButton.LeftButton)
    assert len(window.session.job.zones) == 4
    window.menu_action("undo").trigger()
    assert len(window.session.job.zones) == 5


def test_a_job_without_zones_says_what_to_do_next(window):
    for zone in list(window.session.job.zones):
        from ribpatch.core.edits import remove_zone

        window.session.apply(remove_zone(zone.id))
    for name in (s.id for s in STAGES):
        window.session.go(stage=name)
    assert "add the first place" in window.zone_bench.plan_canvas.heading
    assert window.session.plan.by_id["cost.total"].value == 0


def test_every_action_has_a_tooltip_and_its_key_is_its_own(window):
    keys = [a.shortcut().toString() for a in window.findChildren(QAction) if not a.shortcut().isEmpty()]
    assert len(keys) == len(set(keys))
    for button in window.findChildren(QPushButton):
        if button.isVisibleTo(window) and button.objectName() not in ("plain",) and button.isEnabled():
            assert button.toolTip(), button.text()


def test_light_and_dark(window):
    window.menu_action("theme").trigger()
    assert window.zone_bench.plan_canvas.theme == "dark" and window.settings.theme == "dark"
    dark = window.grab().toImage().pixelColor(600, 300).lightness()
    window.menu_action("theme").trigger()
    assert window.grab().toImage().pixelColor(600, 300).lightness() > dark


def test_help_lists_every_key(window):
    window.menu_action("keys").trigger()
    assert window.manual.isVisible() and "Ctrl+Shift+Z" in window.manual.text.toPlainText()
    window.menu_action("about").trigger()
    assert "certify nothing" in window.manual.text.toPlainText()


def test_an_error_in_the_program_is_told_and_the_work_kept(window, monkeypatch, capsys):
    import sys

    from ribpatch.jobfile.lock import state_folder
    from ribpatch.ui.app import install_hook

    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    install_hook(window)
    sys.excepthook(ValueError, ValueError("made for the test"), None)
    assert "made for the test" in window.message.label.text() and "kept" in window.message.label.text()
    assert list((state_folder() / "recovery").glob("*.ribpatch"))
    assert "made for the test" in capsys.readouterr().err


def test_ten_thousand_painter_calls_keep_their_references(qapp):
    """A broken binding loses a reference to None with every call that returns nothing, and ends by aborting."""
    import sys

    from PySide6.QtGui import QImage, QPainter

    image = QImage(20, 20, QImage.Format.Format_ARGB32)
    painter = QPainter(image)
    before = sys.getrefcount(None)
    for _ in range(10_000):
        painter.drawLine(0, 0, 10, 10)
    after = sys.getrefcount(None)
    painter.end()
    assert abs(after - before) < 200


@pytest.mark.parametrize("temperature", [4.0, 60.0])
def test_a_shed_too_cold_or_too_hot_breaks_no_stage_and_no_work_pack(window, temperature, one_zone):
    from ribpatch.core.edits import set_value
    from ribpatch.core.units import Measure
    from ribpatch.report.workpack import work_pack

    window.session.apply(set_value(("air", "temperature"), Measure(si=temperature)))
    for name in ("boat", "find", "cause", "open", "rebuild", "order"):
        for zone in window.session.job.zones:
            window.session.go(zone.id, name)
    assert window.showing.bench("order_bench").cups.item(0, 6).text() == (
        "–" if temperature < 15 else window.showing.bench("order_bench").cups.item(0, 6).text()
    )
    assert work_pack(one_zone(window).session.plan, "us", "Letter").startswith(b"%PDF")


def test_a_poured_core_breaks_no_stage_and_no_work_pack(window, one_zone):
    from ribpatch.core.edits import set_core
    from ribpatch.report.workpack import work_pack

    window.session.apply(set_core("z2", "poured-600"))
    for name in ("open", "rebuild", "order"):
        window.session.go("z2", name)
    assert work_pack(one_zone(window, "z2").session.plan, "metric", "A4").startswith(b"%PDF")
