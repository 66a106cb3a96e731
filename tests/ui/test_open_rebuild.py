"""Open and Rebuild driven as a user would: pages below the plan, marks, ticks, depths, dragging sides, schemes,
parts.
"""

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtWidgets import QApplication

from ribpatch.core.edits import set_value
from ribpatch.core.scheme import Repeat
from ribpatch.core.units import Measure


@pytest.fixture
def below(window):
    return window.zone_bench.below


def go(window, zone, stage, page=None):
    window.session.go(zone, stage)
    if page:
        window.zone_bench.below.show_page(page)
    QApplication.processEvents()


def page(window, name):
    return window.zone_bench.below.pages[name]


def scheme(window):
    return window.session.zone.scheme


# ---- pages ----


def test_each_stage_has_its_pages_and_the_keys_go_round(window, below):
    go(window, "z1", "rebuild")
    names = list(below.names)
    assert names[0] == "cut-through" and {"Laminate", "Suggest", "Cores", "Bonds", "Parts", "Schemes"} <= set(names)
    for name in [*names[1:], names[0]]:
        window.menu_action("next_page").trigger()
        assert below.shown == name and below.button(name).isChecked()
    go(window, "z1", "boat")
    assert below.shown == "cut-through"


@pytest.mark.parametrize(("zone", "system"), [("z1", "metric"), ("z2", "us"), ("z3", "metric"), ("z4", "us")])
def test_every_page_shows_every_zone_and_makes_no_edit(window, below, zone, system):
    window.session.set_system(system)
    steps = window.session.stack.count()
    for stage in ("open", "rebuild"):
        go(window, zone, stage)
        for name in list(below.names):
            below.show_page(name)
            QApplication.processEvents()
            window.grab()
    assert window.session.stack.count() == steps


def test_both_themes_reach_the_pages(window, below):
    go(window, "z1", "rebuild", "Laminate")
    window.menu_action("theme").trigger()
    assert page(window, "Laminate").table.theme == "dark" and page(window, "Laminate").chart.theme == "dark"
    window.menu_action("theme").trigger()


# ---- laminate and suggestions ----


def test_a_figure_in_a_table_shows_its_working(window, qtbot):
    go(window, "z1", "rebuild", "Laminate")
    table = page(window, "Laminate").table
    with qtbot.waitSignal(table.asked) as asked:
        table.grid.setCurrentCell(0, 1)
        qtbot.keyClick(table.grid, Qt.Key.Key_F2)
    assert "stretching" in asked.args[0].name
    assert window.work.working.isVisible()


def test_the_three_looks_of_the_laminate(window):
    go(window, "z1", "rebuild", "Laminate")
    laminate = page(window, "Laminate")
    first = [r.cells[0] for r in laminate.table.table.rows]
    for index in (1, 2, 0):
        laminate._views.button(index).click()
    assert [r.cells[0] for r in laminate.table.table.rows] == first
    laminate._views.button(1).click()
    assert laminate.table.table.rows[0].cells[0] == "tension along"


def test_a_search_offers_stacks_and_one_is_taken(window, qtbot):
    go(window, "z1", "rebuild", "Suggest")
    suggest = page(window, "Suggest")
    qtbot.mouseClick(suggest.go, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: suggest.go.isEnabled() and suggest.table.grid.rowCount() >= 5, timeout=8000)
    suggest.table.grid.setCurrentCell(1, 0)
    wanted = suggest._found["z1"][1][1].lines
    qtbot.keyClick(suggest.table.grid, Qt.Key.Key_Return)
    assert scheme(window).laminate.plies == wanted
    assert suggest.table.table.rows[1].mark == "chosen"
    window.menu_action("undo").trigger()
    assert scheme(window).laminate.plies != wanted


def test_at_most_eight_cloths_are_searched(window, qtbot):
    go(window, "z1", "rebuild", "Suggest")
    suggest = page(window, "Suggest")
    off = next(box for box in suggest.boxes.values() if not box.isChecked())
    qtbot.mouseClick(
        off, Qt.MouseButton.LeftButton, pos=off.rect().center() - off.rect().center() + QPointF(8, 8).toPoint()
    )
    assert not off.isChecked() and "At most 8" in window.zone_bench.echo.text()


