"""By the keys alone, and for those who listen: order, traps, names, what is held, where the keys come back to."""

from collections import Counter
from itertools import pairwise, takewhile

import pytest
from PySide6.QtCore import QEvent, QPoint, QRect, Qt
from PySide6.QtGui import QAccessible, QKeyEvent
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QButtonGroup,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QTableWidget,
    QWidget,
)
from tests.ui.geometry import findings, focus_contrast, name_of, places, settle, tab_path

from ribpatch.core.chart import Bars, Chart
from ribpatch.core.proof_edits import add_member
from ribpatch.core.readings import TestCut
from ribpatch.stages import STAGES
from ribpatch.ui.actions import ACTIONS
from ribpatch.ui.bench.grip_tool import GripTool
from ribpatch.ui.bench.handles import CornerTool, SectionTool
from ribpatch.ui.print_dialog import PrintDialog
from ribpatch.ui.widgets import canvas as canvases
from ribpatch.ui.widgets import lanes_view, spoken, themed
from ribpatch.ui.widgets.by_eye import by_eye, next_by_eye, tabbed
from ribpatch.ui.widgets.canvas import Canvas
from ribpatch.ui.widgets.card import Card
from ribpatch.ui.widgets.chart_view import ChartView


def said(widget: QWidget) -> str:
    return widget.accessibleName() or (widget.text() if isinstance(widget, QAbstractButton) else "")


def start(window) -> None:
    canvas = window.zone_bench.plan_canvas
    (canvas if canvas.isVisible() else window.work.ladder.rungs[window.session.stage]).setFocus()
    settle()


def line_of(window, stage: str) -> QLineEdit:
    return next(w for w in by_eye(window.showing.stage(stage)) if isinstance(w, QLineEdit))


# ---- Tab ----


def upwards(path: list[QWidget], part: QWidget) -> list[str]:
    """Where Tab goes up in a part of the window without going to a column farther right; what scrolls is looked at by
    itself.
    """

    def ground(widget):
        area = widget.parentWidget()
        while area is not part and not isinstance(area, QScrollArea):
            area = area.parentWidget()
        return part if area is part else area.widget()

    def box(widget):
        return QRect(widget.mapTo(ground(widget), QPoint(0, 0)), widget.size())

    inner = [w for w in path if part.isAncestorOf(w)]
    return [
        f"{name_of(after)} stands above {name_of(before)}, after which it comes"
        for before, after in pairwise(inner)
        if ground(before) is ground(after)
        and box(after).bottom() < box(before).top()
        and box(after).left() <= box(before).right()
    ]


@pytest.mark.parametrize("stage", [s.id for s in STAGES])
def test_tab_goes_everywhere_stays_nowhere_and_every_stop_has_a_name_of_its_own(window, stage):
    told: list[str] = []
    column, bench = window.showing.decisions, window.showing.centre
    for number, place in enumerate(places(window, ["z1"], stages=(stage,))):
        start(window)
        # The column of choices is the same beside every page: to go through it once is enough.
        path = list(tab_path() if number == 0 else takewhile(lambda w: not column.isAncestorOf(w), tab_path()))
        room = window if number == 0 else bench
        if len(path) < (12 if number == 0 else 2):
            told.append(f"{place}: Tab stays in {name_of(path[-1])}")
        missed = [w for w in room.findChildren(QWidget) if tabbed(w) and not isinstance(w, QLineEdit) and w not in path]
        told += [f"{place}: never at {name_of(w)}" for w in missed]
        names = Counter((type(w).__name__, said(w)) for w in path)
        told += [f"{place}: {n} times {key}" for key, n in names.items() if n > 1 or not key[1].strip()]
        there = [w for w in path if bench.isAncestorOf(w)]
        if there and there != path[path.index(there[0]) :][: len(there)]:
            told.append(f"{place}: the bench is left and come back to")
        told += [f"{place}: {found}" for part in (bench, column) for found in upwards(path, part)]
    assert not told, "\n".join(told)


