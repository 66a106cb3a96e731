"""Shed mode and sizes of text: everything grows while the window runs, and nothing is cut off."""

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtWidgets import QAbstractButton, QApplication, QLabel, QPushButton, QTableWidget
from tests.ui.geometry import findings, settle

from ribpatch.core.drawing.palette import PALETTES
from ribpatch.core.readings import Photograph
from ribpatch.core.units import usual
from ribpatch.stages import STAGES
from ribpatch.ui.frame.parts import CHOICES, PAGE, PLAN
from ribpatch.ui.scaling import SIZES, factor, px, set_factor, sized
from ribpatch.ui.settings import Settings
from ribpatch.ui.widgets.by_eye import by_eye

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture(autouse=True)
def usual_again(bare):
    yield
    if bare.settings.shed:
        bare.menu_action("shed").trigger()
    bare.menu_action("text_usual").trigger()
    set_factor(1.0)


def luminance(colour):
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(a, b):
    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("look", ["shed", "shed-dark"])
def test_the_sheds_colours_stand_far_from_their_ground(look):
    c = PALETTES[look]
    for ink, ground in (
        ("ink", "paper"),
        ("soft", "panel"),
        ("accent", "panel"),
        ("accent-ink", "accent"),
        ("warn", "panel"),
        ("grave", "panel"),
        ("ledger-soft", "ledger"),
    ):
        assert contrast(c[ink], c[ground]) >= 7, (ink, ground)
    assert c.keys() == PALETTES["light"].keys()


def test_shed_mode_grows_all_by_half_at_once_and_goes_back(window, qtbot):
    font, ledger = QApplication.font().pointSizeF(), window.work.ledger.height()
    window.menu_action("shed").trigger()
    assert QApplication.font().pointSizeF() == pytest.approx(1.5 * font)
    assert window.work.ledger.height() == pytest.approx(1.5 * ledger, abs=1)
    assert window.zone_bench.plan_canvas.theme == "shed"
    window.menu_action("theme").trigger()
    assert window.zone_bench.plan_canvas.theme == "shed-dark"
    window.menu_action("theme").trigger()
    window.menu_action("shed").trigger()
    assert QApplication.font().pointSizeF() == font and window.work.ledger.height() == ledger
    assert window.zone_bench.plan_canvas.theme == "light"


def test_text_grows_step_by_step_and_is_remembered(window):
    assert window.settings.text == 1.0
    for _ in SIZES:
        window.menu_action("text_larger").trigger()
    assert factor() == SIZES[-1] == Settings().text
    window.menu_action("text_smaller").trigger()
    assert factor() == SIZES[-2]
    window.menu_action("shed").trigger()
    window.menu_action("text_larger").trigger()
    assert "its own size" in window.message.label.text() and factor() == 1.5
    window.menu_action("shed").trigger()
    assert factor() == SIZES[-2]


def test_the_rows_of_tables_that_stand_already_grow_too(window):
    window.session.go("z1", "order")
    window.showing.finish()
    sheets = window.showing.centre.currentWidget().findChildren(QTableWidget)
    low = {s: s.rowHeight(0) for s in sheets if s.rowCount()}
    for action in ("text_larger", "shed"):
        window.menu_action(action).trigger()
        settle()
        for sheet in sheets:
            assert not [f for f in findings(sheet) if "cell" in f], action
    window.menu_action("shed").trigger()
    window.menu_action("text_usual").trigger()
    assert low and all(s.rowHeight(0) == high for s, high in low.items())


def test_a_click_meets_what_is_painted_at_any_size(window, qtbot):
    window.session.go("z1", "find")
    window.menu_action("shed").trigger()
    QApplication.processEvents()
    canvas = window.zone_bench.plan_canvas
    place = (0.8, 0.1)
    window.zone_bench.pick_place(lambda _what, at: seen.append(at))
    seen = []
    at = canvas.view.to(place) * factor()
    qtbot.mouseClick(canvas, LEFT, pos=at.toPoint())
    assert seen[0] == pytest.approx(place, abs=0.01)
    strip = window.work.strip.picture
    assert strip.zone_at(QPointF(strip.width() / factor() / 2, 5)) in (
        "",
        "boat",
        *(z.id for z in window.session.job.zones),
    )
    canvas.look_closer(3.0, QPointF(50, 50))
    under = canvas.view.back(QPointF(50, 50))
    canvas.look_closer(6.0, QPointF(50, 50))
    assert canvas.view.back(QPointF(50, 50)) == pytest.approx(under)


