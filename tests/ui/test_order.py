"""Order driven as a user would: vessels, warm cans, the curve, how she floats, the cut plan."""

import threading

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from ribpatch.core.edits import remove_zone, set_plies, set_value
from ribpatch.core.memo import Known
from ribpatch.core.scheme_edits import remove_part
from ribpatch.core.units import Measure
from ribpatch.ui.widgets.entry import Field


@pytest.fixture
def order(window):
    """Go to Order in a zone; its panel."""

    def go(zone):
        window.session.go(zone, "order")
        QApplication.processEvents()
        return window.showing.stages["order"]

    return go


def test_a_vessel_and_warm_cans_change_cups_words_and_curve(window, order, qtbot, type_in):
    panel = order("z2")
    before, first = panel.chart.chart, window.session.plan.zone("z2").needs.cups
    assert before is not None and panel.chart.isVisible() and "mixes" in panel.mixing_note.text()
    window.grab()
    qtbot.mouseClick(panel.vessel.button("roller pan"), Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    assert window.session.zone.scheme.resin.vessel == "pan" and panel.chart.chart is not before
    assert window.session.plan.zone("z2").needs.cups.working > first.working
    assert "warm box" in panel.mixing_note.text()
    type_in(panel.warmed.edit, "25 C")
    assert window.session.zone.scheme.resin.warmed.si == 25 and "warm box" not in panel.mixing_note.text()
    window.menu_action("undo").trigger()
    assert window.session.zone.scheme.resin.warmed is None


def test_the_cloth_is_laid_out_beside_the_window_and_again_after_a_change(window, order, qtbot):
    order("z1")
    bench = window.showing.benches["order_bench"]
    qtbot.waitUntil(lambda: bench.rolls.canvas.drawing is not None, timeout=10000)
    qtbot.waitUntil(lambda: "rolls" in window.session.plan.__dict__, timeout=10000)
    qtbot.waitUntil(lambda: bench.rolls.rolls is window.session.plan.rolls, timeout=10000)
    window.grab()
    rolls, canvas = bench.rolls.rolls, bench.rolls.canvas
    assert canvas.heading.startswith(rolls[0].fabric.name)
    row = next(n for n, item in enumerate(window.session.plan.items) if item.id == rolls[1].fabric.id)
    bench.items.setCurrentCell(row, 1)
    assert canvas.heading.startswith(rolls[1].fabric.name) and canvas.drawing.bounds[2] == rolls[1].made.length
    order("z2")
    window.tasks.wait()
    QApplication.processEvents()
    assert bench.rolls.rolls is rolls, "another zone asks for no other layout"
    lines = window.session.zone.scheme.laminate.plies
    window.session.apply(set_plies("z2", lines[:1]))
    qtbot.waitUntil(lambda: bench.rolls.rolls is not rolls, timeout=10000)
    assert sum(len(r.cuts) for r in bench.rolls.rolls) < sum(len(r.cuts) for r in rolls)


def test_a_layout_for_an_earlier_plan_is_given_up_and_so_it_is_when_order_is_left(window, order, qtbot, monkeypatch):
    """Each layout waits inside until it is let go; those that are not wanted any longer come to no end."""
    from ribpatch.core.supply import cutting

    gate, begun = threading.Event(), []

    def nest(shapes, width, go_on):
        begun.append(len(shapes))
        gate.wait(20)
        return go_on(0.5) and made(shapes, width, go_on=go_on)

    made = cutting.nest
    monkeypatch.setattr(cutting, "nest", nest)
    monkeypatch.setattr(cutting, "_KNOWN", Known(64))
    window.session.apply(set_value(("zones", "z1", "scheme", "cut", "margin"), Measure(si=0.0361)))
    order("z1")
    panel = window.showing.benches["order_bench"].rolls
    first = window.session.plan
    qtbot.waitUntil(lambda: len(begun) == 1, timeout=10000)
    window.session.apply(set_value(("zones", "z1", "scheme", "cut", "margin"), Measure(si=0.0373)))
    QApplication.processEvents()
    second = window.session.plan
    assert second is not first
    window.session.go("z1", "open")
    QApplication.processEvents()
    gate.set()
    window.tasks.wait()
    QApplication.processEvents()
    assert "rolls" not in first.__dict__ and "rolls" not in second.__dict__ and len(begun) == 1
    order("z1")
    qtbot.waitUntil(lambda: "rolls" in second.__dict__ and panel.rolls is second.rolls, timeout=20000)
    assert window.session.plan is second and len(begun) > 1


def test_a_shorter_layout_is_searched_for_stopped_kept_undone_and_forgotten(window, order, qtbot):
    """A real search in its own process; stopped as soon as it has something better, which is kept as one step."""
    order("z2")
    bench = window.showing.benches["order_bench"]
    panel = bench.rolls
    qtbot.mouseClick(bench.button("Cloth on rolls"), Qt.MouseButton.LeftButton)
    qtbot.waitUntil(
        lambda: "rolls" in window.session.plan.__dict__ and panel.rolls is window.session.plan.rolls, timeout=10000
    )
    row = next(n for n, item in enumerate(window.session.plan.items) if item.id == "biax-090-800")
    bench.items.setCurrentCell(row, 1)
    (before,) = (r for r in panel.rolls if r.fabric.id == "biax-090-800")
    assert panel.search.isEnabled() and not panel.forget.isVisible()
    qtbot.mouseClick(panel.search, Qt.MouseButton.LeftButton)
    assert panel.search.text().startswith("Stop") and window.tasks.can_cancel
    window.session.apply(set_value(("air", "humidity"), Measure(si=0.5)))  # work goes on meanwhile
    qtbot.waitUntil(lambda: bool(panel._better), timeout=30000)
    window.grab()
    qtbot.mouseClick(panel.search, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: bool(window.session.job.layouts), timeout=20000)
    qtbot.waitUntil(lambda: any(r.kept for r in panel.rolls), timeout=10000)
    (after,) = (r for r in panel.rolls if r.fabric.id == "biax-090-800")
    assert after.kept and after.made.length < before.made.length and "shorter, and kept" in panel.words.text()
    assert panel.forget.isVisible() and panel.search.text() == "Search a shorter layout"
    qtbot.mouseClick(panel.forget, Qt.MouseButton.LeftButton)
    assert window.session.job.layouts == ()
    window.menu_action("undo").trigger()
    window.menu_action("undo").trigger()
    assert window.session.job.layouts == ()


def test_a_cold_shed_shows_no_curve(window, order):
    panel = order("z1")
    window.session.apply(set_value(("air", "temperature"), Measure(si=7.0)))
    QApplication.processEvents()
    assert not panel.chart.isVisible() and "least temperature" in panel.mixing_note.text()


@pytest.mark.parametrize("system", ["metric", "us"])
def test_how_she_floats_is_said_in_the_units_shown(window, order, system):
    window.session.set_system(system)
    panel = order("z1")
    QApplication.processEvents()
    assert panel.float_note.text().startswith("She is ") and ("lb" in panel.float_note.text()) == (system == "us")


def test_the_cut_plan_is_asked_for_and_without_cloth_says_so(window, order, qtbot, monkeypatch, tmp_path):
    panel, path = order("z1"), tmp_path / "cut.svg"
    monkeypatch.setattr(window.documents, "ask_path", lambda *a: path)
    qtbot.mouseClick(panel.cut, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(path.is_file, timeout=15000)
    window.tasks.wait()
    assert path.read_bytes().startswith(b"<?xml")
    path.unlink()
    for zone in window.session.job.zones:
        window.session.apply(set_plies(zone.id, ()))
        for part in zone.scheme.parts:
            window.session.apply(remove_part(zone.id, part.id))
    window.menu_action("cut_plan").trigger()
    assert "No cloth is laid yet" in window.message.label.text() and not path.exists()
    for zone in window.session.job.zones:
        window.session.apply(remove_zone(zone.id))
    window.menu_action("cut_core").trigger()
    assert "No core is cut" in window.message.label.text() and not path.exists()


def bench_of(window):
    return window.showing.benches["order_bench"]


def laid_out(window, qtbot):
    """Wait until the bench has the layout of the plan shown."""
    plan, panel = window.session.plan, bench_of(window).rolls
    qtbot.waitUntil(lambda: "rolls" in plan.__dict__ and panel.rolls is plan.rolls, timeout=20000)


def row_of(bench, name):
    return next(r for r in range(bench.items.rowCount()) if bench.items.item(r, 0).text().startswith(name))


def test_pages_of_the_bench_are_turned_by_button_and_key(window, order, qtbot):
    order("z2")
    bench = bench_of(window)
    assert bench.pages.currentIndex() == 0 and bench.button("To buy").isChecked()
    for name, page in (("Core on sheets", bench.sheets), ("In stock", bench.stock), ("Cups", bench.cups)):
        qtbot.mouseClick(bench.button(name), Qt.MouseButton.LeftButton)
        assert bench.pages.currentWidget().widget() is page
        window.grab()
    for page in (bench.resins, bench.stock):
        window.menu_action("next_page").trigger()
        assert bench.pages.currentWidget().widget() is page
    window.menu_action("next_page").trigger()
    assert bench.pages.currentIndex() == 0
    assert "2 layers of 18.0 mm" in bench.sheets.words.text() and bench.sheets.canvas.drawing is not None


def test_stock_is_typed_lessens_what_is_bought_and_can_be_taken_back(window, order, qtbot):
    order("z2")
    bench = bench_of(window)
    panel = bench.stock
    row = row_of(bench, "5:1 epoxy")
    qtbot.waitUntil(lambda: bench.items.item(row, 3).text() == "20 kg", timeout=10000)

    def put(name, much, wide="", opened=""):
        panel.material.setCurrentIndex(panel.material.findText(name))
        for edit, text in ((panel.amount, much), (panel.width_edit, wide), (panel.opened, opened)):
            edit.setText(text)
        qtbot.mouseClick(panel.add, Qt.MouseButton.LeftButton)

    bench.show_page(5)
    put("5:1 epoxy, slow hardener", "10 kg", opened="2026-01-05")
    assert window.session.job.stock[0].amount.si == 10 and window.session.job.stock[0].opened == "2026-01-05"
    assert bench.items.item(row, 2).text() == "10.00 kg" and bench.items.item(row, 3).text() == "2 × 5 kg"
    put("biaxial ±45 800 g/m2", "1.5 m", "60 cm")
    assert window.session.job.stock[1].width.si == 0.6 and panel.amount.text() == ""
    before = window.session.job.stock
    for args, words in (
        (("peel ply", "2 m2", "1 m"), "no off-cuts"),
        (("peel ply", "much"), "much"),
        (("peel ply", "-1"), "how much"),
        (("peel ply", "2", "", "last week"), "last week"),
        (("peel ply", "2", "", "2999-01-01"), "2999"),
    ):
        put(*args)
        assert window.session.job.stock is before and words in panel.note.text(), (args, panel.note.text())
    window.session.set_system("us")
    qtbot.waitUntil(lambda: bench.items.item(row, 2).text() == "22.05 lb", timeout=10000)
    window.session.set_system("metric")
    panel.rows.delete_button(0).click()
    assert [s.id for s in window.session.job.stock] == ["s2"]
    window.menu_action("undo").trigger()
    assert window.session.job.stock == before


def test_a_day_that_it_is_wanted_gives_days_to_order_by_and_an_hour_an_estimate(window, order, type_in):
    panel = order("z1")
    bench = bench_of(window)
    fields = {f._label.text(): f for f in panel.findChildren(Field) if f._label.text()}
    type_in(fields["Material wanted on"].edit, "2199-03-11")
    row = row_of(bench, "5:1 epoxy")
    assert bench.items.item(row, 7).text() == "2199-03-01"
    type_in(fields["Material wanted on"].edit, "tomorrow")
    assert window.session.job.buying.wanted == "2199-03-11" and "no date" in fields["Material wanted on"].note.text()
    type_in(fields["Material wanted on"].edit, "2001-01-01")
    assert bench.items.item(row, 7).text().endswith("too late")
    type_in(fields["Currency"].edit, "EUR")
    assert "EUR" in bench.items.item(row, 6).text() and "EUR" in bench.items.item(row, 5).text()
    assert window.session.plan.figure("job.labour") is None
    type_in(fields["An hour of work"].edit, "42")
    assert window.session.plan.figure("job.labour").value > 0
    assert window.session.plan.figure("job.estimate.high").value > window.session.plan.figure("job.estimate.low").value


def test_a_row_says_what_is_to_be_known_and_cloth_shows_its_roll(window, order, qtbot):
    order("z1")
    bench = bench_of(window)
    laid_out(window, qtbot)
    bench.items.setCurrentCell(row_of(bench, "5:1 epoxy"), 0)
    assert "kg" in bench.note.text() and " and " in bench.note.text()
    bench.items.setCurrentCell(row_of(bench, "light cloth"), 0)
    assert bench.rolls.canvas.heading.startswith("light cloth")
    panel = bench.rolls
    panel.cloth.activated.emit(panel.cloth.findText("biaxial ±45 800 g/m2"))
    (roll,) = (r for r in panel.rolls if r.fabric.id == "biax-45-800")
    assert panel.canvas.heading.startswith("biaxial ±45 800") and panel.pieces.rowCount() == len(roll.cuts)
    assert {panel.pieces.item(n, 1).text() for n in range(len(roll.cuts))} == {c.name for c in roll.cuts}


def test_labels_and_lists_are_asked_for_in_each_form(window, order, qtbot, monkeypatch, tmp_path):
    panel = order("z1")
    for button, name in (
        (panel.labels, "labels.pdf"),
        (panel.list, "order.xlsx"),
        (panel.list, "order.pdf"),
        (panel.list, "order.csv"),
    ):
        monkeypatch.setattr(window.documents, "ask_path", lambda *a, n=name: tmp_path / n)
        qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
        qtbot.waitUntil((tmp_path / name).is_file, timeout=20000)
    assert (tmp_path / "order.xlsx").read_bytes()[:2] == b"PK" and (tmp_path / "labels.pdf").read_bytes()[:4] == b"%PDF"


def test_what_has_come_goes_in_stock_and_what_is_cut_leaves_it(window, order, qtbot):
    order("z1")
    bench = bench_of(window)
    laid_out(window, qtbot)
    assert not bench.came.isEnabled()
    bench.items.setCurrentCell(row_of(bench, "biaxial ±45 800"), 0)
    qtbot.mouseClick(bench.came, Qt.MouseButton.LeftButton)
    (item,) = window.session.job.stock
    assert item.material == "biax-45-800" and item.amount.si == pytest.approx(2.1) and item.note.startswith("came 20")
    assert not bench.came.isEnabled(), "nothing of it is bought any more"
    qtbot.mouseClick(bench.button("Cloth on rolls"), Qt.MouseButton.LeftButton)
    panel = bench.rolls
    qtbot.waitUntil(lambda: panel.book.isVisible(), timeout=10000)
    assert panel.book.text() == "The roll is cut" and "left" in panel.canvas.heading
    (roll,) = (r for r in panel.rolls if r.fabric.id == "biax-45-800")
    qtbot.mouseClick(panel.book, Qt.MouseButton.LeftButton)
    assert sum(s.amount.si for s in window.session.job.stock) == pytest.approx(roll.left)


def test_another_resin_from_a_ply_on_has_its_own_cups(window, order, qtbot):
    window.session.go("z1", "rebuild")
    QApplication.processEvents()
    panel = window.showing.stages["rebuild"].sittings
    panel.ply.setValue(3)
    panel.resin.setCurrentIndex(panel.resin.findData("epoxy-2-1-slow"))
    qtbot.mouseClick(panel.add, Qt.MouseButton.LeftButton)
    assert [(s.ply, s.resin) for s in window.session.zone.scheme.resin.sittings] == [(3, "epoxy-2-1-slow")]
    order("z1")
    cups = bench_of(window).cups
    rows = [tuple(cups.item(r, c).text() for c in (0, 1, 2)) for r in range(cups.rowCount())]
    assert rows[0][1] == "5:1 epoxy, slow hardener" and rows[1][:2] == ("Foredeck", "2:1 epoxy, slow hardener")
    assert int(rows[1][2]) == window.session.plan.zone("z1").needs.batches[1].cups.count > 0
    window.session.go("z1", "rebuild")
    QApplication.processEvents()
    panel.rows.delete_button(0).click()
    assert window.session.zone.scheme.resin.sittings == ()


def test_fairing_is_typed_drawn_and_finished(window, qtbot):
    window.session.go("z1", "rebuild")
    QApplication.processEvents()
    window.zone_bench.below.show_page("Fair and finish")
    page = window.zone_bench.below.pages["Fair and finish"]
    x0, y0, x1, y1 = (round(1000 * v) for v in window.session.plan.zone("z1").patch.face.band.outer.bounds)
    page.line.setText(f"{x0 + 200} {(y0 + y1) // 2} to {x1 - 200} {(y0 + y1) // 2}: 0 -2 -4 1")
    qtbot.keyClick(page.line, Qt.Key.Key_Return)
    spots = window.session.zone.finish.spots
    assert len(spots) == 4 and page.line.text() == "" and page.count.text() == "4 spots"
    texts = {s.text for s in window.zone_bench.plan_canvas.drawing.shapes if hasattr(s, "text")}
    assert {"−4.0", "+1.0"} <= texts
    page.line.setText("99000 0: 1")
    qtbot.mouseClick(page.add, Qt.MouseButton.LeftButton)
    assert window.session.zone.finish.spots is spots and "outside" in window.zone_bench.echo.text()
    page.finish.box.activated.emit(page.finish.box.findData("deck-grip"))
    qtbot.mouseClick(page.way.button("after peel ply"), Qt.MouseButton.LeftButton)
    assert window.session.zone.finish.system == "deck-grip" and window.session.zone.finish.way == "peel ply"
    assert page.table.grid.rowCount() == 6
    window.grab()
    qtbot.mouseClick(page.clear, Qt.MouseButton.LeftButton)
    assert window.session.zone.finish.spots == () and page.table.grid.rowCount() == 2
    window.menu_action("undo").trigger()
    assert window.session.zone.finish.spots == spots


def test_a_resin_is_typed_over_in_its_table(window, order, qtbot):
    order("z1")
    bench = bench_of(window)
    qtbot.mouseClick(bench.button("Resins and putty"), Qt.MouseButton.LeftButton)
    table = bench.resins.resins
    row = next(r for r in range(table.rowCount()) if table.item(r, 0).text() == "2:1 epoxy, slow hardener")
    table.setCurrentCell(row, 1)
    assert "2:1 epoxy, slow hardener at 16.5 °C" in bench.resins.words.text()
    table.item(row, 2).setText("5 h")
    assert window.session.plan.shelf.resin("epoxy-2-1-slow").gel == 18000 and table.item(row, 2).text() == "5.0 h"
    table.item(row, 2).setText("later")
    assert table.item(row, 2).text() == "5.0 h" and "old value is kept" in window.message.label.text()
    assert bench.resins.putties.grid.rowCount() == len(window.session.plan.shelf.putties)
    window.grab()
    window.menu_action("undo").trigger()
    assert table.item(row, 2).text() == "4.5 h"


def test_a_material_is_swapped_once_it_is_seen_what_that_changes(window, order, qtbot):
    order("z1")
    bench = bench_of(window)
    laid_out(window, qtbot)
    panel = bench.swap
    assert not panel.isVisible()
    bench.items.setCurrentCell(row_of(bench, "pair of gloves"), 0)
    assert not panel.isVisible(), "gloves are gloves"
    bench.items.setCurrentCell(row_of(bench, "5:1 epoxy"), 0)
    assert panel.isVisible() and not panel.table.isVisible()
    panel.other.setCurrentIndex(panel.other.findData("epoxy-2-1-slow"))
    qtbot.mouseClick(panel.look, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: panel.table.isVisible(), timeout=20000)
    assert panel.table.grid.rowCount() > 2 and window.session.zone.scheme.resin.main == "epoxy-5-1-slow"
    window.grab()
    qtbot.mouseClick(panel.take, Qt.MouseButton.LeftButton)
    assert all(z.scheme.resin.main == "epoxy-2-1-slow" for z in window.session.job.zones)
    assert not panel.table.isVisible()
    window.menu_action("undo").trigger()
    assert window.session.zone.scheme.resin.main == "epoxy-5-1-slow"


def test_local_plies_are_put_under_a_fitting_sized_and_taken_out(window, qtbot, type_in):
    window.session.go("z1", "rebuild")
    QApplication.processEvents()
    window.zone_bench.below.show_page("Local plies")
    page = window.zone_bench.below.pages["Local plies"]
    assert page.table.grid.rowCount() == 0 and not page.drop.isEnabled()
    page.what.setCurrentIndex(next(i for i in range(page.what.count()) if "bollard" in page.what.itemText(i)))
    before = window.session.plan.zone("z1").figure("cloth.area").value
    qtbot.mouseClick(page.add, Qt.MouseButton.LeftButton)
    (pad,) = window.session.zone.scheme.pads
    assert pad.name.startswith("under mooring bollard") and page.table.grid.rowCount() == 1
    type_in(page.bound[3].edit, "50 cm")
    assert window.session.zone.scheme.pads[0].width.si == 0.5
    assert window.session.plan.zone("z1").figure("cloth.area").value > before
    window.grab()
    qtbot.mouseClick(page.drop, Qt.MouseButton.LeftButton)
    assert window.session.zone.scheme.pads == () and page.table.grid.rowCount() == 0