def test_tab_goes_row_by_row_and_by_columns_where_rows_do_not_go_through(qtbot):
    room = QWidget()
    qtbot.addWidget(room)

    def put(name, x, y, wide=40, high=20, parent=None):
        made = QPushButton(name, parent or room)
        made.setGeometry(x, y, wide, high)
        return made

    for name, x, y in (("d", 0, 30), ("b", 50, 3), ("c", 100, 0), ("e", 60, 32), ("a", 0, 0)):
        put(name, x, y)
    put("tall", 0, 60, high=90)  # beside it three rows of their own, the last pushed a little into the one before
    for name, y in (("h", 107), ("f", 60), ("g", 90)):
        put(name, 60, y)
    area, page = QScrollArea(room), QWidget()
    page.resize(100, 300)
    put("j", 0, 250, parent=page)
    put("i", 0, 0, parent=page)
    area.setWidget(page)
    area.setGeometry(0, 160, 120, 40)
    put("k", 0, 210)
    put("hidden", 0, 40).hide()
    group = QButtonGroup(room)
    for name, x in (("up", 0), ("down", 50)):
        made = put(name, x, 240)
        made.setCheckable(True)
        group.addButton(made)
    made.setChecked(True)
    room.show()
    named = [w.text() for w in by_eye(room) if isinstance(w, QPushButton)]
    assert named == ["a", "b", "c", "d", "e", "tall", "f", "g", "h", "i", "j", "k", "down"]
    first = by_eye(room)[0]
    room.activateWindow()
    first.setFocus()
    qtbot.waitUntil(lambda: QApplication.focusWidget() is first)
    assert next_by_eye([room], False) is by_eye(room)[-1] and next_by_eye([room], True).text() == "b"


def test_the_page_below_is_gone_through_before_the_choices_and_its_button_follows_it(window, qtbot):
    window.session.go("z1", "rebuild")
    window.showing.finish()
    window.zone_bench.below.button("cut-through").setFocus()
    window.menu_action("next_page").trigger()
    settle()
    assert window.zone_bench.below.shown == "Draft"
    window.zone_bench.plan_canvas.setFocus()
    names = [said(w) for w in takewhile(lambda w: not window.showing.decisions.isAncestorOf(w), tab_path())]
    assert names == ["plan of the zone", "Draft", "Whole bench", "the draft", "Draft the repair"]
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Backtab)
    assert said(QApplication.focusWidget()) == "Draft the repair"
    window.work.ladder.rungs["rebuild"].setFocus()
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)
    assert QApplication.focusWidget() is window.zone_bench.plan_canvas
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Backtab)
    assert QApplication.focusWidget() is window.work.ladder.rungs["rebuild"]


def test_esc_goes_to_the_bench_not_to_a_message_over_it(window, qtbot):
    window.session.go("z1", "order")
    window.showing.finish()
    window.message.tell("Something was said.")
    settle()
    line_of(window, "order").setFocus()
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Escape)
    assert QApplication.focusWidget() is by_eye(window.showing.centre)[0]
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Backtab)
    assert said(QApplication.focusWidget()) == "close the message"


def test_rows_that_are_built_anew_keep_their_place_in_the_order(window, qtbot):
    window.session.go("z1", "rebuild")
    stage = window.showing.stage("rebuild")
    qtbot.mouseClick(stage.stack_editor.add, Qt.MouseButton.LeftButton)
    settle()
    last = stage.stack_editor.row(len(window.session.zone.scheme.laminate.plies) - 1)[1]
    last.setFocus()
    order = []
    for _ in range(4):
        qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)
        order.append(said(QApplication.focusWidget()))
    assert order[-1] == "new laminate: add a ply" and "move one place deeper" in order[1]
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Backtab)
    assert "take this out" in said(QApplication.focusWidget())


@pytest.mark.parametrize("look", ["", "theme", "shed", "shed theme"])
def test_who_has_the_keys_is_seen(window, look):
    for action in look.split():
        window.menu_action(action).trigger()
    told, done = [], set()
    stages = ("boat", "cause", "rebuild", "order", "days") if not look else ("boat", "order", "days")
    for place in places(window, ["z1"], stages=stages):
        if place.startswith("rebuild") and place != "rebuild z1 Suggest":
            continue
        start(window)
        for widget in tab_path():
            kind = type(widget), widget.objectName(), isinstance(widget, QAbstractButton) and widget.isChecked()
            if kind not in done:
                done.add(kind)
                ratio = focus_contrast(widget)
                if ratio < 3:
                    told.append(f"{place}: {name_of(widget)} {ratio:.2f}")
    assert len(done) > (15 if not look else 9) and not told, "\n".join(told)