# ---- typing a stack ----


def test_a_stack_is_typed_with_a_sub_stack_and_written_out(window, type_in, qtbot):
    go(window, "z1", "rebuild")
    editor = window.work.showing.stages["rebuild"].stack_editor
    type_in(editor.typed, "biax 45 450, 2 x (0/90 450, woven 600)")
    assert isinstance(scheme(window).laminate.plies[1], Repeat) and scheme(window).laminate.plies[1].times == 2
    editor._widget(1, 0).setValue(3)
    assert scheme(window).laminate.plies[1].times == 3
    qtbot.mouseClick(editor._widget(1, 1), Qt.MouseButton.LeftButton)
    assert len(scheme(window).laminate.plies) == 7
    assert "biax-090-450" in editor.typed.text()


def test_a_stack_that_is_not_understood_keeps_the_old_one(window, type_in):
    go(window, "z1", "rebuild")
    editor, before = window.work.showing.stages["rebuild"].stack_editor, scheme(window).laminate.plies
    type_in(editor.typed, "3 x moonbeam")
    assert scheme(window).laminate.plies is before and "no fabric" in editor.note.text() and editor.note.isVisible()


# ---- open ----


def test_own_marks_move_the_score_and_a_side_is_chosen(window, qtbot):
    go(window, "z1", "open", "Sides")
    sides = page(window, "Sides")
    sides.boxes["access", "inside"].setValue(5)
    assert scheme(window).access.marks[0].mark == 5
    qtbot.mouseClick(sides.choose["inside"], Qt.MouseButton.LeftButton)
    assert scheme(window).access.side == "inside"
    assert sides.choose["inside"].isChecked()
    sides.boxes["access", "inside"].setValue(-1)
    assert scheme(window).access.marks == ()


def test_ticking_before_cutting_wants_a_note(window, qtbot):
    go(window, "z1", "open")
    before = window.work.showing.stages["open"].before
    for _ in range(2):  # the first press asks for the note, the next finds none
        qtbot.mouseClick(before.buttons["deck-support"], Qt.MouseButton.LeftButton)
    assert len(window.session.zone.ticks) == 1 and "few words" in window.message.label.text()
    qtbot.keyClicks(before.lines["deck-support"], "two shores")
    qtbot.keyClick(before.lines["deck-support"], Qt.Key.Key_Return)
    assert window.session.zone.ticks[-1].note == "two shores"
    assert "deck-support" not in before.lines
    qtbot.mouseClick(before.buttons["deck-support"], Qt.MouseButton.LeftButton)
    assert len(window.session.zone.ticks) == 1


def test_one_side_gets_a_margin_and_a_ratio_of_its_own(window, type_in, qtbot):
    go(window, "z4", "open")
    stage = window.work.showing.stages["open"]
    type_in(stage.margins.edits["x+"], "80 mm")
    type_in(stage.ratios.edits["x-"], "20:1")
    assert scheme(window).cut.sides[0].margin.si == pytest.approx(0.08)
    assert scheme(window).taper.ratio_at("x-") == 20
    type_in(stage.margins.edits["x+"], "eight")
    assert "old value is kept" in stage.margins.note.text() and scheme(window).cut.sides
    type_in(stage.margins.edits["x+"], "9 m")
    assert "outside" in stage.margins.note.text() and scheme(window).cut.sides[0].margin.si == pytest.approx(0.08)
    edit = stage.margins.edits["x+"]
    edit.setFocus()
    edit.selectAll()
    qtbot.keyClick(edit, Qt.Key.Key_Delete)
    qtbot.keyClick(edit, Qt.Key.Key_Return)
    assert scheme(window).cut.sides == ()


