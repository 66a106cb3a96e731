"""Prove driven as a user would: maps, cases, edges, engine, stiffeners dragged, pages, flex, what is wrong."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from ribpatch.core.edits import set_value
from ribpatch.core.figure import Figure
from ribpatch.ui.stages.prove import ENGINE_FIELDS


@pytest.fixture
def prove(window):
    """Go to Prove in a zone; its bench."""

    def go(zone, page=""):
        window.session.go(zone, "prove")
        QApplication.processEvents()
        bench = window.showing.benches["prove_bench"]
        if page:
            bench.below.show_page(page)
            QApplication.processEvents()
        return bench

    return go


def stage(window):
    return window.showing.stages["prove"]


def proof(window):
    return window.session.zone.proof


@pytest.mark.parametrize(("zone", "system"), [("z1", "metric"), ("z2", "us"), ("z3", "metric"), ("z4", "us")])
def test_every_page_shows_every_zone_and_makes_no_edit(window, prove, zone, system):
    window.session.set_system(system)
    steps = window.session.stack.count()
    bench = prove(zone)
    for name in list(bench.below.names):
        bench.below.show_page(name)
        QApplication.processEvents()
        window.grab()
    assert window.session.stack.count() == steps


def test_keys_go_to_the_rung_and_round_its_pages(window, qtbot, prove):
    qtbot.keyClick(window, Qt.Key.Key_F10)
    assert window.session.stage == "prove"
    bench = prove("z1")
    for name in ("Margins", "Remedies", "Scantlings", "Load test", "bent shape"):
        window.menu_action("next_page").trigger()
        assert bench.below.shown == name


def test_cases_and_maps_change_what_is_drawn(window, prove, qtbot):
    bench = prove("z1")
    first = bench.map_canvas.drawing
    qtbot.mouseClick(bench.case_buttons["pull.f1"], Qt.MouseButton.LeftButton)
    assert "bollard" in bench.map_canvas.heading and bench.map_canvas.drawing is not first
    qtbot.mouseClick(bench.kind_buttons["shear"], Qt.MouseButton.LeftButton)
    assert bench.map_canvas.heading.startswith("Shear in the core")
    governs = (
        window.session.plan.zone("z1").strength.by_id["repaired.shear"].formula.endswith("pull on mooring bollard")
    )
    assert bool(bench.map_canvas.figures) == governs
    qtbot.mouseClick(bench.case_buttons["stand"], Qt.MouseButton.LeftButton)
    qtbot.mouseClick(bench.kind_buttons["deflection"], Qt.MouseButton.LeftButton)
    assert bench.map_canvas.figures[0].id == "z1.prove.repaired.deflection.stand"
    solid = prove("z4")
    assert not solid.kind_buttons["shear"].isEnabled() and "Deflection" in solid.map_canvas.heading


def test_the_pointer_tells_the_value_under_it(window, prove, qtbot):
    bench = prove("z1")
    corner = dict(bench._maps.corners)["damaged"]
    at = bench.map_canvas.view.to((corner[0] + 0.6, corner[1] + 0.7))
    qtbot.mouseMove(bench.map_canvas, at.toPoint())
    assert "damaged as surveyed at" in bench.echo.text() and "deflection" in bench.echo.text()


def test_a_figure_in_the_heading_and_in_a_table_shows_its_working(window, prove, qtbot):
    bench = prove("z1", "Margins")
    window.grab()
    box, _figure = bench.map_canvas._figure_boxes[0]
    qtbot.mouseClick(bench.map_canvas, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert window.work.working.isVisible()
    shown = []
    bench.asked.connect(shown.append)
    bench.below.pages["Margins"].table._ask(0, 3)
    assert isinstance(shown[0], Figure) and shown[0].id.startswith("z1.prove.repaired")


def test_an_edge_picked_goes_into_the_job_and_onto_the_map(window, prove):
    bench = prove("z1")
    value = window.session.plan.zone("z1").strength.by_id["repaired.deflection.stand"].value
    pick = stage(window).edges["right"]
    pick.box.setCurrentIndex(pick.box.findData("clamped"))
    pick.box.activated.emit(pick.box.currentIndex())
    assert proof(window).span.right == "clamped"
    assert window.session.plan.zone("z1").strength.by_id["repaired.deflection.stand"].value < value
    assert bench.map_canvas.drawing is not None
    window.session.stack.undo()
    assert proof(window).span.right == "supported"


def test_a_mechanism_is_told_in_the_bench_and_on_the_card(window, prove):
    bench = prove("z1")
    for side in ("left", "right", "bottom", "top"):
        pick = stage(window).edges[side]
        pick.box.activated.emit(pick.box.findData("free"))
    assert "mechanism" in bench.map_canvas.heading and bench.map_canvas.drawing is None
    assert window.grab() is not None
    window.session.stack.undo()
    window.session.stack.undo()
    assert bench.map_canvas.drawing is not None


def test_an_engine_is_stated_mended_and_taken_off(window, prove, qtbot, type_in):
    bench = prove("z2")
    fields = dict(zip(("power", "mass"), stage(window).engine_fields, strict=False))
    before = window.session.plan.zone("z2").strength.by_id["repaired.deflection.thrust"].value
    type_in(fields["power"].edit, "110 hp")
    assert proof(window).engine.power.si == pytest.approx(82_027, rel=1e-4)
    assert window.session.plan.zone("z2").strength.by_id["repaired.deflection.thrust"].value > before
    type_in(fields["power"].edit, "two horses")
    assert proof(window).engine.power.typed == "110 hp" and "kept" in fields["power"].note.text()
    fields["power"].forget()
    qtbot.mouseClick(stage(window).engine_button, Qt.MouseButton.LeftButton)
    assert proof(window).engine is None and "state the engine" in bench.map_canvas.heading
    qtbot.mouseClick(stage(window).engine_button, Qt.MouseButton.LeftButton)
    assert proof(window).engine is not None and bench.map_canvas.drawing is not None


def test_a_stiffener_is_added_dragged_in_one_step_and_deleted(window, prove, drag):
    bench = prove("z4")
    panel = stage(window)
    panel.kind.setCurrentText("hat")
    panel.add_member.click()
    (member,) = window.session.zone.scheme.members
    assert panel.member_fields[0].isVisibleTo(panel)
    steps = window.session.stack.count()
    corner = dict(bench._maps.corners)["repaired"]
    proved = window.session.plan.zone("z4").strength.proved
    start = (corner[0] + member.place - proved.panel.x0, corner[1] + 0.1)
    drag(bench.map_canvas, start, (start[0] + 0.15, start[1]))
    moved = window.session.zone.scheme.members[0].place
    assert moved == pytest.approx(member.place + 0.15, abs=0.02)
    assert window.session.stack.count() == steps + 1
    panel.members.delete_button(0).click()
    assert window.session.zone.scheme.members == ()


def test_a_double_click_puts_the_load_there(window, prove, qtbot):
    bench = prove("z1")
    corner = dict(bench._maps.corners)["before"]
    proved = window.session.plan.zone("z1").strength.proved
    at = bench.map_canvas.view.to((corner[0] + 0.9, corner[1] + 0.4)).toPoint()
    qtbot.mouseDClick(bench.map_canvas, Qt.MouseButton.LeftButton, pos=at)
    assert proof(window).loads.x == pytest.approx(proved.panel.x0 + 0.9, abs=0.02)
    assert proof(window).loads.y == pytest.approx(proved.panel.y0 + 0.4, abs=0.02)


def test_asking_back_answers_and_one_press_begins_a_scheme(window, prove, qtbot, type_in):
    bench = prove("z4", "Margins")
    page = bench.below.pages["Margins"]
    page.back.click()
    page.ask("deflection.pressure")
    window.tasks.wait()
    qtbot.waitUntil(lambda: bool(page.answers))
    assert len(page.answers) >= 2
    answer = next(a for a in page.answers if a.scheme is not None)
    page._begin(answer)
    assert window.session.zone.scheme.id == "s2" and window.session.zone.others[0].id == "s1"
    assert not page._side.isVisibleTo(page)


def test_a_remedy_taken_is_the_scheme_of_its_row(window, prove):
    bench = prove("z1", "Remedies")
    page = bench.below.pages["Remedies"]
    said = []
    page.said.connect(said.append)
    page.take.click()
    assert said
    page._take("core")
    assert window.session.zone.scheme.core.thickness.si == pytest.approx(0.0225)


def test_what_if_names_members_and_explains_wrong_input(window, prove, type_in):
    bench = prove("z1", "Scantlings")
    page = bench.below.pages["Scantlings"]
    assert page.lighter.grid.rowCount() == 0
    type_in(page.edits["length"], "1.5 m")
    assert page.lighter.grid.rowCount() > 3
    assert page.shown.currentWidget() is page.lighter and page.buttons[1].isChecked()
    first = page.boat.drawing
    page.lighter.grid.setCurrentCell(1, 0)
    assert page.boat.isVisibleTo(page) and page.boat.drawing is not first
    assert page.lighter.grid.item(1, 0).text().partition(",")[0] in page.boat.heading.lower()
    page.buttons[0].click()
    assert page.shown.currentWidget() is page.table
    type_in(page.edits["length"], "long")
    assert "⚠" in page.note.text() and page.lighter.grid.rowCount() > 3
    page.plates.click()
    rows = [page.lighter.grid.item(r, 0).text() for r in range(page.lighter.grid.rowCount())]
    assert "at chain plates" in rows
    page.plates.click()
    page.edits["length"].clear()
    type_in(page.edits["length"], "")
    assert page.lighter.grid.rowCount() == 0 and not page.boat.isVisibleTo(page)
    assert page.shown.currentWidget() is page.table


def test_a_flex_is_noted_tells_cause_and_goes_again(window, prove, type_in, qtbot):
    prove("z4", "Load test")
    flexes = stage(window).flexes
    qtbot.keyClicks(flexes.force, "500 N")
    qtbot.keyClicks(flexes.read, "soft")
    flexes.add.click()
    assert "⚠" in flexes.note.text() and not proof(window).flexes
    flexes.read.clear()
    qtbot.keyClicks(flexes.read, "30 mm")
    flexes.add.click()
    assert len(proof(window).flexes) == 1
    assert [a.said for a in window.session.zone.diagnosis.answers] == ["yes"]
    flexes.rows.delete_button(0).click()
    assert not proof(window).flexes and not window.session.zone.diagnosis.answers


def test_a_hole_in_the_panel_is_said_here(window, prove):
    prove("z1")
    panel = stage(window)
    panel.hole.setCurrentIndex(panel.hole.findData("f2"))
    panel._show_hole()
    assert window.session.zone.fittings[1].opening
    panel.opening._group.button(0).click()
    assert not window.session.zone.fittings[1].opening


def test_an_empty_job_and_a_run_without_anything_say_what_to_do(bare, window, prove):
    bench = prove("z3")
    assert "section" in bench.map_canvas.heading
    job = window.session.job
    from ribpatch.core.record import evolve

    window.show_new_job(evolve(job, zones=()), "prove")
    QApplication.processEvents()
    assert "No zone yet" in window.showing.benches["prove_bench"].map_canvas.heading


def test_the_shape_below_is_that_of_the_zone_after_another_page_and_another_zone(window, prove):
    bench = prove("z2", "Scantlings")
    window.session.go("z3")
    window.showing.finish()
    bench.below.show_page("bent shape")
    run = window.session.plan.zone("z3").strength.run
    assert bench.bent_canvas.drawing.bounds[2] == pytest.approx(run.span)
    window.session.go("z1")
    window.showing.finish()
    panel = window.session.plan.zone("z1").strength.proved.panel
    assert bench.bent_canvas.drawing.bounds[2] == pytest.approx(max(panel.a, panel.b))


def test_a_well_is_stated_mended_shown_and_taken_away(window, prove, qtbot, type_in):
    bench = prove("z2")
    card = stage(window)
    assert not any(field.isVisible() for field in card.well_fields)
    before = len(bench.map_canvas.drawing.shapes)
    qtbot.mouseClick(card.well_button, Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    assert proof(window).well is not None and all(field.isVisible() for field in card.well_fields)
    assert len(bench.map_canvas.drawing.shapes) > before, "its floor and sides are drawn"
    type_in(card.well_fields[0].edit, "500 mm")
    assert proof(window).well.width.si == 0.5
    type_in(card.well_fields[0].edit, "9 m")
    QApplication.processEvents()
    assert "well is wider" in " ".join(n.text for n in window.session.plan.prove_notices_of("z2"))
    qtbot.mouseClick(card.well_button, Qt.MouseButton.LeftButton)
    assert proof(window).well is None


def test_a_beam_on_posts_is_stated_by_what_it_gives_or_by_its_timber(window, prove, qtbot, type_in):
    prove("z3")
    card = stage(window)
    assert not card.gives_field.isVisible() and not card.timber_button.isVisible()
    post = window.session.zone.outline[1][0] / 2
    window.session.apply(set_value(("zones", "z3", "scheme", "support", "post"), post))
    QApplication.processEvents()
    assert card.gives_field.isVisible() and not card.timber_fields[0].isVisible()
    qtbot.mouseClick(card.timber_button, Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    type_in(card.timber_fields[2].edit, "150 mm")
    assert window.session.zone.scheme.support.timber.height.si == 0.15
    assert window.session.plan.zone("z3").needs.timber > 0
    qtbot.mouseClick(card.timber_button, Qt.MouseButton.LeftButton)
    assert window.session.zone.scheme.support.timber is None


def test_brackets_fields_stand_only_where_there_is_a_bracket(window, prove, type_in):
    prove("z2")
    card = stage(window)
    named = dict(zip(ENGINE_FIELDS, card.engine_fields, strict=True))
    assert not named["bracket_mass"].isVisible() and named["setback"].isVisible()
    type_in(named["setback"].edit, "600 mm")
    QApplication.processEvents()
    assert named["bracket_mass"].isVisible() and named["bracket_raise"].isVisible()


def test_another_job_opened_at_this_rung_is_shown_with_cases_of_its_own(window):
    from tests.bed import bed_job as demo_job

    window.session.go("z1", "prove")
    window.showing.finish()
    bench = window.showing.benches["prove_bench"]
    bench.show_case("pull.f1")
    window.showing.at_once = False  # pages and figures follow when the picture was painted
    window.session.stack.setClean()
    window.show_new_job(demo_job(), "prove")
    window.showing.finish()
    assert bench.map_canvas.figures and bench.case_buttons
    assert next(key for key, button in bench.case_buttons.items() if button.isChecked()) != "pull.f1"