def test_before_a_job_is_open_and_in_a_preview_the_keys_are_seen_and_every_stop_is_named(bare):
    from ribpatch.ui.paper_actions import PaperActions
    from ribpatch.ui.print_dialog import PrintDialog

    def told(room):
        stops = [w for w in tab_path() if w.window() is room.window()]
        names = Counter((type(w).__name__, said(w)) for w in stops)
        bad = [f"{n} times {key}" for key, n in names.items() if n > 1 or not key[1].strip()]
        stops[0].setFocus()
        return bad + [name_of(w) for w in tab_path() if w.window() is room.window() and focus_contrast(w) < 3]

    bare.start_page.setFocus()
    bare.start_page.focusNextChild()
    found = told(bare)
    bare.menu_action("new_job").trigger()
    settle()
    found += told(bare)
    bare.menu_action("demo_job").trigger()
    settle()
    dialog = PrintDialog(bare, "labels", PaperActions(bare).write)
    dialog.show()
    dialog.activateWindow()
    bare.tasks.wait()
    settle()
    dialog.focusNextChild()
    found += told(dialog)
    dialog.done(0)
    assert not found, "\n".join(found)


def test_tab_goes_through_the_dialogs_that_read_files_and_every_stop_is_named(window, qtbot):
    from ribpatch.formats.csv_columns import UnclearColumns
    from ribpatch.formats.readings_csv import read_text, write_text
    from ribpatch.ui.import_dialog import ColumnsDialog, ImportDialog

    zone, shelf = window.session.job.zone("z1"), window.session.plan.shelf
    survey = zone.survey
    text = write_text(survey.readings, survey.references, survey.sessions)
    read = read_text(f"{text}\n1,2,tap,odd\n", "utf-8", zone.outline, shelf, "taps.csv")
    with pytest.raises(UnclearColumns) as unclear:
        read_text("a,b,c,d\n1,2,tap,dull\n", "utf-8", zone.outline, shelf, "taps.csv")
    for dialog, tables in (
        (ImportDialog("taps.csv", zone.name, read, "metric", window), 2),
        (ColumnsDialog("taps.csv", unclear.value, {}, window), 0),
    ):
        dialog.show()
        dialog.activateWindow()
        settle()
        dialog.focusNextChild()
        stops = list(tab_path())
        names = Counter((type(w).__name__, said(w)) for w in stops)
        assert all(n == 1 and key[1].strip() for key, n in names.items()), names
        assert sum(isinstance(w, QTableWidget) for w in stops) == tables and len(stops) >= 4 and not findings(dialog)
        dialog.done(0)


def test_tab_leaves_a_price_that_is_typed_and_keeps_it(window, qtbot):
    window.session.go("z1", "order")
    settle()
    window.tasks.wait()
    settle()
    items = window.showing.benches["order_bench"].items
    items.setCurrentCell(0, 5)
    items.editItem(items.item(0, 5))
    editor = QApplication.focusWidget()
    assert isinstance(editor, QLineEdit)
    editor.selectAll()
    qtbot.keyClicks(editor, "31.5")
    qtbot.keyClick(editor, Qt.Key.Key_Tab)
    settle()
    assert not items.isAncestorOf(QApplication.focusWidget())
    assert window.session.stack.canUndo() and "31.5" in items.item(0, 5).text()


def test_letters_of_menus_and_rungs_do_not_clash():
    for menu in {a.menu for a in ACTIONS}:
        letters = [a.text[a.text.index("&") + 1].lower() for a in ACTIONS if a.menu == menu]
        assert len(letters) == len(set(letters)), (menu, Counter(letters).most_common(3))
    keys = [a.key for a in ACTIONS if a.key] + [s.key for s in STAGES]
    assert len(keys) == len(set(keys))
    titles = ["&Job", "P&apers", "&Edit", "&View", "&Help", *(s.title for s in STAGES)]
    tops = [t[t.index("&") + 1].lower() for t in titles]
    assert len(tops) == len(set(tops))


# ---- on the plan ----


def press(canvas, qtbot, *keys, keep=Qt.KeyboardModifier.NoModifier):
    for key in keys:
        qtbot.keyClick(canvas, getattr(Qt.Key, f"Key_{key}"), keep)