def test_a_side_of_the_cut_is_dragged_with_both_corners_and_catches(window, drag):
    go(window, "z1", "open")
    canvas = window.zone_bench.plan_canvas
    (ring,) = window.zone_bench.corners.rings
    x1 = max(x for x, _ in ring)
    drag(canvas, (x1, 0.2), (x1 + 0.05, 0.2))
    (drawn,) = scheme(window).cut.drawn
    moved = sorted(x for x, _ in drawn)[-2:]
    assert moved[0] == moved[1] and 0.02 < moved[0] - x1 < 0.09
    assert window.session.stack.undoText() == "draw the cut line"


def test_merge_and_split_by_their_buttons(window, qtbot):
    go(window, "z1", "open")
    stage = window.work.showing.stages["open"]
    window.zone_bench.section.line = ((0.8, -1.3), (0.8, 1.3))
    qtbot.mouseClick(stage.split_button, Qt.MouseButton.LeftButton)
    assert len(scheme(window).cut.drawn) == 2
    qtbot.mouseClick(stage.merge_button, Qt.MouseButton.LeftButton)
    assert len(scheme(window).cut.drawn) == 1


def test_depths_by_typing_and_by_a_click(window, type_in, qtbot):
    go(window, "z4", "open")
    stage, canvas = window.work.showing.stages["open"], window.zone_bench.plan_canvas
    window.session.apply(set_value(("zones", "z4", "scheme", "access", "part_depth"), True))
    type_in(stage.depth_entry, "720, 340, 3 mm")
    assert [d.depth.si for d in window.session.zone.depths] == pytest.approx([0.003])
    type_in(stage.depth_entry, "2 mm")
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=canvas.view.to((0.66, 0.33)).toPoint())
    assert len(window.session.zone.depths) == 2
    assert window.session.plan.zone("z4").patch.pit is not None
    type_in(stage.depth_entry, "1, 2")
    assert "x, y and depth" in stage.depth_fault.text() and len(window.session.zone.depths) == 2
    qtbot.mouseClick(stage.depth_rows.delete_button(0), Qt.MouseButton.LeftButton)
    assert len(window.session.zone.depths) == 1


def test_both_faces_and_backing_by_their_buttons(window, qtbot):
    go(window, "z4", "open")
    stage = window.work.showing.stages["open"]
    stage.second_button.click()
    assert scheme(window).laminate.second is not None and stage.second_stack.isVisibleTo(stage)
    stage.backing_button.click()
    assert scheme(window).laminate.backing is not None and "strips" in stage.backing_note.text()
    stage.second_button.click()
    assert scheme(window).laminate.second is None


def test_the_ratio_that_fits_is_used_on_its_side(window, qtbot):
    go(window, "z1", "open", "Taper and bond")
    bond = page(window, "Taper and bond")
    fits = window.session.plan.zone("z1").patch.band.tight[0].ratio
    bond.tight.grid.setCurrentCell(0, 0)
    qtbot.keyClick(bond.tight.grid, Qt.Key.Key_Return)
    assert 0 <= fits - scheme(window).taper.ratio_at("x+") < 0.1 and 7 < fits < 12
    assert window.session.plan.zone("z1").patch.band.tight == ()
    bond.schools.grid.setCurrentCell(0, 0)
    qtbot.keyClick(bond.schools.grid, Qt.Key.Key_Return)
    assert scheme(window).taper.ratio.si == 8


# ---- rebuild ----


def test_a_core_is_taken_from_the_comparison(window, qtbot):
    go(window, "z1", "rebuild", "Cores")
    cores = page(window, "Cores")
    row = next(i for i, r in enumerate(cores.table.table.rows) if r.key == "ply-marine")
    cores.table.grid.setCurrentCell(row, 0)
    qtbot.keyClick(cores.table.grid, Qt.Key.Key_Return)
    assert scheme(window).core.material == "ply-marine" and scheme(window).core.thickness.si == pytest.approx(0.0165)


def test_the_steps_of_a_bond_are_shown(window):
    go(window, "z1", "rebuild", "Bonds")
    bonds = page(window, "Bonds")
    texts = []
    for row in range(bonds.table.grid.rowCount()):
        bonds.table.grid.setCurrentCell(row, 0)
        texts.append(bonds.steps.text())
    assert len(set(texts)) >= 4 and any("secondary bond" in t and "<li>" in t for t in texts)