def test_where_there_is_no_room_for_both_one_part_is_shown_at_a_time(window, qtbot):
    window.session.go("z1", "open")
    assert not window.work.parts.bars
    window.menu_action("shed").trigger()
    bar, work = window.work.parts.bar, window.work
    assert bar.isVisible() and bar.part == PLAN
    assert window.zone_bench.plan_canvas.isVisible() and not work.showing.decisions.isVisible()
    window.menu_action("turn").trigger()
    assert bar.part == PAGE and window.zone_bench.section_canvas.isVisible()
    assert not window.zone_bench.plan_canvas.isVisible()
    qtbot.mouseClick(bar.buttons[CHOICES], LEFT)
    assert work.showing.decisions.isVisible() and not window.zone_bench.isVisible()
    window.session.go(stage="order")
    assert bar.buttons[PAGE].isHidden() and work.showing.decisions.isVisible()
    window.menu_action("turn").trigger()
    assert bar.part == PLAN
    window.menu_action("shed").trigger()
    window.session.go("z1", "open")
    assert not bar.isVisible() and work.showing.decisions.isVisible()
    assert window.zone_bench.plan_canvas.isVisible() and window.zone_bench.section_canvas.isVisible()


def test_in_a_wide_low_window_the_page_takes_the_place_of_the_plan_beside_the_choices(window, qtbot):
    window.session.go("z1", "open")
    window.menu_action("shed").trigger()
    window.resize(1920, 760)
    QApplication.processEvents()
    bench, bar, choices = window.zone_bench, window.work.parts.bar, window.work.showing.decisions
    assert bar.isVisible() and bar.buttons[CHOICES].isHidden() and choices.isVisible()
    assert bench.plan_canvas.isVisible() and not bench.below.isVisible()
    window.work.parts.take_focus()
    window.menu_action("turn").trigger()
    assert bar.part == PAGE and bench.section_canvas.isVisible() and not bench.plan_canvas.isVisible()
    window.menu_action("turn").trigger()
    assert choices.isAncestorOf(QApplication.focusWidget()) and bar.part == PAGE
    window.menu_action("turn").trigger()
    assert bar.part == PLAN and bench.plan_canvas.hasFocus() and choices.isVisible()
    window.cutting.show_page("Sides")
    assert bar.part == PAGE and bench.below.shown == "Sides"
    window.session.go(stage="days")
    assert not bar.isVisible()  # one part only
    window.session.go(stage="open")
    window.resize(1920, 1000)
    QApplication.processEvents()
    assert not bar.isVisible() and bench.plan_canvas.isVisible() and bench.below.isVisible()
    window.resize(1280, 760)  # too narrow as well
    QApplication.processEvents()
    assert bar.isVisible() and not bar.buttons[CHOICES].isHidden() and not choices.isVisible()


def test_a_window_that_changes_its_size_leaves_the_keys_where_they_are(window, qtbot):
    window.session.go("z1", "open")
    window.menu_action("shed").trigger()
    window.work.parts.turn_to(CHOICES)
    line = window.showing.stage("open").margin.edit
    line.setFocus()
    assert line.hasFocus()
    window.resize(1180, 760)
    QApplication.processEvents()
    assert line.hasFocus()
    window.work.parts.turn_to(PAGE)
    assert not window.zone_bench.below.large.isVisible()  # there is no plan that it could take the place of
    window.menu_action("shed").trigger()
    assert window.zone_bench.below.large.isVisible()


def test_a_page_that_is_asked_for_from_the_choices_comes_into_view(window, qtbot):
    window.session.go("z1", "open")
    window.menu_action("shed").trigger()
    window.work.parts.turn_to(CHOICES)
    window.cutting.show_page("Sides")
    assert window.work.parts.bar.part == PAGE and window.zone_bench.below.isVisible()
    window.work.parts.turn_to(PLAN)
    window.menu_action("whole_page").trigger()
    assert window.work.parts.bar.part == PAGE and not window.zone_bench.below.large.isChecked()
    window.work.parts.turn_to(CHOICES)
    window.menu_action("draft").trigger()
    assert window.work.parts.bar.part == PAGE and window.zone_bench.below.shown == "Draft"


def test_what_is_told_is_seen_at_the_choices_and_at_the_plan(window, qtbot):
    window.session.go("z1", "open")
    window.menu_action("shed").trigger()
    window.work.parts.turn_to(CHOICES)
    window.cutting.merge()  # of one cut
    QApplication.processEvents()
    message, choices = window.message, window.work.showing.decisions
    assert message.isVisible() and "one" in message.label.text()
    assert not window.work.parts.beside.geometry().intersects(message.geometry())
    close = message.findChild(QPushButton)
    by_eye(choices)[0].setFocus()
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Backtab)
    assert QApplication.focusWidget() is close  # Tab goes from what is told to the choices under it
    window.work.parts.turn_to(PLAN)
    assert message.isVisible()
    window.menu_action("shed").trigger()
    assert message.isVisible() and message.parentWidget() is window.work.parts.centre
    qtbot.mouseClick(close, LEFT)
    window.menu_action("shed").trigger()
    assert message.isHidden()