def test_corners_are_moved_added_and_taken_away_by_the_keys_each_as_one_step(window, qtbot):
    window.session.go("z4", "boat")
    canvas, before = window.zone_bench.plan_canvas, window.session.zone.outline
    press(canvas, qtbot, "Space", "Right", "Right", "Up")
    assert "corner 1 of" in window.zone_bench.echo.text()
    moved = window.session.zone.outline
    assert moved[0] == pytest.approx((round(before[0][0], 2) + 0.02, round(before[0][1], 2) + 0.01), abs=6e-3)
    assert moved[1:] == before[1:]
    press(canvas, qtbot, "Escape")
    window.session.stack.undo()
    assert window.session.zone.outline == before
    press(canvas, qtbot, "Space", "Insert")
    assert len(window.session.zone.outline) == len(before) + 1 and "corner 2 of" in window.zone_bench.echo.text()
    press(canvas, qtbot, "Delete")
    assert window.session.zone.outline == before
    press(canvas, qtbot, "Space", "Space", "Left")
    assert window.session.zone.outline[0] == before[0] and window.session.zone.outline[1] != before[1]


def test_a_cut_line_and_the_section_line_are_moved_by_the_keys(window, qtbot):
    window.session.go("z1", "open")
    bench = window.zone_bench
    canvas = bench.plan_canvas
    press(canvas, qtbot, "Space", "Up", "Escape")
    assert window.session.zone.scheme.cut.drawn
    line = bench.section.line
    press(canvas, qtbot, "Space", keep=Qt.KeyboardModifier.ShiftModifier)
    assert "section line at" in bench.echo.text()
    press(canvas, qtbot, "Up", "Up")
    now = bench.section.line
    assert all(n[1] > p[1] for n, p in zip(now, line, strict=True))
    assert [n[0] for n in now] == pytest.approx([p[0] for p in line], abs=6e-3)
    steps = window.session.stack.count()
    window.session.go("z2", "open")
    assert bench.grip.held is None and window.session.stack.count() == steps


def test_zoom_and_pan_by_the_keys(window, qtbot):
    window.session.go("z1", "open")
    canvas = window.zone_bench.plan_canvas
    canvas.setFocus()
    first = canvas.view
    press(canvas, qtbot, "PageUp", "Plus")
    assert canvas.zoom == pytest.approx(1.25**2)
    press(canvas, qtbot, "Right", keep=Qt.KeyboardModifier.ControlModifier)
    middle = canvas.view.x
    press(canvas, qtbot, "Left", keep=Qt.KeyboardModifier.ControlModifier)
    assert canvas.view.x > middle
    press(canvas, qtbot, "PageDown", "Minus", "Home")
    assert (canvas.zoom, canvas.view) == (1.0, first)


def test_a_test_cut_is_drawn_by_the_keys(window, qtbot):
    from ribpatch.ui.brush import Brush

    window.session.go("z1", "find")
    bench = window.zone_bench
    bench.take(Brush("cut", (("state", "wet"),)))
    canvas = bench.plan_canvas
    press(canvas, qtbot, "Right", "Space", "Right", "Right", "Space", "Return")
    cut = window.session.zone.survey.readings[-1]
    assert isinstance(cut, TestCut) and cut.states == ("wet",)
    assert cut.points[1][0] - cut.points[0][0] == pytest.approx(0.02, abs=1e-6)


def test_a_stiffener_is_moved_by_the_keys(window, qtbot):
    window.session.go("z1", "prove")
    window.showing.finish()
    settle()
    zone = window.session.zone
    window.session.apply(add_member(zone, "hat"))
    window.showing.finish()
    settle()
    member = window.session.zone.scheme.members[-1]
    canvas = window.showing.benches["prove_bench"].map_canvas
    canvas.setFocus()
    press(canvas, qtbot, "Space", *(("Up", "Up") if member.axis == "x" else ("Right", "Right")), "Escape")
    moved = window.session.zone.scheme.members[-1]
    assert moved.place == pytest.approx(round(member.place, 2) + 0.02, abs=6e-3)
    window.session.stack.undo()
    assert window.session.zone.scheme.members[-1].place == member.place


# ---- where the keys come back to ----