def test_a_part_is_added_changed_and_deleted(window, type_in, qtbot):
    go(window, "z1", "rebuild", "Parts")
    parts = page(window, "Parts")
    parts.what.setCurrentText("knee")
    qtbot.mouseClick(parts.add, Qt.MouseButton.LeftButton)
    assert scheme(window).parts[0].kind == "knee"
    type_in(parts.bound[1].edit, "300 mm")
    assert scheme(window).parts[0].length.si == pytest.approx(0.3)
    type_in(parts.bound[1].edit, "-3")
    assert scheme(window).parts[0].length.si == pytest.approx(0.3) and "kept" in parts.bound[1].note.text()
    parts.stack.row(0)[0].setValue(6)
    assert scheme(window).parts[0].plies[0].count == 6
    qtbot.mouseClick(parts.drop, Qt.MouseButton.LeftButton)
    assert scheme(window).parts == () and not parts.drop.isEnabled()


def test_schemes_are_begun_chosen_and_dropped(window, qtbot):
    go(window, "z4", "rebuild", "Schemes")
    schemes = page(window, "Schemes")
    qtbot.mouseClick(schemes.new, Qt.MouseButton.LeftButton)
    assert scheme(window).id == "s2" and schemes.table.grid.rowCount() == 2
    schemes.table.grid.setCurrentCell(0, 0)
    qtbot.keyClick(schemes.table.grid, Qt.Key.Key_Return)
    assert scheme(window).id == "s1"
    schemes.table.grid.setCurrentCell(1, 0)
    qtbot.mouseClick(schemes.drop, Qt.MouseButton.LeftButton)
    assert window.session.zone.others == () and not schemes.drop.isEnabled()


def test_a_coupon_is_entered_refused_and_forgotten(window, type_in, qtbot):
    go(window, "z1", "rebuild")
    panel = window.work.showing.stages["rebuild"].coupons
    panel.fabric.setCurrentIndex(panel.fabric.findData("biax-45-600"))
    type_in(panel.thickness, "0.8 mm")
    assert "thinner than" in panel.note.text() and window.session.job.own.coupons == ()
    type_in(panel.thickness, "0 mm")
    assert panel.note.isVisibleTo(panel) and window.session.job.own.coupons == ()
    type_in(panel.thickness, "2.9 mm")
    assert window.session.job.own.coupons[0].plies == 4
    qtbot.mouseClick(panel.rows.delete_button(0), Qt.MouseButton.LeftButton)
    assert window.session.job.own.coupons == ()


def test_the_old_laminate_by_era_count_and_burn_off(window, type_in):
    go(window, "z1", "rebuild")
    stage = window.work.showing.stages["rebuild"]
    era = stage.era.box
    era.setCurrentIndex(era.findData("before-1975"))
    era.activated.emit(era.currentIndex())
    assert window.session.zone.build.outer.era == "before-1975" and "before 1975" in stage.known.text()
    type_in(stage.counted.typed, "2 x mat 450, woven 600")
    assert len(window.session.zone.build.outer.plies) == 2
    type_in(stage.burnt, "35 %")
    assert window.session.zone.build.outer.fibre_fraction == Measure(si=0.35, typed="35 %")
    type_in(stage.burnt, "5 %")
    assert "kept" in stage.burnt_note.text() and window.session.zone.build.outer.fibre_fraction.si == pytest.approx(
        0.35
    )


def test_tabbing_is_laid_and_shown(window, qtbot):
    go(window, "z3", "rebuild")
    stage = window.work.showing.stages["rebuild"]
    stage.tabbing_button.click()
    assert scheme(window).laminate.tabbing is not None and stage.tabbing_table.grid.rowCount() == 6
    stage.tabbing_button.click()
    assert scheme(window).laminate.tabbing is None