def test_what_is_to_be_done_on_the_plan_turns_to_it_from_the_choices(window):
    window.session.go("z1", "open")
    window.menu_action("shed").trigger()
    photograph = Photograph(id="p1", member="one.jpg")
    for begin in (
        lambda: window.cutting.note_depth(usual(0.01)),
        lambda: window.tracing.draw(),
        lambda: window.tracing.two_places(("the first", "the second"), lambda a, b: None),
        lambda: window.zone_bench.pin(photograph),
        lambda: window.zone_bench.draw_extent(),
    ):
        window.work.parts.turn_to(CHOICES)
        begin()
        assert window.work.parts.bar.part == PLAN and window.zone_bench.plan_canvas.hasFocus()
        assert window.zone_bench.echo.isVisible() and window.zone_bench.echo.text() and window.message.isHidden()


def test_pages_of_every_bench_come_into_view_where_they_are_asked_for(window):
    window.menu_action("shed").trigger()
    parts = window.work.parts
    for stage, part in (("prove", PAGE), ("days", PLAN)):
        window.session.go("z1", stage)
        QApplication.processEvents()
        for begin in (PLAN, CHOICES):
            parts.turn_to(begin)
            window.menu_action("next_page").trigger()
            assert parts.bar.part == part and parts.centre.isVisible(), (stage, begin)
    window.session.go("z1", "prove")
    parts.turn_to(CHOICES)
    window.menu_action("whole_page").trigger()
    assert parts.bar.part == PAGE and window.showing.benches["prove_bench"].below.isVisible()


def test_esc_and_find_turn_a_low_window_back_to_its_plan(window, qtbot):
    window.session.go("z1", "open")
    window.menu_action("shed").trigger()
    window.resize(1920, 760)
    QApplication.processEvents()
    parts, canvas = window.work.parts, window.zone_bench.plan_canvas
    parts.turn_to(PAGE)
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Escape)
    assert parts.bar.part == PLAN and canvas.isVisible() and canvas.hasFocus()
    parts.turn_to(PAGE)
    window.session.go("z1", "find")
    assert parts.bar.part == PLAN and canvas.hasFocus()
    parts.turn_to(PAGE)
    window.work.begin_at("boat")
    choices = window.work.showing.decisions
    assert choices.isVisible() and (choices.isAncestorOf(QApplication.focusWidget()) or canvas.hasFocus())


def test_switching_and_editing_do_not_wait_for_a_plan_out_of_sight(window, qtbot):
    window.showing.at_once = False
    window.menu_action("shed").trigger()
    qtbot.mouseClick(window.work.parts.bar.buttons[CHOICES], LEFT)
    window.session.go("z2", "rebuild")
    assert window.showing._rest.interval() == 0  # it waits for no picture
    qtbot.waitUntil(lambda: "Transom" in window.showing.stage("rebuild").heading.text())


@pytest.mark.parametrize(("size", "system"), [((1280, 800), "metric"), ((1024, 700), "us")])
def test_in_the_shed_every_stage_fits_its_window_with_targets_for_gloves(window, size, system):
    if system == "us":
        window.menu_action("units").trigger()
    window.menu_action("shed").trigger()
    window.resize(*size)
    for stage in STAGES:
        window.session.go("z1", stage.id)
        QApplication.processEvents()
        assert window.size().width() == size[0] and window.size().height() == size[1], stage.id
        work = window.work
        for rung in work.ladder.rungs.values():
            assert rung.geometry().bottom() <= work.ladder.height() and rung.height() >= 36
        for total in work.ledger.totals.values():
            assert total.geometry().left() >= work.ledger.scope.geometry().right()
        window.work.parts.turn_to(CHOICES)
        QApplication.processEvents()
        panel = work.showing.stage(stage.id)
        assert panel.widget().width() <= panel.viewport().width() + 1, stage.id
        for button in panel.findChildren(QPushButton):
            if button.isVisible() and button.objectName() not in ("fold", "figure", "big"):
                assert button.height() >= 36, (stage.id, button.text())
        window.work.parts.turn_to(PLAN)


def test_words_that_were_written_out_of_sight_have_their_room(window):
    window.resize(1072, 758)
    window.menu_action("shed").trigger()
    below = window.zone_bench.below
    for zone in ("z3", "z4"):
        window.session.go(zone, "rebuild")
        QApplication.processEvents()
        below.show_page("Bonds")
        QApplication.processEvents()
        steps = below.pages["Bonds"].steps
        assert steps.height() >= steps.heightForWidth(steps.width()) > 300
        below.show_page("cut-through")
        QApplication.processEvents()