def test_esc_brings_the_keys_back_to_where_they_were(window, qtbot):
    window.session.go("z1", "open")
    edit = line_of(window, "open")
    edit.setFocus()
    for action in ("keys", "find_figure", "about"):
        window.menu_action(action).trigger()
        settle()
        assert QApplication.focusWidget() is not edit
        qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Escape)
        assert QApplication.focusWidget() is edit, action
    qtbot.keyClick(edit, Qt.Key.Key_Escape)
    assert QApplication.focusWidget() is window.zone_bench.plan_canvas


def test_leaving_a_form_goes_back_to_the_page_and_place_it_was_opened_from(window, qtbot):
    edit = line_of(window, "open")
    edit.setFocus()
    window.menu_action("add_zone").trigger()
    settle()
    qtbot.keyClick(window.zone_page, Qt.Key.Key_Escape)
    assert window.at_work and QApplication.focusWidget() is edit
    window.session.stack.setClean()
    window.menu_action("new_job").trigger()
    settle()
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Escape)
    assert window.at_work and QApplication.focusWidget() is edit


# ---- for those who listen ----


@pytest.fixture
def heard(monkeypatch):
    """Somebody listens; what is announced."""
    words = []
    for module in (spoken, canvases, themed, lanes_view):
        monkeypatch.setattr(module, "listened", lambda: True)
    monkeypatch.setattr("ribpatch.ui.frame.boat_strip.listened", lambda: True)

    class Heard:
        @staticmethod
        def isActive():
            return True

        @staticmethod
        def updateAccessibility(event):
            words.append(event.message())

    monkeypatch.setattr("PySide6.QtGui.QAccessible", Heard)
    return words


def children(canvas):
    return [w.accessibleName() for w in canvas.children() if isinstance(w, QWidget) and w.isVisible()]


def test_a_canvas_offers_what_is_painted_as_children(window, heard):
    window.session.go("z1", "find")
    canvas = window.zone_bench.plan_canvas
    canvas.update()  # somebody began to listen: what was painted before is told too
    settle()
    names = children(canvas)
    assert any(n.startswith("tap ") for n in names) and any("mooring bollard" in n for n in names)
    assert "Foredeck" in canvas.accessibleDescription() and any(n.endswith("m²") for n in names)
    bollard = next(w for w in canvas.children() if isinstance(w, QWidget) and "bollard" in w.accessibleName())
    item = QAccessible.queryAccessibleInterface(bollard)
    assert item.role() == QAccessible.Role.StaticText and "bollard" in item.text(QAccessible.Text.Name)
    window.session.go("z1", "order")
    window.session.go("z1", "open")
    settle()
    assert not any(n.startswith("tap ") for n in children(canvas))
    strip = window.work.strip.picture
    strip._looks = ()
    window.showing._show_strip(window.session.plan)
    settle()
    assert any("Foredeck" in n for n in children(strip))


def test_the_bars_of_days_are_children_of_their_lanes(window, heard):
    window.session.go("z1", "days")
    window.tasks.wait()
    settle()
    lanes = next(v for v in window.findChildren(lanes_view.LanesView) if v.isVisible())
    names = children(lanes.viewport())
    assert len(names) > 3 and any(n.startswith("Foredeck: ") and ";" in n for n in names)
    places = {n: w.pos() for w in lanes.viewport().children() if (n := w.accessibleName()) and w.isVisible()}
    first = min(places, key=lambda n: places[n].x())
    across = lanes.horizontalScrollBar()
    across.setValue(across.maximum())
    settle()
    assert first not in children(lanes.viewport())  # it is out of view now
    assert len(lanes.told()) == len(children(lanes.viewport()))


def test_who_listens_is_told_once_the_window_is_seen(window, monkeypatch):
    class Active:
        @staticmethod
        def isActive():
            return True

    monkeypatch.setitem(spoken._seen, "window", False)
    monkeypatch.setattr("PySide6.QtGui.QAccessible", Active)
    canvas = window.zone_bench.plan_canvas
    canvas.refresh()
    settle()
    assert not spoken.listened() and not children(canvas)
    spoken.begin_to_tell(window)  # what was painted before is told too
    settle()
    assert spoken.listened() and children(canvas)
    monkeypatch.setattr(Active, "isActive", lambda: False)
    assert not spoken.listened()