def test_drawings_and_templates_are_written(window, monkeypatch, tmp_path, qtbot):
    go(window, "z4", "rebuild")
    for action, name, start in (
        ("export_plan", "a.svg", b"<?xml"),
        ("export_section", "b.dxf", b"  0"),
        ("templates", "c.pdf", b"%PDF"),
        ("cut_plan", "e.svg", b"<?xml"),
        ("cut_plan", "f.pdf", b"%PDF"),
        ("cut_core", "g.svg", b"<?xml"),
    ):
        path = tmp_path / name
        monkeypatch.setattr(window.documents, "ask_path", lambda *a, p=path: p)
        monkeypatch.setattr(window.documents, "ask_kind", lambda *a, p=path: (p, "PDF on A3 (*.pdf)"))
        window.menu_action(action).trigger()
        qtbot.waitUntil(path.is_file, timeout=15000)
        window.tasks.wait()
        assert path.read_bytes().startswith(start)
    bad = tmp_path / "d.txt"
    monkeypatch.setattr(window.documents, "ask_path", lambda *a: bad)
    window.menu_action("export_plan").trigger()
    qtbot.waitUntil(lambda: ".svg" in window.message.label.text(), timeout=5000)
    assert not bad.exists()


# ---- the lower half as a whole ----


def test_the_plan_keeps_its_size_when_a_page_opens_and_the_page_can_take_the_whole_bench(window, below, qtbot):
    go(window, "z1", "rebuild")
    plan = window.zone_bench.plan_canvas
    height = plan.height()
    below.show_page("Cores")
    QApplication.processEvents()
    assert plan.height() == height
    window.menu_action("whole_page").trigger()
    QApplication.processEvents()
    assert plan.isHidden() and below.height() > height + 150
    qtbot.mouseClick(below.large, Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    assert plan.height() == height
    window.menu_action("whole_page").trigger()
    go(window, "z1", "boat")  # no pages there: the plan comes back
    assert not plan.isHidden()


def test_the_line_between_plan_and_pages_is_remembered(window, below):
    room = window.zone_bench.split
    window.showing.bench("prove_bench")
    room.setSizes([200, 400])
    room.splitterMoved.emit(200, 1)
    assert window.settings.lower_share == pytest.approx(room.share, abs=0.01) and room.share > 0.5
    other = window.showing.bench("prove_bench").split
    other.give(window.settings.lower_share)
    assert other.share == pytest.approx(room.share, abs=0.05)


def test_a_page_stays_for_its_stage_and_follows_the_zone(window, below):
    go(window, "z1", "rebuild", "Laminate")
    go(window, "z1", "open")
    assert below.shown == "cut-through"
    go(window, "z4", "rebuild")
    assert below.shown == "Laminate"
    first = page(window, "Laminate").table.table
    go(window, "z1", "rebuild")
    assert page(window, "Laminate").table.table is not first


def test_a_search_can_be_stopped_and_begun_again(window, qtbot, monkeypatch):
    from ribpatch.ui.pages import suggest as module

    def endless(_cloths, _old, _limits, go_on):
        while go_on(0.5):
            pass

    go(window, "z1", "rebuild", "Suggest")
    suggest = page(window, "Suggest")
    real = module.search
    monkeypatch.setattr(module, "search", endless)
    suggest.start()
    assert not suggest.go.isEnabled()
    window.tasks.cancel()
    qtbot.waitUntil(suggest.go.isEnabled, timeout=5000)
    assert "z1" not in suggest._found
    monkeypatch.setattr(module, "search", real)
    suggest.start()
    qtbot.waitUntil(lambda: "z1" in suggest._found, timeout=8000)


def test_a_depth_waiting_for_its_place_is_dropped_by_esc(window, qtbot):
    go(window, "z4", "open")
    window.session.apply(set_value(("zones", "z4", "scheme", "access", "part_depth"), True))
    window.cutting.note_depth(Measure(si=0.002))
    canvas = window.zone_bench.plan_canvas
    assert "Click on the plan" in window.zone_bench.echo.text()
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=canvas.view.to((0.7, 0.34)).toPoint())
    assert window.session.zone.depths == ()