def test_words_of_buttons_are_whole_in_the_shed(window):
    window.menu_action("shed").trigger()
    for stage in ("boat", "find", "open", "rebuild"):
        window.session.go("z1", stage)
        window.work.parts.turn_to(CHOICES)
        QApplication.processEvents()
        for button in window.showing.stage(stage).findChildren(QAbstractButton):
            words = max(button.text().replace("&", "").split("\n"), key=len, default="")
            if button.isVisible() and words:
                assert button.fontMetrics().horizontalAdvance(words) <= button.width(), (stage, words)


def test_a_new_job_in_the_shed_begins_where_it_is_measured(bare, qtbot):
    bare.menu_action("shed").trigger()
    bare.menu_action("new_job").trigger()
    bare.new_page.begin.click()
    QApplication.processEvents()
    assert bare.work.parts.bar.part == CHOICES
    assert bare.showing.stage("boat").facts.isAncestorOf(QApplication.focusWidget())
    bare.session.go(stage="find")
    assert bare.work.parts.bar.part == PLAN and bare.zone_bench.plan_canvas.hasFocus()


def test_what_is_sized_once_follows_the_factor(bare):
    label = QLabel(bare)
    sized(label, width=40, least_height=20)
    assert label.width() == 40
    bare.settings.text = 1.3
    bare.menu_action("text_larger").trigger()
    assert factor() == 1.5 and label.maximumWidth() == px(40) == 60 and label.minimumHeight() == 30
    label.deleteLater()


def test_the_start_page_and_a_new_job_grow_too(bare, qtbot):
    bare.menu_action("shed").trigger()
    bare.show_start()
    bare.show_new()
    QApplication.processEvents()
    assert bare.new_page.craft.minimumWidth() == px(170) and bare.width() == 1280


def test_a_column_that_was_out_of_sight_is_as_wide_as_before_when_the_shed_is_left(window):
    for zone, stage in (("z1", "find"), ("z1", "order"), ("z1", "open")):
        window.session.go(zone, stage)
        QApplication.processEvents()
    for action in ("shed", "shed", "theme", "theme"):
        window.menu_action(action).trigger()
    for stage in ("find", "order"):
        window.session.go("z1", stage)
        QApplication.processEvents()
        panel = window.showing.stage(stage)
        assert panel.widget().width() <= panel.viewport().width(), stage


def in_view(stage, widget):
    """Whether all of a widget is inside what its stage shows of its column."""
    top = widget.mapTo(stage.viewport(), QPoint(0, 0)).y()
    return widget.isVisible() and top >= 0 and top + widget.height() <= stage.viewport().height()


def test_what_is_said_of_a_line_is_seen_with_it_where_the_column_is_long(bare, type_in):
    bare.menu_action("shed").trigger()
    bare.menu_action("new_job").trigger()
    bare.new_page.begin.click()
    settle()
    stage = bare.showing.stage("boat")
    facts = stage.facts
    assert in_view(stage, facts.lines[0].edit) and facts.lines[0].edit.hasFocus()
    for line in [n for n in facts.lines if n.fact and n.fact.value is not None]:
        line.edit.setFocus(Qt.FocusReason.TabFocusReason)
        stage.ensureWidgetVisible(line.edit, 0, 0)  # at the edge of what is seen
        settle()
        type_in(line.edit, "900 m")
        settle()
        assert line.fact.name in facts.note.text().lower() and in_view(stage, facts.note) and in_view(stage, line.edit)
        assert facts.note.mapTo(stage, QPoint(0, 0)).y() > line.edit.mapTo(stage, QPoint(0, 0)).y()
    type_in(facts.lines[0].edit, "900 mm")
    assert facts.note.isHidden()


def test_what_was_said_of_one_zone_is_not_said_of_the_next(window, type_in):
    window.session.go("z1", "boat")
    facts = window.showing.stage("boat").facts
    line = next(n for n in facts.lines if n.fact and n.fact.value is not None)
    type_in(line.edit, "900 m")
    assert not facts.note.isHidden()
    window.session.go("z2", "boat")
    assert facts.note.isHidden()


def test_what_is_said_of_a_field_at_the_lower_edge_is_seen(window, type_in):
    window.session.go("z1", "open")
    window.menu_action("shed").trigger()
    window.work.parts.turn_to(CHOICES)
    stage = window.showing.stage("open")
    field = stage.margin
    field.edit.setFocus()
    settle()
    bar, low = stage.verticalScrollBar(), field.edit.mapTo(stage.widget(), QPoint(0, field.edit.height())).y()
    bar.setValue(low - stage.viewport().height())  # its lower edge is the last line that is seen
    type_in(field.edit, "900 m")
    settle()
    assert "outside" in field.note.text() and in_view(stage, field.note)
    bar.setValue(bar.maximum())  # out of view by the wheel: it stays there
    before = bar.value()
    assert not in_view(stage, field.edit)
    field.note.setText(field.note.text() * 3)
    settle()
    assert bar.value() == before