def test_who_listens_meets_the_parts_in_the_order_of_the_eye(window):
    parts = [w for w in window.work.children() if isinstance(w, QWidget) and w.isVisible()]
    assert parts == sorted(parts, key=lambda w: (w.y(), w.x())) and len(parts) == 5
    stage = window.showing.stage("open")
    cards = [w for w in stage.widget().children() if isinstance(w, Card) and w.isVisible()]
    assert cards == sorted(cards, key=lambda w: w.y()) and len(cards) > 3
    for split in (window.zone_bench.split, window.work.parts.beside):
        shown = [w for w in split.children() if isinstance(w, QWidget) and w.isVisible()]
        assert shown == sorted(shown, key=lambda w: (w.y(), w.x())) and len(shown) == 3


def test_nothing_is_made_while_nobody_listens(window):
    window.session.go("z1", "find")
    settle()
    assert not children(window.zone_bench.plan_canvas)


def test_entries_and_messages_are_announced(window, heard, qtbot, type_in):
    window.session.go("z1", "find")
    canvas = window.zone_bench.plan_canvas
    qtbot.keyClick(canvas, Qt.Key.Key_D)
    assert any(w.startswith("tap dull at") for w in heard)
    window.message.tell("A plain sentence.")
    assert heard[-1] == "A plain sentence."
    window.session.go("z1", "boat")
    field = window.showing.stage("boat")._bound[1]
    type_in(field.edit, "31 ft 6")
    assert any("understood as" in w for w in heard)


def test_a_chart_offers_its_levels_bars_and_curves(window, heard, qtbot):
    view = ChartView("a chart")
    qtbot.addWidget(view)
    view.resize(400, 200)
    bars = (Bars("along", (1.2, 0.5)), Bars("across", (0.8, 0.9)))
    view.show_chart(Chart("", "new ÷ old", categories=("stretch", "bend"), bars=bars, limits=((1.0, "as it was"),)))
    view.show()
    settle()
    assert children(view) == ["as it was: 100 %", "stretch, along: 120 %", "stretch, across: 80 %", "bend, along: 50 %", "bend, across: 90 %"]  # fmt: skip
    middles = [w.geometry().center().x() for w in view.children() if isinstance(w, QWidget)][1:]
    assert middles == sorted(middles) and middles[0] > 52 and middles[-1] < 386
    view.show_chart(None)
    settle()
    assert children(view) == []


def test_the_chart_of_a_page_and_the_pages_of_a_paper_are_told(window, heard, one_zone):
    one_zone(window)
    window.session.go("z4", "rebuild")
    window.zone_bench.below.show_page("Laminate")
    settle()
    chart = window.zone_bench.below.findChild(ChartView)
    assert any(name.startswith("stretch: stiff, along: ") for name in children(chart))
    dialog = PrintDialog(window, "labels", lambda _paper, _size: None)
    dialog.show()
    window.tasks.wait()
    settle()
    dialog.roll.repaint()
    settle()
    said = children(dialog.roll)
    assert said and said[0].startswith("Page 1 of") and len(said[0]) > 40
    dialog.done(0)


def test_what_is_told_is_not_seen(window, monkeypatch, request):
    canvas = window.zone_bench.plan_canvas
    window.session.go("z1", "find")
    settle()
    before = canvas.grab().toImage()
    request.getfixturevalue("heard")
    canvas.update()
    settle()
    assert len(children(canvas)) > 5 and canvas.grab().toImage() == before


def test_space_goes_on_where_the_last_move_left_fewer_corners(qapp):
    told, square, triangle = [], ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)), ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0))

    def put(rings, _dragging):
        corners.rings = rings
        return True

    corners = CornerTool(put, lambda: setattr(corners, "rings", (triangle,)))
    corners.rings, corners.active = (square,), True
    grip = GripTool(corners, SectionTool(lambda _line: None), lambda: "metric", told.append)

    def press(key):
        return grip.key(QKeyEvent(QEvent.Type.KeyPress, key, Qt.KeyboardModifier.NoModifier), Canvas("a plan"))

    for _ in range(4):
        assert press(Qt.Key.Key_Space)
    assert grip.held == (0, 3) and press(Qt.Key.Key_Up) and corners.dragging
    assert press(Qt.Key.Key_Space)
    assert grip.held == (0, 0) and told[-1].startswith("corner 1 of 3") and not corners.dragging
    corners.rings = ()
    assert not press(Qt.Key.Key_Space)