def test_a_tabbed_corner_is_shown_in_section_in_rebuild_only(window):
    go(window, "z3", "rebuild")
    window.work.showing.stages["rebuild"].tabbing_button.click()
    assert "Tabbing in section" in window.zone_bench.section_canvas.heading
    go(window, "z3", "open")
    assert "Cut-through" in window.zone_bench.section_canvas.heading


def test_what_cannot_be_split_or_merged_is_said_and_changes_nothing(window):
    go(window, "z1", "open")
    window.zone_bench.section.line = ((0.0, -1.3), (0.0, 1.3))
    steps = window.session.stack.count()
    window.cutting.split()
    assert "does not cross" in window.zone_bench.echo.text()
    window.cutting.merge()
    assert "nothing to merge" in window.zone_bench.echo.text()
    assert window.session.stack.count() == steps


def test_every_step_of_open_and_rebuild_undoes_to_the_same_job(window, type_in):
    before = window.session.job
    go(window, "z1", "open", "Sides")
    page(window, "Sides").boxes["access", "inside"].setValue(4)
    type_in(window.work.showing.stages["open"].ratios.edits["x+"], "8:1")
    window.work.showing.stages["open"].second_button.click()
    go(window, "z1", "rebuild", "Schemes")
    page(window, "Schemes").new.click()
    type_in(window.work.showing.stages["rebuild"].stack_editor.typed, "4 x biax 45 450")
    assert window.session.stack.count() >= 5
    while window.session.stack.canUndo():
        window.menu_action("undo").trigger()
    assert window.session.job == before


def test_saved_pieces_are_listed_with_their_weights(window):
    go(window, "z1", "open")
    window.session.apply(set_value(("zones", "z1", "scheme", "cut", "saved"), True))
    words = window.work.showing.stages["open"].pieces_note.text()
    pieces = window.session.plan.zone("z1").patch.saved.pieces
    assert words.count("kg") == len(pieces) > 1 and f"{len(pieces)}: " in words


def test_the_margin_that_the_rule_gives_is_shown_on_each_side(window):
    go(window, "z1", "open")
    window.session.apply(set_value(("zones", "z1", "scheme", "cut", "rule"), "as far again"))
    hints = {f: e.placeholderText() for f, e in window.work.showing.stages["open"].margins.edits.items()}
    sides = window.session.plan.zone("z1").patch.cut.sides
    assert all(hints[f] == f"{v * 1000:.1f} mm" for f, v in sides.items()) and len(set(hints.values())) > 1


def test_a_suggestion_for_another_resin_is_not_offered_any_more(window, qtbot):
    go(window, "z1", "rebuild", "Suggest")
    suggest = page(window, "Suggest")
    suggest.start()
    qtbot.waitUntil(lambda: suggest.table.isVisible(), timeout=8000)
    window.session.apply(set_value(("zones", "z1", "scheme", "resin", "main"), "vinylester"))
    assert not suggest.table.isVisible()
    window.menu_action("undo").trigger()
    assert suggest.table.isVisible()
    window.menu_action("demo_job").trigger()
    assert window.zone_bench.below.pages == {}


def test_a_fabric_from_a_code_says_what_was_assumed_and_can_be_turned(window, type_in, qtbot):
    go(window, "z1", "rebuild")
    panel = window.work.showing.stages["rebuild"]
    assert not panel.turn_code.isEnabled()
    type_in(panel.code, "1708")
    assert "±45 is assumed" in panel.code_note.text() and panel.turn_code.isEnabled()
    plies = scheme(window).laminate.plies
    qtbot.mouseClick(panel.turn_code, Qt.MouseButton.LeftButton)
    (fabric,) = window.session.job.own.fabrics
    assert {layer.angle for layer in fabric.layers if layer.kind == "stitched"} == {
        0,
        90,
    } and "0/90" in panel.code_note.text()
    assert scheme(window).laminate.plies == plies and "turn" in window.session.stack.undoText()
    window.menu_action("undo").trigger()
    assert {layer.angle for layer in window.session.job.own.fabrics[0].layers if layer.kind == "stitched"} == {45, -45}
